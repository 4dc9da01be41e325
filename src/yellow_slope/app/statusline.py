"""The status line: cases, level, kind of standard errors, flags, and what is being computed."""

from __future__ import annotations

from PyQt6.QtCore import QTimer, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QToolButton, QWidget

from yellow_slope.app.errandline import ErrandLine
from yellow_slope.app.session import StudySession
from yellow_slope.core.numerals import counted, level_text
from yellow_slope.looks import SIZES


class StatusLine(QWidget):
    """28 pixels along the bottom."""

    flags_clicked = pyqtSignal()

    def __init__(self, session: StudySession, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.setFixedHeight(SIZES.status)
        self.said = QLabel()
        self.said.setObjectName("small")
        self.said.setAccessibleName("Cases, level and standard errors")
        self.flags = QToolButton()
        self.flags.setObjectName("link")
        self.flags.setAccessibleName("Flags")
        self.flags.clicked.connect(self.flags_clicked.emit)
        self.message = QLabel()
        self.message.setObjectName("amber")
        self.message.setAccessibleName("Message")
        self.state = QLabel("ready")
        self.state.setObjectName("small")
        self.state.setAccessibleName("What is being computed")
        self.errand = ErrandLine()
        layout = QHBoxLayout(self)
        layout.setContentsMargins(16, 0, 16, 0)
        layout.setSpacing(10)
        layout.addWidget(self.said)
        layout.addWidget(self.flags)
        layout.addWidget(self.message, 1)
        layout.addWidget(self.errand)
        layout.addWidget(self.state)
        self._slow = QTimer(self)
        self._slow.setSingleShot(True)
        self._slow.timeout.connect(lambda: self.state.setText("computing …"))
        session.on("study", self._study)
        session.on("results", self._results)
        session.on("message", self._message)

    def _message(self) -> None:
        self.message.setText(self.session.message)
        self.message.setToolTip(self.session.message)

    def _study(self) -> None:
        if not self.session.is_settled:
            self._slow.start(100)

    def _results(self) -> None:
        self._slow.stop()
        self.state.setText("ready")
        results, study = self.session.results, self.session.study
        if results is None or study is None:
            return
        sample = results.evaluation.sample
        lost = f" ({sample.n_lost} incomplete)" if sample.n_lost else ""
        self.said.setText(f"{counted(sample.n, 'case')}{lost}  ·  {level_text(study.level)} intervals  ·  classical SE")
        n = len(results.flags)
        self.flags.setText(counted(n, "flag") if n else "no flags")
        self.flags.setEnabled(n > 0)
