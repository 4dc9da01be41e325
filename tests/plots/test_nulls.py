"""A filled point is one whose interval leaves out 0, a hollow one includes it: read off the marks of every plot."""

from __future__ import annotations

import pytest

from tests.support.worlds import fit_of, noise_world, study_of, term
from yellow_slope.core.fit.fitted.steps import Coefficient
from yellow_slope.core.probe.probing import probe_fit
from yellow_slope.core.probe.seen import Seen, Sight
from yellow_slope.core.stand.checked import checked
from yellow_slope.core.stand.standing import ProductAsked, stand_of
from yellow_slope.core.study.checks import Check
from yellow_slope.core.study.probe import Probe
from yellow_slope.core.study.study import Study
from yellow_slope.looks import DARK
from yellow_slope.plots.checks import check_page
from yellow_slope.plots.look import PRINT, SCREEN, Look
from yellow_slope.plots.marks import Box, OfDifference, OfPlace, OfRival, OfStep, Points
from yellow_slope.plots.probeplots import beside
from yellow_slope.plots.rivals import small_stand, stand_page
from yellow_slope.plots.steps import steps_plot
from yellow_slope.values import replace

LOOKS = {"print": PRINT, "screen": SCREEN, "dark": replace(SCREEN, palette=DARK)}
SEEDS = range(3)


def world(seed: int) -> Study:
    return study_of(noise_world(seed, 120), "y", "x, w, z, g, d; x*w, x*g, z*g")


def is_filled(mark: Points, look: Look) -> bool:
    """Whether it is of one colour; its edge always is that of the point."""
    assert mark.edge is not None
    assert mark.edge.colour != look.palette.panel
    assert mark.colour in (look.palette.panel, mark.edge.colour)
    return mark.colour != look.palette.panel


def leaves_out(low: float, high: float) -> bool:
    return bool(low > 0 or high < 0)


@pytest.mark.parametrize("look", LOOKS.values(), ids=LOOKS)
@pytest.mark.parametrize("seed", SEEDS)
def test_coefficients_over_the_steps(seed: int, look: Look) -> None:
    study = world(seed)
    fit, seen = fit_of(study), set()
    for mark in steps_plot(study, fit, look, Box(0, 0, 700, 500)).marks:
        if isinstance(mark, Points) and isinstance(mark.about, OfStep):
            step, i = fit.steps[mark.about.step], mark.about.column + 1
            seen.add(leaves_out(step.low[i], step.high[i]))
            assert is_filled(mark, look) is leaves_out(step.low[i], step.high[i])
    assert seen == {True, False}


@pytest.mark.parametrize("look", LOOKS.values(), ids=LOOKS)
@pytest.mark.parametrize("seed", SEEDS)
def test_effects_in_groups_and_their_differences(seed: int, look: Look) -> None:
    seen = set()
    study = world(seed)
    for probe in (Probe("x", "g"), Probe("z", "g")):
        probed = probe_fit(study, fit_of(study), probe)
        focus = probed.panels[0].foci[0]
        for mark in beside(study, Sight(probed, Seen()), look, 900, 600).marks:
            if not isinstance(mark, Points) or mark.edge is None:
                continue
            match mark.about:
                case OfPlace(i):
                    effect = focus.effects[i]
                case OfDifference(i):
                    effect = focus.differences[i].effect
                case _:
                    continue
            seen.add((type(mark.about), leaves_out(effect.low, effect.high)))
            assert is_filled(mark, look) is leaves_out(effect.low, effect.high)
    assert {kind for kind, _ in seen} == {OfPlace, OfDifference}
    assert {apart for _, apart in seen} == {True, False}


@pytest.mark.parametrize("look", LOOKS.values(), ids=LOOKS)
@pytest.mark.parametrize("product", ["x*w", "x*g", "z*g"])
def test_a_product_in_the_model_and_in_each_check(product: str, look: Look) -> None:
    study = world(1)
    fit = fit_of(study)
    stand = stand_of(study, fit, 1, ProductAsked(term(product)))
    for page in (stand_page(study, fit, stand, look, 800, 700), small_stand(stand, look, 160, 120)):
        each: dict[int, list[bool]] = {}
        for mark in page.marks:
            if isinstance(mark, Points) and isinstance(mark.about, OfRival):
                each.setdefault(mark.about.index, []).append(is_filled(mark, look))
        assert each[-1] == wanted(stand.base.columns)
        for index, drawn in each.items():
            if index >= 0:
                assert drawn == wanted(stand.rows[index].standing.columns)[: len(drawn)]


def wanted(columns: tuple[Coefficient, ...]) -> list[bool]:
    return [leaves_out(c.low, c.high) for c in columns]


@pytest.mark.parametrize("look", LOOKS.values(), ids=LOOKS)
@pytest.mark.parametrize("seed", SEEDS)
def test_thirds_of_the_moderator(seed: int, look: Look) -> None:
    study = world(seed)
    found = checked(study, fit_of(study), 1, ProductAsked(term("x*w")))
    assert found.straight is not None
    page = check_page(Check.STRAIGHT, found, None, look, 500, 400)
    drawn = [m for m in page.marks if isinstance(m, Points) and isinstance(m.about, OfPlace)]
    assert len(drawn) == 3
    for mark in drawn:
        assert isinstance(mark.about, OfPlace)
        third = found.straight.thirds[mark.about.index]
        assert is_filled(mark, look) is leaves_out(*third.ends)
