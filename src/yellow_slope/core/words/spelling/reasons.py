"""Why a number does not exist, in words."""

from __future__ import annotations

from yellow_slope.core.fit.solve.why import Why

DASH = "–"
SAID = {
    Why.NOT_ESTIMABLE: "it cannot be estimated from these cases",
    Why.LEFT_OUT: "omitted because it is a combination of other columns",
    Why.PERFECT: "the model fits perfectly, so there is no error variance",
    Why.FIXED: "fixed by the model",
    Why.NOTHING: "nothing is added",
    Why.NO_CASES: "no degrees of freedom are left",
    Why.LEVERAGE: "a case has a leverage of 1, so these standard errors do not exist",
    Why.CLUSTERS: "there are too few clusters",
    Why.CANCELS: "the residuals it rests on cancel out, so its standard error would be exactly 0",
    Why.RESAMPLING: "still being resampled",
    Why.SINGULAR: "most resamples lose a column of the model",
    Why.TOO_WIDE: "the model has too many coefficients to be resampled",
    Why.TOO_MANY_CASES: "there are too many cases",
    Why.NO_RULE: "this rule of regions would have to be applied in every resample",
    Why.DRAWS: "it does not exist for resamples",
    Why.ROBUST: "it has no formula under robust standard errors",
    Why.ABOUT_ZERO: "R² is about zero because the model has no intercept",
}


def reason(why: Why | None) -> str:
    """The reason, empty where there is none."""
    return SAID[why] if why is not None else ""
