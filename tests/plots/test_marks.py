"""What the marks of a plot stand for: lines are the predictions, bars the cases, texts the names."""

from __future__ import annotations

import numpy as np
import pytest

from tests.support.pages import faults
from tests.support.worlds import noise_world, study_of
from yellow_slope import looks
from yellow_slope.core.fit.fitted.evaluate import evaluate
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.probe.probing import probe_fit
from yellow_slope.core.probe.seen import Handle, Seen, Sight
from yellow_slope.core.study.edits.descriptions import describe
from yellow_slope.core.study.figures import Pane
from yellow_slope.core.study.probe import Probe, Second
from yellow_slope.core.study.study import Study
from yellow_slope.looks import DARK
from yellow_slope.plots.handle import handle
from yellow_slope.plots.look import PRINT, SCREEN
from yellow_slope.plots.marks import (
    Line,
    OfBoundary,
    OfDifference,
    OfEffect,
    OfLine,
    OfPlace,
    OfRegion,
    Page,
    Part,
    Points,
    Rects,
    Text,
)
from yellow_slope.plots.probeplots import beside
from yellow_slope.plots.words import mark_words
from yellow_slope.values import replace


def fit_of(study: Study) -> Fit:
    fit = evaluate(study).fit
    assert isinstance(fit, Fit)
    return fit


def sight_of(study: Study, probe: Probe, seen: Seen | None = None) -> Sight:
    return Sight.of(probe_fit(study, fit_of(study), probe), seen or Seen())


def texts(page: Page) -> set[str]:
    return {text.text for text in page.texts}


@pytest.mark.parametrize(("focal", "moderator"), [("x", "w"), ("g", "w"), ("x", "g"), ("g", "d")])
def test_figures_of_every_kind_name_their_lines(focal: str, moderator: str) -> None:
    study = study_of(noise_world(51), "y", f"x, w, g, d; {focal}*{moderator}")
    page = beside(study, sight_of(study, Probe(focal, moderator)))
    groups = {"g": ["low", "mid", "top"], "d": ["no", "yes"]}
    if focal == "x" and moderator == "w":
        assert sum(isinstance(text.about, OfLine) for text in page.texts) == 3
    else:
        assert set(groups[focal if focal in groups else moderator]) <= texts(page)
    assert any(text.text == "y" and text.upright for text in page.texts)
    lines = [mark for mark in page.marks if isinstance(mark, Line) and isinstance(mark.about, OfLine)]
    thick = [line.ink.dash for line in lines if line.ink.width > 1.5]
    assert len(set(thick)) == len(thick), "lines differ in pattern, not only in hue"


@pytest.mark.parametrize(("level", "x"), [(0, 3.0), (3, 6.5)])
def test_lines_of_the_figure_are_the_predictions(demo: Study, level: int, x: float) -> None:
    fit = fit_of(demo)
    page = beside(demo, sight_of(demo, Probe("practice", "coaching")))
    frame = page.frame(Pane.LINES)
    assert frame is not None
    drawn = [mark for mark in page.marks if isinstance(mark, Line) and mark.about == OfLine(level)]
    points = np.vstack([line.points for line in drawn if line.points.shape[0] > 2])
    profile = fit.design.typical().with_number("practice", x).with_level("coaching", level)
    wanted = float(frame.at_y(float(fit.last.b @ fit.design.rows(profile)[:, 0])))
    order = np.argsort(points[:, 0])
    assert np.interp(float(frame.at_x(x)), points[order, 0], points[order, 1]) == pytest.approx(wanted, abs=1e-6)


def test_a_line_is_thin_where_its_group_has_no_cases() -> None:
    rng = np.random.default_rng(3)
    g = ["near", "far"] * 60
    x = np.where(np.array(g) == "near", rng.uniform(0, 4, 120), rng.uniform(3, 9, 120))
    study = study_of({"x": x, "g": g, "y": x + rng.normal(size=120)}, "y", "x, g; x*g")
    page = beside(study, sight_of(study, Probe("x", "g")))
    frame = page.frame(Pane.LINES)
    assert frame is not None
    for i, name in enumerate(level.label for level in study.variable("g").levels):
        own = x[np.array(g) == name]
        parts = [mark for mark in page.marks if isinstance(mark, Line) and mark.about == OfLine(i)]
        thick = next(part for part in parts if part.ink.width > 1.5)
        step = frame.area.width / 63
        assert thick.points[0, 0] == pytest.approx(float(frame.at_x(own.min())), abs=2 * step)
        assert thick.points[-1, 0] == pytest.approx(float(frame.at_x(own.max())), abs=2 * step)
        assert any(part.ink.width < 1 for part in parts)


def test_bars_stand_at_the_values_of_a_moderator_with_few() -> None:
    rng = np.random.default_rng(5)
    w = rng.integers(1, 6, 90).astype(float)
    x = rng.normal(size=90)
    study = study_of({"x": x, "w": w, "y": x * w + rng.normal(size=90)}, "y", "x, w; x*w")
    page = beside(study, sight_of(study, Probe("x", "w")))
    frame = page.frame(Pane.DISTRIBUTION)
    assert frame is not None
    bars = next(mark for mark in page.marks if isinstance(mark, Rects))
    middle = (bars.boxes[1:-1, 0] + bars.boxes[1:-1, 2]) / 2
    assert middle == pytest.approx(frame.at_x(np.array([2.0, 3.0, 4.0])))
    heights = bars.boxes[:, 3] - bars.boxes[:, 1]
    counts = np.bincount(w.astype(int))[1:]
    assert heights / heights.max() == pytest.approx(counts / counts.max())


def test_regions_and_boundaries_stand_where_the_effect_is_told_apart(demo: Study) -> None:
    sight = sight_of(demo, Probe("practice", "worry"))
    page = beside(demo, sight)
    frame = page.frame(Pane.EFFECT)
    regions = sight.focus.regions
    assert frame is not None
    assert regions is not None
    lines = {
        mark.about.value: float(mark.points[0, 0])
        for mark in page.marks
        if isinstance(mark, Line) and isinstance(mark.about, OfBoundary)
    }
    assert lines == pytest.approx({b: float(frame.at_x(b)) for b in regions.boundaries})
    told = {i for i, region in enumerate(regions.within) if region.sign}
    washed = [m for m in page.marks if isinstance(m.about, OfRegion) and not isinstance(m, Text)]
    assert {m.about.index for m in washed if isinstance(m.about, OfRegion)} == told
    said = {m.about.index: m.text for m in page.texts if isinstance(m.about, OfRegion)}
    assert {i for i, text in said.items() if text != "not significant"} == told
    assert said[1] == "not significant", "the wash covers nearly all: the rest is named as well"
    assert {"4.26", "5.68", "slope above 0", "slope below 0"} <= texts(page)


def test_the_mouse_asks_the_marks(demo: Study) -> None:
    sight = sight_of(demo, Probe("practice", "coaching"))
    page = beside(demo, sight)
    for i in range(4):
        dot = next(m for m in page.marks if isinstance(m, Points) and m.about == OfPlace(i))
        hit = page.hit(*dot.points[0])
        assert hit is not None
        assert hit.about == OfPlace(i)
        assert sight.focus.effects[i].exists
        assert mark_words(demo, sight, hit).startswith(f"In “{demo.variable('coaching').levels[i].label}”")
    name = next(text for text in page.texts if isinstance(text.about, OfDifference))
    assert page.hit(*name.box.middle) is not None
    cases = next(m for m in page.marks if isinstance(m, Points) and m.points.shape[0] > 10)
    inside = next(
        i for i, spot in enumerate(cases.points) if cases.clip and cases.clip.holds(float(spot[0]), float(spot[1]), -20)
    )
    found = page.hit(*cases.points[inside])
    assert found is not None
    case = found.case
    assert case is not None
    fit = sight.probed.fit
    said = mark_words(demo, sight, found)
    assert said.startswith(f"Row {fit.cases.rows[case] + 1}: practice ")
    assert said.endswith(f"control score {fit.y[case]:g}")
    assert page.hit(-50, -50) is None


def test_each_panel_has_its_own_curve() -> None:
    study = study_of(noise_world(51), "y", "x, w, g; x*w*g, x*w, x*g, w*g")
    probed = probe_fit(study, fit_of(study), Probe("x", "w", second=Second("g")))
    drawn = []
    for panel in range(3):
        page = beside(study, Sight.of(probed, Seen(panel)))
        frame = page.frame(Pane.EFFECT)
        assert frame is not None
        curve = probed.panels[panel].foci[0].curve
        assert curve is not None
        grid = np.linspace(*frame.x, 64)
        line = next(m for m in page.marks if isinstance(m, Line) and m.about == OfEffect() and m.ink.width > 1.5)
        assert line.points == pytest.approx(frame.at(grid, curve.effect(grid)))
        drawn.append(curve.effect(grid))
    assert not np.allclose(drawn[0], drawn[1])


def test_the_handle_stands_where_the_effect_is_read(demo: Study) -> None:
    sight = sight_of(demo, Probe("practice", "worry"), Seen(place=Handle(), handle=5.2))
    page = beside(demo, sight, SCREEN, 1020, 360, handle=True)
    marks = handle(demo, sight, SCREEN, page)
    right = page.frame(Pane.EFFECT)
    assert right is not None
    curve = sight.focus.curve
    assert curve is not None
    dot = next(mark for mark in marks if isinstance(mark, Points))
    assert dot.points[0] == pytest.approx(right.at([5.2], curve.effect(np.array([5.2])))[0])
    names = [mark.text for mark in marks if isinstance(mark, Text)]
    assert names == ["worry 5.20", "−0.58"]
    assert not faults(Page(page.width, page.height, (*page.marks, *marks), page.frames))
    assert all(mark.about is Part.HANDLE for mark in marks)


def test_the_dark_theme_has_its_own_hues(demo: Study) -> None:
    sight = sight_of(demo, Probe("practice", "coaching"))
    hues = {m.ink.colour for m in beside(demo, sight, replace(SCREEN, palette=DARK)).marks if isinstance(m, Line)}
    assert set(DARK.groups) <= hues
    assert not hues & set(looks.LIGHT.groups)


def test_units_of_axes_are_never_cut(demo: Study) -> None:
    long = "control over speed and direction as rated by three judges at the end of the course"
    study = describe(demo, "control", label=long, unit="points")
    study = describe(study, "practice", label="practice in the hall and at home, of all kinds", unit="hours a week")
    for probe in (Probe("practice", "worry"), Probe("coaching", "practice"), Probe("practice", "coaching")):
        page = beside(study, sight_of(study, probe), PRINT, 4.5 * 72, 2.4 * 72)
        assert not faults(page)
        titles = " ".join(t.text for t in page.texts if t.about in (Part.TITLE_X, Part.TITLE_Y))
        assert "(hours a week)" in titles
        assert "(points" in titles


@pytest.mark.parametrize("height", [240, 400, 900])
def test_what_has_no_room_among_the_dots_is_counted(height: int) -> None:
    rng = np.random.default_rng(4)
    table = {"x": rng.normal(size=160), "g": [str(v) for v in np.arange(160) % 8 + 1], "y": rng.normal(size=160)}
    sight = sight_of(study_of(table, "y", "x, g; x*g"), Probe("x", "g"))
    page = beside(study_of(table, "y", "x, g; x*g"), sight, SCREEN, 900, height)
    drawn = {m.about for m in page.marks if isinstance(m, Points) and isinstance(m.about, OfPlace | OfDifference)}
    (note,) = [m.text for m in page.marks if isinstance(m, Text) and m.text.endswith("more, not drawn")]
    assert len(drawn) + int(note.split()[0]) == 8 + 28
    assert not faults(page)
