"""The header: study name, the trail, cases in use, undo and redo."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetrics, QIcon, QPainter, QPen, QPixmap, QPolygonF
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QToolButton, QWidget

from yellow_slope.app.frame.trail import STEP, Trail
from yellow_slope.app.state.session import StudySession
from yellow_slope.app.state.topics import Topic
from yellow_slope.app.verbs.actions import Action
from yellow_slope.app.widgets import theme
from yellow_slope.app.widgets.theme import colour, font
from yellow_slope.core.study.flagkeys import FlagKey, FlagKind
from yellow_slope.looks import SIZES

LOST = FlagKey(FlagKind.LOST)


def pennant() -> QIcon:
    """The mark of a flag as an icon."""
    picture = QPixmap(16, 16)
    picture.fill(Qt.GlobalColor.transparent)
    painter, p = QPainter(picture), theme.palette()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setPen(QPen(colour(p.amber_ink), 1.3))
    painter.drawLine(QPointF(3, 1), QPointF(3, 15))
    painter.setBrush(colour(p.yellow))
    painter.drawPolygon(QPolygonF([QPointF(3, 1.5), QPointF(14, 5.5), QPointF(3, 9.5)]))
    painter.end()
    return QIcon(picture)


class Header(QWidget):
    """56 pixels across the top."""

    menu_wanted = pyqtSignal()

    def __init__(self, session: StudySession, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.setFixedHeight(SIZES.header)
        self.setObjectName("paper")
        self.name = QPushButton()
        self.name.setFont(font(SIZES.title, "bold"))
        self.name.setStyleSheet("text-align: left;")
        self.name.setAccessibleName("Study menu")
        self.name.setToolTip("Open, save, export and more")
        self.name.clicked.connect(self.menu_wanted.emit)
        self.trail = Trail(session)
        self.trail.setMaximumWidth(STEP * 6)
        self.cases = QPushButton()
        self.cases.setObjectName("soft")
        self.cases.setAccessibleName("Cases in use")
        self.cases.clicked.connect(self._show_lost)
        self.undo = self._button("↶")
        self.redo = self._button("↷")
        layout = QHBoxLayout(self)
        layout.setContentsMargins(10, 0, 14, 0)
        self.name.setMaximumWidth(246)
        self.name.setMinimumWidth(170)
        layout.addWidget(self.name, 2)
        layout.addStretch(1)
        layout.addWidget(self.trail, 6)
        layout.addStretch(2)
        layout.addWidget(self.cases)
        layout.addSpacing(10)
        layout.addWidget(self.undo)
        layout.addWidget(self.redo)
        session.on(self._renew, Topic.STUDY, Topic.RESULTS)

    def _show_lost(self) -> None:
        if self.session.flag(LOST) is not None:
            self.session.look(flag=LOST)

    def act_on(self, undo: Action, redo: Action) -> None:
        """Let undo and redo run their actions."""
        for button, action in ((self.undo, undo), (self.redo, redo)):
            button.setAccessibleName(action.title)
            button.setToolTip(action.tooltip)
            button.clicked.connect(lambda _=False, run=action.run: run())

    def _button(self, text: str) -> QToolButton:
        button = QToolButton()
        button.setText(text)
        button.setFont(font(19))
        button.setFixedSize(34, 34)
        return button

    def _renew(self) -> None:
        study, view = self.session.study, self.session.view
        mark = "" if self.session.is_saved else " •"
        whole = f"{study.name}{mark}  ▾"
        metrics = QFontMetrics(self.name.font())
        self.name.setText(
            metrics.elidedText(whole.replace("&", "&&"), Qt.TextElideMode.ElideMiddle, self.name.width() - 18)
        )
        if view is not None:
            sample = view.evaluation.cases
            self.cases.setText(f"{sample.n:,} of {sample.n_table:,} cases")
            flag = self.session.flag(LOST)
            self.cases.setIcon(pennant() if flag is not None else QIcon())
            self.cases.setToolTip(
                flag.title if flag is not None else "Cases with a value on every variable of the model"
            )
        self.undo.setEnabled(bool(self.session.undo_name))
        self.redo.setEnabled(bool(self.session.redo_name))
        self.undo.setToolTip(
            f"Undo: {self.session.undo_name} (Ctrl+Z)" if self.session.undo_name else "Nothing to undo"
        )
        self.redo.setToolTip(
            f"Redo: {self.session.redo_name} (Ctrl+Shift+Z)" if self.session.redo_name else "Nothing to redo"
        )
