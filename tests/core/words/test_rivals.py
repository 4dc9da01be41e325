"""What is said of rivals is what they say."""

from __future__ import annotations

import re

import numpy as np
import pytest

from tests.support.worlds import fit_of, noise_world, study_of, term
from yellow_slope.core.fit.asked.leftout import without_each
from yellow_slope.core.stand.checked import checked
from yellow_slope.core.stand.rivals import AnyOneOut, WithoutFar
from yellow_slope.core.stand.standing import ProductAsked, Stand, stand_of
from yellow_slope.core.study.checks import Check, FarBy
from yellow_slope.core.study.edits.models import set_errors
from yellow_slope.core.study.edits.samples import set_aside
from yellow_slope.core.study.standarderrors import HC, Bootstrap, Classical, Cluster, Errors, IntervalWay
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.sentences.checks import advice, answer, check_named, check_title, remark
from yellow_slope.core.words.sentences.rivals import (
    base_story,
    in_passing,
    rival_name,
    rival_story,
    row_cells,
    stand_decimals,
    stand_sentence,
)
from yellow_slope.core.words.spelling.numerals import p_equals


def world(pull: float) -> Study:
    """A product that one case makes."""
    rng = np.random.default_rng(3)
    n = 40
    columns = {name: rng.normal(size=n) for name in ("x", "w", "y")}
    columns["x"][11], columns["w"][11], columns["y"][11] = 3.0, 3.0, pull
    groups = [("low", "middle", "high")[k % 3] for k in range(n)]
    return study_of({**columns, "g": groups}, "y", "x, w, g; x*w, x*g")


def stood(study: Study, product: str = "x*w") -> Stand:
    return stand_of(study, fit_of(study), 1, ProductAsked(term(product)))


def story(study: Study, kind: type, product: str = "x*w") -> str:
    stand = stood(study, product)
    return rival_story(study, fit_of(study), stand, next(r for r in stand.rows if isinstance(r.rival, kind)))


def test_the_range_and_the_row_are_those_of_the_refits() -> None:
    study = world(20.0)
    fit = fit_of(study)
    (column,) = fit.design.columns_of(term("x*w"))
    found = without_each(fit, 1, np.eye(len(fit.design.columns) + 1)[column + 1], 0.95)
    text = story(study, AnyOneOut)
    low, high = (float(t.replace("−", "-")) for t in re.findall(r"between (\S+) and (\S+?),", text)[0])
    assert low == pytest.approx(float(found.effect.min()), abs=0.006)
    assert high == pytest.approx(float(found.effect.max()), abs=0.006)
    assert "it changes most without row 12" in text
    assert fit.last.p[column + 1] < 0.05 < found.p[11]
    assert ("It is no longer significant without row 12." in text) is bool((found.p > 0.05).sum() == 1)


def test_a_row_that_is_named_has_its_own_p() -> None:
    """The row without which the conclusion is another is the one that turns it furthest, and the p is that without
    it, by the model's own errors."""
    turned = 0
    for seed in range(60):
        errors: list[Errors] = [Classical(), HC(3), HC(2), Cluster("c")]
        data = noise_world(seed, 60)
        data["c"] = np.array([f"c{i % 12}" for i in range(60)])
        study = set_errors(study_of(data, "y", "x, w; x*w"), errors[seed % 4])
        fit, stand = fit_of(study), stood(study)
        (row,) = (r for r in stand.rows if isinstance(r.rival, AnyOneOut))
        assert row.range is not None
        if not row.range.turns:
            continue
        turned += 1
        case = row.range.turns[0]
        said = in_passing(study, fit, row)
        assert f"row {int(fit.cases.rows[case]) + 1}" in said
        own = fit_of(set_aside(study, [int(fit.cases.rows[case])], "out"))
        column = fit.design.columns_of(term("x*w"))[0]
        assert row.range.p_turned == pytest.approx(own.last.p[column + 1], rel=1e-6)
        assert (row.range.p_turned < 0.05) is not bool(fit.last.p[column + 1] < 0.05)
    assert turned > 3


def test_what_is_not_resampled_is_said_and_held_against_its_like(monkeypatch: pytest.MonkeyPatch) -> None:
    study = set_errors(world(20.0), Bootstrap(IntervalWay.PERCENTILE, 1000))
    assert "not resampled" not in story(study, WithoutFar), "where nobody has to wait it is resampled"
    stand = stood(study)
    (far,) = (r for r in stand.rows if isinstance(r.rival, WithoutFar) and r.rival.by is FarBy.STUDENTIZED)
    own = fit_of(set_aside(study, far.rival.rows, "far"))  # type: ignore[union-attr]
    (column,) = own.design.columns_of(term("x*w"))
    assert far.standing.p == own.last.p[column + 1]
    monkeypatch.setattr("yellow_slope.core.stand.standing.QUICK", 0.0)
    slow = stood(study)
    assert slow.formula is not None
    assert slow.formula.p == fit_of(set_errors(study, Classical())).last.p[column + 1]
    said = f"not resampled but computed with standard errors by formula (in the model {p_equals(slow.formula.p)})."
    assert said in story(study, WithoutFar)
    for row in slow.rows:
        if row.by_formula and np.isfinite(row.standing.p):
            same = (row.standing.p < 0.05) == (slow.formula.p < 0.05)
            assert slow.same_conclusion(row) is bool(same)
    (row,) = (r for r in stand.rows if isinstance(r.rival, AnyOneOut))
    assert row.range is not None
    assert stand.same_conclusion(row) is None
    assert "without a p (it does not exist for resamples)" in rival_story(study, stand.fit, stand, row)


def test_the_leading_sentence_counts_the_rows() -> None:
    study = world(20.0)
    stand, fit = stood(study), fit_of(study)
    said = stand_sentence(study, fit, stand)
    signs = [s for row in stand.rows if (s := stand.keeps_sign(row)) is not None]
    same = [s for row in stand.rows if (s := stand.same_conclusion(row)) is not None]
    kept = f"kept its sign in {sum(signs)} of {len(signs)} robustness checks and was significant in {sum(same)} of them"
    assert said.startswith(f"The interaction {kept}. The exceptions were the analyses ")
    turned = [row for row in stand.rows if stand.same_conclusion(row) is False]
    assert turned
    assert "without row 12" in said
    assert said.endswith("One check is still being resampled.")
    quiet = world(0.5)
    assert "was not significant in the model (p = " in stand_sentence(quiet, fit_of(quiet), stood(quiet))
    of_set = stand_sentence(study, fit, stood(study, "x*g"))
    assert "kept its sign" not in of_set


@pytest.mark.parametrize("product", ["x*w", "x*g"])
def test_the_foot_says_the_figures_of_the_row(product: str) -> None:
    study = study_of(noise_world(2), "y", "x, w, z, g, d; x*w, x*g")
    stand, fit = stood(study, product), fit_of(study)
    digits = stand_decimals(stand)
    names = [rival_name(study, row.rival) for row in stand.rows]
    assert len(set(names)) == len(names)
    for row in stand.rows:
        b, ends, p, n = row_cells(stand, row, digits)
        told = rival_story(study, fit, stand, row)
        assert n.replace(",", "").isdigit()
        if row.why or row.standing.is_waiting or row.range is not None:
            continue
        assert told[0].isupper()
        assert not re.search(r"\bnan\b|\binf\b|None", told)
        if product == "x*w" and row.has_units:
            assert f"{b} (95% CI {ends})" in told
        elif product == "x*g":
            assert f"= {b}, p" in told
            assert p.lstrip("= ") in told
    assert base_story(study, stand).startswith("In the model, ")


def test_nobody_beyond_is_no_sentence_about_figures() -> None:
    study = study_of({n: np.linspace(0, 1, 30) ** k for n, k in (("x", 1), ("w", 2), ("y", 3))}, "y", "x, w; x*w")
    stand = stood(study)
    row = next(r for r in stand.rows if isinstance(r.rival, WithoutFar) and r.rival.by is FarBy.DISTANCE)
    assert rival_story(study, fit_of(study), stand, row).endswith("No case exceeds D² 13.8.")


def test_each_question_is_answered_in_words() -> None:
    study = study_of(noise_world(2), "y", "x, w, z, g, d; x*w, x*g")
    fit = fit_of(study)
    asked = ProductAsked(term("x*w"))
    found, stand = checked(study, fit, 1, asked), stood(study)
    for check in Check:
        assert answer(check, found, stand)
        assert remark(check, found, stand).endswith((".", ")"))
        assert check_title(check)[0].isupper()
        assert len(check_title(check)) <= 18, "it stands whole over a small plot"
        assert advice(check).endswith(".")
        assert check_named(check_title(check)) is check
        assert check_named(check.value.upper()) is check
    with pytest.raises(Exception, match="There is no check “colour”"):
        check_named("colour")


def test_without_a_product_or_errors_the_questions_say_so() -> None:
    study = study_of(noise_world(2), "y", "x, w, g")
    found = checked(study, fit_of(study), 0, None)
    for check in (Check.MOVES, Check.OWN, Check.STRAIGHT):
        assert not re.search(r"\bnan\b", remark(check, found, None))
    assert "no product" in remark(Check.STRAIGHT, found, None)
    x = np.arange(12.0)
    perfect = study_of({"x": x, "w": x % 3, "y": 1 + 2 * x}, "y", "x, w; x*w")
    told = checked(perfect, fit_of(perfect), 1, ProductAsked(term("x*w")))
    for check in Check:
        assert "nan" not in remark(check, told, None)
        assert "nan" not in answer(check, told, None)
    assert "cannot be studentized" in remark(Check.NORMAL, told, None)
    assert np.isnan(told.order.d), "what a perfect fit leaves is rounding"
    assert answer(Check.ORDER, told, None) == ""
    assert "Whether a case exceeds Cook's 4/n cannot be determined" in remark(Check.PULL, told, None)
