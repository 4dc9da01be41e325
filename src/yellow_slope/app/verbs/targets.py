"""Where the window writes: beside the study, never onto what it was made from, never over a file without asking."""

from __future__ import annotations

import os
import re
from collections.abc import Iterable
from itertools import count
from pathlib import Path

from yellow_slope.app.state.session import StudySession
from yellow_slope.app.widgets.dialogs import Dialogs
from yellow_slope.core.words.spelling.numerals import listed
from yellow_slope.files.safely.paths import working_folder
from yellow_slope.files.written.targets import inputs_of, names_on, placed, refuse_inputs

NOT_IN_A_NAME = re.compile(r"[/\x00-\x1f]+")


class Targets:
    """Asks where to write, and whether to write over what is there."""

    def __init__(self, session: StudySession, dialogs: Dialogs) -> None:
        self.session, self.dialogs = session, dialogs

    def folder(self) -> Path:
        """Where what is typed without a folder goes: beside the study, else beside its table."""
        from yellow_slope.demo.learners import STUDY

        for path in (self.session.path, self.session.source):
            if path is not None and path != STUDY:
                return (working_folder() / path).parent
        return working_folder()

    def suggested(self, suffix: str) -> str:
        """A file name for the study's name."""
        study = self.session.study
        name = NOT_IN_A_NAME.sub("-", study.name).strip(". ")
        return f"{name or 'Study'}{suffix}"

    def asked(self, title: str, suffix: str, kinds: str) -> Path | None:
        """A file of that ending from the system's dialog, which asks before one is written over."""
        said = self.dialogs.save_path(title, str(self.folder() / self.suggested(suffix)), kinds, suffix)
        if said is None:
            return None
        path = said if said.suffix.lower() == suffix else said.with_name(said.name + suffix)
        return path if path == said or self._may_replace([path]) else None

    def named(self, line: str) -> list[Path]:
        """The whole paths of the file names on a line."""
        return [placed(name, self.folder()) for name in names_on(line)]

    def may_write(self, paths: Iterable[Path]) -> bool:
        """Whether these files are written: FileError for the study and its table, a question for others that are
        there."""
        paths = list(paths)
        session = self.session
        if session.is_open:
            files = [path for path in (session.path, session.source) if path is not None]
            refuse_inputs(paths, [made_from for file in files for made_from in inputs_of(session.study, file)])
        return self._may_replace(paths)

    def _may_replace(self, paths: list[Path]) -> bool:
        there = [path for path in paths if os.path.exists(path)]
        if not there:
            return True
        names = listed([f"“{path.name}”" for path in there])
        verb = "is" if len(there) == 1 else "are"
        said = f"{names} {verb} there already, in {there[0].parent}."
        return self.dialogs.choose("Overwrite it?", said, "Overwrite", "Keep the file") == 0

    def free(self, suffix: str) -> str:
        """A file name for the study's name that nothing has yet."""
        name, folder = self.suggested(suffix), self.folder()
        return next(
            found
            for i in count(2)
            if not os.path.exists(
                folder / (found := name if i == 2 else f"{name.removesuffix(suffix)} {i - 1}{suffix}")
            )
        )


def saved(paths: Iterable[Path], *remarks: str, how: str = "") -> str:
    """What is said of files that were written: their whole paths, how, and remarks."""
    said = f"Saved: {', '.join(str(path) for path in paths)}{how}"
    more = " ".join(remark for remark in remarks if remark)
    return f"{said}. {more}" if more else said
