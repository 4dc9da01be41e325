"""What happened: the log, to be read, and a report of what went wrong that holds no data."""

from __future__ import annotations

from PyQt6.QtWidgets import QWidget

from yellow_slope.app.state.session import StudySession
from yellow_slope.app.state.worker import Job, Worker
from yellow_slope.app.verbs.actions import Menu, action
from yellow_slope.app.verbs.targets import Targets, saved
from yellow_slope.core.words.spelling.numerals import counted
from yellow_slope.files.safely.logfile import log_place, log_text, machine_text


class WhatHappened:
    """Shows the log of the program."""

    def __init__(self, session: StudySession, worker: Worker, targets: Targets, parent: QWidget) -> None:
        self.session, self.worker, self.targets, self._parent = session, worker, targets, parent

    @action(
        "what happened",
        "Read the program's log, which holds no data; save it to report what went wrong",
        menu=Menu.STUDY,
    )
    def show(self) -> None:
        """Show the log."""
        from yellow_slope.app.widgets.logdialog import LogDialog

        dialog = LogDialog(self.report(), log_place(), self._parent)
        dialog.save_wanted.connect(self.save)
        dialog.open()

    def report(self) -> str:
        """The program, the machine, how large the study is, and the end of the log; no name and no value."""
        return f"{machine_text()}\n{self._size()}\n\n{log_text()}\n"

    def _size(self) -> str:
        study = self.session.study
        model, waypoint = study.model, self.session.desk.waypoint.name.capitalize()
        return (
            f"A study of {counted(study.table.n_rows, 'row')} and {counted(len(study.table.columns), 'column')}, "
            f"{counted(len(study.models), 'model')}; {counted(len(model.blocks), 'block')} and "
            f"{counted(len(model.terms), 'term')} in the current one; at {waypoint}."
        )

    def save(self) -> None:
        """Ask where the report of what went wrong goes, and write it."""
        path = self.targets.asked("Save what happened", ".txt", "Text (*.txt)")
        if path is None:
            return
        content = self.report().encode()

        def work(job: Job) -> str:
            from yellow_slope.files.safely.atomically import write_whole

            return saved([path], *write_whole(path, content))

        self.worker.in_order(f"writing {path.name}", work, self.session.say, self.session.say)
