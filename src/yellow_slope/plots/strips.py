"""Region strips: for each effect a thin band along the moderator, washed where it is told apart from 0, with its sign
and its boundaries; or where it matters, where it is too small, and where that is open."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise

import numpy as np

from yellow_slope.core.fit.design.bases import NumberBasis
from yellow_slope.core.probe.mattering import Size
from yellow_slope.core.probe.seen import Sight
from yellow_slope.core.study.figures import Pane
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.sentences.sizes import size_sign, together_name
from yellow_slope.core.words.spelling.numerals import place
from yellow_slope.plots.axes import Scale, axes, ground, span
from yellow_slope.plots.boundaries import hatched
from yellow_slope.plots.curves import DrawnCurve, drawn_curves
from yellow_slope.plots.look import LineLook, Look
from yellow_slope.plots.marks import About, Box, Frame, Line, Mark, OfSize, OfTogether, Part, Plot, Rect, Text, Weight
from yellow_slope.plots.measuring import ASCENT, DESCENT, text_width
from yellow_slope.plots.placing import fitted_names, line_height
from yellow_slope.plots.titles import number_title
from yellow_slope.values import dataclass, replace

ROW = 1.36
"""Height of a strip, in sizes of its letters."""
BETWEEN = 0.22
NAMES = 0.45
"""The largest share of the width that names beside strips alone may take."""


@dataclass(frozen=True, slots=True)
class Piece:
    """A stretch of a strip, within the observed range."""

    low: float
    high: float
    sign: str
    """What stands in it; empty where nothing is shown."""
    is_told: bool
    is_small: bool = False
    about: About | None = None


@dataclass(frozen=True, slots=True)
class Strip:
    """A band along the moderator."""

    name: str
    pieces: tuple[Piece, ...]
    about: About
    look: LineLook | None
    is_seen: bool


def strips_of(study: Study, sight: Sight, curves: Sequence[DrawnCurve]) -> list[Strip]:
    """One for each curve where there are several, then those of several comparisons together; of a single effect only
    where a smallest effect was said."""
    moderator = sight.probed.moderator
    if not isinstance(moderator, NumberBasis):
        return []
    found: list[Strip] = []
    by_size = sight.probed.smallest is not None
    if len(curves) > 1 or by_size:
        for curve in curves:
            pieces = _sized(sight, curve) if by_size else _told(sight, curve)
            if pieces:
                name = curve.name if len(curves) > 1 else "how large"
                look = curve.look if len(curves) > 1 else None
                found.append(Strip(name, pieces, curve.about, look, curve.is_seen and len(curves) > 1))
    if not by_size:
        focal = study.variable(sight.probed.probe.focal).label
        for i, together in enumerate(sight.panel.together):
            pieces = tuple(
                Piece(*_clipped(moderator, r.low, r.high), "" if not r.sign else "•", bool(r.sign))
                for r in together.within
            )
            found.append(Strip(together_name(together.of, focal), pieces, OfTogether(i), None, False))
    return found


def _told(sight: Sight, curve: DrawnCurve) -> tuple[Piece, ...]:
    moderator = sight.probed.moderator
    if curve.regions is None or not isinstance(moderator, NumberBasis):
        return ()
    return tuple(
        Piece(*_clipped(moderator, r.low, r.high), {1: "+", -1: "−", 0: ""}[r.sign], bool(r.sign))
        for r in curve.regions.within
    )


def _sized(sight: Sight, curve: DrawnCurve) -> tuple[Piece, ...]:
    moderator = sight.probed.moderator
    if curve.mattering is None or not isinstance(moderator, NumberBasis):
        return ()
    return tuple(
        Piece(
            *_clipped(moderator, s.low, s.high),
            size_sign(s.size),
            s.size in (Size.ABOVE, Size.BELOW),
            s.size is Size.SMALL,
            OfSize(i) if curve.is_seen else None,
        )
        for i, s in enumerate(curve.mattering.within)
    )


def _clipped(moderator: NumberBasis, low: float, high: float) -> tuple[float, float]:
    return max(low, moderator.low), min(high, moderator.high)


def kept_strips(look: Look, strips: Sequence[Strip], height: float) -> tuple[list[Strip], int]:
    """The strips that have room in a height, and how many more there are: those of several comparisons together and the
    one that is seen before the others."""
    room = max(1, int(height / ((ROW + BETWEEN) * look.small)))
    if len(strips) <= room:
        return list(strips), 0
    first = [i for i, s in enumerate(strips) if s.is_seen or isinstance(s.about, OfTogether)]
    others = [i for i in range(len(strips)) if i not in first]
    kept = sorted([*first, *others][: max(1, room - 1)])
    return [strips[i] for i in kept], len(strips) - len(kept)


def strip_height(look: Look, count: int) -> float:
    """The height that so many strips take."""
    return count * (ROW + BETWEEN) * look.small + (look.of(2) if count else 0.0)


def draw_strips(
    look: Look, sight: Sight, strips: Sequence[Strip], undrawn: int, frame: Frame, names: Box
) -> list[Mark]:
    """The strips from the top of a frame; their names at the right, within a box. undrawn: how many more there are."""
    moderator, marks, size = sight.probed.moderator, list[Mark](), look.small
    assert isinstance(moderator, NumberBasis)
    p, tall = look.palette, ROW * size
    shown = fitted_names([strip.name for strip in strips], names.width, size)
    top = frame.area.top + look.of(2)
    for strip, name in zip(strips, shown):
        bottom = top + tall
        left, right = (float(frame.at_x(v)) for v in (moderator.low, moderator.high))
        marks.append(Rect(Box(left, top, right, bottom), p.pressed, strip.about))
        for piece in strip.pieces:
            marks += _piece(look, frame, piece, top, bottom, piece.about or strip.about)
        marks += _bounds(look, frame, strip, moderator.sd, top, bottom)
        if strip.is_seen:
            corners = np.array([[left, top], [right, top], [right, bottom], [left, bottom], [left, top]])
            marks.append(Line(corners, look.ink(p.ink, 1.1), strip.about))
        baseline = (top + bottom) / 2 + (ASCENT - DESCENT) / 2 * size
        start = names.left
        if strip.look is not None:
            at = (top + bottom) / 2
            key = np.array([[start, at], [start + look.of(12), at]])
            marks.append(Line(key, look.line_ink(strip.look, 1.9), strip.about))
        weight = Weight.BOLD if strip.is_seen else Weight.NORMAL
        room = names.width - look.of(16)
        if look.own.names_below and strip.look is not None:
            top = bottom + BETWEEN * size
            continue
        text = (
            name if text_width(name, size, strip.is_seen) <= room else fitted_names([strip.name], room, size, True)[0]
        )
        whole = strip.name if text != strip.name else ""
        marks.append(Text(text, start + look.of(15), baseline, size, p.ink, strip.about, weight, whole=whole))
        top = bottom + BETWEEN * size
    if undrawn:
        baseline = top + tall / 2 + (ASCENT - DESCENT) / 2 * size
        whole = f"{undrawn} more, not drawn"
        said = next((t for t in (whole, f"{undrawn} more") if text_width(t, size) <= names.width), "")
        if said:
            cut = whole if said != whole else ""
            marks.append(Text(said, names.left, baseline, size, p.soft_ink, Part.LEFT_OUT, whole=cut))
    return marks


def _piece(look: Look, frame: Frame, piece: Piece, top: float, bottom: float, about: About) -> list[Mark]:
    left, right = (float(frame.at_x(v)) for v in (piece.low, piece.high))
    if not right > left:
        return []
    p, size, marks = look.palette, look.small, list[Mark]()
    if piece.is_told:
        marks.append(Rect(Box(left, top, right, bottom), look.strong_wash, about))
    if piece.is_small:
        marks += hatched(look, Box(left, top, right, bottom), p.soft_ink, about)
    if piece.sign and text_width(piece.sign, size, bold=True) + look.of(4) < right - left:
        wide = text_width(piece.sign, size, bold=True)
        at = (left + right) / 2 - wide / 2
        baseline = (top + bottom) / 2 + (ASCENT - DESCENT) / 2 * size
        if piece.is_small:
            half = line_height(size) / 2
            middle = (top + bottom) / 2
            ground = Box(at - look.of(2), middle - half, at + wide + look.of(2), middle + half)
            marks.append(Rect(ground, p.pressed, about))
        marks.append(Text(piece.sign, at, baseline, size, p.ink, about, Weight.BOLD))
    return marks


def _bounds(look: Look, frame: Frame, strip: Strip, sd: float, top: float, bottom: float) -> list[Mark]:
    """Boundaries as ticks, each with its value where there is room beside it."""
    marks, size, p = list[Mark](), look.small, look.palette
    pieces = strip.pieces
    for k, (piece, after) in enumerate(pairwise(pieces)):
        x = float(frame.at_x(piece.high))
        marks.append(Line(np.array([[x, top], [x, bottom]]), look.ink(p.ink, 1.2), strip.about))
        text = place(piece.high, sd)
        wide = text_width(text, size) + look.of(5)
        baseline = (top + bottom) / 2 + (ASCENT - DESCENT) / 2 * size
        for side, room in ((1, after), (-1, piece)):
            if room.is_small:
                continue
            span = float(frame.at_x(room.high)) - float(frame.at_x(room.low))
            sign = text_width(room.sign, size, bold=True) + look.of(6) if room.sign else 0.0
            # The sign stands in the middle of its piece; another boundary's value may stand at its far end.
            taken = wide if (side == 1 and k + 2 < len(pieces)) or (side == -1 and k > 0) else 0.0
            if span / 2 - sign / 2 < wide or span - sign < wide + taken:
                continue
            at = x + look.of(3) if side == 1 else x - wide + look.of(2)
            marks.append(Text(text, at, baseline, size, p.ink, strip.about))
            break
    return marks


# ---- strips alone


def can_be_stripped(sight: Sight) -> bool:
    """Whether there are strips to draw: along a number, where effects have regions."""
    if not isinstance(sight.probed.moderator, NumberBasis):
        return False
    return any(f.regions is not None and f.regions.within for panel in sight.probed.panels for f in panel.foci)


def _all_strips(study: Study, sight: Sight, look: Look) -> list[Strip]:
    curves, _ = drawn_curves(study, sight, look)
    found = strips_of(study, sight, curves)
    if found or not curves:
        return found
    pieces = _told(sight, curves[0])
    return [Strip("effect", pieces, curves[0].about, None, False)] if pieces else []


def strips_height(study: Study, sight: Sight, look: Look) -> float:
    """The height that suits the strips with their axis."""
    return strip_height(look, max(1, len(_all_strips(study, sight, look)))) + 5.2 * look.text


def strips_plot(study: Study, sight: Sight, look: Look, room: Box) -> Plot:
    """The strips alone, over the moderator's axis, with their names at the right."""
    moderator = sight.probed.moderator
    assert isinstance(moderator, NumberBasis)
    strips = [replace(strip, is_seen=False) for strip in _all_strips(study, sight, look)]
    kept, undrawn = kept_strips(look, strips, room.height - 4.6 * look.text)
    widest = max((text_width(s.name, look.text, bold=True) + look.of(28) for s in kept), default=0.0)
    x = Scale(*span(moderator.low, moderator.high), number_title(study, moderator))
    y = Scale(0.0, 1.0, has_ticks=False, has_line=False)
    right = min(max(look.of(14), widest), NAMES * room.width)
    made = axes(look, room, x, y, Pane.STRIPS, right, look.of(6), look.of(14))
    area = made.frame.area
    names = Box(area.right + look.of(9), area.top, room.right - look.of(3), area.bottom)
    marks = draw_strips(look, sight, kept, undrawn, made.frame, names)
    return Plot((made.frame,), (ground(look, room), *marks, *made.marks))
