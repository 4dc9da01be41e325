"""Edits of figures."""

from __future__ import annotations

import unicodedata
from itertools import count
from typing import assert_never

from yellow_slope.core.errors import StudyError
from yellow_slope.core.study.figures import (
    LEAST_CM,
    LEAST_LETTERS,
    LONGEST_CAPTION,
    LONGEST_TEXT,
    MOST_CM,
    MOST_FIGURES,
    MOST_LETTERS,
    Figure,
    ShowsCheck,
    ShowsGroup,
    ShowsProbe,
    ShowsSteps,
    is_between,
)
from yellow_slope.core.study.probe import LONGEST_NAME, Probe
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.whole import edit
from yellow_slope.values import replace

MOST_USUAL_LETTERS = 24.0
"""Points that all figures may have without a look of their own."""
MOST_DECIMALS = 9


@edit
def set_figure_letters(study: Study, points: float) -> Study:
    """Give the letters of figures that were not made one's own a size in points. StudyError for one that nobody could
    read or that has no room."""
    if not is_between(points, LEAST_LETTERS, MOST_USUAL_LETTERS):
        raise StudyError(f"Letters of figures have {LEAST_LETTERS:g} to {MOST_USUAL_LETTERS:g} points, not {points:g}.")
    return study if points == study.figure_letters else replace(study, figure_letters=points)


@edit
def add_figure(study: Study, figure: Figure, probe: Probe | None = None) -> Study:
    """Add a figure, under a name that no other has. probe: what it shows, where the study does not ask it yet.
    StudyError for one that cannot be."""
    if len(study.figures) >= MOST_FIGURES:
        raise StudyError(f"The study has {MOST_FIGURES} figures already; there is no room for another.")
    named = replace(figure, name=free_name(study, _clean(figure.name, LONGEST_NAME, "A figure")))
    _check(study, named)
    probes = study.probes
    if probe is not None and not any(p.about == probe.about for p in probes):
        probes = (*probes, probe)
    return replace(study, figures=(*study.figures, named), probes=probes)


@edit
def tune_figure(study: Study, name: str, figure: Figure) -> Study:
    """Put another value in the place of the figure of that name; it may be called otherwise. StudyError for a name that
    none has or another has already, and for a value that cannot be."""
    before = figure_named(study, name)
    if figure == before:
        return study
    new = _clean(figure.name, LONGEST_NAME, "A figure")
    if not new:
        raise StudyError("A figure has a name; none was given.")
    if new != name and any(f.name == new for f in study.figures):
        raise StudyError(f"Another figure is called “{new}” already.")
    figure = replace(figure, name=new)
    _check(study, figure)
    return replace(study, figures=tuple(figure if f.name == name else f for f in study.figures))


@edit
def drop_figure(study: Study, name: str) -> Study:
    """Without a figure. StudyError where none has that name."""
    figure_named(study, name)
    return replace(study, figures=tuple(f for f in study.figures if f.name != name))


@edit
def move_figure(study: Study, name: str, by: int) -> Study:
    """A figure earlier or later in the list. StudyError where none has that name."""
    figure = figure_named(study, name)
    at = study.figures.index(figure)
    to = min(max(at + by, 0), len(study.figures) - 1)
    if to == at:
        return study
    others = [f for f in study.figures if f.name != name]
    others.insert(to, figure)
    return replace(study, figures=tuple(others))


def figure_named(study: Study, name: str) -> Figure:
    """The figure of that name. StudyError with those there are where none has it."""
    for figure in study.figures:
        if figure.name == name:
            return figure
    there = ", ".join(f"“{f.name}”" for f in study.figures)
    if not there:
        raise StudyError(f"No figure is called “{name}”: the study has none.")
    raise StudyError(f"No figure is called “{name}”; there are: {there}.")


def free_name(study: Study, wanted: str) -> str:
    """A name that no figure has: the one that is wanted, or that with a number behind."""
    wanted = wanted or "Figure"
    taken = {f.name for f in study.figures}
    tried = (wanted if i == 1 else f"{wanted[: LONGEST_NAME - 5]} {i}" for i in count(1))
    return next(name for name in tried if name not in taken)


def _clean(text: str, most: int, what: str) -> str:
    """A text of one line. StudyError for one that is too long or holds control characters."""
    odd = next((c for c in text if unicodedata.category(c) == "Cc"), None)
    if odd is not None:
        raise StudyError(f"{what} has no control characters; there is one at character {text.index(odd) + 1}.")
    text = " ".join(text.split())
    if len(text) > most:
        raise StudyError(f"{what} has at most {most} characters; this one has {len(text)}.")
    return text


def _check(study: Study, figure: Figure) -> None:
    """StudyError for a figure that cannot be, with what and where."""
    _check_shown(study, figure)
    size, look = figure.size, figure.look
    for length, which in ((size.width, "wide"), (size.height, "high")):
        if length is not None and not is_between(length, LEAST_CM, MOST_CM):
            raise StudyError(f"A figure is {LEAST_CM:g} to {MOST_CM:g} cm {which}, not {length:g}.")
    sizes = [figure.points, *(t.size for _, t in figure.texts if t.size is not None)]
    for points in sizes:
        if not is_between(points, LEAST_LETTERS, MOST_LETTERS):
            raise StudyError(f"Letters have {LEAST_LETTERS:g} to {MOST_LETTERS:g} points, not {points:g}.")
    if not is_between(look.strength, 0.2, 10.0):
        raise StudyError(f"Lines of a look are 0.2 to 10 times as strong as on paper, not {look.strength:g}.")
    words = [t.words for _, t in figure.texts] + [figure.title, figure.heading]
    for text in words:
        if text is not None:
            _clean(text, LONGEST_TEXT, "A text of a figure")
    for text in (figure.alternative, *(p for p in figure.caption or () if isinstance(p, str))):
        if text is not None:
            _clean(text.replace("\n", " "), LONGEST_CAPTION, "A caption")
    for _, tuning in figure.texts:
        if tuning.shift is not None and not all(is_between(v, -5000.0, 5000.0) for v in tuning.shift):
            raise StudyError("A text was moved farther than a page is wide.")
    for _, line in figure.lines:
        if line.width is not None and not is_between(line.width, 0.1, 20.0):
            raise StudyError(f"A line is 0.1 to 20 points wide, not {line.width:g}.")
    _check_axes(figure)
    band = figure.parts.band
    if band is not None and not is_between(band, 0.0, 1.0):
        raise StudyError(f"A band is 0% to 100% strong, not {100 * band:g}%.")


def _check_axes(figure: Figure) -> None:
    for _, axis in figure.axes:
        for value in (axis.low, axis.high):
            if value is not None and not is_between(value, -1e300, 1e300):
                raise StudyError("An axis begins and ends at numbers.")
        if axis.low is not None and axis.high is not None and not axis.low < axis.high:
            raise StudyError(f"An axis cannot go from {axis.low:g} to {axis.high:g}: the second must be larger.")
        if axis.step is not None and not is_between(axis.step, 1e-300, 1e300):
            raise StudyError(f"The step between ticks must be above 0, not {axis.step:g}.")
        if axis.decimals is not None and not 0 <= axis.decimals <= MOST_DECIMALS:
            raise StudyError(f"Ticks have 0 to {MOST_DECIMALS} decimals, not {axis.decimals}.")


def _check_shown(study: Study, figure: Figure) -> None:
    """StudyError where what is shown names something that the study does not have."""
    match figure.shows:
        case ShowsProbe(focal, moderator, second):
            names = [focal, moderator, *([second] if second is not None else [])]
        case ShowsCheck(by=by):
            names = [by] if by is not None else []
        case ShowsGroup(variable):
            names = [variable]
        case ShowsSteps():
            names = []
        case _:
            assert_never(figure.shows)
    for name in names:
        study.variable(name)
    study.model_of(figure.shows.model)
