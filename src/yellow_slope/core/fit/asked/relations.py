"""What two models are to each other: twins (the same fit in another dress), one nested in the other, or neither."""

from __future__ import annotations

from enum import StrEnum

import numpy as np

from yellow_slope.core.arrays import FloatArray
from yellow_slope.core.fit.fitted.fit import Fit


class Relation(StrEnum):
    """The first model seen from the second."""

    TWINS = "twins"
    INSIDE = "nested in it"
    AROUND = "holds it"
    NEITHER = "neither"
    OTHER_CASES = "other cases"
    OTHER_OUTCOME = "another outcome"


def relation(one: Fit, other: Fit) -> Relation:
    """How the spaces of two last steps lie to each other; models of other cases or another outcome are not compared.

    The rest of each basis beyond the other's space decides: a cosine cannot resolve it.
    """
    if not np.array_equal(one.cases.rows, other.cases.rows):
        return Relation.OTHER_CASES
    if not np.array_equal(one.y, other.y):
        return Relation.OTHER_OUTCOME
    (q, condition), (p, other_condition) = _basis(one), _basis(other)
    slack = max(1e-7, 100 * np.finfo(float).eps * max(condition, other_condition))
    inside = _beyond(q, p) <= slack
    around = _beyond(p, q) <= slack
    if inside and around:
        return Relation.TWINS
    return Relation.INSIDE if inside else Relation.AROUND if around else Relation.NEITHER


def _basis(fit: Fit) -> tuple[FloatArray, float]:
    """Orthonormal columns (n, rank) that span a model's last step, and how ill its columns are conditioned."""
    end = fit.last.n_columns
    m = fit.factored.size(end)
    x = fit.x[:, fit.factored.kept[:m]]
    constant = fit.design.constant
    if constant:
        x = x - x.mean(axis=0)
    lengths = np.sqrt(np.einsum("ij,ij->j", x, x))
    q, r = np.linalg.qr(x / lengths) if m else (np.zeros((fit.y.size, 0)), np.zeros((0, 0)))
    condition = float(np.linalg.cond(r)) if m else 1.0
    if constant:
        q = np.column_stack([np.full(fit.y.size, 1.0 / np.sqrt(fit.y.size)), q])
    return q, condition


def restrictions(larger: Fit, smaller: Fit) -> FloatArray:
    """Shape (q, 1 + columns): combinations of the larger model's b that are 0 where its predictions lie in the
    smaller's space."""
    (q, _), (p, _) = _basis(larger), _basis(smaller)
    added = larger.last.rank - smaller.last.rank
    directions = np.linalg.svd(q - p @ (p.T @ q), full_matrices=False)[2][:added]
    x = larger.x[:, : larger.last.n_columns]
    constant = float(larger.design.constant)
    return np.asarray(directions @ (q.T @ np.column_stack([np.full(larger.y.size, constant), x])))


def _beyond(q: FloatArray, p: FloatArray) -> float:
    """The largest part of a direction in span q that lies outside span p."""
    rest = q - p @ (p.T @ q)
    return float(np.linalg.norm(rest, 2)) if rest.size else 0.0
