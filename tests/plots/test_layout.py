"""Every plot of every study is sound: nothing lies upon another, leaves the page, stands upright or is cut unsaid."""

from __future__ import annotations

from itertools import combinations_with_replacement

import numpy as np
import pytest

from tests.support.pages import faults
from tests.support.seeds import few
from tests.support.worlds import study_of
from yellow_slope.app.prepare.lookedat import look_at
from yellow_slope.app.probe.room import placed
from yellow_slope.core.data.variable import Kind
from yellow_slope.core.errors import YellowSlopeError
from yellow_slope.core.fit.asked.histograms import bars_of
from yellow_slope.core.fit.asked.summaries import Portrait, level_summaries, number_summary, portrait_of
from yellow_slope.core.fit.fitted.evaluate import evaluate
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.probe.probing import probe_fit
from yellow_slope.core.probe.seen import AtPlace, Seen, Sight
from yellow_slope.core.stand.checked import checked
from yellow_slope.core.stand.standing import ProductAsked, stand_of
from yellow_slope.core.study.checks import Check
from yellow_slope.core.study.edits.descriptions import describe
from yellow_slope.core.study.edits.entries import treat
from yellow_slope.core.study.figures import Pane
from yellow_slope.core.study.probe import Compared, EffectUnit, Probe, Second, Smallest
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.treatment import AS_IS, STANDARDIZED
from yellow_slope.core.words.sentences.figures import plain_figure
from yellow_slope.plots.checks import can_be_drawn, check_page, why_not_drawn
from yellow_slope.plots.extras import NOTHING, Extras
from yellow_slope.plots.figures import layout
from yellow_slope.plots.handle import handle
from yellow_slope.plots.look import PRINT, SCREEN
from yellow_slope.plots.marks import Box, Page
from yellow_slope.plots.portraits import levels_height, levels_page, portrait_page
from yellow_slope.plots.probeplots import beside, beside_effect, on_screen, stacked
from yellow_slope.plots.rivals import stand_page
from yellow_slope.plots.strip import BeforeAndAfter, Noted, Scaled, strip_page
from yellow_slope.values import replace

pytestmark = pytest.mark.no_cover  # what it runs through others run through

WORDS = ["glide", "edge", "x", "hours", "perceived", "carefulness", "in", "the", "hall", "Überschwung", "of", "B", "10"]
UNITS = ["", "points", "h", "metres per second and hour"]
"""The last is as long as anybody would write."""


def name_of(rng: np.random.Generator, most: int = 60) -> str:
    """A name of up to so many letters; one in four of a single word."""
    if rng.random() < 0.25:
        return "W" * int(rng.integers(1, most + 1))
    length, words = int(rng.integers(1, most + 1)), ""
    while len(words) < length:
        words = f"{words} {rng.choice(WORDS)}".strip()
    return words[:length].strip() or "x"


def world(seed: int) -> Study:
    """A study of two numbers and two groups with all their products, of names and sizes that nobody would wish for."""
    rng = np.random.default_rng(seed)
    n = int(rng.integers(120, 260))
    k, m = int(rng.integers(2, 13)), int(rng.integers(2, 5))
    scale = 10.0 ** rng.integers(-9, 10, size=3)
    shift = rng.choice([0.0, 0.0, 1.0, 1e4], size=3)
    x, w = (scale[i] * (rng.normal(size=n) + shift[i]) for i in (0, 1))
    if rng.random() < 0.3:
        w = np.round(rng.uniform(1, 5, n))
    if rng.random() < 0.2:
        x = np.where(rng.random(n) < 0.5, 0.0, 1.0)
    g = [f"{i} {name_of(np.random.default_rng(seed * 100 + int(i)))}" for i in rng.integers(0, k, n)]
    d = [f"{i}" for i in rng.integers(0, m, n)]
    y = scale[2] * (rng.normal(size=n) + shift[2] + x / (np.std(x) or 1.0))
    study = study_of({"x": x, "w": w, "g": g, "d": d, "y": y}, "y", "x, w, g, d; x*w, x*g, w*g, g*d, x*w*g")
    for name in ("x", "w", "g", "d", "y"):
        unit = str(rng.choice(UNITS)) if name in "xwy" else ""
        study = describe(study, name, label=name_of(rng), unit=unit)
    return study


def sights(study: Study, rng: np.random.Generator) -> list[Sight]:
    """What can be seen of every probe of the study."""
    fit = evaluate(study).fit
    assert isinstance(fit, Fit)
    found: list[Sight] = []
    pairs = [*combinations_with_replacement(("x", "w", "g", "d"), 2)]
    for a, b in [*pairs, *((b, a) for a, b in pairs if a != b)]:
        others = [n for n in ("x", "w", "g") if n not in (a, b)]
        second = Second(others[0]) if len(others) == 1 and rng.random() < 0.6 else None
        smallest = Smallest(float(rng.choice([0.05, 0.3])), EffectUnit.SD) if rng.random() < 0.3 else None
        compared = Compared(str(rng.choice([c.value for c in Compared])))
        unit = EffectUnit(str(rng.choice([u.value for u in EffectUnit])))
        asked = Probe(a, b, second=second, smallest=smallest, compared=compared, unit=unit)
        try:
            probed = probe_fit(study, fit, asked)
        except YellowSlopeError:
            continue
        panel = int(rng.integers(len(probed.panels)))
        focus = int(rng.integers(len(probed.panels[panel].foci)))
        found.append(Sight.of(probed, Seen(panel, focus, AtPlace(0))))
    return found


def on_every_screen(study: Study, sight: Sight, rng: np.random.Generator) -> list[Page]:
    """The probe as it stands in a small, a usual and a wide window, with each view, its handle laid over."""
    pages = []
    moved = tuple(np.random.default_rng(1).uniform(-1, 1, 20))
    for width, height in ((743, 430), (1020, 520), (1660, 780)):
        room = placed(sight.probed, width, height).room
        for view in beside_effect(sight.probed):
            extras = Extras(moved, moved) if rng.random() < 0.5 else NOTHING
            page = on_screen(study, sight, SCREEN, width, height, room, view, extras)
            pages.append(with_handle(study, sight, page))
    return pages


def with_handle(study: Study, sight: Sight, page: Page) -> Page:
    return Page(page.width, page.height, (*page.marks, *handle(study, sight, SCREEN, page)), page.frames)


@pytest.mark.no_cover
@pytest.mark.parametrize("seed", range(few(4, 20)))
def test_nothing_overlaps_leaves_the_page_or_is_cut_unsaid(seed: int) -> None:
    study, rng = world(seed), np.random.default_rng(10_000 + seed)
    seen = sights(study, rng)
    assert len(seen) >= 10
    for sight in seen:
        width, height = float(rng.integers(240, 900)), float(rng.integers(160, 600))
        for page in (
            beside(study, sight, PRINT, 2 * width, height),
            stacked(study, sight, SCREEN, width * SCREEN.unit, 2 * height * SCREEN.unit, 12.0),
            with_handle(study, sight, beside(study, sight, SCREEN, 2 * width * 1.4, height * 1.4, 12.0, handle=True)),
        ):
            wrong = faults(page)
            assert not wrong, f"{sight.probed.probe} at {width} x {height}: {wrong}"
            assert page.frame(Pane.EFFECT) is not None
        for page in (layout(*plain_figure(study, sight)), *on_every_screen(study, sight, rng)):
            wrong = faults(page)
            assert not wrong, f"{sight.probed.probe}, {page.width} x {page.height}: {wrong}"


@pytest.mark.no_cover
@pytest.mark.parametrize("seed", range(few(4, 20)))
def test_checks_portraits_and_strips_are_sound(seed: int) -> None:
    study, rng = world(seed), np.random.default_rng(20_000 + seed)
    fit = evaluate(study).fit
    assert isinstance(fit, Fit)
    for step in range(len(fit.steps)):
        products = [t for t in study.model.active_terms if t.is_product and (study.model.step_of(t) or 0) <= step]
        asked = ProductAsked(products[-1]) if products else None
        found = checked(study, fit, step, asked)
        stand = stand_of(study, fit, step, asked) if asked is not None else None
        if stand is not None:
            assert not faults(stand_page(study, fit, stand, SCREEN, float(rng.integers(420, 900)), 300.0))
        for check in Check:
            for by in (None, *fit.design.bases) if check is Check.SPREAD else (None,):
                width, height = float(rng.integers(240, 900)), float(rng.integers(160, 600))
                if not can_be_drawn(check, found, stand, by):
                    assert why_not_drawn(check, found)
                    continue
                size = (width * SCREEN.unit, height * SCREEN.unit)
                if check is not Check.STAND:
                    assert not faults(check_page(check, found, stand, SCREEN, *size, by=by)), check
                less = replace(SCREEN, text=10.5)
                assert not faults(check_page(check, found, stand, less, 236, 152, small=True, by=by)), check
    small = replace(SCREEN, text=11)
    for name in ("x", "w", "y"):
        assert not faults(portrait_page(portrait_of(study, name), small, float(rng.integers(200, 300)), 104))
        variable = study.variable(name)
        for treatment in (AS_IS, STANDARDIZED) if variable.kind is Kind.NUMBER else ():
            looked = look_at(treat(study, [name], treatment), None, variable)
            bars = looked.coordinates
            assert bars is not None
            scales = (
                Scaled(0.0, 1.0, variable.many, False),
                Scaled(looked.basis.center, looked.basis.scale, "as it enters", True),
            )
            noted = tuple(Noted(q, "¼½¾"[i]) for i, q in enumerate(portrait_of(study, name).rest.quartiles))
            drawn = BeforeAndAfter(bars.low, bars.high, bars, None, True, noted, scales, looked.basis.center)
            width = float(rng.integers(240, 700))
            assert not faults(strip_page(drawn, replace(SCREEN, text=12.5), width + 100, 132, Box(60, 12, width, 74)))
    for group in ("g", "d"):
        positions = study.columns.levels(group)
        levels = level_summaries(positions, len(study.variable(group).levels), study.columns.numbers("y"), 0.95)
        names = [level.label for level in study.variable(group).levels]
        look = replace(SCREEN, text=12)
        assert not faults(levels_page(names, levels, look, 240, levels_height(look, len(names))))


def test_codes_for_missing_stand_beyond_a_break_each_with_room_for_itself() -> None:
    bars = bars_of(np.arange(20.0))
    summary = number_summary(np.arange(20.0))
    apart = ((-99.0, 12), (999999.0, 1234), (-9.0, 1))
    page = portrait_page(Portrait(summary, summary, bars, apart), replace(SCREEN, text=11), 236, 104)
    assert not faults(page)
    assert {"−99", "999999", "−9", "1,234"} <= {text.text for text in page.texts}
