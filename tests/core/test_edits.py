"""Edits make new studies, refuse what cannot be, and leave the old one alone."""

from __future__ import annotations

import pytest

from tests.core.worlds import noise_world, study_of, term
from yellow_slope.core import edits
from yellow_slope.core.errors import StudyError
from yellow_slope.core.study import Probe, Study
from yellow_slope.core.variable import Kind, Treatment


@pytest.fixture
def study() -> Study:
    return study_of(noise_world(31), "y", "x, w; g")


def test_a_product_goes_to_the_last_block_if_that_is_later_than_its_parts(study: Study) -> None:
    assert edits.enter_product(study, term("x*w")).block_of(term("x*w")) == 1
    assert edits.enter_product(study, term("x*g")).block_of(term("x*g")) == 2


def test_entering_moves_a_term_and_drops_blocks_left_empty(study: Study) -> None:
    moved = edits.enter(study, [term("g")], 0)
    assert [b.terms for b in moved.blocks] == [(term("x"), term("w"), term("g"))]
    assert study.block_of(term("g")) == 1


def test_moving_up_and_down(study: Study) -> None:
    assert edits.move(study, term("w"), 1).block_of(term("w")) == 1
    assert edits.move(study, term("g"), 1).block_of(term("g")) == 1
    assert edits.move(study, term("g"), -1).blocks[0].terms[-1] == term("g")
    first = edits.move(study, term("w"), -1)
    assert [b.terms for b in first.blocks] == [(term("w"),), (term("x"),), (term("g"),)]


def test_the_outcome_leaves_the_terms(study: Study) -> None:
    changed = edits.set_outcome(study, "x")
    assert term("x") not in changed.terms
    assert changed.outcome == "x"


def test_a_column_treated_as_groups_loses_its_square() -> None:
    study = study_of({**noise_world(32), "k": [1.0, 2.0] * 40}, "y", "k, k*k")
    changed = edits.set_kind(study, "k", Kind.GROUP)
    assert changed.terms == (term("k"),)
    assert [level.code for level in changed.variable("k").levels] == ["1", "2"]


def test_a_column_that_is_left_out_takes_its_terms_along() -> None:
    study = study_of(noise_world(34), "y", "x, w; x*w")
    changed = edits.set_kind(study, "w", Kind.TEXT)
    assert changed.terms == (term("x"),)
    with pytest.raises(StudyError, match="is the outcome; choose another outcome"):
        edits.set_kind(study, "y", Kind.TEXT)


def test_level_names_survive_the_way_to_a_number_and_back() -> None:
    study = study_of({**noise_world(33), "k": [1.0, 2.0] * 40}, "y", "k")
    named = edits.name_level(edits.set_kind(study, "k", Kind.GROUP), "k", "1", "quarry")
    again = edits.set_kind(edits.set_kind(named, "k", Kind.NUMBER), "k", Kind.GROUP)
    assert again.variable("k").levels[0].label == "quarry"


def test_probes_leave_with_their_variables(study: Study) -> None:
    with_probe = edits.put_probe(edits.enter_product(study, term("x*w")), Probe("x", "w"))
    assert with_probe.probes
    assert not edits.take_out(with_probe, [term("x"), term("x*w")]).probes


@pytest.mark.parametrize(
    ("edit", "said"),
    [
        (lambda s: edits.set_outcome(s, "g"), "must be a number"),
        (lambda s: edits.enter(s, [term("y")]), "is the outcome"),
        (lambda s: edits.enter(s, [term("g*g")]), "multiplied with itself"),
        (lambda s: edits.enter(s, [term("nobody")]), "no variable named “nobody”"),
        (lambda s: edits.treat(s, ["g"], Treatment.CENTERED), "only numbers"),
        (lambda s: edits.set_reference(s, "x", "1"), "only groups"),
        (lambda s: edits.set_reference(s, "g", "nowhere"), "no level “nowhere”"),
        (lambda s: edits.set_kind(s, "g", Kind.NUMBER), "holds texts"),
        (lambda s: edits.set_kind(s, "y", Kind.GROUP), "is the outcome"),
        (lambda s: edits.set_level(s, 1.0), "between .50 and 1"),
    ],
)
def test_what_cannot_be_is_refused_in_words(study: Study, edit, said: str) -> None:  # type: ignore[no-untyped-def]
    with pytest.raises(StudyError, match=said.replace("(", r"\(")):
        edit(study)
