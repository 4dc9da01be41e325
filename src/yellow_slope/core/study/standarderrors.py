"""The kind of standard errors, as a value. It never changes b, R² or its change."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Classical:
    """s² (X'X)⁻¹."""


@dataclass(frozen=True, slots=True)
class HC:
    """Heteroscedasticity-consistent, HC0 to HC4."""

    kind: int = 3


@dataclass(frozen=True, slots=True)
class Cluster:
    """Clustered by an id (CR1); tests use G - 1 degrees of freedom."""

    id: str


Errors = Classical | HC | Cluster
