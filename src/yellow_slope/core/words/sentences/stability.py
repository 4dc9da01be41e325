"""In words: how far boundaries and the crossing move without any one case, or from resample to resample."""

from __future__ import annotations

from yellow_slope.core.fit.design.bases import NumberBasis
from yellow_slope.core.probe.seen import Sight
from yellow_slope.core.probe.stability import Moved
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.spelling.numerals import counted, listed, percent, place

MIDDLE = 0.95


def moved_sentence(study: Study, sight: Sight, found: Moved) -> str:
    """How far each boundary moves, which case moves one most, and in how many fits there are others."""
    moderator = sight.probed.moderator
    assert isinstance(moderator, NumberBasis)
    fits = [places for places in found.boundaries if places is not None]
    if not fits:
        return "The model could not be fitted again."
    sd = moderator.sd
    spans = found.spans(MIDDLE if found.resampled else 1.0)
    said: list[str] = []
    how = f"Over {counted(found.fits, 'resample')}" if found.resampled else "Without any one case"
    if spans:
        ranges = listed([f"{place(low, sd)} to {place(high, sd)}" for low, high in spans])
        part = f" (the middle {percent(MIDDLE)})" if found.resampled else ""
        many = "the boundary lies" if len(spans) == 1 else "the boundaries lie"
        said.append(f"{how} {many} at {ranges}{part}.")
    else:
        said.append(f"{how} there is no boundary in most fits.")
    if found.without:
        said.append(f"In {found.without:,} of {len(fits):,} fits there is another number of boundaries.")
    if found.most is not None:
        case, before, after = found.most
        row = int(sight.probed.fit.cases.rows[case]) + 1
        said.append(f"Row {row:,} moves a boundary most, from {place(before, sd)} to {place(after, sd)}.")
    x = sight.probed.x
    if found.crossings and x is not None:
        low, high = min(found.crossings), max(found.crossings)
        ends = f"{place(low, x.sd)} to {place(high, x.sd)}"
        said.append(f"The lines cross within the data in {len(found.crossings):,} of {found.fits:,}, at {ends}.")
    return " ".join(said)
