"""What is done to a probe is named as it was done: every field of a probe that can be turned has a name of its own."""

from __future__ import annotations

import pytest

from tests.support.worlds import noise_world, study_of
from yellow_slope.core.study.probe import (
    Compared,
    EffectUnit,
    PickPoints,
    PickRule,
    Probe,
    RegionRule,
    Second,
    Smallest,
)
from yellow_slope.core.words.names.probes import turned
from yellow_slope.values import names_of, replace

BEFORE = Probe("x", "w", held=(("z", 1.0),))
TURNS = {
    "focal": ({"focal": "z"}, "probe z along w"),
    "moderator": ({"moderator": "z"}, "probe x along z"),
    "model": ({"model": "m2"}, "probe x along w"),
    "step": ({"step": "b2"}, "probe another step"),
    "pick": ({"pick": PickPoints(PickRule.OWN, (2.0, -3.5))}, "pick points of w: 2, −3.5"),
    "held": ({"held": (("z", 2.0),)}, "where z is held"),
    "second": ({"second": Second("g")}, "probe x along w and g"),
    "rule": ({"rule": RegionRule.SIMULTANEOUS}, "how regions are bounded"),
    "unit": ({"unit": EffectUnit.SD}, "effects in SDs"),
    "smallest": ({"smallest": Smallest(2.0)}, "the smallest effect that matters"),
    "compared": ({"compared": Compared.MEAN}, "which differences are given"),
    "name": ({"name": "mine"}, "look at “mine”"),
}


def test_every_field_has_a_turn() -> None:
    assert set(names_of(Probe)) == set(TURNS)


@pytest.mark.parametrize("field", TURNS)
def test_a_turn_is_named_as_it_was_done(field: str) -> None:
    study = study_of(noise_world(51), "y", "x, w, z, g; x*w, x*g; x*w*g")
    change, said = TURNS[field]
    assert turned(study, BEFORE, replace(BEFORE, **change)) == said  # type: ignore[arg-type]


def test_both_ways() -> None:
    study = study_of(noise_world(51), "y", "x, w, z, g; x*w, x*g; x*w*g")
    with_second = replace(BEFORE, second=Second("z"))
    assert turned(study, with_second, BEFORE) == "probe without a second moderator"
    quartiles = replace(BEFORE, second=Second("z", PickPoints(PickRule.QUARTILES)))
    assert turned(study, with_second, quartiles) == "pick points of z: quartiles"
    assert turned(study, replace(BEFORE, smallest=Smallest(2.0)), BEFORE) == "no smallest effect that matters"
    assert turned(study, None, Probe("x", "x")) == "probe x along itself"
