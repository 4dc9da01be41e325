"""Probe: frames per second of both handles, and how often bands, regions and smallest effects are wrong by chance."""

from __future__ import annotations

import math
import time

import numpy as np
from bench_window import closed, opened
from benchtools import cases, say, settled, turns
from PyQt6.QtWidgets import QApplication

from yellow_slope.app.main import application
from yellow_slope.app.state.desk import Waypoint
from yellow_slope.core.data.table import Table, number_column, text_column
from yellow_slope.core.fit.fitted.evaluate import evaluate
from yellow_slope.core.probe.mattering import Size
from yellow_slope.core.probe.probed import Focus
from yellow_slope.core.probe.probing import probe_fit
from yellow_slope.core.study.edits.blocks import set_blocks, set_outcome
from yellow_slope.core.study.edits.probes import put_probe
from yellow_slope.core.study.figures import ProbeShown
from yellow_slope.core.study.probe import PickPoints, PickRule, Probe, RegionRule, Second, Smallest
from yellow_slope.core.study.study import Study, new_study
from yellow_slope.core.study.terms import Block, Term

CASES = 60
WORLDS = turns(4000)
SMALLEST = 1.5
PLACE = 0.6
"""Where single points are looked at."""
TERMS = ("x", "w", "x*w")


def study_of(columns: dict[str, np.ndarray | list[str]], terms: tuple[str, ...]) -> Study:
    """A study of y on terms."""
    made = [
        text_column(name, values) if isinstance(values, list) else number_column(name, values)
        for name, values in columns.items()
    ]
    study = set_outcome(new_study(Table(tuple(made))), "y")
    return set_blocks(study, [Block(tuple(Term(tuple(term.split("*"))) for term in terms))])


def frames() -> None:
    """The handle is moved with 5,000 cases: over four panels of a group, and in two directions on a map."""
    rng = np.random.default_rng(7)
    n = cases(5000)
    x, w, z = (rng.normal(size=n) for _ in range(3))
    g = ["abcd"[i] for i in rng.integers(0, 4, n)]
    y = x + 0.4 * x * w + rng.normal(size=n)
    columns: dict[str, np.ndarray | list[str]] = {"x": x, "w": w, "z": z, "g": g, "y": y}
    panels = study_of(columns, ("x", "w", "g", "x*w", "x*g", "w*g", "x*w*g"))
    over = study_of(columns, ("x", "w", "z", "x*w", "x*z", "w*z", "x*w*z"))
    asked = Probe("x", "w", second=Second("z", PickPoints(PickRule.OWN, (-1.0, -0.3, 0.3, 1.0))))
    for name, study, is_map in (
        ("the handle over four panels, 5,000 cases", panels, False),
        ("the handle of a map over four panels, 5,000 cases", put_probe(over, asked), True),
    ):
        window = opened(study, Waypoint.PROBE)
        if is_map:
            window.place.session.look(probe_view=ProbeShown.MAP)
        settled(window)
        assert len(window.place.session.probed().panels) == 4  # type: ignore[union-attr]
        count, begin = turns(120), time.perf_counter()
        for k in range(count):
            value = math.sin(k / 9)
            window.place.probe.plots.put_handle(value, math.cos(k / 7) if is_map else None)
            QApplication.processEvents()
        rate = count / (time.perf_counter() - begin)
        say(name, f"{rate:.0f} frames a second", "at least 60", rate >= 60)
        closed(window)


def slope(rng: np.random.Generator, at: float, change: float, rule: RegionRule, smallest: float | None) -> Focus:
    """The slope of x along w in a world where it is at + change·(w - PLACE)."""
    x, w = rng.normal(size=CASES), rng.normal(size=CASES)
    y = 2 + w + (at + change * (w - PLACE)) * x + rng.normal(size=CASES)
    study = study_of({"x": x, "w": w, "y": y}, TERMS)
    fit = evaluate(study).fit
    assert fit is not None
    asked = Probe("x", "w", rule=rule, smallest=None if smallest is None else Smallest(smallest))
    return probe_fit(study, fit, asked).panels[0].foci[0]


def told(focus: Focus) -> bool:
    """Whether the slope is told apart from 0 at the place."""
    assert focus.curve is not None
    effect = focus.curve.at(PLACE)
    return abs(effect.t) > focus.critical


def anywhere(focus: Focus) -> bool:
    """Whether it is told apart from 0 anywhere along the whole line."""
    assert focus.curve is not None
    assert focus.regions is not None
    observed = np.array([-1.0, 1.0])
    return any(stretch.sign for stretch in focus.curve.stretches(focus.regions.critical, observed))


def observed_anywhere(focus: Focus) -> bool:
    """Whether it is told apart from 0 at any observed value."""
    assert focus.curve is not None
    values = np.asarray(focus.support.observed, dtype=np.float64)
    return bool(np.any(np.abs(focus.curve.effect(values)) > focus.critical * focus.curve.se(values)))


def sized(focus: Focus) -> Size:
    """How large the slope is shown to be at the place."""
    assert focus.mattering is not None
    return next(s.size for s in focus.mattering.within if s.low <= PLACE <= s.high)


def rates() -> None:
    """Error rates where nothing is there to be found, beside what is promised."""
    rng = np.random.default_rng(18)
    each, whole, found = RegionRule.POINTWISE, RegionRule.SIMULTANEOUS, RegionRule.FALSE_DISCOVERY
    wrong = {
        "each point, at one place": (0.05, True, [told(slope(rng, 0.0, 0.4, each, None)) for _ in range(WORLDS)]),
        "all points at once, anywhere": (
            0.05,
            True,
            [anywhere(slope(rng, 0.0, 0.0, whole, None)) for _ in range(WORLDS)],
        ),
        "false discovery, any observed value": (
            0.05,
            False,
            [observed_anywhere(slope(rng, 0.0, 0.0, found, None)) for _ in range(WORLDS)],
        ),
    }
    at_edge = [sized(slope(rng, SMALLEST, 0.2, each, SMALLEST)) for _ in range(WORLDS)]
    wrong["too small, of an effect that just matters"] = (0.05, True, [size is Size.SMALL for size in at_edge])
    wrong["matters, of an effect that just does not"] = (
        0.025,
        True,
        [size in (Size.ABOVE, Size.BELOW) for size in at_edge],
    )
    for name, (promised, exactly, errors) in wrong.items():
        rate, two = float(np.mean(errors)), 2 * math.sqrt(promised * (1 - promised) / WORLDS)
        met = abs(rate - promised) <= two if exactly else rate <= promised + two
        aim = f"{promised} ± {two:.4f}" if exactly else f"at most {promised} + {two:.4f}"
        say(f"wrong by chance, {name}, {WORLDS:,} worlds", f"{rate:.4f}", aim, met)


def probes() -> None:
    """All of them."""
    application()
    frames()
    rates()
