"""Everything that the waypoint Checks tells of a step: its cases, its assumptions, its product's own part."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from yellow_slope.core.arrays import FloatArray
from yellow_slope.core.errors import YellowSlopeError
from yellow_slope.core.fit.asked.asidecases import AsideCases, aside_cases
from yellow_slope.core.fit.asked.assumptions import (
    InOrder,
    Normality,
    Spread,
    Third,
    in_order,
    in_thirds,
    normality_of,
    own_part,
    reset_test,
    robust_ratio,
    spread_of,
)
from yellow_slope.core.fit.asked.diagnosis import Diagnosis, diagnose
from yellow_slope.core.fit.asked.faraway import Distances, Far, distances, far_by
from yellow_slope.core.fit.asked.leftout import without_each
from yellow_slope.core.fit.asked.overlap import Overlap, overlap_of
from yellow_slope.core.fit.design.bases import NumberBasis
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.fit.fitted.inference import FTest
from yellow_slope.core.fit.solve.why import Why
from yellow_slope.core.probe.asking import probe_of
from yellow_slope.core.probe.leftbounds import BoundariesWithoutEach, boundaries_without_each
from yellow_slope.core.probe.probed import Focus
from yellow_slope.core.probe.probing import probe_fit
from yellow_slope.core.stand.standing import ProductAsked, asked_columns
from yellow_slope.core.study.checks import FarBy
from yellow_slope.core.study.probe import Probe
from yellow_slope.core.study.study import Study
from yellow_slope.values import dataclass


@dataclass(frozen=True, slots=True, eq=False)
class Straight:
    """Whether the focal effect changes in a straight line along a number."""

    probe: Probe
    focus: Focus
    """The effect of the model along it."""
    comparison: int
    thirds: tuple[Third, ...]
    without_each: BoundariesWithoutEach | Why
    """The effect's boundaries without each case, by the probe's rule of regions; or why there are none."""


@dataclass(frozen=True, slots=True, eq=False)
class Checked:
    """Of one step of the current model. Arrays run over the model's cases."""

    study: Study
    fit: Fit
    step: int
    asked: ProductAsked | None
    """The product that is looked at; None where the model has none."""
    column: int | None
    """Of the product the column that is asked, of a set the first; None without a product."""
    diagnosis: Diagnosis
    away: Distances
    far: dict[FarBy, Far]
    spread: Spread
    ratio: float
    """HC3 over classical standard error of the column."""
    normality: Normality
    order: InOrder
    reset: FTest
    straight: Straight | None
    not_straight: str
    """Why there is nothing to be straight."""
    overlap: Overlap
    own: tuple[FloatArray, FloatArray] | None
    """What of the column and of the outcome the other columns leave."""
    moves: FloatArray | None
    """DFBETAS of the column."""
    aside: AsideCases


def checked(
    study: Study, fit: Fit, step: int, asked: ProductAsked | None, go_on: Callable[[float], None] = lambda share: None
) -> Checked:
    """Check a step."""
    diagnosis = diagnose(fit, step)
    away = distances(fit, study.checks.cutoffs.groups)
    far = {by: far_by(by, diagnosis, away, study.checks.cutoffs) for by in FarBy}
    is_noise = fit.steps[step].is_perfect  # what a perfect fit leaves is rounding, and says nothing
    residual = np.full(diagnosis.residual.size, np.nan) if is_noise else diagnosis.residual
    go_on(0.2)
    columns = asked_columns(fit, step, asked) if asked is not None else []
    column = columns[0] if columns else None
    ratio, own, moves = float("nan"), None, None
    if column is not None:
        g = np.eye(fit.steps[step].n_columns + 1)[column + 1]
        ratio, own = robust_ratio(fit, step, g), own_part(fit, step, column)
        moves = without_each(fit, step, g, study.model.level).change
    go_on(0.4)
    straight, why = _straight(study, fit, step, asked, column)
    go_on(0.6)
    return Checked(
        study,
        fit,
        step,
        asked,
        column,
        diagnosis,
        away,
        far,
        spread_of(fit, step, residual),
        ratio,
        normality_of(diagnosis.studentized),
        in_order(residual),
        reset_test(fit, step),
        straight,
        why,
        overlap_of(study, fit, step),
        own,
        moves,
        aside_cases(study, fit, step, column, study.checks.cutoffs.groups),
    )


def _straight(
    study: Study, fit: Fit, step: int, asked: ProductAsked | None, column: int | None
) -> tuple[Straight | None, str]:
    """The focal effect along the number that it changes with; or why there is none."""
    if asked is None or column is None:
        return None, "there is no product in the step"
    names = tuple(dict.fromkeys(asked.product.variables))
    if len(names) != 2 or len(asked.product.variables) != 2:
        return None, "thirds are taken of a product of two variables"
    bases = fit.design.bases
    probe = probe_of(study, asked.product, fit)
    if not isinstance(bases[probe.moderator], NumberBasis):
        probe = Probe(probe.moderator, probe.focal, held=probe.held, rule=probe.rule)
    moderator = bases[probe.moderator]
    if not isinstance(moderator, NumberBasis):
        return None, "both are groups: between their levels there is no line"
    # The same effect and the same rule as the probe's, so that its boundaries are those that the report gives.
    probe = Probe(probe.focal, probe.moderator, held=probe.held, rule=probe.rule, step=study.model.steps[step].id)
    try:
        found = probe_fit(study, fit, probe)
    except YellowSlopeError as error:
        return None, str(error).rstrip(".")
    atom = next(a for a in fit.design.columns[column].atoms if a.variable == probe.focal)
    place = atom.comparison or 0
    focus = _focus_of(fit, probe.focal, place, found.panels[0].foci)
    if focus is None or focus.curve is None:
        return None, "the probe has no effect that corresponds to the column"
    row_at = focus.curve.row
    thirds = in_thirds(fit, step, probe.focal, probe.moderator, place, row_at, study.model.level)
    observed = np.asarray(fit.values[probe.moderator], dtype=np.float64)
    each = boundaries_without_each(fit, step, focus.curve, probe.rule, observed)
    return Straight(probe, focus, place, thirds, each), ""


def _focus_of(fit: Fit, focal: str, place: int, foci: tuple[Focus, ...]) -> Focus | None:
    """The focal effect that a comparison's column asks."""
    basis = fit.design.bases[focal]
    if isinstance(basis, NumberBasis):
        return foci[0]
    weights = basis.comparisons[place].weights
    same = (f for f in foci if f.comparison is not None and np.allclose(f.comparison.weights, weights))
    return next(same, None)
