"""What is wrong with a page: texts upon each other, beyond its edge, turned or cut."""

from __future__ import annotations

from itertools import combinations

import numpy as np

from yellow_slope.core.words.spelling.shortening import ELLIPSIS
from yellow_slope.plots.marks import Area, Box, Line, Mark, Page, Part, Points, Rect, Rects, Text

HAIR = 0.6
"""Points that letters of two texts may share: their boxes are a little larger than they."""


def faults(page: Page) -> list[str]:
    """Every fault, in words; empty for a sound page."""
    found = [f"{a.text!r} lies upon {b.text!r}" for a, b in combinations(page.texts, 2) if a.box.overlaps(b.box, HAIR)]
    whole = Box(0.0, 0.0, page.width, page.height)
    for mark in page.marks:
        reach = _reach(mark)
        if reach is not None and not _within(reach, whole):
            found.append(f"{_name(mark)} leaves the page: {tuple(round(v, 1) for v in reach)}")
    for text in page.texts:
        if text.upright and text.about is not Part.TITLE_Y:
            found.append(f"{text.text!r} stands upright")
        if ELLIPSIS in text.text and not text.whole:
            found.append(f"{text.text!r} is cut and nobody knows from what")
        if not text.text.strip():
            found.append("a text is empty")
    for part in (Part.AXIS_X, Part.AXIS_Y):
        for frame_texts in _rows(page, part):
            if len(set(frame_texts)) < len(frame_texts):
                found.append(f"repeated on an axis: {frame_texts}")
    return found


def _rows(page: Page, part: Part) -> list[list[str]]:
    """Texts of an axis that stand in one row (or column of one right end)."""
    rows: dict[tuple[float, int], list[str]] = {}
    for text in page.texts:
        if text.about is part and not text.upright:
            key = round(text.y, 1) if part is Part.AXIS_X else round(text.box.right, 1)
            side = next((i for i, f in enumerate(page.frames) if f.room.holds(*text.box.middle, 2.0)), -1)
            rows.setdefault((key, side), []).append(text.text)
    return list(rows.values())


def _within(box: Box, whole: Box) -> bool:
    return (
        box.left >= whole.left - HAIR
        and box.top >= whole.top - HAIR
        and box.right <= whole.right + HAIR
        and box.bottom <= whole.bottom + HAIR
    )


def _reach(mark: Mark) -> Box | None:
    match mark:
        case Rect():
            return mark.box
        case Text():
            return mark.box
        case Rects():
            return _around(mark.boxes.reshape(-1, 2), None) if mark.boxes.size else None
        case Line() | Area() | Points():
            return _around(mark.points, mark.clip)


def _around(points: np.ndarray, clip: Box | None) -> Box | None:
    there = points[np.all(np.isfinite(points), axis=1)]
    if not there.size:
        return None
    (left, top), (right, bottom) = there.min(axis=0), there.max(axis=0)
    if clip is None:
        return Box(left, top, right, bottom)
    return Box(max(left, clip.left), max(top, clip.top), min(right, clip.right), min(bottom, clip.bottom))


def _name(mark: Mark) -> str:
    return repr(mark.text) if isinstance(mark, Text) else f"{type(mark).__name__} of {mark.about}"
