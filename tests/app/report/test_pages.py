"""The pages: what is found on them, where their numbers lead, tables that are copied and saved, words of one's own."""

from __future__ import annotations

import csv
import io
from functools import reduce
from pathlib import Path

import numpy as np
import pytest
from PyQt6.QtCore import QRectF, QUrl
from PyQt6.QtGui import QTextCursor
from PyQt6.QtWidgets import QApplication, QPushButton

from tests.support.windowdriver import Hands
from yellow_slope.app.state.desk import Cell, Desk, Under, Waypoint
from yellow_slope.app.widgets.wordsdialog import WordsDialog
from yellow_slope.core.data.table import Table, number_column
from yellow_slope.core.fit.fitted.evaluate import evaluate
from yellow_slope.core.study.checks import Check
from yellow_slope.core.study.edits.blocks import set_blocks, set_outcome, take_out
from yellow_slope.core.study.edits.report import comment_part, switch_part
from yellow_slope.core.study.report import BesideCorrelation, CoefficientFigure, PartKind
from yellow_slope.core.study.study import Study, new_study
from yellow_slope.core.study.terms import Block, Term
from yellow_slope.core.told.origins import AtCheck, AtModels, AtProbe, AtSample, AtStep, AtVariable, Origin
from yellow_slope.core.words.sentences.livefigures import live_figures, with_figures
from yellow_slope.report.blocks import Heading, Said, Tabled, blocks_of
from yellow_slope.report.parts import build_report

WORRY = Term(("practice", "worry"))


@pytest.fixture
def reading(demo_hands: Hands) -> Hands:
    """The demo's report."""
    demo_hands.press("Alt+6")
    demo_hands.settle()
    return demo_hands


def test_every_heading_and_every_caption_stands_in_a_paragraph_of_its_own(reading: Hands) -> None:
    hands = reading
    document = hands.place.report.page.document()
    assert document is not None
    block, found = document.begin(), dict[str, int]()
    while block.isValid():
        text = block.text().replace("\ufffc", "").strip()
        found[text] = max(found.get(text, 0), block.blockFormat().headingLevel())
        block = block.next()
    study = hands.place.session.study
    for block_ in blocks_of(build_report(evaluate(study))):
        match block_:
            case Heading(text):
                assert found.get(text) == 2, text
            case Said(said):
                assert " ".join(str(said).split()) in found
            case Tabled(_, table):
                assert table.title in found
            case _:
                assert block_.picture.title in found


def test_what_is_looked_at_is_one_click_from_the_report(demo_hands: Hands) -> None:
    hands, window = demo_hands, demo_hands.window
    window.resize(1600, 900)
    window.place.session.look(cell=Cell(2, WORRY), waypoint=Waypoint.BLOCKS)
    hands.settle()
    link = next(link for link in window.place._foot_links() if link.text == "In the report")
    link.run()
    hands.settle()
    assert window.place.session.desk.waypoint is Waypoint.REPORT
    for waypoint in (Waypoint.PROBE, Waypoint.CHECKS, Waypoint.BLOCKS):
        window.place.session.look(waypoint=waypoint)
        hands.settle()
        hands.clicks(window.place.foot.figures)
        assert window.place.session.desk.waypoint is Waypoint.REPORT, waypoint
    assert not [link for link in window.place._foot_links() if link.text == "In the report"]


def lead(hands: Hands, origin: Origin) -> None:
    """Click a number that is made there."""
    number = hands.place.report._written.numbers[origin]
    hands.place.report.page.anchorClicked.emit(QUrl(f"#to-{number}"))
    hands.settle()


def shown_line(hands: Hands) -> str:
    """The line that is marked."""
    (marked,) = hands.place.report.page.extraSelections()
    return str(marked.cursor.selectedText()).strip()


def test_a_number_leads_to_where_it_is_made(reading: Hands) -> None:
    def desk() -> Desk:
        return reading.place.session.desk

    lead(reading, AtStep(2, WORRY))
    assert (desk().waypoint, desk().open_step, desk().cell) == (Waypoint.BLOCKS, 2, Cell(2, WORRY))
    reading.press("Alt+6")
    study = reading.place.session.study
    lead(reading, AtProbe(study.probes[1]))
    assert desk().waypoint is Waypoint.PROBE
    assert reading.place.session.current_probe() == study.probes[1]
    reading.press("Alt+6")
    lead(reading, AtVariable("worry"))
    assert (desk().waypoint, desk().variable) == (Waypoint.PREPARE, "worry")
    reading.press("Alt+6")
    lead(reading, AtCheck(Check.STAND))
    assert (desk().waypoint, desk().check) == (Waypoint.CHECKS, Check.STAND)
    reading.press("Alt+6")
    lead(reading, AtSample())
    assert desk().waypoint is Waypoint.DATA
    reading.place.sources.lead_to(AtModels())
    assert (desk().waypoint, desk().below) == (Waypoint.BLOCKS, Under.MODELS)
    reading.place.sources.lead_to(AtVariable("nobody"))
    reading.place.sources.lead_to(AtStep(99))
    assert desk().waypoint is Waypoint.BLOCKS


def test_what_is_looked_at_is_found_in_the_report(demo_hands: Hands) -> None:
    hands = demo_hands
    hands.place.session.look(waypoint=Waypoint.BLOCKS, cell=Cell(2, WORRY), open_step=2)
    hands.settle()
    hands.press("ctrl+shift+H")
    hands.settle()
    assert hands.place.session.desk.waypoint is Waypoint.REPORT
    assert hands.place.session.desk.sought is None
    assert shown_line(hands) == "practice × worry"
    hands.place.session.look(waypoint=Waypoint.PREPARE, variable="worry")
    hands.settle()
    hands.press("ctrl+shift+H")
    hands.settle()
    assert "worry" in shown_line(hands)
    hands.press("Alt+5")
    hands.press("ctrl+shift+H")
    hands.settle()
    assert hands.place.report.page.extraSelections()
    told = (PartKind.PROBES, PartKind.REGIONS, PartKind.CROSSOVER, PartKind.FINDINGS)
    hands.place.session.edit("parts", lambda s: reduce(lambda now, part: switch_part(now, part, False), told, s))
    hands.settle()
    hands.press("Alt+5")
    hands.press("ctrl+shift+H")
    hands.settle()
    assert hands.place.session.message.startswith("The report does not print that")


def test_a_text_is_found_on_the_pages(reading: Hands) -> None:
    reading.place.build_all()  # as in idle moments: the key is of the bench of Data
    reading.settle()
    reading.press("ctrl+shift+F")
    bar = reading.place.report.found
    assert bar.isVisible()
    reading.types("worry")
    n = reading.place.report.page.find_count
    assert n == reading.place.report.page.toPlainText().lower().count("worry")
    assert bar.said.text() == f"1 of {n} places"
    reading.press("enter")
    assert bar.said.text() == f"2 of {n} places"
    reading.press("shift+enter")
    reading.press("shift+enter")
    assert bar.said.text() == f"{n} of {n} places"
    bar.field.setText("avalanche")
    assert bar.said.text() == "nowhere in the report"
    reading.press("Escape")
    assert not bar.isVisible()
    assert reading.place.report.page.extraSelections() == []


def test_a_table_is_copied_as_a_table_and_as_numbers(reading: Hands) -> None:
    report = reading.place.report
    number = 1 + next(i for i, t in enumerate(report._written.tables) if t.title.startswith("Coefficients"))
    table = report._written.tables[number - 1]
    report.page.anchorClicked.emit(QUrl(f"#copy-{number}"))
    clipboard = QApplication.clipboard()
    assert clipboard is not None
    data = clipboard.mimeData()
    assert data is not None
    assert data.html().count("<tr>") == 1 + len(table.rows)
    assert "practice × worry" in data.html()
    assert data.text().split("\n")[0] == "\t".join(table.head)
    report.page.anchorClicked.emit(QUrl(f"#numbers-{number}"))
    data = clipboard.mimeData()
    assert data is not None
    lines = [line.split("\t") for line in data.text().split("\n")]
    wanted = next(row for row in table.rows if row[0].text == "practice × worry")
    found = next(line for line in lines if line[0] == "practice × worry")
    assert float(found[1]) == wanted[1].numbers[0]
    report.page.anchorClicked.emit(QUrl("#copy-99"))
    report.page.anchorClicked.emit(QUrl("#nonsense"))


def test_a_table_is_saved_with_every_digit(reading: Hands, tmp_path: Path) -> None:
    report = reading.place.report
    reading.place.dialogs.text = lambda *_: f"{tmp_path / 'a.csv'}, {tmp_path / 'a.xlsx'}"  # type: ignore[method-assign]
    report.page.anchorClicked.emit(QUrl("#save-1"))
    reading.settle()
    lines = list(csv.reader(io.StringIO((tmp_path / "a.csv").read_text(encoding="utf-8"))))
    assert lines[0][:3] == ["Variable", "M", "SD"]
    assert (tmp_path / "a.xlsx").stat().st_size > 1000
    reading.place.dialogs.text = lambda *_: f"{tmp_path / 'b.csv'}, {tmp_path / 'b.ods'}"  # type: ignore[method-assign]
    report.page.anchorClicked.emit(QUrl("#save-1"))
    reading.settle()
    assert "a table is written as" in reading.place.session.message
    assert not (tmp_path / "b.csv").exists()


def test_how_tables_are_written_is_chosen_beside_the_pages(reading: Hands) -> None:
    parts = reading.place.report.parts
    parts.decimals.choose(4)
    parts.stars.choose(True)
    parts.beside.choose((CoefficientFigure.VIF, False))
    parts.correlations.choose(BesideCorrelation.INTERVAL)
    parts.assigned.choose(("coaching", True))
    reading.settle()
    study = reading.place.session.study
    chosen = study.report
    assert (chosen.decimals, chosen.stars, chosen.correlations) == (4, True, BesideCorrelation.INTERVAL)
    assert CoefficientFigure.VIF not in chosen.beside
    assert chosen.assigned == ("coaching",)
    text = reading.place.report.page.toPlainText()
    assert "***" in text
    assert "sr²\nVIF" not in text
    assert parts.assigned.text().startswith("assigned: coaching")
    reading.press("Ctrl+Z")
    reading.settle()
    assert reading.place.session.study.report.assigned == ()


def test_words_are_completed_with_figures_while_they_are_typed(reading: Hands) -> None:
    view = reading.place.session.view
    assert view is not None
    names = live_figures(view.evaluation)
    dialog = WordsDialog("Words", "", names, lambda text: with_figures(view.evaluation, text), reading.window)
    dialog.show()
    dialog.text.insertPlainText("The product was {b practice x wo")
    assert dialog.open_name() == "b practice x wo"
    popup = dialog.completer.popup()
    assert popup is not None
    assert popup.isVisible()
    assert dialog.completer.currentCompletion().startswith("b practice x worry")
    dialog.complete(dialog.completer.currentCompletion())
    assert dialog.words() == "The product was {b practice x worry}"
    assert dialog.shown.text() == "Printed: The product was −1.43"
    dialog.text.moveCursor(QTextCursor.MoveOperation.End)
    assert dialog.open_name() is None
    for widget in (dialog.text, dialog.shown, *dialog.findChildren(QPushButton)):
        assert widget.accessibleName()
    dialog.reject()
    dialog.deleteLater()


def test_a_figure_in_words_that_is_gone_is_said_beside_the_parts(reading: Hands) -> None:
    session = reading.place.session
    session.edit("words", lambda s: comment_part(s, PartKind.SAMPLE, "It was {b practice x worry}.", ""))
    reading.settle()
    assert "It was −1.43." in reading.place.report.page.toPlainText()
    parts = reading.place.report.parts
    parts.list.setCurrentRow(list(PartKind).index(PartKind.SAMPLE))
    assert "There is no" not in parts.said.text()
    session.edit("take out", lambda s: take_out(s, [WORRY]))
    reading.settle()
    assert "(there is no “b practice x worry”)" in reading.place.report.page.toPlainText()
    assert "There is no “b practice x worry” any more." in parts.said.text()


def figures_of(hands: Hands) -> list[tuple[QRectF, QRectF]]:
    """Where each figure stands on the pages, and what follows it."""
    document = hands.place.report.page.document()
    assert document is not None
    layout = document.documentLayout()
    assert layout is not None
    found, block = [], document.begin()
    while block.isValid():
        if "\ufffc" in block.text():
            found.append((layout.blockBoundingRect(block), layout.blockBoundingRect(block.next())))
        block = block.next()
    return found


def test_a_figure_is_never_wider_than_the_page_and_leaves_no_empty_space(reading: Hands) -> None:
    page = reading.place.report.page
    sizes = []
    for width, height in ((1280, 800), (1000, 700), (1000, 700), (1280, 800)):
        reading.window.resize(width, height)
        reading.settle()
        assert page.document().size().width() <= page.viewport().width() + 1  # type: ignore[union-attr]
        for figure, note in figures_of(reading):
            assert figure.right() <= page.viewport().width()  # type: ignore[union-attr]
            assert figure.height() > 100
            assert note.top() - figure.bottom() < 30
        sizes.append([figure.height() for figure, _ in figures_of(reading)])
    assert sizes[0] == sizes[3] != sizes[1] == sizes[2]
    assert len(sizes[0]) >= 2
    narrow = Hands(1000, 700)  # written for the size that the window has
    narrow.place.fileactions.open_demo()
    narrow.settle()
    narrow.place.go(Waypoint.REPORT)
    narrow.settle()
    assert [figure.height() for figure, _ in figures_of(narrow)] == sizes[1]
    narrow.close()


def many(count: int) -> Study:
    """A model of very many numbers."""
    rng = np.random.default_rng(count)
    columns = [number_column(f"x{k:03}", rng.normal(size=3 * count)) for k in range(count)]
    study = set_outcome(new_study(Table((*columns, number_column("y", rng.normal(size=3 * count)))), "Many"), "y")
    return set_blocks(study, [Block(tuple(Term((c.name,)) for c in columns))])


@pytest.mark.parametrize(
    ("count", "left_out"),
    [(70, ""), (310, "The first 300 of 311 rows are shown on these pages; the saved report has all.")],
)
def test_a_long_table_is_taken_in_in_pieces(hands: Hands, count: int, left_out: str) -> None:
    hands.place.session.open(many(count))
    hands.settle()
    hands.place.go(Waypoint.REPORT)
    hands.settle()
    text = hands.place.report.page.toPlainText()
    assert f"x{min(count, 300) - 1:03}" in text
    assert "How to repeat it" in text
    assert (left_out in text) if left_out else "stand on these pages" not in text
