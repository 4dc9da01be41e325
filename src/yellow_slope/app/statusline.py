"""The status line: cases, level, kind of standard errors, flags, and what is being computed."""

from __future__ import annotations

from PyQt6.QtCore import Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QMenu, QToolButton, QWidget

from yellow_slope.app.elided import ElidedLabel
from yellow_slope.app.explanations import dismissed_links
from yellow_slope.app.filejobline import FileJobLine
from yellow_slope.app.session import StudySession
from yellow_slope.core.words.names import errors_name
from yellow_slope.core.words.numerals import counted, level_text
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
        self.aside = QToolButton()
        self.aside.setObjectName("link")
        self.aside.setAccessibleName("Flags put aside")
        self.aside.setToolTip("Flags that were put aside, with their reasons; choose one to raise it again")
        self.aside.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        self.aside.setMenu(QMenu(self.aside))
        self.aside.hide()
        self.message = ElidedLabel()
        self.message.setObjectName("amber")
        self.message.setAccessibleName("Message")
        for label in (self.said, self.message):
            label.setTextFormat(Qt.TextFormat.PlainText)
        self.state = QLabel("ready")
        self.state.setObjectName("small")
        self.state.setAccessibleName("What is being computed")
        self.jobs = FileJobLine()
        layout = QHBoxLayout(self)
        layout.setContentsMargins(16, 0, 16, 0)
        layout.setSpacing(10)
        layout.addWidget(self.said)
        layout.addWidget(self.flags)
        layout.addWidget(self.aside)
        layout.addWidget(self.message, 1)
        layout.addWidget(self.jobs)
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
        view = self.session.view
        if view is None:
            return
        study, cases = view.study, view.evaluation.cases
        parts = [f"{cases.n_lost} incomplete"] if cases.n_lost else []
        parts += [f"{cases.n_outside} outside the sample"] if cases.n_outside else []
        parts += [f"{cases.n_aside} set aside"] if cases.n_aside else []
        left = f" ({', '.join(parts)})" if parts else ""
        errors = errors_name(study, study.model.errors)
        model = f"{study.model.name or study.model.id}  ·  " if len(study.models) > 1 else ""
        self.said.setText(
            f"{model}{counted(cases.n, 'case')}{left}  ·  {level_text(study.model.level)} intervals  ·  {errors}"
        )
        self._renew_aside()
        n = len(view.flags)
        self.flags.setText(counted(n, "flag") if n else "no flags")
        self.flags.setEnabled(n > 0)

    def _renew_aside(self) -> None:
        """The list of flags that were put aside."""
        links = dismissed_links(self.session)
        menu = self.aside.menu()
        assert menu is not None
        menu.clear()
        for link in links:
            shown = QAction(link.text.replace("&", "&&"), menu)
            shown.setToolTip(link.help)
            shown.triggered.connect(link.run)
            menu.addAction(shown)
        self.aside.setText(f"{counted(len(links), 'flag')} put aside  ▾")
        self.aside.setVisible(bool(links))
