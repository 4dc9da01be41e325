"""The formats that a report is written in; each is refused before anything is computed where it cannot be."""

from __future__ import annotations

from collections.abc import Callable
from enum import StrEnum
from importlib.util import find_spec
from pathlib import Path
from typing import assert_never

from yellow_slope.core.errors import FileError
from yellow_slope.core.words.spelling.numerals import listed
from yellow_slope.report.document import Report
from yellow_slope.values import dataclass


class Format(StrEnum):
    """A format; the value is its usual ending."""

    HTML = ".html"
    DOCX = ".docx"
    ODT = ".odt"
    PDF = ".pdf"
    LATEX = ".tex"
    MARKDOWN = ".md"


NEEDS = {Format.DOCX: "docx", Format.ODT: "odf", Format.PDF: "reportlab"}
"""The library that writes a format, where it is not of this program."""
OTHERS = {".htm": Format.HTML, ".markdown": Format.MARKDOWN}


@dataclass(frozen=True, slots=True)
class ReportFile:
    """A file that a report is written to. FileError for a name that promises another format, or a format whose library
    is not there."""

    path: Path

    def __post_init__(self) -> None:
        kind = self._format()
        if kind is None:
            raise FileError(f"{self.path.name}: a report is written as {listed([f.value for f in Format], 'or')}.")
        library = NEEDS.get(kind)
        if library is not None and find_spec(library) is None:
            there = [f.value for f in Format if f not in NEEDS or find_spec(NEEDS[f]) is not None]
            raise FileError(f"{self.path.name}: what writes {kind.value} is not installed; there are {listed(there)}.")

    def _format(self) -> Format | None:
        suffix = self.path.suffix.lower()
        return OTHERS.get(suffix) or next((f for f in Format if f.value == suffix), None)

    @property
    def format(self) -> Format:
        """Its format."""
        found = self._format()
        assert found is not None
        return found

    def contents(self, report: Report) -> list[tuple[Path, bytes]]:
        """The file with its content, and after it those that stand beside it."""
        return [
            (self.path if not name else self.path.with_name(name), content) for name, content in self._written(report)
        ]

    def _written(self, report: Report) -> list[tuple[str, bytes]]:
        kind = self.format
        match kind:
            case Format.HTML:
                from yellow_slope.report.writers.html import html_of

                return [("", html_of(report).encode("utf-8"))]
            case Format.DOCX:
                from yellow_slope.report.writers.worddocument import docx_of

                return [("", docx_of(report))]
            case Format.ODT:
                from yellow_slope.report.writers.opentext import odt_of

                return [("", odt_of(report))]
            case Format.PDF:
                from yellow_slope.report.writers.printed import pdf_of

                return [("", pdf_of(report))]
            case Format.LATEX:
                from yellow_slope.report.writers.latex import latex_of

                return latex_of(report, self.path.stem)
            case Format.MARKDOWN:
                from yellow_slope.report.writers.markdown import markdown_of

                return markdown_of(report, self.path.stem)
            case _:
                assert_never(kind)


def report_contents(
    files: list[ReportFile], report: Report, go_on: Callable[[], object] = lambda: None
) -> list[tuple[Path, bytes]]:
    """What is written to every file and beside it, made whole before any is put in its place."""
    made: list[tuple[Path, bytes]] = []
    for file in files:
        made += file.contents(report)
        go_on()
    return made
