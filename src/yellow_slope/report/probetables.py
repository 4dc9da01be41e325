"""Printed tables of probes: conditional effects, differences of places, regions of significance, where lines meet."""

from __future__ import annotations

import math
from collections.abc import Iterable

from yellow_slope.core.fit.design.bases import GroupBasis, NumberBasis
from yellow_slope.core.fit.fitted.inference import ConditionalEffect
from yellow_slope.core.probe.curve import FiellerKind
from yellow_slope.core.probe.places import Everywhere, NumberPlace
from yellow_slope.core.probe.probed import Focus, Probed
from yellow_slope.core.probe.seen import Seen, Sight
from yellow_slope.core.study.report import ReportChoice
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.names.numbers import scale_name
from yellow_slope.core.words.sentences.effects import EffectReader, decimals_below, most_decimals
from yellow_slope.core.words.sentences.errors import errors_note
from yellow_slope.core.words.sentences.probecard import values_text
from yellow_slope.core.words.sentences.regions import rule_source
from yellow_slope.core.words.spelling.letters import capital
from yellow_slope.core.words.spelling.numerals import counted, level_text, place
from yellow_slope.core.words.spelling.reasons import DASH, reason
from yellow_slope.report.cells import BLANK, Cell, Role, Table, between, count, estimate, p_cell, share_cell, statistic
from yellow_slope.report.origins import AtProbe

MOST_EFFECTS = 120
"""Rows of a table of effects; of more comparisons of a focal group only so many are printed as have room."""


def shown_foci(probed: Probed) -> int:
    """How many comparisons of the focal group are printed."""
    foci = probed.panels[0].foci
    differences = len(foci[0].differences) if isinstance(probed.moderator, GroupBasis) else 0
    each = (len(probed.places) + differences + 1) * len(probed.panels)
    return max(1, min(len(foci), MOST_EFFECTS // each))


def effects_table(study: Study, probed: Probed) -> Table:
    """Conditional effects at the pick points or levels of every panel, and differences between levels."""
    readers = [EffectReader(study, probed, k) for k in range(len(probed.panels))]
    read = readers[0]
    along = "" if isinstance(probed.places[0], Everywhere) else f" at values of {read.along}"
    is_slope = isinstance(probed.focal, NumberBasis)
    title = f"{'Simple slopes of' if is_slope else 'Differences by'} {read.focal_title}{along}"
    rows: list[tuple[Cell, ...]] = []
    is_group = isinstance(probed.moderator, GroupBasis)
    shown = [here.shown.foci[: shown_foci(probed)] for here in readers]
    adjusted = is_group and any(d.p_holm == d.p_holm for foci in shown for f in foci for d in f.differences)
    head = _effect_head(probed, read.along, adjusted)
    every = [e for foci in shown for f in foci for e in (*f.effects, *(d.effect for d in f.differences))]
    row = _Row(study.report, adjusted, every)
    for here, foci in zip(readers, shown):
        if len(readers) > 1:
            rows.append((Cell(capital(here.second_name()), strong=True, span=len(head)),))
        for index, focus in enumerate(foci):
            if isinstance(probed.focal, GroupBasis):
                rows.append((Cell(here.focus_name(index), strong=len(readers) == 1, span=len(head)),))
            rows += _place_rows(here, focus, row)
            for d in focus.differences if is_group else ():
                name = f"{here.place_name(d.of)} minus {here.place_name(d.minus)}"
                rows.append(row.of(name, d.effect, BLANK, d.p_holm))
    origins = tuple(AtProbe(probed.probe) for _ in rows)
    return Table(title, head, tuple(rows), _effects_note(read, adjusted), origins=origins).with_key()


def across_table(study: Study, probed: Probed) -> Table | None:
    """Differences between places of both moderators; None without a second one, or where they are too many."""
    if not probed.across:
        return None
    read = EffectReader(study, probed, 0)
    second = study.variable(probed.second.variable).label if probed.second is not None else ""
    rows: list[tuple[Cell, ...]] = []
    head, named = _effect_head(probed, "", True), f"at {read.moderator_label} "  # which the title says
    row = _Row(study.report, True, (x.effect for found in probed.across for x in found))
    for index, found in enumerate(probed.across[: shown_foci(probed)]):
        if isinstance(probed.focal, GroupBasis):
            rows.append((Cell(read.focus_name(index), strong=True, span=len(head)),))
        for x in found:
            name = f"{read.spot_name(x.of)} minus {read.spot_name(x.minus)}".replace(named, "at ")
            rows.append(row.of(name, x.effect, BLANK, x.p_holm))
    title = f"Differences between places of {read.moderator_label} and {second}"
    origins = tuple(AtProbe(probed.probe) for _ in rows)
    return Table(title, head, tuple(rows), _effects_note(read, True), origins=origins).with_key()


def _effect_head(probed: Probed, first: str, adjusted: bool) -> tuple[str, ...]:
    what = "slope" if isinstance(probed.focal, NumberBasis) else "difference"
    df = probed.fit.steps[probed.step].inference.df
    holm = ("Holm p",) if adjusted else ()
    return (first, what, f"{level_text(probed.level)} CI", "SE", f"t({df})", "p", *holm, "cases")


def _place_rows(read: EffectReader, focus: Focus, row: _Row) -> list[tuple[Cell, ...]]:
    """A row for each place."""
    probed, rows = read.probed, []
    for i, (where, effect, near) in enumerate(zip(probed.places[:MOST_EFFECTS], focus.effects, focus.near)):
        name = read.place_name(i)
        if isinstance(where, NumberPlace) and isinstance(probed.moderator, NumberBasis):
            name = f"{place(where.value, probed.moderator.sd)} ({name})"
        rows.append(row.of(name, effect, count(*(one.cases for one in near))))
    return rows


def _effects_note(read: EffectReader, adjusted: bool) -> str:
    """What the figures are, and where everything else stands."""
    probed = read.probed
    held = read.held(second=len(probed.panels) == 1)
    sides = "" if isinstance(probed.focal, NumberBasis) else " of each side that is compared"
    width = " within a quarter SD of the value" if isinstance(probed.moderator, NumberBasis) else ""
    hidden = len(probed.panels[0].foci) - shown_foci(probed)
    more = len(probed.places) - MOST_EFFECTS
    said = [
        f"Step {probed.step + 1}.",
        f"Cases: those{sides}{width}." if sides or width else "",
        f"p is not adjusted{', Holm p is' if adjusted else ''}.",
        f"{capital(', '.join(held))}." if held else "",
        read.caveat(),
        errors_note(read.study, probed.model, probed.fit) if probed.fit.resampled is not None else "",
        f"{counted(more, 'further place')} not listed." if more > 0 else "",
        f"{counted(hidden, 'further comparison')} not listed." if hidden > 0 else "",
    ]
    return " ".join(text for text in said if text)


class _Row:
    """Rows of effects of one table."""

    def __init__(self, choice: ReportChoice, adjusted: bool, effects: Iterable[ConditionalEffect]) -> None:
        self.choice, self.adjusted = choice, adjusted
        self.most = most_decimals(effects, choice.decimals)

    def of(self, name: str, e: ConditionalEffect, near: Cell, p_holm: float = math.nan) -> tuple[Cell, ...]:
        """The row of an effect."""
        first = Cell(name, indent=1)
        wide = 6 if self.adjusted else 5
        if not e.exists:
            return first, Cell(f"{DASH} ({reason(e.why)})", span=wide), near
        d = decimals_below(e, self.most, self.choice.decimals)
        if e.why is not None:
            return first, estimate(e.effect, d), Cell(reason(e.why), span=wide - 1), near
        holm = [BLANK if math.isnan(p_holm) else p_cell(p_holm)] if self.adjusted else []
        se = Cell(estimate(e.se, d).text, numbers=(e.se,), role=Role.ESTIMATE)
        figures = [estimate(e.effect, d, e.p, self.choice), between(e.low, e.high, d), se, statistic(e.t), p_cell(e.p)]
        return first, *figures, *holm, near


def regions_table(study: Study, probed: Probed) -> Table | None:
    """Regions of significance of every panel with sign and cases; None where there are none to speak of."""
    if not isinstance(probed.moderator, NumberBasis):
        return None
    along = scale_name(study, probed.moderator)
    rows: list[tuple[Cell, ...]] = []
    outside: list[str] = []
    for k in range(len(probed.panels)):
        read = EffectReader(study, probed, k)
        for index, focus in enumerate(read.shown.foci[: shown_foci(probed)]):
            if focus.regions is None or not focus.regions.within:
                continue
            names = [read.second_name(), read.focus_name(index)]
            if any(names):
                rows.append((Cell(capital(", ".join(name for name in names if name)), strong=True, span=4),))
            for region in focus.regions.within:
                here = Sight(probed, Seen(k, index))
                values = values_text(here, region.low, region.high) if len(focus.regions.within) > 1 else ""
                effect = " ".join(text for text in (read.region(index, region.sign), values) if text)
                where = Cell(
                    read.bounds(region.low, region.high),
                    indent=1,
                    numbers=(region.low, region.high),
                    role=Role.INTERVAL,
                )
                rows.append((where, Cell(effect), count(*(n.cases for n in region.cases)), share_cell(region.share)))
            outside += [read.outside(index)] if read.outside(index) else []
    if not rows:
        return None
    reach = f"{place(probed.moderator.low, probed.moderator.sd)} to {place(probed.moderator.high, probed.moderator.sd)}"
    said = [f"Observed range of {along}: {reach}.", rule_source(probed.probe.rule)]
    if isinstance(probed.focal, GroupBasis):
        said.append("Cases: of each side that is compared.")
    said += [f"{capital(text)}." for text in dict.fromkeys(outside)]
    said += [EffectReader(study, probed, 0).caveat() or ""]
    return Table(
        f"Regions of significance along {along}",
        (along, "effect", "cases", "share"),
        tuple(rows),
        " ".join(text for text in said if text),
        texts=2,
        origins=tuple(AtProbe(probed.probe) for _ in rows),
    )


def crossing_table(study: Study, probes: list[Probed]) -> Table | None:
    """Where the lines of each probe meet, with Fieller's set and whether it lies in the data; None where no lines
    do."""
    rows: list[tuple[Cell, ...]] = []
    origins = []
    for probed in probes:
        x = probed.x
        if x is None:
            continue
        for k in range(len(probed.panels)):
            read = EffectReader(study, probed, k)
            if not read.crossing():
                continue
            at, found = read.shown.crossing[0], read.shown.crossing_set
            told = found is None or found.kind is not FiellerKind.WHOLE_LINE
            name = ", ".join(text for text in (read.title(), read.second_name()) if text)
            inside = "in the data" if x.low <= at <= x.high else "outside the data"
            where = Cell(place(at, x.sd), numbers=(at,), role=Role.ESTIMATE) if told else Cell(DASH)
            ends = (found.low, found.high) if found is not None and found.kind is FiellerKind.BOUNDED else ()
            reach = Cell(capital(read.crossing_set()) or DASH, numbers=ends, role=Role.INTERVAL)
            variable = Cell(scale_name(study, x))
            rows.append((Cell(name), variable, Cell(inside if told else "cannot be told"), where, reach))
            origins.append(AtProbe(probed.probe))
    if not rows:
        return None
    head = ("Probe", "Along", "Where", "At", "Set")
    sets = any(here.crossing_set is not None for probed in probes for here in probed.panels)
    note = "Lines meet where the effect of the moderator is zero" + ("; the set is Fieller's." if sets else ".")
    return Table("Where lines meet", head, tuple(rows), note, texts=3, origins=tuple(origins))
