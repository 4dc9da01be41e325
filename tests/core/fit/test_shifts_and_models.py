"""Why coefficients change between steps, what models are to each other, and how far to trust a product."""

from __future__ import annotations

import math
from fractions import Fraction
from itertools import combinations

import numpy as np
import pytest

from tests.support import oracle
from tests.support.exactdesigns import columns, fractions
from tests.support.worlds import fit_of, noise_world, study_of, term
from yellow_slope.core.errors import StudyError
from yellow_slope.core.fit.asked.comparing import compare
from yellow_slope.core.fit.asked.covariatetrials import covariate_trials
from yellow_slope.core.fit.asked.matching import matched, matched_step
from yellow_slope.core.fit.asked.relations import Relation
from yellow_slope.core.fit.asked.reliability import product_reliability, reliability_of
from yellow_slope.core.fit.asked.shifts import shift_of
from yellow_slope.core.fit.fitted.evaluate import evaluate
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.study.coding import Adjacent, Effect
from yellow_slope.core.study.edits.blocks import enter, switch_block
from yellow_slope.core.study.edits.descriptions import set_reliability
from yellow_slope.core.study.edits.entries import set_coding, set_reference, treat
from yellow_slope.core.study.edits.models import set_errors
from yellow_slope.core.study.standarderrors import HC, Bootstrap, Classical, Cluster, Errors
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.treatment import CENTERED, STANDARDIZED, At, Treatment
from yellow_slope.core.told.steps import StepFigure, step_figures, step_line
from yellow_slope.core.words.sentences.coefficients import Reader
from yellow_slope.core.words.sentences.models import models_sentence, what_differs
from yellow_slope.core.words.sentences.shifts import shift_sentence
from yellow_slope.core.words.sentences.steps import headline, smallest_sentence, step_sentence
from yellow_slope.files.spec import study_from
from yellow_slope.files.study.studyfile import packed, unpacked
from yellow_slope.values import replace


@pytest.mark.parametrize("seed", range(6))
@pytest.mark.parametrize("blocks", ["x, g; w; x*w, x*g", "x; z, w; d, x*d; x*w, w*d", "z; x, w; x*x"])
def test_the_parts_of_a_change_are_those_of_the_left_out_columns(seed: int, blocks: str) -> None:
    study = treat(study_of(noise_world(seed), "y", blocks), ["w"], CENTERED)
    fit = fit_of(study)
    x = np.column_stack([np.ones(fit.y.size), fit.x])
    for step in range(1, len(fit.steps)):
        m0, m1 = fit.steps[step - 1].n_columns + 1, fit.steps[step].n_columns + 1
        old = np.linalg.lstsq(x[:, :m0], fit.y, rcond=None)[0]
        new = np.linalg.lstsq(x[:, :m1], fit.y, rcond=None)[0]
        delta = np.linalg.lstsq(x[:, :m0], x[:, m0:m1], rcond=None)[0]
        for j in range(m0 - 1):
            found = shift_of(fit, step, j)
            assert found is not None
            assert found.change == pytest.approx(new[j + 1] - old[j + 1], rel=1e-8, abs=1e-9)
            assert sum(v for _, v in found.parts) == pytest.approx(found.change, rel=1e-8, abs=1e-9)
            passed = [fit.steps[i].p[j + 1] < 0.05 for i in (step - 1, step)]
            assert found.turns == (passed[0] != passed[1])
            by_term: dict[object, float] = {}
            for k, column in enumerate(fit.design.columns[m0 - 1 : m1 - 1]):
                by_term[column.term] = by_term.get(column.term, 0.0) - delta[j + 1, k] * new[m0 + k]
            assert dict(found.parts) == pytest.approx(by_term, rel=1e-7, abs=1e-9)
            sizes = [abs(v) for _, v in found.parts]
            assert sizes == sorted(sizes, reverse=True)
        assert shift_of(fit, step, m0 - 1) is None, "a column that came in was nothing before"
    assert shift_of(fit, 0, 0) is None


def test_a_change_says_why_in_numbers(demo: Study) -> None:
    fit = fit_of(demo)
    read = Reader(demo, fit, demo.model)
    practice = fit.design.columns_of(term("practice"))[0]
    said = shift_sentence(read, 2, practice)
    found = shift_of(fit, 2, practice)
    assert found is not None
    assert said.startswith(f"In step 2 it was {found.before:.2f}. Of the change of −")
    assert "is due to practice × coaching" in said
    assert "it is now the effect in the group “none”" in said
    worry = fit.design.columns_of(term("worry"))[0]
    small = shift_of(fit, 1, worry)
    assert small is not None
    assert (shift_sentence(read, 1, worry) != "") == small.is_much


def test_shared_variance_is_named_as_that() -> None:
    rng = np.random.default_rng(3)
    x = rng.normal(size=200)
    w = 0.9 * x + 0.3 * rng.normal(size=200)
    y = 2 * w + rng.normal(size=200)
    study = study_of({"x": x, "w": w, "y": y}, "y", "x; w")
    fit = fit_of(study)
    said = shift_sentence(Reader(study, fit, study.model), 1, 0)
    assert "is variance shared with w" in said
    assert "goes through" not in said


def test_a_turn_alone_is_much() -> None:
    rng = np.random.default_rng(11)
    n = 400
    x = rng.normal(size=n)
    y = 0.1 * x + 4 * rng.normal(size=n)
    z = y + rng.normal(size=n)
    fit = fit_of(study_of({"x": x, "z": z, "y": y}, "y", "x; z"))
    found = shift_of(fit, 1, 0)
    assert found is not None
    assert found.turns == ((fit.steps[0].p[1] < 0.05) != (fit.steps[1].p[1] < 0.05))
    assert replace(found, turns=True).is_much


# ---- models


def dressed(study: Study) -> Study:
    return treat(set_reference(study, "g", "top"), ["x"], Treatment(zero=At(2.0)))


@pytest.mark.parametrize("seed", range(3))
def test_of_twins_some_tests_stay_and_others_change(seed: int) -> None:
    study = set_reference(study_of(noise_world(seed), "y", "x, w; x*w, g"), "g", "low")
    first = fit_of(study)
    moved = treat(study, ["x"], STANDARDIZED)
    found = compare(first, fit_of(moved))
    assert found.relation is Relation.TWINS
    names = [first.design.columns[j].term for j in found.stay]
    assert term("x*w") in names
    assert term("x") in names, "w has its zero where it had it"
    assert [first.design.columns[j].term for j in found.change] == [term("w")]
    assert [(m.variable, m.own) for m in found.moved] == [("x", 0.0)]
    for j in found.stay:
        assert fit_of(moved).last.t[j + 1] == pytest.approx(first.last.t[j + 1], rel=1e-9)
    said = models_sentence(study, study.model, first, replace(study.model, id="m2", name="z"), fit_of(moved))
    assert said.startswith("“z” is an equivalent model")
    assert "4 tests of single columns are the same, 1 differs, because zero points differ: x 0.0" in said


def test_other_comparisons_ask_something_else() -> None:
    study = study_of(noise_world(1), "y", "x, g; x*g")
    other = set_coding(study, "g", Effect())
    found = compare(fit_of(study), fit_of(other))
    assert found.relation is Relation.TWINS
    assert len(found.alone) == 4
    said = models_sentence(study, study.model, fit_of(study), replace(other.model, id="m2", name="e"), fit_of(other))
    assert "The joint tests of g and x × g are the same." in said
    assert found.sets_stay == (term("g"), term("x*g"))
    moved = compare(fit_of(study), fit_of(treat(study, ["x"], STANDARDIZED)))
    assert moved.sets_stay == (term("x*g"),), "the set g alone is a test at another place of x"
    assert moved.sets_change == (term("g"),)
    assert "4 coefficients refer to other values there" in said
    assert "g is compared otherwise" in said


@pytest.mark.parametrize("seed", range(4))
def test_nested_models_are_tested_by_their_sums_of_squares(seed: int) -> None:
    data = columns(seed)
    small, large = study_of(data, "y", "x, w"), study_of(data, "y", "w, x, c; x*w")
    exact = []
    for keys in (("x", "w"), ("x", "w", "c")):
        rows = [[Fraction(1), *(Fraction(int(data[k][i])) for k in keys)] for i in range(36)]
        if len(keys) == 3:
            rows = [[*row, row[1] * row[2]] for row in rows]
        exact.append(oracle.exact_fit(rows, fractions(data["y"])))
    f = ((exact[0].sse - exact[1].sse) / 2) / (exact[1].sse / exact[1].df)
    for one, other, wanted in ((small, large, Relation.INSIDE), (large, small, Relation.AROUND)):
        found = compare(fit_of(one), fit_of(other))
        assert found.relation is wanted
        assert found.test is not None
        assert found.test.f == pytest.approx(float(f), rel=1e-10)
        assert (found.test.df1, found.test.df2) == (2, 31)
        assert found.test.p == pytest.approx(float(oracle.f_p(oracle.mp(f), 2, 31)), rel=1e-8)
    said = models_sentence(small, small.model, fit_of(small), replace(large.model, id="m2", name="big"), fit_of(large))
    assert said.startswith("This model is nested in “big”, which adds 2 columns: F(2, 31) = ")


@pytest.mark.parametrize("errors", [HC(3), HC(0), Cluster("id"), Classical()])
def test_nested_models_are_tested_by_the_larger_ones_errors(errors: Errors) -> None:
    """As the ladder tests a block, also where the smaller model is dressed otherwise and a column is left out."""
    data = noise_world(2)
    data["id"] = np.arange(len(data["y"])) // 4
    data["twice"] = 2 * data["x"]
    large = set_errors(study_of(data, "y", "x, w, twice; x*w, x*g"), errors)
    small = treat(set_errors(study_of(data, "y", "w, x"), errors), ["x", "w"], STANDARDIZED)
    whole = fit_of(large)
    found = compare(fit_of(small), whole)
    assert found.relation is Relation.INSIDE
    assert found.test is not None
    block = whole.last.change.test
    assert (found.test.df1, found.test.df2) == (block.df1, block.df2)
    assert found.test.f == pytest.approx(block.f, rel=1e-8)


def test_models_that_cannot_be_compared_say_why() -> None:
    data = noise_world(1)
    study = study_of(data, "y", "x, w")
    holes = {n: v.copy() for n, v in data.items()}
    holes["w"][3] = np.nan
    fewer = study_of(holes, "y", "x, w")
    kept = replace(study.model, id="m2", name="kept")
    said = models_sentence(study, study.model, fit_of(study), kept, fit_of(fewer))
    assert "rests on 79 cases, this model on 80 cases: other cases" in said
    assert "another outcome" in models_sentence(
        study, study.model, fit_of(study), kept, fit_of(study_of(data, "z", "x, w"))
    )
    apart = study_of(data, "y", "x, z")
    said = models_sentence(study, study.model, fit_of(study), kept, fit_of(apart))
    better = "this model" if fit_of(study).last.aic < fit_of(apart).last.aic else "“kept”"
    assert f"By AIC {better} is better" in said
    assert what_differs(study, study.model, replace(kept, level=0.9, constant=False)) == [
        "90% intervals",
        "no intercept",
    ]


def test_columns_are_matched_by_what_they_ask() -> None:
    one, other = study_of(noise_world(1), "y", "x, g; x*g"), study_of(noise_world(1), "y", "g; z, x; g*x; z*x")
    a, b = fit_of(one), fit_of(set_reference(other, "g", "low"))
    pairs = matched(a, b)
    assert pairs[-1] == -1
    assert {a.design.columns[j].term for j in pairs if j >= 0} == {term("x"), term("g"), term("x*g")}
    for j, k in pairs.items():
        if j >= 0:
            assert a.design.columns[j].term == b.design.columns[k].term
    assert matched(a, fit_of(set_coding(other, "g", Adjacent())))[0] is not None
    assert len(matched(a, fit_of(set_reference(other, "g", "top")))) == 2, "the constant and x"
    assert [matched_step(k, a, b) for k in range(2)] == [0, 3]
    assert [matched_step(k, b, a) for k in range(4)] == [0, None, None, 1]


# ---- trust


def test_the_reliability_of_a_product() -> None:
    assert product_reliability(0.8, 0.8, 0.0) == pytest.approx(0.64)
    assert product_reliability(0.8, 0.7, 0.5) == pytest.approx((0.56 + 0.25) / 1.25)
    assert product_reliability(1.0, 1.0, 0.3) == pytest.approx(1.0)
    study = study_of(noise_world(2), "y", "x, w; x*w, x*x, x*z*w")
    fit = fit_of(study)
    found = reliability_of(study, fit, term("x*w"))
    assert found is not None
    assert found.product is None
    assert found.attenuation is None
    study = set_reliability(set_reliability(study, "x", 0.9), "w", 0.7)
    found = reliability_of(study, fit_of(study), term("x*w"))
    assert found is not None
    r = float(np.corrcoef(study.columns.numbers("x"), study.columns.numbers("w"))[0, 1])
    assert found.r == pytest.approx(r)
    assert found.product == pytest.approx((0.63 + r * r) / (1 + r * r))
    assert found.attenuation == pytest.approx(math.sqrt(found.product or 0))
    for other in ("x*x", "x*z*w", "x"):
        assert reliability_of(study, fit_of(study), term(other)) is None
    assert evaluate(study, evaluate(study_of(noise_world(2), "y", "x, w; x*w, x*x, x*z*w"))).fit is not None


def test_reliabilities_are_between_0_and_1_and_are_kept() -> None:
    study = study_of(noise_world(2), "y", "x, w, g")
    for wrong in (0.0, 1.2, -0.3):
        with pytest.raises(StudyError, match="between 0 and 1"):
            set_reliability(study, "x", wrong)
    with pytest.raises(StudyError, match="only a scale"):
        set_reliability(study, "g", 0.8)
    kept = set_reliability(study, "x", 0.82)
    assert unpacked(packed(kept), "again.yslope").variable("x").reliability == 0.82
    assert evaluate(kept, before := evaluate(study)).fit is before.fit, "what is known of a scale changes no fit"


def test_each_covariates_products_are_tried_in_turn() -> None:
    study = study_of(noise_world(5), "y", "x, w, z, g; x*w")
    fit = fit_of(study)
    found = covariate_trials(study, study.model, fit, term("x*w"))
    assert found.now.coefficient is not None
    own = fit.design.columns_of(term("x*w"))[0]
    assert found.now.coefficient.t == pytest.approx(fit.last.t[own + 1], rel=1e-9)
    assert {row.covariate for row in found.rows} == {"z", "g"}
    for row in found.rows:
        wide = fit_of(enter(study, row.added))
        j = wide.design.columns_of(term("x*w"))[0]
        assert row.coefficient is not None
        assert row.coefficient.b == pytest.approx(wide.last.b[j + 1], rel=1e-8)
        assert row.coefficient.p == pytest.approx(wide.last.p[j + 1], rel=1e-7)
        assert {t.key for t in row.added} == {tuple(sorted((row.covariate, f))) for f in "xw"}
    ps = [row.p for row in found.rows]
    assert ps == sorted(ps, reverse=True), "the most harmful first"


def test_a_product_that_is_not_in_the_model_is_not_tried() -> None:
    data = noise_world(4)
    data["h"] = np.where(np.arange(len(data["y"])) < 3, np.nan, data["x"] ** 2)
    study = switch_block(study_of(data, "y", "x, w, z; x*h"), 1, False)
    found = covariate_trials(study, study.model, fit_of(study), term("x*h"))
    assert found.now.why == "the product is not in the last step"
    assert found.rows == ()


def test_a_set_is_tried_by_its_joint_test_and_what_is_there_is_not_added_twice() -> None:
    study = study_of(noise_world(5), "y", "x, g, z, d; x*g, x*z; g*z")
    found = covariate_trials(study, study.model, fit_of(study), term("x*g"))
    assert found.now.test is not None
    assert [row.covariate for row in found.rows] == ["d"], "the products with z stand in the model already"
    assert found.rows[0].test is not None
    wide = fit_of(enter(study, found.rows[0].added))
    assert found.rows[0].test.f == pytest.approx(wide.last.joint[term("x*g")].f, rel=1e-8)
    booted = set_errors(study, Bootstrap(draws=1000))
    again = covariate_trials(booted, booted.model, fit_of(booted), term("x*g"))
    assert again.now.test == found.now.test, "by the errors that have a formula"


# ---- what the steps say


def test_every_figure_of_a_step_stands_in_its_line(demo: Study) -> None:
    fit = fit_of(demo)
    read = Reader(demo, fit, demo.model)
    line = step_line(read, 2)
    assert set(line.cells) == set(StepFigure)
    assert not any(cell.text == "–" for cell in line.cells.values())
    assert line.notes == {}
    assert line.said == "practice × coaching, practice × worry and returner × balance add 14.4%"
    assert step_sentence(read, 0) == "age, balance, sleep and worry explain 16.0% of the variance"
    assert "Each step adds significantly to the one before." in headline(read)
    assert smallest_sentence(read, 2).startswith("Its test detects a change in R² of .0")
    assert len(step_figures(read, 1)) == 3
    rng = np.random.default_rng(1)
    dull = study_of({"x": rng.normal(size=50), "z": rng.normal(size=50), "y": np.arange(50.0) % 7}, "y", "x; z")
    assert "nothing significant" in headline(Reader(dull, fit_of(dull), dull.model))


def test_a_line_says_why_a_figure_is_missing() -> None:
    data = columns(0)
    data["y"] = [2 * int(v) + 1 for v in data["x"]]
    study = study_of(data, "y", "x; w")
    line = step_line(Reader(study, fit_of(study), study.model), 0)
    assert line.text(StepFigure.F) == "–"
    assert "fits perfectly" in line.notes[StepFigure.F]
    assert "fits perfectly" in line.notes[StepFigure.AIC]
    assert line.text(StepFigure.AT_80) == "–"


@pytest.mark.parametrize("seed", range(3))
def test_a_step_against_exact_arithmetic(seed: int) -> None:
    """R², adjusted R², change, F, f², AIC, BIC and PRESS R² as written, from exact sums of squares."""
    data = columns(seed)
    study = study_of(data, "y", "x; w, c; x*w")
    fit = fit_of(study)
    read = Reader(study, fit, study.model)
    y = fractions(data["y"])
    n = len(y)
    rows = [
        [Fraction(1), *(Fraction(int(data[k][i])) for k in "xwc"), Fraction(int(data["x"][i]) * int(data["w"][i]))]
        for i in range(n)
    ]
    before = None
    for step, m in enumerate((2, 4, 5)):
        exact = oracle.exact_fit([row[:m] for row in rows], y)
        r2 = 1 - exact.sse / exact.total
        told = step_line(read, step).text
        assert told(StepFigure.R2) == f"{float(r2):.3f}"[1:]
        assert told(StepFigure.ADJUSTED).lstrip("−") == f"{abs(float(1 - (1 - r2) * (n - 1) / exact.df)):.3f}"[1:]
        left = [(rows[i][:m], y[i]) for i in range(n)]
        press = Fraction(0)
        for i in range(n):
            others = oracle.exact_fit(
                [r for k, (r, _) in enumerate(left) if k != i], [v for k, (_, v) in enumerate(left) if k != i]
            )
            press += (y[i] - sum((a * b for a, b in zip(rows[i][:m], others.b)), Fraction(0))) ** 2
        assert fit_press(fit, step) == pytest.approx(float(1 - press / exact.total), rel=1e-9)
        log = math.log(2 * math.pi * float(exact.sse) / n)
        assert told(StepFigure.AIC) == f"{n * log + n + 2 * (m + 1):.1f}"
        assert told(StepFigure.BIC) == f"{n * log + n + math.log(n) * (m + 1):.1f}"
        small = before if before is not None else exact.total
        q = m - (1, 2, 4)[step]
        f = ((small - exact.sse) / q) / (exact.sse / exact.df)
        assert told(StepFigure.F) == f"{float(f):.2f} ({q}, {exact.df})"
        f2 = float((small - exact.sse) / exact.sse)
        assert told(StepFigure.F2) == (f"{f2:.3f}" if f2 < 1 else f"{f2:.2f}")
        assert told(StepFigure.CHANGE) == f"{float((small - exact.sse) / exact.total):.3f}"[1:]
        before = exact.sse


def fit_press(fit: Fit, step: int) -> float:
    from yellow_slope.core.fit.asked.diagnosis import press_r2

    return press_r2(fit, step)


def test_pairs_of_models_of_any_dress() -> None:
    """Every pair of these is what its terms make it, whatever coding, centering and order."""
    base = study_of(noise_world(7), "y", "x, w, g; x*w, x*g")
    dresses = [
        base,
        treat(base, ["x", "w"], CENTERED),
        set_coding(base, "g", Effect()),
        set_coding(treat(base, ["x"], STANDARDIZED), "g", Adjacent()),
        dressed(base),
    ]
    for one, other in combinations(dresses, 2):
        assert compare(fit_of(one), fit_of(other)).relation is Relation.TWINS
        more = enter(other, [term("z")])
        assert compare(fit_of(one), fit_of(more)).relation is Relation.INSIDE


def test_a_description_gives_reliabilities(tmp_path: object) -> None:
    from pathlib import Path

    from yellow_slope.files.specdocument import SpecDocument
    from yellow_slope.files.study.typed import from_json

    folder = Path(str(tmp_path))
    (folder / "t.csv").write_text("x,w,y\n" + "\n".join(f"{i % 7},{i % 5},{i}" for i in range(40)))
    spec = from_json(
        {"variables": {"x": {"reliability": 0.8}}, "outcome": "y", "blocks": [[["x"], ["w"]]], "reported": 1},
        SpecDocument,
        "spec",
    )
    study = study_from(folder / "t.csv", spec)
    assert study.variable("x").reliability == 0.8
    assert study.model.reported == study.model.steps[0].id


def test_an_untouched_copy_is_said_to_be_one() -> None:
    study = study_of(noise_world(70), "y", "x, w; x*w")
    fit, copy = fit_of(study), replace(study.model, id="m2", name="copy")
    both = replace(study, models=(study.model, copy))
    said = models_sentence(both, study.model, fit, copy, fit)
    assert said == "“copy” is an unchanged copy of this model."
    other = replace(copy, level=0.9)
    assert "equivalent model" in models_sentence(both, study.model, fit, other, fit)


def test_a_test_that_one_model_lacks_is_another() -> None:
    """A case alone in its group: HC3 does not exist there, and nothing of it is the same as the classical test."""
    n = 30
    world = {"x": np.arange(float(n)), "g": ["a"] * (n - 1) + ["b"], "y": np.cos(np.arange(n) * 1.7)}
    study = study_of(world, "y", "x, g")
    one, other = fit_of(study), fit_of(set_errors(study, HC(3)))
    for a, b in ((one, other), (other, one)):
        found = compare(a, b)
        assert found.stay == ()
        assert found.change == (0, 1)
    both = compare(other, fit_of(set_errors(study, HC(2))))
    assert both.stay == (0, 1), "neither has one"
