"""The printed tables, in APA layout, as plain values."""

from __future__ import annotations

from dataclasses import dataclass, replace

from yellow_slope.core.fit.asked.describe import described
from yellow_slope.core.fit.design.bases import GroupBasis, NumberBasis
from yellow_slope.core.fit.fitted.evaluate import Evaluation
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.fit.fitted.inference import ConditionalEffect
from yellow_slope.core.fit.solve.tails import t_quantile
from yellow_slope.core.probe.places import Everywhere, NumberPlace
from yellow_slope.core.probe.probed import Focus, Probed
from yellow_slope.core.probe.seen import Seen, Sight
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.names.study import model_name, zero_point
from yellow_slope.core.words.names.terms import comparisons_of, label
from yellow_slope.core.words.sentences.bygroup import GroupReader
from yellow_slope.core.words.sentences.coefficients import Reader
from yellow_slope.core.words.sentences.effects import EffectReader, effect_decimals, near_figures
from yellow_slope.core.words.sentences.errors import errors_note
from yellow_slope.core.words.sentences.probecard import values_text
from yellow_slope.core.words.sentences.regions import rule_source
from yellow_slope.core.words.sentences.steps import StepFigure, step_figure_name, step_line
from yellow_slope.core.words.spelling.letters import capital
from yellow_slope.core.words.spelling.numerals import (
    aligned,
    bounded,
    counted,
    estimate_decimals,
    fixed,
    interval,
    level_text,
    p_value,
    percent,
    place,
    place_decimals,
)
from yellow_slope.core.words.spelling.reasons import DASH, reason

MOST_LISTED = 30
"""Of a term with more columns only the joint test is printed."""
MOST_EFFECTS = 120
"""Rows of a table of effects; of more comparisons of a focal group only so many are printed as have room."""


def shown_foci(probed: Probed) -> int:
    """How many comparisons of the focal group are printed."""
    foci = probed.panels[0].foci
    differences = len(foci[0].differences) if isinstance(probed.moderator, GroupBasis) else 0
    each = (len(probed.places) + differences + 1) * len(probed.panels)
    return max(1, min(len(foci), MOST_EFFECTS // each))


@dataclass(frozen=True, slots=True)
class PrintedCell:
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
    rows: tuple[tuple[PrintedCell, ...], ...]
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


def groups_table(read: GroupReader) -> PrintedTable:
    """The coefficients of every group's model side by side, and the tests that they differ."""
    groups = read.found.groups
    head = ("", *(text for g in groups for text in (f"{read.level_label(g)}: b", "CI")), "F", "p")
    rows: list[tuple[PrintedCell, ...]] = []
    n = len(read.inner_columns)
    reader = next((read.reader(g) for g in groups if g.fit is not None), None)
    for j in [*range(n if reader is not None else 0), *([-1] if read.found.model.constant else [])]:
        cells = [PrintedCell(reader.column_name(j) if reader is not None else "")]
        for group in groups:
            c = group.fit.last.coefficient(j) if group.fit is not None else None
            if c is None or c.b != c.b or c.why is not None:
                cells += [PrintedCell(DASH), PrintedCell(DASH)]
                continue
            decimals = estimate_decimals(c.se, c.b, c.low, c.high)
            cells += [PrintedCell(fixed(c.b, decimals)), PrintedCell(interval(c.low, c.high, decimals))]
        test = read.test_of(j) if j >= 0 else None
        has = test is not None and test.f == test.f
        cells += [
            PrintedCell(fixed(test.f, 2) if has and test else ""),
            PrintedCell(p_value(test.p) if has and test else ""),
        ]
        rows.append(tuple(cells))
    sizes = ", ".join(f"{read.level_label(g)} {g.n}{f' ({g.said})' if g.said else ''}" for g in groups)
    level = level_text(read.found.model.level)
    note = (
        f"Cases: {sizes}. CI: {level} interval. {read.zeros()} F and p, unadjusted: whether the coefficients of the "
        "term differ."
    )
    return PrintedTable(f"One model per group of {read.group_label}", head, tuple(rows), note)


MOST_CORRELATED = 30
"""A page has no room for the correlations of more variables than these."""


def descriptives_table(evaluation: Evaluation) -> PrintedTable | None:
    """Means, SDs and correlations of the model's variables; None where there are too many to read."""
    study, fit = evaluation.study, evaluation.fit
    found = described(fit, study.model) if fit is not None else None
    if found is None:
        return None
    k = len(found.columns)
    names = [
        study.variable(name).label + (f": {study.variable(name).level(code).label}" if code is not None else "")
        for name, code in found.columns
    ]
    across = k - 1 if k <= MOST_CORRELATED else 0
    head = ("Variable", "M", "SD", *(str(i + 1) for i in range(across)))
    rows: list[tuple[PrintedCell, ...]] = []
    for i, name in enumerate(names):
        sd = float(found.sd[i])
        decimals = max(2, place_decimals(sd))
        cells = [
            PrintedCell(f"{i + 1}. {name}"),
            PrintedCell(fixed(float(found.mean[i]), decimals)),
            PrintedCell(fixed(sd, decimals)),
        ]
        for j in range(across):
            cells.append(PrintedCell(bounded(float(found.r[i, j]), 2) if j < i else (DASH if j == i else "")))
        rows.append(tuple(cells))
    note = f"n = {found.n}. Groups are indicators (1 = the group named); their mean is the group's share."
    if not across:
        note += f" Correlations of more than {MOST_CORRELATED} variables are not printed; the results file holds them."
        return PrintedTable("Means and standard deviations", head, tuple(rows), note)
    if found.n > 3:
        note += (
            f" Correlations of {_least_r(found.n, 0.95)} or more in size have p < .05, those of "
            f"{_least_r(found.n, 0.99)} or more p < .01 (two-tailed)."
        )
    return PrintedTable("Means, standard deviations and correlations", head, tuple(rows), note)


def _least_r(n: int, level: float) -> str:
    """The size from which a correlation of n cases is significant at that level."""
    t = t_quantile(level, n - 2)
    return bounded(t / (t * t + n - 2) ** 0.5, 2)


def steps_table(read: Reader) -> PrintedTable:
    """All figures of every step, a row each, with intervals."""
    level = level_text(read.model.level)
    head = (
        "Step",
        "R²",
        f"{level} CI",
        "adjusted",
        "PRESS",
        "ΔR²",
        f"{level} CI",
        "f²",
        "AIC",
        "BIC",
        "at .80",
        "at .95",
    )
    shown = (
        StepFigure.R2,
        StepFigure.R2_INTERVAL,
        StepFigure.ADJUSTED,
        StepFigure.PRESS,
        StepFigure.CHANGE,
        StepFigure.CHANGE_INTERVAL,
        StepFigure.F2,
        StepFigure.AIC,
        StepFigure.BIC,
        StepFigure.AT_80,
        StepFigure.AT_95,
    )
    rows: list[tuple[PrintedCell, ...]] = []
    missing: dict[str, None] = {}
    for step in read.fit.steps:
        line, name = step_line(read, step.index), read.model.steps[step.index].name
        title = f"{step.index + 1}" + (f": {name}" if name else "")
        rows.append((PrintedCell(title), *(PrintedCell(line.figures[figure]) for figure in shown)))
        missing |= {f"{step_figure_name(figure)}: {why}": None for figure, why in line.notes.items() if figure in shown}
    note = (
        "PRESS = R² of predictions for left-out cases. At .80 and at .95: the smallest change in R² that the test of "
        "the block finds with that power."
    )
    if missing:
        note += f" {DASH} stands where a figure does not exist ({'; '.join(missing)})."
    return PrintedTable("Fit of the steps", head, tuple(rows), note)


def models_table(evaluation: Evaluation) -> PrintedTable:
    """The fit of all models of the study, a row each."""
    study = evaluation.study
    head = ("Model", "Outcome", "n", "columns", "R²", "adjusted", "AIC", "BIC")
    rows: list[tuple[PrintedCell, ...]] = []
    for model in study.models:
        fit = evaluation.fits[model.id]
        outcome = study.variable(model.outcome).label if model.outcome is not None else DASH
        name = model_name(study, model) + (" (reported here)" if model.id == study.current and model.name else "")
        if not isinstance(fit, Fit):
            rows.append((PrintedCell(name), PrintedCell(outcome), PrintedCell(fit.said, span=6)))
            continue
        last = fit.last
        columns = last.rank - int(fit.design.constant)
        texts = (f"{fit.cases.n:,}", str(columns), bounded(last.r2), bounded(last.adjusted_r2))
        rows.append(tuple(PrintedCell(t) for t in (name, outcome, *texts, fixed(last.aic, 1), fixed(last.bic, 1))))
    return PrintedTable("Models of the study", head, tuple(rows), "Of each model its last step.", texts=2)


def ladder_table(evaluation: Evaluation) -> PrintedTable | None:
    """All steps one below the other, each with what its block adds."""
    fit, study = evaluation.fit, evaluation.study
    model = study.model
    if fit is None or model.outcome is None:
        return None
    read = Reader(study, fit, model)
    head = ("Term", "b", f"{level_text(model.level)} CI", "SE", "β", "t", "p", "VIF")
    rows: list[tuple[PrintedCell, ...]] = []
    for step in fit.steps:
        name = model.steps[step.index].name
        change = read.test_figures(step.change.test, "ΔF")
        gain = (
            f"{read.r2_name(step.index)} = {bounded(step.r2)}, adjusted R² = {bounded(step.adjusted_r2)}, "
            f"ΔR² = {bounded(step.change.r2)}, "
            f"{change}"
        )
        rows.append(
            (
                PrintedCell(f"Step {step.index + 1}" + (f": {name}" if name else ""), strong=True),
                PrintedCell(gain, span=7),
            )
        )
        if model.constant:
            rows.append(_coefficient_row(read, fit, step.index, -1, "Intercept"))
        for term in dict.fromkeys(column.term for column in fit.design.columns[: step.n_columns]):
            columns = fit.design.columns_of(term)
            if len(columns) == 1:
                rows.append(_coefficient_row(read, fit, step.index, columns[0], read.column_name(columns[0])))
                continue
            text = read.test_figures(step.joint[term], "joint F")
            if len(columns) > MOST_LISTED:
                text += f"; {counted(len(columns), 'column')}, not listed one by one"
            rows.append((PrintedCell(label(study, term), indent=1), PrintedCell(text, span=7)))
            for j in columns if len(columns) <= MOST_LISTED else ():
                versus = ", ".join(comparisons_of(study, fit, fit.design.columns[j]))
                rows.append(_coefficient_row(read, fit, step.index, j, versus, indent=2))
    zero = [zero_point(study, basis) for basis in fit.design.bases.values()]
    note = (
        f"n = {fit.y.size}. {errors_note(study, model, fit)} "
        "CI = confidence interval; β with outcome and numbers standardized and products formed from the "
        f"standardized parts. p is not adjusted for the number of tests. Zero points: {'; '.join(zero[:40])}."
    )
    if not fit.last.about_mean:
        note += " R² is about zero, for the model has no constant."
    return PrintedTable(f"What each block adds to {study.variable(model.outcome).label}", head, tuple(rows), note)


def _coefficient_row(
    read: Reader, fit: Fit, step: int, column: int, name: str, indent: int = 1
) -> tuple[PrintedCell, ...]:
    result = fit.steps[step]
    c = result.coefficient(column)
    if c.why is not None and c.b != c.b:
        return (PrintedCell(name, indent=indent), PrintedCell(f"{DASH} ({reason(c.why)})", span=7))
    d = estimate_decimals(c.se, c.b, c.low, c.high)
    if c.why is not None:
        return (PrintedCell(name, indent=indent), PrintedCell(fixed(c.b, d)), PrintedCell(reason(c.why), span=6))
    figures = [fixed(c.b, d), interval(c.low, c.high, d), fixed(c.se, d)]
    figures.append("" if column < 0 else bounded(c.beta, 2))
    figures += [fixed(c.t, 2), p_value(c.p), "" if column < 0 else fixed(c.vif, 2)]
    return (PrintedCell(name, indent=indent), *(PrintedCell(text) for text in figures))


def effects_table(study: Study, probed: Probed) -> PrintedTable:
    """Conditional effects at the pick points or levels of every panel, and differences between levels."""
    readers = [EffectReader(study, probed, k) for k in range(len(probed.panels))]
    read = readers[0]
    along = "" if isinstance(probed.places[0], Everywhere) else f" at values of {read.moderator_label}"
    is_slope = isinstance(probed.focal, NumberBasis)
    title = f"{'Simple slopes of' if is_slope else 'Differences by'} {read.focal_label}{along}"
    rows: list[tuple[PrintedCell, ...]] = []
    adjusted = False
    for here in readers:
        if len(readers) > 1:
            rows.append((PrintedCell(capital(here.second_name()), strong=True, span=7),))
        for index, focus in enumerate(here.shown.foci[: shown_foci(probed)]):
            if isinstance(probed.focal, GroupBasis):
                rows.append((PrintedCell(here.focus_name(index), strong=len(readers) == 1, span=7),))
            rows += _place_rows(here, focus)
            if isinstance(probed.moderator, GroupBasis):
                adjusted |= any(d.p_holm == d.p_holm for d in focus.differences)
                rows += [
                    _effect_row(f"{here.place_name(d.of)} minus {here.place_name(d.minus)}", d.effect, "", d.p_holm)
                    for d in focus.differences
                ]
    return PrintedTable(title, _effect_head(probed, read.moderator_label), tuple(rows), _effects_note(read, adjusted))


def across_table(study: Study, probed: Probed) -> PrintedTable | None:
    """Differences between places of both moderators; None without a second one, or where they are too many."""
    if not probed.across:
        return None
    read = EffectReader(study, probed, 0)
    second = study.variable(probed.second.variable).label if probed.second is not None else ""
    rows: list[tuple[PrintedCell, ...]] = []
    for index, found in enumerate(probed.across[: shown_foci(probed)]):
        if isinstance(probed.focal, GroupBasis):
            rows.append((PrintedCell(read.focus_name(index), strong=True, span=7),))
        for x in found:
            name = f"{read.spot_name(x.of)} minus {read.spot_name(x.minus)}"
            rows.append(_effect_row(name, x.effect, "", x.p_holm))
    title = f"Differences between places of {read.moderator_label} and {second}"
    return PrintedTable(title, _effect_head(probed, ""), tuple(rows), _effects_note(read, True))


def _effect_head(probed: Probed, first: str) -> tuple[str, ...]:
    what = "slope" if isinstance(probed.focal, NumberBasis) else "difference"
    df = probed.fit.steps[probed.step].inference.df
    return (first, what, f"{level_text(probed.level)} CI", "SE", f"t({df})", "p", "cases")


def _place_rows(read: EffectReader, focus: Focus) -> list[tuple[PrintedCell, ...]]:
    """A row for each place."""
    probed, rows = read.probed, []
    for i, (where, effect, near) in enumerate(zip(probed.places[:MOST_EFFECTS], focus.effects, focus.near)):
        name = read.place_name(i)
        if isinstance(where, NumberPlace) and isinstance(probed.moderator, NumberBasis):
            name = f"{place(where.value, probed.moderator.sd)} ({name})"
        rows.append(_effect_row(name, effect, near_figures(near)))
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
        f"p is not adjusted{'; Holm adjusted in parentheses' if adjusted else ''}.",
        f"{capital(', '.join(held))}." if held else "",
        read.caveat(),
        errors_note(read.study, probed.model, probed.fit) if probed.fit.resampled is not None else "",
        f"{counted(more, 'further place')} not listed." if more > 0 else "",
        f"{counted(hidden, 'further comparison')} not listed." if hidden > 0 else "",
    ]
    return " ".join(text for text in said if text)


def _effect_row(name: str, e: ConditionalEffect, near: str, p_holm: float = float("nan")) -> tuple[PrintedCell, ...]:
    holm = "" if p_holm != p_holm else f" (Holm {p_value(p_holm)})"
    if not e.exists:
        return (PrintedCell(name, indent=1), PrintedCell(f"{DASH} ({reason(e.why)})", span=5), PrintedCell(near))
    d = effect_decimals(e)
    if e.why is not None:
        return (
            PrintedCell(name, indent=1),
            PrintedCell(fixed(e.effect, d)),
            PrintedCell(reason(e.why), span=4),
            PrintedCell(near),
        )
    texts = [fixed(e.effect, d), interval(e.low, e.high, d), fixed(e.se, d), fixed(e.t, 2), p_value(e.p) + holm, near]
    return (PrintedCell(name, indent=1), *(PrintedCell(text) for text in texts))


def regions_table(study: Study, probed: Probed) -> PrintedTable | None:
    """Regions of significance of every panel with sign and cases; None where there are none to speak of."""
    if not isinstance(probed.moderator, NumberBasis):
        return None
    moderator = study.variable(probed.moderator.variable)
    rows: list[tuple[PrintedCell, ...]] = []
    outside: list[str] = []
    for k in range(len(probed.panels)):
        read = EffectReader(study, probed, k)
        for index, focus in enumerate(read.shown.foci[: shown_foci(probed)]):
            if focus.regions is None or not focus.regions.within:
                continue
            names = [read.second_name(), read.focus_name(index)]
            if any(names):
                rows.append((PrintedCell(capital(", ".join(name for name in names if name)), strong=True, span=4),))
            for region in focus.regions.within:
                here = Sight(probed, Seen(k, index))
                values = values_text(here, region.low, region.high) if len(focus.regions.within) > 1 else ""
                effect = " ".join(text for text in (read.region(index, region.sign), values) if text)
                cells = (read.bounds(region.low, region.high), effect)
                figures = (near_figures(region.cases), percent(region.share))
                rows.append(
                    (
                        PrintedCell(cells[0], indent=1),
                        PrintedCell(cells[1]),
                        PrintedCell(figures[0]),
                        PrintedCell(figures[1]),
                    )
                )
            outside += [read.outside(index)] if read.outside(index) else []
    if not rows:
        return None
    reach = f"{place(probed.moderator.low, probed.moderator.sd)} to {place(probed.moderator.high, probed.moderator.sd)}"
    said = [f"Observed range of {moderator.label}: {reach}.", rule_source(probed.probe.rule)]
    if isinstance(probed.focal, GroupBasis):
        said.append("Cases: of each side that is compared.")
    said += [f"{capital(text)}." for text in dict.fromkeys(outside)]
    said += [EffectReader(study, probed, 0).caveat() or ""]
    return PrintedTable(
        f"Regions of significance along {moderator.label}",
        (moderator.label, "effect", "cases", "share"),
        tuple(rows),
        " ".join(text for text in said if text),
        texts=2,
    )
