"""One model per group: the groups' coefficients by themselves, about the whole sample's zero; the test that they differ
by sums of squares."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from scipy.stats import f as f_distribution

from tests.support.worlds import fit_of, noise_world, study_of, term
from yellow_slope.core.data.conditions import AtLeast
from yellow_slope.core.data.source import Source
from yellow_slope.core.data.table import Table
from yellow_slope.core.errors import StudyError
from yellow_slope.core.fit.asked.bygroup import ByGroup, by_group
from yellow_slope.core.fit.fitted.evaluate import evaluate
from yellow_slope.core.fit.solve.why import Why
from yellow_slope.core.study.coding import Planned, Question
from yellow_slope.core.study.edits.entries import set_coding, treat
from yellow_slope.core.study.edits.models import set_by, set_constant, set_errors
from yellow_slope.core.study.edits.retabling import with_table
from yellow_slope.core.study.edits.samples import set_rule
from yellow_slope.core.study.standarderrors import HC, Cluster
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.treatment import CENTERED
from yellow_slope.core.study.whole import made_whole
from yellow_slope.core.words.sentences.bygroup import GroupReader
from yellow_slope.core.words.sentences.gone import gone_names
from yellow_slope.values import replace


def asked(study: Study, name: str = "g") -> ByGroup:
    study = set_by(study, name)
    return by_group(study, study.model, fit_of(study))


def least(y: np.ndarray, *columns: np.ndarray) -> tuple[np.ndarray, float]:
    x = np.column_stack([np.ones(y.size), *columns])
    b, *_ = np.linalg.lstsq(x, y, rcond=None)
    return b, float(np.sum((y - x @ b) ** 2))


def world() -> tuple[dict[str, Any], np.ndarray, np.ndarray, np.ndarray, np.ndarray]:
    made = noise_world(3)
    x, w, y = (np.asarray(made[k], dtype=float) for k in ("x", "w", "y"))
    g = np.asarray(made["g"])
    return made, x, w, y, g


def test_each_group_by_itself_about_the_zero_of_all() -> None:
    made, x, w, y, g = world()
    study = treat(study_of(made, "y", "x, w; x*w"), ["x", "w"], CENTERED)
    found = asked(study)
    xc, wc = x - x.mean(), w - w.mean()
    total = 0.0
    for group in found.groups:
        here = g == group.code
        b, sse = least(y[here], xc[here], wc[here], (xc * wc)[here])
        total += sse
        assert group.fit is not None
        assert group.n == here.sum()
        np.testing.assert_allclose(group.fit.last.b, b, rtol=1e-9)
        assert group.fit.last.sse == pytest.approx(sse, rel=1e-10)
        assert group.fit.cases.rows.tolist() == np.flatnonzero(here).tolist()
    # the test that they differ, by sums of squares: levels of their own, slopes in common
    codes = sorted(set(g))
    own = [np.asarray(g == code, dtype=float) for code in codes[1:]]
    _, common = least(y, xc, wc, xc * wc, *own)
    k, p = len(codes), 3
    df1, df2 = (k - 1) * p, y.size - k * (p + 1)
    f = (common - total) / df1 / (total / df2)
    assert (found.test.df1, found.test.df2) == (df1, df2)
    assert found.test.f == pytest.approx(f, rel=1e-9)
    assert found.test.p == pytest.approx(f_distribution.sf(f, df1, df2), rel=1e-8)
    # of one term: the others keep slopes of their own
    rest = [column * one for column in (wc, xc * wc) for one in own]
    _, without = least(y, xc, wc, xc * wc, *own, *rest)
    one = found.joint[term("x")]
    assert one.f == pytest.approx((without - total) / (k - 1) / (total / df2), rel=1e-8)
    assert (one.df1, one.df2) == (k - 1, df2)


def test_what_holds_the_group_stands_in_no_groups_model() -> None:
    made, *_ = world()
    found = asked(study_of(made, "y", "x, g; x*g, w"))
    assert found.dropped == (term("g"), term("x*g"))
    assert [t.variables for b in found.model.blocks for t in b.terms] == [("x",), ("w",)]
    # whatever the group is asked in the model, all its differences are tested here
    few = set_coding(
        study_of(made, "y", "x, g; x*g, w"),
        "g",
        Planned((Question("a or b", (sorted(set(made["g"]))[0],), (sorted(set(made["g"]))[1],)),)),
    )
    assert asked(few).test.f == pytest.approx(found.test.f, rel=1e-9)
    with pytest.raises(StudyError, match="there is nothing to compare"):
        asked(study_of(made, "y", "g"))


def test_small_groups_and_gaps() -> None:
    made, _x, _w, y, g = world()
    g = g.astype(object)
    g[:4] = ""
    g[4:7] = "tiny"
    made = {**made, "g": [str(v) for v in g]}
    found = asked(study_of(made, "y", "x, w"))
    assert found.n_without == 4
    tiny = next(group for group in found.groups if group.code == "tiny")
    assert (tiny.n, tiny.fit, tiny.said) == (3, None, "too few cases")
    assert all(group.fit is not None for group in found.groups if group.code != "tiny")
    same = {**made, "y": [1.0 if v == "tiny" else float(k) for v, k in zip(made["g"], y)]}
    big = {**same, "g": ["tiny" if 4 <= i < 20 else str(v) for i, v in enumerate(g)]}
    big["y"] = [1.0 if v == "tiny" else float(k) for v, k in zip(big["g"], y)]
    assert (
        next(x for x in asked(study_of(big, "y", "x, w")).groups if x.code == "tiny").said == "outcome the same for all"
    )


def test_robust_errors_go_through_and_another_group_may_lack_a_level() -> None:
    made, x, _w, y, g = world()
    h = np.where(g == sorted(set(g))[0], "one", np.where(x > np.median(x), "one", "two"))
    study = set_errors(study_of({**made, "h": list(h)}, "y", "x, h"), HC(3))
    found = asked(study)
    first = found.groups[0]
    assert first.fit is not None
    assert first.fit.last.coefficient(1).why is Why.LEFT_OUT
    here = g == first.code
    xs = np.column_stack([np.ones(here.sum()), x[here]])
    inverse = np.linalg.inv(xs.T @ xs)
    e = y[here] - xs @ (inverse @ xs.T @ y[here])
    leverage = np.einsum("ij,jk,ik->i", xs, inverse, xs)
    meat = xs.T @ (xs * ((e / (1 - leverage)) ** 2)[:, None])
    assert first.fit.last.se[1] == pytest.approx(np.sqrt((inverse @ meat @ inverse)[1, 1]), rel=1e-9)


def test_a_group_needs_two_clusters_and_no_more() -> None:
    made, _x, _w, _y, g = world()
    levels = sorted(set(g))
    clusters = {levels[0]: 1, levels[1]: 2}
    ids = [f"{v}{i % clusters.get(v, 3)}" for i, v in enumerate(g)]
    found = asked(set_errors(study_of({**made, "id": ids}, "y", "x"), Cluster("id")))
    assert [group.said for group in found.groups[:2]] == ["a single cluster", ""]
    two = found.groups[1].fit
    assert two is not None
    assert two.n_clusters == 2
    assert two.last.inference.df == 1


def test_without_a_constant_the_levels_are_no_question() -> None:
    made, x, w, y, g = world()
    study = set_constant(study_of(made, "y", "x, w"), False)
    found = asked(study)
    total = 0.0
    for group in found.groups:
        here = g == group.code
        xs = np.column_stack([x[here], w[here]])
        b, *_ = np.linalg.lstsq(xs, y[here], rcond=None)
        total += float(np.sum((y[here] - xs @ b) ** 2))
        assert group.fit is not None
        np.testing.assert_allclose(group.fit.last.b[1:], b, rtol=1e-9)
    k = len(found.groups)
    b, *_ = np.linalg.lstsq(np.column_stack([x, w]), y, rcond=None)
    common = float(np.sum((y - np.column_stack([x, w]) @ b) ** 2))
    df1, df2 = 2 * (k - 1), y.size - 2 * k
    assert found.test.f == pytest.approx((common - total) / df1 / (total / df2), rel=1e-9)


def test_in_words() -> None:
    made, *_ = world()
    study = set_by(treat(study_of(made, "y", "x, g; w"), ["x"], CENTERED), "g")
    fit = fit_of(study)
    read = GroupReader(study, fit, by_group(study, study.model, fit))
    assert read.headline().startswith("Taken together, the coefficients ")
    assert "(the products with g in one model of all groups" in read.headline()
    assert read.zeros().startswith(
        f"The zero points are those of all {fit.cases.n} cases of the model in every group: at average x"
    )
    assert read.left() == "g stands in no group's model, because it contains g itself."
    assert read.about_term(0).startswith("The coefficient of x differs between the groups of g: F(")
    assert read.about_term(0).endswith("unadjusted.")
    only = read.reader(read.found.groups[0])
    assert only is not None
    assert "per further unit of x, y is" in only.coefficient(0, 0).lower()


def test_a_group_that_is_none_any_longer_is_no_longer_asked_for() -> None:
    made, *_ = world()
    study = set_by(study_of({**made, "site": [float(i % 3 + 1) for i in range(len(made["y"]))]}, "y", "x"), "g")
    with pytest.raises(StudyError, match="is not a group"):
        set_by(study, "x")
    assert set_by(study, None).model.by is None
    assert set_by(study, "g") is study
    gone = replace(
        study,
        variables=tuple(replace(v, kind=study.variable("x").kind) if v.name == "g" else v for v in study.variables),
    )
    assert made_whole(gone).model.by is None


def test_reading_again_without_the_group_says_that_its_models_are_gone() -> None:
    made, *_ = world()
    study = set_by(study_of(made, "y", "x"), "g")
    kept = Table(tuple(c for c in study.table.columns if c.name != "g"))
    again, change = with_table(study, kept, Source())
    assert again.model.by is None
    assert gone_names(study, change.dropped) == ["one model per group of g"]


def test_a_sample_without_a_case_says_so() -> None:
    made, *_ = world()
    study = set_rule(study_of(made, "y", "x"), AtLeast("x", 1e9))
    assert evaluate(study).problem == "No case of the table is in the sample."


def test_as_many_groups_as_stand_side_by_side_are_allowed(monkeypatch: pytest.MonkeyPatch) -> None:
    made, *_ = world()
    k = len(set(made["g"]))
    monkeypatch.setattr("yellow_slope.core.fit.asked.bygroup.MOST_GROUPS", k)
    assert len(asked(study_of(made, "y", "x")).groups) == k
    monkeypatch.setattr("yellow_slope.core.fit.asked.bygroup.MOST_GROUPS", k - 1)
    with pytest.raises(StudyError, match=f"has {k} levels; at most {k - 1} models"):
        asked(study_of(made, "y", "x"))


def test_zero_points_are_said_where_a_number_is_asked_at_them() -> None:
    made, *_ = world()
    study = set_by(treat(study_of(made, "y", "x, w, g"), ["x", "w"], CENTERED), "g")
    plain = GroupReader(study, fit_of(study), by_group(study, study.model, fit_of(study)))
    assert not plain.has_products
    assert plain.zeros(0) == plain.zeros(1) == plain.zeros(-2) == ""
    assert "at average x (4.81) and at average w (3.06)" in plain.zeros(-1)
    study = set_by(treat(study_of(made, "y", "x, w, g; x*w; w*w"), ["x", "w"], CENTERED), "g")
    read = GroupReader(study, fit_of(study), by_group(study, study.model, fit_of(study)))
    names = [column.term.variables for column in read.inner_columns]
    assert read.has_products
    assert read.zeros(names.index(("x",))).endswith(": at average w (3.06).")
    assert read.zeros(names.index(("w",))).endswith(": at average x (4.81) and at average w (3.06).")
    assert read.zeros(names.index(("x", "w"))) == ""
