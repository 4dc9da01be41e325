"""Why a number does not exist, in words."""

from __future__ import annotations

from yellow_slope.core.fit.solve.why import Why

DASH = "–"
SAID = {
    Why.NOT_ESTIMABLE: "no case tells of it",
    Why.LEFT_OUT: "left out: others already say what it says",
    Why.PERFECT: "the model fits perfectly, which leaves no error to judge it by",
    Why.FIXED: "fixed by the model",
    Why.NOTHING: "nothing is added",
    Why.NO_CASES: "no case is left to judge it by",
    Why.LEVERAGE: "a case has leverage 1, so this kind of standard errors does not exist",
    Why.CLUSTERS: "there are too few clusters",
    Why.CANCELS: "the residuals it rests on cancel, so its standard error is exactly 0 and cannot judge it",
    Why.RESAMPLING: "still being resampled",
    Why.SINGULAR: "most resamples lose a column of the model, so nothing can be resampled",
    Why.TOO_WIDE: "the model has too many coefficients to be resampled",
    Why.TOO_MANY_CASES: "there are too many cases for it",
    Why.NO_RULE: "this rule of regions would have to be asked in every resample",
    Why.DRAWS: "resamples give no such figure",
    Why.ROBUST: "it has no formula under robust standard errors",
    Why.ABOUT_ZERO: "R² is about zero, for the model has no intercept",
}


def reason(why: Why | None) -> str:
    """The reason, empty where there is none."""
    return SAID[why] if why is not None else ""
