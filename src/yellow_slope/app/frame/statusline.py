"""The status line: cases, level, kind of standard errors, flags, and what is being computed."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PyQt6.QtCore import Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QMenu, QToolButton, QWidget

from yellow_slope.app.explanations.flags import dismissed_links
from yellow_slope.app.frame.filejobline import FileJobLine
from yellow_slope.app.state.lanes import Lane
from yellow_slope.app.state.session import StudySession
from yellow_slope.app.state.topics import Topic
from yellow_slope.app.state.view import View
from yellow_slope.app.state.worker import Worker
from yellow_slope.app.verbs.standarderrors import KINDS, LEVELS, StandardErrors
from yellow_slope.app.widgets.elided import ElidedLabel
from yellow_slope.core.study.standarderrors import Bootstrap, Cluster, IntervalWay
from yellow_slope.core.words.names.study import errors_name, model_name
from yellow_slope.core.words.sentences.errors import errors_note
from yellow_slope.core.words.spelling.numerals import counted, level_text
from yellow_slope.looks import SIZES


def _menu_button(name: str, help: str) -> QToolButton:
    button = QToolButton()
    button.setObjectName("link")
    button.setAccessibleName(name)
    button.setToolTip(help)
    button.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
    button.setMenu(QMenu(button))
    return button


def _offer(menu: QMenu, text: str, run: Callable[[], object], chosen: bool) -> None:
    """A line of a menu; the chosen one has a mark."""
    shown = QAction(text.replace("&", "&&"), menu)
    shown.setCheckable(True)
    shown.setChecked(chosen)
    shown.triggered.connect(lambda _checked=False: run())
    menu.addAction(shown)


class StatusLine(QWidget):
    """28 pixels along the bottom."""

    flags_clicked = pyqtSignal()

    def __init__(
        self, session: StudySession, worker: Worker, inference: StandardErrors, parent: QWidget | None = None
    ) -> None:
        super().__init__(parent)
        self.session, self._worker, self._inference = session, worker, inference
        self.setFixedHeight(SIZES.status)
        self.said = QLabel()
        self.said.setObjectName("small")
        self.said.setAccessibleName("Model and cases")
        self.level = _menu_button("Confidence level", "The level of all intervals and tests of this model")
        self.errors = _menu_button(
            "Standard errors", "How intervals and p are computed; b, R² and its change do not depend on it"
        )
        self.give_up = QToolButton()
        self.give_up.setObjectName("link")
        self.give_up.setText("cancel")
        self.give_up.setAccessibleName("Cancel the bootstrap")
        self.give_up.setToolTip("Stop resampling and return to standard errors by formula")
        self.give_up.clicked.connect(inference.give_up)
        self.give_up.hide()
        self.flags = QToolButton()
        self.flags.setObjectName("link")
        self.flags.setAccessibleName("Flags")
        self.flags.clicked.connect(self.flags_clicked.emit)
        self.aside = QToolButton()
        self.aside.setObjectName("link")
        self.aside.setAccessibleName("Dismissed flags")
        self.aside.setToolTip("Flags that were dismissed, with their reasons; choose one to show it again")
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
        layout.addWidget(self.level)
        layout.addWidget(self.errors)
        layout.addWidget(self.flags)
        layout.addWidget(self.aside)
        layout.addWidget(self.message, 1)
        layout.addWidget(self.jobs)
        layout.addWidget(self.state)
        layout.addWidget(self.give_up)
        self._tick = QTimer(self)
        self._tick.setInterval(100)
        self._tick.timeout.connect(self._renew_resampling)
        self._shows_resampling = False
        self._offered: object = None
        self._slow = QTimer(self)
        self._slow.setSingleShot(True)
        self._slow.timeout.connect(self._say_computing)
        session.on(self._study, Topic.STUDY)
        session.on(self._results, Topic.RESULTS)
        session.on(self._message, Topic.MESSAGE)

    def _say_computing(self) -> None:
        self.state.setText("computing …")

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
        model = f"{model_name(study, study.model)}  ·  " if len(study.models) > 1 else ""
        self.said.setText(f"{model}{counted(cases.n, 'case')}{left}")
        self._renew_choices(view)
        self._renew_aside()
        self._renew_resampling()
        n = len(view.flags)
        self.flags.setText(counted(n, "flag") if n else "no flags")
        self.flags.setEnabled(n > 0)

    # ---- level and standard errors

    def _renew_choices(self, view: View) -> None:
        """What the two menus offer and show."""
        study, model = view.study, view.study.model
        self.level.setText(f"{level_text(model.level)} intervals  ▾")
        self.errors.setText(f"{errors_name(study, model.errors)}  ▾")
        self.errors.setToolTip(errors_note(study, model, view.fit))
        offered = (study.variables, model.outcome, model.level, model.errors)
        if offered == self._offered:
            return
        self._offered = offered
        inference, level, errors = self._inference, self.level.menu(), self.errors.menu()
        assert level is not None
        assert errors is not None
        level.clear()
        for value in LEVELS:
            _offer(
                level, f"{level_text(value)} intervals", partial(inference.choose_level, value), value == model.level
            )
        _offer(level, "another level …", inference.ask_level, model.level not in LEVELS)
        errors.clear()
        for kind in KINDS:
            _offer(errors, errors_name(study, kind), partial(inference.choose_errors, kind), kind == model.errors)
        errors.addSeparator()
        clustered = isinstance(model.errors, Cluster)
        _offer(errors, "clustered by an id …", inference.cluster, clustered)
        errors.addSeparator()
        now = model.errors
        for way in IntervalWay:
            chosen = isinstance(now, Bootstrap) and now.way is way
            _offer(
                errors, f"bootstrap, {way.label} intervals", partial(inference.quick_bootstrap, Bootstrap(way)), chosen
            )
        _offer(errors, "resamples, seed, clusters …", inference.bootstrap, False)

    def resampling(self) -> None:
        """A bootstrap that takes a while has begun."""
        self._tick.start()
        self._renew_resampling()

    def _renew_resampling(self) -> None:
        share = self._worker.done(Lane.RESAMPLING)
        self.give_up.setVisible(share is not None)
        if share is None:
            self._tick.stop()
            if self._shows_resampling:
                self.state.setText("ready")
            self._shows_resampling = False
        else:
            self._shows_resampling = True
            self.state.setText(f"resampling … {100 * share:.0f} %")

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
        self.aside.setText(f"{counted(len(links), 'flag')} dismissed  ▾")
        self.aside.setVisible(bool(links))
