"""Lights: everything on a page that stands for one thing, drawn once more over it."""

from __future__ import annotations

from yellow_slope.plots.look import Look
from yellow_slope.plots.marks import (
    About,
    Area,
    Ink,
    Line,
    Mark,
    OfBoundary,
    OfDifference,
    OfFocus,
    OfGroup,
    OfLine,
    OfPanel,
    OfPlace,
    OfRegion,
    OfSize,
    OfTogether,
    Page,
    Points,
    Rect,
    Rects,
    Text,
    Weight,
)

LIGHTED = (OfLine, OfPlace, OfFocus, OfDifference, OfGroup, OfPanel, OfBoundary, OfRegion, OfSize, OfTogether)
"""What can be lit."""


def lit_marks(page: Page, about: About, look: Look) -> list[Mark]:
    """The marks that stand for one thing, stronger."""
    found: list[Mark] = []
    p = look.palette
    for mark in page.marks:
        if mark.about != about:
            continue
        match mark:
            case Line(points, ink, _, clip):
                found.append(Line(points, Ink(p.yellow, ink.width + look.of(3.2), (), 0.75), about, clip))
                found.append(mark)
            case Points(points, shape, size, colour, _, _, _, clip):
                found.append(Points(points, shape, size * 1.5, colour, about, 1.0, look.ink(p.yellow, 2.0), clip))
            case Rect(box, _, _, _, _, radius):
                found.append(Rect(box, p.yellow, about, 0.0, look.ink(p.amber_ink, 1.2), radius))
            case Text():
                found.append(
                    Text(mark.text, mark.x, mark.y, mark.size, p.ink, about, Weight.BOLD, mark.italic, mark.upright)
                )
            case Area() | Rects():
                pass
    return found
