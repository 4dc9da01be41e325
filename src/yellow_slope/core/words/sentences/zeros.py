"""In words: what coefficients mean at a zero point, and what centering changes in a model and what it leaves."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from yellow_slope.core.fit.asked.centering import Centering, moved_rows, without_parts
from yellow_slope.core.fit.asked.summaries import number_summary
from yellow_slope.core.fit.design.bases import NumberBasis, looked_at
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.fit.fitted.steps import Coefficient
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.treatment import AS_IS, Treatment
from yellow_slope.core.words.names.numbers import transformed_name, treatment_name
from yellow_slope.core.words.names.terms import column_name, label
from yellow_slope.core.words.sentences.coefficients import with_units
from yellow_slope.core.words.spelling.numerals import (
    bounded,
    estimate_decimals,
    fixed,
    interval,
    level_text,
    listed_some,
    p_equals,
    place,
)
from yellow_slope.core.words.spelling.reasons import reason
from yellow_slope.values import dataclass

MOST_SAID = 4
MOST_TOGETHER = 6
"""Numbers named of several that were treated at once."""


def zero_sentence(study: Study, fit: Fit, name: str, zero: float) -> str:
    """What the coefficients would mean with the number's zero at a place of its axis (a treated value of now is 0
    there).

    zero: the coordinate (transformed, neither centered nor scaled).
    """
    basis = fit.design.number(name)
    at = (zero - basis.center) / basis.scale
    missing = without_parts(fit, name)
    title = transformed_name(study.variable(name), basis.treatment)
    where = f"{title} {place(zero, basis.axis_sd)}"
    if missing:
        labels = listed_some([label(study, term) for term in missing], 3)
        return (
            f"With zero at {where} the model would fit differently, because a product "
            f"of {title} is entered without {labels}."
        )
    rows = moved_rows(fit, name, at)
    step, level = fit.last, study.model.level
    outcome = study.variable(study.model.outcome or "")
    said: list[str] = []
    moved = [j for j in rows if j >= 0]
    for j in moved[:MOST_SAID]:
        effect = step.inference.estimate(rows[j], level)
        column = column_name(study, fit, j)
        if not effect.exists:
            said.append(f"{column} {reason(effect.why)}")
            continue
        d = estimate_decimals(effect.se, effect.effect, effect.low, effect.high)
        ci = f" ({interval(effect.low, effect.high, d)})" if effect.why is None else ""
        said.append(f"{column} {fixed(effect.effect, d)}{ci}")
    more = f", and {len(moved) - MOST_SAID} more" if len(moved) > MOST_SAID else ""
    begin = f"With zero at {where}"
    intercept = ""
    if -1 in rows:
        effect = step.inference.estimate(rows[-1], level)
        if effect.exists:
            d = estimate_decimals(effect.se, effect.effect, effect.low, effect.high)
            intercept = f"the intercept is {with_units(fixed(effect.effect, d), outcome)}"
    if not moved:
        return (
            f"{begin}, {intercept or 'no coefficient changes'}; no slope depends on it, "
            f"because {title} is in no product."
        )
    ci = f" ({level_text(level)} CI in brackets)" if said else ""
    end = f"; {intercept}" if intercept else ""
    return (
        f"{begin}, these coefficients apply there{ci}: {'; '.join(said)}{more}{end}. The "
        "test of the highest product does not change."
    )


@dataclass(frozen=True, slots=True)
class CenteringRow:
    """A line of what centering changes: what it is about, with zero where the file has it, and with zero at the
    mean."""

    what: str
    raw: str
    centered: str
    stays: bool = False


def centering_rows(study: Study, found: Centering) -> tuple[str, str, list[CenteringRow]]:
    """The heads of the two columns, and the lines: collinearity, changed questions, and what stays."""
    name = found.variable
    after = found.centered.design.number(name)
    rows: list[CenteringRow] = []
    for j in found.moved[:MOST_SAID]:
        raw, centered = found.both(j)
        rows.append(CenteringRow(column_name(study, found.raw, j), _test(raw), _test(centered)))
    for j in found.products[:MOST_SAID]:
        raw, centered = found.both(j)
        rows.append(CenteringRow(f"VIF of {column_name(study, found.raw, j)}", _vif(raw), _vif(centered)))
    for j in found.highest[:MOST_SAID]:
        raw, centered = found.both(j)
        rows.append(CenteringRow(column_name(study, found.raw, j), _t(raw), _t(centered), stays=True))
    rows.append(CenteringRow("R²", bounded(found.raw.last.r2), bounded(found.centered.last.r2), stays=True))
    return "zero at 0, as it is", f"zero at the mean, {place(after.axis_mean, after.axis_sd)}", rows


def left_unsaid(found: Centering) -> int:
    """How many columns the lines leave out."""
    return sum(max(0, len(part) - MOST_SAID) for part in (found.products, found.moved, found.highest))


def centering_sentence(study: Study, found: Centering) -> str:
    """What centering does to this model, in one sentence."""
    title = study.variable(found.variable).label
    vif = [
        max((v for v in (c.vif for c in some) if v == v), default=float("nan"))
        for some in zip(*(found.both(j) for j in (*found.moved, *found.products)))
    ]
    labels = listed_some([column_name(study, found.raw, j) for j in found.moved], 3)
    asked = (
        f"{labels} {'is' if len(found.moved) == 1 else 'are'} then given at the mean of {title} instead of at 0"
        if found.moved
        else ""
    )
    largest = (
        f"the largest VIF goes from {fixed(vif[0], 1)} to {fixed(vif[1], 1)}"
        if len(vif) == 2 and not np.isnan(vif).any()
        else ""
    )
    said = "; ".join(part for part in (largest, asked) if part)
    same = "the test of the product does" if len(found.products) == 1 else "the tests of the products do"
    return f"Centering {title}: {said}; {same} not change." if said else ""


def _vif(c: Coefficient) -> str:
    return "–" if c.vif != c.vif else fixed(c.vif, 1)


def _test(c: Coefficient) -> str:
    if c.why is not None:
        return reason(c.why)
    vif = f", VIF {_vif(c)}" if c.vif == c.vif else ""
    return f"{fixed(c.b, estimate_decimals(c.se, c.b, c.low, c.high))}, {p_equals(c.p)}{vif}"


def _t(c: Coefficient) -> str:
    if c.why is not None:
        return reason(c.why)
    return f"t = {fixed(c.t, 6)}, {p_equals(c.p)}" if c.t == c.t else p_equals(c.p)


def treated_sentence(study: Study, fit: Fit | None, name: str) -> str:
    """Before and after a number's treatment in figures; empty where nothing is done to it."""
    treatment = study.model.treatment(name)
    basis = fit.design.bases.get(name) if fit is not None else None
    if treatment == AS_IS:
        return ""
    values = np.asarray(fit.values[name], dtype=np.float64) if fit is not None and basis is not None else None
    here, basis = looked_at(study, name, basis, values)
    after = basis.treated(here)
    after = after[np.isfinite(after)]
    if after.size < 2:
        return ""
    made, raw = number_summary(after), number_summary(here)
    how = treatment_name(study, treatment)
    sd = "1" if basis.is_per_sd and abs(made.sd - 1.0) < 1e-12 else place(made.sd, made.sd)
    return (
        f"{how[:1].upper()}{how[1:]} over {int(after.size)} cases: mean {place(raw.mean, raw.sd)} before, "
        f"{mean_at_full(basis, made.mean)} after; "
        f"SD {place(raw.sd, raw.sd)} before, {sd} after; skewness {fixed(raw.skewness, 2)} before, "
        f"{fixed(made.skewness, 2)} after."
    )


def together_sentence(study: Study, fit: Fit | None, names: Sequence[str]) -> str:
    """Several numbers at once: how they enter, those of one treatment together, with where zero is."""
    alike: dict[Treatment, list[str]] = {}
    for name in names:
        alike.setdefault(study.model.treatment(name), []).append(name)
    said = []
    for treatment, some in alike.items():
        labels = listed_some([study.variable(name).label for name in some], MOST_TOGETHER)
        zeros = [_zero_of(study, fit, name) for name in some[:MOST_TOGETHER]]
        where = f" (zero at {', '.join(zeros)}{' …' if len(some) > MOST_TOGETHER else ''})" if all(zeros) else ""
        said.append(f"{labels}: {treatment_name(study, treatment)}{where}.")
    return " ".join(said)


def _zero_of(study: Study, fit: Fit | None, name: str) -> str:
    """The raw value at which a number is zero; empty where it is none of its own, or is not known yet."""
    basis = fit.design.bases.get(name) if fit is not None else None
    if not isinstance(basis, NumberBasis) or not basis.axis.is_identity or basis.is_within or not basis.center:
        return ""
    return f"{study.variable(name).label} {place(basis.center, basis.axis_sd)}"


def mean_at_full(basis: NumberBasis, mean: float) -> str:
    """A treated mean as it is: said to be zero where it is nothing but rounding."""
    size = max(abs(basis.axis_mean), basis.axis_sd, 1e-300) / basis.scale
    if abs(mean) <= 64 * np.finfo(float).eps * size:
        return "0 (exactly, up to rounding)"
    return f"{mean:.6g}".replace("-", "−")
