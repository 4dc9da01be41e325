"""One model per group: the last step fitted in every level of a group, about the zero points of the whole sample."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from yellow_slope.core.arrays import BoolArray, IntArray
from yellow_slope.core.data.variable import Kind
from yellow_slope.core.errors import StudyError
from yellow_slope.core.fit.design.bases import positions_and_basis
from yellow_slope.core.fit.design.cases import Cases
from yellow_slope.core.fit.design.design import MOST_COLUMNS, Design, ModelColumn, Values, n_columns, term_columns
from yellow_slope.core.fit.fitted.evaluate import clusters_of
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.fit.fitted.inference import FTest, no_test
from yellow_slope.core.fit.fitted.steps import Resampling, StepResult, all_steps
from yellow_slope.core.fit.solve.why import Why
from yellow_slope.core.study.coding import LevelMeans
from yellow_slope.core.study.model import Model
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Block, Term
from yellow_slope.values import dataclass, replace

MOST_GROUPS = 30
"""More groups than these do not stand side by side."""


@dataclass(frozen=True, slots=True, eq=False)
class GroupFit:
    """The model in one level: its cases, and its fit or why there is none."""

    code: str
    n: int
    fit: Fit | None
    said: str = ""


@dataclass(frozen=True, slots=True, eq=False)
class ByGroup:
    """The same terms in every level, and the tests that they differ: those of the products with the group."""

    variable: str
    model: Model
    """The terms in one block, without the group: what every group's fit is a fit of."""
    dropped: tuple[Term, ...]
    """Terms of the model that hold the group itself and so cannot stand in its levels."""
    n_without: int
    """Cases of the model without a value on the group."""
    groups: tuple[GroupFit, ...]
    test: FTest
    """All products with the group together, in one model of all groups."""
    joint: Mapping[Term, FTest]
    """By term: the products of that term with the group."""


def by_group(study: Study, model: Model, fit: Fit) -> ByGroup:
    """The last step of a model in every level of `model.by`. StudyError where that cannot be.

    Numbers keep their centers and scales, groups their comparisons: those over all cases of the model.
    """
    assert model.by is not None
    variable = study.variable(model.by)
    name = variable.name
    if variable.kind is not Kind.GROUP:
        raise StudyError(f"{variable.label} is not a group: one model per group needs its levels.")
    if len(variable.levels) > MOST_GROUPS:
        raise StudyError(
            f"{variable.label} has {len(variable.levels)} levels; at most {MOST_GROUPS} models are shown side by side."
        )
    columns = tuple(replace(c, step=0) for c in fit.design.columns if name not in c.term.variables)
    terms = tuple(dict.fromkeys(c.term for c in columns))
    dropped = tuple(term for term in model.active_terms if name in term.variables)
    if not terms:
        raise StudyError(f"Every term of the model contains {variable.label} itself: there is nothing to compare.")
    places = study.columns.levels(name)[fit.cases.rows]
    used = dict.fromkeys(v for term in terms for v in term.variables)
    bases = {v: fit.design.bases[v] for v in used}
    values = {v: fit.values[v] for v in used}
    clusters = clusters_of(study, model, fit.cases)
    wait = Resampling(quick_only=fit.is_waiting)
    # Without the level means that made it the groups' models have a constant of their own.
    means = {v for v in (*used, name) if isinstance(model.coding(v), LevelMeans)}
    constant = model.constant or means == {name}
    design = Design(bases, columns, (len(columns),), constant)
    groups = tuple(
        _group(level.code, design, values, fit, model, clusters, places == i, wait)
        for i, level in enumerate(variable.levels)
        if np.any(places == i)
    )
    inner = replace(model, blocks=(Block(terms),), by=None, constant=constant)
    known = places >= 0
    whole = replace(model, constant=constant)
    test, joint = _tests(study, whole, fit, terms, columns, values, clusters, known, wait)
    return ByGroup(name, inner, dropped, int(np.sum(~known)), groups, test, joint)


def _group(
    code: str,
    design: Design,
    values: Values,
    fit: Fit,
    model: Model,
    clusters: IntArray | None,
    here: BoolArray,
    wait: Resampling,
) -> GroupFit:
    n = int(here.sum())
    y = fit.y[here]
    cases = replace(fit.cases, rows=fit.cases.rows[here])
    if n <= len(design.columns) + int(design.constant):
        return GroupFit(code, n, None, "too few cases")
    if float(y.max()) == float(y.min()):
        return GroupFit(code, n, None, "outcome the same for all")
    own = {name: column[here] for name, column in values.items()}
    ids = None if clusters is None else np.asarray(np.unique(clusters[here], return_inverse=True)[1], dtype=np.int64)
    if ids is not None and int(ids.max()) < 1:
        return GroupFit(code, n, None, "a single cluster")
    found, steps = all_steps(design, own, y, model.level, model.errors, ids, resampling=wait)
    if steps[-1].df < 1:
        return GroupFit(code, n, None, "too few cases")
    fitted = Fit(cases, design, own, y, found.factored, steps, model.errors, ids, found.resampled)
    return GroupFit(code, n, fitted)


def _tests(
    study: Study,
    model: Model,
    fit: Fit,
    terms: tuple[Term, ...],
    columns: tuple[ModelColumn, ...],
    values: Values,
    clusters: IntArray | None,
    known: BoolArray,
    wait: Resampling,
) -> tuple[FTest, Mapping[Term, FTest]]:
    """The products with the group in one model of all groups, together and by term."""
    name = model.by
    assert name is not None
    nothing = no_test(0, fit.last.df, Why.NO_CASES)
    cases: Cases = replace(fit.cases, rows=fit.cases.rows[known])
    plain = replace(model, entries={n: e for n, e in model.entries.items() if n != name})
    places, basis = positions_and_basis(study, plain, name, cases)
    if basis.codes.shape[1] == 0:
        return nothing, {}
    bases = {**{v: fit.design.bases[v] for v in values}, name: basis}
    own: Values = {**{v: column[known] for v, column in values.items()}, name: places}
    products = [Term((*term.variables, name)) for term in terms]
    if len(columns) + sum(n_columns(term, bases) for term in products) > MOST_COLUMNS:
        return nothing, {}
    # The groups' own levels of the outcome may differ: that is not the question. Without a constant there are none.
    main = tuple(term_columns(Term((name,)), bases, 0)) if model.constant else ()
    more = tuple(column for term in products for column in term_columns(term, bases, 1))
    design = Design(
        bases,
        (*columns, *main, *more),
        (len(columns) + len(main), len(columns) + len(main) + len(more)),
        model.constant,
    )
    ids = None if clusters is None else clusters[known]
    _, steps = all_steps(design, own, fit.y[known], model.level, model.errors, ids, resampling=wait)
    last = steps[-1]
    if last.df < 1:
        return nothing, {}
    joint = {term: _of_term(last.joint, design, product, last) for term, product in zip(terms, products)}
    return last.change.test, joint


def _of_term(joint: Mapping[Term, FTest], design: Design, product: Term, last: StepResult) -> FTest:
    """The joint test of a product; of one column its own."""
    if product in joint:
        return joint[product]
    rows = np.zeros((len(design.columns_of(product)), last.n_columns + 1))
    for i, j in enumerate(design.columns_of(product)):
        rows[i, j + 1] = 1.0
    return last.inference.test(rows)
