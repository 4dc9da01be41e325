"""The report as a document: sections of paragraphs, tables and pictures, in the order in which they are printed."""

from __future__ import annotations

from functools import cached_property

from yellow_slope.core.letters import letters_only
from yellow_slope.core.study.report import PartKind
from yellow_slope.core.told.origins import Origin
from yellow_slope.core.told.tables import Table
from yellow_slope.core.words.spelling.rich import Rich, with_symbols
from yellow_slope.plots.marks import Page
from yellow_slope.report.told import Told
from yellow_slope.values import dataclass, field


@dataclass(frozen=True)
class Picture:
    """A figure with its caption, drawn in the form that is asked for."""

    title: str
    caption: str
    page: Page = field(repr=False)
    alternative: str = ""
    """For those who do not see it."""
    own: int | None = None
    """Which figure of the study it is, from 0; None: one that the report draws by itself."""

    def __post_init__(self) -> None:
        letters_only(self, "title", "caption", "alternative")

    @cached_property
    def svg(self) -> str:
        """For a page that is printed."""
        from yellow_slope.report.drawing import page_bytes

        told = Told(self.title, self.alternative or self.caption)
        return page_bytes(self.page, "svg", told=told).decode("utf-8")

    @cached_property
    def png(self) -> bytes:
        """For the screen."""
        from yellow_slope.report.drawing import page_bytes

        return page_bytes(self.page, "png", 160)


@dataclass(frozen=True, slots=True)
class Paragraph:
    """A paragraph, and where its figures are made."""

    text: Rich
    origin: Origin | None = None

    def __str__(self) -> str:
        return str(self.text)


def said(text: str | Rich, origin: Origin | None = None) -> Paragraph:
    """A paragraph of a text, in which symbols are slanted."""
    return Paragraph(text if isinstance(text, Rich) else with_symbols(text), origin)


@dataclass(frozen=True, slots=True)
class Section:
    """A heading with paragraphs, tables and pictures."""

    title: str
    paragraphs: tuple[Paragraph, ...] = ()
    tables: tuple[Table, ...] = ()
    pictures: tuple[Picture, ...] = ()
    after: tuple[Paragraph, ...] = ()
    """What somebody says below it."""
    kind: PartKind | None = None
    """The part that it belongs to."""

    def __post_init__(self) -> None:
        letters_only(self, "title")


@dataclass(frozen=True, slots=True)
class Report:
    """The whole report."""

    title: str
    sections: tuple[Section, ...]

    def __post_init__(self) -> None:
        letters_only(self, "title")

    @property
    def pictures(self) -> list[Picture]:
        """Its figures in order."""
        return [picture for section in self.sections for picture in section.pictures]

    @property
    def tables(self) -> list[Table]:
        """Its tables in order."""
        return [table for section in self.sections for table in section.tables]
