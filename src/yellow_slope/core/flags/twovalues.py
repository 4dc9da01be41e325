"""An outcome of two values: a line is fitted to a yes and a no."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from yellow_slope.core.fit.evaluate import Evaluation
from yellow_slope.core.flags.flag import Flag, Remedy
from yellow_slope.core.study import edits
from yellow_slope.core.study.standarderrors import HC, Classical
from yellow_slope.core.study.study import FlagKey, FlagKind
from yellow_slope.core.words.numerals import percent


def two_valued_outcome(evaluation: Evaluation) -> Iterator[Flag]:
    """The outcome takes two values only, and the standard errors take its spread for even."""
    study, fit = evaluation.study, evaluation.fit
    name = study.model.outcome
    if fit is None or name is None or not isinstance(study.model.errors, Classical):
        return
    low, high = float(fit.y.min()), float(fit.y.max())
    if not np.all((fit.y == low) | (fit.y == high)):
        return
    title = study.variable(name).label

    def told() -> tuple[str, tuple[Remedy, ...]]:
        share = percent(float(np.mean(fit.y == high)))
        predicted = fit.predicted(len(fit.steps) - 1)
        out = int(np.sum((predicted < low) | (predicted > high)))
        cost = (
            f"{title} takes two values only; {share} of the cases have the higher one. Coefficients are differences in that "
            f"share, residuals cannot be normal or evenly spread, and {out} predicted values lie outside the two."
        )
        return cost, (Remedy("Use HC3 standard errors", lambda s: edits.set_errors(s, HC(3))),)

    yield Flag(FlagKey(FlagKind.TWO_VALUES, (name,)), f"{title} takes two values only", told, variable=name)
