"""How resamples are drawn, and how intervals are read off them."""

from __future__ import annotations

from PyQt6.QtWidgets import QDialog, QFormLayout, QLabel, QLineEdit, QVBoxLayout, QWidget

from yellow_slope.app.widgets.answers import answers
from yellow_slope.app.widgets.picker import Picker
from yellow_slope.core.study.standarderrors import FEWEST_DRAWS, MOST_DRAWS, Bootstrap, IntervalWay
from yellow_slope.core.typed import typed_whole


class BootstrapDialog(QDialog):
    """`errors()` says what was asked for."""

    def __init__(self, begin: Bootstrap, ids: list[tuple[str, str]], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle("Bootstrap")
        self.setMinimumWidth(420)
        said = QLabel(
            "Cases are drawn with replacement and every step is fitted to each "
            "resample. Standard errors, intervals, p and regions of significance then "
            "come from the resamples."
        )
        said.setWordWrap(True)
        said.setObjectName("soft")
        self.way = Picker[IntervalWay](
            "Intervals", "BCa: corrected for bias and skewness; percentile: the plain quantiles"
        )
        self.way.set_choices([(way, way.label) for way in IntervalWay], begin.way)
        self.way.whenever_chosen(self.way.set_current)
        self.draws = self._field("Resamples", str(begin.draws), f"{FEWEST_DRAWS:,} to {MOST_DRAWS:,}")
        self.seed = self._field("Seed", str(begin.seed), "A whole number: the same seed draws the same resamples")
        self.drawn = Picker[str | None]("What is drawn", "Cases one by one, or whole clusters of an id")
        self.drawn.set_choices(
            [(None, "cases"), *((name, f"clusters of {label}") for name, label in ids)], begin.cluster
        )
        self.drawn.whenever_chosen(self.drawn.set_current)
        form = QFormLayout()
        form.setSpacing(8)
        for title, widget in (
            ("Intervals", self.way),
            ("Resamples", self.draws),
            ("Seed", self.seed),
            ("Unit drawn", self.drawn),
        ):
            form.addRow(title, widget)
        self.trouble = QLabel()
        self.trouble.setObjectName("amber")
        self.trouble.setWordWrap(True)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(18, 16, 18, 16)
        layout.setSpacing(10)
        layout.addWidget(said)
        layout.addLayout(form)
        layout.addWidget(self.trouble)
        layout.addLayout(answers(self, "Draw", "Draw the resamples (Enter)", self._accept_whole))
        self.draws.setFocus()
        self.draws.selectAll()

    def _field(self, name: str, text: str, help: str) -> QLineEdit:
        field = QLineEdit(text)
        field.setAccessibleName(name)
        field.setToolTip(help)
        return field

    def _accept_whole(self) -> None:
        if None in (typed_whole(self.draws.text()), typed_whole(self.seed.text())):
            self.trouble.setText("Resamples and seed are whole numbers.")
            return
        self.accept()

    def errors(self) -> Bootstrap | None:
        """What was asked for; None where a field is no whole number."""
        draws, seed = typed_whole(self.draws.text()), typed_whole(self.seed.text())
        if draws is None or seed is None:
            return None
        return Bootstrap(self.way.current or IntervalWay.BCA, draws, seed, self.drawn.current)
