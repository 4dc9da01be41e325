"""Figures drawn by lot: of what a study shows, tuned in every way that somebody could."""

from __future__ import annotations

import random

from yellow_slope.core.data.variable import Kind
from yellow_slope.core.study.checks import Check
from yellow_slope.core.study.figures import (
    READY_LOOKS,
    READY_SIZES,
    AxisKey,
    AxisTuning,
    CasesAs,
    Figure,
    FigureSize,
    GroundAs,
    Hue,
    LegendAs,
    LineKey,
    LineOf,
    LineTuning,
    Live,
    Marker,
    Pane,
    Parts,
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
    pieces_of,
)
from yellow_slope.core.study.probe import Probe
from yellow_slope.core.study.study import Study
from yellow_slope.values import replace

VIEWS = list(ProbeShown)
"""Of which views of a probe figures are drawn."""


def drawn_shown(rng: random.Random, study: Study, probe: Probe) -> Shown:
    """What a figure may show."""
    groups = [v.name for v in study.variables if v.kind is Kind.GROUP] or [study.variables[0].name]
    models = [None, None, *(m.id for m in study.models)]
    every: list[Shown] = [
        ShowsProbe.of(probe, rng.choice(VIEWS)),
        ShowsProbe.of(probe, rng.choice(VIEWS)),
        ShowsCheck(rng.choice(list(Check)), rng.choice(models)),
        ShowsSteps(rng.choice(models)),
        ShowsGroup(rng.choice(groups), rng.choice(models)),
    ]
    return rng.choice(every)


def drawn_line(rng: random.Random, study: Study) -> LineKey:
    """A line that may be there or not."""
    variable = rng.choice(study.variables)
    if variable.kind is Kind.GROUP and variable.levels:
        return LineKey(LineOf.LEVEL, variable.name, rng.choice(variable.levels).code)
    return LineKey(rng.choice([LineOf.PLACE, LineOf.COMPARISON]), variable.name, str(rng.randint(1, 3)))


def drawn_figure(rng: random.Random, study: Study, shows: Shown, name: str = "a figure") -> Figure:
    """A figure with a look, a size and this and that said otherwise."""
    size = rng.choice([*READY_SIZES.values(), FigureSize(12.0), FigureSize(17.5, 11.0)])
    figure = Figure(name, shows, rng.choice(READY_LOOKS), size)
    if rng.random() < 0.4:
        figure = replace(figure, letters=rng.choice([7.0, 10.0, 12.0]))
    for _ in range(rng.randint(0, 4)):
        figure = tuned(rng, study, figure)
    return figure


def tuned(rng: random.Random, study: Study, figure: Figure) -> Figure:
    """One thing said otherwise."""
    pane = rng.choice([Pane.LINES, Pane.EFFECT, Pane.CHECK, Pane.MEANS, Pane.STEPS])
    line = drawn_line(rng, study)
    words = rng.choice(["Hours of gliding", "a name as long as anybody would ever write on it", "x", None])
    match rng.randrange(8):
        case 0:
            key = TextKey(rng.choice([Role.X_TITLE, Role.Y_TITLE]), pane)
            return figure.with_text(key, TextTuning(words, italic=rng.choice([None, True])))
        case 1:
            return figure.with_text(TextKey(Role.LINE, line=line), TextTuning(words))
        case 2:
            look = LineTuning(rng.choice(list(Hue)), rng.choice(list(Pattern)), rng.choice([None, 0.8, 2.5]))
            return figure.with_line(line, replace(look, marker=rng.choice(list(Marker)), first=rng.random() < 0.3))
        case 3:
            said = AxisTuning(decimals=rng.choice([None, 0, 2]), zero=rng.choice([None, True]))
            return figure.with_axis(AxisKey(pane, rng.random() < 0.5), said)
        case 4:
            parts = Parts(rng.choice([None, 0.0, 0.4]), rng.choice([None, *CasesAs]), rng.random() < 0.3)
            return replace(figure, parts=replace(parts, region=rng.choice([None, *RegionAs])))
        case 5:
            ground, legend = rng.choice(list(GroundAs)), rng.choice(list(LegendAs))
            at = rng.choice([None, (0.1, 0.1), (2.0, -3.0)])
            return replace(figure, parts=replace(figure.parts, ground=ground, legend=legend, box_at=at))
        case 6:
            return replace(figure, title=words, heading=words, alternative=words)
        case _:
            pieces = pieces_of(Live.OUTCOME, " of ", Live.N, " learners; ", rng.choice(list(Live)))
            return replace(figure, caption=rng.choice([None, pieces]))
