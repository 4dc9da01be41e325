"""Regions of significance in rows: the card beside Probe's plots and a printed table."""

from __future__ import annotations

from yellow_slope.core.probe.seen import Sight
from yellow_slope.core.told.cells import Cell, Role, count, share_cell
from yellow_slope.core.told.effects import cases_of
from yellow_slope.core.words.sentences.effects import EffectReader
from yellow_slope.core.words.sentences.probecard import values_text
from yellow_slope.values import dataclass


@dataclass(frozen=True, slots=True)
class ToldRegion:
    """One region within the observed range."""

    where: Cell
    briefly: str
    """Where, with less room."""
    effect: Cell
    """What holds there, and by which values where the regions are several."""
    cases: Cell
    """Of each side that is compared."""
    share: Cell
    """Of all cases."""
    n: int
    """Cases of all sides together."""
    sign: int
    """0: not told apart from zero."""


def told_regions(sight: Sight, read: EffectReader) -> list[ToldRegion]:
    """The regions of what is looked at, from low to high; none where there are none to speak of."""
    found = sight.focus.regions.within if sight.focus.regions is not None else ()
    rows = []
    for region in found:
        ends = region.low, region.high
        values = values_text(sight, *ends) if len(found) > 1 else ""
        said = " ".join(text for text in (read.region(sight.seen.focus, region.sign), values) if text)
        where = Cell(read.bounds(*ends), indent=1, numbers=ends, role=Role.INTERVAL)
        counts = count(*cases_of(region.cases))
        briefly = read.bounds(*ends, short=True)
        rows.append(ToldRegion(where, briefly, Cell(said), counts, share_cell(region.share), region.n, region.sign))
    return rows
