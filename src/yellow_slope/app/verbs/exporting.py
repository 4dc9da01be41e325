"""What goes out of the study: the report, figures and the table, written off the interface thread."""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import replace
from typing import TYPE_CHECKING, TypeVar

from yellow_slope.app.state.session import StudySession
from yellow_slope.app.state.view import answer_of
from yellow_slope.app.state.worker import Job, Worker
from yellow_slope.app.verbs.actions import Menu, action
from yellow_slope.app.verbs.targets import Targets
from yellow_slope.core.errors import FileError
from yellow_slope.core.fit.fitted.evaluate import evaluate
from yellow_slope.core.fit.fitted.steps import Resampling
from yellow_slope.core.probe.seen import Sight
from yellow_slope.core.study.edits.figures import MOST_USUAL_LETTERS as MOST_LETTERS
from yellow_slope.core.study.edits.figures import set_figure_letters
from yellow_slope.core.study.figures import LEAST_LETTERS

if TYPE_CHECKING:
    from pathlib import Path

T = TypeVar("T")


class Exporting:
    """Each asks where it goes; what was written is said with its whole path."""

    def __init__(self, session: StudySession, worker: Worker, targets: Targets) -> None:
        self.session, self.worker, self.targets, self.dialogs = session, worker, targets, targets.dialogs

    def has_study(self) -> bool:
        """Whether there is a study."""
        return self.session.study is not None

    @action("save the report", "Save the report as one HTML file", "Ctrl+R", menu=Menu.STUDY, available="has_study")
    def save_report(self) -> None:
        """Ask where the report goes and write it."""
        view = self.session.view
        if view is None:
            return
        path = self._named(lambda: self.targets.asked("Save report", ".html", "HTML (*.html)"))
        if path is None:
            return
        evaluation = view.evaluation

        def work(job: Job) -> None:
            from yellow_slope.files.safely.atomically import write_whole
            from yellow_slope.report.document import build_report, html_of

            # A bootstrap that is still to be drawn is drawn here.
            whole = evaluate(evaluation.study, evaluation, Resampling(go_on=lambda _share: job.go_on()))
            content = html_of(build_report(whole)).encode("utf-8")
            job.go_on()
            write_whole(path, content)

        self.worker.in_order("writing the report", work, lambda _: self.session.say(f"Saved: {path}"), self.session.say)

    @action(
        "save the figure",
        "Save the figure as PNG or SVG, several files on one line",
        "Ctrl+E",
        menu=Menu.STUDY,
        available="has_study",
    )
    def export_figure(self) -> None:
        """Ask for file names on one line and write one figure for each."""
        if self.session.current_probe() is None:
            self.session.say("There is no product to draw yet.")
            return
        question = (
            "File names on one line (.png, .svg or .pdf; “600 dpi” if 300 is too few, “11 pt” for letters).\n"
            f"Without a folder of their own they go to {self.targets.folder()}."
        )
        text = self.dialogs.text("Save figure", question, "slopes.png, slopes.svg")
        if text is not None and text.strip():
            self.write_figures(text)

    def write_figures(self, line: str) -> None:
        """Write the current figure to every file named on the line."""
        view, seen, shown = self.session.view, self.session.desk.seen, self.session.desk.probe_view
        if view is None or self.session.study is None:
            return
        letters = re.search(r"(?<![\w.])(\d+(?:\.\d+)?)\s*pt\b", line)
        points = self.session.study.figure_letters
        if letters:
            points = float(letters.group(1))
            line = line[: letters.start()] + line[letters.end() :]
            if not LEAST_LETTERS <= points <= MOST_LETTERS:
                said = (
                    f"Letters have {LEAST_LETTERS:g} to {MOST_LETTERS:g} points, not {points:g}; nothing was written."
                )
                self.session.say(said)
                return
        found = re.search(r"(\d+)\s*dpi", line)
        dpi = int(found.group(1)) if found else 300
        names = line[: found.start()] + line[found.end() :] if found else line
        from yellow_slope.report.figures import FigureFile, figure_page

        def meant() -> list[FigureFile] | None:
            files = [FigureFile(path, dpi) for path in self.targets.named(names)]
            if not files:
                raise FileError("No file is named: type “slopes.png”, for instance.")
            return files if self.targets.may_write(file.path for file in files) else None

        files = self._named(meant)
        if files is None:
            return
        if points != self.session.study.figure_letters:
            self.session.edit("letters of figures", lambda s: set_figure_letters(s, points), quiet=True)

        def work(job: Job) -> str:
            from yellow_slope.files.safely.atomically import write_whole
            from yellow_slope.report.fontchain import remark

            probed = answer_of(view)
            if probed is None:
                raise FileError(view.refusal or "There is no product to draw yet.")
            page = figure_page(replace(view.study, figure_letters=points), Sight.of(probed, seen), shown)
            for file in files:
                content = file.bytes_of(page)
                job.go_on()
                write_whole(file.path, content)
            return remark(page)

        drawn = f" ({dpi} dpi)" if any(file.kind == "png" for file in files) else ""
        said = f"Saved: {', '.join(str(file.path) for file in files)}{drawn}"
        self.worker.in_order(
            "drawing the figure",
            work,
            lambda more: self.session.say(f"{said}. {more}" if more else said),
            self.session.say,
        )

    @action(
        "export the table",
        "Write the table out, with or without what was computed, with its code book",
        "Ctrl+Shift+E",
        menu=Menu.STUDY,
        available="has_study",
    )
    def export_table(self) -> None:
        """Ask for files and parts, and write the table."""
        view = self.session.view
        if view is None:
            return
        asked = self.dialogs.export(self.targets.free(".csv"), self.targets.folder(), view.fit is not None)
        if asked is None:
            return
        line, choices = asked

        def meant() -> list[Path] | None:
            from yellow_slope.files.written.exporting import written_files

            paths = self.targets.named(line)
            if not paths:
                raise FileError("No file is named: type “table.csv”, for instance.")
            return paths if self.targets.may_write(written_files(paths, choices)) else None

        paths = self._named(meant)
        if paths is None:
            return
        evaluation = view.evaluation

        def work(job: Job) -> str:
            from yellow_slope.files.written.exporting import exported, write_export

            files = [str(file) for path in paths for file in write_export(evaluation, path, choices, job.told)]
            n = exported(evaluation, choices).n_guarded if choices.as_text else 0
            guarded = f" {n:,} cells begin with an apostrophe now." if n else ""
            return f"Saved: {', '.join(files)}.{guarded}"

        self.worker.in_order("writing the table", work, self.session.say, self.session.say)

    def _named(self, meant: Callable[[], T | None]) -> T | None:
        """What is meant, or None where it was given up or refused; a refusal is said."""
        try:
            return meant()
        except FileError as error:
            self.session.say(str(error))
            return None
