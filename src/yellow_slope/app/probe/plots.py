"""The two plots of Probe, with the shared handle drawn over them."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QEvent, QPointF, QRectF, Qt
from PyQt6.QtGui import QHelpEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QResizeEvent
from PyQt6.QtWidgets import QWidget

from yellow_slope.app.figures.drawn import Drawn, Size, drawn_beside, screen_look
from yellow_slope.app.figures.painter import paint
from yellow_slope.app.state.lanes import Lane
from yellow_slope.app.state.session import StudySession
from yellow_slope.app.state.topics import Topic
from yellow_slope.app.state.worker import Worker
from yellow_slope.app.verbs.actions import Scope, action
from yellow_slope.app.widgets import theme
from yellow_slope.app.widgets.following import Follows
from yellow_slope.app.widgets.plaintext import show_tip
from yellow_slope.app.widgets.theme import colour, font
from yellow_slope.core.fit.design.bases import NumberBasis
from yellow_slope.core.probe.probed import Probed, range_of
from yellow_slope.core.probe.seen import Handle, Sight, inside
from yellow_slope.core.words.spelling.numerals import place
from yellow_slope.plots.handle import handle, has_own_line
from yellow_slope.plots.marks import Frame, Ink, Mark, OfCases, Page, Pane, Points
from yellow_slope.plots.words import mark_words

LEAST_WIDTH, LEAST_HEIGHT = 240, 160
"""Pixels below which there is no room for plots."""
REACH = 10
"""Pixels beside a frame in which the handle can still be taken."""


class ProbePlots(Follows, QWidget):
    """Left the interaction plot, right the effect; a full redraw only when results change, the handle is laid over."""

    def __init__(self, session: StudySession, worker: Worker, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session, self._worker = session, worker
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setAccessibleName("Interaction plot and effect along the moderator, with a handle")
        self.setMinimumHeight(240)
        self.drawn: Drawn | None = None
        self._wanted: object = None
        self._dragging: Frame | None = None
        self.follow(session, Topic.RESULTS, Topic.SEEN, Topic.THEME, Topic.LIT)

    # ---- drawing the figures

    @property
    def has_room(self) -> bool:
        """Whether plots can be drawn in what it has."""
        return self.width() >= LEAST_WIDTH and self.height() >= LEAST_HEIGHT

    def renew(self) -> None:
        """Have the figures drawn, off the interface thread, if what they show has changed."""
        probed, view = self.session.probed() if self.isVisible() else None, self.session.view
        if probed is None or view is None or not self.has_room:
            self.update()
            return
        size, look, study = Size(self.width(), self.height(), self.devicePixelRatioF()), screen_look(), view.study
        sight = self._sight(probed)
        key = (probed, study.variables, sight.seen.focus, sight.seen.panel, size, look)
        if key != self._wanted:
            self._wanted = key
            self._worker.newest(
                Lane.PROBE_PLOTS,
                lambda job: drawn_beside(key, study, sight, look, size),
                self._arrived,
                self.session.say,
            )
        self.update()

    @property
    def is_current(self) -> bool:
        """Whether the figures show the newest results."""
        return self.drawn is not None and self.drawn.key == self._wanted

    def _arrived(self, drawn: Drawn) -> None:
        if drawn.key == self._wanted:
            self.drawn = drawn
            self.update()

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
            self._say_why(painter)
            return
        if self.drawn is None:
            painter.fillRect(self.rect(), colour(p.panel))
        else:
            painter.drawImage(QPointF(0, 0), self.drawn.image)
            study = self.session.study
            if self.is_current and study is not None:
                marks = handle(study, self._sight(probed), screen_look(), self.drawn.page)
                paint(painter, Page(self.width(), self.height(), (*self._lit_marks(probed), *marks)))
        if self.hasFocus():
            painter.setPen(QPen(colour(p.yellow), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(self.rect().adjusted(1, 1, -1, -1))

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

    def _frame_at(self, x: float) -> Frame | None:
        """The frame along whose moderator the handle is moved there."""
        probed = self.session.probed()
        if probed is None or not isinstance(probed.moderator, NumberBasis):
            return None
        panes = [Pane.EFFECT] if has_own_line(probed) else [Pane.EFFECT, Pane.INTERACTION]
        frames = [frame for pane in panes if (frame := self.frame(pane)) is not None]
        return next((f for f in frames if f.area.left - REACH <= x <= f.area.right + REACH), None)

    def put_handle(self, value: float) -> None:
        """Move the handle to a moderator value, kept within the observed range."""
        probed = self.session.probed()
        if probed is not None and isinstance(probed.moderator, NumberBasis):
            self.session.see(handle=inside(probed, value), place=Handle())

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        frame = self._frame_at(event.position().x())
        if frame is not None:
            self._dragging = frame
            self.put_handle(frame.value_x(event.position().x()))

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        frame = self._frame_at(event.position().x())
        if self._dragging is not None:
            self.put_handle(self._dragging.value_x(event.position().x()))
        self.setCursor(Qt.CursorShape.SizeHorCursor if frame is not None else Qt.CursorShape.ArrowCursor)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        self._dragging = None

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
        "move the handle to the boundary before",
        "Move the handle to the boundary before, or to the lowest value",
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
            "Drag to move the handle; arrow keys move it, Home and End go to boundaries." if self._frame_at(x) else ""
        )

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self.renew()


def reading_of(probed: Probed, value: float) -> str:
    """The handle's place, as typed."""
    assert isinstance(probed.moderator, NumberBasis)
    return place(value, probed.moderator.sd)
