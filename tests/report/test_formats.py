"""The report in every format: what stands in it is right, nothing in a name is markup, the same study gives the same
bytes."""

from __future__ import annotations

import io
import re
import zipfile
from html.parser import HTMLParser
from pathlib import Path
from xml.etree import ElementTree

import numpy as np
import pytest
from docx import Document
from odf.opendocument import load
from odf.table import Table as OdfTable
from odf.table import TableRow
from odf.teletype import extractText
from odf.text import P
from pypdf import PdfReader

from yellow_slope.cli import main
from yellow_slope.core.errors import FileError
from yellow_slope.core.fit.fitted.evaluate import evaluate
from yellow_slope.core.study.edits.descriptions import describe
from yellow_slope.core.study.edits.figures import add_figure
from yellow_slope.core.study.edits.levels import name_level
from yellow_slope.core.study.edits.report import choose_set, comment_part, move_part, set_assigned, switch_part
from yellow_slope.core.study.figures import Figure, ShowsGroup, ShowsProbe
from yellow_slope.core.study.report import PartKind, ReadySet
from yellow_slope.core.study.study import Study
from yellow_slope.core.told.cells import Cell
from yellow_slope.core.told.tables import Table
from yellow_slope.files.study.studyfile import packed, unpacked, write_study
from yellow_slope.plots.marks import Page, Part, Points, Shape
from yellow_slope.report.blocks import Heading, Pictured, Said, Tabled, blocks_of, rows_of
from yellow_slope.report.document import Picture, Report, Section, said
from yellow_slope.report.formats import Format, ReportFile, report_contents
from yellow_slope.report.parts import build_report

NASTY = "=cmd <b>x</b> & $a_1^2$ \\input{x} #1 %2 ~ `z` [y](u) *w* | “née”"


@pytest.fixture(scope="module")
def report(demo: Study) -> Report:
    return build_report(evaluate(demo))


@pytest.fixture(scope="module")
def nasty(demo: Study) -> Report:
    study = name_level(describe(demo, "practice", label=NASTY), "coaching", "3", f"{NASTY} too")
    return build_report(evaluate(study))


def content(report: Report, kind: Format) -> bytes:
    return ReportFile(Path(f"r{kind.value}")).contents(report)[0][1]


def plain(text: str) -> str:
    """A text without blanks: writers break lines where they like."""
    return re.sub(r"\s+", "", text)


def cells_of(report: Report) -> list[str]:
    """Every text of every table."""
    tables = [block.table for block in blocks_of(report) if isinstance(block, Tabled)]
    return [text for table in tables for row in [list(table.head), *rows_of(table)] for text in row if text.strip()]


def test_a_word_document_has_real_headings_tables_captions_and_alternative_texts(report: Report) -> None:
    made = content(report, Format.DOCX)
    document = Document(io.BytesIO(made))
    styles = {p.style.name for p in document.paragraphs}  # type: ignore[union-attr]
    assert {"Title", "Heading 1", "Caption", "Note"} <= styles
    blocks = list(blocks_of(report))
    headings = [p.text for p in document.paragraphs if p.style is not None and p.style.name == "Heading 1"]
    assert headings == [b.text for b in blocks if isinstance(b, Heading)]
    tables = [b for b in blocks if isinstance(b, Tabled)]
    assert len(document.tables) == len(tables)
    for printed, block in zip(document.tables, tables):
        found = {plain(cell.text) for row in printed.rows for cell in row.cells}
        assert {plain(t) for row in rows_of(block.table) for t in row if t.strip()} <= found
    with zipfile.ZipFile(io.BytesIO(made)) as package:
        xml = package.read("word/document.xml").decode("utf-8")
    assert xml.count("SEQ Table") == len(tables)
    assert xml.count('descr="Interaction plot') == 3
    assert "w:tblHeader" in xml


def test_an_open_document_has_its_tables_and_figures(report: Report) -> None:
    document = load(io.BytesIO(content(report, Format.ODT)))
    said = plain("".join(extractText(p) for p in document.getElementsByType(P)))
    for block in blocks_of(report):
        if isinstance(block, Said):
            assert plain(str(block.text)) in said
    tables = document.getElementsByType(OdfTable)
    wanted = [b.table for b in blocks_of(report) if isinstance(b, Tabled)]
    assert len(tables) == len(wanted)
    for table, printed in zip(tables, wanted):
        assert len(table.getElementsByType(TableRow)) == 1 + len(printed.rows)
        text = plain("".join(extractText(p) for p in table.getElementsByType(P)))
        assert all(plain(cell.text) in text for row in printed.rows for cell in row)


def test_a_pdf_has_every_text_and_every_cell(report: Report) -> None:
    reader = PdfReader(io.BytesIO(content(report, Format.PDF)))
    said = plain("".join(page.extract_text() for page in reader.pages))
    for cell in cells_of(report):
        assert plain(cell) in said, cell
    found = [page["/Resources"]["/Font"] for page in reader.pages]  # type: ignore[index]
    fonts = {str(fonts[name].get_object()["/BaseFont"]) for fonts in found for name in fonts}
    assert any("SlopeSans" in name for name in fonts)
    assert reader.metadata is not None
    assert reader.metadata.title == report.title


def test_figures_of_a_pdf_are_lines_and_letters_and_of_very_many_points_a_picture(report: Report) -> None:
    reader = PdfReader(io.BytesIO(content(report, Format.PDF)))
    said = plain("".join(page.extract_text() for page in reader.pages))
    figures = [block.picture.page for block in blocks_of(report) if isinstance(block, Pictured)]
    assert figures
    for page in figures:
        for text in page.texts:
            assert text.upright or plain(text.text) in said, text.text
    assert not [image for page in reader.pages for image in page.images]
    rng = np.random.default_rng(1)
    cases = Points(rng.uniform(0, 100, (5000, 2)), Shape.CIRCLE, 3.0, "#224466", Part.TITLE)
    many = Page(100.0, 100.0, (cases,), ground="#ffffff")
    crowd = Report("crowd", (Section("crowd", pictures=(Picture("crowd", "", many),)),))
    reader = PdfReader(io.BytesIO(content(crowd, Format.PDF)))
    assert len([image for page in reader.pages for image in page.images]) == 1


def test_latex_and_markdown_have_every_text_with_figures_beside(report: Report) -> None:
    count = sum(isinstance(block, Pictured) for block in blocks_of(report))
    for kind, suffix in ((Format.LATEX, "pdf"), (Format.MARKDOWN, "svg")):
        made = ReportFile(Path(f"r{kind.value}")).contents(report)
        assert [path.name for path, _ in made[1:]] == [f"r-figure-{i}.{suffix}" for i in range(1, count + 1)]
        text = made[0][1].decode("utf-8")
        for path, _ in made[1:]:
            assert path.name in text
    assert "*p* = ." in text, "what does not begin a line needs no mark"
    latex = content(report, Format.LATEX).decode("utf-8")
    assert latex.count(r"\toprule") == latex.count(r"\bottomrule") > 0
    bare = re.sub(r"\\[{}$&#%_]", "", latex)
    assert bare.count("{") == bare.count("}")
    assert latex.count(r"\begin{longtable}") == latex.count(r"\end{longtable}")


class Tags(HTMLParser):
    def __init__(self) -> None:
        super().__init__()
        self.open: list[str] = []
        self.seen: set[str] = set()

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        self.seen.add(tag)
        assert not any(name.startswith("on") for name, _ in attrs)
        for name, value in attrs:
            if name in ("src", "href") and value:
                assert value.startswith(("data:", "#")), value
        if tag not in ("meta", "img", "br"):
            self.open.append(tag)

    def handle_endtag(self, tag: str) -> None:
        assert self.open.pop() == tag


@pytest.mark.parametrize("which", ["report", "nasty"])
def test_html_is_balanced_has_no_script_and_nothing_from_outside(which: str, request: pytest.FixtureRequest) -> None:
    page = content(request.getfixturevalue(which), Format.HTML).decode("utf-8")
    tags = Tags()
    tags.feed(page)
    assert not tags.open
    assert "script" not in tags.seen
    assert {"h1", "h2", "table", "th", "svg", "desc"} <= tags.seen


def test_nothing_in_a_name_is_read_as_markup(nasty: Report) -> None:
    wanted = plain(NASTY)
    document = Document(io.BytesIO(content(nasty, Format.DOCX)))
    assert wanted in plain("".join(p.text for p in document.paragraphs))
    odt = load(io.BytesIO(content(nasty, Format.ODT)))
    assert wanted in plain("".join(extractText(p) for p in odt.getElementsByType(P)))
    pdf = PdfReader(io.BytesIO(content(nasty, Format.PDF)))
    assert wanted in plain("".join(page.extract_text() for page in pdf.pages))
    latex = content(nasty, Format.LATEX).decode("utf-8")
    assert r"\input" not in latex.replace(r"\textbackslash{}input", "").replace(r"\usepackage[utf8]{inputenc}", "")
    assert "$a" not in latex.replace(r"\$a", "")
    markdown = content(nasty, Format.MARKDOWN).decode("utf-8")
    assert "<b>" not in markdown
    assert "[y](u)" not in markdown
    page = content(nasty, Format.HTML).decode("utf-8")
    assert "<b>x</b>" not in page


@pytest.mark.parametrize("kind", list(Format))
def test_the_same_study_gives_the_same_bytes(demo: Study, kind: Format) -> None:
    one, other = (ReportFile(Path(f"r{kind.value}")).contents(build_report(evaluate(demo))) for _ in range(2))
    assert one == other


def test_what_cannot_be_written_is_refused_before_anything_is_computed(
    monkeypatch: pytest.MonkeyPatch, tmp_path: Path, demo: Study, capsys: pytest.CaptureFixture[str]
) -> None:
    with pytest.raises(FileError, match=r"r\.doc: a report is written as \.html, \.docx, \.odt, \.pdf, \.tex or \.md"):
        ReportFile(Path("r.doc"))
    import yellow_slope.report.formats as formats

    monkeypatch.setattr(formats, "find_spec", lambda name: None if name == "reportlab" else object())
    with pytest.raises(FileError, match=r"what writes \.pdf is not installed; there are \.html, \.docx, \.odt"):
        ReportFile(Path("r.pdf"))
    study = tmp_path / "s.yslope"
    write_study(demo, study)
    assert main(["report", str(study), "--to", str(tmp_path / "a.html"), "--to", str(tmp_path / "b.xyz")]) != 0
    assert "a report is written as" in capsys.readouterr().err
    assert not (tmp_path / "a.html").exists()


def test_a_command_writes_several_at_once_of_a_ready_set(demo: Study, tmp_path: Path) -> None:
    study = tmp_path / "s.yslope"
    write_study(demo, study)
    targets = [tmp_path / name for name in ("r.docx", "r.md", "r.html")]
    told = [word for path in targets for word in ("--to", str(path))]
    assert main(["report", str(study), *told, "--parts", "paper"]) == 0
    text = targets[1].read_text(encoding="utf-8")
    assert "## Findings" in text
    assert "## How to repeat it" not in text
    assert (tmp_path / "r-figure-1.svg").exists()
    root = ElementTree.fromstring((tmp_path / "r-figure-1.svg").read_bytes())
    assert root.tag.endswith("svg")


# ---- parts


def titles(study: Study) -> list[str]:
    return [section.title for section in build_report(evaluate(study)).sections]


def test_parts_are_switched_ordered_and_commented(demo: Study) -> None:
    usual = titles(demo)
    assert usual[:3] == ["Findings", "", "Descriptives and correlations"]
    after = usual[usual.index("Appendix") :]
    assert after[:2] == ["Appendix", "Exclusions"], "the sample is told with the findings"
    assert usual[-3:] == ["Methods", "Sources", "How to repeat it"]
    assert not any("in words" in title for title in usual)
    study = switch_part(switch_part(demo, PartKind.WORDS, True), PartKind.FINDINGS, False)
    study = move_part(study, PartKind.REPEAT, -99)
    assert titles(study)[0] == "How to repeat it"
    assert any("in words" in title for title in titles(study))
    study = comment_part(study, PartKind.SAMPLE, "All of *them* were **beginners**.\n\nTruly.", "That is all.")
    section = next(s for s in build_report(evaluate(study)).sections if s.title == "Sample")
    assert [str(p) for p in section.paragraphs[:2]] == ["All of them were beginners.", "Truly."]
    assert [(r.text, r.italic, r.bold) for r in section.paragraphs[0].text.runs][1::2] == [
        ("them", True, False),
        ("beginners", False, True),
    ]
    assert [str(p) for p in section.after] == ["That is all."]
    again = unpacked(packed(set_assigned(study, "coaching", True)), "x")
    assert again.report == set_assigned(study, "coaching", True).report
    for ready in ReadySet:
        chosen = choose_set(study, ready)
        assert chosen.report.ready is ready
        assert titles(chosen)


def test_comments_that_cannot_be_are_refused(demo: Study) -> None:
    from yellow_slope.core.errors import StudyError

    with pytest.raises(StudyError, match="at most 4000"):
        comment_part(demo, PartKind.SAMPLE, "x" * 4001, "")
    with pytest.raises(StudyError, match="control characters"):
        comment_part(demo, PartKind.SAMPLE, "", "a\x07")


def test_figures_of_ones_own_take_the_place_of_those_of_the_report(demo: Study) -> None:
    plain_report = build_report(evaluate(demo))
    probe = demo.probes[0]
    study = add_figure(demo, Figure("mine", ShowsProbe.of(probe), heading="Practice and worry"))
    study = add_figure(study, Figure("groups", ShowsGroup("coaching")))
    report = build_report(evaluate(study))
    count = [sum(isinstance(b, Pictured) for b in blocks_of(r)) for r in (plain_report, report)]
    assert count[1] == count[0] + 1
    pictures = [b.picture for b in blocks_of(report) if isinstance(b, Pictured)]
    assert pictures[0].title == "Practice and worry"
    assert [p.own for p in pictures if p.own is not None] == [0, 1]
    assert report_contents([ReportFile(Path("r.html"))], report)


@pytest.mark.parametrize("kind", [kind for kind in Format if kind is not Format.LATEX])
def test_a_rule_of_thousands_of_levels_is_printed_whole(kind: Format) -> None:
    """A row that no page has room for goes on on the next; so does a paragraph, a note and a heading."""
    rule = "g is " + " or ".join(f"level-{i}." for i in range(1200))
    table = Table(rule, ("Rule", "Cases", rule), ((Cell(rule), Cell("17"), Cell(rule)),), rule, texts=1)
    made = content(Report("A report", (Section("Cases", (said(rule),), (table,)),)), kind)
    text = {
        Format.HTML: lambda: made.decode(),
        Format.MARKDOWN: lambda: made.decode(),
        Format.PDF: lambda: "".join(page.extract_text() for page in PdfReader(io.BytesIO(made)).pages),
        Format.DOCX: lambda: zipfile.ZipFile(io.BytesIO(made)).read("word/document.xml").decode(),
        Format.ODT: lambda: zipfile.ZipFile(io.BytesIO(made)).read("content.xml").decode(),
    }[kind]()
    counts = {plain(text).count(f"level-{i}.") for i in (0, 1, 601, 1198, 1199)}
    assert min(counts) >= 5
    assert len(counts) == 1
