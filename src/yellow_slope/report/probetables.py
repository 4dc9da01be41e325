"""Printed tables of probes: conditional effects, differences of places, regions of significance, where lines meet."""

from __future__ import annotations

from collections.abc import Iterable

from yellow_slope.core.fit.design.bases import GroupBasis, NumberBasis
from yellow_slope.core.fit.fitted.inference import ConditionalEffect
from yellow_slope.core.probe.curve import FiellerKind
from yellow_slope.core.probe.places import Everywhere, NumberPlace
from yellow_slope.core.probe.probed import Focus, Probed
from yellow_slope.core.probe.seen import Seen, Sight
from yellow_slope.core.study.report import ReportChoice
from yellow_slope.core.study.study import Study
from yellow_slope.core.told.cells import NOTHING, Cell, Role, Row, row_at
from yellow_slope.core.told.effects import EffectColumn, ToldEffect, cases_of
from yellow_slope.core.told.origins import AtProbe
from yellow_slope.core.told.regions import told_regions
from yellow_slope.core.told.tables import Table
from yellow_slope.core.words.names.numbers import scale_name
from yellow_slope.core.words.sentences.effects import EffectReader, most_decimals
from yellow_slope.core.words.sentences.errors import errors_note
from yellow_slope.core.words.sentences.regions import rule_source
from yellow_slope.core.words.spelling.letters import capital
from yellow_slope.core.words.spelling.numerals import counted, place
from yellow_slope.core.words.spelling.reasons import DASH, reason

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
    rows: list[Row] = []
    is_group = isinstance(probed.moderator, GroupBasis)
    shown = [here.shown.foci[: shown_foci(probed)] for here in readers]
    adjusted = is_group and any(d.p_holm == d.p_holm for foci in shown for f in foci for d in f.differences)
    every = [e for foci in shown for f in foci for e in (*f.effects, *(d.effect for d in f.differences))]
    row = _EffectRows(study.report, probed, adjusted, every)
    head = (read.along, *row.heads)
    for here, foci in zip(readers, shown):
        if len(readers) > 1:
            rows.append((Cell(capital(here.second_name()), strong=True, span=len(head)),))
        for index, focus in enumerate(foci):
            if isinstance(probed.focal, GroupBasis):
                rows.append((Cell(here.focus_name(index), strong=len(readers) == 1, span=len(head)),))
            rows += _place_rows(here, focus, row)
            for d in focus.differences if is_group else ():
                name = f"{here.place_name(d.of)} minus {here.place_name(d.minus)}"
                rows.append(row.of(name, ToldEffect(d.effect, p_holm=d.p_holm)))
    return Table(title, head, row.at_probe(rows), _effects_note(read, adjusted)).with_key()


def across_table(study: Study, probed: Probed) -> Table | None:
    """Differences between places of both moderators; None without a second one, or where they are too many."""
    if not probed.across:
        return None
    read = EffectReader(study, probed, 0)
    second = study.variable(probed.second.variable).label if probed.second is not None else ""
    rows: list[Row] = []
    row = _EffectRows(study.report, probed, True, (x.effect for found in probed.across for x in found))
    head = ("", *row.heads)
    for index, found in enumerate(probed.across[: shown_foci(probed)]):
        if isinstance(probed.focal, GroupBasis):
            rows.append((Cell(read.focus_name(index), strong=True, span=len(head)),))
        for x in found:
            name = f"{read.spot_in_a_table(x.of)} minus {read.spot_in_a_table(x.minus)}"
            rows.append(row.of(name, ToldEffect(x.effect, p_holm=x.p_holm)))
    title = f"Differences between places of {read.moderator_label} and {second}"
    return Table(title, head, row.at_probe(rows), _effects_note(read, True)).with_key()


def _place_rows(read: EffectReader, focus: Focus, row: _EffectRows) -> list[Row]:
    """A row for each place."""
    probed, rows = read.probed, []
    for i, (where, effect, near) in enumerate(zip(probed.places[:MOST_EFFECTS], focus.effects, focus.near)):
        name = read.place_name(i)
        if isinstance(where, NumberPlace) and isinstance(probed.moderator, NumberBasis):
            name = f"{place(where.value, probed.moderator.sd)} ({name})"
        rows.append(row.of(name, ToldEffect(effect, cases_of(near))))
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
        f"Cases are those{sides}{width}." if sides or width else "",
        f"p is not adjusted{', Holm p is' if adjusted else ''}.",
        f"{capital(', '.join(held))}." if held else "",
        read.caveat(),
        errors_note(read.study, probed.model, probed.fit) if probed.fit.resampled is not None else "",
        f"{counted(more, 'further place')} not listed." if more > 0 else "",
        f"{counted(hidden, 'further comparison')} not listed." if hidden > 0 else "",
    ]
    return " ".join(text for text in said if text)


class _EffectRows:
    """Rows of effects of one table."""

    def __init__(
        self, choice: ReportChoice, probed: Probed, adjusted: bool, effects: Iterable[ConditionalEffect]
    ) -> None:
        self.choice, self.probed = choice, probed
        self.columns = [column for column in EffectColumn if adjusted or column is not EffectColumn.HOLM]
        self.most = most_decimals(effects, choice.decimals)

    @property
    def heads(self) -> list[str]:
        """What stands above the numbers."""
        return [column.head(self.probed) for column in self.columns]

    def of(self, name: str, told: ToldEffect) -> Row:
        """The row of an effect."""
        first, why, exists = Cell(name, indent=1), told.effect.why, told.effect.exists
        cells = [column.cell(told, self.most, self.choice) for column in self.columns]
        if not exists:
            cells[:-1] = [Cell(f"{DASH} ({reason(why)})", span=len(cells) - 1)]
        elif why is not None:
            cells[1:-1] = [Cell(reason(why), span=len(cells) - 2)]
        return first, *cells

    def at_probe(self, rows: list[Row]) -> tuple[Row, ...]:
        """The rows with where they are made."""
        return at_probe(self.probed, rows)


def at_probe(probed: Probed, rows: list[Row]) -> tuple[Row, ...]:
    """Rows that are made at Probe."""
    return tuple(row_at(AtProbe(probed.probe), *row) for row in rows)


def regions_table(study: Study, probed: Probed) -> Table | None:
    """Regions of significance of every panel with sign and cases; None where there are none to speak of."""
    if not isinstance(probed.moderator, NumberBasis):
        return None
    along = scale_name(study, probed.moderator)
    rows: list[Row] = []
    outside: list[str] = []
    for k in range(len(probed.panels)):
        read = EffectReader(study, probed, k)
        for index, focus in enumerate(read.shown.foci[: shown_foci(probed)]):
            if focus.regions is None or not focus.regions.within:
                continue
            names = [read.second_name(), read.focus_name(index)]
            if any(names):
                rows.append((Cell(capital(", ".join(name for name in names if name)), strong=True, span=4),))
            for told in told_regions(Sight(probed, Seen(k, index)), read):
                rows.append((told.where, told.effect, told.cases, told.share))
            outside += [read.outside(index)] if read.outside(index) else []
    if not rows:
        return None
    reach = f"{place(probed.moderator.low, probed.moderator.sd)} to {place(probed.moderator.high, probed.moderator.sd)}"
    said = [f"Observed range of {along}: {reach}.", rule_source(probed.probe.rule)]
    if isinstance(probed.focal, GroupBasis):
        said.append("Cases are those of each side that is compared.")
    said += [f"{capital(text)}." for text in dict.fromkeys(outside)]
    said += [EffectReader(study, probed, 0).caveat() or ""]
    return Table(
        f"Regions of significance along {along}",
        (along, "effect", "cases", "share"),
        at_probe(probed, rows),
        " ".join(text for text in said if text),
        texts=2,
    )


def crossing_table(study: Study, probes: list[Probed]) -> Table | None:
    """Where the lines of each probe meet, with Fieller's set and whether it lies in the data; None where no lines
    do."""
    rows: list[Row] = []
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
            where = Cell(place(at, x.sd), numbers=(at,), role=Role.ESTIMATE) if told else NOTHING
            ends = (found.low, found.high) if found is not None and found.kind is FiellerKind.BOUNDED else ()
            reach = Cell(capital(read.crossing_set()) or DASH, numbers=ends, role=Role.INTERVAL)
            told_where = Cell(inside if told else "not determined")
            rows.append(row_at(AtProbe(probed.probe), Cell(name), Cell(scale_name(study, x)), told_where, where, reach))
    if not rows:
        return None
    head = ("Probe", "Along", "Where", "At", "Set")
    sets = any(here.crossing_set is not None for probed in probes for here in probed.panels)
    note = "Lines cross where the effect of the moderator is zero" + ("; the set is Fieller's." if sets else ".")
    return Table("Crossing points", head, tuple(rows), note, texts=3)
