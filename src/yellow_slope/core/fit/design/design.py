"""The design: model columns as products of atoms.

One description builds the matrix, evaluates a profile, differentiates it for a slope, and gives the polynomial in
a moderator whose roots bound the regions. Two-way, three-way, squared and coded products need no case of their own.
"""

from __future__ import annotations

from collections.abc import Mapping
from itertools import product

import numpy as np

from yellow_slope.core.arrays import FloatArray, IntArray
from yellow_slope.core.data.variable import Kind
from yellow_slope.core.errors import StudyError
from yellow_slope.core.fit.design.axis import Axis
from yellow_slope.core.fit.design.bases import (
    EPS,
    Basis,
    GroupBasis,
    NumberBasis,
    places_and_basis,
    positions_and_basis,
)
from yellow_slope.core.fit.design.cases import Cases
from yellow_slope.core.study.model import Model
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Term, variables_of
from yellow_slope.values import dataclass, field, replace, settle

Values = Mapping[str, FloatArray | IntArray]
"""Places of numbers, positions among the levels present of groups, each (n,)."""
Polynomial = tuple[float, ...]
"""Coefficients, lowest power first."""
CANCELLED = 8.0
"""Roundings that a sum may be from 0 and still be 0."""
MOST_COLUMNS = 3000
"""More columns than this are refused: no sheet could show them."""


@dataclass(frozen=True, slots=True)
class Atom:
    """A factor of a model column: a number's basis, or one code column of a group."""

    variable: str
    comparison: int | None = None


@dataclass(frozen=True, slots=True)
class ModelColumn:
    """A column of the model matrix: the product of its atoms, and the term and step it belongs to."""

    term: Term
    atoms: tuple[Atom, ...]
    step: int


@dataclass(frozen=True, slots=True)
class Along:
    """A number left open in a profile: coordinate = middle + half * u."""

    variable: str
    middle: float
    half: float
    axis: Axis = Axis()

    def u(self, places: FloatArray) -> FloatArray:
        """u of places, same shape."""
        return (self.axis.forward(np.asarray(places, dtype=np.float64)) - self.middle) / self.half


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
    """Bases, columns in step order, and how many columns each step holds."""

    bases: Mapping[str, Basis]
    columns: tuple[ModelColumn, ...]
    ends: tuple[int, ...]
    constant: bool = True
    _by_term: Mapping[Term, tuple[int, ...]] = field(init=False)

    def __post_init__(self) -> None:
        found: dict[Term, list[int]] = {}
        for j, column in enumerate(self.columns):
            found.setdefault(column.term, []).append(j)
        settle(self, "_by_term", {term: tuple(js) for term, js in found.items()})

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

    def matrix(
        self, values: Values, start: int = 0, stop: int | None = None, out: FloatArray | None = None
    ) -> FloatArray:
        """Shape (rows, columns), Fortran order, without a constant, for the cases from start to stop; out: where it is
        written."""
        atoms: dict[Atom, FloatArray] = {}
        for column in self.columns:
            for atom in column.atoms:
                if atom not in atoms:
                    atoms[atom] = self._atom_values(atom, values[atom.variable][start:stop])
        n = next(iter(atoms.values())).shape[0] if atoms else 0
        if out is None:
            out = np.empty((n, len(self.columns)), order="F")
        for j, column in enumerate(self.columns):
            if len(column.atoms) == 1:
                out[:, j] = atoms[column.atoms[0]]
                continue
            np.multiply(atoms[column.atoms[0]], atoms[column.atoms[1]], out=out[:, j])
            for atom in column.atoms[2:]:
                out[:, j] *= atoms[atom]
        return out

    def column(self, values: Values, j: int) -> FloatArray:
        """Shape (n,): one column of the matrix."""
        out = np.ones(next(iter(values.values())).shape[0])
        for atom in self.columns[j].atoms:
            out = out * self._atom_values(atom, values[atom.variable])
        return np.asarray(out)

    def _atom_values(self, atom: Atom, values: FloatArray | IntArray) -> FloatArray:
        basis = self.bases[atom.variable]
        if isinstance(basis, NumberBasis):
            return basis.treated(np.asarray(values, dtype=np.float64))
        assert atom.comparison is not None
        coded: FloatArray = basis.codes[:, atom.comparison][values]
        return coded

    @property
    def roundings(self) -> FloatArray:
        """Shape (columns,): how far an entry of each column may be rounded, absolute."""
        out = np.empty(len(self.columns))
        for j, column in enumerate(self.columns):
            whole, exact = 1.0, 1.0
            for atom in column.atoms:
                basis = self.bases[atom.variable]
                if isinstance(basis, NumberBasis):
                    reach, rounding = basis.reach, basis.rounding
                else:
                    assert atom.comparison is not None
                    reach = float(np.abs(basis.codes[:, atom.comparison]).max())
                    rounding = 0.0 if reach == round(reach) else EPS * reach
                whole, exact = whole * (reach + rounding), exact * reach
            out[j] = (whole - exact) + EPS * exact * (len(column.atoms) - 1)
        return out

    def _factors(self, profile: Profile, along: Along | None) -> dict[Atom, Polynomial]:
        """Every atom at a profile as a polynomial in u, lowest power first."""
        found: dict[Atom, Polynomial] = {}
        for name, basis in self.bases.items():
            if isinstance(basis, GroupBasis):
                weights = profile.weights[name]
                values, sizes = weights @ basis.codes, np.abs(weights) @ np.abs(basis.codes)
                values[np.abs(values) <= CANCELLED * EPS * sizes] = 0.0
                for c, value in enumerate(values.tolist()):
                    found[Atom(name, c)] = (value,)
            elif along is not None and along.variable == name:
                found[Atom(name)] = (_treated(basis, along.middle), along.half / basis.scale)
            else:
                found[Atom(name)] = (_treated(basis, basis.axis.coordinate(profile.numbers[name])),)
        return found

    def rows(self, profile: Profile, along: Along | None = None, derive: str | None = None) -> FloatArray:
        """Shape (1 + columns, degree + 1): each column at the profile as a polynomial in u, the constant first.

        With `derive`, the derivative by that number, per treated unit. Without `along` there is one coefficient each.
        """
        return self._polynomials(self._factors(profile, along), derive)

    def rows_at_levels(
        self, profile: Profile, name: str, along: Along | None = None, derive: str | None = None
    ) -> FloatArray:
        """Shape (levels, 1 + columns, degree + 1): the rows with a group at each of its levels, the rest as in the
        profile."""
        basis = self.group(name)
        factors = self._factors(profile, along)
        for c in range(basis.codes.shape[1]):
            factors[Atom(name, c)] = (1.0,)
        out = np.repeat(self._polynomials(factors, derive)[None], len(basis.levels), axis=0)
        for j, column in enumerate(self.columns):
            for atom in column.atoms:
                if atom.variable == name:
                    out[:, j + 1] *= basis.codes[:, atom.comparison or 0, None]
        return out

    def _polynomials(self, factors: dict[Atom, Polynomial], derive: str | None) -> FloatArray:
        polynomials: list[Polynomial] = [(0.0 if derive or not self.constant else 1.0,)]
        for column in self.columns:
            if derive is None:
                polynomials.append(_product([factors[atom] for atom in column.atoms]))
                continue
            total: Polynomial = (0.0,)
            for i, atom in enumerate(column.atoms):
                if atom.variable == derive:
                    rest = column.atoms[:i] + column.atoms[i + 1 :]
                    total = _sum(total, _product([factors[other] for other in rest]))
            polynomials.append(total)
        width = max(len(p) for p in polynomials)
        if width == 1:
            return np.array(polynomials)
        return np.array([p + (0.0,) * (width - len(p)) for p in polynomials])

    def typical(self) -> Profile:
        """Numbers at their mean over the model's cases, groups at their shares."""
        numbers = {name: b.typical for name, b in self.bases.items() if isinstance(b, NumberBasis)}
        weights = {name: b.shares for name, b in self.bases.items() if isinstance(b, GroupBasis)}
        return Profile(numbers, weights)

    def standardized(self) -> Design:
        """The same columns with every number standardized over the model's cases, codes left as codes."""
        bases: dict[str, Basis] = {
            name: b.standardized() if isinstance(b, NumberBasis) else b for name, b in self.bases.items()
        }
        return Design(bases, self.columns, self.ends, self.constant)


def _treated(basis: NumberBasis, coordinate: float) -> float:
    """The treated value at a coordinate; 0 where it is no more than the rounding of a mean."""
    value = (coordinate - basis.center) / basis.scale
    return 0.0 if abs(value) <= CANCELLED * basis.rounding else value


def _product(factors: list[Polynomial]) -> Polynomial:
    out: Polynomial = (1.0,)
    for factor in factors:
        if len(factor) == 1:
            (value,) = factor
            if value == 0.0:
                return (0.0,)
            out = tuple(x * value for x in out)
        else:
            out = tuple(np.convolve(out, factor).tolist())
    return out


def _sum(a: Polynomial, b: Polynomial) -> Polynomial:
    if len(a) < len(b):
        a, b = b, a
    return tuple(x + (b[i] if i < len(b) else 0.0) for i, x in enumerate(a))


def design_of(study: Study, model: Model, cases: Cases) -> tuple[Design, Values]:
    """The design of a model over its cases, and the values it multiplies."""
    bases: dict[str, Basis] = {}
    values: dict[str, FloatArray | IntArray] = {}
    for name in variables_of(model.active_terms):
        if study.variable(name).kind is Kind.GROUP:
            values[name], bases[name] = positions_and_basis(study, model, name, cases)
        else:
            values[name], bases[name] = places_and_basis(study, model, name, cases)
    columns: list[ModelColumn] = []
    ends: list[int] = []
    for index, block in enumerate(model.steps):
        for term in block.terms:
            width = n_columns(term, bases)
            if len(columns) + width > MOST_COLUMNS:
                raise StudyError(
                    f"The model would have {len(columns) + width:,} columns or more; at "
                    f"most {MOST_COLUMNS:,} are possible."
                )
            columns.extend(term_columns(term, bases, index))
        ends.append(len(columns))
    return Design(bases, tuple(columns), tuple(ends), model.constant), values


def n_columns(term: Term, bases: Mapping[str, Basis]) -> int:
    """How many columns a term makes."""
    width = 1
    for name in term.variables:
        basis = bases[name]
        if isinstance(basis, GroupBasis):
            width *= basis.codes.shape[1]
    return width


def term_columns(term: Term, bases: Mapping[str, Basis], step: int) -> list[ModelColumn]:
    """The columns of a term: one for each combination of its groups' comparisons."""
    choices: list[list[Atom]] = []
    for name in term.variables:
        basis = bases[name]
        if isinstance(basis, GroupBasis):
            choices.append([Atom(name, c) for c in range(basis.codes.shape[1])])
        else:
            choices.append([Atom(name)])
    return [ModelColumn(term, atoms, step) for atoms in product(*choices)]
