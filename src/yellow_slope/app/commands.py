"""What the window's actions do with files and the clipboard."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QApplication, QFileDialog, QInputDialog, QMessageBox

from yellow_slope.app.actions import EVERYWHERE, Action
from yellow_slope.app.errands import Errand
from yellow_slope.app.recent import remember
from yellow_slope.core.errors import YellowSlopeError
from yellow_slope.core.study import Study

if TYPE_CHECKING:
    from yellow_slope.app.window import Window
    from yellow_slope.files.delimited import ReadAs


class Commands:
    """Opening, saving and exporting; every refusal becomes a sentence in the window."""

    def __init__(self, window: Window) -> None:
        self.window = window
        self.session = window.session

    def actions(self) -> list[Action]:
        """What can be done with files and the study as a whole."""
        session = self.session

        def has() -> bool:
            return session.study is not None

        def can_undo() -> bool:
            return bool(session.undo_name)

        def can_redo() -> bool:
            return bool(session.redo_name)

        named = [
            ("open a file", "Open a table or a study", self.window.first.browse, ("Ctrl+O",), lambda: True),
            ("open the demo", "Open the made-up learners with a finished model", self.open_demo, (), lambda: True),
            ("save", "Save the study where it stands", self.save, ("Ctrl+S",), has),
            ("save as", "Save the study in another file", self.save_as, ("Ctrl+Shift+S",), has),
            ("rename the study", "Give the study a name", self.rename, (), has),
            ("save the report", "Save the report as one HTML file", self.save_report, ("Ctrl+R",), has),
            ("save the figure", "Save the figure as PNG or SVG, several files on one line", self.export_figure, ("Ctrl+E",), has),
            ("undo", "Take back the last edit", session.undo, ("Ctrl+Z",), can_undo),
            ("redo", "Do again what was undone", session.redo, ("Ctrl+Shift+Z", "Ctrl+Y"), can_redo),
            ("change the confidence level", "Choose the level of all intervals", self.set_level, (), has),
            ("quit", "Close the window", self.window.close, ("Ctrl+Q",), lambda: True),
        ]  # fmt: skip
        return [
            Action(name, help, run, keys, EVERYWHERE, "study", available) for name, help, run, keys, available in named
        ]

    # ---- opening

    def open_path(self, text: str, read_as: ReadAs | None = None) -> None:
        """Open a table or a study; what is wrong with it is said where the user looks."""
        if not text:
            return
        path = Path(text).expanduser()

        def opened(study: Study) -> None:
            if self.may_leave():
                self.session.open(study, path if path.suffix == ".yslope" else None, path)
                remember(path)

        self._open(path, opened, read_as)

    def read_again(self, read_as: ReadAs) -> None:
        """Read the table file again in another way."""
        if self.session.source is not None:
            self.open_path(str(self.session.source), read_as)

    def open_demo(self) -> None:
        """Open the demo study as a new study."""
        from yellow_slope.demo.learners import STUDY

        def opened(study: Study) -> None:
            if self.may_leave():
                self.session.open(study)

        self._open(STUDY, opened)

    def _open(self, path: Path, opened: Callable[[Study], None], read_as: ReadAs | None = None) -> None:
        def work(errand: Errand) -> Study:
            from yellow_slope.files.opening import open_anything

            return open_anything(path, read_as)

        def trouble(said: str) -> None:
            self.window.first.show_trouble(said)
            self.session.say(said)

        self.window.first.show_trouble("")
        self.window.errands.run(f"reading {path.name}", work, opened, trouble)

    def may_leave(self) -> bool:
        """Ask before a changed study is left."""
        if self.session.study is None or self.session.is_saved:
            return True
        box = QMessageBox(self.window)
        box.setWindowTitle("Leave the study?")
        box.setText(f"“{self.session.study.name}” has changes that are not saved.")
        save = box.addButton("Save", QMessageBox.ButtonRole.AcceptRole)
        leave = box.addButton("Leave without saving", QMessageBox.ButtonRole.DestructiveRole)
        box.addButton("Stay", QMessageBox.ButtonRole.RejectRole)
        box.exec()
        if box.clickedButton() is save:
            path = self.session.path or self._ask_path()
            return path is not None and self._save_now(path)
        return box.clickedButton() is leave

    # ---- saving

    def save(self) -> None:
        """Save where the study stands, else ask where."""
        self._save_to(self.session.path or self._ask_path())

    def save_as(self) -> None:
        """Ask where to save."""
        self._save_to(self._ask_path())

    def _ask_path(self) -> Path | None:
        study = self.session.study
        if study is None:
            return None
        name, _ = QFileDialog.getSaveFileName(self.window, "Save study", f"{study.name}.yslope", "Studies (*.yslope)")
        if not name:
            return None
        path = Path(name)
        return path if path.suffix == ".yslope" else path.with_name(path.name + ".yslope")

    def _save_to(self, path: Path | None) -> None:
        study = self.session.study
        if path is None or study is None:
            return

        def work(errand: Errand) -> None:
            from yellow_slope.files.atomically import write_whole
            from yellow_slope.files.studyfile import packed

            content = packed(study)
            errand.go_on()
            write_whole(path, content)

        def saved(_: object) -> None:
            self.session.mark_saved(path, study)
            self.session.say(f"Saved: {path}")
            remember(path)

        self.window.errands.run(f"saving {path.name}", work, saved, self.session.say)

    def _save_now(self, path: Path) -> bool:
        """Save before the study is left; False where that fails."""
        from yellow_slope.files.studyfile import write_study

        assert self.session.study is not None
        try:
            write_study(self.session.study, path)
        except YellowSlopeError as error:
            self.session.say(str(error))
            return False
        self.session.mark_saved(path, self.session.study)
        return True

    # ---- exporting

    def save_report(self) -> None:
        """Ask where the report goes and write it."""
        results = self.session.results
        if results is None:
            return
        name, _ = QFileDialog.getSaveFileName(
            self.window, "Save report", f"{results.evaluation.study.name}.html", "HTML (*.html)"
        )
        if not name:
            return
        evaluation, step = results.evaluation, self.session.desk.open_step

        def work(errand: Errand) -> None:
            from yellow_slope.files.atomically import write_whole
            from yellow_slope.report.document import build_report, html_of

            content = html_of(build_report(evaluation, step)).encode("utf-8")
            errand.go_on()
            write_whole(Path(name), content)

        self.window.errands.run(
            "writing the report", work, lambda _: self.session.say(f"Saved: {name}"), self.session.say
        )

    def export_figure(self) -> None:
        """Ask for file names on one line and write one figure for each."""
        if self.session.probed() is None:
            self.session.say("There is no product to draw yet.")
            return
        text, ok = QInputDialog.getText(
            self.window, "Save figure", "File names on one line (.png or .svg; “600 dpi” if 300 is too few):", text="slopes.png slopes.svg"
        )  # fmt: skip
        if ok and text.strip():
            self.write_figures(text)

    def write_figures(self, line: str) -> None:
        """Write the current figure to every file named on the line."""
        import re

        results, probed = self.session.results, self.session.probed()
        if results is None or probed is None or results.evaluation.fit is None:
            return
        found = re.search(r"(\d+)\s*dpi", line)
        dpi = int(found.group(1)) if found else 300
        names = (line[: found.start()] + line[found.end() :] if found else line).replace(",", " ").split()
        wrong = [n for n in names if Path(n).suffix.lower() not in (".png", ".svg")]
        if wrong or not names or not 30 <= dpi <= 2400:
            self.session.say(f"A figure is written as .png or .svg, at 30 to 2400 dpi: {' '.join(wrong) or line}")
            return
        focus = min(self.session.desk.focus, len(probed.foci) - 1)
        study, fit = results.evaluation.study, results.evaluation.fit
        paths = [Path(name).expanduser() for name in names]

        def work(errand: Errand) -> None:
            from yellow_slope.files.atomically import write_whole
            from yellow_slope.report.figures import figure_bytes, figure_of

            figure = figure_of(study, fit, probed, focus)
            for path in paths:
                content = figure_bytes(figure, path.suffix.lower()[1:], dpi)
                errand.go_on()
                write_whole(path, content)

        said = f"Saved: {', '.join(str(path) for path in paths)} ({dpi} dpi)"
        self.window.errands.run("drawing the figure", work, lambda _: self.session.say(said), self.session.say)

    def copy(self, text: str) -> None:
        """Put a text on the clipboard."""
        clipboard = QApplication.clipboard()
        if clipboard is not None and text:
            clipboard.setText(text)
            self.session.say("Copied.")

    def rename(self) -> None:
        """Ask for the study's name."""
        from yellow_slope.core import edits

        study = self.session.study
        if study is None:
            return
        name, ok = QInputDialog.getText(self.window, "Name of the study", "Name:", text=study.name)
        if ok:
            self.session.edit("rename the study", lambda s: edits.rename(s, name))

    def set_level(self) -> None:
        """Ask for the confidence level."""
        from yellow_slope.core import edits

        study = self.session.study
        if study is None:
            return
        value, ok = QInputDialog.getDouble(self.window, "Confidence level", "Percent:", 100 * study.level, 50, 99.9, 1)
        if ok:

            def change(s: Study) -> Study:
                return edits.set_level(s, round(value / 100, 6))

            self.session.edit("change the level", change)
