"""Names of terms and columns, and of the factors of an equation."""

from __future__ import annotations

from yellow_slope.core.fit.design.bases import GroupBasis, NumberBasis
from yellow_slope.core.fit.design.design import Atom, ModelColumn
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Term
from yellow_slope.core.study.treatment import At, Given, WithinGroups
from yellow_slope.core.words.names.groups import comparison_name, level_label
from yellow_slope.core.words.names.numbers import transformed_name
from yellow_slope.core.words.spelling.numerals import number_or_place, place

INTERCEPT = "intercept: the level at the zero points"


def label(study: Study, term: Term) -> str:
    """The term in the study's words, as in “practice × coaching”; a square is written “practice²”."""
    return term.text(lambda name: study.variable(name).label)


def labels_of(study: Study, terms: tuple[Term, ...]) -> str:
    """Several terms, as they stand in an edit's name."""
    return ", ".join(label(study, term) for term in terms)


def column_name(study: Study, fit: Fit, column: int) -> str:
    """A column's title, as in “practice × coaching: one-to-one vs none”."""
    if column < 0:
        return INTERCEPT
    model_column = fit.design.columns[column]
    title = label(study, model_column.term)
    compared = comparisons_of(study, fit, model_column)
    return f"{title}: {', '.join(compared)}" if compared else title


def comparisons_of(study: Study, fit: Fit, column: ModelColumn, short: bool = False) -> list[str]:
    """The names of the comparisons in a column."""
    return [
        comparison_name(study, fit.design.group(atom.variable), atom.comparison, short)
        for atom in column.atoms
        if atom.comparison is not None
    ]


def short_column_name(study: Study, fit: Fit, column: int) -> str:
    """The comparisons of a column below the head of its set, or the term where it compares none."""
    model_column = fit.design.columns[column]
    return ", ".join(comparisons_of(study, fit, model_column, short=True)) or label(study, model_column.term)


def brief_column_name(study: Study, fit: Fit, column: int) -> str:
    """A column's title with the short names of its variables and levels: “practice × boots: hard vs none”."""
    model_column = fit.design.columns[column]
    title = model_column.term.text(lambda name: study.variable(name).short)
    compared = comparisons_of(study, fit, model_column, short=True)
    return f"{title}: {', '.join(compared)}" if compared else title


def atom_name(study: Study, fit: Fit, atom: Atom) -> str:
    """A factor of a column in an equation."""
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
        shifted = f"({name} {'+' if basis.center < 0 else '−'} {_center_text(basis)})"
    if basis.scale == 1:
        return shifted
    typed = isinstance(basis.treatment.scale, Given)
    return f"({shifted}/{number_or_place(basis.scale) if typed else place(basis.scale, basis.axis_sd)})"


def _center_text(basis: NumberBasis) -> str:
    """The zero point without its sign: as it was typed, or with the decimals that places of the variable have."""
    if isinstance(basis.treatment.zero, At):
        return number_or_place(abs(basis.center))
    return place(abs(basis.center), basis.axis_sd)
