"""Figures explain themselves: letters, heads of names, edges that line up, whole points, and a note of each mark."""

from __future__ import annotations

import math

import numpy as np
import pytest

from yellow_slope.core.figured.subjects import ProbeSubject, subject_of
from yellow_slope.core.fit.fitted.evaluate import evaluate
from yellow_slope.core.study.edits.blocks import enter_product
from yellow_slope.core.study.edits.figures import add_figure
from yellow_slope.core.study.edits.probes import put_probe
from yellow_slope.core.study.figures import Figure, FigureSize, Pane, ProbeShown, Shown, ShowsProbe, ShowsSteps
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Term
from yellow_slope.core.words.sentences.figures import caption
from yellow_slope.plots.figures import layout
from yellow_slope.plots.marks import Box, Line, OfLine, OfPlace, Page, Part, Points, Shape

BY_WORRY = ShowsProbe("practice", "worry")


def page_and_note(study: Study, shows: Shown, cm: float) -> tuple[Page, str]:
    figure = Figure("a figure", shows, size=FigureSize(cm))
    subject = subject_of(evaluate(add_figure(study, figure)), shows)
    return layout(figure, subject), caption(figure, subject)


@pytest.mark.parametrize("cm", [8.5, 12.0, 16.5, 25.0])
def test_panels_have_letters_and_line_up(demo: Study, cm: float) -> None:
    page, _ = page_and_note(demo, BY_WORRY, cm)
    letters = [t for t in page.texts if t.about is Part.LETTER]
    assert [t.text for t in letters] == ["a", "b"]
    lines, along = page.frame(Pane.LINES), page.frame(Pane.EFFECT)
    assert lines is not None
    assert along is not None
    if letters[0].y != letters[1].y:
        assert math.isclose(lines.area.left, along.area.left)
        assert math.isclose(lines.area.right, along.area.right)
    for letter, frame in zip(letters, (lines, along)):
        assert letter.y < frame.area.top
        assert letter.x < frame.area.left


@pytest.mark.parametrize(("moderator", "head"), [("worry", ["worry"]), ("coaching", ["coaching"])])
def test_names_at_lines_have_the_moderators_name_above_them(demo: Study, moderator: str, head: list[str]) -> None:
    page, _ = page_and_note(demo, ShowsProbe("practice", moderator), 16.5)
    (above,) = [t for t in page.texts if t.about is Part.HEAD]
    assert [above.text] == head
    assert above.y < min(t.y for t in page.texts if isinstance(t.about, OfLine))


def test_a_group_whose_levels_say_its_name_needs_no_head(demo: Study) -> None:
    page, _ = page_and_note(demo, ShowsProbe("returner", "balance"), 16.5)
    assert not [t for t in page.texts if t.about is Part.HEAD]


def test_thin_ends_keep_the_pattern_of_their_line(demo: Study) -> None:
    page, _ = page_and_note(demo, BY_WORRY, 16.5)
    patterns: dict[int, set[tuple[float, ...]]] = {}
    for mark in page.marks:
        if isinstance(mark, Line) and isinstance(mark.about, OfLine) and mark.points.shape[0] > 2:
            whole = tuple(round(part * mark.ink.width, 6) for part in mark.ink.dash)
            patterns.setdefault(mark.about.index, set()).add(whole)
    assert len(patterns) == 3
    assert all(len(own) == 1 for own in patterns.values())


def test_points_at_the_ends_of_an_axis_are_drawn_whole() -> None:
    there = np.array([[0.0, 5.0], [10.0, 5.0], [10.4, 5.0], [10.6, 5.0], [5.0, -1.0], [np.nan, 5.0]])
    points = Points(there, Shape.CIRCLE, 4.0, "#000000", Part.NOTE, clip=Box(0.0, 0.0, 10.0, 10.0))
    assert points.drawn[:, 0].tolist() == [0.0, 10.0, 10.4]
    assert Points(there, Shape.CIRCLE, 4.0, "#000000", Part.NOTE).drawn.shape == (5, 2)


def test_the_note_explains_the_marks_that_are_there_and_no_others(demo: Study) -> None:
    page, note = page_and_note(demo, BY_WORRY, 16.5)
    assert any(isinstance(m, Points) and m.about is Part.CROSSING for m in page.marks)
    for words in (
        "Diamond and bar on the axis",
        "thin where",
        "Bars: distribution of worry",
        "Predicted control score",
    ):
        assert words in note
    for shows in (
        ShowsProbe("practice", "coaching"),
        ShowsProbe("practice", "worry", view=ProbeShown.EFFECT),
        ShowsProbe("practice", "worry", view=ProbeShown.LINES),
    ):
        page, note = page_and_note(demo, shows, 16.5)
        crossing = any(m.about is Part.CROSSING for m in page.marks)
        assert ("on the axis: where the lines" in note) == crossing
        assert ("Bars: distribution" in note) == any(m.about is Part.DISTRIBUTION for m in page.marks)
        assert ("thin where" in note) == any(isinstance(m, Line) and isinstance(m.about, OfLine) for m in page.marks)
        assert note.startswith("Predicted") == (shows.view is not ProbeShown.EFFECT)


def test_every_level_of_a_third_factor_can_be_put_into_a_figure(demo: Study) -> None:
    shows = ShowsProbe("practice", "coaching", "returner", view=ProbeShown.EVERY)
    term = Term(("practice", "coaching", "returner"))
    study = put_probe(enter_product(demo, term), shows.plain)
    for cm in (8.5, 16.5):
        page, note = page_and_note(study, shows, cm)
        figure = Figure("a", shows, size=FigureSize(cm))
        subject = subject_of(evaluate(study), figure.shows)
        assert isinstance(subject, ProbeSubject)
        panels = subject.sight.probed.panels
        frames = page.frames_of(Pane.EFFECT)
        assert [frame.panel for frame in frames] == list(range(len(panels)))
        assert len({frame.x for frame in frames}) == 1, "one scale for all"
        for frame, panel in zip(frames, panels):
            points = [m for m in page.marks if isinstance(m, Points) and isinstance(m.about, OfPlace)]
            inside = [m for m in points if frame.area.top < m.points[0, 1] < frame.area.bottom]
            effects = [e for e in panel.foci[0].effects if e.exists]
            assert [m.about.index for m in inside] == list(range(len(effects)))  # type: ignore[union-attr]
            for mark, effect in zip(inside, effects):
                assert mark.points[0, 0] == pytest.approx(float(frame.at_x(effect.effect)))
        assert "A panel for each level of returner" in note


@pytest.mark.parametrize("cm", [8.5, 16.5])
def test_every_step_that_is_drawn_is_in_the_key(demo: Study, cm: float) -> None:
    page, _ = page_and_note(demo, ShowsSteps(), cm)
    keys = [text.text.removeprefix("step ") for text in page.texts if text.about is Part.KEY]
    assert keys == ["1", "2", "3"]
