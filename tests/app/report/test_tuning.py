"""A figure is made of what is seen, tuned on the figure with mouse and keys, and stays when the model changes."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from PyQt6.QtCore import QPoint, QPointF, QRectF, Qt
from PyQt6.QtWidgets import QApplication, QLineEdit

from tests.support.heartbeat import process_events
from tests.support.qtest import QTest
from tests.support.windowdriver import Hands
from yellow_slope.app.report.canvas import FigureCanvas
from yellow_slope.app.report.partstrip import PartStrip
from yellow_slope.app.state.desk import Waypoint
from yellow_slope.app.widgets.picker import Picker
from yellow_slope.core.study.checks import Check
from yellow_slope.core.study.edits.blocks import take_out
from yellow_slope.core.study.figures import (
    PAPER,
    PAPER_GREY,
    AxisKey,
    Figure,
    FigureSize,
    Hue,
    LineKey,
    LineOf,
    Pane,
    Pattern,
    ProbeShown,
    Role,
    ShowsCheck,
    ShowsGroup,
    ShowsProbe,
    ShowsSteps,
    TextKey,
)
from yellow_slope.core.study.terms import Term
from yellow_slope.plots.marks import Text
from yellow_slope.plots.parts import PartRef, Thing


def figure_of(hands: Hands) -> Figure:
    """The figure that is tuned."""
    figure = hands.place.report.tuner.figure
    assert figure is not None
    return figure


def canvas(hands: Hands) -> FigureCanvas:
    return hands.place.report.tuner.canvas


def strip(hands: Hands) -> PartStrip:
    return hands.place.report.tuner.strip


def where(hands: Hands, part: PartRef) -> QPoint:
    """The middle of a part on the canvas."""
    box = canvas(hands).box_of(part)
    assert box is not None, part
    return box.center().toPoint()


def field(hands: Hands, name: str) -> QLineEdit:
    return next(f for f in strip(hands).findChildren(QLineEdit) if f.accessibleName() == name)


def picker(hands: Hands, name: str) -> Picker[object]:
    return next(p for p in strip(hands).findChildren(Picker) if p.accessibleName() == name)


@pytest.fixture
def tuning(demo_hands: Hands) -> Hands:
    """The demo with a figure of practice by coaching."""
    hands = demo_hands
    hands.press("Alt+5")
    study = hands.place.session.study
    probe = next(p for p in study.probes if p.moderator == "coaching")
    from yellow_slope.core.study.edits.probes import put_probe

    hands.place.session.edit("a probe", lambda s: put_probe(s, probe))
    hands.settle()
    hands.press("Ctrl+Shift+G")
    return hands


LEVEL = LineKey(LineOf.LEVEL, "coaching", "3")


def test_a_figure_is_made_of_what_is_seen_at_each_waypoint(demo_hands: Hands) -> None:
    hands = demo_hands
    wanted = {
        "Alt+5": ShowsProbe("practice", "worry"),
        "Alt+4": ShowsCheck(Check.STAND, step="b3"),
        "Alt+3": ShowsSteps(),
    }
    for keys, shows in wanted.items():
        hands.press(keys)
        hands.press("Ctrl+Shift+G")
        assert figure_of(hands).shows == shows
        assert canvas(hands).drawn is not None
        assert hands.place.session.desk.waypoint is Waypoint.REPORT
    hands.press("Alt+2")
    hands.place.session.look(variable="coaching")
    hands.settle()
    hands.press("Ctrl+Shift+G")
    assert figure_of(hands).shows == ShowsGroup("coaching")
    study = hands.place.session.study
    assert [f.name for f in study.figures] == ["practice by worry", "rivals", "coefficients", "means by coaching"]
    hands.press("Ctrl+Z")
    assert hands.place.session.desk.figure is None
    assert len(hands.place.session.study.figures) == 3


def test_words_are_typed_where_they_stand_and_taken_back(tuning: Hands) -> None:
    hands = tuning
    title = TextKey(Role.X_TITLE, Pane.LINES)
    hands.clicks(canvas(hands), where(hands, title))
    assert hands.place.session.desk.part == title
    assert strip(hands).isVisible()
    hands.press("Enter")
    assert field(hands, "Words of this text").hasFocus()
    hands.focus().selectAll()  # type: ignore[attr-defined]
    hands.types("Practice (hours a week)")
    assert figure_of(hands).text(title).words == "Practice (hours a week)"
    page = canvas(hands).drawn.page  # type: ignore[union-attr]
    assert "Practice (hours a week)" in {text.text for text in page.texts}
    hands.press("Escape")
    assert canvas(hands).hasFocus()
    hands.press("Ctrl+Z")
    assert figure_of(hands).text(title).words is None


def test_tab_goes_from_part_to_part_and_esc_back_to_the_report(tuning: Hands) -> None:
    hands = tuning
    canvas(hands).setFocus()
    located = hands.place.session.figured.parts.located()  # type: ignore[union-attr]
    for one in located:
        hands.press("Tab")
        assert hands.place.session.desk.part == one.part
        assert strip(hands).isVisible()
        assert strip(hands).first is not None
        assert strip(hands).geometry().right() <= hands.place.report.tuner.sheet.width()
    hands.press("Tab")
    assert hands.place.session.desk.part is None
    canvas(hands).setFocus()
    hands.press("Escape")
    assert hands.place.session.desk.figure is None
    assert hands.place.report.page.isVisible()


def test_a_name_is_dragged_moved_by_keys_and_put_back(tuning: Hands) -> None:
    hands = tuning
    name = TextKey(Role.LINE, Pane.LINES, LEVEL)
    at = where(hands, name)
    c = canvas(hands)
    QTest.mousePress(c, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, at)
    for step in range(1, 8):
        QTest.mouseMove(c, at + QPoint(-3 * step, 4 * step))
    QTest.mouseRelease(c, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, at + QPoint(-21, 28))
    hands.settle()
    shift = figure_of(hands).text(name).shift
    assert shift is not None
    assert shift == pytest.approx((-21 / c.zoom, 28 / c.zoom), abs=0.02)
    c.setFocus()
    hands.press("Right")
    hands.press("Down")
    assert figure_of(hands).text(name).shift == pytest.approx((shift[0] + 1, shift[1] + 1))
    QTest.mouseDClick(c, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, where(hands, name))
    hands.settle()
    assert figure_of(hands).text(name).shift is None
    hands.press("Ctrl+Z")
    assert figure_of(hands).text(name).shift is not None


def test_a_line_gets_another_hue_pattern_and_name(tuning: Hands) -> None:
    hands = tuning
    hands.place.report.tuner.parts.choose(LEVEL)
    hands.settle()
    picker(hands, "Hue").choose(Hue.INK)
    hands.settle()
    picker(hands, "Pattern").choose(Pattern.DOTTED)
    hands.settle()
    said = figure_of(hands).line(LEVEL)
    assert (said.hue, said.pattern) == (Hue.INK, Pattern.DOTTED)
    name = field(hands, "Name of this line")
    name.setFocus()
    name.selectAll()
    hands.types("with a coach")
    assert {"with a coach"} <= {t.text for t in canvas(hands).drawn.page.texts}  # type: ignore[union-attr]
    study = hands.place.session.study
    assert study.variable("coaching").level("3").label == "one-to-one"
    name = field(hands, "Name of this line")
    name.setFocus()
    QTest.keyClick(name, Qt.Key.Key_Return, Qt.KeyboardModifier.ControlModifier)
    hands.settle()
    assert hands.place.session.study.variable("coaching").level("3").label == "with a coach"


def test_axes_take_numbers_and_refuse_words(tuning: Hands) -> None:
    hands = tuning
    axis = AxisKey(Pane.LINES, False)
    hands.place.report.tuner.parts.choose(axis)
    hands.settle()
    end = field(hands, "Where the axis ends")
    end.setFocus()
    hands.types("6")
    assert figure_of(hands).axis(axis).high == 6.0
    assert "beyond the ends of the axis" in hands.place.report.tuner.caption.remarks.text()
    assert re.search(r"\(\d+ cases beyond its axis\)", hands.place.report.tuner.names.text_of("practice by coaching"))
    end = field(hands, "Where the axis ends")
    end.setFocus()
    end.selectAll()
    before = figure_of(hands)
    hands.types("six")
    assert hands.place.session.message == "“six” is not a number; nothing was changed."
    end = field(hands, "Where the axis ends")
    end.selectAll()
    hands.types("-90")
    begin = field(hands, "Where the axis begins")
    begin.setFocus()
    hands.types("12")
    assert "cannot go from 12 to" in hands.place.session.message
    assert figure_of(hands).axis(axis).low is None
    assert before.axis(axis).high == 6.0


def test_the_look_the_size_and_the_letters_of_the_whole_figure(tuning: Hands) -> None:
    hands = tuning
    tuner = hands.place.report.tuner
    grey = next(b for b in tuner.gallery.buttons if b.look_of == PAPER_GREY)
    hands.clicks(grey)
    assert figure_of(hands).look == PAPER_GREY
    assert grey.isChecked()
    tuner.sizes.choose(FigureSize(8.5))
    hands.settle()
    assert canvas(hands).drawn.page.width == pytest.approx(8.5 / 2.54 * 72)  # type: ignore[union-attr]
    tuner.letters.choose(7.0)
    hands.settle()
    assert "at 8.5 cm width" in tuner.caption.print_remark.text()
    tuner.letters.choose(5.5)
    hands.settle()
    assert tuner.caption.print_remark.text().startswith("Too fine for print")
    tuner.views.choose(ProbeShown.LINES)
    hands.settle()
    assert figure_of(hands).shows == ShowsProbe("practice", "coaching", view=ProbeShown.LINES)
    hands.place.dialogs.text = lambda *asked: "1 cm"  # type: ignore[method-assign]
    from yellow_slope.app.widgets.picker import Further

    tuner.sizes.choose(Further.ASK)
    assert hands.place.session.message == "A figure is 3 to 120 cm wide, not 1."
    assert figure_of(hands).size == FigureSize(8.5)
    tuner.zoom.choose(True)
    hands.settle()
    assert canvas(hands).zoom == pytest.approx(tuner.logicalDpiX() / 72)


def test_parts_are_tuned_by_their_strips(tuning: Hands) -> None:
    hands = tuning
    from yellow_slope.core.study.figures import CasesAs, GroundAs, LegendAs

    for part, name, value in (
        (Thing.CASES, "Cases", CasesAs.NONE),
        (Thing.BANDS, "Bands of intervals", 0.3),
        (Thing.GROUND, "Ground", GroundAs.CLEAR),
        (Thing.GROUND, "Names of lines", LegendAs.BOX),
    ):
        hands.place.report.tuner.parts.choose(part)
        hands.settle()
        picker(hands, name).choose(value)
        hands.settle()
    parts = figure_of(hands).parts
    assert (parts.cases, parts.band, parts.ground, parts.legend) == (CasesAs.NONE, 0.3, GroundAs.CLEAR, LegendAs.BOX)
    at = where(hands, Thing.KEY)
    box = canvas(hands).box_of(Thing.KEY)
    assert box is not None
    corner = box.topLeft().toPoint() + QPoint(2, 2)
    c = canvas(hands)
    QTest.mousePress(c, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, corner)
    QTest.mouseMove(c, corner + QPoint(-20, 30))
    QTest.mouseMove(c, corner + QPoint(-40, 60))
    QTest.mouseRelease(c, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, corner + QPoint(-40, 60))
    hands.settle()
    assert figure_of(hands).parts.box_at is not None
    assert where(hands, Thing.KEY).y() > at.y()


def test_a_note_is_changed_and_its_numbers_stay_live(tuning: Hands) -> None:
    hands = tuning
    block = hands.place.report.tuner.caption
    hands.clicks(block.change)
    text = block.written.toPlainText()
    assert "n = 221." in text
    block.written.setPlainText(text.replace("Predicted control score by", "How control grows with") + " Two slopes.")
    QTest.keyClick(block.written, Qt.Key.Key_Return, Qt.KeyboardModifier.ControlModifier)
    hands.settle()
    assert "How control grows with practice and coaching in step 3" in block.note.text()
    from yellow_slope.core.study.edits.samples import set_aside

    hands.place.session.edit("aside", lambda s: set_aside(s, [0, 1, 2], "boots"))
    hands.settle()
    assert "n = 221." not in block.note.text()
    n = hands.place.session.view.fit.cases.n  # type: ignore[union-attr]
    assert f"n = {n}." in block.note.text()
    assert block.note.text().endswith("Two slopes.")
    hands.clicks(block.blind)
    block.written.setPlainText("Four lines that part.")
    hands.clicks(block.take)
    assert figure_of(hands).alternative == "Four lines that part."
    hands.clicks(block.blind)
    hands.clicks(block.usual)
    assert figure_of(hands).alternative is None


def test_a_figure_stays_when_its_product_goes_and_is_drawn_again_when_it_is_back(tuning: Hands) -> None:
    hands = tuning
    hands.place.report.tuner.letters.choose(11.0)
    hands.settle()
    product = Term(("practice", "coaching"))
    hands.place.session.edit("without", lambda s: take_out(s, [product]))
    hands.settle()
    assert figure_of(hands).letters == 11.0
    assert canvas(hands).drawn is None
    found = hands.place.session.figured
    assert found is not None
    assert "practice" in found.refusal
    assert "It cannot be drawn now" in hands.place.foot.sentence.text()
    canvas(hands).setFocus()
    hands.press("Escape")
    assert "practice by coaching (not drawn now)" in [text for _, text in hands.place.report.figures._choices]
    hands.place.report.figures.choose("practice by coaching")
    hands.settle()
    hands.press("Ctrl+Z")
    assert canvas(hands).drawn is not None
    assert figure_of(hands).letters == 11.0


def test_the_figure_is_copied_as_picture_and_svg_and_saved_with_its_numbers(tuning: Hands, tmp_path: Path) -> None:
    hands = tuning
    hands.press("Ctrl+Shift+Y")
    clipboard = QApplication.clipboard()
    assert clipboard is not None
    carried = clipboard.mimeData()
    assert carried is not None
    assert {"image/png", "image/svg+xml"} <= set(carried.formats())
    assert b"<svg" in carried.data("image/svg+xml").data()
    names = [tmp_path / name for name in ("a.png", "a.svg", "a.pdf", "a.tiff", "a.csv")]
    hands.place.exports.write_figures(f"{' '.join(map(str, names))} 600 dpi 12 pt outlines")
    hands.settle()
    assert all(path.exists() for path in names)
    assert figure_of(hands).letters == 12.0
    assert b"<text" not in names[1].read_bytes()
    hands.place.exports.write_figures(f"{tmp_path / 'b.svg'}")
    hands.settle()
    assert b"<text" in (tmp_path / "b.svg").read_bytes()


def test_the_list_of_figures_and_what_is_done_with_one(tuning: Hands) -> None:
    hands = tuning
    verbs = hands.place.figuring
    hands.place.dialogs.text = lambda *asked: "Coaching pays"  # type: ignore[method-assign]
    verbs.rename()
    hands.settle()
    assert figure_of(hands).name == "Coaching pays"
    verbs.double()
    hands.settle()
    assert figure_of(hands).name == "Coaching pays 2"
    verbs.earlier()
    hands.settle()
    study = hands.place.session.study
    assert [f.name for f in study.figures] == ["Coaching pays 2", "Coaching pays"]
    verbs.earlier()
    assert hands.place.session.message == "It is there already."
    hands.place.dialogs.text = lambda *asked: "mine"  # type: ignore[method-assign]
    verbs.save_look()
    hands.settle()
    assert figure_of(hands).look.name == "mine"
    assert [b.look_of.name for b in hands.place.report.tuner.gallery.buttons][-1] == "mine"
    hands.place.dialogs.text = lambda *asked: PAPER.name  # type: ignore[method-assign]
    verbs.save_look()
    assert "a look of the program" in hands.place.session.message
    verbs.throw_away()
    hands.settle()
    assert hands.place.session.desk.figure is None
    choices = [text for _, text in hands.place.report.figures._choices]
    assert choices == ["Coaching pays", "make a figure of the probe"]
    hands.place.report.figures.choose("Coaching pays")
    hands.settle()
    assert figure_of(hands).name == "Coaching pays"


def test_texts_are_left_out_and_brought_back(tuning: Hands) -> None:
    hands = tuning
    title = TextKey(Role.Y_TITLE, Pane.LINES)
    hands.clicks(canvas(hands), where(hands, title))
    hands.press("Delete")
    page = canvas(hands).drawn.page  # type: ignore[union-attr]
    assert not any(isinstance(m, Text) and m.text.startswith("control score, pred") for m in page.marks)
    hands.place.report.tuner.parts.choose(Thing.GROUND)
    hands.settle()
    back = next(w for w in strip(hands).children() if getattr(w, "text", lambda: "")().startswith("show "))
    hands.clicks(back)  # type: ignore[arg-type]
    assert not figure_of(hands).text(title).hidden


def test_every_control_of_a_strip_has_a_name_and_a_tooltip(tuning: Hands) -> None:
    hands = tuning
    for one in hands.place.session.figured.parts.located():  # type: ignore[union-attr]
        hands.place.session.look(part=one.part)
        process_events()
        hands.settle()
        for widget in strip(hands)._widgets:
            if widget.focusPolicy() is not Qt.FocusPolicy.NoFocus:
                assert widget.accessibleName(), (one.name, widget)
                assert widget.toolTip(), (one.name, widget)


def test_the_strip_covers_neither_its_part_nor_the_title_of_an_axis(tuning: Hands) -> None:
    hands = tuning
    canvas(hands).setFocus()
    located = hands.place.session.figured.parts.located()  # type: ignore[union-attr]
    over = []
    for one in located:
        hands.press("Tab")
        hands.settle()
        shown = QRectF(strip(hands).geometry()).translated(-QPointF(canvas(hands).pos()))
        box = canvas(hands).box_of(one.part)
        titles, _ = canvas(hands).boxes_of_texts(one.part)
        assert box is not None
        is_large = box.height() > canvas(hands).height() / 2
        over += [one.part] if any(shown.intersects(t) for t in [*titles, *([] if is_large else [box])]) else []
    assert not over
