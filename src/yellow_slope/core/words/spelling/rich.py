"""Texts with emphasis, as runs: statistical symbols in italics, and what somebody emphasized."""

from __future__ import annotations

import re

from yellow_slope.core.letters import letters_only
from yellow_slope.values import dataclass


@dataclass(frozen=True, slots=True)
class Run:
    """A stretch of letters of one kind."""

    text: str
    italic: bool = False
    bold: bool = False

    def __post_init__(self) -> None:
        letters_only(self, "text")


@dataclass(frozen=True, slots=True)
class Rich:
    """A paragraph of runs."""

    runs: tuple[Run, ...]

    def __str__(self) -> str:
        return "".join(run.text for run in self.runs)


def sym(symbol: str) -> Run:
    """A statistical symbol."""
    return Run(symbol, italic=True)


def rich(*pieces: str | Run | Rich) -> Rich:
    """A paragraph of pieces, those that lie beside each other in one look put together."""
    runs: list[Run] = []
    for piece in pieces:
        inner = piece.runs if isinstance(piece, Rich) else (Run(piece) if isinstance(piece, str) else piece,)
        for run in inner:
            if runs and (runs[-1].italic, runs[-1].bold) == (run.italic, run.bold):
                runs[-1] = Run(runs[-1].text + run.text, run.italic, run.bold)
            elif run.text:
                runs.append(run)
    return Rich(tuple(runs))


def trimmed(text: Rich) -> Rich:
    """Without blanks at its end."""
    if not text.runs:
        return text
    last = text.runs[-1]
    return Rich((*text.runs[:-1], Run(last.text.rstrip(), last.italic, last.bold)))


_SYMBOL = re.compile(r"(?<![\w.-])(?:R(?=²)|[FtpbnrM](?=\(\d| [=<] |²)|SD(?= [=<] )|SE(?= [=<] ))")


def with_symbols(text: str) -> Rich:
    """A text of the program with its statistical symbols slanted: “*F*(1, 206) = 28.72, *p* < .001”."""
    pieces: list[str | Run] = []
    at = 0
    for found in _SYMBOL.finditer(text):
        pieces += [text[at : found.start()], sym(found.group())]
        at = found.end()
    return rich(*pieces, text[at:])


_EMPHASIS = re.compile(r"\*\*(.+?)\*\*|\*(.+?)\*")


def emphasized(text: str) -> list[Rich]:
    """What somebody typed, as paragraphs: “*word*” is slanted, “**word**” is bold; a blank line begins another."""
    paragraphs = [" ".join(part.split()) for part in re.split(r"\n\s*\n", text) if part.strip()]
    return [rich(*_runs(paragraph)) for paragraph in paragraphs]


def _runs(text: str) -> list[Run]:
    runs: list[Run] = []
    at = 0
    for found in _EMPHASIS.finditer(text):
        runs.append(Run(text[at : found.start()]))
        runs.append(
            Run(found.group(1) or found.group(2), italic=found.group(1) is None, bold=found.group(1) is not None)
        )
        at = found.end()
    runs.append(Run(text[at:]))
    return runs


def runs_of(text: str | Rich) -> tuple[Run, ...]:
    """The runs of a paragraph; of a plain text one."""
    return text.runs if isinstance(text, Rich) else (Run(text),)
