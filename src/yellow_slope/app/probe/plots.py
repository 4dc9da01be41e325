"""The two plots of Probe, with the shared handle drawn over them."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QEvent, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QHelpEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QResizeEvent, QShowEvent
from PyQt6.QtWidgets import QWidget

from yellow_slope.app.figures.drawn import Drawn, Size, screen_look
from yellow_slope.app.figures.painter import paint
from yellow_slope.app.probe.extras import Laid, LaidOver
from yellow_slope.app.probe.pictures import Picture, TwoPictures
from yellow_slope.app.state.asking import Asked
from yellow_slope.app.state.desk import Overlay
from yellow_slope.app.state.session import StudySession
from yellow_slope.app.state.topics import Topic
from yellow_slope.app.state.worker import Worker
from yellow_slope.app.verbs.actions import Scope, action
from yellow_slope.app.verbs.nextsteps import next_steps
from yellow_slope.app.widgets import theme
from yellow_slope.app.widgets.following import Follows
from yellow_slope.app.widgets.nextsteps import NextSteps
from yellow_slope.app.widgets.plaintext import show_tip
from yellow_slope.app.widgets.theme import colour, font
from yellow_slope.core.fit.design.bases import NumberBasis
from yellow_slope.core.probe.maps import has_map, line_at
from yellow_slope.core.probe.probed import Probed, range_of
from yellow_slope.core.probe.seen import Handle, Seen, Sight, inside
from yellow_slope.core.study.figures import Pane
from yellow_slope.core.study.probe import Probe
from yellow_slope.core.words.spelling.numerals import place, place_decimals
from yellow_slope.plots.handle import handle, has_own_line, second_place
from yellow_slope.plots.interaction import MOST_APART
from yellow_slope.plots.lights import LIGHTED, lit_marks
from yellow_slope.plots.marks import About, Frame, Hit, Ink, Mark, OfCases, OfFocus, OfLine, OfPanel, Page, Points, Text
from yellow_slope.plots.probeplots import Room
from yellow_slope.plots.words import mark_words
from yellow_slope.values import replace

LEAST_WIDTH, LEAST_HEIGHT = 240, 160
"""Pixels below which there is no room for plots."""
REACH = 10
"""Pixels beside a frame in which the handle can still be taken."""


class ProbePlots(Follows, QWidget):
    """The plots of a probe; a full redraw only when results change, handle and lights are laid over."""

    laid_over = pyqtSignal()
    """What is laid over the effect has arrived."""
    lights = pyqtSignal(object)
    """What the mouse is on: what its mark stands for, or None."""
    point_moved = pyqtSignal(int, float)
    """A pick point was dragged to another value."""

    def __init__(self, session: StudySession, worker: Worker, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setAccessibleName("Interaction plot and effect along the moderator, with a handle")
        self.setMinimumHeight(240)
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self.room: Room | None = None
        self._over: Asked[Laid] = Asked(worker, self._laid_arrived, session.say)
        self._asked: Asked[Drawn] = Asked(worker, lambda _: self.update(), session.say)
        self._dragging: Frame | None = None
        self._moving: int | None = None
        self.lit: About | None = None
        self.next = NextSteps(self)
        self.follow(session, Topic.THEME, Topic.LIT)

    # ---- drawing the figures

    @property
    def has_room(self) -> bool:
        """Whether plots can be drawn in what it has."""
        return self.width() >= LEAST_WIDTH and self.height() >= LEAST_HEIGHT

    @property
    def is_twice(self) -> bool:
        """Whether two probes stand one above the other."""
        return self._other() is not None

    def _other(self) -> Probe | None:
        """The kept probe with which the current one is compared."""
        name, view, probe = self.session.desk.beside_probe, self.session.view, self.session.current_probe()
        if name is None or view is None or probe is None or probe.name == name:
            return None
        return next((p for p in view.study.probes if p.name == name), None)

    def put_room(self, room: Room | None) -> None:
        """Where the plots stand; then what they show is renewed."""
        self.room = room
        self.renew()

    def renew(self) -> None:
        """Have the figures drawn, off the interface thread, if what they show has changed."""
        probed, view = self.session.probed() if self.isVisible() else None, self.session.view
        is_empty = self.isVisible() and probed is None and view is not None
        self.next.offer(next_steps(self.session, needs_product=True) if is_empty else [])
        if probed is None or view is None or not self.has_room or self.room is None:
            self.update()
            return
        size, sight, desk = (
            Size(self.width(), self.height(), self.devicePixelRatioF()),
            self._sight(probed),
            self.session.desk,
        )
        study, seen = view.study.modelled(), sight.seen
        if desk.overlay is Overlay.NOTHING:
            if self._over.ask(None):
                self.laid_over.emit()
        else:
            self._over.ask(LaidOver(study, probed, seen.panel, seen.focus, desk.overlay))
        extras = (self._over.now or Laid()).extras
        other, place = self._other(), seen.place if len(probed.places) > MOST_APART else Handle()
        seen = Seen(seen.panel, seen.focus, place)
        if other is not None:
            fit = view.evaluation.of(other.model)
            size = replace(size, height=round(self.room.effect.bottom))
            self._asked.ask(TwoPictures(study, probed, seen, screen_look(), size, extras, other, fit))
        else:
            self._asked.ask(Picture(study, probed, seen, screen_look(), size, extras, self.room, desk.probe_view))
        self._paint_plots()

    def _paint_plots(self) -> None:
        """Have the plots painted, and not what lies over the rest: table and card."""
        if self.room is None:
            self.update()
            return
        for box in (self.room.lines, self.room.effect, self.room.third):
            if box is not None:
                self.update(QRectF(box.left, box.top, box.width, box.height).toAlignedRect())

    @property
    def laid(self) -> Laid:
        """What is laid over the effect, as it is known last."""
        return self._over.answer or Laid()

    def _laid_arrived(self, laid: Laid) -> None:
        self.laid_over.emit()
        self.session.say(laid.said)
        self.renew()

    @property
    def drawn(self) -> Drawn | None:
        """The plots as they were drawn last."""
        return self._asked.answer

    @property
    def is_current(self) -> bool:
        """Whether the figures show the newest results."""
        return self._asked.now is not None

    @property
    def frames(self) -> tuple[Frame, ...]:
        """The frames of the plots that are drawn."""
        return self.drawn.page.frames if self.drawn is not None else ()

    def frame(self, pane: Pane) -> Frame | None:
        """The frame of one of the plots that are drawn."""
        return self.drawn.page.frame(pane) if self.drawn is not None else None

    def _sight(self, probed: Probed) -> Sight:
        return Sight.of(probed, self.session.desk.seen)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter, p = QPainter(self), theme.palette()
        probed = self.session.probed()
        if probed is None or not self.has_room:
            painter.fillRect(self.rect(), colour(p.paper))
            self._say_why(painter)
            return
        if self.drawn is None:
            painter.fillRect(self.rect(), colour(p.paper))
        else:
            painter.drawImage(QPointF(0, 0), self.drawn.image)
            study = self.session.study
            if self.is_current:
                page = self.drawn.page
                marks = handle(study, self._sight(probed), screen_look(), page)
                lights = lit_marks(page, self.lit, screen_look()) if self.lit is not None else []
                paint(painter, Page(self.width(), self.height(), (*lights, *self._lit_marks(probed), *marks)))
        if self.hasFocus() and self.room is not None:  # a quiet line around that in which the keys move the handle
            left, top, right, bottom = self.room.effect
            painter.setPen(QPen(colour(p.yellow), 1.5))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(QRectF(left + 0.75, top + 0.75, right - left - 1.5, bottom - top - 1.5))

    def _lit_marks(self, probed: Probed) -> list[Mark]:
        """The lit cases among the points that are drawn."""
        lit = set(self.session.desk.lit)
        if not lit or self.drawn is None:
            return []
        p, rows = theme.palette(), probed.fit.cases.rows
        marks: list[Mark] = []
        for mark in self.drawn.page.marks:
            if isinstance(mark, Points) and isinstance(mark.about, OfCases):
                here = np.isin(rows[mark.about.cases], list(lit))
                edge = Ink(p.ink, 1.2)
                points, about = mark.points[here], OfCases(mark.about.cases[here])
                marks.append(Points(points, mark.shape, mark.size * 1.6, p.yellow, about, edge=edge, clip=mark.clip))
        return marks

    def _say_why(self, painter: QPainter) -> None:
        """Why nothing is drawn."""
        painter.setFont(font(14))
        painter.setPen(colour(theme.palette().soft_ink))
        text = "There is no product to probe yet.\nMultiply two variables at Blocks: the slopes appear here at once."
        if self.session.view is not None and self.session.view.refusal:
            text = self.session.view.refusal
        painter.drawText(QRectF(self.rect()), int(Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap), text)

    # ---- mouse and keyboard

    def _frame_at(self, x: float, y: float) -> Frame | None:
        """The frame in which the handle is moved there."""
        probed = self.session.probed()
        if probed is None or not isinstance(probed.moderator, NumberBasis):
            return None
        panes = [Pane.EFFECT, Pane.DISTRIBUTION, Pane.MAP]
        panes += [] if has_own_line(probed) else [Pane.LINES]
        for frame in self.frames:
            inside = frame.area.left - REACH <= x <= frame.area.right + REACH
            tall = frame.room.top <= y <= frame.room.bottom
            if frame.pane in panes and inside and tall:
                return frame
        return None

    def put_handle(self, value: float, second: float | None = None) -> None:
        """Move the handle to a moderator value, on a map to one of the second moderator too, kept within the observed
        range."""
        probed = self.session.probed()
        if probed is None or not isinstance(probed.moderator, NumberBasis):
            return
        if second is None:
            self.session.see(handle=inside(probed, value), place=Handle())
        else:
            self.session.see(handle=inside(probed, value), place=Handle(), second=second)

    def _hit(self, x: float, y: float) -> Hit | None:
        return self.drawn.page.hit(x, y) if self.drawn is not None and self.is_current else None

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        x, y = event.position().x(), event.position().y()
        hit = self._hit(x, y)
        about = hit.about if hit is not None else None
        match about:
            case OfPanel(k):
                self.session.see(panel=k)
                return
            case OfFocus(k) if self._is_strip(x, y):
                self.session.see(focus=k)
                return
            case OfLine(k) if isinstance(hit.mark if hit is not None else None, Text):
                self._moving = self._place_of(k)
                if self._moving is not None:
                    return
        frame = self._frame_at(x, y)
        if frame is not None:
            self._dragging = frame
            self._drag(x, y)

    def _is_strip(self, x: float, y: float) -> bool:
        """Whether a point lies in the strips, or at a curve's name."""
        strips = self.frame(Pane.STRIPS)
        effect = self.frame(Pane.EFFECT)
        return (strips is not None and strips.area.top <= y <= strips.area.bottom) or (
            effect is not None and x > effect.area.right
        )

    def _place_of(self, line: int) -> int | None:
        """The pick point that a line of the interaction plot belongs to."""
        probed = self.session.probed()
        if probed is None or not has_own_line(probed):
            return None
        panel = self._sight(probed).panel
        return panel.lines[line].place if line < len(panel.lines) else None

    def _drag(self, x: float, y: float) -> None:
        frame = self._dragging
        if frame is None:
            return
        if frame.pane is Pane.MAP:
            self.put_handle(frame.value_x(x), frame.value_y(y))
        else:
            self.put_handle(frame.value_x(x))

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        x, y = event.position().x(), event.position().y()
        if self._dragging is not None:
            self._drag(x, y)
            return
        if self._moving is not None:
            self.setCursor(Qt.CursorShape.SizeVerCursor)
            return
        frame, hit = self._frame_at(x, y), self._hit(x, y)
        self.light(hit.about if hit is not None else None)
        taken = hit is not None and isinstance(hit.about, OfPanel)
        shape = Qt.CursorShape.ArrowCursor if frame is None else Qt.CursorShape.SizeHorCursor
        if frame is not None and frame.pane is Pane.MAP:
            shape = Qt.CursorShape.CrossCursor
        self.setCursor(Qt.CursorShape.PointingHandCursor if taken else shape)

    def light(self, about: About | None, told: bool = True) -> None:
        """Light everything that stands for one thing. told: others are told of it."""
        if not isinstance(about, LIGHTED):
            about = None
        if about != self.lit:
            self.lit = about
            self.update()
            if told:
                self.lights.emit(about)

    def leaveEvent(self, event: QEvent | None) -> None:
        super().leaveEvent(event)
        self.light(None)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        moving, self._moving, self._dragging = self._moving, None, None
        if moving is not None and event is not None:
            value = self._value_of_line(event.position().y())
            if value is not None:
                self.point_moved.emit(moving, value)

    def _value_of_line(self, y: float) -> float | None:
        """The moderator's value whose line ends at a height of the interaction plot, within the observed range."""
        probed, frame = self.session.probed(), self.frame(Pane.LINES)
        if probed is None or frame is None or not isinstance(probed.moderator, NumberBasis):
            return None
        panel = self._sight(probed).seen.panel
        grid = np.linspace(probed.moderator.low, probed.moderator.high, 201)
        end = np.array([frame.x[1]])
        heights = np.array([float(line_at(probed, float(v), panel).effect(end)[0]) for v in grid])
        value = float(grid[int(np.argmin(np.abs(heights - frame.value_y(y))))])
        return round(value, place_decimals(probed.moderator.sd))

    @action("move the handle left", "Move the handle a step to lower values", "Left", scope=Scope.HANDLE)
    def left(self) -> None:
        """Move the handle a step to lower values."""
        self._nudge(-1 / 50)

    @action("move the handle right", "Move the handle a step to higher values", "Right", scope=Scope.HANDLE)
    def right(self) -> None:
        """Move the handle a step to higher values."""
        self._nudge(1 / 50)

    @action(
        "move the handle a little left",
        "Move the handle a tenth of a step to lower values",
        "Shift+Left",
        scope=Scope.HANDLE,
    )
    def left_fine(self) -> None:
        """Move the handle a tenth of a step to lower values."""
        self._nudge(-1 / 500)

    @action(
        "move the handle a little right",
        "Move the handle a tenth of a step to higher values",
        "Shift+Right",
        scope=Scope.HANDLE,
    )
    def right_fine(self) -> None:
        """Move the handle a tenth of a step to higher values."""
        self._nudge(1 / 500)

    @action(
        "move the handle to the previous boundary",
        "Move the handle to the previous boundary, or to the lowest value",
        "Home",
        scope=Scope.HANDLE,
    )
    def boundary_before(self) -> None:
        """Move the handle to the boundary before."""
        self._to_boundary(-1)

    @action(
        "move the handle to the next boundary",
        "Move the handle to the next boundary, or to the highest value",
        "End",
        scope=Scope.HANDLE,
    )
    def boundary_after(self) -> None:
        """Move the handle to the next boundary."""
        self._to_boundary(1)

    @action(
        "move the handle up",
        "On a map: move the handle to higher values of the second moderator",
        "Up",
        scope=Scope.HANDLE,
    )
    def up(self) -> None:
        """Move the map's handle up."""
        self._nudge_second(1 / 50)

    @action(
        "move the handle down",
        "On a map: move the handle to lower values of the second moderator",
        "Down",
        scope=Scope.HANDLE,
    )
    def down(self) -> None:
        """Move the map's handle down."""
        self._nudge_second(-1 / 50)

    def _nudge_second(self, by: float) -> None:
        probed = self.session.probed()
        if probed is None or not has_map(probed) or not isinstance(probed.second, NumberBasis):
            return
        sight, span = self._sight(probed), probed.second.high - probed.second.low
        now = second_place(sight)
        if now is not None:
            self.put_handle(sight.handle, min(probed.second.high, max(probed.second.low, now + by * span)))

    def _nudge(self, by: float) -> None:
        probed = self.session.probed()
        if probed is not None and isinstance(probed.moderator, NumberBasis):
            span = probed.moderator.high - probed.moderator.low
            self.put_handle(self._sight(probed).handle + by * span)

    def _to_boundary(self, way: int) -> None:
        probed = self.session.probed()
        if probed is None or not isinstance(probed.moderator, NumberBasis):
            return
        low, high = range_of(probed.moderator)
        now, close = self._sight(probed).handle, 1e-9 * (high - low)
        regions = self._sight(probed).focus.regions
        bounds = regions.boundaries if regions is not None else ()
        if way < 0:
            self.put_handle(max([b for b in bounds if b < now - close], default=low))
        else:
            self.put_handle(min([b for b in bounds if b > now + close], default=high))

    def event(self, event: QEvent | None) -> bool:
        if isinstance(event, QHelpEvent) and event.type() == QEvent.Type.ToolTip:
            text = self._tip(event.pos().x(), event.pos().y())
            show_tip(event.globalPos(), text, self)
            return True
        return super().event(event)

    def _tip(self, x: float, y: float) -> str:
        """What stands there, else how the handle is moved."""
        view, probed = self.session.view, self.session.probed()
        if self.drawn is not None and view is not None and probed is not None and self.is_current:
            told = mark_words(view.study, self._sight(probed), self.drawn.page.hit(x, y))
            if told:
                return told
        return (
            "Drag to move the handle; arrow keys move it, Home and End go to boundaries."
            if self._frame_at(x, y)
            else ""
        )

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self.renew()

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        self.renew()  # it may have got another size before


def reading_of(probed: Probed, value: float) -> str:
    """The handle's place, as typed."""
    assert isinstance(probed.moderator, NumberBasis)
    return place(value, probed.moderator.sd)
