"""The report as Markdown, with its figures as SVG files beside it."""

from __future__ import annotations

import re

from yellow_slope.core.words.spelling.rich import Rich, Run
from yellow_slope.report.blocks import Heading, Pictured, Said, Tabled, blocks_of, head_run, rows_of
from yellow_slope.report.document import Report

_MARKS = re.compile(r"([\\`*_{}\[\]#|~$^@]|<(?=\S)|(?<=\S)>|&(?=[\w#]+;)|:(?=//)|(?<=www)[.])")
_FIRST = re.compile(r"^([>+=-])")
_COUNTED = re.compile(r"^(\d{1,9})([.)])(?=\s|$)")


def markdown_of(report: Report, stem: str) -> list[tuple[str, bytes]]:
    """Names with contents, the text first; stem: what the files beside it begin with."""
    lines = [f"# {escaped(report.title)}", ""]
    beside: list[tuple[str, bytes]] = []
    for block in blocks_of(report):
        match block:
            case Heading(text):
                lines += [f"## {escaped(text)}", ""]
            case Said(text):
                lines += [_said(text), ""]
            case Tabled(number, table):
                rows = rows_of(table)
                lines += [f"**Table {number}**", "", f"*{escaped(table.title)}*", ""]
                lines.append("| " + " | ".join(_run(head_run(cell)) or " " for cell in table.head) + " |")
                right = ["---" if j < table.texts else "---:" for j in range(len(table.head))]
                lines.append("| " + " | ".join(right) + " |")
                lines += ["| " + " | ".join(escaped(cell) or " " for cell in row) + " |" for row in rows]
                lines += ["", f"*Note.* {escaped(table.note)}", ""] if table.note else [""]
            case Pictured(number, picture):
                name = f"{stem}-figure-{number}.svg"
                beside.append((name, picture.svg.encode("utf-8")))
                told = escaped(picture.alternative or picture.title)
                lines += [f"**Figure {number}**", "", f"*{escaped(picture.title)}*", ""]
                lines += [f"![{told}](<{name.replace('<', '').replace('>', '')}>)", ""]
                lines += [f"*Note.* {escaped(picture.caption)}", ""]
    return [("", "\n".join(lines).encode("utf-8")), *beside]


def escaped(text: str, begins: bool = True) -> str:
    """The text with every mark that means something in Markdown, there where it stands, as a letter; begins: whether a
    line begins with it."""
    safe = _MARKS.sub(r"\\\1", " ".join(text.split()))
    return _COUNTED.sub(r"\1\\\2", _FIRST.sub(r"\\\1", safe)) if begins else safe


def _run(run: Run, begins: bool = True) -> str:
    inner = escaped(run.text, begins)
    if not inner:
        return " " if run.text else ""
    lead, tail = run.text[:1].isspace(), run.text[-1:].isspace()
    mark = "**" if run.bold else "*" if run.italic else ""
    return f"{' ' if lead else ''}{mark}{inner}{mark}{' ' if tail else ''}"


def _said(text: Rich) -> str:
    written = ""
    for run in text.runs:
        written += _run(run, begins=not written.strip())
    return written.strip()
