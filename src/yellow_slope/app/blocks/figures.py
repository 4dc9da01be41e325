"""The figures of an open step as texts, and how wide their columns are."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from PyQt6.QtGui import QFont, QFontMetrics

from yellow_slope.app.blocks.layout import FIGURES
from yellow_slope.app.state.desk import Density
from yellow_slope.app.widgets.theme import font
from yellow_slope.core.fit.asked.collinearity import generalized_vif
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.fit.fitted.steps import StepResult
from yellow_slope.core.study.terms import Term
from yellow_slope.core.told.coefficients import CoefficientColumn
from yellow_slope.core.words.spelling.numerals import estimate_decimals, padded
from yellow_slope.values import dataclass, field

OF_ITS_DECIMALS = (CoefficientColumn.B, CoefficientColumn.INTERVAL, CoefficientColumn.SE)
"""What is written in the units of the coefficient, and so with its decimals."""
PAD = 8
SIZE = 12
MOST_MEASURED = 8
"""Of more columns the first and the largest are measured for all."""
MOST_STEPS = 24
"""Of more steps some are measured for all."""
ALIKE = str.maketrans("123456789", "000000000")
"""All digits of the font are of one width: texts that differ in their digits alone are measured once."""
MOST_DECIMALS = 150
"""Of more columns the decimals of the first serve for all."""


@dataclass(slots=True, eq=False)
class Figures:
    """The texts of one fit in one density."""

    fit: Fit
    density: Density
    widths: tuple[int, ...] = ()
    """Width of each figure's column: what its title and its longest text need."""
    _texts: dict[tuple[int, int], list[str]] = field(default_factory=dict)
    _most: dict[int, int] = field(default_factory=dict)
    _gvif: dict[tuple[int, Term], float] = field(default_factory=dict)

    def __post_init__(self) -> None:
        bold, plain = QFontMetrics(font(SIZE, "bold")), QFontMetrics(font(SIZE))
        longest = [max(least, bold.horizontalAdvance(self.title(figure)) + PAD + 4) for figure, least in self.figures]
        shapes: list[set[str]] = [set() for _ in self.figures]
        for step in self._telling_steps():
            for j in self._long_ones(step):
                for shape, text in zip(shapes, self.texts(step, j)):
                    shape.add(text.translate(ALIKE))
        for k, shape in enumerate(shapes):
            metrics = bold if self.figures[k][0] is CoefficientColumn.B else plain
            longest[k] = max(longest[k], *(metrics.horizontalAdvance(text) + PAD + 6 for text in shape), 0)
        self.widths = tuple(longest)

    def _telling_steps(self) -> list[StepResult]:
        """Of many steps those among which are the longest texts: the first, the last, and those of the largest
        figures."""
        steps = self.fit.steps
        if len(steps) <= MOST_STEPS:
            return list(steps)
        largest = [max(float(np.nanmax(np.abs(v), initial=0.0)) for v in (s.b, s.low, s.high, s.t)) for s in steps]
        smallest = [float(np.nanmin(s.se, initial=np.inf)) for s in steps]
        order = [*np.argsort(largest)[-MOST_STEPS // 3 :], *np.argsort(smallest)[: MOST_STEPS // 3], 0, len(steps) - 1]
        return [steps[i] for i in sorted({int(i) for i in order})]

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

    @property
    def figures(self) -> tuple[tuple[CoefficientColumn, int], ...]:
        """What is shown, with the least widths."""
        return FIGURES[self.density]

    def title(self, figure: CoefficientColumn) -> str:
        """What stands over a figure."""
        return figure.head(self.fit.last.level)

    def texts(self, step: StepResult, column: int) -> list[str]:
        """The figures of a coefficient, a dash for what does not exist and nothing where there can be none."""
        key = (step.index, column)
        if key not in self._texts:
            self._texts[key] = self._made(step, column)
        return self._texts[key]

    def placed(self, text: str, bold: bool) -> tuple[QFont, int, float]:
        """The face of a figure, its width, and how far its baseline lies below the middle of its line."""
        return _placed(text.translate(ALIKE), bold)

    def _made(self, step: StepResult, column: int) -> list[str]:
        found = step.coefficient(column)
        if np.isnan(found.b):
            return [figure.cell(found, 2).text for figure, _ in self.figures]
        decimals = decimals_of(step, column + 1)
        room, made = self._decimals(step) - decimals, []
        for figure, _ in self.figures:
            cell = figure.cell(found, decimals)
            made.append(padded(cell.text, room) if cell.numbers and figure in OF_ITS_DECIMALS else cell.text)
        return made

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


@lru_cache(maxsize=1024)
def _placed(shape: str, bold: bool) -> tuple[QFont, int, float]:
    face = font(SIZE, "bold" if bold else "normal")
    metrics = QFontMetrics(face)
    return face, metrics.horizontalAdvance(shape), metrics.ascent() - metrics.height() / 2


def decimals_of(step: StepResult, i: int) -> int:
    """Decimals of a coefficient of a step, the constant being 0."""
    return estimate_decimals(*(float(v[i]) for v in (step.se, step.b, step.low, step.high)))
