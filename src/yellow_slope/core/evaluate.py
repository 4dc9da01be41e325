"""Evaluation: everything that is shown of a study's model, as one pure function of the study."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from yellow_slope.core.design import Design, design_of
from yellow_slope.core.estimate import Factorization, LeftOut
from yellow_slope.core.sample import Sample, model_sample
from yellow_slope.core.steps import StepResult, all_steps
from yellow_slope.core.study import Study
from yellow_slope.core.table import FloatArray, IntArray
from yellow_slope.core.variable import numeric_values


@dataclass(frozen=True, slots=True, eq=False)
class Fit:
    """The model over its cases: design, matrix, factorization and all steps."""

    design: Design
    values: Mapping[str, FloatArray | IntArray]
    x: FloatArray
    """Shape (n, columns)."""
    y: FloatArray
    """Shape (n,)."""
    factored: Factorization
    steps: tuple[StepResult, ...]

    @property
    def last(self) -> StepResult:
        """The step that holds all blocks."""
        return self.steps[-1]

    @property
    def left_out(self) -> tuple[LeftOut, ...]:
        """Columns that the model cannot hold."""
        return self.factored.left_out

    def predicted(self, step: int) -> FloatArray:
        """Shape (n,): predicted outcome of a step."""
        result = self.steps[step]
        b = np.nan_to_num(result.b)
        predicted: FloatArray = self.x[:, : result.n_columns] @ b[1:] + b[0]
        return predicted


@dataclass(frozen=True, slots=True, eq=False)
class Evaluation:
    """A study's results. `fit` is None while there is nothing to fit; `problem` then says why."""

    study: Study
    sample: Sample
    fit: Fit | None
    problem: str = ""


def evaluate(study: Study) -> Evaluation:
    """Compute the model of a study. Pure: the same study gives the same evaluation."""
    sample = model_sample(study)
    if study.outcome is None:
        return Evaluation(study, sample, None, "Choose an outcome.")
    outcome = study.variable(study.outcome)
    if not study.blocks:
        return Evaluation(study, sample, None, "No term has been entered yet.")
    if sample.n < 3:
        said = f"Only {sample.n} of {sample.n_table} cases have a value on every variable of the model."
        return Evaluation(study, sample, None, said)
    design, values = design_of(study, sample)
    y = numeric_values(study.table.column(outcome.name), outcome)[sample.rows]
    if np.ptp(y) == 0:
        said = f"{outcome.label} is the same for all {sample.n} cases of the model: there is nothing to explain."
        return Evaluation(study, sample, None, said)
    if not design.columns:
        return Evaluation(study, sample, None, "Every group in the model has but one level among its cases.")
    x = design.matrix(values)
    first_out = frozenset(j for term in study.first_out for j in design.columns_of(term))
    factored, steps = all_steps(design, values, x, y, study.level, first_out)
    if steps[-1].df < 1:
        said = (
            f"The model estimates {steps[-1].rank} coefficients from {sample.n} cases: "
            "no case is left to judge them by. Take terms out."
        )
        return Evaluation(study, sample, None, said)
    return Evaluation(study, sample, Fit(design, values, x, y, factored, steps))
