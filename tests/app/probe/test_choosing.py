"""What is chosen at Probe stays in the study, and what cannot be done is said."""

from __future__ import annotations

import numpy as np
import pytest

from tests.support.windowdriver import Hands
from tests.support.worlds import noise_world, study_of
from yellow_slope.app.probe.tables import columns_of, comparison_choices
from yellow_slope.app.state.desk import Cell
from yellow_slope.core.data.variable import Kind
from yellow_slope.core.fit.design.bases import NumberBasis
from yellow_slope.core.probe.seen import Apart
from yellow_slope.core.study.edits.kinds import set_kind
from yellow_slope.core.study.edits.levels import name_levels
from yellow_slope.core.study.edits.probes import put_probe
from yellow_slope.core.study.probe import PickPoints, PickRule, Probe, RegionRule, Second
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Term
from yellow_slope.core.told.effects import EffectColumn
from yellow_slope.core.words.spelling.numerals import place


def probing(hands: Hands, study: Study) -> Hands:
    hands.place.session.open(study)
    hands.settle()
    hands.press("Alt+5")
    hands.settle()
    return hands


@pytest.fixture
def along_number(hands: Hands) -> Hands:
    return probing(hands, study_of(noise_world(51), "y", "x, w, g; x*w, x*g, w*g; x*w*g"))


@pytest.fixture
def by_group(hands: Hands) -> Hands:
    study = study_of(noise_world(51), "y", "x, g; x*g")
    return probing(hands, put_probe(study, Probe("x", "g")))


def current(hands: Hands) -> Probe:
    found = hands.place.session.current_probe()
    assert found is not None
    return found


def moderator(hands: Hands) -> NumberBasis:
    probed = hands.place.session.probed()
    assert probed is not None
    assert isinstance(probed.moderator, NumberBasis)
    return probed.moderator


def turn(hands: Hands, probe: Probe) -> None:
    hands.place.session.edit("turn", lambda s: put_probe(s, probe))
    hands.settle()


def typed(hands: Hands, field: object, text: str) -> None:
    field.setText(text)  # type: ignore[attr-defined]
    field.returnPressed.emit()  # type: ignore[attr-defined]
    hands.settle()


def test_a_handle_beyond_the_data_is_said_and_a_right_entry_ends_the_message(along_number: Hands) -> None:
    bench, status = along_number.place.probe, along_number.place.status.message
    turn(along_number, Probe("x", "w"))
    basis = moderator(along_number)
    typed(along_number, bench.at, str(basis.high + 100))
    assert "lies beyond; the handle stays within." in status.text()
    assert along_number.place.session.sight().handle == basis.high  # type: ignore[union-attr]
    typed(along_number, bench.at, "abc")
    assert status.text() == "“abc” is not a number."
    typed(along_number, bench.at, "inf")
    assert status.text() == "“inf” is not a number."
    typed(along_number, bench.at, str(basis.mean))
    assert status.text() == ""


def test_own_pick_points_are_typed_and_removed(along_number: Hands) -> None:
    bench = along_number.place.probe
    turn(along_number, Probe("x", "w"))
    basis = moderator(along_number)
    assert not bench.own.isVisible()
    bench._choose_pick(PickRule.OWN)
    along_number.settle()
    assert bench.own.isVisible()
    assert bench.pick.text().startswith("points: own values")
    told = [place(value, basis.sd) for value in (basis.mean - basis.sd, basis.mean, basis.mean + basis.sd)]
    assert bench.own.text().split() == [f"{float(text):g}" for text in told]
    assert current(along_number).pick.values == tuple(float(text) for text in told)
    typed(along_number, bench.own, f"{basis.high:.3f}; {basis.low:.3f}")
    assert current(along_number).pick.values == (float(f"{basis.low:.3f}"), float(f"{basis.high:.3f}"))
    typed(along_number, bench.own, "1 two 3")
    assert "“two” is not a number" in along_number.place.status.message.text()
    assert len(current(along_number).pick.values) == 2
    typed(along_number, bench.own, str(basis.high + 100))
    assert "effects there are extrapolated" in along_number.place.status.message.text()
    typed(along_number, bench.own, "")
    assert current(along_number).pick == PickPoints()
    assert not bench.own.isVisible()


def test_only_what_can_be_kept_is_offered(hands: Hands) -> None:
    bench = probing(hands, put_probe(study_of(noise_world(51), "y", "x, g; x*g"), Probe("x", "g"))).window.place.probe
    assert [text for text, _ in bench.offers()] == ["Keep this probe", "Make a figure", "Save figure"]
    probing(hands, study_of(noise_world(51), "y", "x, w; x*w"))
    assert [text for text, _ in bench.offers()] == [
        "Keep as pick point",
        "Keep this probe",
        "Make a figure",
        "Save figure",
    ]
    hands.place.session.edit("leave out", lambda s: set_kind(s, "x", Kind.TEXT))
    hands.settle()
    assert bench.offers() == []
    assert hands.place._foot_links() == []


def test_a_second_moderator_outlives_another_choice(along_number: Hands) -> None:
    bench = along_number.place.probe
    asked = Probe("x", "w", second=Second("g"), rule=RegionRule.FALSE_DISCOVERY, pick=PickPoints(PickRule.QUARTILES))
    turn(along_number, asked)
    bench._choose(moderator="g")
    along_number.settle()
    found = current(along_number)
    assert (found.focal, found.moderator, found.second) == ("x", "g", Second("w"))
    assert found.rule is RegionRule.FALSE_DISCOVERY
    bench._choose(moderator="w")
    along_number.settle()
    assert (current(along_number).moderator, current(along_number).second) == ("w", Second("g"))


def test_a_probe_that_is_in_the_study_comes_forward_as_it_is(along_number: Hands) -> None:
    own = Probe("x", "w", pick=PickPoints(PickRule.EXTREMES))
    turn(along_number, own)
    turn(along_number, Probe("x", "g"))
    along_number.place.probe._choose(moderator="w")
    along_number.settle()
    assert current(along_number) == own
    study = along_number.place.session.study
    assert [p.moderator for p in study.probes] == ["w", "g"]


def test_differences_show_holms_p_and_the_foot_says_which_of_them_it_tells(by_group: Hands) -> None:
    rows = by_group.place.probe.table.rows()
    sight = by_group.place.session.sight()
    assert sight is not None
    apart = sight.focus.differences
    assert len(apart) > 1
    assert [row.told.p_holm for row in rows if isinstance(row.spot, Apart)] == [d.p_holm for d in apart]
    assert EffectColumn.HOLM in columns_of(rows)
    assert f"Of {len(apart)} differences this one has the smallest p." in by_group.sentence()
    by_group.place.session.see(place=Apart(0))
    by_group.settle()
    assert f"by Holm: p {'<' if apart[0].p_holm < 0.001 else '='}" in by_group.place.foot.told.more


def test_a_power_is_probed_along_itself(hands: Hands) -> None:
    session = probing(hands, study_of(noise_world(51), "y", "x, w; x*w, x*x")).window.place.session
    assert (current(hands).focal, current(hands).moderator) == ("x", "w")
    for term, pair in ((Term(("x", "x")), ("x", "x")), (Term(("x", "w")), ("x", "w"))):
        hands.press("Alt+3")
        session.look(cell=Cell(1, term))
        hands.settle()
        hands.press("Ctrl+P")
        hands.settle()
        assert (current(hands).focal, current(hands).moderator) == pair
        assert session.probed() is not None
    session.open(study_of(noise_world(51), "y", "x; x*x"))
    hands.settle()
    assert current(hands) == Probe("x", "x")


def test_codes_without_names_are_offered_to_be_named(hands: Hands) -> None:
    raw = noise_world(51)
    raw["night"] = np.array(["0", "1"] * 40)
    window = probing(hands, put_probe(study_of(raw, "y", "x, night; x*night"), Probe("x", "night"))).window
    assert "in night 1" in hands.sentence()
    named = [link for link in window.place._foot_links() if link.text == "Name the levels"]
    assert len(named) == 1
    named[0].run()
    hands.settle()
    assert window.place.session.desk.variable == "night"
    window.place.session.edit("name", lambda s: name_levels(s, "night", ["away", "at home"]))
    hands.press("Alt+5")
    hands.settle()
    assert "in “at home”" in hands.sentence()
    assert not [link for link in window.place._foot_links() if link.text == "Name the levels"]


def test_looking_from_the_other_side_overwrites_no_probe(along_number: Hands) -> None:
    other = Probe("w", "x", pick=PickPoints(PickRule.OWN, (2.0, 3.0)))
    turn(along_number, other)
    turn(along_number, Probe("x", "w"))
    along_number.press("Ctrl+I")
    along_number.settle()
    assert current(along_number) == other


def test_comparisons_of_a_long_variable_are_told_apart_in_their_chip(hands: Hands) -> None:
    raw, name = noise_world(51), "crew_of_the_lift_house_at_the_upper_slope"
    raw[name] = np.array(["1", "2", "3", "4"] * 20)
    window = probing(hands, put_probe(study_of(raw, "y", f"x, {name}; x*{name}"), Probe(name, "x"))).window
    assert [text for _, text in comparison_choices(window.place.session)] == ["2 minus 1", "3 minus 1", "4 minus 1"]
    assert window.place.probe.comparison.text().startswith("2 minus 1")
