"""The header: study name, the trail with its waypoints, cases in use, undo and redo."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetrics, QIcon, QMouseEvent, QPainter, QPaintEvent, QPen, QPixmap, QPolygonF
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QToolButton, QWidget

from yellow_slope.app.state.desk import WAYPOINTS
from yellow_slope.app.state.session import StudySession
from yellow_slope.app.verbs.actions import TRAIL, ActionTable, action
from yellow_slope.app.widgets import theme
from yellow_slope.app.widgets.theme import colour, font
from yellow_slope.core.study.study import FlagKey, FlagKind
from yellow_slope.looks import SIZES

STEP, NARROW = 92, 76
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


class Trail(QWidget):
    """A line across the top with six waypoints; never locked."""

    gone_to = pyqtSignal(str)

    def __init__(self, session: StudySession, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setAccessibleName("Trail: Data, Prepare, Blocks, Checks, Probe, Report")
        self.setToolTip("Go to a waypoint (Alt+1 to Alt+6, or Left and Right)")
        self.setMinimumWidth(NARROW * 6)
        session.on("desk", self.update)

    def sizeHint(self) -> QSize:
        return QSize(STEP * 6, SIZES.header)

    def place_of(self, name: str) -> QPointF:
        """Where a waypoint's dot stands."""
        return QPointF((WAYPOINTS.index(name) + 0.5) * self._step(), 21)

    def _step(self) -> float:
        return min(STEP, self.width() / len(WAYPOINTS))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter, p = QPainter(self), theme.palette()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(colour(p.line), 2))
        painter.drawLine(self.place_of(WAYPOINTS[0]), self.place_of(WAYPOINTS[-1]))
        for name in WAYPOINTS:
            at, here = self.place_of(name), name == self.session.desk.waypoint
            painter.setPen(QPen(colour(p.ink), 1.6))
            painter.setBrush(colour(p.yellow if here else p.panel))
            size = 7.5 if here else 5.5
            painter.drawEllipse(at, size, size)
            painter.setFont(font(13, "bold" if here else "normal"))
            painter.setPen(colour(p.ink if here else p.soft_ink))
            painter.drawText(QRectF(at.x() - STEP / 2, 32, STEP, 18), Qt.AlignmentFlag.AlignCenter, name)
        if self.hasFocus():
            painter.setPen(QPen(colour(p.yellow), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            at = self.place_of(self.session.desk.waypoint)
            painter.drawRoundedRect(QRectF(at.x() - self._step() / 2 + 4, 4, self._step() - 8, 48), 6, 6)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None:
            index = int(event.position().x() // self._step())
            if 0 <= index < len(WAYPOINTS):
                self.gone_to.emit(WAYPOINTS[index])

    @action("go to the waypoint before", "Go one waypoint back", "Left", scope=TRAIL)
    def back(self) -> None:
        """Go one waypoint back."""
        self._go(-1)

    @action("go to the next waypoint", "Go one waypoint on", "Right", scope=TRAIL)
    def on(self) -> None:
        """Go one waypoint on."""
        self._go(1)

    def _go(self, by: int) -> None:
        index = WAYPOINTS.index(self.session.desk.waypoint) + by
        self.gone_to.emit(WAYPOINTS[max(0, min(len(WAYPOINTS) - 1, index))])


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
        for topic in ("study", "results"):
            session.on(topic, self._renew)

    def _show_lost(self) -> None:
        if self.session.flag(LOST) is not None:
            self.session.look(flag=LOST)

    def act_on(self, actions: ActionTable) -> None:
        """Let undo and redo run their actions."""
        for button, name in ((self.undo, "undo"), (self.redo, "redo")):
            button.setAccessibleName(actions[name].title)
            button.setToolTip(actions[name].tooltip)
            button.clicked.connect(lambda _=False, run=actions[name].run: run())

    def _button(self, text: str) -> QToolButton:
        button = QToolButton()
        button.setText(text)
        button.setFont(font(19))
        button.setFixedSize(34, 34)
        return button

    def _renew(self) -> None:
        study, view = self.session.study, self.session.view
        if study is None:
            return
        mark = "" if self.session.is_saved else " •"
        whole = f"{study.name}{mark}  ▾"
        metrics = QFontMetrics(self.name.font())
        self.name.setText(
            metrics.elidedText(whole.replace("&", "&&"), Qt.TextElideMode.ElideMiddle, self.name.width() - 18)
        )
        self.name.setStyleSheet("text-align: left;")
        if view is not None:
            sample = view.evaluation.cases
            self.cases.setText(f"{sample.n:,} of {sample.n_table:,} cases")
            flag = self.session.flag(LOST)
            self.cases.setIcon(pennant() if flag is not None else QIcon())
            self.cases.setToolTip(
                flag.title if flag is not None else "All cases of the table that are complete on the model"
            )
        self.undo.setEnabled(bool(self.session.undo_name))
        self.redo.setEnabled(bool(self.session.redo_name))
        self.undo.setToolTip(
            f"Undo: {self.session.undo_name} (Ctrl+Z)" if self.session.undo_name else "Nothing to undo"
        )
        self.redo.setToolTip(
            f"Redo: {self.session.redo_name} (Ctrl+Shift+Z)" if self.session.redo_name else "Nothing to redo"
        )
