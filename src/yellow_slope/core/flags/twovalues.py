"""An outcome of two values: a line is fitted to a yes and a no."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from yellow_slope.core.fit.fitted.evaluate import Evaluation
from yellow_slope.core.flags.flag import Flag, Remedy
from yellow_slope.core.study.edits.models import set_errors
from yellow_slope.core.study.flagkeys import FlagKey, FlagKind
from yellow_slope.core.study.standarderrors import HC, Classical
from yellow_slope.core.words.spelling.numerals import percent


def two_valued_outcome(evaluation: Evaluation) -> Iterator[Flag]:
    """The outcome takes two values only; robust standard errors meet its uneven spread, and nothing else of it."""
    study, fit = evaluation.study, evaluation.fit
    name = study.model.outcome
    if fit is None or name is None:
        return
    low, high = float(fit.y.min()), float(fit.y.max())
    if not np.all((fit.y == low) | (fit.y == high)):
        return
    title, classical = study.variable(name).label, isinstance(study.model.errors, Classical)

    def told() -> tuple[str, tuple[Remedy, ...]]:
        share = percent(float(np.mean(fit.y == high)))
        predicted = fit.predicted(len(fit.steps) - 1)
        out = int(np.sum((predicted < low) | (predicted > high)))
        cost = (
            f"{title} takes two values only; {share} of the cases have the higher one. Coefficients are differences in "
            f"that share, residuals cannot be normal or evenly spread, and {out} predicted values lie outside the two."
        )
        if not classical:
            return f"{cost} The standard errors in use do not assume an even spread.", ()
        return cost, (Remedy("Use HC3 standard errors", lambda s: set_errors(s, HC(3))),)

    said = f"{title} takes two values only" + ("" if classical else ", under robust standard errors")
    yield Flag(FlagKey(FlagKind.TWO_VALUES, (name,)), said, told, variable=name)
