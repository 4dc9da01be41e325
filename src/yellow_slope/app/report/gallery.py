"""The looks of a figure beside it: each a small picture of the same figure, one click away."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QImage, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QAbstractButton, QScrollArea, QVBoxLayout, QWidget

from yellow_slope.app.figures.painter import image_of
from yellow_slope.app.state.asking import Asked, Question
from yellow_slope.app.state.figured import Figured
from yellow_slope.app.state.lanes import Lane
from yellow_slope.app.state.session import StudySession
from yellow_slope.app.state.worker import Job, Worker
from yellow_slope.app.widgets import theme
from yellow_slope.app.widgets.theme import colour, font
from yellow_slope.core.errors import YellowSlopeError
from yellow_slope.core.figured.subjects import Subject
from yellow_slope.core.study.figures import READY_LOOKS, Figure, FigureLook
from yellow_slope.plots.figures import layout
from yellow_slope.plots.marks import Page
from yellow_slope.values import dataclass

WIDE, TALL = 164, 104
NAME = 20


@dataclass(frozen=True, slots=True)
class Looks(Question[list[QImage | None]]):
    """A small picture of a figure in each look; None where it cannot be drawn."""

    lane = Lane.LOOKS
    figure: Figure
    subject: Subject
    looks: tuple[FigureLook, ...]
    ratio: float

    def answer(self, job: Job) -> list[QImage | None]:
        images: list[QImage | None] = []
        for look in self.looks:
            job.go_on()
            try:
                images.append(_small(layout(self.figure.in_look(look), self.subject), self.ratio))
            except YellowSlopeError:
                images.append(None)
        return images


class LookButton(QAbstractButton):
    """A look: its picture with its name below."""

    def __init__(self, look: FigureLook, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.look_of = look
        self.image: QImage | None = None
        self.setCheckable(True)
        self.setFixedSize(WIDE + 8, TALL + NAME + 8)
        self.setAccessibleName(f"Look: {look.name}")
        self.setToolTip(f"Give the figure the look “{look.name}”: letters of {look.letters:g} pt")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        p, painter = theme.palette(), QPainter(self)
        frame = QRectF(3, 3, WIDE + 2, TALL + 2)
        painter.fillRect(frame, colour(p.panel))
        if self.image is not None:
            painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
            ratio = self.image.devicePixelRatio()
            wide, high = self.image.width() / ratio, self.image.height() / ratio
            painter.drawImage(QRectF(4 + (WIDE - wide) / 2, 4 + (TALL - high) / 2, wide, high), self.image)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        chosen = self.isChecked()
        pen = QPen(colour(p.yellow if chosen or self.hasFocus() else p.line), 2.0 if chosen or self.hasFocus() else 1.0)
        painter.setPen(pen)
        painter.drawRoundedRect(frame, 4, 4)
        painter.setPen(colour(p.ink if chosen else p.soft_ink))
        painter.setFont(font(12, "bold" if chosen else "normal"))
        painter.drawText(QRectF(4, TALL + 7, WIDE, NAME), int(Qt.AlignmentFlag.AlignLeft), self.look_of.name)


class Gallery(QScrollArea):
    """The looks that there are, own ones last."""

    chosen = pyqtSignal(object)

    def __init__(self, session: StudySession, worker: Worker, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setFixedWidth(WIDE + 24)
        self.setWidgetResizable(True)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setAccessibleName("Looks of the figure")
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        inner = QWidget()
        inner.setObjectName("paper")
        self._column = QVBoxLayout(inner)
        self._column.setContentsMargins(0, 0, 0, 0)
        self._column.setSpacing(4)
        self._column.addStretch(1)
        self.setWidget(inner)
        self.buttons: list[LookButton] = []
        self._asked: Asked[list[QImage | None]] = Asked(worker, self._show, session.say)

    def show_looks(self, found: Figured | None, own: tuple[FigureLook, ...]) -> None:
        """Show the figure in every look."""
        looks = [*READY_LOOKS, *own]
        if found is not None and found.figure.look not in looks:
            looks.append(found.figure.look)
        if [button.look_of for button in self.buttons] != looks:
            self._make(looks)
        for button in self.buttons:
            button.setChecked(found is not None and button.look_of == found.figure.look)
        subject = found.subject if found is not None else None
        if found is None or subject is None:
            return
        self._asked.ask(Looks(found.figure, subject, tuple(looks), self.devicePixelRatioF()))

    def _show(self, images: list[QImage | None]) -> None:
        for button, image in zip(self.buttons, images):
            button.image = image
            button.update()

    def _make(self, looks: list[FigureLook]) -> None:
        for button in self.buttons:
            self._column.removeWidget(button)
            button.hide()
            button.setParent(None)
            button.deleteLater()
        self.buttons = []
        for look in looks:
            button = LookButton(look)
            button.clicked.connect(lambda _=False, one=look: self.chosen.emit(one))
            self._column.insertWidget(self._column.count() - 1, button)
            self.buttons.append(button)


def _small(page: Page, ratio: float) -> QImage:
    zoom = min(WIDE / page.width, TALL / page.height)
    image = image_of(page, zoom * ratio)
    image.setDevicePixelRatio(ratio)
    return image
