"""First sight: a path field with the focus, the demo, recent studies, and room to drop a file."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QPointF, Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QCompleter, QHBoxLayout, QLabel, QLineEdit, QPushButton, QVBoxLayout, QWidget

from yellow_slope.app.frame.filejobline import FileJobLine
from yellow_slope.app.state.recentfiles import recent_files
from yellow_slope.app.widgets import theme
from yellow_slope.app.widgets.theme import colour, font
from yellow_slope.core.errors import FileError
from yellow_slope.core.words.spelling.letters import shown
from yellow_slope.files.safely.paths import expanded


class FirstSight(QWidget):
    """No empty grid."""

    open_wanted = pyqtSignal(str)
    demo_wanted = pyqtSignal()
    browse_wanted = pyqtSignal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
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
        self.renew_recent()

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

    def renew_recent(self) -> None:
        """List recent files."""
        while (item := self.recent.takeAt(0)) is not None:
            widget = item.widget()
            if widget is not None:
                widget.deleteLater()
        files = recent_files()
        if not files:
            return
        label = QLabel("Recent")
        label.setObjectName("small")
        self.recent.addWidget(label)
        for path in files[:6]:
            button = QPushButton(shown(path.name))
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
        try:
            there = expanded(Path(text))
            folder = there if text.endswith("/") else there.parent
            names = [
                str(p) + ("/" if p.is_dir() else "") for p in sorted(folder.iterdir()) if not p.name.startswith(".")
            ]
        except (OSError, FileError, ValueError):  # no such folder, or user, or name
            names = []
        completer = QCompleter(names[:200], self.path)
        completer.setCompletionMode(QCompleter.CompletionMode.InlineCompletion)
        self.path.setCompleter(completer if len(text) > 2 else None)

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
