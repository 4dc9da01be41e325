"""The strip above the table that says how the file was read; each phrase is a chip that can be changed."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QWidget

from yellow_slope.app.picker import Picker
from yellow_slope.app.session import StudySession
from yellow_slope.core.data.source import ReadAs
from yellow_slope.core.words.names import SEPARATORS
from yellow_slope.core.words.sources import source_phrases

SEPARATED = [(separator, f"separated by {name}") for separator, name in SEPARATORS.items()]
DECIMALS = [(".", "decimal point"), (",", "decimal comma")]
NAMES = [("yes", "names in the first row"), ("no", "no names")]


class ReadAsStrip(QWidget):
    """Chips while the file is at hand; for a study file the same in words."""

    chosen = pyqtSignal(object)

    def __init__(self, session: StudySession, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.label = QLabel("Read as")
        self.label.setObjectName("soft")
        self.separator = self._picker("Separator", SEPARATED, lambda way, value: replace(way, separator=value))
        self.decimal = self._picker("Decimal mark", DECIMALS, lambda way, value: replace(way, decimal=value))
        self.names = self._picker("Names", NAMES, lambda way, value: replace(way, names=value == "yes"))
        self.rest = QLabel()
        self.rest.setObjectName("soft")
        self.rest.setTextFormat(Qt.TextFormat.PlainText)
        self.rest.setAccessibleName("How the file was read")
        layout = QHBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(6)
        for widget in (self.label, self.separator, self.decimal, self.names):
            layout.addWidget(widget)
        layout.addWidget(self.rest, 1)
        session.on("study", self._renew)

    def _picker(self, name: str, choices: list[tuple[str, str]], change: Callable[[ReadAs, str], ReadAs]) -> Picker:
        picker = Picker(name, f"{name}: read the file again in another way")
        picker.set_choices(choices, None)
        picker.chosen.connect(lambda value: self._choose(change(self.way(), value)))
        return picker

    def way(self) -> ReadAs:
        """How the file was read."""
        return self.session.study.source.read_as if self.session.study else ReadAs()

    def _choose(self, way: ReadAs) -> None:
        if way != self.way():
            self.chosen.emit(way)

    def text(self) -> str:
        """The whole strip in words."""
        phrases = self._phrases()
        return "Read as: " + ", ".join(phrases) if phrases else ""

    def _phrases(self) -> tuple[str, ...]:
        study = self.session.study
        return source_phrases(study.source, study.table.n_rows) if study is not None else ()

    def _renew(self) -> None:
        study = self.session.study
        if study is None:
            return
        at_hand = self.session.source is not None and self.session.source.suffix != ".yslope"
        for widget in (self.label, self.separator, self.decimal, self.names):
            widget.setVisible(at_hand)
        way = self.way()
        self.separator.set_current(way.separator)
        self.decimal.set_current(way.decimal)
        self.names.set_current("yes" if way.names else "no")
        self.rest.setText(", ".join(self._phrases()[3:]) if at_hand else self.text())
        self.rest.setToolTip(self.text())
