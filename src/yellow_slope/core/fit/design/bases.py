"""Bases: how each variable of a model enters, with the figures of the model's cases that it needs."""

from __future__ import annotations

from typing import assert_never

import numpy as np

from yellow_slope.core.arrays import FloatArray, IntArray
from yellow_slope.core.data.derived import group_means
from yellow_slope.core.data.numbers import Moments, mean_and_sd, moments_of
from yellow_slope.core.data.variable import Kind
from yellow_slope.core.errors import StudyError
from yellow_slope.core.fit.design.axis import Axis, axis_over
from yellow_slope.core.fit.design.cases import Cases
from yellow_slope.core.fit.design.codes import Comparison, codes_of
from yellow_slope.core.study.coding import Coding
from yellow_slope.core.study.model import Model
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.treatment import At, Base, Given, Mean, Median, One, OneSD, Raw, Treatment, WithinGroups
from yellow_slope.values import dataclass, replace

EPS = float(np.finfo(float).eps)


@dataclass(frozen=True, slots=True, eq=False)
class NumberBasis:
    """How a number enters: (coordinate - center) / scale. Mean, SD and range are those of the model's cases.

    Places are raw values; of a number centered within groups they are deviations from the own group's mean.
    """

    variable: str
    center: float
    scale: float
    mean: float
    sd: float
    low: float
    high: float
    axis: Axis = Axis()
    axis_mean: float = 0.0
    axis_sd: float = 0.0
    """Mean and SD of the coordinates."""
    axis_low: float = 0.0
    axis_high: float = 0.0
    """Least and largest coordinate."""
    treatment: Treatment = Treatment()
    rounding: float = 0.0
    """Rounding of one treated value, absolute."""
    reach: float = 0.0
    """Largest treated value in size."""

    def treated(self, values: FloatArray) -> FloatArray:
        """The treated values of places, same shape."""
        found = self.axis.forward(values)
        if self.center == 0.0 and self.scale == 1.0:
            return found
        return (found - self.center) / self.scale

    @property
    def typical(self) -> float:
        """The place at which the number is held: its mean, of a transformed number that of the coordinates."""
        if self.axis.is_identity:
            return self.mean
        back = self.axis.preimages(self.axis_mean, self.low, self.high)
        return back[0] if len(back) == 1 else self.mean

    @property
    def is_at_mean(self) -> bool:
        """Whether its zero point is the mean of its coordinates over the model's cases."""
        return self.center == self.axis_mean

    @property
    def is_within(self) -> bool:
        """Whether it is centered within groups."""
        return isinstance(self.treatment.zero, WithinGroups)

    @property
    def is_per_sd(self) -> bool:
        """Whether a unit is one SD."""
        return isinstance(self.treatment.scale, OneSD)

    def standardized(self) -> NumberBasis:
        """The basis standardized over the model's cases."""
        scale = self.axis_sd or 1.0
        factor, shift = self.scale / scale, abs(self.center - self.axis_mean) / scale
        return replace(
            self, center=self.axis_mean, scale=scale, rounding=self.rounding * factor, reach=self.reach * factor + shift
        )


@dataclass(frozen=True, slots=True, eq=False)
class GroupBasis:
    """How a group variable enters: code columns over the levels present among the model's cases."""

    variable: str
    levels: tuple[str, ...]
    """Codes of the levels present, in order."""
    comparisons: tuple[Comparison, ...]
    codes: FloatArray
    """Shape (k, columns)."""
    zero_weights: FloatArray | None
    """Shape (k,): where all codes are 0; None for level means."""
    counts: IntArray
    """Shape (k,): cases per level."""
    coding: Coding
    reference: int | None
    """Position of the reference level; None where the coding has none."""
    follows: tuple[Comparison, ...] = ()
    """Planned questions that follow from those before: tested as contrasts, never coded."""
    n_asked: int | None = None
    """How many of the comparisons are planned questions; the program completed the set with the others."""

    @property
    def shares(self) -> FloatArray:
        """Shape (k,): share of each level among the model's cases."""
        return np.asarray(self.counts / self.counts.sum(), dtype=np.float64)

    def index(self, code: str) -> int:
        """Position of a level; StudyError if it is absent among the model's cases."""
        if code in self.levels:
            return self.levels.index(code)
        raise StudyError(f"No case of the model has the level “{code}” of {self.variable}.")

    @property
    def contrasts(self) -> tuple[Comparison, ...]:
        """What a probe compares: the comparisons; of level means each level with the first."""
        if self.zero_weights is not None:
            return self.comparisons
        first = np.eye(len(self.levels))[0]
        return tuple(Comparison(row - first) for row in np.eye(len(self.levels))[1:])


Basis = NumberBasis | GroupBasis


def number_basis(
    variable: str,
    values: FloatArray,
    treatment: Treatment,
    axis: Axis = Axis(),
    base: FloatArray | None = None,
    known: Moments | None = None,
) -> NumberBasis:
    """The basis of a number. values (n,): places of the model's cases; base: places over which zero and scale are
    taken; known: the moments of the values, if they are known."""
    if values.size == 0:
        return NumberBasis(variable, 0.0, 1.0, 0.0, 0.0, 0.0, 0.0, axis, treatment=treatment)
    known = known or moments_of(values)
    mean, sd, low, high = known.mean, known.sd, known.low, known.high
    coordinates = axis.forward(values)
    axis_mean, axis_sd = (mean, sd) if axis.is_identity else mean_and_sd(coordinates)
    if base is None:
        taken, base_mean, base_sd = coordinates, axis_mean, axis_sd
    else:
        taken = axis.forward(base)
        taken = taken[~np.isnan(taken)]
        base_mean, base_sd = mean_and_sd(taken)
    zero, scale = treatment.zero, 1.0
    match zero:
        case Raw() | WithinGroups():  # deviations from the means of groups have their zero already
            center = 0.0
        case Mean():
            center = base_mean
        case Median():
            center = float(np.median(taken)) if taken.size else 0.0
        case At(value):
            center = value
        case _:
            assert_never(zero)
    match treatment.scale:
        case One():
            pass
        case OneSD():
            scale = base_sd or 1.0
        case Given(given):
            scale = given
        case _:
            assert_never(treatment.scale)
    far, near = (high, low) if axis.is_identity else (float(coordinates.max()), float(coordinates.min()))
    size = max(abs(far), abs(near))
    return NumberBasis(
        variable,
        center,
        scale,
        mean,
        sd,
        low,
        high,
        axis,
        axis_mean,
        axis_sd,
        near,
        far,
        treatment,
        rounding=EPS * max(size, abs(center)) / scale,
        reach=max(abs(far - center), abs(near - center)) / scale,
    )


def places_and_basis(study: Study, model: Model, name: str, cases: Cases) -> tuple[FloatArray, NumberBasis]:
    """The places of the model's cases, shape (n,), and the basis of a number of the model."""
    treatment, variable = model.treatment(name), study.variable(name)
    if variable.kind is not Kind.NUMBER:
        raise StudyError(f"{variable.label} is {variable.kind.one}; it cannot enter as a number.")
    column = study.columns.known(name)
    raw = column.values
    here = raw if cases.is_whole else raw[cases.rows]
    limits = variable.limits or (0.0, 0.0)
    over = raw if treatment.base is Base.ALL else here
    axis = axis_over(treatment.transforms, limits, over)
    if isinstance(treatment.zero, WithinGroups):
        groups = study.columns.levels(treatment.zero.of)
        coordinates = axis.forward(raw)
        if treatment.base is Base.MODEL:
            deviations = coordinates[cases.rows] - group_means(coordinates[cases.rows], groups[cases.rows])
        else:
            deviations = (coordinates - group_means(coordinates, groups))[cases.rows]
        return deviations, _basis_within(name, deviations, treatment, coordinates)
    base = raw[column.present] if treatment.base is Base.ALL else None
    return here, number_basis(name, here, treatment, axis, base, column.moments(cases.rows, here))


def _basis_within(name: str, deviations: FloatArray, treatment: Treatment, coordinates: FloatArray) -> NumberBasis:
    """The basis of deviations (n,) from the means of groups; they are rounded as the coordinates they come from, and
    a mean no larger than that is 0."""
    basis = number_basis(name, deviations, treatment)
    size = float(np.nanmax(np.abs(coordinates))) if deviations.size else 0.0
    basis = replace(basis, rounding=max(basis.rounding, EPS * size / basis.scale))
    return replace(basis, mean=0.0, axis_mean=0.0) if abs(basis.mean) <= 8 * EPS * size else basis


def positions_and_basis(study: Study, model: Model, name: str, cases: Cases) -> tuple[IntArray, GroupBasis]:
    """Positions among the levels present of the model's cases, shape (n,), and the basis of a group of the model."""
    variable = study.variable(name)
    indices = study.columns.levels(name)
    if not cases.is_whole:
        indices = indices[cases.rows]
    counts = np.bincount(indices, minlength=len(variable.levels)).astype(np.int64)
    here = np.flatnonzero(counts)
    lookup = np.full(len(variable.levels), -1, dtype=np.int64)
    lookup[here] = np.arange(here.size)
    codes = tuple(variable.levels[int(i)].code for i in here)
    coding = model.coding(name)
    try:
        made = codes_of(coding, codes, counts[here])
    except StudyError as error:
        raise StudyError(f"{variable.label}: {error}") from error
    basis = GroupBasis(
        name,
        codes,
        made.comparisons,
        made.codes,
        made.zero_weights,
        counts[here],
        coding,
        made.reference,
        made.follows,
        made.n_asked,
    )
    return lookup[indices], basis


def looked_at(
    study: Study, name: str, basis: Basis | None, values: FloatArray | None
) -> tuple[FloatArray, NumberBasis]:
    """A number as it is looked at: over the model's cases where it enters, else over all that have a value.

    basis, values: those of the fit that is shown, None where the number is not in it. The one rule for it.
    """
    if isinstance(basis, NumberBasis) and values is not None:
        return np.asarray(values, dtype=np.float64), basis
    variable, treatment = study.variable(name), study.model.treatment(name)
    raw = study.columns.numbers(name)
    here = raw[np.isfinite(raw)]
    axis = axis_over(treatment.transforms, variable.limits or (0.0, 0.0), here)
    if isinstance(treatment.zero, WithinGroups):
        groups = study.columns.levels(treatment.zero.of)
        coordinates = axis.forward(raw)
        deviations = coordinates - group_means(coordinates, groups)
        deviations = deviations[np.isfinite(deviations)]
        return deviations, _basis_within(name, deviations, treatment, coordinates)
    return here, number_basis(name, here, treatment, axis)
