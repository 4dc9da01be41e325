"""Why a number does not exist."""

from __future__ import annotations

from enum import StrEnum


class Why(StrEnum):
    """Why a number does not exist."""

    NOT_ESTIMABLE = "not estimable"
    LEFT_OUT = "left out"
    PERFECT = "perfect fit"
    FIXED = "fixed by the model"
    NOTHING = "nothing added"
    NO_CASES = "no case left"
    LEVERAGE = "a case has leverage 1"
    CLUSTERS = "too few clusters"
    CANCELS = "standard error 0"
    RESAMPLING = "still being resampled"
    SINGULAR = "resamples lose a column"
    TOO_WIDE = "too many coefficients to resample"
    TOO_MANY_CASES = "too many cases"
    NO_RULE = "not by this rule"
    DRAWS = "not from resamples"
    ROBUST = "not under robust errors"
    ABOUT_ZERO = "about zero"
