"""What the window says belongs to the panel and the comparison that are seen."""

from __future__ import annotations

import pytest

from tests.support.windowdriver import Hands
from tests.support.worlds import noise_world, study_of
from yellow_slope.core.data.variable import Kind
from yellow_slope.core.probe.places import NumberPlace
from yellow_slope.core.probe.seen import AtPlace, Sight
from yellow_slope.core.study.edits.kinds import set_kind
from yellow_slope.core.study.edits.models import keep_model
from yellow_slope.core.study.edits.probes import put_probe
from yellow_slope.core.study.figures import Pane
from yellow_slope.core.study.probe import Probe, Second
from yellow_slope.core.words.spelling.numerals import place
from yellow_slope.plots.marks import Line, OfEffect


@pytest.fixture
def three_way(hands: Hands) -> Hands:
    study = study_of(noise_world(51), "y", "x, w, g; x*w, x*g, w*g; x*w*g")
    hands.place.session.open(put_probe(study, Probe("x", "g", second=Second("w"))))
    hands.settle()
    hands.press("Alt+5")
    hands.settle()
    return hands


def sight(hands: Hands) -> Sight:
    found = hands.place.session.sight()
    assert found is not None
    return found


def seconds(here: Sight) -> list[str]:
    """Where the second moderator stands in each panel, as it is said."""
    found = []
    for panel in here.probed.panels:
        assert isinstance(panel.second, NumberPlace)
        assert here.probed.second is not None
        found.append(f"at w {place(panel.second.value, here.probed.second.sd)}")  # type: ignore[union-attr]
    return found


def test_the_foot_names_the_panel_that_is_seen(three_way: Hands) -> None:
    session = three_way.place.session
    for panel in range(3):
        session.see(panel=panel, place=AtPlace(0))
        three_way.settle()
        here = sight(three_way)
        assert here.seen.panel == panel
        said, sentence = seconds(here), three_way.sentence()
        assert said[panel] in sentence
        assert not [other for other in said if other != said[panel] and other in sentence]
        assert three_way.place.probe.table.rows()[0].effect == here.focus.effects[0]


def test_the_picture_is_that_of_the_panel(three_way: Hands) -> None:
    session, plots = three_way.place.session, three_way.place.probe.plots
    session.edit("turn", lambda s: put_probe(s, Probe("x", "w", second=Second("g"))))
    three_way.settle()
    drawn = []
    for panel in range(3):
        session.see(panel=panel)
        three_way.settle()
        assert plots.is_current
        assert plots.drawn is not None
        marks = plots.drawn.page.marks
        drawn.append(next(m.points for m in marks if isinstance(m, Line) and m.about == OfEffect() and m.ink.width > 2))
    assert not (drawn[0] == drawn[1]).all()
    assert not (drawn[1] == drawn[2]).all()


def test_what_an_edit_takes_with_it_is_said(demo_hands: Hands) -> None:
    session = demo_hands.place.session
    session.edit("keep", lambda s: keep_model(s, "with all"))
    session.edit("leave out", lambda s: set_kind(s, "sleep", Kind.TEXT))
    demo_hands.settle()
    assert "This also removed sleep (in “with all”) and sleep." in demo_hands.place.status.message.text()
    demo_hands.press("Ctrl+Z")
    assert session.is_open
    assert session.study.variable("sleep").kind is Kind.NUMBER
    assert session.study.went == ()


def test_the_mouse_is_told_what_it_is_on(demo_hands: Hands) -> None:
    demo_hands.place.session.edit("probe", lambda s: put_probe(s, Probe("practice", "coaching")))
    demo_hands.press("Alt+5")
    demo_hands.settle()
    plots = demo_hands.place.probe.plots
    frame = plots.frame(Pane.EFFECT)
    assert frame is not None
    effects = sight(demo_hands).focus.effects
    tip = plots._tip(float(frame.at_x(effects[3].effect)), float(frame.at_y(-3.0)))
    assert tip.startswith("In “one-to-one”, per further hour of practice, control score is 3.6")
    assert plots._tip(2.0, 2.0) == ""
