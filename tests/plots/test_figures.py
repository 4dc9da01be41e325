"""Figures of every kind, look and size are sound: nothing lies upon another, leaves the page or is cut unsaid."""

from __future__ import annotations

import os
import random
from itertools import combinations, pairwise

import numpy as np
import pytest

from tests.plots.test_layout import world
from tests.support.drawnfigures import drawn_figure
from tests.support.pages import faults
from tests.support.seeds import few
from yellow_slope.core.errors import YellowSlopeError
from yellow_slope.core.figured.subjects import ProbeSubject, Subject, cases_beyond, subject_of
from yellow_slope.core.fit.fitted.evaluate import Evaluation, evaluate
from yellow_slope.core.study.checks import Check
from yellow_slope.core.study.figures import (
    PAPER_GREY,
    READY_LOOKS,
    READY_SIZES,
    AxisKey,
    AxisTuning,
    CasesAs,
    Colours,
    Figure,
    FigureSize,
    GroundAs,
    Hue,
    LegendAs,
    LineKey,
    LineOf,
    LineTuning,
    Pane,
    Pattern,
    ProbeShown,
    RegionAs,
    Role,
    Shown,
    ShowsCheck,
    ShowsGroup,
    ShowsProbe,
    ShowsSteps,
    TextKey,
    TextTuning,
)
from yellow_slope.core.study.figures import Parts as FigureParts
from yellow_slope.core.study.probe import Probe, Second
from yellow_slope.core.study.study import Study
from yellow_slope.looks import DARK, GREY, LIGHT, Palette
from yellow_slope.plots.figures import layout, look_of, palette_of, same_names, shortened_names, smallest
from yellow_slope.plots.look import hue_colour
from yellow_slope.plots.marks import Line, OfLine, Page, Points, Rect, Text
from yellow_slope.plots.parts import Parts, Thing
from yellow_slope.values import replace

SEEDS = range(int(os.environ.get("LAYOUTS_FROM") or 0), int(os.environ.get("LAYOUTS_TO") or few(4, 16)))
"""Studies, 16 of them each time; more by hand: make layouts FROM=0 TO=200."""


def every_shown(study: Study, rng: random.Random) -> list[Shown]:
    """What can be shown of a study: its pairs, with and without a second moderator, checks, steps and groups."""
    found: list[Shown] = [ShowsSteps(), ShowsGroup("g"), ShowsGroup("d")]
    found += [ShowsCheck(check) for check in rng.sample([c for c in Check if c is not Check.STAND], 3)]
    for a, b in [("x", "w"), ("x", "g"), ("g", "x"), ("g", "w"), ("g", "d"), ("x", "x"), ("w", "g")]:
        third = rng.choice([n for n in ("x", "w", "g") if n not in (a, b)])
        second = Second(third) if rng.random() < 0.4 else None
        found.append(ShowsProbe.of(Probe(a, b, second=second), rng.choice(list(ProbeShown))))
    return found


def drawn(evaluation: Evaluation, figure: Figure) -> tuple[Subject, Page] | None:
    """A figure's page; None with a reason where it cannot be drawn."""
    try:
        subject = subject_of(evaluation, figure.shows)
        return subject, layout(figure, subject)
    except YellowSlopeError:
        return None


@pytest.mark.no_cover
@pytest.mark.parametrize("seed", SEEDS)
def test_figures_are_sound_in_every_look_and_size(seed: int) -> None:
    study, rng = world(seed), random.Random(30_000 + seed)
    evaluation = evaluate(study)
    count = 0
    for shows in every_shown(study, rng):
        for _ in range(3):
            figure = drawn_figure(rng, study, shows)
            texts = {(k.role, t.words or k): (k, t) for k, t in figure.texts if t.shift is None}  # each name once
            figure = replace(figure, texts=tuple(texts.values()))
            made = drawn(evaluation, figure)
            if made is None:
                continue
            count += 1
            wrong = faults(made[1])
            assert not wrong, f"{figure}: {wrong[:4]}"
            assert_in_grey_and_contrast(figure, made[1])
    assert count >= 15


def test_names_that_are_given_twice_are_told() -> None:
    first, second = (LineKey(LineOf.LEVEL, "g", code) for code in ("a", "b"))
    texts = tuple((TextKey(Role.LINE, line=line), TextTuning(words="gliders")) for line in (first, second))
    figure = Figure("f", ShowsGroup("g"), texts=texts)
    assert same_names(figure) == ["Several lines or groups are named “gliders”."]
    assert same_names(replace(figure, texts=texts[:1])) == []


def test_names_stand_in_full_where_a_page_is_free_to_grow() -> None:
    for seed in range(12):
        study = world(seed)
        evaluation = evaluate(study)
        for shows in (ShowsProbe("x", "g"), ShowsProbe("g", "x"), ShowsSteps(), ShowsGroup("g")):
            made = drawn(evaluation, Figure("f", shows, size=FigureSize(17.5)))
            if made is None:
                continue
            cut = [text for text in made[1].texts if text.whole]
            assert not [text for text in cut if isinstance(text.about, OfLine)], shows
            assert bool(shortened_names(made[1])) == any(text.whole for text in made[1].texts)


def assert_in_grey_and_contrast(figure: Figure, page: Page) -> None:
    """Letters stand out by 4.5:1 from what is behind the figure; lines of one plot are told apart by more than hue."""
    palette = palette_of(figure.look.colours)
    for text in page.texts:
        assert contrast(text.colour, palette.panel) >= 4.4, (text.text, text.colour)
    patterns: dict[int, tuple[str, tuple[float, ...]]] = {}
    for mark in page.marks:
        if isinstance(mark, Line) and isinstance(mark.about, OfLine) and mark.ink.width > look_of(figure).of(1.5):
            patterns.setdefault(mark.about.index, (mark.ink.colour, mark.ink.dash))
    if not figure.lines and len(patterns) <= 12:
        looks = list(patterns.values())
        assert len(set(looks)) == len(looks), looks


def luminance(colour: str) -> float:
    """WCAG's relative luminance."""
    parts = [int(colour[i : i + 2], 16) / 255 for i in (1, 3, 5)]
    linear = [v / 12.92 if v <= 0.03928 else ((v + 0.055) / 1.055) ** 2.4 for v in parts]
    return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]


def contrast(one: str, other: str) -> float:
    """WCAG's contrast of two colours."""
    a, b = sorted((luminance(one), luminance(other)), reverse=True)
    return (a + 0.05) / (b + 0.05)


@pytest.mark.parametrize("palette", [LIGHT, GREY, DARK])
def test_hues_stand_out_from_the_paper_and_stay_apart_in_grey(palette: Palette) -> None:
    hues = [hue_colour(hue, palette) for hue in Hue]
    for colour in (*hues, *palette.groups):
        assert contrast(colour, palette.panel) >= 3.0, colour
    lights = sorted(luminance(colour) for colour in palette.groups)
    if palette is not DARK:  # on a screen nobody prints in grey
        assert min(b - a for a, b in pairwise(lights)) > 0.03


@pytest.mark.parametrize("palette", [LIGHT, DARK])
def test_group_hues_stay_apart_for_the_colour_blind(palette: Palette) -> None:
    # Machado, Oliveira & Fernandes (2009), severity 1: deuteranopia and protanopia, in linear light.
    seen_by = (
        np.array([[0.367, 0.861, -0.228], [0.280, 0.673, 0.047], [-0.012, 0.043, 0.969]]),
        np.array([[0.152, 1.053, -0.205], [0.115, 0.786, 0.099], [-0.004, -0.048, 1.052]]),
    )
    for matrix in seen_by:
        linear = [np.array([(int(c[i : i + 2], 16) / 255) ** 2.2 for i in (1, 3, 5)]) for c in palette.groups]
        colours = [np.clip(matrix @ c, 0, 1) ** (1 / 2.2) for c in linear]
        for a, b in combinations(colours, 2):
            assert np.linalg.norm(a - b) > 0.08


# ---- what is said otherwise is what is drawn


@pytest.fixture(scope="module")
def demo_evaluation(demo: Study) -> Evaluation:
    return evaluate(demo)


def tuned_page(evaluation: Evaluation, figure: Figure) -> tuple[Page, Parts]:
    subject = subject_of(evaluation, figure.shows)
    page = layout(figure, subject)
    return page, Parts(page, subject)


def level(code: str) -> LineKey:
    return LineKey(LineOf.LEVEL, "coaching", code)


LINES = Figure("lines", ShowsProbe("practice", "coaching", view=ProbeShown.BOTH), size=FigureSize(17.5))


def test_words_hues_patterns_and_order_of_lines(demo_evaluation: Evaluation) -> None:
    figure = LINES.with_text(TextKey(Role.LINE, line=level("3")), TextTuning("with a coach of their own"))
    figure = figure.with_line(level("3"), LineTuning(Hue.INK, Pattern.DOTTED, 3.0, first=True))
    page, parts = tuned_page(demo_evaluation, figure)
    named = [text for text in page.texts if text.text.startswith("with a coach")]
    assert {parts.pane(text) for text in named} == {Pane.LINES, Pane.EFFECT}
    inside = [m for m in page.marks if isinstance(m, Line) and isinstance(m.about, OfLine) and m.clip is not None]
    lines = [m for m in inside if m.ink.width == 3.0]
    assert lines
    assert lines[0].ink.colour == LIGHT.ink
    assert lines[0].ink.dash == (1.5, 2)
    others = [m for m in inside if m.ink.width == 1.9]
    assert all(page.marks.index(lines[0]) > page.marks.index(other) for other in others)


def test_axes_begin_and_end_where_they_are_told_and_cases_beyond_are_counted(demo_evaluation: Evaluation) -> None:
    said = AxisTuning(0.0, 6.0, 2.0, 1, True)
    figure = LINES.with_axis(AxisKey(Pane.LINES, False), said)
    page, parts = tuned_page(demo_evaluation, figure)
    frame = page.frames[0]
    assert frame.x == (0.0, 6.0)
    ticks = [text.text for text in page.texts if parts.text_key(text) == TextKey(Role.X_TICKS, Pane.LINES)]
    assert ticks == ["0.0", "2.0", "4.0", "6.0"]
    values = np.asarray(demo_evaluation.fit.values["practice"])  # type: ignore[union-attr]
    assert cases_beyond(demo_evaluation, figure) == int(np.sum(values > 6.0)) > 0
    drawn_lines = [m for m in page.marks if isinstance(m, Line) and isinstance(m.about, OfLine) and m.clip is not None]
    assert drawn_lines


@pytest.mark.parametrize("how", list(RegionAs))
def test_regions_are_washed_hatched_barred_or_told_by_boundaries_alone(
    demo_evaluation: Evaluation, how: RegionAs
) -> None:
    shows = ShowsProbe("returner", "balance", view=ProbeShown.EFFECT)
    figure = Figure("f", shows, parts=FigureParts(region=how))
    page, parts = tuned_page(demo_evaluation, figure)
    washed = [m for m in page.marks if isinstance(m, Rect) and parts.part(m) is Thing.REGION]
    values = [text for text in page.texts if parts.text_key(text).role is Role.BOUNDARY]
    words = [text for text in page.texts if parts.text_key(text).role is Role.REGION]
    assert bool(washed) == (how in (RegionAs.WASH, RegionAs.BAR))
    assert bool(values) == (how is not RegionAs.NONE)
    assert bool(words) == (how not in (RegionAs.NONE, RegionAs.BOUNDARY))


def test_cases_can_be_left_out_or_take_the_look_of_the_nearest_line(demo_evaluation: Evaluation) -> None:
    shows = ShowsProbe("practice", "worry", view=ProbeShown.LINES)
    colours = {}
    for how in CasesAs:
        figure = Figure("f", shows, parts=FigureParts(cases=how))
        page, parts = tuned_page(demo_evaluation, figure)
        points = [m for m in page.marks if isinstance(m, Points) and parts.part(m) is Thing.CASES]
        colours[how] = {m.colour for m in points}
    assert not colours[CasesAs.NONE]
    assert len(colours[CasesAs.DOTS]) == 1
    assert len(colours[CasesAs.SIDES]) == 3


def test_names_stand_in_a_box_that_can_be_put_anywhere_inside(demo_evaluation: Evaluation) -> None:
    for at in (None, (0.0, 0.9), (5.0, -5.0)):
        parts_said = FigureParts(legend=LegendAs.BOX, box_at=at)
        page, parts = tuned_page(demo_evaluation, replace(LINES, parts=parts_said))
        boxes = [m.box for m in page.marks if isinstance(m, Rect) and parts.part(m) is Thing.KEY]
        area = page.frames[0].area
        assert len(boxes) == 1
        assert area.left <= boxes[0].left
        assert boxes[0].right <= area.right
        assert area.top <= boxes[0].top
        assert boxes[0].bottom <= area.bottom
        assert {"none", "one-to-one"} <= {text.text for text in page.texts}


def test_texts_are_moved_left_out_slanted_and_resized(demo_evaluation: Evaluation) -> None:
    plain, parts = tuned_page(demo_evaluation, LINES)
    name = TextKey(Role.LINE, Pane.LINES, level("3"))
    before = parts.text(name)
    title = TextKey(Role.X_TITLE, Pane.LINES)
    figure = LINES.with_text(name, TextTuning(shift=(12.0, -7.0)))
    figure = figure.with_text(title, TextTuning("Hours on the slope", 14.0, True))
    figure = figure.with_text(TextKey(Role.Y_TITLE, Pane.LINES), TextTuning(hidden=True))
    page, parts = tuned_page(demo_evaluation, figure)
    after, told = parts.text(name), parts.text(title)
    assert before is not None
    assert after is not None
    assert told is not None
    assert (after.text, told.text, told.size, told.italic) == (before.text, "Hours on the slope", 14.0, True)
    assert after.y - before.y < 0
    assert parts.text(TextKey(Role.Y_TITLE, Pane.LINES)) is None
    assert page.frames[0].area.width > plain.frames[0].area.width


def test_a_title_stands_above_and_takes_room_of_its_own(demo_evaluation: Evaluation) -> None:
    plain, _ = tuned_page(demo_evaluation, LINES)
    page, _ = tuned_page(demo_evaluation, replace(LINES, title="Practice pays with a coach"))
    assert page.height > plain.height
    assert not faults(page)
    assert page.texts[-1].text == "Practice pays with a coach"


def test_a_figure_has_the_size_it_is_given(demo_evaluation: Evaluation) -> None:
    for size in (*READY_SIZES.values(), FigureSize(10.0, 10.0)):
        page, _ = tuned_page(demo_evaluation, replace(LINES, size=size))
        assert page.width == pytest.approx(size.width / 2.54 * 72)
        if size.height is not None:
            assert page.height == pytest.approx(size.height / 2.54 * 72, abs=0.5)


def test_grounds_and_looks(demo_evaluation: Evaluation) -> None:
    for look in READY_LOOKS:
        page, _ = tuned_page(demo_evaluation, LINES.in_look(look))
        assert page.ground == palette_of(look.colours).panel
        letters, line = smallest(page)
        assert letters == pytest.approx(0.88 * look.letters, rel=0.2)
        assert line >= 0.25
    clear, _ = tuned_page(demo_evaluation, replace(LINES, parts=FigureParts(ground=GroundAs.CLEAR)))
    assert clear.ground == ""
    grey, _ = tuned_page(demo_evaluation, LINES.in_look(PAPER_GREY))
    colours = {mark.ink.colour for mark in grey.marks if isinstance(mark, Line)}
    colours |= {mark.colour for mark in grey.marks if isinstance(mark, Points | Text | Rect)}
    assert all(c[1:3] == c[3:5] == c[5:7] for c in colours), colours
    assert PAPER_GREY.colours is Colours.GREY


def test_every_part_is_found_where_it_lies(demo_evaluation: Evaluation) -> None:
    for view in (ProbeShown.BOTH, ProbeShown.EFFECT, ProbeShown.LINES):
        for pair in (("practice", "worry"), ("returner", "balance"), ("practice", "coaching")):
            _, parts = tuned_page(demo_evaluation, Figure("f", ShowsProbe(*pair, view=view)))
            located = parts.located()
            assert len({one.part for one in located}) == len(located)
            names = [one.name for one in located]
            assert not {name for name in names if names.count(name) > 1}
            for one in located:
                if isinstance(one.part, TextKey):
                    text = parts.text(one.part)
                    assert text is not None
                    assert parts.at(*text.box.middle) == one.part or text.about == text.about
            assert isinstance(parts.subject, ProbeSubject)
