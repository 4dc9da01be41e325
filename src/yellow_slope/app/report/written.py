"""The report as it is written for the screen, off the interface thread and piece by piece."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator
from typing import TYPE_CHECKING

from PyQt6.QtGui import QImage

from yellow_slope.app.figures.painter import image_of
from yellow_slope.core.fit.fitted.evaluate import Evaluation
from yellow_slope.core.told.origins import AtStep, Origin
from yellow_slope.core.words.spelling.rich import Rich, Run
from yellow_slope.values import dataclass, field, replace

if TYPE_CHECKING:
    from yellow_slope.core.told.tables import Table
    from yellow_slope.plots.marks import Page
    from yellow_slope.report.document import Paragraph, Section

FIGURE_WIDTH = 700
EACH = 0.12
"""Seconds of work that one piece may wait for the next section."""
MOST_ROWS = 16
"""Rows of tables that the window takes in at once."""
SAID = 30
"""Paragraphs that the window takes in at once."""
WIDE = 2000
"""Letters of a paragraph: a longer one, an equation of a thousand terms, is set in several, for one is laid out in one
go."""
LONG = 60
"""A table of more rows is taken in in pieces of so many."""
MOST_PIECES = 5
"""Of a table of more pieces, and of more sentences than ten times what is taken in at once, the pages show the first:
what they hold is laid out anew whenever the window has another size."""


LEFT_OUT = "The first {:,} of {:,} {} are shown on these pages; the saved report has all."


@dataclass(slots=True)
class WrittenPiece:
    """Some sections: HTML, figures by name, tables, and where numbers lead to so far."""

    html: str
    images: list[tuple[str, QImage]]
    tables: list[Table]
    numbers: dict[Origin, int]


@dataclass(slots=True)
class Written:
    """What is shown: its tables in order, and where its numbers lead to."""

    tables: list[Table] = field(default_factory=list)
    numbers: dict[Origin, int] = field(default_factory=dict)

    def origin(self, number: int) -> Origin | None:
        """What a number on the pages leads to."""
        return next((origin for origin, n in self.numbers.items() if n == number), None)

    def places_of(self, origin: Origin) -> list[str]:
        """The names of places that say something of an origin, those that say most of it first."""
        found = [self.numbers[origin]] if origin in self.numbers else []
        if isinstance(origin, AtStep) and origin.term is not None:
            later = (o for o in self.numbers if isinstance(o, AtStep) and o.term == origin.term)
            found += [self.numbers[o] for o in sorted(later, key=lambda o: -o.step)]
            found += [self.numbers[AtStep(origin.step)]] if AtStep(origin.step) in self.numbers else []
        return [f"{kind}-{number}" for number in found for kind in ("row", "at")]


def write_pages(evaluation: Evaluation, give: Callable[[WrittenPiece], None]) -> None:
    """Give the sections away as soon as there are some: what is visible is not to wait for the rest."""
    from yellow_slope.report.document import Report
    from yellow_slope.report.parts import sections_of
    from yellow_slope.report.writers.html import ScreenPages

    pages = ScreenPages()
    waiting: list[Section] = []
    since = time.monotonic()

    def send() -> None:
        nonlocal since
        if not waiting and pages.is_begun:
            return
        report = Report(evaluation.study.name, tuple(waiting))
        first = pages.figures
        html = pages.html(report)
        images = [
            (f"figure-{first + i}.png", _for_the_page(picture.page)) for i, picture in enumerate(report.pictures, 1)
        ]
        tables = [table.piece.table if table.piece else table for table in report.tables if table.begins]
        give(WrittenPiece(html, images, tables, dict(pages.numbers)))
        waiting.clear()
        since = time.monotonic()

    for section in (part for whole in sections_of(evaluation) for part in _parts(whole)):
        if sum(map(_rows, waiting)) + _rows(section) > MOST_ROWS:
            send()
        waiting.append(section)
        if not pages.is_begun or section.pictures or time.monotonic() - since > EACH:
            send()
    send()


def _rows(section: Section) -> int:
    return sum(len(table.rows) for table in section.tables)


def _parts(section: Section) -> Iterator[Section]:
    """A section of many rows in several, cut between its tables, and within those that are long."""
    from yellow_slope.report.document import said
    from yellow_slope.report.writers.columns import percentages

    if any(len(table.rows) > LONG and table.piece is None for table in section.tables):
        pieces: list[Table] = []
        left: list[Paragraph] = []
        for table in section.tables:
            own = table.pieces(LONG, percentages(table)) if len(table.rows) > LONG else [table]
            pieces += own[:MOST_PIECES]
            if len(own) > MOST_PIECES:
                left.append(said(LEFT_OUT.format(MOST_PIECES * LONG, len(table.rows), "rows")))
        section = replace(section, tables=tuple(pieces), after=(*left, *section.after))
    if len(section.paragraphs) > 10 * SAID:
        left_out = said(LEFT_OUT.format(10 * SAID, len(section.paragraphs), "sentences"))
        section = replace(section, paragraphs=(*section.paragraphs[: 10 * SAID], left_out))
    if any(len(str(paragraph)) > WIDE for paragraph in section.paragraphs):
        section = replace(section, paragraphs=tuple(p for one in section.paragraphs for p in _cut(one)))
    while len(section.paragraphs) > SAID:
        yield replace(section, paragraphs=section.paragraphs[:SAID], tables=(), pictures=(), after=())
        section = replace(section, title="", paragraphs=section.paragraphs[SAID:])
    tables, rest = section.tables[:1], section.tables[1:]
    while rest and sum(len(table.rows) for table in tables) + len(rest[0].rows) <= MOST_ROWS:
        tables, rest = (*tables, rest[0]), rest[1:]
    if not rest:
        yield section
        return
    yield replace(section, tables=tables, pictures=(), after=())
    yield from _parts(replace(section, title="", paragraphs=(), tables=rest))


def _cut(paragraph: Paragraph) -> Iterator[Paragraph]:
    """A long paragraph in several, cut at blanks."""
    runs: list[Run] = []
    room = WIDE
    for run in paragraph.text.runs:
        text = run.text
        while len(text) > room:
            at = text.rfind(" ", 0, room) + 1 or room
            yield replace(paragraph, text=Rich((*runs, replace(run, text=text[:at]))))
            runs, room, text = [], WIDE, text[at:]
        runs.append(replace(run, text=text))
        room -= len(text)
    if runs:
        yield replace(paragraph, text=Rich(tuple(runs)))


def _for_the_page(page: Page) -> QImage:
    """The figure as the painter draws it, in a sixth of the time that its file takes; on the white of the page."""
    image = image_of(page, FIGURE_WIDTH / page.width)
    image.setDevicePixelRatio(1.0)
    return image
