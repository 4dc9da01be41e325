"""The code card of a group: its levels, its comparisons with what they find, and how independent they are."""

from __future__ import annotations

import numpy as np

from yellow_slope.core.arrays import BoolArray, FloatArray, IntArray
from yellow_slope.core.errors import StudyError
from yellow_slope.core.fit.design.bases import GroupBasis
from yellow_slope.core.fit.design.codes import Comparison
from yellow_slope.core.fit.fitted.fit import Fit, Problem
from yellow_slope.core.fit.fitted.inference import ConditionalEffect, FTest, no_test
from yellow_slope.core.fit.solve.why import Why
from yellow_slope.core.groups.overview import alone, alone_model, rows_at_levels
from yellow_slope.core.study.model import Model
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Term
from yellow_slope.values import dataclass


@dataclass(frozen=True, slots=True, eq=False)
class CodeCard:
    """What the comparisons of a group find, in the model or, where the group is not in it, by itself."""

    variable: str
    model: Model
    """The model that is looked at: the current one, or the group alone."""
    fit: Fit
    step: int
    is_alone: bool
    """Whether the group stands in no term of its own in the model: it is then looked at without other predictors."""
    means: tuple[ConditionalEffect, ...]
    """The outcome at each level, partners of its products at their zero points."""
    comparisons: tuple[Comparison, ...]
    """Those that are coded, then those that follow from them and are tested only."""
    effects: tuple[ConditionalEffect, ...]
    correlations: FloatArray
    """Shape (m, m): how the estimates of the comparisons go together in these cases."""
    by_weights: BoolArray
    """Shape (m, m): whether two comparisons are independent by their weights alone."""
    joint: FTest
    """All coded comparisons together."""

    @property
    def basis(self) -> GroupBasis:
        """The group as it enters."""
        return self.fit.design.group(self.variable)

    @property
    def levels(self) -> tuple[str, ...]:
        """Codes of the levels present."""
        return self.basis.levels

    @property
    def counts(self) -> IntArray:
        """Cases per level."""
        return self.basis.counts

    @property
    def n_coded(self) -> int:
        """How many comparisons are coded; the others follow from them."""
        return len(self.basis.comparisons)


def code_card(study: Study, model: Model, name: str, fit: Fit | None, step: int | None = None) -> CodeCard:
    """The card of a group in a step of the model (None: the last). StudyError where there is nothing to show."""
    own = Term((name,))
    index, is_alone = 0, True
    used: Fit | None = None
    if fit is not None and fit.design.columns_of(own):
        home = model.step_of(own) or 0
        used, is_alone = fit, False
        index = max(home, len(fit.steps) - 1 if step is None else step)
    if used is None:
        found = alone(study, model, name, fit)
        if isinstance(found, Problem):
            raise StudyError(found.said)
        used, model = found, alone_model(study, model, name)
    basis, result = used.design.group(name), used.steps[index]
    rows = rows_at_levels(used, name, index)
    asked = (*basis.comparisons, *basis.follows)
    inference = result.inference
    g = np.stack([c.weights @ rows for c in asked]) if asked else np.zeros((0, rows.shape[1]))
    effects = tuple(inference.estimate(row, model.level) for row in g)
    spread = g @ inference.root
    lengths = np.sqrt(np.einsum("ij,ij->i", spread, spread))
    with np.errstate(divide="ignore", invalid="ignore"):
        r = np.clip(spread @ spread.T / np.outer(lengths, lengths), -1.0, 1.0)
    if inference.why is not None:
        r[:] = np.nan
    weights = np.array([c.weights for c in asked]).reshape(len(asked), -1)
    sizes = np.sqrt(np.einsum("ij,ij->i", weights, weights))
    apart = np.abs(weights @ weights.T) <= 1e-9 * np.outer(sizes, sizes)
    joint = result.joint.get(own)
    if joint is None:
        columns = used.design.columns_of(own)
        joint = (
            inference.test(np.eye(result.n_columns + 1)[[j + 1 for j in columns]])
            if columns
            else no_test(0, inference.df, Why.NOTHING)
        )
    return CodeCard(
        name,
        model,
        used,
        index,
        is_alone,
        tuple(inference.estimate(row, model.level) for row in rows),
        asked,
        effects,
        r,
        apart,
        joint,
    )
