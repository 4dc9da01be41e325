"""The effects that the made-up world is said to hold are really in the data."""

from __future__ import annotations

import numpy as np

from tests.support.worlds import blocks_of, fit_of, term
from yellow_slope.core.fit.fitted.evaluate import evaluate
from yellow_slope.core.probe.probing import probe_fit
from yellow_slope.core.study.edits.blocks import enter, set_blocks
from yellow_slope.core.study.probe import Probe
from yellow_slope.core.study.study import Study
from yellow_slope.demo.learners import TABLE, table_text


def test_the_table_is_what_the_seeded_script_writes() -> None:
    assert TABLE.read_text() == table_text()


def test_gaps(demo: Study) -> None:
    sample = evaluate(set_blocks(demo, [*demo.model.blocks, *blocks_of("site")])).cases
    assert sample.n_table == 240
    assert 15 <= sample.n_lost <= 27


def test_the_slope_of_practice_differs_among_coaching_groups(demo: Study) -> None:
    assert fit_of(demo).last.joint[term("practice*coaching")].p < 0.05


def test_the_boundary_of_practice_by_worry_lies_inside_the_data(demo: Study) -> None:
    probed = probe_fit(demo, fit_of(demo), Probe("practice", "worry"))
    regions = probed.panels[0].foci[0].regions
    assert regions is not None
    region = regions.within[0]
    assert region.sign == 1
    assert region.high in regions.boundaries
    assert 0.2 < region.share < 0.9


def test_returners_differ_only_over_part_of_balance(demo: Study) -> None:
    regions = probe_fit(demo, fit_of(demo), Probe("returner", "balance")).panels[0].foci[0].regions
    assert regions is not None
    signs = {r.sign for r in regions.within if r.n}
    assert signs >= {0, 1}


def test_the_three_way_product(demo: Study) -> None:
    more = enter(demo, [term("practice*returner"), term("worry*returner")])
    more = enter(more, [term("practice*worry*returner")])
    assert fit_of(more).last.change.test.p < 0.05


def test_a_few_odd_cases(demo: Study) -> None:
    fit = fit_of(demo)
    rest = fit.y - fit.predicted(2)
    assert 2 <= int(np.sum(np.abs(rest) > 3 * rest.std())) <= 6
