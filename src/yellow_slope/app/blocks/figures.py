"""The figures of an open step as texts, and how wide their columns are."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np
from PyQt6.QtGui import QFontMetrics

from yellow_slope.app.blocks.layout import Density
from yellow_slope.app.widgets.theme import font
from yellow_slope.core.fit.asked.collinearity import generalized_vif
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.fit.fitted.steps import Coefficient, StepResult
from yellow_slope.core.study.terms import Term
from yellow_slope.core.words.spelling.numerals import (
    bounded,
    estimate_decimals,
    fixed,
    interval,
    level_text,
    p_value,
    padded,
)
from yellow_slope.core.words.spelling.reasons import DASH

PAD = 8
SIZE = 12
MOST_MEASURED = 24
"""Of more columns the first and the largest are measured for all."""
MOST_DECIMALS = 150
"""Of more columns the decimals of the first serve for all."""


@dataclass(slots=True, eq=False)
class Figures:
    """The texts of one fit in one density."""

    fit: Fit
    density: Density
    widths: tuple[int, ...] = ()
    """Width of each figure's column: what its title and its longest text need."""
    _most: dict[int, int] = field(default_factory=dict)
    _gvif: dict[tuple[int, Term], float] = field(default_factory=dict)

    def __post_init__(self) -> None:
        bold, plain = QFontMetrics(font(SIZE, "bold")), QFontMetrics(font(SIZE))
        longest = [
            max(least, bold.horizontalAdvance(self.title(name)) + PAD + 4) for name, least in self.density.figures
        ]
        for step in self.fit.steps:
            for j in self._long_ones(step):
                for k, text in enumerate(self.texts(step, j)):
                    metrics = bold if self.density.figures[k][0] == "b" else plain
                    longest[k] = max(longest[k], metrics.horizontalAdvance(text) + PAD + 6)
        self.widths = tuple(longest)

    def _long_ones(self, step: StepResult) -> list[int]:
        """Columns among which are those with the longest texts: the first ones, and the largest of every figure."""
        first = -1 if self.fit.design.constant else 0
        found = set(range(first, min(step.n_columns, MOST_MEASURED)))
        sizes = (step.b, step.se, step.t, step.low, step.high, np.abs(step.low) + np.abs(step.high), step.vif)
        for values in sizes:
            known = np.where(np.isfinite(values), values, 0.0)
            found |= {int(np.argmax(known)) - 1, int(np.argmin(known)) - 1}
        return sorted(j for j in found if first <= j < step.n_columns)

    @property
    def width(self) -> int:
        """Of all together."""
        return sum(self.widths)

    def title(self, name: str) -> str:
        """What stands over a figure."""
        return f"{level_text(self.fit.last.level)} CI" if name == "CI" else name

    def texts(self, step: StepResult, column: int) -> list[str]:
        """The figures of a coefficient, a dash for what does not exist and nothing where there can be none."""
        found = step.coefficient(column)
        names = [name for name, _ in self.density.figures]
        if np.isnan(found.b):
            return [DASH if name == "b" else "" for name in names]
        decimals = decimals_of(step, column + 1)
        room = self._decimals(step) - decimals
        return [self._text(name, found, decimals, room) for name in names]

    def _text(self, name: str, c: Coefficient, decimals: int, room: int) -> str:
        if name == "b":
            return padded(fixed(c.b, decimals), room)
        if name == "CI":
            return DASH if c.why is not None else padded(interval(c.low, c.high, decimals), room)
        if name == "SE":
            return DASH if c.why is not None else padded(fixed(c.se, decimals), room)
        if name == "t":
            return DASH if c.why is not None else fixed(c.t, 2)
        if c.column < 0:  # the intercept has no β, shares no variance, and its p answers no question that was asked
            return ""
        if c.why is not None and name in ("β", "p"):
            return DASH
        if name == "p":
            return p_value(c.p)
        if name == "VIF":
            return fixed(c.vif, 1)
        if name == "tolerance":
            return bounded(1 / c.vif, 3) if c.vif > 0 else DASH
        semipartial = float(np.sign(c.partial_r) * np.sqrt(c.sr2))
        return bounded({"β": c.beta, "zero-order": c.r, "partial": c.partial_r, "semipartial": semipartial}[name], 2)

    def gvif(self, step: StepResult, term: Term) -> float:
        """Generalized variance inflation of a set, worked out once."""
        key = (step.index, term)
        if key not in self._gvif:
            self._gvif[key] = generalized_vif(self.fit, step.index, term)
        return self._gvif[key]

    def _decimals(self, step: StepResult) -> int:
        """Decimals of the coefficient that has most."""
        if step.index not in self._most:
            here = np.flatnonzero(np.isfinite(step.b))
            self._most[step.index] = max((decimals_of(step, int(i)) for i in here[:MOST_DECIMALS]), default=2)
        return self._most[step.index]


def decimals_of(step: StepResult, i: int) -> int:
    """Decimals of a coefficient of a step, the constant being 0."""
    return estimate_decimals(*(float(v[i]) for v in (step.se, step.b, step.low, step.high)))
