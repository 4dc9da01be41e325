"""Edits make new studies, refuse what cannot be, and leave the old one alone."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import pytest

from tests.support.worlds import noise_world, study_of, term
from yellow_slope.core.data.variable import Kind
from yellow_slope.core.errors import StudyError
from yellow_slope.core.study.edits.blocks import enter, enter_product, move_term, set_outcome, take_out
from yellow_slope.core.study.edits.entries import set_reference, treat
from yellow_slope.core.study.edits.kinds import may_be_code, set_kind
from yellow_slope.core.study.edits.levels import name_level
from yellow_slope.core.study.edits.models import set_level
from yellow_slope.core.study.edits.probes import put_probe
from yellow_slope.core.study.probe import Probe
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.treatment import AS_IS, CENTERED, STANDARDIZED


@pytest.fixture
def study() -> Study:
    return study_of(noise_world(31), "y", "x, w; g")


def test_a_product_goes_to_the_last_block_if_that_is_later_than_its_parts(study: Study) -> None:
    assert enter_product(study, term("x*w")).model.block_of(term("x*w")) == 1
    assert enter_product(study, term("x*g")).model.block_of(term("x*g")) == 2


def test_entering_moves_a_term_and_drops_blocks_left_empty(study: Study) -> None:
    moved = enter(study, [term("g")], 0)
    assert [b.terms for b in moved.model.blocks] == [(term("x"), term("w"), term("g"))]
    assert study.model.block_of(term("g")) == 1


def test_moving_up_and_down(study: Study) -> None:
    assert move_term(study, term("w"), 1).model.block_of(term("w")) == 1
    assert move_term(study, term("g"), 1).model.block_of(term("g")) == 1
    assert move_term(study, term("g"), -1).model.blocks[0].terms[-1] == term("g")
    first = move_term(study, term("w"), -1)
    assert [b.terms for b in first.model.blocks] == [(term("w"),), (term("x"),), (term("g"),)]


def test_the_outcome_leaves_the_terms(study: Study) -> None:
    changed = set_outcome(study, "x")
    assert term("x") not in changed.model.terms
    assert changed.model.outcome == "x"


def test_a_column_treated_as_groups_loses_its_square() -> None:
    opened = study_of({**noise_world(32), "k": [1.0, 2.0] * 40}, "y", "k")
    squared = enter(set_kind(opened, "k", Kind.NUMBER), [term("k*k")])
    study = squared
    assert term("k*k") in study.model.terms
    changed = set_kind(study, "k", Kind.GROUP)
    assert changed.model.terms == (term("k"),)
    assert [level.code for level in changed.variable("k").levels] == ["1", "2"]


@pytest.mark.parametrize("kind", [Kind.GROUP, Kind.TEXT])
def test_how_a_number_entered_goes_with_its_kind(kind: Kind) -> None:
    opened = study_of({**noise_world(32), "k": [1.0, 2.0] * 40}, "y", "x, w")
    study = treat(set_kind(opened, "k", Kind.NUMBER), ["k", "w"], STANDARDIZED)
    assert set(study.model.entries) == {"k", "w"}
    changed = set_kind(study, "k", kind)
    assert dict(changed.model.entries) == {"w": STANDARDIZED}
    back = set_kind(changed, "k", Kind.NUMBER)
    assert back.model.treatment("k") == AS_IS


def test_a_column_that_is_left_out_takes_its_terms_along() -> None:
    study = study_of(noise_world(34), "y", "x, w; x*w")
    changed = set_kind(study, "w", Kind.TEXT)
    assert changed.model.terms == (term("x"),)
    with pytest.raises(StudyError, match="is the outcome; choose another outcome"):
        set_kind(study, "y", Kind.TEXT)


def test_level_names_survive_the_way_to_a_number_and_back() -> None:
    study = study_of({**noise_world(33), "k": [1.0, 2.0] * 40}, "y", "k")
    named = name_level(set_kind(study, "k", Kind.GROUP), "k", "1", "quarry")
    again = set_kind(set_kind(named, "k", Kind.NUMBER), "k", Kind.GROUP)
    assert again.variable("k").levels[0].label == "quarry"


def test_probes_leave_with_their_variables(study: Study) -> None:
    with_probe = put_probe(enter_product(study, term("x*w")), Probe("x", "w"))
    assert with_probe.probes
    assert not take_out(with_probe, [term("x"), term("x*w")]).probes


@pytest.mark.parametrize(
    ("edit", "said"),
    [
        (lambda s: set_outcome(s, "g"), "must be a number"),
        (lambda s: enter(s, [term("y")]), "is the outcome"),
        (lambda s: enter(s, [term("g*g")]), "multiplied with itself"),
        (lambda s: enter(s, [term("nobody")]), "no variable named “nobody”"),
        (lambda s: treat(s, ["g"], CENTERED), "only numbers"),
        (lambda s: set_reference(s, "x", "1"), "only groups"),
        (lambda s: set_reference(s, "g", "nowhere"), "no level “nowhere”"),
        (lambda s: set_kind(s, "g", Kind.NUMBER), "contains texts"),
        (lambda s: set_kind(s, "y", Kind.GROUP), "is the outcome"),
        (lambda s: set_level(s, 1.0), "between .50 and 1"),
    ],
)
def test_what_cannot_be_is_refused_in_words(study: Study, edit, said: str) -> None:  # type: ignore[no-untyped-def]
    with pytest.raises(StudyError, match=said.replace("(", r"\(")):
        edit(study)


@pytest.mark.parametrize(
    ("values", "could_be"),
    [([1, 2, 3] * 8, True), ([1.5, 2, 3] * 8, False), ([4] * 24, False), (range(24), False), ([0, 1] * 12, True)],
)
def test_few_whole_values_may_be_a_code(values: Sequence[float], could_be: bool) -> None:
    study = study_of({"a": np.array(list(values), dtype=float), "y": np.arange(24.0) ** 2}, "y", "a")
    assert may_be_code(study, "a") == could_be
