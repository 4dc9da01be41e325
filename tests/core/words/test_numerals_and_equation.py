"""Numbers as written, and the equation computed by hand from raw values."""

from __future__ import annotations

import math
import re

import numpy as np
import pytest

from tests.support.worlds import fit_of, study_of
from yellow_slope.core.arrays import FloatArray
from yellow_slope.core.errors import StudyError
from yellow_slope.core.fit.asked.describe import correlations
from yellow_slope.core.fit.asked.diagnosis import diagnose, normal_quantiles
from yellow_slope.core.fit.design.codes import codes_of
from yellow_slope.core.probe.asking import checked_step, default_probe
from yellow_slope.core.study.coding import Dummy
from yellow_slope.core.study.edits.blocks import set_outcome, switch_block, take_out
from yellow_slope.core.study.edits.entries import treat
from yellow_slope.core.study.edits.models import set_reported
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.treatment import CENTERED
from yellow_slope.core.typed import typed_number
from yellow_slope.core.words.sentences.equation import equation, latex
from yellow_slope.core.words.spelling import numerals
from yellow_slope.core.words.spelling.numerals import fixed
from yellow_slope.plots.equation import PAD, SIZE, WIDTH, equation_lines
from yellow_slope.plots.measuring import text_width
from yellow_slope.report.figures import equation_picture
from yellow_slope.values import replace


@pytest.mark.parametrize(
    ("value", "text"), [(-1.234, "−1.23"), (-0.001, "0.00"), (math.nan, "–"), (12.0, "12.00"), (math.inf, "∞")]
)
def test_fixed(value: float, text: str) -> None:
    assert numerals.fixed(value) == text


def test_values_that_cannot_pass_one_lose_their_zero() -> None:
    assert [numerals.bounded(v) for v in (0.0812, -0.12, 1.0)] == [".081", "−.120", "1.000"]


@pytest.mark.parametrize(
    ("p", "text"), [(0.0004, "< .001"), (0.015, ".015"), (0.9994, ".999"), (0.9996, "> .999"), (1.0, "> .999")]
)
def test_p_values(p: float, text: str) -> None:
    assert numerals.p_value(p) == text


def test_small_estimates_keep_their_digits() -> None:
    assert numerals.estimate_decimals(0.0003) == 5
    assert numerals.estimate_decimals(12.0) == 2


def test_places_follow_the_spread_of_a_variable() -> None:
    assert [numerals.place(x, sd) for x, sd in ((3.9231, 1.3), (51.34, 12.4), (0.1234, 0.12))] == [
        "3.92",
        "51.3",
        "0.123",
    ]


def test_lists_and_counts() -> None:
    assert numerals.listed(["a", "b", "c"]) == "a, b and c"
    assert numerals.counted(1, "case") == "1 case"
    assert numerals.counted(1200, "case") == "1,200 cases"


def computed(text: str, row: dict[str, float], groups: dict[str, str]) -> float:
    """Work out the printed equation for one case, as a person would with a pocket calculator."""
    total = 0.0
    for sign, size, factors in re.findall(r"([+−=]) ([\d.]+)((?:·(?:\(\(.*?\)/[\d.]+\)|\(.*?\)|\[.*?\]|\w+))*)", text):
        value = float(size) * (-1 if sign == "−" else 1)
        for factor in filter(None, factors.split("·")):
            scaled = re.fullmatch(r"\(\((\w+) − ([\d.]+)\)/([\d.]+)\)", factor)
            shifted = re.fullmatch(r"\((\w+) − ([\d.]+)\)", factor)
            chosen = re.fullmatch(r"\[(\w+): (.+)\]", factor)
            if scaled:
                value *= (row[scaled[1]] - float(scaled[2])) / float(scaled[3])
            elif shifted:
                value *= row[shifted[1]] - float(shifted[2])
            elif chosen:
                value *= groups[chosen[1]] == chosen[2]
            else:
                value *= row[factor]
        total += value
    return total


def test_the_equation_predicts_what_the_model_predicts(demo: Study) -> None:
    fit = fit_of(demo)
    text = equation(demo, fit, 2)
    predicted = fit.predicted(2)
    for i in (0, 7, 30, 111):
        row = {n: float(v[i]) for n, v in fit.values.items()}
        groups = {
            n: demo.variable(n).level(fit.design.group(n).levels[int(fit.values[n][i])]).label
            for n in ("coaching", "returner")
        }
        assert computed(text, row, groups) == pytest.approx(predicted[i], abs=0.15)


def test_a_square_is_written_as_one() -> None:
    rng = np.random.default_rng(3)
    dose = rng.normal(19.8178, 4.0, 80)
    study = study_of({"dose": dose, "y": dose**2 + rng.normal(size=80)}, "y", "dose; dose*dose")
    study = treat(study, ["dose"], CENTERED)
    fit = fit_of(study)
    text, tex = equation(study, fit, 1), latex(study, fit, 1)
    mean = f"{dose.mean():.2f}"
    assert text.endswith(f"·(dose − {mean})²")
    assert f"·(dose − {mean}) + " in text
    assert tex.endswith(rf"\text{{(dose $-$ {mean})}}^{{2}}")


def test_the_equation_in_latex_says_the_same(demo: Study) -> None:
    fit = fit_of(demo)
    text, tex = equation(demo, fit, 2), latex(demo, fit, 2)
    assert re.findall(r"\d+\.\d+", tex) == re.findall(r"\d+\.\d+", text)
    plain = tex.replace(r"\widehat{\text{control score}}", "control score").replace(r" \cdot ", "·")
    plain = re.sub(r"\\text\{((?:[^{}]|\\[{}])*)\}", r"\1", plain).replace("$-$", "−").replace(" - ", " − ")
    assert plain == text
    awkward = set_outcome(
        study_of({"50% {a}_$": [1.0, 2.0, 3.0, 5.0], "y": [1.0, 2.0, 4.0, 3.0]}, "y", "50% {a}_$"), "y"
    )
    assert r"\text{50\% \{a\} \$}" in latex(awkward, fit_of(awkward), 0)


def test_the_picture_breaks_lines_before_signs(demo: Study) -> None:
    fit = fit_of(demo)
    text = equation(demo, fit, 2)
    lines = equation_lines(text)
    assert " ".join(line.strip() for line in lines) == text
    assert all(line.strip()[0] in "+−" for line in lines[1:])
    assert all(text_width(line, SIZE) <= WIDTH - 2 * PAD for line in lines)
    assert equation_picture(demo, fit, 2, 100)[:8] == b"\x89PNG\r\n\x1a\n"


def test_the_reported_step_ends_with_its_block(demo: Study) -> None:
    first = demo.model.steps[0].id
    study = set_reported(demo, first)
    assert study.model.reported_step == 0
    assert study.model.step_index(None) == 0
    off = switch_block(study, 0, False)
    assert off.model.reported_step == 1, "of a block that is off there is no step: the last one is reported"
    assert take_out(study, study.model.blocks[0].terms).model.reported is None
    with pytest.raises(StudyError, match="switched off"):
        set_reported(switch_block(demo, 1, False), demo.model.blocks[1].id)
    probed = default_probe(study, None)
    assert probed is not None
    assert checked_step(study, replace(probed, step=None)) == 2, (
        "where the reported step has no product, the first that has"
    )


def test_dummy_codes_are_indicators() -> None:
    found = codes_of(Dummy("b"), ("a", "b", "c"), np.array([3, 4, 5])).codes
    np.testing.assert_array_equal(found, [[1, 0], [0, 0], [0, 1]])


def hat(x: FloatArray) -> FloatArray:
    full = np.column_stack([np.ones(x.shape[0]), x])
    return np.asarray(np.diag(full @ np.linalg.pinv(full)))


def test_leverages_and_residuals(demo: Study) -> None:
    fit = fit_of(demo)
    found = diagnose(fit, 1)
    m = fit.steps[1].n_columns
    np.testing.assert_allclose(found.leverage, hat(fit.x[:, :m]), atol=1e-10)
    assert abs(found.residual.mean()) < 1e-10
    assert float(found.residual @ found.residual) == pytest.approx(fit.steps[1].sse, rel=1e-10)


def test_normal_quantiles_are_symmetric_and_ordered() -> None:
    found = normal_quantiles(np.array([3.0, -1.0, 7.0]))
    assert found[0] == pytest.approx(0.0, abs=1e-12)
    assert found[1] == pytest.approx(-found[2])


def test_correlations(demo: Study) -> None:
    x = fit_of(demo).x[:, :4]
    r, p = correlations(x)
    np.testing.assert_allclose(r, np.corrcoef(x.T), atol=1e-12)
    apart = ~np.eye(4, dtype=bool)
    assert np.all((p[apart] >= 0) & (p[apart] <= 1))
    assert np.isnan(p[~apart]).all(), "a column with itself has no p"
    assert (np.diag(r) == 1).all()
    twice, own = correlations(np.column_stack([x[:, 0], 3 - 2 * x[:, 0]]))
    assert twice[0, 1] == -1
    assert np.isnan(own).all(), "nor have two that are the same line"


@pytest.mark.parametrize(
    ("p", "said"),
    [(0.0501, ".0501"), (0.04996, ".04996"), (0.05, ".050"), (0.0504999, ".0505"), (0.049, ".049"), (0.0099, ".0099")],
)
def test_a_p_beside_a_level_has_the_digit_that_decides(p: float, said: str) -> None:
    assert numerals.p_value(p) == said


def test_columns_of_numbers_stand_at_their_decimal_points() -> None:
    found = numerals.aligned(["−0.159", "2.11", "12.5", "–", "", "< .001", "7"])
    assert [text.rstrip(numerals.DIGIT_SPACE) for text in found] == ["−0.159", "2.11", "12.5", "–", "", "< .001", "7"]
    assert [text.count(numerals.DIGIT_SPACE) for text in found] == [0, 1, 2, 0, 0, 0, 0]


def test_of_many_it_is_said_how_many_more_there_are() -> None:
    assert numerals.listed_some(["a", "b", "c"], 3) == "a, b and c"
    assert numerals.listed_some(["a", "b", "c", "d", "e"], 3) == "a, b, c and 2 more"
    assert numerals.listed_some(("a",), 3) == "a"
    assert numerals.listed_some([], 3) == ""


@pytest.mark.parametrize(
    ("text", "value"),
    [("2.5", 2.5), (" −3 ", -3.0), ("2,5", 2.5), ("1e3", 1000.0)]
    + [(text, None) for text in ("", "abc", "inf", "nan", "1,000.5", "2 3")],
)
def test_a_number_is_read_as_it_is_typed(text: str, value: float | None) -> None:
    assert typed_number(text) == value


@pytest.mark.parametrize(
    ("value", "said"),
    [(2.4e-9, "2.40e−09"), (-2.4e-12, "−2.40e−12"), (0.0, "0.00000000"), (6e-9, "6.00e−09"), (2e-6, "0.00000200")],
)
def test_nothing_but_0_is_written_as_0(value: float, said: str) -> None:
    assert fixed(value, 8) == said


def test_an_equation_of_tiny_slopes_says_them() -> None:
    rng = np.random.default_rng(2)
    budget = rng.normal(2.8e7, 4e6, 60)
    study = study_of({"budget": budget, "y": 2e-9 * budget + rng.normal(0, 0.01, 60)}, "y", "budget")
    text = equation(study, fit_of(study), 0)
    assert "0.00000000·" not in text
    assert "e−0" in text
