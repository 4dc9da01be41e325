"""The strip above the table that says how the file was read; each phrase is a chip that can be changed."""

from __future__ import annotations

from collections.abc import Callable
from typing import TypeVar

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QWidget

from yellow_slope.app.state.session import StudySession
from yellow_slope.app.state.topics import Topic
from yellow_slope.app.widgets.elided import ElidedLabel
from yellow_slope.app.widgets.following import Follows
from yellow_slope.app.widgets.picker import Picker
from yellow_slope.core.data.source import Decimal, Format, Ragged, ReadAs
from yellow_slope.core.words.names.study import SEPARATORS
from yellow_slope.core.words.sentences.sources import source_phrases
from yellow_slope.core.words.spelling.numerals import listed_some
from yellow_slope.files.text.encodings import CHOICES
from yellow_slope.values import replace

SEPARATED = [(separator, f"separated by {name}") for separator, name in SEPARATORS.items()]
DECIMALS: list[tuple[Decimal, str]] = [(".", "decimal point"), (",", "decimal comma")]
ENCODED = [(encoding, name) for encoding, name in CHOICES.items()]
RAGGED = [
    (Ragged.REFUSE, "refuse odd rows"),
    (Ragged.FILL, "odd rows filled or cut"),
    (Ragged.SKIP, "odd rows skipped"),
]
NAMELESS: list[tuple[int | None, str]] = [(None, "no names")]
T = TypeVar("T")
MOST_ABOVE = 9


class ReadAsStrip(Follows, QWidget):
    """Chips while the file is at hand; without it the same in words."""

    chosen = pyqtSignal(object)
    looked_at = pyqtSignal(object)
    """A way of reading that is looked at but not chosen; None: no longer."""

    def __init__(self, session: StudySession, at_hand: Callable[[], bool], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session, self._at_hand = session, at_hand
        self.label = QLabel("Read as")
        self.label.setObjectName("soft")
        self.separator = self._picker("Separator", SEPARATED, lambda way, value: replace(way, separator=value))
        self.decimal = self._picker("Decimal mark", DECIMALS, lambda way, value: replace(way, decimal=value))
        self.names: Picker[int | None] = self._picker("Names", NAMELESS, _with_names)
        self.encoding = self._picker("Encoding", ENCODED, lambda way, value: replace(way, encoding=value))
        self.ragged = self._picker("Rows of another length", RAGGED, lambda way, value: replace(way, ragged=value))
        self.sheet: Picker[str] = self._picker(
            "Sheet", [], lambda way, value: replace(way, sheet=value, above=0, names=True)
        )
        self.pickers = (self.sheet, self.separator, self.decimal, self.names, self.encoding, self.ragged)
        self.rest = ElidedLabel()
        self.rest.setObjectName("soft")
        self.rest.setAccessibleName("How the file was read")
        layout = QHBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(6)
        for widget in (self.label, *self.pickers):
            layout.addWidget(widget)
        layout.addWidget(self.rest, 1)
        self.follow(session, Topic.STUDY, Topic.TABLE_FILE)

    def _picker(self, name: str, choices: list[tuple[T, str]], change: Callable[[ReadAs, T], ReadAs]) -> Picker[T]:
        picker = Picker[T](name, f"{name}: read the file again in another way; the model is kept, and undo reverts it")
        picker.set_choices(choices, None)
        picker.whenever_chosen(lambda value: self._choose(change(self.way(), value)))
        picker.looked_at.connect(lambda value: self.looked_at.emit(change(self.way(), value)))
        picker.shut.connect(lambda: self.looked_at.emit(None))
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
        return source_phrases(study.source, study.table.n_rows)

    def renew(self) -> None:
        study = self.session.study
        at_hand = self._at_hand()
        way, found = self.way(), study.source.found
        text, sheet = way.format is Format.TEXT, way.format is Format.SPREADSHEET
        self.label.setVisible(at_hand)
        for picker, fits in (
            (self.sheet, len(found.sheets) > 1),
            (self.separator, text),
            (self.decimal, text),
            (self.names, text or sheet),
            (self.encoding, text and way.encoding not in ("utf-8", "utf-8-sig")),
            (self.ragged, found.n_ragged > 0),
        ):
            picker.setVisible(at_hand and fits)
        rows = range(max(MOST_ABOVE, way.above + 1))
        self.names.set_choices(
            [*((k, f"names in row {k + 1}") for k in rows), *NAMELESS], way.above if way.names else None
        )
        self.sheet.set_choices([(name, f"sheet “{name}”") for name in found.sheets], way.sheet)
        self.separator.set_current(way.separator)
        self.decimal.set_current(way.decimal)
        if found.doubtful:
            self.decimal.setText(f"{self.decimal.text_of(way.decimal)}?  ▾")
            self.decimal.setToolTip(self._doubt())
        self.encoding.set_current(way.encoding)
        self.ragged.set_current(way.ragged)
        shown = sum(fits for fits in (text, text, text or sheet, len(found.sheets) > 1))
        self.rest.setText(", ".join(self._phrases()[shown:]) if at_hand else self.text())
        self.rest.setToolTip(self._doubt() or self.text())

    def _doubt(self) -> str:
        """What nothing in the file decides, and what can be done about it."""
        study = self.session.study
        if not study.source.found.doubtful:
            return ""
        columns = listed_some(study.source.found.doubtful_columns, 4)
        return f"“{study.source.found.doubtful}” in {columns} can be read either way. Choose the decimal mark."


def _with_names(way: ReadAs, above: int | None) -> ReadAs:
    return replace(way, names=False) if above is None else replace(way, names=True, above=above)
