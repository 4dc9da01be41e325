"""Somebody's own words for the report, with live figures that are completed while they are typed."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QEvent, QObject, Qt
from PyQt6.QtGui import QKeyEvent, QTextCursor
from PyQt6.QtWidgets import QCompleter, QDialog, QLabel, QPlainTextEdit, QVBoxLayout, QWidget

from yellow_slope.app.widgets.answers import answers

WIDE, TALL = 560, 150


class WordsDialog(QDialog):
    """`words()` is what was typed. `names`: what a figure can be asked for by, with what it is now; `printed`: the
    words as they will be printed."""

    def __init__(
        self,
        title: str,
        begin: str,
        names: dict[str, str],
        printed: Callable[[str], str],
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self.setWindowTitle(title)
        self.setMinimumWidth(WIDE)
        self._printed = printed
        help = QLabel(
            "*word* is slanted, **word** is bold; an empty line begins a new paragraph. “{” offers figures that stay "
            "live: {b practice x worry}."
        )
        help.setWordWrap(True)
        help.setObjectName("soft")
        help.setTextFormat(Qt.TextFormat.PlainText)
        self.text = QPlainTextEdit(begin)
        self.text.setAccessibleName("Your own words")
        self.text.setToolTip("Your own words; “{” offers figures, Ctrl+Enter accepts them")
        self.text.setMinimumHeight(TALL)
        self.text.setTabChangesFocus(True)
        self.shown = QLabel()
        self.shown.setWordWrap(True)
        self.shown.setObjectName("soft")
        self.shown.setTextFormat(Qt.TextFormat.PlainText)
        self.shown.setAccessibleName("As it will be printed")
        self._names = [f"{name}   {value}" for name, value in names.items()]
        self.completer = QCompleter(self._names, self)
        self.completer.setCaseSensitivity(Qt.CaseSensitivity.CaseInsensitive)
        self.completer.setFilterMode(Qt.MatchFlag.MatchContains)
        self.completer.setMaxVisibleItems(8)
        self.completer.setWidget(self.text)
        self.completer.activated[str].connect(self.complete)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(18, 16, 18, 16)
        layout.setSpacing(10)
        layout.addWidget(help)
        layout.addWidget(self.text, 1)
        layout.addWidget(self.shown)
        layout.addLayout(answers(self, "Use it", "Print these words (Ctrl+Enter)", self.accept, by_enter=False))
        self.text.installEventFilter(self)
        self.text.textChanged.connect(self._typed)
        self._typed()
        self.text.moveCursor(QTextCursor.MoveOperation.End)
        self.text.setFocus()

    def words(self) -> str:
        """What was typed."""
        return self.text.toPlainText()

    def open_name(self) -> str | None:
        """What stands after a “{” that is not closed yet; None where there is none before the cursor."""
        cursor = self.text.textCursor()
        line = cursor.block().text()[: cursor.positionInBlock()]
        _, mark, name = line.rpartition("{")
        return name if mark and "}" not in name else None

    def complete(self, chosen: str) -> None:
        """Put the chosen figure in place of what was begun."""
        name = self.open_name()
        if name is None:
            return
        cursor = self.text.textCursor()
        cursor.movePosition(QTextCursor.MoveOperation.Left, QTextCursor.MoveMode.KeepAnchor, len(name))
        cursor.insertText(f"{chosen.partition('   ')[0]}}}")
        self.text.setTextCursor(cursor)

    def _typed(self) -> None:
        text = self.words()
        self.shown.setText(f"Printed: {self._printed(text)}" if "{" in text else "")
        popup, name = self.completer.popup(), self.open_name()
        if popup is None:
            return
        if name is None:
            popup.hide()
            return
        self.completer.setCompletionPrefix(name)
        if self.completer.completionCount() and self.isVisible():
            where = self.text.cursorRect()
            where.setWidth(WIDE - 80)
            self.completer.complete(where)
            popup.setCurrentIndex(self.completer.completionModel().index(0, 0))  # type: ignore[union-attr]
        else:
            popup.hide()

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            enter = event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter)
            popup = self.completer.popup()
            if enter and event.modifiers() & Qt.KeyboardModifier.ControlModifier:
                self.accept()
                return True
            taking = enter or event.key() == Qt.Key.Key_Tab
            if taking and popup is not None and popup.isVisible():
                event.ignore()
                return True
        return super().eventFilter(watched, event)
