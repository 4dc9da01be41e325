"""The coefficients of a model over its steps: a row for each, with an interval for each step, on the scale from low to
high."""

from __future__ import annotations

import numpy as np

from yellow_slope.core.fit.asked.lowtohigh import low_to_high
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.study.figures import LineKey, LineOf, Pane, Role
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.names.terms import brief_column_name, column_name
from yellow_slope.plots.axes import Scale, axes, ground, said_otherwise, span
from yellow_slope.plots.look import LineLook, Look, place_look
from yellow_slope.plots.marks import Box, Line, Mark, OfCoefficient, OfStep, Part, Plot, Points, Text
from yellow_slope.plots.measuring import ASCENT, DESCENT, name_lines, text_width
from yellow_slope.plots.nulls import fill
from yellow_slope.plots.placing import LEAST, fitted_names, line_height
from yellow_slope.plots.rows import RowName, draw_names, names_room, names_width, row_lines
from yellow_slope.plots.scales import AxisTitle
from yellow_slope.values import dataclass

MOST_ROWS = 40
"""More coefficients than this are not drawn: nobody could tell them apart."""
MOST_STEPS = 12
ROW = 1.5
"""Height of a row of one step, in sizes of letters; each further step adds a part."""
FURTHER = 0.42
TITLE = AxisTitle("change in the outcome from low to high", "change from low to high")


@dataclass(frozen=True, slots=True)
class Shown:
    """Which columns and steps are drawn, and how many there are besides."""

    columns: tuple[int, ...]
    steps: tuple[int, ...]
    more: int


def shown_coefficients(fit: Fit) -> Shown:
    """The first columns and the last steps, as many as can be told apart."""
    count = fit.last.n_columns
    steps = range(len(fit.steps))[-MOST_STEPS:]
    return Shown(tuple(range(min(count, MOST_ROWS))), tuple(steps), max(0, count - MOST_ROWS))


def row_key(study: Study, fit: Fit, column: int) -> LineKey:
    """By what a row is known."""
    return LineKey(LineOf.ROW, fit.design.columns[column].term.variables[0], column_name(study, fit, column))


def steps_height(study: Study, look: Look, fit: Fit, width: float) -> float:
    """The height that suits the figure."""
    shown = shown_coefficients(fit)
    row = ROW + FURTHER * (len(shown.steps) - 1)
    letters = look.size(Role.LINE, Pane.STEPS)
    names = row_names(study, fit, look, shown, width)
    tall = row_lines(look, Pane.STEPS, names, width)
    each = max(row * look.text, (0.5 + 1.06 * tall) * letters)
    return (len(shown.columns) + bool(shown.more)) * each + 8 * look.text


def row_names(study: Study, fit: Fit, look: Look, shown: Shown, width: float) -> list[str]:
    """The rows' names; with short names of variables where long ones would take more than three lines."""
    size, room = look.size(Role.LINE, Pane.STEPS), names_room(look, width)
    found = []
    for j in shown.columns:
        long = look.name(row_key(study, fit, j), column_name(study, fit, j))
        fits = not look.own.is_figure or name_lines(long, room, size) is not None
        usual = long if fits else brief_column_name(study, fit, j)
        found.append(look.name(row_key(study, fit, j), usual))
    return found


def steps_plot(study: Study, fit: Fit, look: Look, room: Box) -> Plot:
    """The plot, with a key of the steps above it."""
    shown, scale = shown_coefficients(fit), low_to_high(fit)
    rows = len(shown.columns) + bool(shown.more)
    ends = [0.0]
    for index in shown.steps:
        step = fit.steps[index]
        at = [j for j in shown.columns if j < step.n_columns]
        for values in (step.b, step.low, step.high):
            found = values[1:][at] * scale[at]
            ends += [float(v) for v in found[np.isfinite(found)]]
    letters = look.size(Role.LINE, Pane.STEPS)
    whole = row_names(study, fit, look, shown, room.width)
    full = [look.name(row_key(study, fit, j), column_name(study, fit, j)) for j in shown.columns]
    head = 1.9 * look.text
    inner = Box(room.left, room.top + head, *room[2:])
    size = min(letters, max(look.of(LEAST), 0.8 * (inner.height - 4 * look.text) / max(1, rows) / line_height(1.06)))
    wide = names_room(look, room.width)
    tall = row_lines(look, Pane.STEPS, whole, room.width)
    size = size if tall < 2 else letters
    names = fitted_names(whole, wide, size) if tall < 2 else whole
    broken = [name_lines(name, wide, size) or [name] for name in names] if tall > 1 else [[name] for name in names]
    left = names_width(look, [(line, size) for lines in broken for line in lines])
    x = said_otherwise(look, Pane.STEPS, Scale(*span(min(ends), max(ends), 0.05), TITLE), False)
    y = Scale(-rows + 0.5, 0.5, has_ticks=False, has_line=False)
    made = axes(look, inner, x, y, Pane.STEPS, look.of(12), look.of(4), left)
    frame, marks = made.frame, list[Mark]([ground(look, room)])
    if frame.x[0] < 0 < frame.x[1]:
        at_zero = float(frame.at_x(0.0))
        line = np.array([[at_zero, frame.area.top], [at_zero, frame.area.bottom]])
        marks.append(Line(line, look.axis, Part.ZERO))
    count = len(shown.steps)
    hues = [place_look(k, count, look.palette) for k in range(count)]
    named = [
        RowName(-float(row), lines, OfCoefficient(j), full[row] if " ".join(lines) != full[row] else "")
        for row, (j, lines) in enumerate(zip(shown.columns, broken))
    ]
    marks += draw_names(look, frame, named, size)
    for row, j in enumerate(shown.columns):
        for k, index in enumerate(shown.steps):
            step = fit.steps[index]
            if j >= step.n_columns or not np.isfinite(step.b[j + 1]):
                continue
            place = -row - (k - (count - 1) / 2) * 0.72 / count
            low, b, high = (float(v[j + 1]) * float(scale[j]) for v in (step.low, step.b, step.high))
            hue = hues[k]
            if np.isfinite(low):
                band = look.line_ink(LineLook(hue.colour, (), hue.shape), 1.3)
                marks.append(Line(frame.at([low, high], [place, place]), band, OfStep(index, j), frame.area))
            spot = frame.at([b], [place])
            within, edge = fill(look, hue.colour, low, high), look.ink(hue.colour, 1.1)
            marks.append(Points(spot, hue.shape, look.of(4.4), within, OfStep(index, j), edge=edge, clip=frame.area))
    if shown.more:
        y_at = float(frame.at_y(-float(rows - 1))) + (ASCENT - DESCENT) / 2 * look.small
        said = f"{shown.more} more, not drawn"
        marks.append(Text(said, frame.area.left + look.of(4), y_at, look.small, look.palette.soft_ink, Part.NOTE))
    marks += made.marks
    marks += _key(look, shown, hues, Box(frame.area.left, room.top, room.right, room.top + head))
    return Plot((frame,), tuple(marks))


def _key(look: Look, shown: Shown, hues: list[LineLook], box: Box) -> list[Mark]:
    """Which step is which, in one row above the plot; with little room it begins further left, and only the first says
    what it is."""
    if len(shown.steps) < 2:
        return []
    size = look.size(Role.NOTE, Pane.STEPS)
    texts = [f"step {index + 1}" for index in shown.steps]
    every = [look.of(22) + text_width(text, size) for text in texts]
    if sum(every) > box.right - look.of(3):
        texts = [texts[0], *(str(index + 1) for index in shown.steps[1:])]
        every = [look.of(22) + text_width(text, size) for text in texts]
    marks, x = list[Mark](), max(look.of(3), min(box.left, box.right - sum(every)))
    baseline = box.top + look.of(4) + ASCENT * size
    for hue, text, wide in zip(hues, texts, every):
        if x + wide > box.right + look.of(12):
            break
        spot = np.array([[x + look.of(3), baseline - 0.3 * size]])
        marks.append(Points(spot, hue.shape, look.of(4.4), hue.colour, Part.KEY))
        marks.append(Text(text, x + look.of(9), baseline, size, look.palette.ink, Part.KEY))
        x += wide
    return marks
