"""Numbers whose squares floating point can tell from zero and from infinity."""

from __future__ import annotations

import numpy as np

from yellow_slope.core.arrays import FloatArray
from yellow_slope.core.fit.design.bases import NumberBasis
from yellow_slope.core.fit.design.design import Design
from yellow_slope.core.study.study import Study

SMALLEST, LARGEST = 1e-140, 1e140


def out_of_reach(study: Study, design: Design, y: FloatArray, outcome: str) -> str:
    """What is wrong with the size of the outcome or of a column, in a sentence; empty if nothing is."""
    why = _why(float(np.abs(y).max()))
    if why:
        return f"{study.variable(outcome).label} {why}"
    for column in design.columns:
        bases = [design.bases[atom.variable] for atom in column.atoms]
        size = 1.0
        with np.errstate(over="ignore", under="ignore"):
            for basis in bases:
                size = float(np.multiply(size, basis.reach if isinstance(basis, NumberBasis) else 1.0))
        alive = all(basis.reach > 0 for basis in bases if isinstance(basis, NumberBasis))
        why = _why(size) if alive else ""
        if why:
            return f"{column.term.text(lambda name: study.variable(name).label)} {why}"
    return ""


def _why(size: float) -> str:
    if SMALLEST <= size <= LARGEST or size == 0.0:
        return ""
    if size > LARGEST:
        return f"runs up to {size:.0e}: squares of such numbers are too large to compute. Choose a larger unit."
    return f"nowhere exceeds {size:.0e}: squares of such numbers are too small to compute. Choose a smaller unit."
