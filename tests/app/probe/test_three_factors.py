"""Three factors, maps, smallest effects, units, kept probes: in the window, as hands meet them."""

from __future__ import annotations

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, Qt

from tests.support.qtest import QTest
from tests.support.windowdriver import Hands
from tests.support.worlds import noise_world, study_of
from yellow_slope.app.probe.choices import Beside
from yellow_slope.app.probe.sentence import Ask, Kept, Side
from yellow_slope.app.state.desk import Cell, Overlay
from yellow_slope.core.probe.seen import Across, InPanel
from yellow_slope.core.study.edits.blocks import take_out
from yellow_slope.core.study.edits.models import set_errors
from yellow_slope.core.study.edits.probes import put_probe
from yellow_slope.core.study.figures import Pane, ProbeShown
from yellow_slope.core.study.probe import Compared, EffectUnit, PickPoints, PickRule, Probe, Second, Smallest
from yellow_slope.core.study.standarderrors import HC
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Term
from yellow_slope.core.words.spelling.numerals import place
from yellow_slope.plots.marks import OfLine, OfPanel, OfSize, Page, Text

LEFT, NOTHING = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier


def opened(hands: Hands, study: Study) -> Hands:
    hands.place.session.open(study)
    hands.settle()
    hands.press("Alt+5")
    hands.settle()
    return hands


@pytest.fixture
def three(hands: Hands) -> Hands:
    return opened(hands, study_of(noise_world(51), "y", "x, w, z, g; x*w, x*g, w*g; x*w*g"))


def probe(hands: Hands) -> Probe:
    found = hands.place.session.current_probe()
    assert found is not None
    return found


def page(hands: Hands) -> Page:
    plots = hands.place.probe.plots
    assert plots.drawn is not None
    assert plots.is_current
    return plots.drawn.page


def turn(hands: Hands, to: Probe) -> None:
    hands.place.session.edit("turn", lambda s: put_probe(s, to))
    hands.settle()


def middle(hands: Hands, about: object) -> QPoint:
    """Where a text of the plots stands that is about something."""
    text = next(m for m in page(hands).marks if isinstance(m, Text) and m.about == about)
    return QPoint(*(round(v) for v in text.box.middle))


def test_the_highest_product_is_asked_first_and_opens_as_what_it_is(three: Hands) -> None:
    assert (probe(three).focal, probe(three).moderator, probe(three).second) == ("x", "w", Second("g"))
    assert len(page(three).frames_of(Pane.LINES)) == 3
    assert page(three).frame(Pane.STRIPS) is not None
    chip = three.place.probe.sentence.chip_of("g")
    assert chip is not None
    assert chip.picker.text().startswith("each level")
    heads = [t.text for t in page(three).texts if isinstance(t.about, OfPanel)]
    assert {"low", "mid", "top"} <= set(heads)


def test_the_one_product_of_the_smallest_p_comes_first(hands: Hands) -> None:
    world = noise_world(51)
    world["y"] = world["y"] + 5 * world["x"] * world["z"]
    study = study_of(world, "y", "x, w, z, g; x*z, x*w, w*z")
    opened(hands, study)
    assert (probe(hands).focal, probe(hands).moderator) == ("x", "z")


def test_everything_that_meets_it_has_its_place_in_the_sentence(three: Hands) -> None:
    turn(three, Probe("x", "w"))
    sentence = three.place.probe.sentence
    assert sentence.chip_of("g") is not None
    assert sentence.chip_of("z") is None  # it is in no product
    chip = sentence.chip_of("g")
    assert chip is not None
    assert chip.picker.text().startswith("shares")
    chip.picker.choose(Side.LEVELS)
    three.settle()
    assert probe(three).second == Second("g")


def test_a_number_is_held_where_somebody_types_it(hands: Hands) -> None:
    bench = opened(hands, study_of(noise_world(51), "y", "x, w, z; x*w, x*z")).window.place.probe
    turn(hands, Probe("x", "w"))
    chip = bench.sentence.chip_of("z")
    assert chip is not None
    chip.picker.choose(Ask.PLACE)
    hands.settle()
    assert dict(probe(hands).held).keys() == {"z"}
    assert chip.field.isVisible()
    chip.field.setText("0.5")
    chip.field.returnPressed.emit()
    hands.settle()
    assert probe(hands).held == (("z", 0.5),)
    assert "at z 0.5" in hands.sentence()
    chip.field.setText("much")
    chip.field.returnPressed.emit()
    assert "“much” is not a number" in hands.place.status.message.text()
    chip.picker.choose(None)
    hands.settle()
    assert probe(hands).held == ()
    chip.picker.choose(Side.PERCENTILES)
    hands.settle()
    assert probe(hands).second == Second("z", PickPoints(PickRule.PERCENTILES))


def test_a_click_on_a_strip_or_a_head_opens_that_panel(three: Hands) -> None:
    session, plots = three.place.session, three.place.probe.plots
    for k in (2, 1):
        QTest.mouseClick(plots, LEFT, NOTHING, middle(three, OfPanel(k)))
        three.settle()
        assert session.sight().seen.panel == k  # type: ignore[union-attr]
    three.place.probe.next_panel()
    assert session.sight().seen.panel == 2  # type: ignore[union-attr]
    three.place.probe.next_panel()
    assert session.sight().seen.panel == 0  # type: ignore[union-attr]


def test_the_table_has_the_other_panels_and_the_differences_of_both(three: Hands) -> None:
    table, session = three.place.probe.table, three.place.session
    rows = table.rows()
    other = next(i for i, row in enumerate(rows) if row.spot == InPanel(2))
    sight = session.sight()
    assert sight is not None
    curve = sight.probed.panels[2].foci[0].curve
    assert curve is not None
    assert rows[other].effect == curve.at(sight.handle)
    across = next(i for i, row in enumerate(rows) if row.spot == Across(0))
    table.choose(across)
    three.settle()
    assert "Adjusted for 15 differences by Holm" in three.place.foot.more.text()
    assert rows[across].effect == sight.probed.across[0][0].effect
    table.choose(other)
    three.settle()
    assert session.sight().seen.panel == 2  # type: ignore[union-attr]


def test_two_number_moderators_have_a_map_with_a_handle(hands: Hands) -> None:
    study = study_of(noise_world(51), "y", "x, w, z; x*w, x*z, w*z; x*w*z")
    opened(hands, study)
    assert probe(hands).second == Second("z")
    window = hands.window
    window.place.probe.choices.view.choose(ProbeShown.MAP)
    hands.settle()
    frame = page(hands).frame(Pane.MAP)
    assert frame is not None
    at = QPoint(round(frame.area.left + 0.7 * frame.area.width), round(frame.area.top + 0.2 * frame.area.height))
    QTest.mouseClick(window.place.probe.plots, LEFT, NOTHING, at)
    hands.settle()
    sight = window.place.session.sight()
    assert sight is not None
    assert sight.second is not None
    assert sight.second == pytest.approx(frame.value_y(at.y()))
    assert sight.handle == pytest.approx(frame.value_x(at.x()))
    fit, step = sight.probed.fit, sight.probed.step
    b = fit.steps[step].inference.solution
    w, z = (fit.design.number(n) for n in ("w", "z"))
    a, c = float(w.treated(np.array([sight.handle]))[0]), float(z.treated(np.array([sight.second]))[0])
    by_hand = b[1] + b[4] * a + b[5] * c + b[7] * a * c
    first = window.place.probe.table.rows()[0]
    assert first.effect.effect == pytest.approx(float(by_hand), rel=1e-9)
    assert "handle, at z" in first.name
    told = " ".join(window.place.probe.card.notes())
    panel = sight.panel.second
    assert f"at z {place(panel.value, z.sd)}:" in told, "tests are those of the panel"  # type: ignore[union-attr]
    assert f"at z {place(sight.second, z.sd)}:" not in told
    assert "at z" in hands.sentence()
    window.place.probe.plots.up()
    assert window.place.session.sight().second > sight.second  # type: ignore[union-attr, operator]
    window.place.session.see(panel=1)
    assert window.place.session.sight().second is None  # type: ignore[union-attr]


def test_a_smallest_effect_is_typed_and_told(hands: Hands) -> None:
    bench = opened(hands, study_of(noise_world(51), "y", "x, w; x*w")).window.place.probe
    turn(hands, Probe("x", "w"))
    for text, wanted in (("0.4", Smallest(0.4)), ("0.2 SD", Smallest(0.2, EffectUnit.SD)), ("", None)):
        bench.choices.smallest.setText(text)
        bench.choices.smallest.returnPressed.emit()
        hands.settle()
        assert probe(hands).smallest == wanted
        told = [m for m in page(hands).marks if isinstance(m.about, OfSize)]
        assert bool(told) is (wanted is not None)
        assert any("two one-sided tests" in note for note in bench.card.notes()) is (wanted is not None)
    for text in ("-1", "0", "small", "1 mile", "nan"):
        bench.choices.smallest.setText(text)
        bench.choices.smallest.returnPressed.emit()
        assert f"“{text}” is not a smallest effect" in hands.place.status.message.text()
        assert probe(hands).smallest is None


def test_the_unit_of_effects_is_said_on_axis_and_in_the_sentence(hands: Hands) -> None:
    bench = opened(hands, study_of(noise_world(51), "y", "x, w; x*w")).window.place.probe
    turn(hands, Probe("x", "w"))
    before = bench.table.rows()[0].effect
    bench.choices.unit.choose(EffectUnit.SD)
    hands.settle()
    sight = hands.place.session.sight()
    assert sight is not None
    x, y = np.asarray(sight.probed.fit.values["x"]), sight.probed.fit.y
    after = bench.table.rows()[0].effect
    assert after.effect == pytest.approx(before.effect * x.std(ddof=1) / y.std(ddof=1), rel=1e-12)
    assert (after.t, after.p) == pytest.approx((before.t, before.p), rel=1e-9)
    assert any("(SD per SD)" in text.text for text in page(hands).texts)
    assert "per SD more of x" in hands.sentence()
    assert " SD " in hands.sentence()


def test_probes_are_kept_compared_and_dropped(three: Hands) -> None:
    bench, session = three.place.probe, three.place.session
    bench.keep_this()
    assert bench.keeper.isVisible()
    bench.keeper.field.setText("all three")
    bench.keeper.field.returnPressed.emit()
    three.settle()
    assert probe(three).name == "all three"
    bench._choose_asked(Term(("x", "g")))
    three.settle()
    assert probe(three).name == ""
    assert session.is_open
    assert "all three" in {p.name for p in session.study.probes}
    bench._choose_view(Beside("all three"))
    three.settle()
    assert bench.plots.is_twice
    assert "all three" in {t.text for t in page(three).texts}
    bench._choose_asked(Kept("all three"))
    three.settle()
    assert probe(three).second == Second("g")
    assert not bench.plots.is_twice
    bench.keep_this()
    bench.keeper.field.setText(" ")
    bench.keeper.field.returnPressed.emit()
    three.settle()
    assert "A kept probe needs a name" in three.place.status.message.text()
    bench.keep_no_longer()
    three.settle()
    assert "all three" not in {p.name for p in session.study.probes}


@pytest.mark.parametrize("overlay", [Overlay.LEFT_OUT, Overlay.RESAMPLED, Overlay.THIRDS])
def test_what_is_laid_over_is_drawn_and_said(hands: Hands, overlay: Overlay) -> None:
    world = noise_world(51)
    world["y"] = world["y"] + 1.5 * world["x"] * (world["w"] - world["w"].mean())
    study = set_errors(study_of(world, "y", "x, w; x*w"), HC(3))
    bench = opened(hands, study).window.place.probe
    bench.choices.view.choose(overlay)
    hands.settle()
    said = {
        Overlay.LEFT_OUT: "Without any one case",
        Overlay.RESAMPLED: "Over 1,000 resamples",
        Overlay.THIRDS: "Squares: the effect within thirds",
    }[overlay]
    assert said in bench.plots.laid.said
    assert any(said in note for note in bench.card.notes())
    assert "classical errors" not in bench.plots.laid.said  # the model's are robust, and so are these
    bench.choices.view.choose(Overlay.NOTHING)
    hands.settle()
    assert not bench.plots.laid.said


def test_pick_points_are_dragged_and_deleted(hands: Hands) -> None:
    bench = opened(hands, study_of(noise_world(51), "y", "x, w; x*w")).window.place.probe
    turn(hands, Probe("x", "w"))
    plots, session = bench.plots, hands.place.session
    frame = page(hands).frame(Pane.LINES)
    assert frame is not None
    label = next(m for m in page(hands).texts if m.about == OfLine(2))
    start = QPoint(*(round(v) for v in label.box.middle))
    QTest.mousePress(plots, LEFT, NOTHING, start)
    other = next(m for m in page(hands).texts if m.about == OfLine(0))
    QTest.mouseRelease(plots, LEFT, NOTHING, QPoint(start.x(), round(other.box.middle[1])))
    hands.settle()
    assert probe(hands).pick.rule is PickRule.OWN
    values = probe(hands).pick.values
    bench.table.choose(1)
    hands.settle()
    assert bench.has_own_point()
    bench.remove_pick_point()
    hands.settle()
    assert len(probe(hands).pick.values) == len(values) - 1
    assert session.message == "" or "pick" not in session.message


def test_differences_are_those_one_asks_for_from_the_coding_s_reference(hands: Hands) -> None:
    bench = opened(hands, study_of(noise_world(51), "y", "x, g; x*g")).window.place.probe
    turn(hands, Probe("x", "g"))
    counts = {}
    for asked in Compared:
        bench.choices.compared.choose(asked)
        hands.settle()
        counts[asked] = [row.name for row in bench.table.rows() if " minus " in row.name]
    assert len(counts[Compared.PAIRS]) == 3
    assert counts[Compared.REFERENCE] == ["mid minus low", "top minus low"]
    assert counts[Compared.MEAN][0] == "low minus mean of the others"


def test_a_row_under_the_mouse_lights_its_line(three: Hands) -> None:
    bench = three.place.probe
    bench.table.lights.emit((OfPanel(1),))
    assert bench.plots.lit == OfPanel(1)
    bench.plots.light(OfPanel(2))
    lit = bench.table._lit
    assert lit is not None
    assert lit.spot == InPanel(2)


def test_a_product_chosen_in_the_ladder_opens_as_that(three: Hands) -> None:
    three.press("Alt+3")
    three.place.session.look(cell=Cell(2, Term(("x", "w", "g"))))
    three.press("Ctrl+P")
    three.settle()
    assert probe(three).second == Second("g")


def test_a_probe_that_ends_gives_way_and_it_is_said(three: Hands) -> None:
    turn(three, Probe("x", "w", second=Second("g"), name="kept"))
    three.place.session.edit("out", lambda s: take_out(s, [Term(("x", "w", "g")), Term(("x", "g")), Term(("w", "g"))]))
    three.settle()
    assert "This also removed" in three.place.status.message.text()
    assert probe(three).second is None
    assert page(three).frames


def test_what_is_undone_at_probe_is_named_as_it_was_done(hands: Hands) -> None:
    bench = opened(hands, study_of(noise_world(51), "y", "x, w, z; x*w, x*z")).window.place.probe
    turn(hands, Probe("x", "w"))
    session = hands.place.session
    bench.choices.pick.choose(PickRule.QUARTILES)
    hands.settle()
    bench.swap_roles()
    hands.settle()
    for said in ("probe w along x", "pick points of w: quartiles", "turn"):
        hands.press("Ctrl+Z")
        assert session.message == f"Undone: {said}"
    hands.press("Ctrl+Y")
    hands.press("Ctrl+Y")
    assert session.message == "Done again: pick points of w: quartiles"
