"""First sight: a path field with the focus, the demo, recent studies, and room to drop a file."""

from __future__ import annotations

import os
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, Qt, pyqtBoundSignal, pyqtSignal
from PyQt6.QtGui import QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QLineEdit, QPushButton, QVBoxLayout, QWidget

from yellow_slope.app.frame.filejobline import FileJobLine
from yellow_slope.app.state.lanes import Lane
from yellow_slope.app.state.worker import Worker
from yellow_slope.app.widgets import theme
from yellow_slope.app.widgets.elided import ElidedLabel
from yellow_slope.app.widgets.theme import colour, font
from yellow_slope.core.errors import FileError
from yellow_slope.core.letters import shown
from yellow_slope.core.words.spelling.shortening import begun
from yellow_slope.files.safely.paths import expanded

if TYPE_CHECKING:
    from yellow_slope.files.journal.unclosed import Unclosed

MOST_OFFERED = 6
MOST_NAMES = 200
MOST_OF_A_NAME = 64
"""Letters."""


class FirstSight(QWidget):
    """No empty grid."""

    open_wanted = pyqtSignal(str)
    demo_wanted = pyqtSignal()
    browse_wanted = pyqtSignal()
    take_up_wanted = pyqtSignal(object)
    throw_away_wanted = pyqtSignal(object)

    def __init__(self, worker: Worker, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._worker = worker
        self._length = 0
        self.setObjectName("paper")
        title = QLabel("Yellow Slope")
        title.setFont(font(34, "bold"))
        question = QLabel("Does the effect of X on Y depend on M?")
        question.setFont(font(18))
        question.setObjectName("soft")
        self.path = QLineEdit()
        self.path.setPlaceholderText("Path of a table (.csv, .tsv, .txt) or a study (.yslope), then Enter")
        self.path.setAccessibleName("Path of a table or study")
        self.path.setToolTip("Type a path and press Enter; Tab completes it")
        self.path.setFixedHeight(42)
        self.path.setFont(font(15))
        self.path.returnPressed.connect(lambda: self.open_wanted.emit(self.path.text().strip()))
        self.path.textEdited.connect(self._offer)
        self.browse_button = browse = QPushButton("Browse …")
        browse.setObjectName("chip")
        browse.setAccessibleName("Browse for a file")
        browse.setFixedHeight(42)
        browse.clicked.connect(self.browse_wanted.emit)
        self.demo = QPushButton("Open the demo")
        self.demo.setObjectName("main")
        self.demo.setAccessibleName("Open the demo")
        self.demo.clicked.connect(self.demo_wanted.emit)
        drop = QLabel("or drop a file anywhere")
        drop.setObjectName("soft")
        self.trouble = QLabel()
        self.trouble.setObjectName("amber")
        self.trouble.setWordWrap(True)
        self.trouble.setTextFormat(Qt.TextFormat.PlainText)
        self.trouble.setAccessibleName("What was wrong")
        self.trouble.setFont(font(14))
        self.jobs = FileJobLine()
        self.recent = QVBoxLayout()
        self.recent.setSpacing(2)
        self._lay_out(title, question, drop)
        self.trouble.hide()

    def _lay_out(self, title: QLabel, question: QLabel, drop: QLabel) -> None:
        row = QHBoxLayout()
        row.addWidget(self.path, 1)
        row.addWidget(self.browse_button)
        second = QHBoxLayout()
        second.addWidget(self.demo)
        second.addSpacing(12)
        second.addWidget(drop)
        second.addStretch(1)
        second.addWidget(self.jobs)
        column = QVBoxLayout()
        column.setSpacing(12)
        column.addWidget(title)
        column.addWidget(question)
        column.addSpacing(18)
        column.addLayout(row)
        column.addWidget(self.trouble)
        column.addLayout(second)
        column.addSpacing(24)
        column.addLayout(self.recent)
        column.addStretch(1)
        box = QWidget()
        box.setLayout(column)
        box.setMaximumWidth(680)
        box.setMinimumWidth(560)
        outer = QHBoxLayout(self)
        outer.setContentsMargins(40, 110, 40, 20)
        outer.addStretch(1)
        outer.addWidget(box, 8)
        outer.addStretch(1)

    def offer(self, files: list[Path], works: list[Unclosed]) -> None:
        """List work that was not closed in the ordinary way, and recent files."""
        while (item := self.recent.takeAt(0)) is not None:
            widget = item.widget()
            if widget is not None:
                widget.hide()
                widget.deleteLater()
        self._offer_works(works[:MOST_OFFERED])
        if files:
            self._offer_files(files[: MOST_OFFERED - min(len(works), MOST_OFFERED // 2)])

    def _offer_works(self, works: list[Unclosed]) -> None:
        if not works:
            return
        label = QLabel("Unsaved work from a window that did not close normally")
        label.setObjectName("small")
        self.recent.addWidget(label)
        for work in works:
            self.recent.addWidget(UnclosedRow(work, self.take_up_wanted, self.throw_away_wanted))
        self.recent.addSpacing(14)

    def _offer_files(self, files: list[Path]) -> None:
        label = QLabel("Recent")
        label.setObjectName("small")
        self.recent.addWidget(label)
        for path in files:
            button = QPushButton(_short(shown(path.name)))
            button.setObjectName("link")
            button.setToolTip(shown(str(path)))
            button.setAccessibleName(f"Open {shown(path.name)}")
            button.clicked.connect(lambda _=False, p=path: self.open_wanted.emit(str(p)))
            self.recent.addWidget(button, 0, Qt.AlignmentFlag.AlignLeft)

    def show_trouble(self, text: str) -> None:
        """Say what was wrong with the file."""
        self.trouble.setText(text)
        self.trouble.setVisible(bool(text))

    def _offer(self, text: str) -> None:
        """Offer to complete the path; a folder may be large, and a share slow."""
        grew = len(text) > self._length
        self._length = len(text)
        if grew and len(text) > 2:
            self._worker.newest(Lane.NAMES_IN_FOLDER, lambda job: _names_beside(text), self._complete)

    def _complete(self, names: list[str]) -> None:
        """Put the first name that begins as typed behind the cursor, chosen, so that the next letter replaces it."""
        typed = self.path.text()
        fit = next((name for name in names if name.startswith(typed)), "")
        if len(fit) > len(typed) == self.path.cursorPosition():
            self.path.setText(fit)
            self.path.setSelection(len(typed), len(fit) - len(typed))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter, p = QPainter(self), theme.palette()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), colour(p.paper))
        w, h = self.width(), self.height()
        slope = QPolygonF([QPointF(0, h), QPointF(0, h - 36), QPointF(w, h - 190), QPointF(w, h)])
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(colour(p.yellow, 0.9))
        painter.drawPolygon(slope)
        painter.setPen(QPen(colour(p.ink), 2))
        painter.drawLine(QPointF(0, h - 36), QPointF(w, h - 190))


class UnclosedRow(QWidget):
    """One piece of work: what it is, and what can be done with it."""

    def __init__(self, work: Unclosed, take_up: pyqtBoundSignal, throw_away: pyqtBoundSignal) -> None:
        super().__init__()
        name = shown(work.name)
        begin = QPushButton(f"Recover “{_short(name)}”")
        begin.setObjectName("link")
        begin.setAccessibleName(f"Recover {name}")
        begin.setToolTip("The study as it was, with its undo history; its table is read again from its file")
        begin.clicked.connect(lambda _=False: take_up.emit(work))
        end = QPushButton("Discard it")
        end.setObjectName("link")
        end.setAccessibleName(f"Discard the unsaved work on {name}")
        end.setToolTip("Discard it; files stay as they are")
        end.clicked.connect(lambda _=False: throw_away.emit(work))
        said = ElidedLabel()
        said.setObjectName("small")
        said.setAccessibleName(f"Unsaved work on {name}")
        said.setText(shown(work.sentence))
        said.setToolTip(shown(work.sentence))
        row = QHBoxLayout()
        row.setContentsMargins(0, 0, 0, 0)
        row.addWidget(begin)
        row.addWidget(end)
        row.addStretch(1)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addLayout(row)
        below = QHBoxLayout()
        below.setContentsMargins(6, 0, 6, 8)
        below.addWidget(said)
        column.addLayout(below)


def _names_beside(text: str) -> list[str]:
    """Paths that what was typed may become."""
    try:
        there = expanded(Path(text))
        folder, begin = (there, "") if text.endswith("/") else (there.parent, there.name)
        with os.scandir(folder) as entries:
            found = [e for e in entries if e.name.startswith(begin) and not e.name.startswith(".")]
        found = sorted(found, key=lambda e: e.name)[:MOST_NAMES]
        return [e.path + ("/" if e.is_dir() else "") for e in found]
    except (OSError, FileError, ValueError):  # no such folder, or user, or name
        return []


def _short(name: str) -> str:
    return name if len(name) <= MOST_OF_A_NAME else begun(name, lambda form: len(form) <= MOST_OF_A_NAME)
