"""The parts of a figure: what a mark belongs to that can be tuned, where each part lies, and what it is called."""

from __future__ import annotations

from collections.abc import Iterable
from enum import Enum, auto
from typing import assert_never

import numpy as np

from yellow_slope.core.figured.subjects import CheckSubject, GroupSubject, ProbeSubject, StepsSubject, Subject
from yellow_slope.core.fit.design.bases import GroupBasis
from yellow_slope.core.probe.seen import Sight
from yellow_slope.core.study.figures import AxisKey, LineKey, LineOf, Pane, Role, TextKey
from yellow_slope.plots.keys import focus_key, level_key, line_key, panel_key, place_key
from yellow_slope.plots.marks import (
    Area,
    Box,
    Frame,
    Line,
    Mark,
    OfBoundary,
    OfCases,
    OfCoefficient,
    OfDifference,
    OfEffect,
    OfFocus,
    OfGroup,
    OfLine,
    OfPanel,
    OfPlace,
    OfRegion,
    OnMap,
    Page,
    Part,
    Points,
    Rect,
    Rects,
    Text,
)
from yellow_slope.plots.steps import row_key
from yellow_slope.values import dataclass, replace


class Thing(Enum):
    """A part of a figure that is one of its kind."""

    BANDS = auto()
    CASES = auto()
    REGION = auto()
    KEY = auto()
    GROUND = auto()


PartRef = TextKey | LineKey | AxisKey | Thing
"""What can be chosen on a figure and tuned."""
HEAD = 1000
"""The number of the head of names among the notes of a plot; letters of panels follow it."""
LAID_OUT = (Role.X_TITLE, Role.Y_TITLE, Role.X_TICKS, Role.Y_TICKS, Role.LINE)
"""Roles whose words and sizes layouts ask for; of all others they are put in afterwards."""


def words_key(key: TextKey) -> TextKey:
    """Where the words of a text stand: of lines and panels once for all plots of a figure."""
    if key.role is Role.PANEL or key.role is Role.LINE:
        return TextKey(Role.LINE, line=key.line)
    return key


def size_key(key: TextKey) -> TextKey:
    """Where the size of a text stands: once for all texts of its role in a plot."""
    return TextKey(key.role, key.pane)


# ---- which part a mark belongs to


class Parts:
    """The parts of a page that was laid out of a subject."""

    def __init__(self, page: Page, subject: Subject) -> None:
        self.page, self.subject = page, subject
        self._located: list[Located] | None = None
        self._lying: dict[int, tuple[Box | None, Frame | None, Mark]] = {}
        """How far each mark reaches, and in which plot; with it, so that its number stays its own."""
        self._loose: dict[int, int] = {}
        """Texts that have no place of their own, by their order on the page."""
        for mark in page.marks:
            if isinstance(mark, Text) and mark.about not in (Part.HEAD, Part.LETTER):
                self._loose[id(mark)] = len(self._loose)

    def pane(self, mark: Mark) -> Pane | None:
        """In which plot a mark lies."""
        frame = self._lies(mark)[1]
        return frame.pane.of_figure if frame is not None else None

    def _lies(self, mark: Mark) -> tuple[Box | None, Frame | None, Mark]:
        """How far a mark of this page reaches, and in which plot it lies; asked several times of each."""
        known = self._lying.get(id(mark))
        if known is None:
            box = reach(mark)
            known = self._lying[id(mark)] = box, self._frame_of(box) if box is not None else None, mark
        return known

    def _frame_of(self, box: Box) -> Frame | None:
        x, y = box.middle
        frames = self.page.frames
        return next((f for f in frames if f.room.holds(x, y, 1.0)), None) or next(iter(frames), None)

    def text_key(self, text: Text) -> TextKey:
        """By what a text is known."""
        pane, about = self.pane(text), text.about
        match about:
            case Part.TITLE_X:
                return TextKey(Role.X_TITLE, pane)
            case Part.TITLE_Y:
                return TextKey(Role.Y_TITLE, pane)
            case Part.AXIS_X | Part.NAMES:
                return TextKey(Role.X_TICKS, pane)
            case Part.AXIS_Y:
                return TextKey(Role.Y_TICKS, pane)
            case Part.HEADING:
                return TextKey(Role.TITLE)
            case Part.HEAD:
                return TextKey(Role.NOTE, pane, number=HEAD)
            case Part.LETTER:
                letters = [other for other in self.page.texts if other.about is Part.LETTER]
                return TextKey(Role.NOTE, number=HEAD + 1 + next(k for k, one in enumerate(letters) if one is text))
            case OfBoundary(value):
                return TextKey(Role.BOUNDARY, pane, number=self._boundary(value))
            case OfDifference(i):
                return TextKey(Role.DIFFERENCE, pane, number=i)
            case OfRegion(i):
                return TextKey(Role.REGION, pane, number=i)
            case OfPanel(k) if pane is Pane.LINES and isinstance(self.subject, ProbeSubject):
                key = panel_key(self.subject.sight, k)
                bold = text.size >= self._largest(about)
                return TextKey(Role.PANEL, pane, key) if bold else TextKey(Role.NOTE, pane, key)
        line = self.line_key(text)
        if line is not None:
            return TextKey(Role.LINE, pane, line)
        return TextKey(Role.NOTE, pane, number=self._loose.get(id(text), 0))

    def _largest(self, about: OfPanel) -> float:
        return max(text.size for text in self.page.texts if text.about == about)

    def _boundary(self, value: float) -> int:
        found = sorted({m.about.value for m in self.page.marks if isinstance(m.about, OfBoundary)})
        return found.index(value) if value in found else 0

    def _of_panel(self, sight: Sight, mark: Mark) -> Sight:
        """The panel in which a mark lies, where there are several; they need not have the same lines."""
        frame = self._lies(mark)[1]
        if frame is None or len({f.panel for f in self.page.frames if f.pane is frame.pane}) < 2:
            return sight
        return Sight(sight.probed, replace(sight.seen, panel=frame.panel))

    def line_key(self, mark: Mark) -> LineKey | None:
        """The line, group or row that a mark belongs to."""
        subject, about = self.subject, mark.about
        match subject:
            case ProbeSubject(_, sight):
                probed = sight.probed
                match about:
                    case OfLine(i):
                        return line_key(self._of_panel(sight, mark), i)
                    case OfGroup(i, _) if isinstance(probed.focal, GroupBasis):
                        return level_key(probed.focal, i)
                    case OfPlace(i):
                        return place_key(probed.moderator, probed.places[i], i)
                    case OfFocus(k):
                        return focus_key(sight, k)
                    case OfPanel(k):
                        return panel_key(sight, k)
                    case OfEffect():
                        own = panel_key(sight, sight.seen.panel) if len(probed.panels) > 1 else None
                        return own or focus_key(sight, sight.seen.focus)
            case GroupSubject(_, overview):
                if isinstance(about, OfGroup):
                    return level_key(overview.basis, about.group)
            case StepsSubject(study, fit):
                if isinstance(about, OfCoefficient):
                    return row_key(study, fit, about.column)
            case CheckSubject():
                pass
            case _:
                assert_never(subject)
        return None

    def part(self, mark: Mark) -> PartRef | None:
        """What is chosen by a click on a mark."""
        pane = self.pane(mark)
        if isinstance(mark, Text):
            key = self.text_key(mark)
            if key.role in (Role.X_TICKS, Role.Y_TICKS) and pane is not None:
                return AxisKey(pane, key.role is Role.Y_TICKS)
            return key
        match mark.about:
            case OfCases():
                return Thing.CASES
            case OfRegion() | OfBoundary():
                return Thing.REGION
            case Part.AXIS_X | Part.NAMES | Part.TITLE_X:
                return AxisKey(pane, False) if pane is not None else None
            case Part.AXIS_Y | Part.TITLE_Y | Part.ZERO:
                return AxisKey(pane, True) if pane is not None else None
            case Part.KEY:
                return Thing.KEY
            case Part.GROUND | OnMap():
                return Thing.GROUND
            case OfLine() | OfEffect() if isinstance(mark, Area):
                return Thing.BANDS
        return self.line_key(mark)

    def at(self, x: float, y: float) -> PartRef:
        """The part at a point; texts and lines before what lies behind them."""
        hit = self.page.hit(x, y, 4.0)
        found = self.part(hit.mark) if hit is not None else None
        return Thing.GROUND if found is None else found

    def located(self) -> list[Located]:
        """Every part with where it lies, in the order in which Tab goes: texts, lines, axes, what lies behind."""
        if self._located is None:
            self._located = self._all_located()
        return self._located

    def _all_located(self) -> list[Located]:
        found: dict[PartRef, Box] = {Thing.GROUND: Box(0.0, 0.0, self.page.width, self.page.height)}
        for mark in self.page.marks:
            part, box = self.part(mark), self._lies(mark)[0]
            if part is None or box is None:
                continue
            found[part] = _around([found[part], box]) if part in found else box
        order = sorted(found, key=lambda part: _rank(part))
        return [Located(part, found[part], self.name(part)) for part in order]

    def box(self, part: PartRef) -> Box | None:
        """Where a part lies."""
        return next((one.box for one in self.located() if one.part == part), None)

    # ---- names

    def name(self, part: PartRef) -> str:
        """What a part is called: “axis title of practice”, “the line “none””."""
        match part:
            case TextKey():
                return self._text_name(part)
            case LineKey():
                return f"the look of “{self.line_name(part)}”"
            case AxisKey(pane, upright):
                where = _pane_name(pane, self.subject)
                return f"{'upright axis' if upright else 'axis below'}{where}"
            case Thing.BANDS:
                return "bands of the intervals"
            case Thing.CASES:
                return "cases"
            case Thing.REGION:
                return "regions and boundaries"
            case Thing.KEY:
                return "box of names"
            case Thing.GROUND:
                return "ground"
            case _:
                assert_never(part)

    def _text_name(self, key: TextKey) -> str:
        where = _pane_name(key.pane, self.subject)
        match key.role:
            case Role.TITLE:
                return "title"
            case Role.X_TITLE:
                return f"title of the axis below{where}"
            case Role.Y_TITLE:
                return f"title of the upright axis{where}"
            case Role.LINE | Role.PANEL:
                return f"name “{self.line_name(key.line)}”{where}" if key.line is not None else f"names{where}"
            case Role.BOUNDARY:
                return f"boundary {self.said(key)}{where}"
            case Role.REGION:
                return f"words “{self.said(key)}”{where}"
            case Role.DIFFERENCE:
                return f"difference “{self.said(key)}”"
            case Role.X_TICKS | Role.Y_TICKS:
                return f"numbers{where}"
            case Role.NOTE:
                text = self.text(key)
                return f"note “{text.text}”" if text is not None else "note"
            case _:
                assert_never(key.role)

    def line_name(self, key: LineKey) -> str:
        """The name of a line as it stands on the page; where it stands nowhere, what it is."""
        if key.kind is LineOf.COMPARISON and not key.of:
            return "the effect"
        for text in self.page.texts:
            if self.line_key(text) == key and self.text_key(text).role in (Role.LINE, Role.PANEL):
                return text.whole or text.text
        if key.kind is LineOf.COMPARISON:
            return "the effect"
        variable = next((v for v in self.subject.study.variables if v.name == key.variable), None)
        return variable.label if variable is not None else key.variable

    def text(self, key: TextKey) -> Text | None:
        """The text that is known by a key; of a title of several lines the first."""
        return next((text for text in self.page.texts if self.text_key(text) == key), None)

    def said(self, key: TextKey) -> str:
        """The whole words of a text as it stands: all lines of a title, what was shortened."""
        found = [text for text in self.page.texts if self.text_key(text) == key]
        if not found:
            return ""
        return found[0].whole or " ".join(text.text for text in found)


@dataclass(frozen=True, slots=True)
class Located:
    """A part, where it lies and what it is called."""

    part: PartRef
    box: Box
    name: str


def lines_of(parts: Parts) -> Iterable[LineKey]:
    """Every line, group or row on a page."""
    return dict.fromkeys(key for mark in parts.page.marks if (key := parts.line_key(mark)) is not None)


_ORDER = (
    Role.TITLE,
    Role.X_TITLE,
    Role.Y_TITLE,
    Role.LINE,
    Role.PANEL,
    Role.BOUNDARY,
    Role.REGION,
    Role.DIFFERENCE,
    Role.NOTE,
    Role.X_TICKS,
    Role.Y_TICKS,
)


def _rank(part: PartRef) -> tuple[int, int]:
    match part:
        case TextKey(role):
            return (0, _ORDER.index(role)) if role is not Role.NOTE else (4, 0)
        case LineKey():
            return (1, 0)
        case AxisKey(_, upright):
            return (2, int(upright))
        case Thing():
            return (3, part.value)
        case _:
            assert_never(part)


def _pane_name(pane: Pane | None, subject: Subject) -> str:
    """Which plot, where a figure may have several."""
    if not isinstance(subject, ProbeSubject) or pane is None:
        return ""
    match pane:
        case Pane.LINES:
            return " of the lines"
        case Pane.EFFECT | Pane.DISTRIBUTION | Pane.STRIPS:
            return " of the effect"
        case Pane.MAP | Pane.ABOVE:
            return " of the map"
        case Pane.CHECK | Pane.RIVALS | Pane.STEPS | Pane.MEANS:
            return ""
        case _:
            assert_never(pane)


def reach(mark: Mark) -> Box | None:
    """The room that a mark takes, as far as it is drawn; None of one of nothing."""
    match mark:
        case Rect(box):
            return box
        case Text():
            return mark.box
        case Rects(boxes):
            if not boxes.size:
                return None
            left, top, right, bottom = boxes.T
            return Box(float(left.min()), float(top.min()), float(right.max()), float(bottom.max()))
        case Line() | Area() | Points():
            there = mark.points[np.all(np.isfinite(mark.points), axis=1)]
            if not there.size:
                return None
            (left, top), (right, bottom) = there.min(axis=0).tolist(), there.max(axis=0).tolist()
            if mark.clip is None:
                return Box(left, top, right, bottom)
            c = mark.clip
            return Box(max(left, c.left), max(top, c.top), min(right, c.right), min(bottom, c.bottom))


def _around(boxes: list[Box]) -> Box:
    return Box(
        min(b.left for b in boxes), min(b.top for b in boxes), max(b.right for b in boxes), max(b.bottom for b in boxes)
    )
