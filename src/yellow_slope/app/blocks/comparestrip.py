"""The strip above the ladder that says what the model beside is to this one; a click ends the comparison."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPaintEvent, QPen, QResizeEvent
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QToolButton, QWidget

from yellow_slope.app.blocks.belowtables import relation_said
from yellow_slope.app.blocks.beside import Beside
from yellow_slope.app.state.asking import Asked, Question
from yellow_slope.app.state.lanes import Lane
from yellow_slope.app.state.session import StudySession
from yellow_slope.app.state.topics import Topic
from yellow_slope.app.state.worker import Job, Worker
from yellow_slope.app.widgets import theme
from yellow_slope.app.widgets.theme import colour
from yellow_slope.core.fit.fitted.evaluate import Evaluation
from yellow_slope.values import dataclass


@dataclass(frozen=True, slots=True)
class Relation(Question[str]):
    """What another model is to the current one, in words."""

    lane = Lane.RELATION
    evaluation: Evaluation
    compared: str

    def answer(self, job: Job) -> str:
        return relation_said(self.evaluation, self.compared)


class CompareStrip(QWidget):
    """Hidden while nothing is compared."""

    grown = pyqtSignal()
    """Its height is another one: what stands below it moves."""

    def __init__(self, session: StudySession, worker: Worker, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.setObjectName("panel")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.said = QLabel()
        self.said.setWordWrap(True)
        self.said.setTextFormat(Qt.TextFormat.PlainText)
        self.said.setAccessibleName("How the model beside relates to this one")
        self.end = QToolButton()
        self.end.setText("×")
        self.end.setAccessibleName("Stop comparing")
        self.end.setToolTip("Stop comparing (Ctrl+Shift+M)")
        self.end.clicked.connect(lambda _=False: session.look(compared=None))
        self.next = QToolButton()
        self.next.setText("›")
        self.next.setAccessibleName("Compare with the next model")
        self.next.setToolTip("Compare with the next of the study's models")
        self.next.clicked.connect(lambda _=False: self._compare_next())
        layout = QHBoxLayout(self)
        layout.setContentsMargins(10, 3, 6, 3)
        layout.setSpacing(8)
        layout.addWidget(_Key())
        layout.addWidget(self.said, 1)
        layout.addWidget(self.next, 0, Qt.AlignmentFlag.AlignTop)
        layout.addWidget(self.end, 0, Qt.AlignmentFlag.AlignTop)
        self._asked: Asked[str] = Asked(worker, self.said.setText, session.say)
        self.hide()
        session.on(self._renew, Topic.RESULTS, Topic.LADDER)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self.grown.emit()

    def _renew(self) -> None:
        view, beside = self.session.view, Beside.of(self.session)
        self.setVisible(beside is not None)
        self.next.setVisible(len(self.session.study.models) > 2)
        if view is None or beside is None:
            self._asked.ask(None)
        else:
            self._asked.ask(Relation(view.evaluation.modelled(), beside.model.id))

    def _compare_next(self) -> None:
        """The next of the other models, behind the last the first."""
        others = [m.id for m in self.session.study.models if m.id != self.session.study.current]
        now = self.session.desk.compared
        at = others.index(now) + 1 if now in others else 0
        self.session.look(compared=others[at % len(others)] if others else None)


class _Key(QWidget):
    """How both models are drawn: this one with a dot, the other with a square below."""

    def __init__(self) -> None:
        super().__init__()
        self.setFixedSize(QSize(34, 24))
        self.setAccessibleName("This model with a dot, the other with a square")
        self.setToolTip("This model: line with a dot. The model beside: thick pale line with a square.")

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter, p = QPainter(self), theme.palette()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(colour(p.ink), 1.6))
        painter.drawLine(QPointF(2, 8), QPointF(32, 8))
        painter.setBrush(colour(p.ink))
        painter.drawEllipse(QPointF(17, 8), 3.4, 3.4)
        painter.setPen(QPen(colour(p.shade), 3.2))
        painter.drawLine(QPointF(2, 17), QPointF(32, 17))
        painter.setPen(QPen(colour(p.soft_ink), 1))
        painter.setBrush(colour(p.panel))
        painter.drawRect(QRectF(14.4, 14.4, 5.2, 5.2))
