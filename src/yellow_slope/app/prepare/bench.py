"""The waypoint Prepare: a strip per predictor, with before and after on one axis."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QScrollArea, QVBoxLayout, QWidget

from yellow_slope.app.modelling import Modelling
from yellow_slope.app.prepare.strips import GroupStrip, NumberStrip, Strip
from yellow_slope.app.session import StudySession
from yellow_slope.core.study import Study
from yellow_slope.core.terms import variables_of
from yellow_slope.core.variable import Kind, Treatment
from yellow_slope.looks import SIZES


class PrepareBench(QWidget):
    """Make predictors fit for a product."""

    def __init__(self, session: StudySession, modelling: Modelling, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session, self.modelling = session, modelling
        self.hint = QLabel()
        self.hint.setObjectName("soft")
        self.hint.setWordWrap(True)
        self.buttons: dict[Treatment, QPushButton] = {}
        top = QHBoxLayout()
        top.addWidget(self.hint, 1)
        for treatment, text in (
            (Treatment.CENTERED, "Center"),
            (Treatment.STANDARDIZED, "Standardize"),
            (Treatment.AS_IS, "Leave as it is"),
        ):
            button = QPushButton(text)
            button.setObjectName("chip")
            button.setAccessibleName(f"{text}: the chosen numbers")
            button.clicked.connect(lambda _=False, t=treatment: modelling.treat(t))
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
        for topic in ("study", "results", "desk"):
            session.on(topic, self._renew)

    def predictors(self, study: Study) -> list[str]:
        """The model's predictors first, then the other numbers and groups."""
        used = variables_of(study.terms)
        rest = [
            v.name
            for v in study.variables
            if v.name not in used and v.kind is not Kind.TEXT and v.name != study.outcome
        ]
        return [*used, *rest]

    def focus_strip(self) -> None:
        """Put the keyboard on the current variable's strip, else on the first."""
        current = [strip for strip in self.strips if strip.name == self.session.desk.variable]
        for strip in (current or self.strips)[:1]:
            strip.setFocus()
            self.scroll_area.ensureWidgetVisible(strip)

    def showEvent(self, event) -> None:  # type: ignore[no-untyped-def]
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
        chosen = self.modelling.numbers_meant()
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
        self._strips.addStretch(1)
