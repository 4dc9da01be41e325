"""Levels: named, merged, taken apart, put into order; what was said of them follows."""

from __future__ import annotations

import numpy as np
import pytest

from tests.support.worlds import fit_of, study_of
from yellow_slope.core.data.variable import Kind, Variable
from yellow_slope.core.errors import StudyError
from yellow_slope.core.study.coding import Dummy, Effect, Trends
from yellow_slope.core.study.edits.entries import set_coding, set_reference
from yellow_slope.core.study.edits.levels import (
    Order,
    move_level,
    name_level,
    name_levels,
    next_order,
    order_levels,
    orders,
    take_apart,
)
from yellow_slope.core.study.edits.probes import put_probe
from yellow_slope.core.study.probe import Probe
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.sentences.columns import reference_moved
from yellow_slope.files.study.studyfile import packed, unpacked

RNG = np.random.default_rng(4)
SIZES = ["middle", "low", "high", "huge"] * 12


def sizes(blocks: str = "x, size; x*size") -> Study:
    x = RNG.normal(size=48)
    return study_of({"x": x, "size": SIZES, "y": x + RNG.normal(size=48)}, "y", blocks)


def labels(study: Study, name: str = "size") -> list[str]:
    return [level.label for level in study.variable(name).levels]


def test_one_name_makes_one_level_and_the_reference_follows() -> None:
    study = set_reference(sizes(), "size", "huge")
    study = put_probe(study, Probe("x", "size", held=(("size", "huge"),)))
    merged = name_level(study, "size", "huge", "High")
    assert [(x.codes, x.label) for x in merged.variable("size").levels] == [
        (("high", "huge"), "high"),
        (("low",), "low"),
        (("middle",), "middle"),
    ]
    assert merged.model.coding("size") == Dummy("high")
    assert merged.probes[0].held == (("size", "high"),)
    basis = fit_of(merged).design.group("size")
    assert basis.counts.tolist() == [24, 12, 12]
    assert basis.levels[basis.reference or 0] == "high"
    assert unpacked(packed(merged), "s").variable("size") == merged.variable("size")
    apart = take_apart(merged, "size")
    assert [(x.codes, x.label) for x in apart.variable("size").levels] == [
        (("high",), "high"),
        (("huge",), "huge"),
        (("low",), "low"),
        (("middle",), "middle"),
    ]


def test_all_names_at_once_may_merge_but_not_down_to_one() -> None:
    study = name_levels(sizes(), "size", ["big", "big", "small", "small"])
    assert [x.codes for x in study.variable("size").levels] == [("high", "huge"), ("low", "middle")]
    with pytest.raises(StudyError, match="a single level left"):
        name_levels(study, "size", ["all", "all"])
    with pytest.raises(StudyError, match="2 levels \\(high, low\\); 3 names"):
        name_levels(study, "size", ["a", "b", "c"])
    coded = set_coding(sizes(), "size", Effect("low"))
    assert name_level(coded, "size", "low", "high").model.coding("size") == Effect("high")
    trend = set_coding(sizes(), "size", Trends((("high", 1.0), ("huge", 2.0), ("low", 3.0), ("middle", 4.0))))
    assert name_level(trend, "size", "low", "lowest").model.coding("size") == trend.model.coding("size")


def test_order_by_hand_and_by_name() -> None:
    study = sizes()
    assert labels(study) == ["high", "huge", "low", "middle"]
    moved = move_level(study, "size", "low", -1)
    assert labels(moved) == ["high", "low", "huge", "middle"]
    assert moved.variable("size").ordered
    assert move_level(study, "size", "high", -1) is study
    ordered = order_levels(study, "size", ["low", " Middle", "high", ""])
    assert labels(ordered) == ["low", "middle", "high", "huge"]
    assert unpacked(packed(ordered), "s").variable("size").ordered
    with pytest.raises(StudyError, match="no level “tiny”"):
        order_levels(study, "size", ["tiny"])
    assert reference_moved(study, ordered, "size") == "The reference, set by default, is now “low”."
    chosen = set_reference(study, "size", "huge")
    assert reference_moved(chosen, order_levels(chosen, "size", ["low"]), "size") == ""
    assert fit_of(chosen).last.sse == pytest.approx(fit_of(order_levels(chosen, "size", ["low"])).last.sse)


def test_orders_by_one_key() -> None:
    x = np.arange(40.0)
    study = study_of({"x": x, "size": ["middle", "low", "high", "low"] * 10, "y": x**1.5}, "y", "x, size")
    assert labels(study) == ["low", "middle", "high"], "the words have an order of their own"
    assert study.variable("size").ordered
    seen: dict[Order, list[str]] = {}
    for _ in range(5):
        study, said = next_order(study, "size")
        seen[said] = labels(study)
    assert seen[Order.WORDS] == ["low", "middle", "high"]
    assert seen[Order.CODES] == ["high", "low", "middle"]
    assert seen[Order.FILE] == ["middle", "low", "high"]
    assert seen[Order.TURNED] == ["high", "middle", "low"]
    with pytest.raises(StudyError, match="not a group"):
        next_order(study, "x")


def test_every_order_comes_once_before_the_first_comes_again() -> None:
    study = study_of({"stage": ["late", "first", "middle"] * 12, "y": RNG.normal(size=36)}, "y", "stage")
    wanted = [set_[1] for set_ in orders(study, "stage") if set_[0] is not Order.TURNED]
    seen = [study.variable("stage").levels]
    for _ in range(len(wanted)):
        study, _said = next_order(study, "stage")
        seen.append(study.variable("stage").levels)
    assert len(set(seen)) == len(seen), "no order comes twice"
    assert seen[: len(wanted)] == wanted, "one after the other, beginning behind the present one"
    study, _said = next_order(study, "stage")
    assert study.variable("stage").levels == seen[0]
    own = order_levels(study, "stage", ["late", "middle", "first"])
    assert own.variable("stage").levels not in seen
    assert next_order(own, "stage")[0].variable("stage").levels == seen[0], "from an order of one's own"


def test_a_scale_that_is_ordered_says_so_in_the_schema() -> None:
    study = sizes()
    assert not study.variable("size").ordered
    assert not Variable("x", Kind.GROUP, "x").ordered
