"""What stands below the ladder: what the steps say, the variables, the models, how far to trust a product."""

from __future__ import annotations

from functools import partial
from typing import assert_never

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QStackedWidget, QToolButton, QVBoxLayout, QWidget

from yellow_slope.app.blocks.belowtables import Told, models_told, steps_told, variables_told
from yellow_slope.app.blocks.trust import TrustPanel
from yellow_slope.app.state.asking import Asked, Question
from yellow_slope.app.state.desk import Under
from yellow_slope.app.state.lanes import Lane
from yellow_slope.app.state.session import StudySession
from yellow_slope.app.state.topics import Topic
from yellow_slope.app.state.worker import Job, Worker
from yellow_slope.app.verbs.actions import Scope, action
from yellow_slope.app.widgets.figuretable import FigureTable
from yellow_slope.app.widgets.following import Follows
from yellow_slope.core.fit.fitted.evaluate import Evaluation
from yellow_slope.values import dataclass

TITLES: dict[Under, str] = {
    Under.STEPS: "step statistics",
    Under.VARIABLES: "descriptives",
    Under.MODELS: "models side by side",
    Under.TRUST: "how far to trust it",
}
HELP = {
    Under.STEPS: "All statistics of each step with intervals, and the smallest change its test would detect",
    Under.VARIABLES: "Means, SDs and correlations of exactly the model's cases",
    Under.MODELS: "The study's models with their fit and coefficients, and what they are to each other",
    Under.TRUST: "Power, reliability, and the chosen product with each covariate's products added",
}
BAR = 34


@dataclass(frozen=True, slots=True)
class Below(Question[Told]):
    """What one of the parts says."""

    lane = Lane.BELOW
    evaluation: Evaluation
    part: Under
    compared: str | None
    """Id of the model beside."""

    def answer(self, job: Job) -> Told:
        match self.part:
            case Under.VARIABLES:
                return variables_told(self.evaluation)
            case Under.MODELS:
                return models_told(self.evaluation, self.compared)
            case Under.STEPS | Under.TRUST | Under.NOTHING:
                return steps_told(self.evaluation)
            case _:
                assert_never(self.part)


class BelowPanel(Follows, QWidget):
    """Computes what it shows off the interface thread, and only while it is seen."""

    model_chosen = pyqtSignal(str)
    """A click on the title of a model."""

    def __init__(self, session: StudySession, worker: Worker, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.setObjectName("panel")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.shown = Under.STEPS
        self.buttons: dict[Under, QToolButton] = {}
        bar = QHBoxLayout()
        bar.setContentsMargins(6, 3, 6, 0)
        bar.setSpacing(4)
        for part, title in TITLES.items():
            button = QToolButton()
            button.setText(title)
            button.setObjectName("tab")
            button.setCheckable(True)
            button.setAccessibleName(title)
            button.setToolTip(HELP[part])
            button.clicked.connect(partial(self._look, part))
            self.buttons[part] = button
            bar.addWidget(button)
        self.close_button = QToolButton()
        self.close_button.setText("×")
        self.close_button.setAccessibleName("Close the table below the ladder")
        self.close_button.setToolTip("Give the room to the ladder (Ctrl+Shift+B)")
        self.close_button.clicked.connect(lambda _=False: session.look(below=Under.NOTHING))
        bar.addStretch(1)
        bar.addWidget(self.close_button)
        self.said = QLabel()
        self.said.setWordWrap(True)
        self.said.setTextFormat(Qt.TextFormat.PlainText)
        self.said.setContentsMargins(10, 0, 10, 2)
        self.said.setAccessibleName("In a sentence")
        self.table = FigureTable("Table below the ladder", "Arrow keys go from row to row")
        self.table.row_chosen.connect(self._row_chosen)
        self.table.column_chosen.connect(self._column_chosen)
        self.trust = TrustPanel(session, worker)
        tables = QWidget()
        inner = QVBoxLayout(tables)
        inner.setContentsMargins(0, 0, 0, 0)
        inner.setSpacing(2)
        inner.addWidget(self.said)
        inner.addWidget(self.table, 1)
        self.pages = QStackedWidget()
        self.pages.addWidget(tables)
        self.pages.addWidget(self.trust)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(2)
        layout.addLayout(bar)
        layout.addWidget(self.pages, 1)
        self._asked = Asked(worker, self._arrived, session.say)
        self.told: Told | None = None
        self.follow(session, Topic.RESULTS, Topic.ROW, Topic.LADDER)

    def _look(self, part: Under, _checked: bool = False) -> None:
        self.session.look(below=part)

    def show_part(self, part: Under) -> None:
        """Show one of the parts."""
        self.shown = part
        for key, button in self.buttons.items():
            button.setChecked(key is part)
        self._told()

    def renew(self) -> None:
        """Have what is shown made, if the results are new."""
        self.pages.setCurrentIndex(1 if self.shown is Under.TRUST else 0)
        if self.shown is Under.TRUST:
            self.trust.renew()
            return
        view = self.session.view
        if view is None:
            return
        compared = self.session.desk.compared if self.shown is Under.MODELS else None
        self._asked.ask(Below(view.evaluation.modelled(), self.shown, compared))

    def _arrived(self, told: Told) -> None:
        self.told = told
        self.said.setText(told.said)
        self.said.setVisible(bool(told.said))
        self.table.setVisible(bool(told.head))
        self.table.show_rows(told.head, told.rows, told.corner)

    def _row_chosen(self, index: int) -> None:
        """A step is opened; other rows are read by their own."""
        if self.shown is Under.STEPS:
            self.session.look(open_step=index, cell=None, flag=None)

    def _column_chosen(self, column: int) -> None:
        if self.shown is Under.MODELS and self.told is not None and column < len(self.told.columns):
            self.model_chosen.emit(self.told.columns[column])

    @property
    def current_table(self) -> FigureTable:
        """The table that has the keyboard."""
        return self.trust.table if self.shown is Under.TRUST else self.table

    @action("choose the table row above", "Go to the row above", "Up", scope=Scope.BELOW)
    def up(self) -> None:
        """Go to the row above."""
        self.current_table.go(-1)

    @action("choose the table row below", "Go to the row below", "Down", scope=Scope.BELOW)
    def down(self) -> None:
        """Go to the row below."""
        self.current_table.go(1)
