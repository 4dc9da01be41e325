"""Every zero point, scale and transformation: what a coefficient then is, in exact arithmetic and by hand."""

from __future__ import annotations

from collections.abc import Callable
from fractions import Fraction

import mpmath
import numpy as np
import pytest

from tests.support import oracle
from tests.support.exactdesigns import close, columns, fractions
from tests.support.worlds import fit_of, noise_world, study_of, term
from yellow_slope.core.errors import StudyError
from yellow_slope.core.fit.design.axis import Axis, rank_table
from yellow_slope.core.fit.design.bases import EPS, GroupBasis, number_basis
from yellow_slope.core.fit.design.cases import cases_of
from yellow_slope.core.fit.fitted.evaluate import evaluate
from yellow_slope.core.probe.probing import probe_fit
from yellow_slope.core.study.coding import LevelMeans
from yellow_slope.core.study.edits.blocks import enter, take_out
from yellow_slope.core.study.edits.computed import derive
from yellow_slope.core.study.edits.descriptions import change_variable
from yellow_slope.core.study.edits.entries import set_coding, treat
from yellow_slope.core.study.edits.models import set_constant
from yellow_slope.core.study.probe import PickPoints, PickRule, Probe
from yellow_slope.core.study.treatment import (
    AS_IS,
    CENTERED,
    STANDARDIZED,
    At,
    Base,
    Given,
    Mean,
    Median,
    OneSD,
    Transform,
    Treatment,
    WithinGroups,
)


def median(values: list[Fraction]) -> Fraction:
    ordered = sorted(values)
    n = len(ordered)
    return (ordered[(n - 1) // 2] + ordered[n // 2]) / 2


ZEROS: list[tuple[Treatment, Callable[[list[Fraction]], Fraction]]] = [
    (Treatment(), lambda v: Fraction(0)),
    (Treatment(zero=Mean()), lambda v: sum(v, Fraction(0)) / len(v)),
    (Treatment(zero=Median()), median),
    (Treatment(zero=At(2.5)), lambda v: Fraction(5, 2)),
]


@pytest.mark.parametrize(("treatment", "zero"), ZEROS, ids=["raw", "mean", "median", "value"])
@pytest.mark.parametrize("scale", [1, 4])
@pytest.mark.parametrize("seed", range(3))
def test_a_slope_is_that_at_its_partners_zero(
    seed: int, scale: int, treatment: Treatment, zero: Callable[[list[Fraction]], Fraction]
) -> None:
    data = columns(seed)
    scaled = Treatment(zero=treatment.zero, scale=Given(float(scale)))
    study = treat(study_of(data, "y", "x, w; x*w"), ["w"], scaled)
    x, w, y = (fractions(data[name]) for name in "xwy")
    exact = oracle.exact_fit([[Fraction(1), a, b, a * b] for a, b in zip(x, w)], y)
    at = zero(w)
    step = fit_of(study).last
    for position, g in (
        (1, [Fraction(0), Fraction(1), Fraction(0), at]),
        (2, [Fraction(0), Fraction(0), Fraction(scale), Fraction(0)]),
        (3, [Fraction(0), Fraction(0), Fraction(0), Fraction(scale)]),
    ):
        b, se = oracle.mp(exact.effect(g)), mpmath.sqrt(oracle.mp(exact.variance(g)))
        assert close(step.b[position], b, se)
        assert close(step.se[position], se)


def test_centered_within_groups_and_over_all_cases() -> None:
    world = noise_world(7)
    world["w"][:6] = np.nan
    study = treat(study_of(world, "y", "x, w, g"), ["x"], Treatment(zero=WithinGroups("g")))
    fit = fit_of(study)
    x, g, here = world["x"], world["g"], ~np.isnan(world["w"])
    own = {name: x[here & (g == name)].mean() for name in ("low", "mid", "top")}
    np.testing.assert_allclose(fit.x[:, 0], (x - np.array([own[name] for name in g]))[here], atol=1e-12)
    over_all = treat(study, ["x"], Treatment(zero=Mean(), scale=OneSD(), base=Base.ALL))
    np.testing.assert_allclose(fit_of(over_all).x[:, 0], ((x - x.mean()) / x.std(ddof=1))[here], atol=1e-12)
    assert fit_of(treat(study, ["x"], STANDARDIZED)).design.number("x").center == pytest.approx(x[here].mean())


TRANSFORMS: list[tuple[tuple[Transform, ...], Callable[[np.ndarray], np.ndarray]]] = [
    ((Transform.LOG,), np.log),
    ((Transform.LOG1P,), np.log1p),
    ((Transform.ROOT,), np.sqrt),
    ((Transform.SQUARE,), np.square),
    ((Transform.RECIPROCAL,), lambda v: 1 / v),
    ((Transform.REVERSE,), lambda v: 12 - v),
    ((Transform.REVERSE, Transform.LOG), lambda v: np.log(12 - v)),
    ((Transform.RANKS,), lambda v: np.argsort(np.argsort(v)) + 1.0),
]


@pytest.mark.parametrize(
    ("transforms", "by_hand"), TRANSFORMS, ids=lambda t: "-".join(t) if isinstance(t, tuple) else ""
)
def test_transformations_in_order(
    transforms: tuple[Transform, ...], by_hand: Callable[[np.ndarray], np.ndarray]
) -> None:
    world = noise_world(8)
    world["x"] = np.abs(world["x"]) + 0.5
    study = study_of(world, "y", "x, w; x*w")
    variable = study.variable("x")
    study = change_variable(
        study, variable.__class__(**{**{f: getattr(variable, f) for f in variable.__slots__}, "limits": (1.0, 11.0)})
    )
    study = treat(study, ["x"], Treatment(transforms, Mean()))
    if transforms[-1] is Transform.LOG and len(transforms) > 1:
        world["x"] = np.minimum(world["x"], 11.5)
        study = treat(
            change_variable(study_of(world, "y", "x, w; x*w"), study.variable("x")),
            ["x"],
            Treatment(transforms, Mean()),
        )
    fit = fit_of(study)
    expected = by_hand(world["x"])
    np.testing.assert_allclose(fit.x[:, 0], expected - expected.mean(), atol=1e-10)
    # Along the raw values: effect of w where x stands at a raw place, and where that is significant.
    probed = probe_fit(study, fit, Probe("w", "x", pick=PickPoints(PickRule.OWN, (2.0, 5.0))))
    b = fit.last.b
    for place, effect in zip((2.0, 5.0), probed.panels[0].foci[0].effects):
        coordinate = fit.design.number("x").axis.coordinate(place)
        assert effect.effect == pytest.approx(b[2] + b[3] * (coordinate - expected.mean()), rel=1e-9)
    curve = probed.panels[0].foci[0].curve
    assert curve is not None
    observed = world["x"]
    told = np.where(
        np.abs(curve.effect(observed)) > curve.pointwise * curve.se(observed), np.sign(curve.effect(observed)), 0
    )
    regions = probed.panels[0].foci[0].regions
    assert regions is not None
    assert sum(r.n for r in regions.within) == observed.size
    if Transform.RANKS not in transforms:
        for region in regions.within:
            inside = (observed >= region.low) & (observed < region.high)
            assert np.all(told[inside] == region.sign)


@pytest.mark.parametrize("base", [Base.MODEL, Base.ALL])
def test_the_means_within_groups_are_of_the_cases_that_are_asked_for(base: Base) -> None:
    world = noise_world(23)
    world["x"] = world["x"] * 3 + 40
    world["y"][:30] = np.nan
    study = treat(study_of(world, "y", "x, w"), ["x"], Treatment(zero=WithinGroups("g"), base=base))
    fit = fit_of(study)
    groups, x, used = np.array(world["g"]), world["x"], ~np.isnan(world["y"])
    own = np.ones(80, dtype=bool) if base is Base.ALL else used
    expected = np.array([x[i] - x[own & (groups == groups[i])].mean() for i in np.flatnonzero(used)])
    np.testing.assert_allclose(np.asarray(fit.x)[:, 0], expected, atol=1e-12)


def test_undefined_values_become_missing_and_are_counted() -> None:
    world = noise_world(9)
    world["x"][:4] = -1.0
    study = treat(study_of(world, "y", "x, w"), ["x"], Treatment((Transform.LOG,)))
    cases = cases_of(study, study.model)
    assert cases.n == 76
    assert [(lost.variable, lost.any, lost.undefined) for lost in cases.lost] == [("x", 4, 4)]
    assert fit_of(study).x.shape == (76, 2)


def test_treatments_that_cannot_be() -> None:
    study = study_of(noise_world(10), "y", "x, g")
    with pytest.raises(StudyError, match="no declared limits"):
        treat(study, ["x"], Treatment((Transform.REVERSE,)))
    with pytest.raises(StudyError, match="larger than 0"):
        treat(study, ["x"], Treatment(scale=Given(0.0)))
    with pytest.raises(StudyError, match="within the levels of a group"):
        treat(study, ["x"], Treatment(zero=WithinGroups("w")))


def test_a_derived_variable_follows_its_sources() -> None:
    world = noise_world(11)
    study = study_of(world, "y", "x")
    study = derive(study, "total", "(x + 2 * w) / 4 - 1")
    study = derive(study, "average", "mean of x, w, z with 2")
    study = derive(study, "own", "group mean of x by g")
    study = enter(study, [term("total"), term("average")])
    fit = fit_of(study)
    np.testing.assert_allclose(fit.values["total"], (world["x"] + 2 * world["w"]) / 4 - 1, rtol=1e-12)
    np.testing.assert_allclose(fit.values["average"], (world["x"] + world["w"] + world["z"]) / 3, rtol=1e-12)
    means = np.array([world["x"][world["g"] == name].mean() for name in world["g"]])
    np.testing.assert_allclose(study.columns.numbers("own"), means, rtol=1e-12)
    for text, said in (
        ("x +", "character 4: A variable is missing"),
        ("x + nobody", "character 5: There is no variable “nobody”"),
        ("(x", "character 3: A closing parenthesis"),
        ("x $ w", "not understood"),
    ):
        with pytest.raises(StudyError, match=said):
            derive(study, "new", text)
    assert evaluate(take_out(study, study.model.terms)).fit is None


@pytest.mark.parametrize("transform", list(Transform))
def test_every_transformation_leads_back_to_where_it_came_from(transform: Transform) -> None:
    """Of a place its coordinate, and of that the place again; of a square the place of that sign."""
    values = np.array([1.0, 2.0, 2.0, 4.0, 7.0])
    axis = Axis((transform,), (1.0, 7.0), (rank_table(values),) if transform is Transform.RANKS else ())
    for place in (1.0, 2.0, 4.0, 7.0):
        assert axis.preimages(axis.coordinate(place), 1.0, 7.0) == pytest.approx([place], rel=1e-12)
    if transform is Transform.SQUARE:
        assert axis.preimages(9.0, -7.0, -1.0) == [-3.0]
        assert axis.preimages(9.0, -7.0, 7.0) == [-3.0, 3.0]
        assert axis.preimages(-1.0, -7.0, 7.0) == []
        assert axis.preimages(9.0, 0.0, 7.0) == [3.0], "a range that begins at 0 has no negative root"
        assert axis.preimages(9.0, 0.5, 7.0) == [3.0]
        assert axis.preimages(9.0, -7.0, 0.0) == [-3.0]
    if transform is Transform.REVERSE:
        assert axis.coordinate(2.0) == 6.0


def test_level_means_are_compared_with_the_first() -> None:
    study = study_of({"g": list("aabbcc"), "y": [1.0, 2, 4, 5, 8, 9.5]}, "y", "g")
    study = set_coding(set_constant(study, False), "g", LevelMeans())
    basis = fit_of(study).design.bases["g"]
    assert isinstance(basis, GroupBasis)
    assert [list(c.weights) for c in basis.contrasts] == [[-1, 1, 0], [-1, 0, 1]]


def test_a_scale_without_a_zero_of_its_own() -> None:
    basis = number_basis("x", np.array([2.0, 4.0, 9.0]), Treatment(scale=Given(2.0)))
    assert list(basis.treated(np.array([2.0, 5.0]))) == [1.0, 2.5]


@pytest.mark.parametrize("treatment", [AS_IS, CENTERED, STANDARDIZED, Treatment(zero=At(40.0), scale=Given(8.0))])
def test_how_far_a_treated_number_reaches(treatment: Treatment) -> None:
    """What rank and magnitude are judged by: the largest entry of the column as it enters."""
    world = noise_world(12)
    world["x"] = 30.0 + 9.0 * world["x"]
    study = treat(study_of(world, "y", "x, w"), ["x"], treatment)
    fit = fit_of(study)
    basis = fit.design.number("x")
    assert basis.reach == pytest.approx(np.abs(fit.design.column(fit.values, 0)).max(), rel=1e-12)
    farthest = max(np.abs(world["x"]).max(), abs(basis.center))
    assert basis.rounding == pytest.approx(EPS * farthest / basis.scale, rel=1e-12)
