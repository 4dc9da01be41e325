"""The variables of a model in numbers: mean, SD, least and largest, and their correlations."""

from __future__ import annotations

import math
from typing import assert_never

from yellow_slope.core.fit.asked.describe import Described, correlation_interval
from yellow_slope.core.study.report import BesideCorrelation, ReportChoice
from yellow_slope.core.study.study import Study
from yellow_slope.core.told.cells import PLAIN, Cell, Role, bounded_cell, bounds, estimate, mark_of
from yellow_slope.core.words.spelling.numerals import bounded, p_relation, place_decimals
from yellow_slope.values import dataclass


def described_names(study: Study, found: Described) -> list[str]:
    """What each column is called: its variable, of an indicator with its level."""
    return [
        study.variable(name).label + (f": {study.variable(name).level(code).label}" if code is not None else "")
        for name, code in found.columns
    ]


def moment_cells(found: Described, i: int, choice: ReportChoice = PLAIN) -> tuple[Cell, Cell, Cell, Cell]:
    """Mean, SD, least and largest of a column; of an indicator its share, without the zero that it always has."""
    mean, sd = float(found.mean[i]), float(found.sd[i])
    ends = float(found.low[i]), float(found.high[i])
    if found.columns[i][1] is not None:
        decimals = max(choice.decimals, 3 if min(mean, 1.0 - mean) < 0.005 else 2)
        return bounded_cell(mean, decimals), bounded_cell(sd, decimals), estimate(ends[0], 0), estimate(ends[1], 0)
    decimals = max(choice.decimals, place_decimals(sd))
    return estimate(mean, decimals), estimate(sd, decimals), estimate(ends[0], decimals), estimate(ends[1], decimals)


@dataclass(frozen=True, slots=True)
class Correlation:
    """A correlation with its p, unadjusted, and the ends of its interval; NaN where they do not exist."""

    r: float
    p: float
    low: float
    high: float

    def cell(self, beside: BesideCorrelation = BesideCorrelation.NOTHING, choice: ReportChoice = PLAIN) -> Cell:
        """The correlation, marked by its p where that was chosen, with what stands beside it."""
        text, numbers = f"{bounded(self.r, 2)}{mark_of(self.p, choice)}", (self.r,)
        match beside:
            case BesideCorrelation.P:
                if not math.isnan(self.p):
                    return Cell(f"{text}, p {p_relation(self.p)}", numbers=(*numbers, self.p), role=Role.BOUNDED)
            case BesideCorrelation.INTERVAL:
                if not math.isnan(self.low):
                    ends = (self.low, self.high)
                    return Cell(f"{text} ({self.interval.text})", numbers=(*numbers, *ends), role=Role.BOUNDED)
            case BesideCorrelation.NOTHING:
                pass
            case _:
                assert_never(beside)
        return Cell(text, numbers=numbers, role=Role.BOUNDED)

    @property
    def interval(self) -> Cell:
        """Its interval, by Fisher's z."""
        return bounds(self.low, self.high, 2)


def correlations(found: Described, level: float) -> list[list[Correlation]]:
    """Those of each column with the columns before it."""
    low, high = correlation_interval(found.r, found.n, level)
    return [
        [Correlation(*(float(m[i, j]) for m in (found.r, found.p, low, high))) for j in range(i)]
        for i in range(len(found.columns))
    ]
