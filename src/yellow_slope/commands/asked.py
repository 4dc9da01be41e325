"""What every command asks before it begins: a study, and whether its files may be written."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from pathlib import Path

from yellow_slope import terminal
from yellow_slope.core.study.study import Study


def opened(file: Path) -> Study:
    """The study of a file; what it named and does not hold is said."""
    from yellow_slope.core.words.sentences.gone import let_go_sentence
    from yellow_slope.files.opening import open_anything

    study = open_anything(file)
    if study.went:
        terminal.remark(f"{file}: {let_go_sentence(study, study.went)}")
    return study


def refuse_inputs(targets: Sequence[Path], study: Study, *files: Path) -> None:
    """A command does not write onto what it reads."""
    from yellow_slope.files.written import targets as written

    written.refuse_inputs(targets, [path for file in files for path in written.inputs_of(study, file)])


def write(files: Iterable[tuple[Path, bytes]]) -> None:
    """Write the files, all or none; remarks are said."""
    from yellow_slope.files.safely.atomically import write_together

    for text in write_together(files):
        terminal.remark(text)
