"""The figure that is tuned, at its real proportions: parts are chosen, moved and put back on it."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QHelpEvent, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from yellow_slope.app.figures.drawn import Drawn
from yellow_slope.app.state.figured import Figured
from yellow_slope.app.state.session import StudySession
from yellow_slope.app.verbs.actions import Scope, action
from yellow_slope.app.widgets import theme
from yellow_slope.app.widgets.plaintext import show_tip
from yellow_slope.app.widgets.theme import colour, font
from yellow_slope.core.study.figures import AxisKey, Figure, LineKey, Parts, Role, TextKey, TextTuning
from yellow_slope.looks import LIGHT
from yellow_slope.plots.marks import Box, Rect
from yellow_slope.plots.marks import Part as PagePart
from yellow_slope.plots.parts import PartRef, Thing, words_key
from yellow_slope.values import replace

FAR = 3.0
"""Pixels that the mouse moves before something is dragged."""


class FigureCanvas(QWidget):
    """Draws the page; the chosen part has a yellow frame."""

    tuned = pyqtSignal(str, object)
    """What was done, and the figure after it."""
    chosen = pyqtSignal(object)
    """A part, or None."""
    asked = pyqtSignal()
    """Enter: the keyboard goes to the strip of the chosen part."""
    left = pyqtSignal()
    """Esc with nothing chosen."""

    def __init__(self, session: StudySession, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.drawn: Drawn | None = None
        self.zoom = 1.0
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setAccessibleName("The figure: Tab goes from part to part")
        self._grabbed: tuple[PartRef, QPointF] | None = None
        self._moved = QPointF(0, 0)

    # ---- what is shown

    @property
    def figured(self) -> Figured | None:
        """The figure with its page."""
        return self.session.figured

    @property
    def part(self) -> PartRef | None:
        """The chosen part."""
        return self.session.desk.part

    def show_drawn(self, drawn: Drawn | None, zoom: float) -> None:
        """Show a page that was drawn."""
        self.drawn, self.zoom = drawn, zoom
        if drawn is not None:
            self.setFixedSize(round(drawn.page.width * zoom), round(drawn.page.height * zoom))
        else:
            self.setFixedSize(480, 300)
        self.update()

    def box_of(self, part: PartRef) -> QRectF | None:
        """Where a part lies, in pixels."""
        found = self.figured
        box = found.parts.box(part) if found is not None and found.parts is not None else None
        return None if box is None else self._rect(box)

    def boxes_of_texts(self, but: PartRef) -> tuple[list[QRectF], list[QRectF]]:
        """Where titles of axes and where all other texts lie, in pixels; `but`: a part whose texts are not among
        them."""
        found, titles, others = self.figured, list[QRectF](), list[QRectF]()
        if found is None or found.parts is None or found.page is None:
            return titles, others
        for text in found.page.texts:
            if found.parts.part(text) != but:
                is_title = found.parts.text_key(text).role in (Role.X_TITLE, Role.Y_TITLE)
                (titles if is_title else others).append(self._rect(text.box))
        return titles, others

    def _rect(self, box: Box) -> QRectF:
        z = self.zoom
        return QRectF(box.left * z, box.top * z, max(2.0, box.width * z), max(2.0, box.height * z))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        found = self.figured
        if self.drawn is None or found is None or found.page is None:
            painter.fillRect(self.rect(), colour(theme.palette().panel))
            painter.setPen(colour(theme.palette().soft_ink))
            painter.setFont(font(14))
            said = found.refusal if found is not None and found.refusal else "Drawing the figure …"
            room = self.rect().adjusted(30, 20, -30, -20)
            painter.drawText(room, int(Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap), said)
            return
        if not self.drawn.page.ground:
            self._checkered(painter)
        painter.drawImage(QRectF(0, 0, self.width(), self.height()), self.drawn.image)
        if self.part is None:
            return
        box = self.box_of(self.part)
        if box is None:
            return
        frame = box.translated(self._moved).adjusted(-4, -3, 4, 3)
        ink = colour(theme.palette().yellow)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        for width, hue in ((4.0, colour(found.page.ground or LIGHT.panel, 0.8)), (2.0, ink)):
            pen = QPen(hue, width)
            painter.setPen(pen)
            painter.drawRoundedRect(frame, 4, 4)

    def _checkered(self, painter: QPainter) -> None:
        """What shows through a figure without a ground."""
        side = 10
        for y in range(0, self.height(), side):
            for x in range(0, self.width(), side):
                faint = (x // side + y // side) % 2
                painter.fillRect(x, y, side, side, colour(LIGHT.panel if faint else LIGHT.pressed))

    # ---- by mouse

    def part_at(self, at: QPointF) -> PartRef | None:
        """The part at a point."""
        found = self.figured
        if found is None or found.parts is None:
            return None
        return found.parts.at(at.x() / self.zoom, at.y() / self.zoom)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None or event.button() != Qt.MouseButton.LeftButton:
            return
        self.setFocus()
        part = self.part_at(event.position())
        self._grabbed = (part, event.position()) if part is not None else None
        self._moved = QPointF(0, 0)
        self.chosen.emit(part)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        if self._grabbed is not None and event.buttons() & Qt.MouseButton.LeftButton:
            part, start = self._grabbed
            moved = event.position() - start
            if self._can_be_moved(part) and max(abs(moved.x()), abs(moved.y())) > FAR:
                self._moved = moved
                self.update()
            return
        under = self.part_at(event.position())
        shape = Qt.CursorShape.ArrowCursor if under in (None, Thing.GROUND) else Qt.CursorShape.PointingHandCursor
        self.setCursor(shape)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if self._grabbed is None:
            return
        part, moved = self._grabbed[0], self._moved
        self._grabbed, self._moved = None, QPointF(0, 0)
        if max(abs(moved.x()), abs(moved.y())) > FAR:
            self._move(part, moved.x() / self.zoom, moved.y() / self.zoom)
        self.update()

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and event.button() == Qt.MouseButton.LeftButton:
            self._grabbed = None
            self.chosen.emit(self.part_at(event.position()))
            self.put_back()

    def event(self, event: QEvent | None) -> bool:
        if isinstance(event, QHelpEvent) and event.type() == QEvent.Type.ToolTip:
            part, found = self.part_at(QPointF(event.pos())), self.figured
            said = found.parts.name(part) if part is not None and found is not None and found.parts else ""
            whole = self._whole_at(event)
            show_tip(event.globalPos(), f"{whole}\n{said}".strip(), self)
            return True
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            if event.key() == Qt.Key.Key_Tab and self.go_on(1):
                return True
            if event.key() == Qt.Key.Key_Backtab and self.go_on(-1):
                return True
        return super().event(event)

    def _whole_at(self, event: QHelpEvent) -> str:
        if self.drawn is None:
            return ""
        text = self.drawn.page.text_at(event.pos().x() / self.zoom, event.pos().y() / self.zoom)
        return text.whole if text is not None else ""

    # ---- by keyboard

    def go_on(self, by: int) -> bool:
        """Choose the next part; False at the end, where the keyboard goes on to what stands beside."""
        found = self.figured
        if found is None or found.parts is None:
            return False
        every = [one.part for one in found.parts.located()]
        if not every:
            return False
        part = self.part
        at = every.index(part) + by if part is not None and part in every else (0 if by > 0 else len(every) - 1)
        if not 0 <= at < len(every):
            self.chosen.emit(None)
            return False
        self.chosen.emit(every[at])
        return True

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.part is not None:
            self.asked.emit()
        elif event.key() == Qt.Key.Key_Escape:
            if self.part is not None:
                self.chosen.emit(None)
            else:
                self.left.emit()
        else:
            super().keyPressEvent(event)

    @action("move the chosen text left", "Move the chosen text a point to the left", "Left", scope=Scope.FIGURE)
    def move_left(self) -> None:
        """A point to the left."""
        self._move(self.part, -1, 0)

    @action("move the chosen text right", "Move the chosen text a point to the right", "Right", scope=Scope.FIGURE)
    def move_right(self) -> None:
        """A point to the right."""
        self._move(self.part, 1, 0)

    @action("move the chosen text up", "Move the chosen text a point up", "Up", scope=Scope.FIGURE)
    def move_up(self) -> None:
        """A point up."""
        self._move(self.part, 0, -1)

    @action("move the chosen text down", "Move the chosen text a point down", "Down", scope=Scope.FIGURE)
    def move_down(self) -> None:
        """A point down."""
        self._move(self.part, 0, 1)

    @action(
        "reset the part",
        "Reset the chosen part to the look; a double click does the same",
        "Backspace",
        scope=Scope.FIGURE,
    )
    def put_back(self) -> None:
        """The chosen part as the look gives it."""
        found = self.figured
        if found is not None and self.part is not None:
            figure = put_back(found.figure, self.part)
            if figure == found.figure:
                self.session.say("It already follows the look.")
            else:
                self.tuned.emit("reset a part of the figure", figure)

    @action("hide the text", "Hide the chosen text of the figure", "Delete", scope=Scope.FIGURE)
    def leave_out(self) -> None:
        """The chosen text, names of lines and titles too, is left out."""
        found, part = self.figured, self.part
        if found is None or not isinstance(part, TextKey):
            return
        said = replace(found.figure.text(part), hidden=True)
        self.chosen.emit(None)
        self.tuned.emit("text of the figure hidden", found.figure.with_text(part, said))

    # ---- moving

    def _can_be_moved(self, part: PartRef | None) -> bool:
        return isinstance(part, TextKey) or part is Thing.KEY

    def _move(self, part: PartRef | None, right: float, down: float) -> None:
        """A text, or the box of names, to another place."""
        found = self.figured
        if found is None or found.page is None:
            return
        if part is Thing.KEY:
            self._move_box(found, right, down)
        elif isinstance(part, TextKey):
            said = found.figure.text(part)
            x, y = said.shift or (0.0, 0.0)
            moved = replace(said, shift=(round(x + right, 2), round(y + down, 2)))
            self.tuned.emit("text of the figure moved", found.figure.with_text(part, moved))

    def _move_box(self, found: Figured, right: float, down: float) -> None:
        assert found.page is not None
        box = next((m.box for m in found.page.marks if isinstance(m, Rect) and m.about is PagePart.KEY), None)
        if box is None:
            return
        x, y = box.middle
        frame = next((f for f in found.page.frames if f.area.holds(x, y, 2.0)), None)
        if frame is None:
            return
        area = frame.area
        at = ((box.left + right - area.left) / area.width, (box.top + down - area.top) / area.height)
        at = (round(min(max(at[0], 0.0), 1.0), 4), round(min(max(at[1], 0.0), 1.0), 4))
        parts = replace(found.figure.parts, box_at=at)
        self.tuned.emit("box of names moved", replace(found.figure, parts=parts))


def put_back(figure: Figure, part: PartRef) -> Figure:
    """The figure with a part as its look gives it."""
    usual = Parts()
    match part:
        case TextKey():
            figure = figure.with_text(part, TextTuning())
            own = words_key(part)
            return figure.with_text(own, replace(figure.text(own), words=None)) if own != part else figure
        case LineKey():
            return replace(figure, lines=tuple((k, t) for k, t in figure.lines if k != part))
        case AxisKey():
            return replace(figure, axes=tuple((k, t) for k, t in figure.axes if k != part))
        case Thing.BANDS:
            return replace(figure, parts=replace(figure.parts, band=usual.band))
        case Thing.CASES:
            return replace(figure, parts=replace(figure.parts, cases=usual.cases, jitter=usual.jitter))
        case Thing.REGION:
            return replace(figure, parts=replace(figure.parts, region=usual.region))
        case Thing.KEY:
            return replace(figure, parts=replace(figure.parts, box_at=None, legend=usual.legend))
        case Thing.GROUND:
            return replace(figure, parts=replace(figure.parts, ground=usual.ground))
