"""The chosen product's two plots beside the ladder of a wide window; they follow every edit."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QMouseEvent, QPainter, QPaintEvent, QResizeEvent
from PyQt6.QtWidgets import QLabel, QPushButton, QSizePolicy, QVBoxLayout, QWidget

from yellow_slope.app.figures.drawn import Drawn, Size, drawn, screen_look
from yellow_slope.app.state.asking import Asked, Question
from yellow_slope.app.state.lanes import Lane
from yellow_slope.app.state.session import StudySession
from yellow_slope.app.state.topics import Topic
from yellow_slope.app.state.worker import Job, Worker
from yellow_slope.app.widgets import theme
from yellow_slope.app.widgets.elided import ElidedLabel
from yellow_slope.app.widgets.following import Follows
from yellow_slope.app.widgets.theme import colour, font
from yellow_slope.core.errors import YellowSlopeError
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.probe.asking import probe_of
from yellow_slope.core.probe.probed import Probed
from yellow_slope.core.probe.probing import probe_fit
from yellow_slope.core.probe.seen import Seen, Sight
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Term
from yellow_slope.core.words.sentences.effects import EffectReader
from yellow_slope.plots.look import Look
from yellow_slope.plots.probeplots import stacked
from yellow_slope.values import dataclass

LEAST = 320
GAP = 12.0
"""Pixels between two plots."""
MOST_DRAWN = 12
"""Levels of a group that are drawn beside each other in this room."""


@dataclass(frozen=True, slots=True, eq=False)
class Shown:
    """What is drawn, or why nothing is."""

    title: str
    drawn: Drawn | None
    why: str = ""


@dataclass(frozen=True, slots=True)
class Beside(Question[Shown]):
    """How a product looks: its answer is that of the current probe where it is about it, else of the factor named first
    along the next."""

    lane = Lane.BESIDE
    study: Study
    fit: Fit
    probed: Probed | None
    """The current probe's answer, where it was asked."""
    term: Term
    look: Look
    size: Size

    def answer(self, job: Job) -> Shown:
        variables = [self.study.variable(n) for n in self.term.variables]
        for variable in variables:
            if (n := len(variable.levels)) > MOST_DRAWN:
                why = f"{variable.label} has {n} levels, too many to be drawn here; in Probe they are listed."
                return Shown("", None, why)
        try:
            wanted = probe_of(self.study, self.term, self.fit)
            if wanted is None:
                return Shown("", None, "This product has no two variables to be probed along each other.")
            is_current = self.probed is not None and self.probed.probe == wanted
            probed = self.probed if is_current else probe_fit(self.study, self.fit, wanted)
        except YellowSlopeError as error:
            return Shown("", None, str(error))
        assert probed is not None
        title = EffectReader(self.study, probed, 0).title()
        page = stacked(self.study, Sight.of(probed, Seen()), self.look, self.size.width, self.size.height, GAP)
        return Shown(f"{title}, step {probed.step + 1}", drawn(page, self.size.ratio))


class PlotBeside(Follows, QWidget):
    """Interaction plot above, effect along the moderator below."""

    probe_wanted = pyqtSignal()

    def __init__(self, session: StudySession, worker: Worker, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
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
        self.asked = Asked(worker, self._arrived, session.say)
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
        if not there or view is None or view.fit is None or term is None:
            self.asked.ask(None)
            self.title.setText("")
            self.canvas.update()
            return
        size = Size(self.canvas.width(), self.canvas.height(), size.ratio)  # as it is with the button below it
        self.asked.ask(Beside(view.study.modelled(view.study.probes), view.fit, view.probed, term, look, size))

    def _arrived(self, found: Shown) -> None:
        self.title.setText(found.title)
        self.title.setToolTip(found.title)
        self.canvas.update()

    @property
    def shown(self) -> Shown | None:
        """What is drawn, or why nothing is."""
        return self.asked.answer

    @property
    def is_current(self) -> bool:
        """Whether the newest is drawn."""
        return not self.asked.is_pending


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
