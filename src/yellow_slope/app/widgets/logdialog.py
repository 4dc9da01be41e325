"""The program's log to be read."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QTextCursor
from PyQt6.QtWidgets import QDialog, QHBoxLayout, QLabel, QPlainTextEdit, QPushButton, QVBoxLayout, QWidget


class LogDialog(QDialog):
    """A text that cannot be changed, and a button that asks to save it."""

    save_wanted = pyqtSignal()

    def __init__(self, text: str, place: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle("What happened")
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.resize(760, 480)
        where = QLabel(f"It contains no value, name or text of your data. It is kept in {place}.")
        where.setTextFormat(Qt.TextFormat.PlainText)  # it names a folder
        where.setWordWrap(True)
        where.setObjectName("small")
        self.text = QPlainTextEdit(text)
        self.text.setReadOnly(True)
        self.text.setAccessibleName("What happened")
        self.text.setToolTip("The end of the program's log; the newest lines are at the bottom")
        self.text.setTabChangesFocus(True)
        self.text.moveCursor(QTextCursor.MoveOperation.End)
        save, close = QPushButton("Save it …"), QPushButton("Close")
        save.setObjectName("chip")
        save.setToolTip("Save it as a text that can be sent to whoever mends the program")
        save.clicked.connect(self.save_wanted.emit)
        close.setObjectName("main")
        close.setToolTip("Close (Esc)")
        close.setDefault(True)
        close.clicked.connect(self.accept)
        for button in (save, close):
            button.setAccessibleName(button.text())
        row = QHBoxLayout()
        row.addStretch(1)
        row.addWidget(save)
        row.addWidget(close)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(18, 16, 18, 16)
        layout.setSpacing(10)
        layout.addWidget(where)
        layout.addWidget(self.text, 1)
        layout.addLayout(row)
