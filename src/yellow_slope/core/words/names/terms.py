"""Names of terms and columns, and of the factors of an equation."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from yellow_slope.core.data.variable import Kind, Variable
from yellow_slope.core.fit.design.bases import GroupBasis, NumberBasis
from yellow_slope.core.fit.design.design import Atom, ModelColumn
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.study.model import Model
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Term
from yellow_slope.core.study.treatment import At, Given, Transform, Treatment, WithinGroups
from yellow_slope.core.words.names.groups import comparison_name, level_label
from yellow_slope.core.words.names.numbers import transformed_name
from yellow_slope.core.words.spelling.numerals import MINUS, exact, listed, place_decimals, with_decimals

PLAIN = (Transform.REVERSE, Transform.SQUARE)
"""Transformations that a name carries so that it can be read before a ×."""
INTERCEPT = "intercept: the level at the zero points"


def label(study: Study, term: Term, model: Model | None = None) -> str:
    """The term in the study's words, its numbers as the model (None: the current one) transforms them: “practice ×
    coaching”, “log of practice”, “(log of practice) × worry”; a square is written “practice²”."""
    entries = (model or study.model).treatment
    return term.text(lambda name: factor_name(study.variable(name), entries(name), term))


def some_labels(study: Study, terms: Sequence[Term], most: int, model: Model | None = None) -> str:
    """The first of many terms, and how many more there are."""
    more = len(terms) - most
    return listed([*(label(study, t, model) for t in terms[:most]), *([f"{more:,} more"] if more > 0 else [])])


def factor_name(variable: Variable, treatment: Treatment, term: Term, short: bool = False) -> str:
    """A factor of a term with its transformations, in parentheses where the term would be read otherwise."""
    if variable.kind is not Kind.NUMBER or not treatment.transforms:
        return variable.short if short else variable.label
    name = transformed_name(variable, treatment, short)
    powered = term.variables.count(variable.name) > 1
    return f"({name})" if powered or (term.is_product and treatment.transforms[-1] not in PLAIN) else name


def labels_of(study: Study, terms: tuple[Term, ...]) -> str:
    """Several terms, as they stand in an edit's name."""
    return ", ".join(label(study, term) for term in terms)


def column_name(study: Study, fit: Fit, column: int) -> str:
    """A column's title, as in “practice × coaching: one-to-one vs none”."""
    if column < 0:
        return INTERCEPT
    model_column = fit.design.columns[column]
    title = fitted_label(study, fit, model_column.term)
    compared = comparisons_of(study, fit, model_column)
    return f"{title}: {', '.join(compared)}" if compared else title


def fitted_label(study: Study, fit: Fit, term: Term, short: bool = False) -> str:
    """The term as it was fitted."""

    def name_of(name: str) -> str:
        basis, variable = fit.design.bases.get(name), study.variable(name)
        treatment = basis.treatment if isinstance(basis, NumberBasis) else Treatment()
        return factor_name(variable, treatment, term, short)

    return term.text(name_of)


def comparisons_of(study: Study, fit: Fit, column: ModelColumn, short: bool = False) -> list[str]:
    """The names of the comparisons in a column; of a column that is a level's own mean the level."""
    compared = any(atom.comparison is not None for atom in column.atoms)
    means = fit.means_columns() if compared and not fit.design.constant else frozenset()
    if any(j in means and fit.design.columns[j] == column for j in fit.design.columns_of(column.term)):
        return [
            level_label(study, basis, _compared(basis, atom))
            for atom in column.atoms
            if isinstance(basis := fit.design.bases[atom.variable], GroupBasis)
        ]
    return [
        comparison_name(study, fit.design.group(atom.variable), atom.comparison, short)
        for atom in column.atoms
        if atom.comparison is not None
    ]


def _compared(basis: GroupBasis, atom: Atom) -> int:
    """The position of the level in which a column of 0 and 1 is 1."""
    return int(np.argmax(basis.codes[:, atom.comparison or 0]))


def short_column_name(study: Study, fit: Fit, column: int) -> str:
    """The comparisons of a column below the head of its set, or the term where it compares none."""
    model_column = fit.design.columns[column]
    return ", ".join(comparisons_of(study, fit, model_column, short=True)) or fitted_label(
        study, fit, model_column.term
    )


def brief_column_name(study: Study, fit: Fit, column: int) -> str:
    """A column's title with the short names of its variables and levels: “practice × boots: hard vs none”."""
    model_column = fit.design.columns[column]
    title = fitted_label(study, fit, model_column.term, short=True)
    compared = comparisons_of(study, fit, model_column, short=True)
    return f"{title}: {', '.join(compared)}" if compared else title


def atom_name(study: Study, fit: Fit, atom: Atom, more: int = 0) -> str:
    """A factor of a column in an equation. more: decimals of zero points and scales beyond the usual ones."""
    variable, basis = study.variable(atom.variable), fit.design.bases[atom.variable]
    if isinstance(basis, GroupBasis):
        assert atom.comparison is not None
        if basis.reference is not None:
            level = [i for i in range(len(basis.levels)) if i != basis.reference][atom.comparison]
            return f"[{variable.label}: {level_label(study, basis, level)}]"
        return f"[{variable.label}: {comparison_name(study, basis, atom.comparison)}]"
    name = transformed_name(variable, basis.treatment)
    if basis.is_within:
        assert isinstance(basis.treatment.zero, WithinGroups)
        name = f"({name} − its mean in the group of {study.variable(basis.treatment.zero.of).label})"
    if basis.center == 0 and basis.scale == 1:
        return name
    shifted = name
    if basis.center:
        center, _ = shift_texts(basis, more)
        shifted = f"({name} {'+' if basis.center < 0 else '−'} {center.removeprefix(MINUS)})"
    if basis.scale == 1:
        return shifted
    return f"({shifted}/{shift_texts(basis, more)[1]})"


def shift_texts(basis: NumberBasis, more: int = 0) -> tuple[str, str]:
    """The zero point and the scale of a number as an equation gives them: as they were typed, or with the decimals that
    places of the variable have, and so many more."""
    d = place_decimals(basis.axis_sd) + more
    typed = isinstance(basis.treatment.zero, At), isinstance(basis.treatment.scale, Given)
    center = exact(basis.center) if typed[0] else with_decimals(basis.center, d)
    return center, exact(basis.scale) if typed[1] else with_decimals(basis.scale, d)
