"""The demo table read by the tests themselves, and least squares that shares no code with the product."""

from __future__ import annotations

import csv
from dataclasses import dataclass
from pathlib import Path

import mpmath
import numpy as np

from tests.support.oracle import t_p, t_quantile
from yellow_slope.demo.learners import TABLE


def raw(*names: str) -> dict[str, np.ndarray]:
    """The named columns over the cases complete on all of them."""
    with TABLE.open() as file:
        rows = list(csv.DictReader(file))
    kept = [row for row in rows if all(row[name] for name in names)]
    return {name: np.array([float(row[name]) for row in kept]) for name in names}


@dataclass
class Fitted:
    """b, covariance and df by the normal equations, in high precision."""

    b: list[mpmath.mpf]
    cov: mpmath.matrix
    df: int

    def effect(self, g: list[float]) -> tuple[float, float, float, float, float]:
        """Effect, SE, p, and the ends of the 95% interval."""
        row = mpmath.matrix([g])
        effect = sum((mpmath.mpf(x) * y for x, y in zip(g, self.b)), mpmath.mpf(0))
        se = mpmath.sqrt((row * self.cov * row.T)[0])
        half = t_quantile("0.95", self.df) * se
        return float(effect), float(se), float(t_p(effect / se, self.df)), float(effect - half), float(effect + half)


def fitted(y: np.ndarray, *columns: np.ndarray) -> Fitted:
    """Least squares with a constant."""
    rows = np.column_stack([np.ones(y.size), *columns])
    x = mpmath.matrix(rows.tolist())
    target = mpmath.matrix(y.tolist())
    inverse = (x.T * x) ** -1
    b = inverse * (x.T * target)
    rest = target - x * b
    df = y.size - rows.shape[1]
    return Fitted(list(b), inverse * ((rest.T * rest)[0] / df), df)


def plain_table(folder: Path, separator: str = ",", words: dict[str, dict[str, str]] | None = None) -> Path:
    """The demo's table alone in a folder: codes as they are and no description; some columns in words where asked."""
    with TABLE.open() as file:
        rows = list(csv.reader(file))
    for name, meanings in (words or {}).items():
        at = rows[0].index(name)
        for row in rows[1:]:
            row[at] = meanings.get(row[at], row[at])
    target = folder / "learners.csv"
    target.write_text("".join(separator.join(row) + "\n" for row in rows))
    return target
