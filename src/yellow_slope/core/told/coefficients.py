"""A coefficient in numbers: what stands beside its name in the ladder, in printed tables and in files of them."""

from __future__ import annotations

import math
from collections.abc import Mapping
from enum import Enum, auto
from types import MappingProxyType
from typing import assert_never

import numpy as np

from yellow_slope.core.fit.fitted.steps import Coefficient
from yellow_slope.core.study.report import CoefficientFigure, ReportChoice
from yellow_slope.core.told.cells import BLANK, NOTHING, PLAIN, Cell, between, bounded_cell, estimate, p_cell, statistic
from yellow_slope.core.words.spelling.numerals import level_text


class CoefficientColumn(Enum):
    """What is told of a coefficient."""

    B = auto()
    SE = auto()
    INTERVAL = auto()
    BETA = auto()
    T = auto()
    P = auto()
    SR2 = auto()
    VIF = auto()
    TOLERANCE = auto()
    ZERO_ORDER = auto()
    PARTIAL = auto()
    SEMIPARTIAL = auto()

    def head(self, level: float) -> str:
        """What stands over it."""
        match self:
            case CoefficientColumn.B:
                return "b"
            case CoefficientColumn.SE:
                return "SE"
            case CoefficientColumn.INTERVAL:
                return f"{level_text(level)} CI"
            case CoefficientColumn.BETA:
                return "β"
            case CoefficientColumn.T:
                return "t"
            case CoefficientColumn.P:
                return "p"
            case CoefficientColumn.SR2:
                return "sr²"
            case CoefficientColumn.VIF:
                return "VIF"
            case CoefficientColumn.TOLERANCE:
                return "tolerance"
            case CoefficientColumn.ZERO_ORDER:
                return "zero-order"
            case CoefficientColumn.PARTIAL:
                return "partial"
            case CoefficientColumn.SEMIPARTIAL:
                return "semipartial"
            case _:
                assert_never(self)

    def cell(self, c: Coefficient, decimals: int, choice: ReportChoice = PLAIN) -> Cell:
        """Its number; a dash where there is none, nothing where there can be none: the intercept has no β, shares no
        variance, and its p answers no question that was asked. choice: whether estimates are marked by their p."""
        of_intercept = c.column < 0
        match self:
            case CoefficientColumn.B:
                return (
                    NOTHING if math.isnan(c.b) else estimate(c.b, decimals, math.nan if of_intercept else c.p, choice)
                )
            case _ if math.isnan(c.b):
                return BLANK
            case CoefficientColumn.INTERVAL:
                return NOTHING if c.why is not None else between(c.low, c.high, decimals)
            case CoefficientColumn.SE:
                return NOTHING if c.why is not None else estimate(c.se, decimals)
            case CoefficientColumn.T:
                return NOTHING if c.why is not None else statistic(c.t)
            case _ if of_intercept:
                return BLANK
            case CoefficientColumn.BETA:
                return NOTHING if c.why is not None else bounded_cell(c.beta, 2)
            case CoefficientColumn.P:
                return NOTHING if c.why is not None else p_cell(c.p)
            case CoefficientColumn.SR2:
                return bounded_cell(c.sr2)
            case CoefficientColumn.VIF:
                return statistic(c.vif, 1)
            case CoefficientColumn.TOLERANCE:
                return bounded_cell(1 / c.vif) if c.vif > 0 else NOTHING
            case CoefficientColumn.ZERO_ORDER:
                return bounded_cell(c.r, 2)
            case CoefficientColumn.PARTIAL:
                return bounded_cell(c.partial_r, 2)
            case CoefficientColumn.SEMIPARTIAL:
                return bounded_cell(float(np.sign(c.partial_r) * np.sqrt(c.sr2)), 2)
            case _:
                assert_never(self)


CHOSEN: Mapping[CoefficientFigure, CoefficientColumn] = MappingProxyType(
    {
        CoefficientFigure.INTERVAL: CoefficientColumn.INTERVAL,
        CoefficientFigure.SE: CoefficientColumn.SE,
        CoefficientFigure.BETA: CoefficientColumn.BETA,
        CoefficientFigure.T: CoefficientColumn.T,
        CoefficientFigure.P: CoefficientColumn.P,
        CoefficientFigure.SR2: CoefficientColumn.SR2,
        CoefficientFigure.VIF: CoefficientColumn.VIF,
    }
)
"""What the report prints of a coefficient where it was chosen."""
