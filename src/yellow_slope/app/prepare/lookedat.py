"""What the strip of a number shows, computed at once and kept until something that concerns it changes; without a
window."""

from __future__ import annotations

import numpy as np

from yellow_slope.app.prepare.zeropoints import ZeroPoint, zero_points
from yellow_slope.app.state.view import View
from yellow_slope.core.arrays import FloatArray
from yellow_slope.core.data.variable import Variable
from yellow_slope.core.fit.asked.histograms import Bars, bars_of
from yellow_slope.core.fit.asked.summaries import codes_apart, number_summary, without_codes
from yellow_slope.core.fit.design.bases import NumberBasis, looked_at
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.treatment import AS_IS, Base, Treatment, WithinGroups
from yellow_slope.core.words.spelling.numerals import fixed, place, place_decimals
from yellow_slope.values import dataclass


@dataclass(frozen=True, slots=True, eq=False)
class LookedAt:
    """A number before and after its treatment."""

    treatment: Treatment
    values: FloatArray
    basis: NumberBasis
    after_mean: float
    """NaN where there is nothing to average."""
    points: tuple[ZeroPoint, ...]
    figures: tuple[tuple[str, str, str, str], ...]
    """Before and after: mean, SD, skewness."""
    raw: Bars | None
    """Of the values as they stand."""
    coordinates: Bars | None
    """Of the values on the axis on which zero is chosen."""
    treated: Bars | None
    """Of the values as they enter."""
    apart: tuple[tuple[float, int], ...] = ()
    """Values that may be codes for missing, with their cases: no histogram shows them."""


def nothing(name: str) -> LookedAt:
    """Before anything is known."""
    basis = NumberBasis(name, 0.0, 1.0, 0.0, 0.0, 0.0, 0.0)
    return LookedAt(AS_IS, np.zeros(0), basis, float("nan"), (), (), None, None, None)


def concern(study: Study, view: View | None, variable: Variable) -> tuple[object, ...]:
    """All that what is shown of a number depends on: while this is the same, so is that."""
    fit, treatment = view.fit if view is not None else None, study.model.treatment(variable.name)
    basis = fit.design.bases.get(variable.name) if fit is not None else None
    rows = fit.cases.rows.tobytes() if fit is not None and basis is not None and not fit.cases.is_whole else b""
    groups = study.variables if isinstance(treatment.zero, WithinGroups) else None
    enters = (basis.center, basis.scale, basis.mean, basis.sd) if isinstance(basis, NumberBasis) else None
    return variable, treatment, enters, rows, study.table, study.derived, groups


def look_at(study: Study, view: View | None, variable: Variable) -> LookedAt:
    """Values, places for zero, figures and histograms of a number."""
    name, treatment = variable.name, study.model.treatment(variable.name)
    fit = view.fit if view is not None else None
    now = fit.design.bases.get(name) if fit is not None else None
    here = np.asarray(fit.values[name], dtype=np.float64) if fit is not None and now is not None else None
    values, basis = looked_at(study, name, now, here)
    after = basis.treated(values)
    after = after[np.isfinite(after)]
    base = None
    if treatment.base is Base.ALL:
        every = study.columns.numbers(name)
        base = every[np.isfinite(every)]
    points = () if basis.is_within else tuple(zero_points(variable, basis, values, base))
    is_treated = treatment != AS_IS
    apart = codes_apart(study, name)
    rest = without_codes(values, apart)
    own = bars_of(rest)
    entered = basis.treated(rest) if apart else after
    return LookedAt(
        treatment,
        values,
        basis,
        float(after.mean()) if after.size else float("nan"),
        points,
        _lines(values, after, basis, is_treated),
        own,
        bars_of(basis.axis.forward(rest)) if not basis.axis.is_identity else own,
        bars_of(entered),
        apart,
    )


def _lines(
    values: FloatArray, after: FloatArray, basis: NumberBasis, is_treated: bool
) -> tuple[tuple[str, str, str, str], ...]:
    if values.size < 2:
        return ()
    raw = number_summary(values)
    rows = [("before", place(basis.mean, basis.sd), place(basis.sd, basis.sd), _skew(raw.skewness))]
    if is_treated and after.size > 1:
        made = number_summary(after)
        rows.append(("after", _tiny(made.mean, made.sd), _tiny(made.sd, made.sd), _skew(made.skewness)))
    return tuple(rows)


def _tiny(value: float, sd: float) -> str:
    """A mean or SD after treatment; rounding of the last bits is shown as the whole number it stands for."""
    if abs(value - round(value)) < 1e-12:
        return fixed(float(round(value)), place_decimals(sd) if sd > 0 else 2)
    return place(value, sd if sd > 0 else abs(value) or 1.0)


def _skew(value: float) -> str:
    return fixed(value, 2)
