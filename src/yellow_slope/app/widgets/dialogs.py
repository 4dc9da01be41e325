"""The few questions that the window asks in a dialog of its own."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFileDialog, QInputDialog, QMessageBox, QWidget

if TYPE_CHECKING:
    from yellow_slope.app.widgets.numberdialog import Wanted
    from yellow_slope.core.study.standarderrors import Bootstrap
    from yellow_slope.files.written.exporting import ExportChoices


class Dialogs:
    """Asks over one window."""

    def __init__(self, parent: QWidget) -> None:
        self._parent = parent

    def text(self, title: str, question: str, text: str = "") -> str | None:
        """A line of text; None where it was given up."""
        answer, ok = QInputDialog.getText(self._parent, title, question, text=text)
        return answer if ok else None

    def words(self, title: str, text: str, names: dict[str, str], printed: Callable[[str], str]) -> str | None:
        """Words for the report, several lines with live figures; None where it was given up."""
        from yellow_slope.app.widgets.wordsdialog import WordsDialog

        dialog = WordsDialog(title, text, names, printed, self._parent)
        return dialog.words() if dialog.exec() else None

    def number(self, title: str, question: str, begin: float, wanted: Wanted) -> float | None:
        """A number; None where it was given up."""
        from yellow_slope.app.widgets.numberdialog import NumberDialog

        dialog = NumberDialog(title, question, begin, wanted, self._parent)
        return dialog.number() if dialog.exec() else None

    def one_of(self, title: str, question: str, choices: list[str]) -> int | None:
        """The position of one of several texts; None where it was given up."""
        answer, ok = QInputDialog.getItem(self._parent, title, question, choices, 0, False)
        return choices.index(answer) if ok and answer in choices else None

    def bootstrap(self, begin: Bootstrap, ids: list[tuple[str, str]]) -> Bootstrap | None:
        """How resamples are drawn; None where it was given up. ids: variables that clusters may be drawn by."""
        from yellow_slope.app.widgets.bootstrapdialog import BootstrapDialog

        dialog = BootstrapDialog(begin, ids, self._parent)
        return dialog.errors() if dialog.exec() else None

    def save_path(self, title: str, suggestion: str, kinds: str, suffix: str) -> Path | None:
        """Where to write; None where it was given up. The ending is added before it is asked whether to write over
        what is there."""
        dialog = QFileDialog(self._parent, title, str(Path(suggestion).parent), kinds)
        dialog.setAcceptMode(QFileDialog.AcceptMode.AcceptSave)
        dialog.setDefaultSuffix(suffix.removeprefix("."))
        dialog.selectFile(Path(suggestion).name)
        found = dialog.selectedFiles() if dialog.exec() else []
        dialog.deleteLater()
        return Path(found[0]) if found else None

    def open_path(self, title: str, kinds: str) -> Path | None:
        """What to read; None where it was given up."""
        name, _ = QFileDialog.getOpenFileName(self._parent, title, "", kinds)
        return Path(name) if name else None

    def export(self, suggestion: str, folder: Path, has_fit: bool) -> tuple[str, ExportChoices] | None:
        """Names of files to write the table to, on one line, and what of it; None where it was given up."""
        from yellow_slope.app.widgets.exportdialog import ExportDialog

        dialog = ExportDialog(suggestion, folder, has_fit, self._parent)
        return (dialog.names.text(), dialog.choices()) if dialog.exec() else None

    def choose(self, title: str, question: str, *answers: str) -> int:
        """The position of the answer that was chosen; the last one where the dialog was closed."""
        box = QMessageBox(self._parent)
        box.setWindowTitle(title)
        box.setTextFormat(Qt.TextFormat.PlainText)  # it names files
        box.setText(question)
        roles = QMessageBox.ButtonRole
        buttons = [
            box.addButton(text, roles.RejectRole if i == len(answers) - 1 else roles.AcceptRole)
            for i, text in enumerate(answers)
        ]
        box.exec()
        clicked = box.clickedButton()
        return next((i for i, button in enumerate(buttons) if button is clicked), len(answers) - 1)
