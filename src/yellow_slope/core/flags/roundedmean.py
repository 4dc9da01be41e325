"""A given zero point that is the mean, rounded: the centered column does not average zero."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

from yellow_slope.core.data.table import number_text
from yellow_slope.core.fit.design.bases import NumberBasis
from yellow_slope.core.fit.fitted.evaluate import Evaluation
from yellow_slope.core.flags.flag import Flag, Remedy
from yellow_slope.core.study.edits.entries import treat
from yellow_slope.core.study.flagkeys import FlagKey, FlagKind
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.treatment import At, Mean
from yellow_slope.core.words.names.numbers import transformed_name
from yellow_slope.core.words.spelling.numerals import MINUS, fixed, number_or_place, place_decimals
from yellow_slope.values import replace

SO_NEAR = 0.02
"""A whole number is taken for a rounded mean only if it lies within so many SDs of it."""


def rounded_means(evaluation: Evaluation) -> Iterator[Flag]:
    """Numbers centered at a typed value that their mean rounds to."""
    study, fit = evaluation.study, evaluation.fit
    for name, basis in fit.design.bases.items() if fit is not None else ():
        if isinstance(basis, NumberBasis) and is_rounded_mean(basis):
            title = f"The zero of {study.variable(name).label} is its mean, rounded"
            yield Flag(FlagKey(FlagKind.ROUNDED_MEAN, (name,)), title, partial(_told, study, basis), variable=name)


def is_rounded_mean(basis: NumberBasis) -> bool:
    """Whether the zero was given and is the mean at as many decimals as it was given with, but not the mean itself."""
    zero = basis.treatment.zero
    if not isinstance(zero, At) or basis.center == basis.axis_mean or not basis.axis_sd > 0:
        return False
    decimals = _decimals(zero.value)
    if decimals == 0 and abs(zero.value - basis.axis_mean) > SO_NEAR * basis.axis_sd:
        return False
    return round(basis.axis_mean, decimals) == zero.value


def _decimals(value: float) -> int:
    text = number_text(value)
    return len(text.partition(".")[2]) if "." in text and "e" not in text else 0


def _told(study: Study, basis: NumberBasis) -> tuple[str, tuple[Remedy, ...]]:
    variable, zero = study.variable(basis.variable), basis.treatment.zero
    assert isinstance(zero, At)
    decimals = max(place_decimals(basis.axis_sd) + 2, _decimals(zero.value) + 2)
    title = transformed_name(variable, basis.treatment)
    off = (basis.axis_mean - zero.value) / basis.scale
    cost = (
        f"Typed {number_text(zero.value).replace('-', MINUS)}, the mean of {title} is "
        f"{fixed(basis.axis_mean, decimals)}: the centered column averages "
        f"{number_or_place(float(f'{off:.2g}'))}. It is also fixed: with other cases the mean moves, this value does "
        "not."
    )
    remedy = Remedy(
        "Center at the mean itself",
        partial(treat, names=[basis.variable], treatment=replace(basis.treatment, zero=Mean())),
    )
    return cost, (remedy,)
