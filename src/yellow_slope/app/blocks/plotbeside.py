"""The chosen product's two plots beside the ladder of a wide window; they follow every edit."""

from __future__ import annotations

from dataclasses import dataclass

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QMouseEvent, QPainter, QPaintEvent, QResizeEvent
from PyQt6.QtWidgets import QLabel, QPushButton, QSizePolicy, QVBoxLayout, QWidget

from yellow_slope.app.figures.drawn import Drawn, Size, drawn_stacked, screen_look
from yellow_slope.app.state.lanes import Lane
from yellow_slope.app.state.session import StudySession
from yellow_slope.app.state.topics import Topic
from yellow_slope.app.state.view import View, answer_of
from yellow_slope.app.state.worker import Worker
from yellow_slope.app.widgets import theme
from yellow_slope.app.widgets.elided import ElidedLabel
from yellow_slope.app.widgets.following import Follows
from yellow_slope.app.widgets.theme import colour, font
from yellow_slope.core.errors import YellowSlopeError
from yellow_slope.core.probe.asking import default_probe, probe_of
from yellow_slope.core.probe.probed import Probed
from yellow_slope.core.probe.probing import probe_fit
from yellow_slope.core.probe.seen import Seen, Sight
from yellow_slope.core.study.terms import Term
from yellow_slope.core.words.sentences.effects import EffectReader
from yellow_slope.plots.look import Look

LEAST = 320
MOST_DRAWN = 12
"""Levels of a group that are drawn beside each other in this room."""


@dataclass(frozen=True, slots=True, eq=False)
class Shown:
    """What is drawn, or why nothing is."""

    key: object
    title: str
    drawn: Drawn | None
    why: str = ""


def shown(key: object, view: View, term: Term, look: Look, size: Size) -> Shown:
    """Probe the product and draw it."""
    many = [n for n in term.variables if len(view.study.variable(n).levels) > MOST_DRAWN]
    if many:
        variable = view.study.variable(many[0])
        return Shown(
            key,
            "",
            None,
            f"{variable.label} has {len(variable.levels)} levels, too many to be drawn here; in Probe they are listed.",
        )
    try:
        probed = probed_of(view, term)
    except YellowSlopeError as error:
        return Shown(key, "", None, str(error))
    if probed is None:
        return Shown(key, "", None, "This product has no two variables to be probed along each other.")
    title = EffectReader(view.study, probed, 0).title()
    drawn = drawn_stacked(key, view.study, Sight.of(probed, Seen()), look, size)
    return Shown(key, f"{title}, step {probed.step + 1}", drawn)


def probed_of(view: View, term: Term) -> Probed | None:
    """A product's answer: that of the current probe where it is about it, else of the factor named first along the
    next."""
    wanted = probe_of(view.study, term, view.fit)
    if wanted == default_probe(view.study, view.fit):
        return answer_of(view)
    return probe_fit(view.study, view.fit, wanted) if view.fit is not None else None


class PlotBeside(Follows, QWidget):
    """Interaction plot above, effect along the moderator below."""

    probe_wanted = pyqtSignal()

    def __init__(self, session: StudySession, worker: Worker, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session, self._worker = session, worker
        self.title = ElidedLabel()
        self.title.setFont(font(13, "bold"))
        self.title.setTextFormat(Qt.TextFormat.PlainText)
        self.title.setAccessibleName("The product that is drawn")
        self.open_button = QPushButton("Open in Probe")
        self.open_button.setObjectName("link")
        self.open_button.setAccessibleName("Open in Probe")
        self.open_button.setToolTip("Probe this product, with a handle (Ctrl+P)")
        self.open_button.clicked.connect(self.probe_wanted.emit)
        self.canvas = _Canvas(self)
        self.canvas.setAccessibleName("Interaction plot and effect along the moderator")
        self.canvas.setToolTip("The chosen product; a double click opens it in Probe")
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(4)
        layout.addWidget(self.title)
        layout.addWidget(self.canvas, 1)
        layout.addWidget(self.open_button, 0, Qt.AlignmentFlag.AlignRight)
        self.shown: Shown | None = None
        self._key: object = None
        self.follow(session, Topic.RESULTS, Topic.ROW, Topic.THEME)

    def renew(self) -> None:
        """Have the chosen product drawn, if it, the results or the room are new."""
        view, term = self.session.view, self.session.chosen_product()
        size = Size(self.canvas.width(), self.canvas.height(), self.canvas.devicePixelRatioF())
        look = screen_look()
        there = (
            view is not None and view.fit is not None and term is not None and size.width >= 200 and size.height >= 300
        )
        self.open_button.setVisible(there)
        if not there or view is None or term is None:
            self._key, self.shown = None, None
            self.title.setText("")
            self.canvas.update()
            return
        key = (view.fit, view.probed, view.study.variables, term, look, size)
        if key == self._key:
            return
        self._key = key
        self._worker.newest(
            Lane.BESIDE, lambda job: shown(key, view, term, look, size), self._arrived, self.session.say
        )

    def _arrived(self, found: Shown) -> None:
        if found.key == self._key:
            self.shown = found
            self.title.setText(found.title)
            self.title.setToolTip(found.title)
            self.canvas.update()

    @property
    def is_current(self) -> bool:
        """Whether the newest is drawn."""
        return self.shown is None if self._key is None else self.shown is not None and self.shown.key == self._key


class _Canvas(QLabel):
    def __init__(self, owner: PlotBeside) -> None:
        super().__init__(owner)
        self._owner = owner
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setMinimumSize(LEAST - 20, 200)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter, p = QPainter(self), theme.palette()
        found = self._owner.shown
        if found is not None and found.drawn is not None:
            painter.drawImage(QPointF(0, 0), found.drawn.image)
            return
        painter.setFont(font(13))
        painter.setPen(colour(p.soft_ink))
        text = found.why if found is not None else "Enter a product: its slopes are drawn here at once."
        flags = int(Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap)
        painter.drawText(QRectF(self.rect()).adjusted(20, 0, -20, 0), flags, text)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._owner._told()

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        self._owner.probe_wanted.emit()
