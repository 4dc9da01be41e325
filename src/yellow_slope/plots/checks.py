"""Plots of a diagnosis, each answering a question: is the spread even, are the residuals normal."""

from __future__ import annotations

from enum import Enum, auto
from typing import assert_never

import numpy as np

from yellow_slope.core.arrays import FloatArray
from yellow_slope.core.fit.asked.diagnosis import Diagnosis, running_median
from yellow_slope.core.words.spelling.numerals import fixed
from yellow_slope.plots.axes import Scale, axes, ground, level_line, span
from yellow_slope.plots.drawncases import MOST, drawn_cases, undrawn_note
from yellow_slope.plots.look import Look
from yellow_slope.plots.marks import (
    Box,
    Frame,
    Ink,
    Line,
    Mark,
    OfCases,
    Page,
    Pane,
    Part,
    Plot,
    Points,
    Shape,
    page_of,
)
from yellow_slope.plots.scales import AxisTitle

FAR = 3.0
"""Studentized residuals beyond this are marked."""
LEVELS = (-2.0, 2.0)
LEAST_FOR_A_TREND = 30


class Check(Enum):
    """What a plot of a diagnosis answers."""

    SPREAD = auto()
    NORMAL = auto()

    @property
    def question(self) -> str:
        """The question in words."""
        match self:
            case Check.SPREAD:
                return "Is the spread even?"
            case Check.NORMAL:
                return "Are the residuals normal?"
            case _:
                assert_never(self)

    @property
    def advice(self) -> str:
        """What to look for."""
        match self:
            case Check.SPREAD:
                return "Points should form a band of even height; the yellow lines follow its typical half-height."
            case Check.NORMAL:
                return "Points should follow the line; ends that leave it are heavier or lighter tails."
            case _:
                assert_never(self)


def along(check: Check, found: Diagnosis) -> FloatArray:
    """Shape (n,): what the residuals are drawn along."""
    match check:
        case Check.SPREAD:
            return found.predicted
        case Check.NORMAL:
            return found.normal
        case _:
            assert_never(check)


def _below(check: Check, outcome: AxisTitle) -> AxisTitle:
    """What stands below the plot."""
    match check:
        case Check.SPREAD:
            return outcome
        case Check.NORMAL:
            return AxisTitle("expected of a normal distribution", "expected", "(SD)")
        case _:
            assert_never(check)


def can_be_drawn(check: Check, found: Diagnosis) -> bool:
    """Whether there are two residuals to be drawn."""
    return int(np.sum(np.isfinite(along(check, found)) & np.isfinite(found.studentized))) >= 2


def check_page(
    check: Check, found: Diagnosis, outcome: AxisTitle, look: Look, width: float, height: float, small: bool = False
) -> Page:
    """The plot on a page. small: without titles, for a plot beside others."""
    room = Box(0.0, 0.0, width, height)
    xs, ys = along(check, found), found.studentized
    there = np.isfinite(xs) & np.isfinite(ys)
    low, high = span(float(xs[there].min()), float(xs[there].max()), 0.03)
    reach = max(3.2, float(np.abs(ys[there]).max()) * 1.06)
    x = Scale(low, high, None if small else _below(check, outcome))
    y = Scale(-reach, reach, None if small else AxisTitle("studentized residual"))
    made = axes(look, room, x, y, Pane.CHECK, look.of(10), look.of(6 if int(there.sum()) <= MOST else 12))
    frame = made.frame
    marks: list[Mark] = [ground(look, room)]
    for level in LEVELS:
        marks.append(Line(level_line(frame, level), look.ink(look.palette.line, 0.7), Part.REFERENCE))
    marks += _expected(check, look, frame, reach)
    cases = np.flatnonzero(there)
    far = np.abs(ys[cases]) > FAR
    size = look.of(2.3 if small else 3.9)
    near, beyond = drawn_cases(cases[~far]), drawn_cases(cases[far])
    marks.append(
        Points(frame.at(xs[near], ys[near]), Shape.CIRCLE, size, look.palette.ink, OfCases(near), 0.42, clip=room)
    )
    marks += _seen(check, look, frame, xs, ys)
    edge = Ink(look.palette.ink, look.of(0.7))
    marks.append(
        Points(
            frame.at(xs[beyond], ys[beyond]), Shape.CIRCLE, 1.5 * size, look.palette.yellow, OfCases(beyond), edge=edge
        )
    )
    marks += made.marks
    marks += undrawn_note(look, frame.area, near.size + beyond.size, cases.size) if not small else []
    return page_of(width, height, [Plot((frame,), tuple(marks))])


def _expected(check: Check, look: Look, frame: Frame, reach: float) -> list[Mark]:
    """Where the points would lie: on 0, or on the line of a normal distribution."""
    ink = look.ink(look.palette.ink, 0.9)
    match check:
        case Check.SPREAD:
            return [Line(level_line(frame, 0.0), ink, Part.REFERENCE)]
        case Check.NORMAL:
            low, high = max(frame.x[0], -reach), min(frame.x[1], reach)
            return [Line(frame.at([low, high], [low, high]), ink, Part.REFERENCE, frame.area)]
        case _:
            assert_never(check)


def _seen(check: Check, look: Look, frame: Frame, xs: FloatArray, ys: FloatArray) -> list[Mark]:
    """What the points themselves say, over them: the running height of the band."""
    match check:
        case Check.SPREAD:
            enough = int(np.sum(np.isfinite(xs) & np.isfinite(ys))) > LEAST_FOR_A_TREND
            return _trend(look, frame, xs, ys) if enough else []
        case Check.NORMAL:
            return []
        case _:
            assert_never(check)


def _trend(look: Look, frame: Frame, xs: FloatArray, ys: FloatArray) -> list[Mark]:
    """The typical half-height of the band, above and below."""
    centers, medians = running_median(xs, np.abs(ys))
    marks: list[Mark] = []
    for sign in (-1.0, 1.0):
        points = frame.at(centers, sign * medians)
        marks.append(Line(points, look.ink(look.palette.amber_ink, 2.2), Part.TREND))
        marks.append(Line(points, look.ink(look.palette.yellow, 1.2), Part.TREND))
    return marks


def residual_words(found: Diagnosis, row: int, case: int) -> str:
    """“Row 12: predicted 48.2, studentized residual −3.10”. row: counted from 0 in the table."""
    predicted, residual = fixed(float(found.predicted[case]), 1), fixed(float(found.studentized[case]), 2)
    return f"Row {row + 1}: predicted {predicted}, studentized residual {residual}"
