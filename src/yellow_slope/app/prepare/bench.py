"""The waypoint Prepare: a strip per predictor, with before and after on one axis."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QShowEvent
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QScrollArea, QVBoxLayout, QWidget

from yellow_slope.app.actions import STRIP, action
from yellow_slope.app.modelactions import ModelActions
from yellow_slope.app.prepare.strips import GroupStrip, NumberStrip, Strip
from yellow_slope.app.session import StudySession
from yellow_slope.core.data.variable import Kind
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import variables_of
from yellow_slope.core.study.treatment import AS_IS, CENTERED, STANDARDIZED, Treatment
from yellow_slope.looks import SIZES

MOST_STRIPS = 80
"""More strips than this nobody looks through; those of the model come first."""


class PrepareBench(QWidget):
    """Make predictors fit for a product."""

    def __init__(self, session: StudySession, modelactions: ModelActions, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session, self.modelactions = session, modelactions
        self.hint = QLabel()
        self.hint.setObjectName("soft")
        self.hint.setWordWrap(True)
        self.hint.setTextFormat(Qt.TextFormat.PlainText)
        self.buttons: dict[Treatment, QPushButton] = {}
        top = QHBoxLayout()
        top.addWidget(self.hint, 1)
        for treatment, text in ((CENTERED, "Center"), (STANDARDIZED, "Standardize"), (AS_IS, "Leave as it is")):
            button = QPushButton(text)
            button.setObjectName("chip")
            button.setAccessibleName(f"{text}: the chosen numbers")
            button.clicked.connect(partial(self._treat, treatment))
            button.setFixedHeight(30)
            self.buttons[treatment] = button
            top.addWidget(button)
        self.list = QWidget()
        self.list.setObjectName("paper")
        self._strips = QVBoxLayout(self.list)
        self._strips.setContentsMargins(0, 0, 0, 0)
        self._strips.setSpacing(1)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setWidget(self.list)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        scroll.setAccessibleName("Strips of the predictors")
        self.scroll_area = scroll
        layout = QVBoxLayout(self)
        layout.setContentsMargins(SIZES.margin, 8, SIZES.margin, 4)
        layout.setSpacing(8)
        layout.addLayout(top)
        layout.addWidget(scroll, 1)
        self.strips: list[Strip] = []
        self._key: object = None
        self._unseen = 0
        for topic in ("study", "results", "desk"):
            session.on(topic, self._renew)

    def predictors(self, study: Study) -> list[str]:
        """The chosen variable, the model's predictors, then the other numbers and groups: as many as can be looked at."""
        used = variables_of(study.model.terms)
        rest = [
            v.name for v in study.variables if v.name not in used and v.kind.enters and v.name != study.model.outcome
        ]
        every = [*used, *rest]
        self._unseen = max(0, len(every) - MOST_STRIPS)
        if not self._unseen:
            return every
        chosen = self.session.desk.variable
        first = [chosen] if chosen in rest else []
        return [*first, *(name for name in every if name != chosen or name not in first)][:MOST_STRIPS]

    def _treat(self, treatment: Treatment, _checked: bool = False) -> None:
        self.modelactions.treat(treatment)

    @action("choose the strip above", "Go to the strip above", "Up", scope=STRIP)
    def up(self) -> None:
        """Go to the strip above."""
        self._step(-1)

    @action("choose the strip below", "Go to the strip below", "Down", scope=STRIP)
    def down(self) -> None:
        """Go to the strip below."""
        self._step(1)

    def _step(self, by: int) -> None:
        here = next((i for i, strip in enumerate(self.strips) if strip.hasFocus()), None)
        if here is not None:
            strip = self.strips[max(0, min(len(self.strips) - 1, here + by))]
            strip.setFocus()
            self.scroll_area.ensureWidgetVisible(strip)

    @action(
        "take the level before as the reference", "Take the level before as the reference group", "Left", scope=STRIP
    )
    def reference_back(self) -> None:
        """Take the level before as the reference group."""
        self._turn(-1)

    @action("take the next level as the reference", "Take the next level as the reference group", "Right", scope=STRIP)
    def reference_on(self) -> None:
        """Take the next level as the reference group."""
        self._turn(1)

    def _turn(self, by: int) -> None:
        for strip in self.strips:
            if strip.hasFocus() and isinstance(strip, GroupStrip):
                strip.turn(by)

    def focus_strip(self) -> None:
        """Put the keyboard on the current variable's strip, else on the first."""
        current = [strip for strip in self.strips if strip.name == self.session.desk.variable]
        for strip in (current or self.strips)[:1]:
            strip.setFocus()
            self.scroll_area.ensureWidgetVisible(strip)

    def showEvent(self, event: QShowEvent | None) -> None:
        super().showEvent(event)
        self._renew()

    def _renew(self) -> None:
        study = self.session.study
        if study is None or not self.isVisible():
            return
        names = self.predictors(study)
        kinds = tuple((n, study.variable(n).kind) for n in names)
        if kinds != self._key:
            self._key = kinds
            self._rebuild(study, names)
        for strip in self.strips:
            strip.renew()
        chosen = self.modelactions.numbers_meant()
        n = len(chosen)
        if n == 0:
            self.hint.setText(
                "Click a number to treat it; Ctrl+click or Space chooses several. Groups: click a level to make it the reference."
            )
        else:
            labels = ", ".join(study.variable(x).label for x in chosen)
            self.hint.setText(f"Chosen: {labels}")
        for button in self.buttons.values():
            button.setEnabled(n > 0)

    def _rebuild(self, study: Study, names: list[str]) -> None:
        held = next((strip.name for strip in self.strips if strip.hasFocus()), "")
        while (item := self._strips.takeAt(0)) is not None:
            widget = item.widget()
            if widget is not None:
                widget.deleteLater()
        self.strips = []
        for name in names:
            kind = study.variable(name).kind
            strip = NumberStrip(self.session, name) if kind is Kind.NUMBER else GroupStrip(self.session, name)
            self.strips.append(strip)
            self._strips.addWidget(strip)
            if name == held:
                strip.setFocus()
        if self._unseen:
            said = QLabel(f"and {self._unseen:,} other columns; choose one in the roster to see it first")
            said.setObjectName("soft")
            self._strips.addWidget(said)
        self._strips.addStretch(1)
