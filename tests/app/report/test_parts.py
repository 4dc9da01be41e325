"""The parts of the report beside its pages: switched, moved and commented by mouse and keys; pages follow."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QListWidgetItem

from tests.support.windowdriver import Hands
from yellow_slope.core.study.report import PartKind, ReadySet


def item(hands: Hands, part: PartKind) -> QListWidgetItem:
    found = hands.place.report.parts.list
    items = (found.item(i) for i in range(found.count()))
    return next(i for i in items if i is not None and i.text() == part.value)


def pages(hands: Hands) -> str:
    hands.settle()
    return hands.place.report.page.toPlainText()


def order(hands: Hands) -> list[PartKind]:
    study = hands.place.session.study
    return [part.kind for part in study.report.whole().parts]


def test_parts_are_switched_and_the_pages_follow(demo_hands: Hands) -> None:
    hands = demo_hands
    hands.press("Alt+6")
    assert "Findings" in pages(hands)
    assert "The coefficients of step 3 in words" not in pages(hands)
    parts = hands.place.report.parts
    assert parts.sets.text().startswith("the usual parts")
    parts.list.setCurrentItem(item(hands, PartKind.WORDS))
    parts.list.setFocus()
    hands.press("Space")
    assert "The coefficients of step 3 in words" in pages(hands)
    item(hands, PartKind.FINDINGS).setCheckState(Qt.CheckState.Unchecked)
    assert "Findings" not in pages(hands)
    hands.press("Ctrl+Z")
    assert "Findings" in pages(hands)
    assert item(hands, PartKind.FINDINGS).checkState() == Qt.CheckState.Checked
    parts.sets.choose(ReadySet.PAPER)
    assert "Methods" not in pages(hands)
    assert parts.sets.text().startswith("paper")


def test_parts_are_moved_by_keys_and_shown_by_enter(demo_hands: Hands) -> None:
    hands = demo_hands
    hands.press("Alt+6")
    parts = hands.place.report.parts
    parts.list.setCurrentItem(item(hands, PartKind.EQUATION))
    parts.list.setFocus()
    at = order(hands).index(PartKind.EQUATION)
    hands.press("Alt+Up")
    assert order(hands).index(PartKind.EQUATION) == at - 1
    assert parts.part() is PartKind.EQUATION
    hands.press("Alt+Down")
    assert order(hands).index(PartKind.EQUATION) == at
    parts.list.setFocus()
    bar = hands.place.report.page.verticalScrollBar()
    assert bar is not None
    hands.press("Enter")
    assert bar.value() > 0
    moved = parts.list.takeItem(at)
    assert moved is not None
    parts._filling = True
    parts.list.insertItem(0, moved)
    parts._filling = False
    parts._dragged()
    hands.settle()
    assert order(hands)[0] is PartKind.EQUATION


def test_words_of_ones_own_stand_above_and_below(demo_hands: Hands) -> None:
    hands = demo_hands
    hands.press("Alt+6")
    parts = hands.place.report.parts
    parts.list.setCurrentItem(item(hands, PartKind.SAMPLE))
    hands.place.dialogs.words = lambda *asked: "All of them were *beginners*."  # type: ignore[method-assign]
    hands.clicks(parts.above)
    hands.place.dialogs.words = lambda *asked: "So much for that."  # type: ignore[method-assign]
    hands.clicks(parts.below)
    text = pages(hands)
    assert text.index("All of them were beginners.") < text.index("So much for that.") < text.index("The variables")
    assert parts.said.text() == "above: All of them were *beginners*.\nbelow: So much for that."


def test_several_reports_are_saved_on_one_line_all_or_none(demo_hands: Hands, tmp_path: Path) -> None:
    hands = demo_hands
    hands.press("Alt+6")
    names = [tmp_path / name for name in ("a.html", "a.docx", "a.pdf")]
    hands.place.exports.write_reports(", ".join(map(str, names)))
    hands.settle()
    assert all(path.exists() for path in names)
    assert hands.place.session.message.startswith("Saved: ")
    hands.place.exports.write_reports(f"{tmp_path / 'b.html'}, {tmp_path / 'b.doc'}")
    hands.settle()
    assert "a report is written as" in hands.place.session.message
    assert not (tmp_path / "b.html").exists()


def test_the_pages_keep_their_place_while_the_model_changes(demo_hands: Hands) -> None:
    hands = demo_hands
    hands.press("Alt+6")
    pages(hands)
    bar = hands.place.report.page.verticalScrollBar()
    assert bar is not None
    bar.setValue(400)
    from yellow_slope.core.study.edits.samples import set_aside

    hands.place.session.edit("aside", lambda s: set_aside(s, [0], "boots"))
    pages(hands)
    assert bar.value() == 400
