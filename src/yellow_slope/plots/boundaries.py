"""Regions along a moderator: washed where the effect is told apart from 0, with their boundaries, values and words."""

from __future__ import annotations

from typing import assert_never

import numpy as np

from yellow_slope.core.fit.design.bases import NumberBasis
from yellow_slope.core.probe.seen import Sight
from yellow_slope.core.study.figures import RegionAs
from yellow_slope.core.words.sentences.effects import EffectReader
from yellow_slope.core.words.sentences.probecard import FEW
from yellow_slope.core.words.spelling.numerals import place
from yellow_slope.plots.axes import upright_line
from yellow_slope.plots.look import Look
from yellow_slope.plots.marks import About, Box, Frame, Line, Mark, OfBoundary, OfRegion, Rect, Text, Weight
from yellow_slope.plots.measuring import text_width
from yellow_slope.plots.placing import spread, with_end

HATCH = 4.0
"""Points between the lines of a hatched stretch."""


NEARLY_ALL = 0.75
"""Share of the observed range from which on it is the rest that catches the eye."""


def washes(look: Look, sight: Sight, frame: Frame, top: float | None = None, bottom: float | None = None) -> list[Mark]:
    """The stretches where the effect is told apart from 0."""
    area, marks, how = frame.area, list[Mark](), look.region_as
    for i, (low, high, sign) in enumerate(_stretches(sight)):
        low, high = max(low, frame.x[0]), min(high, frame.x[1])
        if not sign or not high > low:
            continue
        left, right = float(frame.at_x(low)), float(frame.at_x(high))
        box = Box(left, area.top if top is None else top, right, area.bottom if bottom is None else bottom)
        match how:
            case RegionAs.WASH:
                marks.append(Rect(box, look.wash, OfRegion(i)))
            case RegionAs.HATCH:
                marks += hatched(look, box, look.palette.soft_ink, OfRegion(i))
            case RegionAs.BAR:
                foot = Box(left, box.bottom - look.of(2.4), right, box.bottom)
                marks.append(Rect(foot, look.palette.amber_ink, OfRegion(i)))
            case RegionAs.BOUNDARY | RegionAs.NONE:
                pass
            case _:
                assert_never(how)
    return marks


def has_boundaries(look: Look) -> bool:
    """Whether boundaries and their values are drawn."""
    return look.region_as is not RegionAs.NONE


def has_words(look: Look) -> bool:
    """Whether regions say what they are."""
    return look.region_as not in (RegionAs.NONE, RegionAs.BOUNDARY)


def hatched(look: Look, box: Box, colour: str, about: About) -> list[Mark]:
    """Slanted lines over a box."""
    step, marks = look.of(HATCH), list[Mark]()
    x = box.left - box.height
    while x < box.right:
        a, b = max(x, box.left), min(x + box.height, box.right)
        if b > a:
            points = np.array([[a, box.bottom - (a - x)], [b, box.bottom - (b - x)]])
            marks.append(Line(points, look.ink(colour, 0.5, opacity=0.55), about))
        x += step
    return marks


def _drawn_boundaries(look: Look, sight: Sight, frame: Frame) -> list[float]:
    """The boundaries that lie on the axis."""
    found = sight.focus.regions
    if found is None or not has_boundaries(look):
        return []
    return [b for b in found.boundaries if frame.x[0] <= b <= frame.x[1]]


def boundary_lines(look: Look, sight: Sight, frame: Frame) -> list[Mark]:
    """An upright line at each boundary."""
    ink = look.ink(look.palette.ink, 1.0, (4, 3))
    return [Line(upright_line(frame, b), ink, OfBoundary(b)) for b in _drawn_boundaries(look, sight, frame)]


def _stretches(sight: Sight) -> list[tuple[float, float, int]]:
    """Low, high and sign of each region, within the observed range."""
    found, moderator = sight.focus.regions, sight.probed.moderator
    if found is None or not isinstance(moderator, NumberBasis):
        return []
    return [(max(r.low, moderator.low), min(r.high, moderator.high), r.sign) for r in found.within]


def boundary_values(look: Look, sight: Sight, frame: Frame, room: Box, baseline: float) -> list[Mark]:
    """The value of each boundary above the frame, moved apart."""
    moderator, drawn = sight.probed.moderator, _drawn_boundaries(look, sight, frame)
    if not isinstance(moderator, NumberBasis):
        return []
    texts = [place(b, moderator.sd) for b in drawn]
    gap = look.of(6)
    widths = [text_width(text, look.text, bold=True) + gap for text in texts]
    wanted = [float(frame.at_x(b)) for b in drawn]
    at = spread(wanted, widths, room.left, room.right)
    return [
        Text(
            text,
            x - (w - gap) / 2,
            baseline,
            look.text,
            look.palette.amber_ink if is_among_few(sight, b) else look.palette.ink,
            OfBoundary(b),
            Weight.BOLD,
        )
        for text, x, w, b in zip(texts, at, widths, drawn)
        if x + w / 2 <= room.right + gap
    ]


def is_among_few(sight: Sight, boundary: float) -> bool:
    """Whether hardly a case is near a boundary."""
    return sum(near.cases for near in sight.focus.support.near(boundary)) < FEW


def region_words(look: Look, read: EffectReader, sight: Sight, frame: Frame, room: Box, baseline: float) -> list[Mark]:
    """What each washed region says, above it, and where they cover nearly all what the rest says; moved apart,
    shortened where all together have no room."""
    told = [
        (i, max(low, frame.x[0]), min(high, frame.x[1]), sign)
        for i, (low, high, sign) in enumerate(_stretches(sight))
        if low < frame.x[1] and high > frame.x[0]
    ]
    washed = sum(high - low for _, low, high, sign in told if sign)
    wanted = [" ".join(read.region_parts(sight.seen.focus, sign)).strip() for _, _, _, sign in told]
    has_room = sum(text_width(text, look.small) + look.of(8) for text in wanted) <= room.width
    if not has_room or washed < NEARLY_ALL * sum(high - low for _, low, high, _ in told):
        told = [one for one in told if one[-1]]
    if not told:
        return []
    gap, size = look.of(8), look.small
    share = room.width / len(told) - gap
    parts = [read.region_parts(sight.seen.focus, sign) for _, _, _, sign in told]
    whole = [" ".join(part).strip() for part in parts]
    texts = [with_end(name, said, lambda t: text_width(t, size) <= share) for name, said in parts]
    widths = [text_width(text, size) + gap for text in texts]
    middles = [float(np.mean(frame.at_x(np.array([low, high])))) for _, low, high, _ in told]
    at = spread(middles, widths, room.left, room.right)
    return [
        Text(
            text,
            x - (w - gap) / 2,
            baseline,
            size,
            look.palette.amber_ink if sign else look.palette.soft_ink,
            OfRegion(i),
            whole=full if full != text else "",
        )
        for text, full, x, w, (i, _, _, sign) in zip(texts, whole, at, widths, told)
    ]
