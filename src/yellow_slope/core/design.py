"""The design: model columns as products of atoms.

One description builds the matrix, evaluates a profile, differentiates it for a slope, and gives the polynomial in
a moderator whose roots bound the regions. Two-way, three-way, squared and coded products need no case of their own.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from itertools import product

import numpy as np

from yellow_slope.core.coding import dummy_codes
from yellow_slope.core.errors import StudyError
from yellow_slope.core.sample import Sample
from yellow_slope.core.study import Study
from yellow_slope.core.table import FloatArray, IntArray
from yellow_slope.core.terms import Term, variables_of
from yellow_slope.core.variable import Kind, Level, Treatment, level_indices, numeric_values


@dataclass(frozen=True, slots=True)
class NumberBasis:
    """How a number enters: (value - center) / scale. Mean, SD and range are those of the model's cases."""

    variable: str
    center: float
    scale: float
    mean: float
    sd: float
    low: float
    high: float

    def treated(self, values: FloatArray) -> FloatArray:
        """The treated values, same shape."""
        if self.center == 0.0 and self.scale == 1.0:
            return values
        return (values - self.center) / self.scale


@dataclass(frozen=True, slots=True, eq=False)
class GroupBasis:
    """How a group variable enters: code columns over the levels present among the model's cases."""

    variable: str
    levels: tuple[Level, ...]
    reference: int
    codes: FloatArray
    """Shape (k, k - 1)."""
    counts: IntArray
    """Shape (k,): cases per level."""

    @property
    def shares(self) -> FloatArray:
        """Shape (k,): share of each level among the model's cases."""
        return np.asarray(self.counts / self.counts.sum(), dtype=np.float64)

    @property
    def compared(self) -> tuple[Level, ...]:
        """The level that each comparison sets against the reference."""
        return tuple(level for i, level in enumerate(self.levels) if i != self.reference)

    def index(self, code: str) -> int:
        """Position of a level; StudyError if it is absent among the model's cases."""
        for i, level in enumerate(self.levels):
            if level.code == code:
                return i
        raise StudyError(f"No case of the model has the level “{code}” of {self.variable}.")


Basis = NumberBasis | GroupBasis


@dataclass(frozen=True, slots=True)
class Atom:
    """A factor of a model column: a number's basis, or one code column of a group."""

    variable: str
    comparison: int | None = None


@dataclass(frozen=True, slots=True)
class ModelColumn:
    """A column of the model matrix: the product of its atoms, and the term and block it belongs to."""

    term: Term
    atoms: tuple[Atom, ...]
    block: int


@dataclass(frozen=True, slots=True)
class Along:
    """A number left open in a profile: value = middle + half * u."""

    variable: str
    middle: float
    half: float


@dataclass(frozen=True, slots=True, eq=False)
class Profile:
    """Where every variable stands: a value for each number, weights over the levels for each group."""

    numbers: Mapping[str, float]
    weights: Mapping[str, FloatArray]

    def with_number(self, name: str, value: float) -> Profile:
        """The profile with one number changed."""
        return replace(self, numbers={**self.numbers, name: value})

    def with_level(self, name: str, index: int) -> Profile:
        """The profile with a group at one level."""
        weights = np.zeros_like(self.weights[name])
        weights[index] = 1.0
        return replace(self, weights={**self.weights, name: weights})


@dataclass(frozen=True, slots=True, eq=False)
class Design:
    """Bases, columns in block order, and how many columns each step holds."""

    bases: Mapping[str, Basis]
    columns: tuple[ModelColumn, ...]
    ends: tuple[int, ...]
    _by_term: Mapping[Term, tuple[int, ...]] = field(init=False)

    def __post_init__(self) -> None:
        found: dict[Term, list[int]] = {}
        for j, column in enumerate(self.columns):
            found.setdefault(column.term, []).append(j)
        object.__setattr__(self, "_by_term", {term: tuple(js) for term, js in found.items()})

    def columns_of(self, term: Term) -> tuple[int, ...]:
        """Positions of a term's columns; empty where its groups have but one level present."""
        return self._by_term.get(term, ())

    def number(self, name: str) -> NumberBasis:
        """The basis of a number in the model."""
        basis = self.bases[name]
        assert isinstance(basis, NumberBasis)
        return basis

    def group(self, name: str) -> GroupBasis:
        """The basis of a group in the model."""
        basis = self.bases[name]
        assert isinstance(basis, GroupBasis)
        return basis

    def matrix(self, values: Mapping[str, FloatArray | IntArray]) -> FloatArray:
        """Shape (n, columns), Fortran order, without a constant. `values`: raw numbers, level positions of groups."""
        atoms: dict[Atom, FloatArray] = {}
        for column in self.columns:
            for atom in column.atoms:
                if atom not in atoms:
                    atoms[atom] = self._atom_values(atom, values[atom.variable])
        n = next(iter(values.values())).shape[0] if values else 0
        out = np.empty((n, len(self.columns)), order="F")
        for j, column in enumerate(self.columns):
            out[:, j] = atoms[column.atoms[0]]
            for atom in column.atoms[1:]:
                out[:, j] *= atoms[atom]
        return out

    def _atom_values(self, atom: Atom, values: FloatArray | IntArray) -> FloatArray:
        basis = self.bases[atom.variable]
        if isinstance(basis, NumberBasis):
            return basis.treated(np.asarray(values, dtype=np.float64))
        assert atom.comparison is not None
        coded: FloatArray = basis.codes[:, atom.comparison][values.astype(np.int64)]
        return coded

    def _factor(self, atom: Atom, profile: Profile, along: Along | None) -> FloatArray:
        """An atom at a profile as a polynomial in u, lowest power first."""
        basis = self.bases[atom.variable]
        if isinstance(basis, GroupBasis):
            assert atom.comparison is not None
            return np.array([float(profile.weights[atom.variable] @ basis.codes[:, atom.comparison])])
        if along is not None and along.variable == atom.variable:
            return np.array([(along.middle - basis.center) / basis.scale, along.half / basis.scale])
        return np.array([(profile.numbers[atom.variable] - basis.center) / basis.scale])

    def rows(self, profile: Profile, along: Along | None = None, derive: str | None = None) -> FloatArray:
        """Shape (1 + columns, degree + 1): each column at the profile as a polynomial in u, the constant first.

        With `derive`, the derivative by that number, per treated unit. Without `along` there is one coefficient each.
        """
        polynomials = [np.array([0.0 if derive else 1.0])]
        for column in self.columns:
            if derive is None:
                polynomials.append(self._product(column.atoms, profile, along))
                continue
            total = np.zeros(1)
            for i, atom in enumerate(column.atoms):
                if atom.variable == derive:
                    rest = column.atoms[:i] + column.atoms[i + 1 :]
                    total = _sum(total, self._product(rest, profile, along))
            polynomials.append(total)
        width = max(p.size for p in polynomials)
        return np.vstack([np.pad(p, (0, width - p.size)) for p in polynomials])

    def _product(self, atoms: tuple[Atom, ...], profile: Profile, along: Along | None) -> FloatArray:
        out = np.ones(1)
        for atom in atoms:
            out = np.convolve(out, self._factor(atom, profile, along))
        return out

    def typical(self) -> Profile:
        """Numbers at their mean over the model's cases, groups at their shares."""
        numbers = {name: b.mean for name, b in self.bases.items() if isinstance(b, NumberBasis)}
        weights = {name: b.shares for name, b in self.bases.items() if isinstance(b, GroupBasis)}
        return Profile(numbers, weights)

    def standardized(self) -> Design:
        """The same columns with every number standardized over the model's cases, codes left as codes."""
        bases: dict[str, Basis] = {
            name: replace(b, center=b.mean, scale=b.sd or 1.0) if isinstance(b, NumberBasis) else b
            for name, b in self.bases.items()
        }
        return Design(bases, self.columns, self.ends)


def _sum(a: FloatArray, b: FloatArray) -> FloatArray:
    width = max(a.size, b.size)
    return np.pad(a, (0, width - a.size)) + np.pad(b, (0, width - b.size))


def number_basis(variable: str, values: FloatArray, treatment: Treatment) -> NumberBasis:
    """The basis of a number over the model's cases. The mean is corrected once, so that centered values average zero."""
    if values.size == 0:
        return NumberBasis(variable, 0.0, 1.0, 0.0, 0.0, 0.0, 0.0)
    mean = float(values.mean())
    mean += float((values - mean).mean())
    sd = float(np.sqrt(np.sum((values - mean) ** 2) / (values.size - 1))) if values.size > 1 else 0.0
    center = 0.0 if treatment is Treatment.AS_IS else mean
    scale = (sd or 1.0) if treatment is Treatment.STANDARDIZED else 1.0
    return NumberBasis(variable, center, scale, mean, sd, float(values.min()), float(values.max()))


def group_basis(variable: str, levels: tuple[Level, ...], indices: IntArray, reference: str | None) -> GroupBasis:
    """The basis of a group over the model's cases; absent levels yield no column. No reference chosen: the first."""
    counts = np.bincount(indices, minlength=len(levels)).astype(np.int64)
    here = np.flatnonzero(counts)
    present = tuple(levels[int(i)] for i in here)
    codes = [level.code for level in present]
    at = codes.index(reference) if reference in codes else 0
    k = len(present)
    return GroupBasis(variable, present, at, dummy_codes(k, at) if k > 1 else np.zeros((k, 0)), counts[here])


def design_of(study: Study, sample: Sample) -> tuple[Design, dict[str, FloatArray | IntArray]]:
    """The design of the study's model over its cases, and the raw values (level positions of groups) it multiplies."""
    bases: dict[str, Basis] = {}
    values: dict[str, FloatArray | IntArray] = {}
    for name in variables_of(study.terms):
        variable, column = study.variable(name), study.table.column(name)
        if variable.kind is Kind.GROUP:
            indices = level_indices(column, variable)[sample.rows]
            basis: Basis = group_basis(name, variable.levels, indices, variable.reference)
            assert isinstance(basis, GroupBasis)
            lookup = np.full(len(variable.levels), -1, dtype=np.int64)
            for position, level in enumerate(basis.levels):
                lookup[variable.levels.index(level)] = position
            values[name] = lookup[indices]
        else:
            numbers = numeric_values(column, variable)[sample.rows]
            basis = number_basis(name, numbers, variable.treatment)
            values[name] = numbers
        bases[name] = basis
    columns: list[ModelColumn] = []
    ends: list[int] = []
    for index, block in enumerate(study.blocks):
        for term in block.terms:
            columns.extend(term_columns(term, bases, index))
        ends.append(len(columns))
    return Design(bases, tuple(columns), tuple(ends)), values


def term_columns(term: Term, bases: Mapping[str, Basis], block: int) -> list[ModelColumn]:
    """The columns of a term: one for each combination of its groups' comparisons."""
    choices: list[list[Atom]] = []
    for name in term.variables:
        basis = bases[name]
        if isinstance(basis, GroupBasis):
            choices.append([Atom(name, c) for c in range(basis.codes.shape[1])])
        else:
            choices.append([Atom(name)])
    return [ModelColumn(term, atoms, block) for atoms in product(*choices)]
