"""Whether a page is sound: no text lies upon another, nothing leaves the page."""

from __future__ import annotations

import numpy as np

from yellow_slope.core.arrays import FloatArray
from yellow_slope.core.study.figures import Pane
from yellow_slope.plots.marks import Area, Frame, Line, Mark, Page, Points, Rect, Rects, Text

HAIR = 0.55
"""Points that letters of two texts may share: their boxes are a little larger than they."""
LEAST_LINES = 2.5
"""Heights of its smallest letters that a plot has at least, in both directions."""


def is_sound(page: Page) -> bool:
    """Whether all texts stand apart, all marks within the page, and what is drawn has room between its texts."""
    if not all(_has_room(page, frame) for frame in page.frames):
        return False
    boxes = page.text_boxes
    if boxes.size and (_leaves(boxes, page) or _overlap(boxes)):
        return False
    return not any(_leaves(_reach(mark), page) for mark in page.marks if _may_leave(mark, page))


def _has_room(page: Page, frame: Frame) -> bool:
    """Whether a plot is higher than a few of its letters; strips and heaps below another plot need less."""
    if frame.pane in (Pane.DISTRIBUTION, Pane.STRIPS):
        return True
    letters = min((text.size for text in page.texts), default=0.0)
    return frame.area.bottom - frame.area.top >= LEAST_LINES * letters and frame.area.width >= LEAST_LINES * letters


def _may_leave(mark: Mark, page: Page) -> bool:
    """Whether a mark could reach beyond the page: no text, and nothing that is drawn inside a frame alone."""
    if isinstance(mark, Text | Rect | Rects) or mark.clip is None:
        return not isinstance(mark, Text)
    c = mark.clip
    return c.left < 0 or c.top < 0 or c.right > page.width or c.bottom > page.height


def _overlap(boxes: FloatArray) -> bool:
    """Whether any two boxes share more than a hair."""
    left, top, right, bottom = boxes.T
    wide = np.minimum(right[:, None], right[None, :]) - np.maximum(left[:, None], left[None, :])
    high = np.minimum(bottom[:, None], bottom[None, :]) - np.maximum(top[:, None], top[None, :])
    shared = (wide > HAIR) & (high > HAIR)
    np.fill_diagonal(shared, False)
    return bool(shared.any())


def _leaves(boxes: FloatArray, page: Page) -> bool:
    """Whether any box reaches beyond the page."""
    if not boxes.size:
        return False
    left, top, right, bottom = boxes.T
    beyond = (left < -HAIR) | (top < -HAIR) | (right > page.width + HAIR) | (bottom > page.height + HAIR)
    return bool(beyond.any())


def _reach(mark: Mark) -> FloatArray:
    """Shape (1, 4) or (0, 4): what a mark covers, as far as it is drawn."""
    match mark:
        case Rect(box):
            return np.array([box])
        case Rects(boxes):
            return boxes
        case Text():
            return np.array([mark.box])
        case Line() | Area() | Points():
            there = mark.points[np.all(np.isfinite(mark.points), axis=1)]
            if not there.size:
                return np.zeros((0, 4))
            low, high = there.min(axis=0), there.max(axis=0)
            if mark.clip is not None:
                low = np.maximum(low, [mark.clip.left, mark.clip.top])
                high = np.minimum(high, [mark.clip.right, mark.clip.bottom])
            return np.array([[*low, *high]])
