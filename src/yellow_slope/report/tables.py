"""The printed tables, in APA layout, as plain values."""

from __future__ import annotations

from dataclasses import dataclass, replace

from yellow_slope.core.describe import described
from yellow_slope.core.design import GroupBasis, NumberBasis
from yellow_slope.core.evaluate import Evaluation, Fit
from yellow_slope.core.numerals import (
    aligned,
    bounded,
    estimate_decimals,
    fixed,
    interval,
    level_text,
    p_relation,
    p_value,
    percent,
    place,
    place_decimals,
)
from yellow_slope.core.probe import Probed
from yellow_slope.core.reading import Reader
from yellow_slope.core.study import Study
from yellow_slope.core.tails import t_quantile


@dataclass(frozen=True, slots=True)
class Cell:
    """One cell; `strong` for what a block adds, `span` for a heading over several columns."""

    text: str
    indent: int = 0
    strong: bool = False
    span: int = 1


@dataclass(frozen=True, slots=True)
class PrintedTable:
    """Number and title above, rules as in APA style, notes below. The first column is text, the others figures."""

    title: str
    head: tuple[str, ...]
    rows: tuple[tuple[Cell, ...], ...]
    note: str = ""
    texts: int = 1
    """How many columns at the left hold text."""

    def aligned(self) -> PrintedTable:
        """The table with its figures padded, so that each column stands at its decimal points."""
        rows = [list(row) for row in self.rows]
        for j in range(self.texts, len(self.head)):
            here = [row for row in rows if len(row) == len(self.head)]
            for row, text in zip(here, aligned([row[j].text for row in here])):
                row[j] = replace(row[j], text=text)
        return replace(self, rows=tuple(tuple(row) for row in rows))


def descriptives_table(evaluation: Evaluation) -> PrintedTable | None:
    """Means, SDs and correlations of the model's variables."""
    found = described(evaluation)
    if found is None:
        return None
    k = len(found.names)
    head = ("Variable", "M", "SD", *(str(i + 1) for i in range(k - 1)))
    rows: list[tuple[Cell, ...]] = []
    for i, name in enumerate(found.names):
        sd = float(found.sd[i])
        decimals = max(2, place_decimals(sd))
        cells = [Cell(f"{i + 1}. {name}"), Cell(fixed(float(found.mean[i]), decimals)), Cell(fixed(sd, decimals))]
        for j in range(k - 1):
            cells.append(Cell(bounded(float(found.r[i, j]), 2) if j < i else ("–" if j == i else "")))
        rows.append(tuple(cells))
    note = f"n = {found.n}. Groups are indicators (1 = the group named); their mean is the group's share."
    if found.n > 3:
        note += (
            f" Correlations of {_least_r(found.n, 0.95)} or more in size have p < .05, those of "
            f"{_least_r(found.n, 0.99)} or more p < .01 (two-tailed)."
        )
    return PrintedTable("Means, standard deviations and correlations", head, tuple(rows), note)


def _least_r(n: int, level: float) -> str:
    """The size from which a correlation of n cases is told apart from 0 at that level."""
    t = t_quantile(level, n - 2)
    return bounded(t / (t * t + n - 2) ** 0.5, 2)


def ladder_table(evaluation: Evaluation) -> PrintedTable | None:
    """All steps one below the other, each with what its block adds."""
    fit, study = evaluation.fit, evaluation.study
    if fit is None or study.outcome is None:
        return None
    read = Reader(study, fit)
    level = level_text(study.level)
    head = ("Term", "b", f"{level} CI", "SE", "β", "t", "p", "VIF")
    rows: list[tuple[Cell, ...]] = []
    for step in fit.steps:
        test = step.change.test
        name = study.blocks[step.index].name
        gain = (
            f"R² = {bounded(step.r2)}, adjusted R² = {bounded(step.adjusted_r2)}, ΔR² = {bounded(step.change.r2)}, "
            f"ΔF({test.df1}, {test.df2}) = {fixed(test.f, 2)}, p {p_relation(test.p)}"
        )
        rows.append((Cell(f"Step {step.index + 1}" + (f": {name}" if name else ""), strong=True), Cell(gain, span=7)))
        rows.append(_coefficient_row(read, fit, step.index, -1, "Constant"))
        for term in dict.fromkeys(column.term for column in fit.design.columns[: step.n_columns]):
            columns = fit.design.columns_of(term)
            if len(columns) == 1:
                rows.append(_coefficient_row(read, fit, step.index, columns[0], read.term_name(columns[0])))
                continue
            joint = step.joint[term]
            text = f"joint F({joint.df1}, {joint.df2}) = {fixed(joint.f, 2)}, p {p_relation(joint.p)}"
            rows.append((Cell(study.label(term), indent=1), Cell(text, span=7)))
            for j in columns:
                versus = read.term_name(j).split(": ", 1)[1]
                rows.append(_coefficient_row(read, fit, step.index, j, versus, indent=2))
    zero = [read.zero_point(name) for name in fit.design.bases]
    note = (
        f"n = {fit.y.size}. CI = confidence interval; β with outcome and numbers standardized and products formed from the "
        f"standardized parts. Zero points: {'; '.join(zero)}."
    )
    return PrintedTable(f"What each block adds to {study.variable(study.outcome).label}", head, tuple(rows), note)


def _coefficient_row(read: Reader, fit: Fit, step: int, column: int, name: str, indent: int = 1) -> tuple[Cell, ...]:
    result = fit.steps[step]
    if column >= 0 and result.is_left_out(column):
        return (Cell(name, indent=indent), Cell("left out: others already say what it says", span=7))
    c = result.coefficient(column)
    d = estimate_decimals(c.se)
    figures = [fixed(c.b, d), interval(c.low, c.high, d), fixed(c.se, d)]
    figures.append("" if column < 0 else bounded(c.beta, 2))
    figures += [fixed(c.t, 2), p_value(c.p), "" if column < 0 else fixed(c.vif, 2)]
    return (Cell(name, indent=indent), *(Cell(text) for text in figures))


def effects_table(study: Study, fit: Fit, probed: Probed) -> PrintedTable:
    """Conditional effects at the pick points or levels, and differences between levels."""
    read = Reader(study, fit)
    moderator = study.variable(probed.moderator.variable).label
    focal = study.variable(probed.focal.variable).label
    is_slope = isinstance(probed.focal, NumberBasis)
    title = f"{'Simple slopes of' if is_slope else 'Differences by'} {focal} at values of {moderator}"
    head = (
        moderator,
        "slope" if is_slope else "difference",
        f"{level_text(study.level)} CI",
        "SE",
        f"t({_df(probed)})",
        "p",
        "cases",
    )
    rows: list[tuple[Cell, ...]] = []
    for focus in probed.foci:
        if isinstance(probed.focal, GroupBasis):
            other = probed.focal.levels[probed.focal.reference].label
            rows.append((Cell(f"{focus.name} minus {other}", strong=True, span=7),))
        for where, effect in zip(probed.places, focus.effects):
            name = where.name
            if isinstance(probed.moderator, NumberBasis):
                name = f"{place(where.value, probed.moderator.sd)} ({where.name})"
            rows.append(_effect_row(name, effect, str(where.near)))
        for difference in focus.differences:
            rows.append(_effect_row(f"{difference.of} minus {difference.minus}", difference.effect, ""))
    held = read.held(probed)
    near = "Cases: within a quarter SD of the value. " if isinstance(probed.moderator, NumberBasis) else ""
    note = f"Step {probed.step + 1}. {near}" + (f"{held[0][:1].upper()}{', '.join(held)[1:]}." if held else "")
    return PrintedTable(title, head, tuple(rows), note.strip())


def _effect_row(name: str, e, near: str) -> tuple[Cell, ...]:  # type: ignore[no-untyped-def]
    d = estimate_decimals(e.se)
    texts = [fixed(e.effect, d), interval(e.low, e.high, d), fixed(e.se, d), fixed(e.t, 2), p_value(e.p), near]
    return (Cell(name, indent=1), *(Cell(text) for text in texts))


def _df(probed: Probed) -> int:
    return probed.foci[0].effects[0].df if probed.foci[0].effects else 0


def regions_table(study: Study, fit: Fit, probed: Probed) -> PrintedTable | None:
    """Regions of significance with sign and cases; None for a group moderator."""
    if not isinstance(probed.moderator, NumberBasis):
        return None
    read = Reader(study, fit)
    moderator = study.variable(probed.moderator.variable)
    rows: list[tuple[Cell, ...]] = []
    for index, focus in enumerate(probed.foci):
        if isinstance(probed.focal, GroupBasis):
            other = probed.focal.levels[probed.focal.reference].label
            rows.append((Cell(f"{focus.name} minus {other}", strong=True, span=4),))
        for region in focus.regions:
            outside = region.high < probed.moderator.low or region.low > probed.moderator.high
            words = "outside the data: nothing is claimed" if outside else read.region(probed, index, region.sign)
            bounds = read.region_bounds(probed, region.low, region.high)
            rows.append((Cell(bounds, indent=1), Cell(words), Cell(str(region.cases)), Cell(percent(region.share))))
    reach = f"{place(probed.moderator.low, probed.moderator.sd)} to {place(probed.moderator.high, probed.moderator.sd)}"
    note = f"Observed range of {moderator.label}: {reach}. Boundaries where |t| equals its critical value at each point (Johnson & Neyman, 1936)."
    return PrintedTable(
        f"Regions of significance along {moderator.label}",
        (moderator.label, "effect", "cases", "share"),
        tuple(rows),
        note,
        texts=2,
    )
