"""Evaluation: everything that is shown of a study's models, as one pure function of the study.

A fit is remembered: a model whose facts and choices are as they were is not fitted again.
"""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from yellow_slope.core.arrays import IntArray
from yellow_slope.core.data.table import TextColumn
from yellow_slope.core.data.variable import Kind
from yellow_slope.core.errors import StudyError, YellowSlopeError
from yellow_slope.core.fit.design.cases import Cases, cases_of
from yellow_slope.core.fit.design.design import design_of
from yellow_slope.core.fit.design.reach import out_of_reach
from yellow_slope.core.fit.fitted.fit import Fit, Problem, named
from yellow_slope.core.fit.fitted.fitkey import FitKey, fit_key
from yellow_slope.core.fit.fitted.steps import NOW, Resampling, all_steps
from yellow_slope.core.study.checks import Checks
from yellow_slope.core.study.coding import LevelMeans
from yellow_slope.core.study.model import Model
from yellow_slope.core.study.probe import Probe
from yellow_slope.core.study.standarderrors import cluster_id
from yellow_slope.core.study.study import Study
from yellow_slope.values import dataclass, field, replace

FEWEST = 3


@dataclass(frozen=True, slots=True, eq=False)
class Evaluation:
    """The results of a study's models."""

    study: Study
    fits: Mapping[str, Fit | Problem]
    _keys: Mapping[str, FitKey] = field(default_factory=dict, repr=False)

    def of(self, model_id: str | None = None) -> Fit | Problem:
        """The fit of a model, or why there is none; None: the current model."""
        return self.fits[self.study.model_of(model_id).id]

    @property
    def fit(self) -> Fit | None:
        """The fit of the current model; None while there is nothing to fit."""
        found = self.of()
        return found if isinstance(found, Fit) else None

    @property
    def problem(self) -> str:
        """Why the current model has no fit; empty if it has one."""
        found = self.of()
        return found.said if isinstance(found, Problem) else ""

    @property
    def cases(self) -> Cases:
        """The current model's cases."""
        return self.of().cases

    def modelled(self, probes: tuple[Probe, ...] = (), checks: Checks = Checks()) -> Evaluation:
        """The results with a study that holds nothing but what they rest on, and probes and checks as given."""
        return replace(self, study=self.study.modelled(probes, checks))


def evaluate(study: Study, before: Evaluation | None = None, resampling: Resampling = NOW) -> Evaluation:
    """Compute all models of a study. Pure: the same study gives the same evaluation.

    `before`: an earlier evaluation, whose fits are taken over where nothing that concerns them has changed.
    `resampling`: whether bootstraps that take a while are drawn now.
    """
    fits: dict[str, Fit | Problem] = {}
    keys: dict[str, FitKey] = {}
    for model in study.models:
        key = fit_key(study, model)
        known = before is not None and model.id in before.fits and before.study.table is study.table
        keys[model.id] = key
        old = before.fits[model.id] if before is not None and known and before._keys.get(model.id) == key else None
        if old is None or (isinstance(old, Fit) and old.is_waiting and not resampling.quick_only):
            old = evaluate_model(study, model, resampling)
        fits[model.id] = named(old, model) if isinstance(old, Fit) else old
    return Evaluation(study, fits, keys)


def evaluate_model(study: Study, model: Model, resampling: Resampling = NOW) -> Fit | Problem:
    """The fit of one model, or why there is none."""
    nothing = Cases(study.table.n_rows, 0, 0, np.arange(study.table.n_rows, dtype=np.int64), ())
    try:
        cases = cases_of(study, model)
    except YellowSlopeError as error:
        return Problem(nothing, str(error))
    if model.outcome is None:
        return Problem(cases, "Choose an outcome.")
    if not model.steps:
        said = "Every block is switched off." if model.blocks else "No term has been entered yet."
        return Problem(cases, said)
    if cases.n < FEWEST:
        n = cases.n_table - cases.n_outside - cases.n_aside
        if n == 0 and cases.n_table > 0:
            return Problem(cases, "No case of the table is in the sample.")
        said = f"Only {cases.n} of {n} cases have a value on every variable of the model."
        return Problem(cases, said)
    try:
        return fitted(study, model, cases, resampling)
    except YellowSlopeError as error:
        return Problem(cases, str(error))


def fitted(study: Study, model: Model, cases: Cases, resampling: Resampling = NOW) -> Fit | Problem:
    """The fit of a model over given cases, or why there is none. StudyError where the model cannot be."""
    assert model.outcome is not None
    outcome = study.variable(model.outcome)
    if model.constant:
        for name in model.variables:
            if isinstance(model.entries.get(name), LevelMeans) and study.variable(name).kind is Kind.GROUP:
                raise StudyError(
                    f"{study.variable(name).label} has a column for every level, which "
                    "is redundant with the intercept. Remove the intercept, or choose "
                    "comparisons."
                )
    design, values = design_of(study, model, cases)
    numbers = study.columns.numbers(outcome.name)
    y = numbers if cases.is_whole else numbers[cases.rows]
    said = out_of_reach(study, design, y, outcome.name)
    if said:
        return Problem(cases, said)
    if float(y.max()) == float(y.min()):
        return Problem(
            cases, f"{outcome.label} is the same for all {cases.n} cases of the model: there is nothing to explain."
        )
    if not design.columns:
        return Problem(cases, "Every group in the model has only one level among its cases.")
    first_out = frozenset(j for term in model.leave_out_first for j in design.columns_of(term))
    clusters = clusters_of(study, model, cases)
    found, steps = all_steps(design, values, y, model.level, model.errors, clusters, first_out, resampling)
    if steps[-1].df < 1:
        said = (
            f"The model estimates {steps[-1].rank} coefficients from {cases.n} cases: no "
            "degrees of freedom are left. Remove terms."
        )
        return Problem(cases, said)
    n_clusters = None if clusters is None else int(clusters.max()) + 1
    if n_clusters is not None and n_clusters < 2:
        raise StudyError("All cases of the model belong to one cluster; clustered errors need two or more.")
    return Fit(cases, design, values, y, found.factored, steps, model.errors, clusters, found.resampled)


def clusters_of(study: Study, model: Model, cases: Cases) -> IntArray | None:
    """Shape (n,): positions of the cluster ids of the model's cases."""
    name = cluster_id(model.errors)
    if name is None:
        return None
    variable = study.variable(name)
    if variable.kind is Kind.GROUP:
        ids: np.ndarray = study.columns.levels(name)[cases.rows]
    elif study.columns.is_numeric(name):
        ids = study.columns.numbers(name)[cases.rows]
    else:
        column = study.table.column(name)
        assert isinstance(column, TextColumn)
        ids = column.codes[cases.rows]
    return np.asarray(np.unique(ids, return_inverse=True)[1], dtype=np.int64)
