"""In words: that a model has no intercept, and what stands in its place."""

from __future__ import annotations

from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.study.model import means_of
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.spelling.numerals import listed

NO_INTERCEPT = "no intercept"


def levels_in_place(fit: Fit) -> bool:
    """Whether the columns of the last step say between them what an intercept says."""
    return fit.factored.holds_constant(fit.factored.kept.size)


def no_intercept_row(study: Study, fit: Fit | None) -> str:
    """The last row of the ladder: “no intercept: the fit goes through the origin”."""
    if fit is None:
        return NO_INTERCEPT
    if not levels_in_place(fit):
        return f"{NO_INTERCEPT}: the fit goes through the origin"
    names = [study.variable(name).label for name in means_of(study.model)]
    if names:
        return f"{NO_INTERCEPT}: a column for every level of {listed(names)}"
    return f"{NO_INTERCEPT}: the columns say what one says"


def no_intercept_title(study: Study, fit: Fit) -> str:
    """The title of the flag."""
    return f"The model has {no_intercept_row(study, fit)}"
