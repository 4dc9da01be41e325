"""What goes out of the study: the report, figures and the table, written off the interface thread."""

from __future__ import annotations

import re
from collections.abc import Callable
from typing import TYPE_CHECKING, TypeVar

from yellow_slope.app.state.session import StudySession
from yellow_slope.app.state.view import answer_of
from yellow_slope.app.state.worker import Job, Worker
from yellow_slope.app.verbs.actions import Menu, action
from yellow_slope.app.verbs.figuring import Figuring
from yellow_slope.app.verbs.targets import NOT_IN_A_NAME, Targets, saved
from yellow_slope.core.errors import FileError
from yellow_slope.core.figured.subjects import subject_of
from yellow_slope.core.fit.fitted.evaluate import evaluate
from yellow_slope.core.fit.fitted.steps import Resampling
from yellow_slope.core.study.edits.figures import MOST_USUAL_LETTERS as MOST_LETTERS
from yellow_slope.core.study.edits.figures import set_figure_letters, tune_figure
from yellow_slope.core.study.figures import LEAST_LETTERS, Figure
from yellow_slope.core.typed import typed_number, typed_whole
from yellow_slope.values import dataclass, replace

if TYPE_CHECKING:
    from pathlib import Path

    from yellow_slope.core.told.tables import Table

T = TypeVar("T")


@dataclass(frozen=True, slots=True)
class TypedLine:
    """What a line says: file names, and how they are written."""

    names: str
    dpi: int = 300
    points: float | None = None
    outlines: bool = False


def typed_line(line: str) -> TypedLine:
    """“slopes.png slopes.svg 600 dpi 11 pt outlines” taken apart."""
    letters = re.search(r"(?<![\w.,])([\d.,]+)\s*pt\b", line)
    line = line[: letters.start()] + line[letters.end() :] if letters else line
    points = re.search(r"(?<![\w.])(\d+)\s*dpi\b", line)
    line = line[: points.start()] + line[points.end() :] if points else line
    outlines = re.search(r"(?<![\w./])outlines(?![\w./])", line)
    line = line[: outlines.start()] + line[outlines.end() :] if outlines else line
    dpi = (typed_whole(points.group(1)) or 0) if points else 300
    return TypedLine(line, dpi, typed_number(letters.group(1)) if letters else None, outlines is not None)


class Exporting:
    """Each asks where it goes; what was written is said with its whole path."""

    def __init__(self, session: StudySession, worker: Worker, targets: Targets, figuring: Figuring) -> None:
        self.session, self.worker, self.targets, self.dialogs = session, worker, targets, targets.dialogs
        self.figuring = figuring

    @action(
        "save the report",
        "Save the report as HTML, DOCX, ODT, PDF, LaTeX or Markdown, several files on one line",
        "Ctrl+R",
        menu=Menu.STUDY,
        available="session.is_open",
    )
    def save_report(self) -> None:
        """Ask for file names on one line and write the report to each."""
        if self.session.view is None:
            return
        question = (
            "File names on one line: .html, .docx, .odt, .pdf, .tex or .md.\n"
            f"Without a folder of their own they go to {self.targets.folder()}."
        )
        text = self.dialogs.text("Save report", question, self.targets.suggested(".html"))
        if text is not None and text.strip():
            self.write_reports(text)

    def write_reports(self, line: str) -> None:
        """Write the report to every file named on the line; all or none."""
        view = self.session.view
        if view is None:
            return
        from yellow_slope.report.formats import ReportFile

        def meant() -> list[ReportFile] | None:
            files = [ReportFile(path) for path in self.targets.named(line)]
            if not files:
                raise FileError("No file is named: type “report.docx”, for instance.")
            return files if self.targets.may_write(file.path for file in files) else None

        files = self._named(meant)
        if files is None:
            return
        evaluation = view.evaluation

        def work(job: Job) -> list[tuple[Path, bytes]]:
            from yellow_slope.report.formats import report_contents
            from yellow_slope.report.parts import build_report

            # A bootstrap that is still to be drawn is drawn here.
            whole = evaluate(evaluation.study, evaluation, Resampling(go_on=lambda _share: job.go_on()))
            return report_contents(files, build_report(whole), job.go_on)

        def made(contents: list[tuple[Path, bytes]]) -> None:
            self._put(contents, {file.path for file in files})

        self.worker.in_order("writing the report", work, made, self.session.say)

    def _put(self, contents: list[tuple[Path, bytes]], asked: set[Path]) -> None:
        """Write what was made, once it has been asked about what comes with the files that were named."""
        beside = [path for path, _ in contents if path not in asked]
        if not self._named(lambda: self.targets.may_write(beside)):
            return

        def work(job: Job) -> str:
            from yellow_slope.files.safely.atomically import write_together

            return saved([path for path, _ in contents], *write_together(contents))

        self.worker.in_order("writing the report", work, self.session.say, self.session.say)

    @action(
        "save the figure",
        "Save the figure as PNG, TIFF, SVG or PDF, several files on one line",
        "Ctrl+E",
        menu=Menu.STUDY,
        available="session.is_open",
    )
    def export_figure(self) -> None:
        """Ask for file names on one line and write one figure for each."""
        figure = self.figuring.meant()
        if figure is None:
            self.session.say("There is no product to draw yet.")
            return
        question = (
            "File names on one line: .png, .tiff, .svg, .pdf, or .csv for the numbers behind the figure.\n"
            "“600 dpi” if 300 is too few, “11 pt” for letters, “outlines” for an SVG without text.\n"
            f"Without a folder of their own they go to {self.targets.folder()}."
        )
        names = NOT_IN_A_NAME.sub("-", figure.name) if self.figuring.is_tuning() else "slopes"
        text = self.dialogs.text("Save figure", question, f"{names}.png, {names}.svg")
        if text is not None and text.strip():
            self.write_figures(text)

    def write_figures(self, line: str) -> None:
        """Write the current figure to every file named on the line; all or none."""
        view, figure = self.session.view, self.figuring.meant()
        if view is None or figure is None:
            return
        typed = typed_line(line)
        if typed.points is not None and not LEAST_LETTERS <= typed.points <= MOST_LETTERS:
            most = f"{LEAST_LETTERS:g} to {MOST_LETTERS:g} points"
            self.session.say(f"Letters can have {most}, not {typed.points:g}; nothing was written.")
            return
        from yellow_slope.report.figures import NUMBERS, POINTS, FigureFile, drawn_figure

        def meant() -> list[FigureFile] | None:
            files = [FigureFile(path, typed.dpi, typed.outlines) for path in self.targets.named(typed.names)]
            if not files:
                raise FileError("No file is named: type “slopes.png”, for instance.")
            return files if self.targets.may_write(file.path for file in files) else None

        files = self._named(meant)
        if files is None:
            return
        figure = self._with_letters(figure, typed.points)

        def work(job: Job) -> str:
            from yellow_slope.files.safely.atomically import write_together
            from yellow_slope.report.fontchain import remark

            subject = subject_of(view.evaluation, figure.shows, answer_of(view))
            drawn = drawn_figure(figure, subject, any(file.kind == NUMBERS for file in files))
            contents = []
            for file in files:
                contents.append(file.content(drawn))
                job.go_on()
            remarks = write_together(zip((file.path for file in files), contents))
            is_points = any(file.kind in POINTS for file in files)
            drawn_at = f" ({typed.dpi} dpi)" if is_points else ""
            return saved([file.path for file in files], remark(drawn.page), *remarks, how=drawn_at)

        self.worker.in_order("drawing the figure", work, self.session.say, self.session.say)

    def _with_letters(self, figure: Figure, points: float | None) -> Figure:
        """The figure with letters of a size that was typed, which is kept: with the figure, or for all that are not
        one's own."""
        study = self.session.study
        if points is None:
            return figure
        lettered = replace(figure, letters=points)
        if figure in study.figures:
            self.session.edit("letters of the figure", lambda s: tune_figure(s, figure.name, lettered))
        elif points != study.figure_letters:
            self.session.edit("letters of figures", lambda s: set_figure_letters(s, points), quiet=True)
        return lettered

    def save_table(self, table: Table, number: int) -> None:
        """Ask for a file name and write a table of the report at full precision."""
        question = (
            "File names on one line: .csv or .xlsx, with every number at full precision.\n"
            f"Without a folder of their own they go to {self.targets.folder()}."
        )
        text = self.dialogs.text(f"Save table {number}", question, f"table-{number}.csv")
        if text is None or not text.strip():
            return
        from yellow_slope.report.tablefiles import TableFile

        def meant() -> list[TableFile] | None:
            files = [TableFile(path) for path in self.targets.named(text)]
            if not files:
                raise FileError("No file is named: type “table.csv”, for instance.")
            return files if self.targets.may_write(file.path for file in files) else None

        files = self._named(meant)
        if files is None:
            return

        def work(job: Job) -> str:
            from yellow_slope.files.safely.atomically import write_together

            remarks = write_together([(file.path, file.content(table)) for file in files])
            return saved([file.path for file in files], *remarks)

        self.worker.in_order("writing the table", work, self.session.say, self.session.say)

    @action(
        "export the table",
        "Export the table, with or without computed columns, with its code book",
        "Ctrl+Shift+E",
        menu=Menu.STUDY,
        available="session.is_open",
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
            from yellow_slope.files.written.exporting import write_export

            written = write_export(evaluation, paths, choices, job.told)
            n = written.n_guarded if choices.as_text else 0
            guarded = [f"{n:,} cells begin with an apostrophe now."] if n else []
            return saved(written.files, *guarded, *written.remarks)

        self.worker.in_order("writing the table", work, self.session.say, self.session.say)

    def _named(self, meant: Callable[[], T | None]) -> T | None:
        """What is meant, or None where it was given up or refused; a refusal is said."""
        try:
            return meant()
        except FileError as error:
            self.session.say(str(error))
            return None
