"""A fit: a model over its cases; or why there is none."""

from __future__ import annotations

import numpy as np

from yellow_slope.core.arrays import FloatArray, IntArray
from yellow_slope.core.fit.design.bases import Basis, GroupBasis
from yellow_slope.core.fit.design.cases import Cases
from yellow_slope.core.fit.design.codes import codes_of
from yellow_slope.core.fit.design.design import Design, Values
from yellow_slope.core.fit.fitted.steps import StepResult
from yellow_slope.core.fit.solve.factor import PIECE, Factorization, LeftOut
from yellow_slope.core.fit.solve.resampling import Resampled
from yellow_slope.core.fit.solve.why import Why
from yellow_slope.core.study.model import Model
from yellow_slope.core.study.standarderrors import Errors
from yellow_slope.values import dataclass, field, replace


@dataclass(frozen=True, slots=True, eq=False)
class Fit:
    """A model over its cases: design, factorization and all steps."""

    cases: Cases
    design: Design
    values: Values
    y: FloatArray
    """Shape (n,)."""
    factored: Factorization
    steps: tuple[StepResult, ...]
    errors: Errors
    clusters: IntArray | None = None
    """Shape (n,): positions of the cluster ids, where errors go by clusters."""
    resampled: Resampled | None = None
    """What the bootstrap gave; None without one, or where it is still to be drawn or cannot be."""
    _means: list[frozenset[int]] = field(default_factory=list, init=False, repr=False)
    """The columns that are levels of the outcome, once somebody asked."""

    @property
    def n_clusters(self) -> int | None:
        """How many clusters there are; None where errors do not go by any."""
        return None if self.clusters is None else int(self.clusters.max()) + 1

    @property
    def x(self) -> FloatArray:
        """Shape (n, columns): the model matrix, made anew each time."""
        return self.design.matrix(self.values)

    @property
    def last(self) -> StepResult:
        """The step that holds all blocks."""
        return self.steps[-1]

    @property
    def is_waiting(self) -> bool:
        """Whether its bootstrap is still to be drawn."""
        return self.last.inference.awaits is Why.RESAMPLING

    @property
    def left_out(self) -> tuple[LeftOut, ...]:
        """Columns that the model cannot hold."""
        return self.factored.left_out

    def means_columns(self) -> frozenset[int]:
        """Without a constant: columns of 0 and 1 that make one between them, so that the b of each is the level of the
        outcome where it is 1."""
        if not self._means:
            self._means.append(self._columns_of_means())
        return self._means[0]

    def _columns_of_means(self) -> frozenset[int]:
        m = self.factored.kept.size
        makes = self.factored.makes_constant(m)
        if not makes.any():
            return frozenset()
        weights = self.factored.constant_weights(m)[makes] / self.factored.lengths[makes]
        chosen = [int(j) for j in self.factored.kept[makes]]
        if not np.allclose(weights, 1.0, rtol=1e-9) or any(len(self.design.columns[j].atoms) > 1 for j in chosen):
            return frozenset()
        pieces = (self.design.matrix(self.values, i, i + PIECE)[:, chosen] for i in range(0, self.y.size, PIECE))
        return frozenset(chosen) if all(bool(np.all((x == 0) | (x == 1))) for x in pieces) else frozenset()

    def predicted(self, step: int) -> FloatArray:
        """Shape (n,): predicted outcome of a step."""
        result = self.steps[step]
        b = result.inference.solution
        parts = [
            self.design.matrix(self.values, start, start + PIECE)[:, : result.n_columns] @ b[1:] + b[0]
            for start in range(0, self.y.size, PIECE)
        ]
        return np.concatenate(parts)


@dataclass(frozen=True, slots=True, eq=False)
class Problem:
    """Why there is nothing to fit, in a sentence, and the cases there would be."""

    cases: Cases
    said: str


def named(fit: Fit, model: Model) -> Fit:
    """The fit with the names that the model gives its comparisons; no number changes. The same fit where all have
    them."""
    bases: dict[str, Basis] = {}
    for name, basis in fit.design.bases.items():
        if isinstance(basis, GroupBasis) and basis.coding != (coding := model.coding(name)):
            made = codes_of(coding, basis.levels, basis.counts)
            bases[name] = replace(basis, coding=coding, comparisons=made.comparisons, follows=made.follows)
    return replace(fit, design=replace(fit.design, bases={**fit.design.bases, **bases})) if bases else fit
