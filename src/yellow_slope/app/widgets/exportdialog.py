"""What of the table is written out, and to which files."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QCheckBox, QDialog, QHBoxLayout, QLabel, QLineEdit, QPushButton, QVBoxLayout, QWidget

from yellow_slope.files.written.exporting import SUFFIXES, ExportChoices

PARTS = (
    ("labels", "Groups by the names of their levels", "Instead of the codes in the file", False),
    ("computed", "Computed columns", "Columns that were computed from others", True),
    (
        "model_columns",
        "Columns of the model",
        "Treated numbers, codes and products, as the current model uses them",
        False,
    ),
    (
        "used_only",
        "Only the cases that the model uses",
        "Without cases outside the sample, set aside or incomplete",
        False,
    ),
    (
        "code_book",
        "A code book beside it",
        "Labels, units, levels and codes for missing: as Table Schema and as two columns",
        True,
    ),
    ("as_text", "Guard texts that look like formulas", "An apostrophe before texts that begin with = + - @", False),
)


class ExportDialog(QDialog):
    """`names` and `choices()` say what was asked for."""

    def __init__(self, suggestion: str, folder: Path, has_fit: bool, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle("Export the table")
        self.setMinimumWidth(520)
        question = QLabel("File names on one line:")
        kinds = QLabel(
            f"Written as {', '.join(SUFFIXES[:-1])}, or {SUFFIXES[-1]} for a data package.\n"
            f"Without a folder of their own they go to {folder}."
        )
        kinds.setTextFormat(Qt.TextFormat.PlainText)  # it names a folder
        kinds.setWordWrap(True)
        kinds.setObjectName("small")
        self.names = QLineEdit(suggestion)
        self.names.setAccessibleName("File names to write")
        self.names.setToolTip("One file name or several, parted by commas; the ending says the kind")
        self.boxes: dict[str, QCheckBox] = {}
        layout = QVBoxLayout(self)
        layout.setContentsMargins(18, 16, 18, 16)
        layout.setSpacing(8)
        for widget in (question, self.names, kinds):
            layout.addWidget(widget)
        for name, title, tip, on in PARTS:
            box = QCheckBox(title)
            box.setAccessibleName(title)
            box.setToolTip(tip)
            box.setChecked(on)
            box.setEnabled(has_fit or name not in ("model_columns", "used_only"))
            self.boxes[name] = box
            layout.addWidget(box)
        self.write, leave = QPushButton("Write"), QPushButton("Cancel")
        self.write.setObjectName("main")
        leave.setObjectName("chip")
        self.write.setToolTip("Write the files (Enter)")
        leave.setToolTip("Write nothing (Esc)")
        for button in (self.write, leave):
            button.setAccessibleName(button.text())
        self.write.setDefault(True)
        self.write.clicked.connect(self.accept)
        leave.clicked.connect(self.reject)
        row = QHBoxLayout()
        row.addStretch(1)
        row.addWidget(leave)
        row.addWidget(self.write)
        layout.addLayout(row)
        self.names.setFocus()
        self.names.selectAll()

    def choices(self) -> ExportChoices:
        """What is written."""
        return ExportChoices(**{name: box.isChecked() for name, box in self.boxes.items()})
