"""Plots of the waypoint Checks, each answering a question: scatters of the cases, the effect in thirds, bars of
overlap."""

from __future__ import annotations

from typing import assert_never

import numpy as np

from yellow_slope.core.arrays import BoolArray, FloatArray, IntArray
from yellow_slope.core.fit.asked.diagnosis import normal_quantiles, running_median
from yellow_slope.core.fit.design.bases import GroupBasis
from yellow_slope.core.fit.solve.scipylater import special
from yellow_slope.core.stand.checked import Checked
from yellow_slope.core.stand.standing import Stand
from yellow_slope.core.study.checks import Check, FarBy
from yellow_slope.core.study.figures import Pane
from yellow_slope.core.words.names.groups import plain_level
from yellow_slope.core.words.names.terms import column_name, label
from yellow_slope.core.words.sentences.checks import asked_label
from yellow_slope.core.words.sentences.rivals import far_name
from yellow_slope.core.words.spelling.numerals import counted, fixed, number_or_place
from yellow_slope.looks import group_hue
from yellow_slope.plots.axes import Scale, axes, ground, level_line, span, upright_line
from yellow_slope.plots.density import density_marks
from yellow_slope.plots.drawncases import MOST
from yellow_slope.plots.look import Look
from yellow_slope.plots.marks import (
    Area,
    Box,
    Frame,
    Ink,
    Line,
    Mark,
    OfCases,
    OfPlace,
    Page,
    Part,
    Plot,
    Points,
    Rect,
    Rects,
    Shape,
    Text,
    page_of,
)
from yellow_slope.plots.measuring import ASCENT, DESCENT, text_width
from yellow_slope.plots.nulls import fill
from yellow_slope.plots.placing import fitted_names
from yellow_slope.plots.rivals import small_stand
from yellow_slope.plots.scales import AxisTitle
from yellow_slope.plots.titles import number_title, outcome_title, slope_title
from yellow_slope.values import dataclass, field

LEVELS = (-2.0, 2.0)
LEAST_FOR_A_TREND = 30
MOST_BARS = 40
CURVE = 60
BARS = 30
MANY_FAR = 400
"""More cases beyond a cut-off are drawn smaller."""


@dataclass(frozen=True, slots=True, eq=False)
class Scatter:
    """A plot with a point for each case. Arrays (n,) over the model's cases, (m,) over those set aside."""

    x: FloatArray
    y: FloatArray
    x_title: AxisTitle
    y_title: AxisTitle
    aside_x: FloatArray
    aside_y: FloatArray
    far: BoolArray
    """Cases beyond the cut-off: always drawn, and marked."""
    names: tuple[tuple[float, str], ...] = ()
    """Of groups, where they stand along x."""
    around_zero: bool = False
    """Whether the y axis reaches as far below zero as above."""
    from_zero: bool = False
    of_residuals: bool = False
    """Whether the y axis shows studentized residuals: it reaches as far as where they count as large."""
    levels: tuple[float, ...] = ()
    """Lines across."""
    beyond: tuple[tuple[float, str], ...] = field(default=())
    """Cut-offs across, each with its name."""

    @property
    def there(self) -> BoolArray:
        """Cases that have a place."""
        return np.asarray(np.isfinite(self.x) & np.isfinite(self.y))


def scatter_of(check: Check, found: Checked, by: str | None = None) -> Scatter | None:
    """The points of a question; None where it has none. by: a predictor that residuals are drawn along; None: what is
    predicted."""
    d, aside = found.diagnosis, found.aside
    residual = AxisTitle("studentized residual")
    far = np.zeros(d.residual.size, dtype=bool)
    far[far_cases(check, found)] = True
    match check:
        case Check.SPREAD:
            return _along(found, by, far)
        case Check.NORMAL:
            expected = AxisTitle("expected of a normal distribution", "expected", "(SD)")
            x, side = normal_quantiles(d.deleted), _expected_beside(d.deleted, aside.deleted)
            return Scatter(
                x, d.deleted, expected, residual, side, aside.deleted, far, around_zero=True, of_residuals=True
            )
        case Check.PULL:
            x, y = d.leverage, d.deleted
            where = AxisTitle("leverage")
            return Scatter(
                x,
                y,
                where,
                residual,
                aside.leverage,
                aside.deleted,
                far,
                around_zero=True,
                of_residuals=True,
                levels=(0.0,),
            )
        case Check.FAR:
            away = found.far[FarBy.DISTANCE]
            if not found.away.columns:
                return None
            expected = AxisTitle("expected of chi-square", "expected")
            cut = ((away.cutoff, far_name(away.by, away.cutoff, away.is_typed)),) if np.isfinite(away.cutoff) else ()
            x, y, d2 = found.away.expected, found.away.d2, AxisTitle("Mahalanobis D²", "D²")
            side = _among(found.away.d2, found.away.expected, aside.d2)
            return Scatter(x, y, expected, d2, side, aside.d2, far, from_zero=True, beyond=cut)
        case Check.MOVES:
            if found.moves is None:
                return None
            rows = found.fit.cases.rows.astype(np.float64) + 1.0
            change = AxisTitle(f"change of {asked_label(found)}", "change", "(SE)")
            where = AxisTitle("row")
            side = aside.rows.astype(np.float64) + 1.0
            return Scatter(rows, found.moves, where, change, side, aside.moves, far, around_zero=True, levels=(0.0,))
        case Check.ORDER:
            rows = found.fit.cases.rows.astype(np.float64) + 1.0
            side = aside.rows.astype(np.float64) + 1.0
            return Scatter(
                rows,
                d.deleted,
                AxisTitle("row"),
                residual,
                side,
                aside.deleted,
                far,
                around_zero=True,
                of_residuals=True,
                levels=(0.0,),
            )
        case Check.OWN:
            if found.own is None or found.column is None:
                return None
            study = found.study
            name = column_name(study, found.fit, found.column)
            outcome = study.variable(study.model.outcome or "")
            x_title = AxisTitle(f"{name}, adjusted", "after all else")
            y_title = AxisTitle(f"{outcome.label}, adjusted", f"{outcome.short}, adjusted")
            return Scatter(*found.own, x_title, y_title, *aside.own, far)
        case Check.STAND | Check.STRAIGHT | Check.OVERLAP:
            return None
        case _:
            assert_never(check)


def far_cases(check: Check, found: Checked) -> IntArray:
    """Positions of the cases beyond the cut-off of a question's plot; none where it has none."""
    match check:
        case Check.SPREAD | Check.NORMAL | Check.ORDER | Check.OWN:
            return found.far[FarBy.STUDENTIZED].cases
        case Check.PULL:
            return found.far[FarBy.COOK].cases
        case Check.FAR:
            return found.far[FarBy.DISTANCE].cases
        case Check.MOVES:
            moves = np.zeros(0) if found.moves is None else np.abs(np.nan_to_num(found.moves))
            return np.flatnonzero(moves > 2.0 / np.sqrt(max(moves.size, 1)))
        case Check.STAND | Check.STRAIGHT | Check.OVERLAP:
            return np.zeros(0, dtype=np.int64)
        case _:
            assert_never(check)


def _expected_beside(values: FloatArray, others: FloatArray) -> FloatArray:
    """Shape (m,): the normal quantile of other values among those that there are."""
    known = np.sort(values[np.isfinite(values)])
    ranks = np.searchsorted(known, others) + 0.5
    found = np.asarray(special.ndtri(ranks / (known.size + 1)), dtype=np.float64)
    return np.where(np.isfinite(others), found, np.nan)


def _among(values: FloatArray, expected: FloatArray, others: FloatArray) -> FloatArray:
    """Shape (m,): what is expected of the value that stands just below each of the others."""
    order = np.argsort(values)
    at = np.clip(np.searchsorted(values[order], others) - 1, 0, values.size - 1)
    return np.where(np.isfinite(others), expected[order][at], np.nan)


def _along(found: Checked, by: str | None, far: BoolArray) -> Scatter:
    """Residuals along what is predicted, a number or a group."""
    d, aside, study = found.diagnosis, found.aside, found.study
    residual = AxisTitle("studentized residual")
    if by is None or by not in found.fit.design.bases:
        title = outcome_title(study, study.model)
        x, side = d.predicted, aside.predicted
        return Scatter(x, d.deleted, title, residual, side, aside.deleted, far, (), True, levels=(0.0, *LEVELS))
    basis = found.fit.design.bases[by]
    values = np.asarray(found.fit.values[by], dtype=np.float64)
    side = aside.values.get(by, np.zeros(0))
    if not isinstance(basis, GroupBasis):
        title = number_title(study, basis)
        return Scatter(values, d.deleted, title, residual, side, aside.deleted, far, (), True, levels=(0.0, *LEVELS))
    shift = (np.random.default_rng(7).random(values.size) - 0.5) * 0.5
    variable = study.variable(by)
    names = tuple((float(i), plain_level(variable, code)) for i, code in enumerate(basis.levels))
    title = AxisTitle(variable.label, variable.short)
    return Scatter(
        values + shift, d.deleted, title, residual, side, aside.deleted, far, names, True, levels=(0.0, *LEVELS)
    )


def can_be_drawn(check: Check, found: Checked, stand: Stand | None, by: str | None = None) -> bool:
    """Whether there is something to draw."""
    match check:
        case Check.STAND:
            return stand is not None
        case Check.STRAIGHT:
            return found.straight is not None and found.straight.focus.curve is not None
        case Check.OVERLAP:
            return bool(found.overlap.terms)
        case Check.SPREAD | Check.NORMAL | Check.PULL | Check.FAR | Check.MOVES | Check.ORDER | Check.OWN:
            scatter = scatter_of(check, found, by)
            return scatter is not None and int(scatter.there.sum()) >= 2
        case _:
            assert_never(check)


def why_not_drawn(check: Check, found: Checked) -> str:
    """Why there is nothing to draw."""
    if check is Check.STRAIGHT:
        return f"{found.not_straight[:1].upper()}{found.not_straight[1:]}."
    if check in (Check.OWN, Check.STAND) or (check is Check.MOVES and found.moves is None):
        return "There is no product in the step."
    if check is Check.FAR:
        return "No predictor is of the kind from which D² is computed."
    if check is Check.OVERLAP:
        return "There is no predictor in the step."
    if found.fit.steps[found.step].is_perfect:
        return "The fit is perfect, so there are no residuals."
    return "Every case has a leverage of 1, so there are no residuals."


def check_page(
    check: Check,
    found: Checked,
    stand: Stand | None,
    look: Look,
    width: float,
    height: float,
    small: bool = False,
    by: str | None = None,
) -> Page:
    """The plot of a question on a page. small: without titles, for a plot beside others."""
    match check:
        case Check.STAND:
            assert stand is not None
            return small_stand(stand, look, width, height)
        case Check.STRAIGHT:
            return _straight_page(found, look, width, height, small)
        case Check.OVERLAP:
            return _overlap_page(found, look, width, height, small)
        case Check.SPREAD | Check.NORMAL | Check.PULL | Check.FAR | Check.MOVES | Check.ORDER | Check.OWN:
            scatter = scatter_of(check, found, by)
            assert scatter is not None
            return _scatter_page(check, found, scatter, look, width, height, small)
        case _:
            assert_never(check)


# ---- scatters


def _scatter_page(
    check: Check, found: Checked, scatter: Scatter, look: Look, width: float, height: float, small: bool
) -> Page:
    room = Box(0.0, 0.0, width, height)
    frame, made = _framed(scatter, look, room, small)
    marks: list[Mark] = [ground(look, room)]
    for level in scatter.levels:
        ink = look.ink(look.palette.ink if level == 0 else look.palette.line, 0.9 if level == 0 else 0.7)
        marks.append(Line(level_line(frame, level), ink, Part.REFERENCE))
    marks += _expected(check, found, look, frame)
    there = scatter.there
    near, far = np.flatnonzero(there & ~scatter.far), np.flatnonzero(there & scatter.far)
    size = look.of(2.3 if small else 3.9)
    note = ""
    if near.size > MOST:
        marks += density_marks(frame, scatter.x[near], scatter.y[near], look, 30 if small else 70)
        note = f"{near.size:,} cases as density"
    else:
        points = frame.at(scatter.x[near], scatter.y[near])
        marks.append(Points(points, Shape.CIRCLE, size, look.palette.ink, OfCases(near), 0.42, clip=frame.area))
    marks += _seen(check, found, scatter, look, frame)
    many = far.size > MANY_FAR
    edge = Ink(look.palette.ink, look.of(0.3 if many else 0.7))
    if far.size > MOST:
        hue = look.palette.yellow
        marks += density_marks(frame, scatter.x[far], scatter.y[far], look, 60 if small else 140, hue)
        note, far = f"{note or counted(near.size, 'case')}, {far.size:,} beyond too", far[:0]
    beyond = frame.at(scatter.x[far], scatter.y[far])
    wide = (1.0 if many else 1.5) * size
    marks.append(Points(beyond, Shape.CIRCLE, wide, look.palette.yellow, OfCases(far), edge=edge))
    marks += _aside_marks(scatter, look, frame, 1.3 * size)
    marks += _cutoffs(scatter, look, frame, small)
    marks += made
    if note and not small:
        at = (frame.area.left + look.of(2), frame.area.top - look.of(3))
        marks.append(Text(note, *at, look.small, look.palette.soft_ink, Part.NOTE))
    return page_of(width, height, [Plot((frame,), tuple(marks))])


def _framed(scatter: Scatter, look: Look, room: Box, small: bool) -> tuple[Frame, list[Mark]]:
    """The frame of the points, and the marks of its axes."""
    there = scatter.there
    xs, ys = scatter.x[there], scatter.y[there]
    side = np.isfinite(scatter.aside_x) & np.isfinite(scatter.aside_y)
    xs, ys = np.concatenate([xs, scatter.aside_x[side]]), np.concatenate([ys, scatter.aside_y[side]])
    if scatter.names:
        low, high = -0.5, len(scatter.names) - 0.5
    else:
        low, high = span(float(xs.min()), float(xs.max()), 0.03)
    cuts = [value for value, _ in scatter.beyond]
    if scatter.around_zero:
        reach = float(np.abs(ys).max()) * 1.06 or 1.0
        reach = max(reach, 3.2) if LEVELS[0] in scatter.levels or scatter.of_residuals else reach
        bottom, top = -reach, reach
    elif scatter.from_zero:
        bottom, top = span(0.0, max([float(ys.max()), *cuts]) * 1.06)
    else:
        bottom, top = span(float(ys.min()), float(ys.max()), 0.05)
    names = () if small else scatter.names
    x = Scale(low, high, None if small else scatter.x_title, names, not small)
    y = Scale(bottom, top, None if small else scatter.y_title, has_ticks=not small)
    many = int(there.sum()) > MOST
    made = axes(look, room, x, y, Pane.CHECK, look.of(10), look.of(12 if many and not small else 6), look.of(6))
    return made.frame, made.marks


def _expected(check: Check, found: Checked, look: Look, frame: Frame) -> list[Mark]:
    """Where the points would lie: on the line of a distribution, with its band, or of the model."""
    ink, area = look.ink(look.palette.ink, 0.9), frame.area
    if check is Check.NORMAL:
        low, high = max(frame.x[0], frame.y[0]), min(frame.x[1], frame.y[1])
        line = Line(frame.at([low, high], [low, high]), ink, Part.REFERENCE, area)
        return [*_histogram(found, look, frame), *_normal_band(found, look, frame), line]
    if check is Check.FAR:
        high = min(frame.x[1], frame.y[1])
        return [Line(frame.at([0.0, high], [0.0, high]), ink, Part.REFERENCE, area)]
    if check is Check.OWN and found.column is not None:
        b = float(found.fit.steps[found.step].b[found.column + 1])
        ends = np.array(frame.x)
        return [Line(frame.at(ends, b * ends), look.ink(look.palette.ink, 1.4), Part.REFERENCE, area)]
    if check is Check.PULL:
        return _cook_curves(found, look, frame)
    return []


def _histogram(found: Checked, look: Look, frame: Frame) -> list[Mark]:
    """How many residuals lie at each height, as bars from the right end."""
    values = found.diagnosis.deleted
    values = values[np.isfinite(values)]
    counts, edges = np.histogram(values, bins=min(BARS, max(8, int(1.6 * np.sqrt(values.size)))), range=frame.y)
    if not counts.max(initial=0):
        return []
    wide = 0.2 * frame.area.width * counts / counts.max()
    tops, bottoms = frame.at_y(edges[1:]), frame.at_y(edges[:-1])
    right = np.full(counts.size, frame.area.right)
    boxes = np.column_stack([right - wide, tops, right, bottoms])[counts > 0]
    return [Rects(boxes, look.palette.line, Part.DISTRIBUTION, 0.9)]


def _normal_band(found: Checked, look: Look, frame: Frame) -> list[Mark]:
    """A pointwise band: where so many of samples that are normal would have each rank."""
    n = int(np.isfinite(found.diagnosis.deleted).sum())
    if n < 3:
        return []
    ranks = np.unique(np.round(np.linspace(1, n, min(n, CURVE))).astype(int))
    at = np.asarray(special.ndtri((ranks - 0.375) / (n + 0.25)))
    tail = (1.0 - found.study.model.level) / 2
    low, high = (np.asarray(special.ndtri(special.betaincinv(ranks, n + 1 - ranks, p))) for p in (tail, 1 - tail))
    outline = np.vstack([frame.at(at, low), frame.at(at[::-1], high[::-1])])
    return [Area(outline, look.palette.line, 0.45, Part.REFERENCE, frame.area)]


def _cook_curves(found: Checked, look: Look, frame: Frame) -> list[Mark]:
    """Where Cook's distance is at its cut-off, as leverage and externally studentized residual."""
    result, marks = found.fit.steps[found.step], list[Mark]()
    cut, df, p = found.far[FarBy.COOK].cutoff, result.df, result.rank
    h = np.linspace(max(frame.x[0], 1e-6), min(frame.x[1], 1 - 1e-6), CURVE * 2)
    with np.errstate(invalid="ignore", divide="ignore"):
        internal = cut * p * (1 - h) / h
        external = np.sqrt(np.where(internal < df, internal * (df - 1) / (df - internal), np.nan))
    external = np.where(external <= frame.y[1], external, np.nan)
    ink = look.ink(look.palette.amber_ink, 1.1, (3.0, 2.0))
    for sign in (-1.0, 1.0):
        marks.append(Line(frame.at(h, sign * external), ink, Part.REFERENCE, frame.area))
    return marks


def _seen(check: Check, found: Checked, scatter: Scatter, look: Look, frame: Frame) -> list[Mark]:
    """What the points themselves say, over them: the running height of the band."""
    if check is not Check.SPREAD or int(scatter.there.sum()) <= LEAST_FOR_A_TREND:
        return []
    there = scatter.there
    if not scatter.names:
        return _trend(look, frame, *running_median(scatter.x[there], np.abs(scatter.y[there])))
    marks: list[Mark] = []
    groups = np.round(scatter.x[there]).astype(int)
    for i in range(len(scatter.names)):
        own = np.abs(scatter.y[there][groups == i])
        if own.size > 1:
            middle = float(np.median(own))
            marks += _trend(look, frame, np.array([i - 0.3, i + 0.3]), np.array([middle, middle]))
    return marks


def _trend(look: Look, frame: Frame, centers: FloatArray, medians: FloatArray) -> list[Mark]:
    """The typical half-height of the band, above and below."""
    marks: list[Mark] = []
    for sign in (-1.0, 1.0):
        points = frame.at(centers, sign * medians)
        marks.append(Line(points, look.ink(look.palette.amber_ink, 2.2), Part.TREND))
        marks.append(Line(points, look.ink(look.palette.yellow, 1.2), Part.TREND))
    return marks


def _aside_marks(scatter: Scatter, look: Look, frame: Frame, size: float) -> list[Mark]:
    """Cases that are set aside: hollow, and struck."""
    marks: list[Mark] = []
    here = np.isfinite(scatter.aside_x) & np.isfinite(scatter.aside_y)
    points = frame.at(scatter.aside_x[here], scatter.aside_y[here])
    ink, p = look.ink(look.palette.soft_ink, 1.0), look.palette
    if points.size:
        marks.append(Points(points, Shape.CIRCLE, size, p.panel, Part.NOTE, edge=ink, clip=frame.area))
    reach = 0.8 * size
    for x, y in points[:MOST_BARS]:
        if frame.area.holds(x, y):
            marks.append(Line(np.array([[x - reach, y + reach], [x + reach, y - reach]]), ink, Part.NOTE, frame.area))
    return marks


def _cutoffs(scatter: Scatter, look: Look, frame: Frame, small: bool) -> list[Mark]:
    marks: list[Mark] = []
    for value, name in scatter.beyond:
        if not frame.y[0] <= value <= frame.y[1]:
            continue
        marks.append(Line(level_line(frame, value), look.ink(look.palette.amber_ink, 1.1, (3.0, 2.0)), Part.REFERENCE))
        if not small:
            at = float(frame.at_y(value)) - look.of(3)
            marks.append(Text(name, frame.area.left + look.of(4), at, look.small, look.palette.amber_ink, Part.NOTE))
    return marks


# ---- thirds


def _straight_page(found: Checked, look: Look, width: float, height: float, small: bool) -> Page:
    """The effect of the model along the moderator with its band, and the effects within thirds."""
    straight, study = found.straight, found.study
    assert straight is not None
    curve = straight.focus.curve
    assert curve is not None
    room, p = Box(0.0, 0.0, width, height), look.palette
    w = np.asarray(found.fit.values[straight.probe.moderator], dtype=np.float64)
    low, high = span(float(w.min()), float(w.max()), 0.03)
    grid = np.linspace(float(w.min()), float(w.max()), CURVE)
    effect, (down, up) = curve.effect(grid), curve.band(grid)
    told = [third for third in straight.thirds if np.isfinite(third.effect)]
    values = np.concatenate([effect, down, up, [0.0], *[[t.effect, *t.ends] for t in told]])
    values = values[np.isfinite(values)]
    bottom, top = span(float(values.min()), float(values.max()), 0.06)
    variable = study.variable(straight.probe.focal)
    if straight.focus.comparison is None:
        y_title = slope_title(variable, found.fit.design.number(straight.probe.focal))
    else:
        y_title = AxisTitle(f"difference in {variable.label}", f"difference in {variable.short}")
    along = found.fit.design.number(straight.probe.moderator)
    x = Scale(low, high, None if small else number_title(study, along), has_ticks=not small)
    y = Scale(bottom, top, None if small else y_title, has_ticks=not small)
    made = axes(look, room, x, y, Pane.CHECK, look.of(10), look.of(6), look.of(6))
    frame, marks = made.frame, list[Mark]([ground(look, room)])
    if bottom < 0 < top:
        marks.append(Line(level_line(frame, 0.0), look.ink(p.line, 1.2), Part.ZERO))
    if np.isfinite(down).all():
        outline = np.vstack([frame.at(grid, down), frame.at(grid[::-1], up[::-1])])
        marks.append(Area(outline, group_hue(0, p), 0.14, Part.REFERENCE, frame.area))
    marks.append(Line(frame.at(grid, effect), look.ink(group_hue(0, p), 1.8), Part.REFERENCE, frame.area))
    for i, third in enumerate(straight.thirds):
        marks += _third_marks(look, frame, third.at, third.effect, third.ends, i, small)
    if not small:
        marks += _third_names(look, frame, [(t.at, counted(t.n, "case")) for t in straight.thirds])
    return page_of(width, height, [Plot((frame,), (*marks, *made.marks))])


def _third_marks(
    look: Look, frame: Frame, at: float, effect: float, ends: tuple[float, float], index: int, small: bool
) -> list[Mark]:
    if not np.isfinite(effect):
        return []
    p, marks = look.palette, list[Mark]()
    if np.isfinite(ends[0]):
        marks.append(Line(frame.at([at, at], list(ends)), look.ink(p.ink, 1.2), OfPlace(index), frame.area))
    size, edge = look.of(4.5 if small else 7.0), look.ink(p.ink, 1.4)
    marks.append(
        Points(frame.at([at], [effect]), Shape.CIRCLE, size, fill(look, p.ink, *ends), OfPlace(index), edge=edge)
    )
    return marks


def _third_names(look: Look, frame: Frame, names: list[tuple[float, str]]) -> list[Mark]:
    """How many cases each third has, below the top of the frame; those that would touch stand lower."""
    marks: list[Mark] = []
    right, step = -1e9, 0
    for at, name in names:
        wide = text_width(name, look.small)
        x = min(max(float(frame.at_x(at)) - wide / 2, frame.area.left + 2), frame.area.right - wide)
        step = step + 1 if x < right + look.of(4) else 0
        y = frame.area.top + look.of(2) + (ASCENT + step * (ASCENT + DESCENT)) * look.small
        marks.append(Text(name, x, y, look.small, look.palette.soft_ink, Part.NOTE))
        right = x + wide
    return marks


# ---- overlap


def _overlap_page(found: Checked, look: Look, width: float, height: float, small: bool) -> Page:
    """A bar for each term: how often its variance is that of a term that nobody shares."""
    overlap, study = found.overlap, found.study
    room, p, size = Box(0.0, 0.0, width, height), look.palette, look.text
    fits = max(1, int((height - look.of(26)) / (2.0 if small else 1.5 * size)))
    shown = overlap.terms[: min(MOST_BARS, fits)]
    left = len(overlap.terms) - len(shown) + overlap.n_left
    is_centered = all(abs(t.now - t.centered) < 0.05 for t in shown if np.isfinite(t.centered))
    others = [t.raw if is_centered else t.centered for t in shown]
    values = [v for v in (*(t.now for t in shown), *others) if np.isfinite(v)]
    high = max([*values, 2.0]) * 1.05
    names = [label(study, t.term) for t in shown]
    cut = names if small else fitted_names(names, 0.34 * width, size)
    figures = [fixed(t.now, 1) if t.now < 1e4 else number_or_place(t.now) for t in shown if np.isfinite(t.now)]
    gutter = look.of(6) if small else max((text_width(n, size) for n in cut), default=0.0) + 0.8 * size
    light = "no" if is_centered else "every"
    title = AxisTitle(f"variance inflation: dark as it is, light with {light} number centered", "variance inflation")
    made = axes(
        look,
        room,
        Scale(0.0, high, None if small else title, has_ticks=not small),
        Scale(0.0, max(1.0, float(len(shown))), has_ticks=False),
        Pane.CHECK,
        look.of(10) if small else max((text_width(said, look.small) for said in figures), default=0.0) + look.of(6),
        look.of(6 if not left or small else 14),
        gutter,
    )
    frame, marks = made.frame, list[Mark]([ground(look, room)])
    marks.append(Line(upright_line(frame, 1.0), look.ink(p.line, 1.2), Part.REFERENCE))
    each = frame.area.height / max(1, len(shown))
    for i, (term, other, name, whole) in enumerate(zip(shown, others, cut, names)):
        top = frame.area.top + i * each
        for value, begin, hue in ((term.now, 0.16, p.soft_ink), (other, 0.52, p.line)):
            if np.isfinite(value):
                x1, bottom = float(frame.at_x(value)), top + (begin + 0.32) * each
                marks.append(Rect(Box(frame.area.left, top + begin * each, x1, bottom), hue, OfPlace(i)))
        if not small:
            baseline = top + each / 2 + (ASCENT - DESCENT) / 2 * size
            at = frame.area.left - 0.4 * size - text_width(name, size)
            marks.append(Text(name, at, baseline, size, p.ink, OfPlace(i), whole=whole if whole != name else ""))
            if np.isfinite(term.now) and each > 1.1 * look.small:
                said = fixed(term.now, 1) if term.now < 1e4 else number_or_place(term.now)
                ends = max(term.now, other if np.isfinite(other) else 0.0)
                x = float(frame.at_x(ends)) + look.of(3)
                marks.append(Text(said, x, baseline, look.small, p.soft_ink, OfPlace(i)))
    if left and not small:
        note = f"{counted(left, 'term')} more, not drawn"
        marks.append(Text(note, frame.area.left, frame.area.top - look.of(3), look.small, p.soft_ink, Part.NOTE))
    return page_of(width, height, [Plot((frame,), (*marks, *made.marks))])


def residual_words(found: Checked, case: int) -> str:
    """“Row 12: predicted 48.2, studentized residual −3.10”."""
    d = found.diagnosis
    row = int(found.fit.cases.rows[case]) + 1
    predicted, residual = fixed(float(d.predicted[case]), 1), fixed(float(d.deleted[case]), 2)
    cook = fixed(float(d.cook[case]), 3)
    return f"Row {row}: predicted {predicted}, studentized residual {residual}, Cook's {cook}"
