"""A model in numbers: a row of a printed table, a column of models side by side."""

from __future__ import annotations

from enum import Enum, auto
from typing import assert_never

from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.told.cells import Cell, bounded_cell, count, statistic


class ModelFigure(Enum):
    """What is told of the last step of a model."""

    CASES = auto()
    COLUMNS = auto()
    R2 = auto()
    ADJUSTED = auto()
    AIC = auto()
    BIC = auto()

    @property
    def head(self) -> str:
        """What stands over it, or beside it."""
        match self:
            case ModelFigure.CASES:
                return "n"
            case ModelFigure.COLUMNS:
                return "columns"
            case ModelFigure.R2:
                return "R²"
            case ModelFigure.ADJUSTED:
                return "adjusted R²"
            case ModelFigure.AIC:
                return "AIC"
            case ModelFigure.BIC:
                return "BIC"
            case _:
                assert_never(self)

    def cell(self, fit: Fit) -> Cell:
        """Its number."""
        last = fit.last
        match self:
            case ModelFigure.CASES:
                return count(fit.cases.n)
            case ModelFigure.COLUMNS:
                return count(last.rank - int(fit.design.constant))
            case ModelFigure.R2:
                return bounded_cell(last.r2)
            case ModelFigure.ADJUSTED:
                return bounded_cell(last.adjusted_r2)
            case ModelFigure.AIC:
                return statistic(last.aic, 1)
            case ModelFigure.BIC:
                return statistic(last.bic, 1)
            case _:
                assert_never(self)
