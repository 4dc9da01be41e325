"""The report as one self-contained HTML file, and its pages on screen."""

from __future__ import annotations

import base64
import re
from collections.abc import Callable
from functools import cache
from pathlib import Path
from typing import Any

from jinja2 import Environment, FileSystemLoader, Template, select_autoescape

from yellow_slope import looks
from yellow_slope.core.told.origins import Origin
from yellow_slope.core.words.spelling.rich import Run, with_symbols
from yellow_slope.report.blocks import SYMBOLS
from yellow_slope.report.document import Report
from yellow_slope.values import dataclass, field, replace

_FIGURE = re.compile(r"[−-]?(?:\d[\d,]*)?\.?\d+%?")


def html_of(report: Report) -> str:
    """One file: fonts, figures with what they show, tables with headers; no script and nothing from outside."""
    font, bold = (base64.b64encode(_font(style)).decode() for style in ("Regular", "SemiBold"))
    return _rendered(report, lambda _: None, on_screen=False, font=font, bold=bold)


@dataclass(slots=True)
class ScreenPages:
    """The pages on screen: figures are named resources (figure-1.png), numbers lead to where they are made."""

    numbers: dict[Origin, int] = field(default_factory=dict)
    """The number in “#to-3”, “row-3” and “at-3” by what it leads to."""
    tables: int = 0
    figures: int = 0
    is_begun: bool = False

    def html(self, report: Report) -> str:
        """The next sections as a page that follows the last."""
        told = _rendered(
            report,
            self.number_of,
            on_screen=True,
            first=not self.is_begun,
            first_table=self.tables,
            first_figure=self.figures,
        )
        self.is_begun = True
        self.tables += sum(table.begins for table in report.tables)
        self.figures += len(report.pictures)
        return told

    def number_of(self, origin: Origin | None) -> int | None:
        """The number that leads to an origin."""
        if origin is None:
            return None
        return self.numbers.setdefault(origin, len(self.numbers))

    def origin(self, number: int) -> Origin | None:
        """What a number leads to."""
        return next((origin for origin, n in self.numbers.items() if n == number), None)


def _rendered(report: Report, number_of: Callable[[Origin | None], int | None], on_screen: bool, **more: Any) -> str:
    said = {"font": "", "bold": "", "first": True, "first_table": 0, "first_figure": 0, **more}
    return _template().render(
        report=report,
        looks=looks.LIGHT,
        family=looks.FONT_FAMILY,
        on_screen=on_screen,
        symbols=SYMBOLS,
        number_of=number_of,
        parts_of=_parts,
        symbols_in=with_symbols,
        **said,
    )


def _parts(run: Run) -> list[tuple[str | Run, bool]]:
    """A run as texts between figures, and the figures."""
    found: list[tuple[str | Run, bool]] = []
    at = 0
    for match in _FIGURE.finditer(run.text):
        found += [(replace(run, text=run.text[at : match.start()]), False), (match.group(), True)]
        at = match.end()
    return [*found, (replace(run, text=run.text[at:]), False)]


@cache
def _template() -> Template:
    environment = Environment(
        loader=FileSystemLoader(Path(__file__).parent),
        autoescape=select_autoescape(default_for_string=True, default=True),
    )
    return environment.get_template("report.html.j2")


def _font(style: str) -> bytes:
    return (looks.FONT_FOLDER / f"SlopeSans-{style}.otf").read_bytes()
