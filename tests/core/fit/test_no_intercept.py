"""Models without an intercept: when one is meant, what stands in its place, and that nothing goes through the origin
without a word."""

from __future__ import annotations

import numpy as np
import pytest
from scipy import stats

from tests.support.worlds import fit_of, noise_world, study_of, term
from yellow_slope.core.fit.asked.assumptions import spread_of
from yellow_slope.core.fit.asked.bygroup import by_group
from yellow_slope.core.fit.asked.relations import Relation, relation
from yellow_slope.core.fit.fitted.evaluate import evaluate
from yellow_slope.core.flags import flags_of
from yellow_slope.core.quickline import read_line, write_line
from yellow_slope.core.study.edits.models import set_by, set_constant, set_errors
from yellow_slope.core.study.flagkeys import FlagKind
from yellow_slope.core.study.standarderrors import HC, Bootstrap, Cluster, Errors
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.sentences.coefficients import Reader
from yellow_slope.core.words.sentences.findings import findings


def world(seed: int = 5) -> dict[str, object]:
    rng = np.random.default_rng(seed)
    data: dict[str, object] = dict(noise_world(seed))
    g = np.array([str(v) for v in rng.choice(list("abc"), 80)])
    data |= {"g": g, "c": np.array([f"k{i % 11}" for i in range(80)])}
    data |= {f"d{level}": (g == level).astype(float) for level in "abc"}
    return data


def say(study: Study, line: str) -> Study:
    reading = read_line(study, line)
    assert reading.mistake is None, reading.mistake
    return reading.apply(study)


def start() -> Study:
    return study_of(world(), "y", "x")


def flag(study: Study):  # type: ignore[no-untyped-def]
    return next((f for f in flags_of(evaluate(study)) if f.key.kind is FlagKind.NO_INTERCEPT), None)


def test_a_line_that_says_a_whole_model_restores_the_intercept() -> None:
    means = say(start(), "y = g as level means")
    assert not means.model.constant
    after = read_line(means, "y = x centered, w centered; x x w")
    assert "with an intercept" in after.summary(means).text
    study = after.apply(means)
    assert study.model.constant
    assert flag(study) is None
    assert say(study, "y = g, x").model.constant, "level means of a group that had left do not come back by themselves"
    assert not say(means, "y = g, x").model.constant, "those of a group that stays do"
    assert not say(means, "x").model.constant, "a line that only adds changes nothing of it"
    assert not say(start(), "y = x, no intercept").model.constant
    assert say(say(start(), "y = x, no intercept"), "y = w, with an intercept").model.constant


@pytest.mark.parametrize("line", ["y = g as level means, x", "y = x, w, no intercept", "y = da, db, dc, no intercept"])
def test_a_model_without_one_reads_back_and_carries_a_flag(line: str) -> None:
    study = say(start(), line)
    written = write_line(study)
    assert say(start(), written).model.blocks == study.model.blocks
    assert not say(start(), written).model.constant
    raised = flag(study)
    assert raised is not None
    (remedy,) = raised.remedies
    other = evaluate(remedy.edit(study)).fit
    assert other is not None
    assert other.design.constant
    is_twin = relation(fit_of(study), other) is Relation.TWINS
    assert is_twin is ("w" not in study.model.variables)
    assert ("same fit" in raised.cost) is is_twin
    assert ("through the origin" in raised.cost) is not is_twin


def test_columns_of_0_and_1_are_told_as_means() -> None:
    study = say(start(), "y = da, db, dc, no intercept")
    fit, data = fit_of(study), world()
    read = Reader(study, fit, study.model)
    y, g = np.asarray(data["y"]), np.asarray(data["g"])
    for j, level in enumerate("abc"):
        mean = y[g == level].mean()
        assert fit.last.b[j + 1] == pytest.approx(mean)
        text = read.coefficient(0, j)
        assert text.startswith(f"y is {mean:.2f}".replace("-", "−")), text
        assert "higher" not in text
        assert "lower" not in text
        assert " vs " not in read.column_name(j)
    assert "compared with" not in str(findings(evaluate(study), fit, [])[0].text)


def test_one_model_per_group_of_level_means_has_an_intercept() -> None:
    study = set_by(say(start(), "y = g as level means, x"), "g")
    fit, data = fit_of(study), world()
    x, y, g = (np.asarray(data[name]) for name in ("x", "y", "g"))
    found = by_group(study, study.model, fit)
    assert found.model.constant
    for group in found.groups:
        assert group.fit is not None
        here = g == group.code
        slope, level = np.polyfit(x[here], y[here], 1)
        assert group.fit.last.b == pytest.approx([level, slope])
    assert not by_group(
        *(lambda s: (s, s.model, fit_of(s)))(set_by(say(start(), "y = x, no intercept"), "g"))
    ).model.constant


@pytest.mark.parametrize(
    "line", ["y = x, w", "y = x, w, no intercept", "y = da, db, dc, x, no intercept", "y = g as level means, x"]
)
def test_breusch_pagan_counts_what_says_more_than_the_constant(line: str) -> None:
    study = say(start(), line)
    fit = fit_of(study)
    residual = fit.y - fit.predicted(0)
    x = np.column_stack([np.ones(fit.y.size), fit.x])
    squares = residual**2
    fitted = x @ np.linalg.lstsq(x, squares, rcond=None)[0]
    total = float(np.sum((squares - squares.mean()) ** 2))
    chi = fit.y.size * float(np.sum((fitted - squares.mean()) ** 2)) / total
    df = int(np.linalg.matrix_rank(x)) - 1
    test = spread_of(fit, 0, residual).test
    assert (test.f, test.df1) == (pytest.approx(chi), df)
    assert test.p == pytest.approx(float(stats.chi2.sf(chi, df)))


ERRORS: list[Errors] = [HC(0), HC(3), Cluster("c"), Bootstrap(draws=1000)]


@pytest.mark.parametrize("errors", ERRORS)
@pytest.mark.parametrize("lines", ["y = g as level means, x", "y = da, db, dc, x, no intercept"])
def test_a_block_of_level_means_is_tested_as_its_twin_with_an_intercept(errors: Errors, lines: str) -> None:
    """Whether the levels differ, not whether they are 0."""
    means, twin = say(start(), lines), say(start(), "y = g, x")
    one, other = fit_of(set_errors(means, errors)), fit_of(set_errors(twin, errors))
    for mine, its in ((one.last.change.test, other.last.change.test), (one.last.whole, other.last.whole)):
        assert (mine.df1, mine.df2) == (its.df1, its.df2)
        assert mine.p == pytest.approx(its.p, rel=1e-6)
        assert mine.f == pytest.approx(its.f, rel=1e-6, nan_ok=True)


def test_the_sum_of_the_columns_need_not_be_one_of_0_and_1() -> None:
    data = world()
    half = {f"h{level}": np.asarray(data[f"d{level}"], dtype=float) * 2.5 for level in "abc"}
    study = set_constant(study_of({**data, **half}, "y", "ha, hb, hc"), False)
    fit = fit_of(study)
    assert fit.last.about_mean
    assert fit.means_columns() == frozenset(), "of columns of 0 and 2.5 b is no mean"
    product = set_constant(study_of(data, "y", "da, db, dc; dc*x"), False)
    assert fit_of(product).means_columns() == frozenset({0, 1, 2})
    assert term("dc*x") in product.model.terms
