"""The file of cases: what each pulls, as a study without it says too."""

from __future__ import annotations

import csv
import io

import numpy as np
import pytest

from yellow_slope.core.fit.asked.leftout import without_each
from yellow_slope.core.fit.fitted.evaluate import evaluate
from yellow_slope.core.study.edits.blocks import set_blocks
from yellow_slope.core.study.edits.samples import set_aside
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Block, Term
from yellow_slope.core.words.names.terms import column_name
from yellow_slope.files.written.casefile import HEAD, case_table


def test_what_the_probed_product_is_without_a_case(demo: Study) -> None:
    fit = evaluate(demo).fit
    assert fit is not None
    rows = list(csv.reader(io.StringIO(case_table(demo, fit).decode())))
    pulls = [name for name in rows[0] if name.startswith("dfbetas of ")]
    assert rows[0] == [*HEAD, *pulls]
    column = next(j for j in range(len(fit.design.columns)) if f"dfbetas of {column_name(demo, fit, j)}" == pulls[0])
    g = np.zeros(len(fit.design.columns) + 1)
    g[column + 1] = 1.0
    found = without_each(fit, len(fit.steps) - 1, g, demo.model.level)
    written = [float(row[len(HEAD)]) for row in rows[1:]]
    assert written == pytest.approx(list(found.change))
    for case in (0, 17, 100):
        without = evaluate(set_aside(demo, [int(fit.cases.rows[case])], "a trial")).fit
        assert without is not None
        there = without.last.coefficient(column)
        assert found.effect[case] == pytest.approx(there.b, rel=1e-8)
        assert found.se[case] == pytest.approx(there.se, rel=1e-8)
        assert found.p[case] == pytest.approx(there.p, rel=1e-6)


def test_a_study_without_a_product_has_no_pulls(demo: Study) -> None:
    study = set_blocks(demo, [Block((Term(("practice",)),))])
    fit = evaluate(study).fit
    assert fit is not None
    rows = list(csv.reader(io.StringIO(case_table(study, fit).decode())))
    assert tuple(rows[0]) == HEAD
    assert all(0 <= float(row[-1]) <= 1 for row in rows[1:])
