"""Flags are raised where they must be, say their cost, and their remedies make them go away."""

from __future__ import annotations

import importlib
import inspect
import pkgutil
from collections.abc import Iterator
from typing import get_type_hints

import numpy as np
import pytest

from tests.support.worlds import fit_of, noise_world, study_of, term
from yellow_slope.core import flags
from yellow_slope.core.data.variable import Kind
from yellow_slope.core.fit.fitted.evaluate import Evaluation, evaluate
from yellow_slope.core.flags import FLAGS, Flag, flags_of
from yellow_slope.core.study.edits.blocks import enter, take_out
from yellow_slope.core.study.edits.computed import derive
from yellow_slope.core.study.edits.dismissals import dismiss
from yellow_slope.core.study.edits.entries import set_reference
from yellow_slope.core.study.flagkeys import FlagKey, FlagKind
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.treatment import CENTERED
from yellow_slope.core.words.spelling.numerals import bounded


def raised(study: Study) -> dict[str, Flag]:
    return {flag.key.text: flag for flag in flags_of(evaluate(study))}


def coded_world() -> dict[str, np.ndarray]:
    world = noise_world(21)
    world["site"] = np.arange(80) % 3 + 1.0
    return world


def test_a_code_used_as_a_quantity() -> None:
    study = study_of(coded_world(), "y", "x, site")
    flag = raised(study)["code site"]
    assert "3 whole values" in flag.cost
    treated = flag.remedies[0].edit(study)
    assert treated.variable("site").kind is Kind.GROUP
    assert bounded(fit_of(treated).last.r2) in flag.cost
    assert bounded(fit_of(study).last.r2) in flag.cost
    assert "code site" not in raised(treated)


@pytest.mark.parametrize("values", [np.arange(80) % 14 * 1.0, np.arange(80) % 3 + 0.5, np.arange(80) % 2 * 1.0])
def test_many_values_fractions_and_indicators_are_no_codes(values: np.ndarray) -> None:
    assert "code v" not in raised(study_of({**noise_world(22), "v": values}, "y", "v"))


def test_a_product_without_its_parts() -> None:
    study = study_of(noise_world(23), "y", "x; x*w")
    flag = raised(study)["parts of w x x"]
    assert flag.term == term("x*w")
    assert "without w" in flag.title
    mended = flag.remedies[0].edit(study)
    assert mended.model.block_of(term("w")) == 0
    assert "parts of w x x" not in raised(mended)
    assert term("x*w") not in flag.remedies[1].edit(study).model.terms


def test_a_product_in_the_first_block_gets_its_parts_before_it() -> None:
    study = study_of(noise_world(24), "y", "x*w")
    mended = raised(study)["parts of w x x"].remedies[0].edit(study)
    assert [block.terms for block in mended.model.blocks] == [(term("x"), term("w")), (term("x*w"),)]


def test_columns_that_depend_on_each_other() -> None:
    world = noise_world(25)
    world["sum"] = world["x"] + world["w"]
    study = study_of(world, "y", "x, w, sum")
    (flag,) = [f for key, f in raised(study).items() if key.startswith("left out")]
    assert flag.term == term("sum")
    assert "“x” and “w”" in flag.cost
    assert [r.label for r in flag.remedies] == ["Remove sum", "Remove x instead", "Remove w instead"]
    assert not [key for key in raised(flag.remedies[0].edit(study)) if key.startswith("left out")]


def test_another_column_can_be_left_out_instead() -> None:
    world = noise_world(25)
    world["sum"] = world["x"] + world["w"]
    study = study_of(world, "y", "x, z; w; sum")
    flag = raised(study)["left out of sum"]
    assert "Removing a term of an earlier block instead changes the earlier steps as well." in flag.cost
    other = flag.remedies[1].edit(study)
    assert [f.term for key, f in raised(other).items() if key.startswith("left out")] == [term("x")]
    fit, plain = fit_of(other), fit_of(study)
    assert fit.last.sse == pytest.approx(plain.last.sse, rel=1e-12), "the same fit in the last step"
    assert fit.steps[0].rank == 2, "the first step has lost its column"
    np.testing.assert_allclose(fit.steps[0].b[[0, 2]], fit_of(study_of(world, "y", "z")).last.b, rtol=1e-10)
    assert take_out(other, [term("x")]).model.leave_out_first == ()


def test_a_zero_outside_the_range() -> None:
    study = study_of({**noise_world(26), "x": noise_world(26)["x"] + 40}, "y", "x, w; x*w")
    flag = raised(study)["zero of x"]
    assert "effect at x = 0" in flag.cost
    mended = flag.remedies[0].edit(study)
    assert mended.model.treatment("x") == CENTERED
    assert "zero of x" not in raised(mended)
    assert "zero of x" not in raised(take_out(study, [term("x*w")])), "no product, no flag"


def test_a_reference_that_nobody_chose() -> None:
    study = study_of(noise_world(27), "y", "g")
    flag = raised(study)["reference of g"]
    assert "“low” (27 cases)" in flag.cost
    for remedy, code in zip(flag.remedies, ("low", "mid", "top")):
        mended = remedy.edit(study)
        assert mended.model.reference("g") == code
        assert "reference of g" not in raised(mended)


def test_lost_cases_and_what_doing_without_a_variable_brings_back() -> None:
    world = noise_world(28)
    world["x"][:5] = np.nan
    world["w"][3:6] = np.nan
    study = study_of(world, "y", "x, w, z")
    flag = raised(study)["lost cases"]
    assert flag.title == "6 cases excluded for missing values"
    assert [r.label for r in flag.remedies] == ["Remove x (+3 cases)", "Remove w (+1 case)"]
    assert evaluate(flag.remedies[0].edit(study)).cases.n == 74 + 3


def test_a_flag_put_aside_stays_away_with_its_reason() -> None:
    study = study_of(noise_world(29), "y", "g")
    aside = dismiss(study, FlagKey(FlagKind.REFERENCE, ("g",)), "the hall that opened first")
    assert "reference of g" not in raised(aside)
    assert aside.dismissals[0].reason == "the hall that opened first"


def test_the_demo_raises_only_the_flag_of_its_gaps(demo: Study) -> None:
    assert set(raised(demo)) == {"lost cases"}


def test_an_outcome_of_two_values_keeps_its_flag_under_robust_errors() -> None:
    """HC3 meets the uneven spread; that predictions leave the two values stays to be said."""
    world = noise_world(70)
    study = study_of({"x": world["x"], "won": (world["y"] > np.median(world["y"])).astype(float)}, "won", "x")
    flag = raised(study)["two values of won"]
    assert [r.label for r in flag.remedies] == ["Use HC3 standard errors"]
    after = raised(flag.remedies[0].edit(study))["two values of won"]
    assert after.title != flag.title
    assert not after.remedies
    assert "do not assume an even spread" in after.cost


def test_a_reference_nobody_chose_is_flagged_of_two_levels_too() -> None:
    study = study_of(
        {"g": list("ababababab"), "x": list(range(10)), "y": [3.0, 1, 4, 1, 5, 9, 2, 6, 5, 3]}, "y", "x, g"
    )
    kinds = [f.key.text for f in flags_of(evaluate(study))]
    assert "reference of g" in kinds
    chosen = set_reference(study, "g", "b")
    assert "reference of g" not in [f.key.text for f in flags_of(evaluate(chosen))]


def test_every_flag_of_the_folder_is_raised() -> None:
    """A file of a flag that is not named in `FLAGS` would never be asked."""
    found = set()
    for part in pkgutil.iter_modules(flags.__path__):
        module = importlib.import_module(f"{flags.__name__}.{part.name}")
        for function in vars(module).values():
            if inspect.isfunction(function) and function.__module__ == module.__name__ and function.__name__[0] != "_":
                hints = get_type_hints(function)
                if hints.get("return") == Iterator[Flag] and list(hints.values())[:1] == [Evaluation]:
                    found.add(function)
    assert found == set(FLAGS)


@pytest.mark.parametrize("text", ["[x] * [w]", "[w] * [x]", "([x] - 3.7) * [w]", "2 * [x] * [w]"])
def test_a_product_that_is_computed_is_known_as_one(text: str) -> None:
    rng = np.random.default_rng(8)
    x, w = rng.normal(9, 1, 80), rng.normal(30, 2, 80)
    study = study_of({"x": x, "w": w, "y": x * w + rng.normal(size=80)}, "y", "x, w")
    study = enter(derive(study, "xw", text), [term("xw")], 0)
    found = {flag.key.kind: flag for flag in flags_of(evaluate(study))}
    if text in ("[x] * [w]", "[w] * [x]"):
        flag = found[FlagKind.BY_HAND]
        assert flag.title == "xw was computed from other columns"
        assert "xw is x times w" in flag.cost or "xw is w times x" in flag.cost
        (remedy,) = flag.remedies
        assert term("x*w") in remedy.edit(study).model.terms
        assert FlagKind.COLLINEAR not in found, "what is shared is the product's: no column of it is to be taken out"
    else:
        assert FlagKind.COLLINEAR in found


@pytest.mark.parametrize(
    ("low", "high", "asked"), [(1, 5, True), (0, 10, True), (1, 11, True), (1, 12, True), (1, 14, False)]
)
def test_codes_of_surveys_are_asked_about(low: int, high: int, asked: bool) -> None:
    rng = np.random.default_rng(low + high)
    values = np.concatenate([np.arange(low, high + 1), rng.integers(low, high + 1, 120)])
    study = study_of({"v": values, "y": rng.normal(size=values.size)}, "y", "v")
    assert ("code v" in raised(study)) == asked
