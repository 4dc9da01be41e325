"""What centering changes and what it leaves: against refits, and against the model with its zero moved by hand."""

from __future__ import annotations

import numpy as np
import pytest

from tests.support.worlds import fit_of, noise_world, study_of
from yellow_slope.core.fit.asked.centering import centering_of, moved_rows
from yellow_slope.core.study.edits.entries import treat
from yellow_slope.core.study.treatment import AS_IS, CENTERED, STANDARDIZED, At, Given, Mean, OneSD, Treatment, Zero
from yellow_slope.core.words.sentences.zeros import centering_rows, centering_sentence, mean_at_full, zero_sentence
from yellow_slope.values import replace


@pytest.mark.parametrize(
    "treatment", [AS_IS, CENTERED, Treatment(zero=At(4.0), scale=OneSD()), Treatment(scale=Given(0.5))]
)
@pytest.mark.parametrize("line", ["x, w, g; x*w, x*g", "x, w, d; x*x, x*w, x*d; w*d, x*w*d, x*x*w", "x, w, z"])
@pytest.mark.parametrize("zero", [0.0, 3.3, 8.0])
def test_coefficients_at_another_zero_are_those_of_the_model_with_that_zero(
    treatment: Treatment, line: str, zero: float
) -> None:
    study = treat(study_of(noise_world(5), "y", line), ["x"], treatment)
    fit = fit_of(study)
    basis = fit.design.number("x")
    rows = moved_rows(fit, "x", (zero - basis.center) / basis.scale)
    moved = fit_of(treat(study, ["x"], replace(treatment, zero=At(zero))))
    assert -1 in rows
    for j in range(-1, len(fit.design.columns)):
        expected = moved.last.coefficient(j)
        if j in rows:
            found = fit.last.inference.estimate(rows[j], 0.95)
            assert (found.effect, found.se) == pytest.approx((expected.b, expected.se), rel=1e-7, abs=1e-9)
        else:
            assert fit.last.coefficient(j).b == pytest.approx(expected.b, rel=1e-7, abs=1e-9), (
                "no other coefficient moves"
            )


def test_what_centering_changes_and_leaves() -> None:
    world = noise_world(6)
    study = study_of(world, "y", "x, w, g; x*w, x*g")
    found = centering_of(study, study.model, fit_of(study), "x")
    assert found is not None
    raw = fit_of(treat(study, ["x"], AS_IS))
    centered = fit_of(treat(study, ["x"], CENTERED))
    names = [".".join(c.term.variables) for c in raw.design.columns]
    assert [names[j] for j in found.products] == ["x.w", "x.g", "x.g"]
    assert [names[j] for j in found.moved] == ["w", "g", "g"]
    assert [names[j] for j in found.highest] == ["x.w", "x.g", "x.g"]
    for j in range(len(names)):
        one, other = found.both(j)
        assert (one.b, one.vif) == pytest.approx((raw.last.coefficient(j).b, raw.last.coefficient(j).vif))
        assert (other.b, other.vif) == pytest.approx((centered.last.coefficient(j).b, centered.last.coefficient(j).vif))
    for j in found.highest:
        one, other = found.both(j)
        assert one.t == pytest.approx(other.t, rel=1e-10)
    _, _, rows = centering_rows(study, found)
    for row in rows:
        assert (row.raw == row.centered) == row.stays, row
    assert (
        centering_of(
            study_of(world, "y", "x, w"), study_of(world, "y", "x, w").model, fit_of(study_of(world, "y", "x, w")), "x"
        )
        is None
    )


def test_the_sentence_of_centering_leaves_nothing_out_without_a_word() -> None:
    study = study_of(noise_world(6), "y", "x, w, z, g; x*w, x*z, x*g")
    found = centering_of(study, study.model, fit_of(study), "x")
    assert found is not None
    assert len(found.moved) == 4
    said = centering_sentence(study, found)
    assert " and 1 more are then given at the mean of x instead of at 0" in said
    assert said.endswith("the tests of the products do not change.")
    study = study_of(noise_world(6), "y", "x, w; x*w")
    found = centering_of(study, study.model, fit_of(study), "x")
    assert found is not None
    said = centering_sentence(study, found)
    assert "; w is then given at" in said
    assert said.endswith("the test of the product does not change.")


@pytest.mark.parametrize("seed", range(5))
def test_centering_any_subset_leaves_the_highest_products_test(seed: int) -> None:
    study = study_of(
        noise_world(seed), "y", "x, w, z, d; x*w, x*z, w*z, x*d, w*d, z*d; x*w*z, x*w*d, x*z*d, w*z*d; x*w*z*d"
    )
    wanted = fit_of(study).last.t[-1]
    rng = np.random.default_rng(seed)
    for _ in range(6):
        some = [n for n in "xwz" if rng.random() < 0.5]
        zeros: list[Zero] = [Mean(), At(float(rng.normal(3, 2)))]
        made = treat(study, some, Treatment(zero=zeros[int(rng.integers(2))]))
        assert fit_of(made).last.t[-1] == pytest.approx(wanted, rel=1e-10)


def test_the_sentence_of_a_zero_names_what_is_asked_there() -> None:
    study = study_of(noise_world(2), "y", "x, w; x*w")
    fit = fit_of(study)
    said = zero_sentence(study, fit, "x", 4.0)
    moved = fit_of(treat(study, ["x"], Treatment(zero=At(4.0)))).last.coefficient(1)
    assert f"w {moved.b:.2f} ({moved.low:.2f} to {moved.high:.2f})".replace("-", "−") in said
    assert said.startswith("With zero at x 4.00")
    plain = study_of(noise_world(2), "y", "x, w")
    assert "in no product" in zero_sentence(plain, fit_of(plain), "x", 4.0)


def test_a_centered_mean_is_said_to_be_zero_only_where_it_is() -> None:
    study = treat(study_of(noise_world(2), "y", "x"), ["x"], CENTERED)
    fit = fit_of(study)
    basis = fit.design.number("x")
    assert mean_at_full(basis, float(fit.x[:, 0].mean())).startswith("0 ")
    assert mean_at_full(basis, 0.0026) == "0.0026"


def test_what_cannot_be_fitted_at_a_raw_zero_has_no_comparison_with_it() -> None:
    """The square of 1e80 is beyond what can be squared once more; that of the deviations is not."""
    deviations = np.linspace(-1, 1, 40)
    world = {"x": 1e80 * (1 + 1e-10 * deviations), "y": np.cos(9 * deviations)}
    study = treat(study_of(world, "y", "x, x*x"), ["x"], CENTERED)
    assert np.isfinite(fit_of(study).last.b[1])
    assert centering_of(study, study.model, fit_of(study), "x") is None


@pytest.mark.parametrize("size", [1e160, 1e300, 1e-170, 1.0])
def test_a_number_of_any_size_is_standardized(size: float) -> None:
    x = np.cos(np.arange(30) * 1.7)
    y = np.sin(np.arange(30) * 0.9) + x
    own = fit_of(treat(study_of({"x": x, "y": y}, "y", "x"), ["x"], STANDARDIZED))
    found = fit_of(treat(study_of({"x": x * size, "y": y}, "y", "x"), ["x"], STANDARDIZED))
    np.testing.assert_allclose(found.last.b, own.last.b, rtol=1e-9)
