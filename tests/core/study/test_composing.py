"""Products of sets, everything up to an order, parts, and blocks that are ordered, split and merged."""

from __future__ import annotations

from itertools import combinations

import numpy as np
import pytest

from tests.support.clock import Watch
from tests.support.worlds import fit_of, noise_world, study_of, term
from yellow_slope.core.errors import StudyError
from yellow_slope.core.fit.fitted.evaluate import evaluate
from yellow_slope.core.flags import flags_of
from yellow_slope.core.quickline import read_line, write_line
from yellow_slope.core.study.edits.blocks import name_block, set_blocks, switch_block
from yellow_slope.core.study.edits.composing import (
    each_with_each,
    enter_with_parts,
    merge_blocks,
    move_block,
    powered,
    split_block,
    up_to_order,
)
from yellow_slope.core.study.edits.models import set_reported
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Term
from yellow_slope.core.words.sentences.coefficients import Reader
from yellow_slope.core.words.sentences.equation import equation


def study(blocks: str = "x, w; z; x*w, g") -> Study:
    return study_of(noise_world(2), "y", blocks)


def shown(now: Study) -> list[list[str]]:
    return [["*".join(t.variables) for t in block.terms] for block in now.model.blocks]


def test_each_with_each_makes_every_product_once() -> None:
    one, other = [term("x"), term("w")], [term("w"), term("g")]
    assert each_with_each(one, other) == (term("x*w"), term("x*g"), term("w*w"), term("w*g"))
    assert each_with_each([term("x")], [term("w*z")]) == (term("x*w*z"),)
    with pytest.raises(StudyError, match="4,000,000 products"):
        each_with_each([term(f"a{i}") for i in range(2000)], [term(f"b{i}") for i in range(2000)])


@pytest.mark.parametrize(("n", "order"), [(3, 3), (5, 2), (4, 9), (2, 1)])
def test_everything_up_to_an_order(n: int, order: int) -> None:
    names = [f"v{i}" for i in range(n)]
    found = up_to_order(names, order)
    wanted = {frozenset(some) for size in range(1, min(order, n) + 1) for some in combinations(names, size)}
    assert {frozenset(t.variables) for t in found} == wanted
    assert len(found) == len(wanted)
    sizes = [len(t.variables) for t in found]
    assert sizes == sorted(sizes)


def test_too_many_products_are_refused_before_they_are_made() -> None:
    watch = Watch()
    with pytest.raises(StudyError, match="1,073,741,823 terms"):
        up_to_order([f"v{i}" for i in range(30)], 30)
    assert not watch.is_over(0.1)


def test_a_product_enters_with_what_it_is_made_of() -> None:
    now = enter_with_parts(study("x; z"), term("x*w*z"))
    assert shown(now) == [["x"], ["z", "w", "x*w", "x*z", "w*z"], ["x*w*z"]]
    assert enter_with_parts(now, term("x*w")) is now, "everything is there already"
    fresh = enter_with_parts(set_blocks(study(), []), term("x*w"))
    assert shown(fresh) == [["x", "w"], ["x*w"]]


def test_blocks_are_ordered_split_and_merged() -> None:
    start = study()
    moved = move_block(start, 2, -1)
    assert shown(moved) == [["x", "w"], ["x*w", "g"], ["z"]]
    assert [b.id for b in moved.model.blocks] == ["b1", "b3", "b2"], "a block keeps its id"
    assert move_block(start, 0, -1) is start
    assert move_block(start, 2, 1) is start
    split = split_block(start, 0, [term("w")])
    assert shown(split) == [["x"], ["w"], ["z"], ["x*w", "g"]]
    assert len({b.id for b in split.model.blocks}) == 4
    assert shown(merge_blocks(split, 1)) == shown(start)
    for wrong in ([], [term("x"), term("w")], [term("z")]):
        with pytest.raises(StudyError, match="some of its terms"):
            split_block(start, 0, wrong)
    with pytest.raises(StudyError, match="first block"):
        merge_blocks(start, 0)
    named = name_block(start, 1, "the rest")
    assert merge_blocks(named, 1).model.blocks[0].name == "the rest"
    off = switch_block(start, 0, False)
    assert merge_blocks(off, 1).model.blocks[0].on, "one of the two is on: nothing of it is lost"


def test_the_reported_step_goes_with_its_block() -> None:
    start = set_reported(study(), "b2")
    assert move_block(start, 1, -1).model.reported_step == 0
    assert merge_blocks(start, 1).model.reported is None


def test_powers_are_of_numbers() -> None:
    assert powered(study(), "x", 3).key == ("x", "x", "x")
    with pytest.raises(StudyError, match="only numbers have powers"):
        powered(study(), "g", 2)


def test_a_product_of_thirty_factors_makes_no_more_work_than_its_columns() -> None:
    rng = np.random.default_rng(1)
    names = [f"v{i:02}" for i in range(30)]
    world = {name: rng.normal(1, 0.2, 80) for name in names}
    world["y"] = rng.normal(size=80)
    watch = Watch()
    now = study_of(world, "y", ", ".join(names) + "; " + "*".join(names))
    fit = fit_of(now)
    assert fit.design.columns_of(Term(tuple(names)))
    read = Reader(now, fit, now.model)
    assert "v00" in read.coefficient(1, 30)
    assert equation(now, fit, 1)
    for flag in flags_of(evaluate(now)):
        assert flag.cost
    line = write_line(now)
    reading = read_line(now, line)
    assert reading.mistake is None
    with pytest.raises(StudyError, match="too many parts"):
        enter_with_parts(now, Term(tuple(names)))
    assert not watch.is_over(3)
