"""Columns made by hand are found by their values; what is offered in their place is the same model said rightly."""

from __future__ import annotations

import numpy as np
import pytest

from tests.support.clock import Watch
from tests.support.worlds import fit_of, noise_world, study_of, term
from yellow_slope.core.data.byhand import HandProduct, IndicatorSet, made_by_hand, stem
from yellow_slope.core.data.table import Table, number_column, text_column
from yellow_slope.core.data.variable import Kind
from yellow_slope.core.fit.asked.relations import Relation, relation
from yellow_slope.core.fit.fitted.evaluate import evaluate
from yellow_slope.core.flags import Flag, flags_of
from yellow_slope.core.study.edits.blocks import enter, set_blocks, take_out
from yellow_slope.core.study.edits.dismissals import dismiss
from yellow_slope.core.study.edits.entries import set_reference, treat
from yellow_slope.core.study.flagkeys import FlagKind
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.treatment import AS_IS, CENTERED, STANDARDIZED, At, Mean, Treatment


def test_a_column_of_one_value_or_of_none_is_no_factor() -> None:
    x, y = np.random.default_rng(2).normal(size=(2, 40))
    columns = {"x": x, "y": y, "two": np.full(40, 2.0), "none": np.full(40, np.nan), "twice": 2 * x, "xy": x * y}
    found = made_by_hand(Table(tuple(number_column(name, values) for name, values in columns.items())))
    assert found.multiplied == (HandProduct("xy", ("x", "y")),)


def test_sparse_columns_are_looked_through_quickly() -> None:
    """Where nearly all is 0, nearly every pair of columns agrees with every other."""
    rng = np.random.default_rng(1)
    columns = [number_column(f"v{j}", (rng.random(779) < 0.03).astype(float)) for j in range(85)]
    columns.append(number_column("made", columns[2].numbers * np.arange(779)))
    columns += [number_column("count", np.arange(779.0))]
    watch = Watch()
    found = made_by_hand(Table(tuple(columns)))
    assert not watch.is_over(3)
    assert HandProduct("made", ("v2", "count")) in found.multiplied


def world(seed: int = 0, n: int = 60) -> dict[str, np.ndarray]:
    rng = np.random.default_rng(seed)
    x, w = rng.normal(0, 1.7, n), rng.normal(10, 3, n).round(1)
    x = (x - x.mean() + 3.9174).round(2)
    g = np.arange(n) % 3 + 1
    y = x + 0.3 * x * w + 2.0 * (g == 3) + rng.normal(0, 2, n)
    return {
        "y": y,
        "x": x,
        "w": w,
        "g": g.astype(float),
        "g1": (g == 1) * 1.0,
        "g2": (g == 2) * 1.0,
        "g3": (g == 3) * 1.0,
        "xc": x - 3.92,
        "wz": ((w - w.mean()) / w.std(ddof=1)),
        "xcw": (x - 3.92) * w,
    }


def table(data: dict[str, np.ndarray]) -> Table:
    return Table(tuple(number_column(name, values) for name, values in data.items()))


def flag_of(study: Study, kind: FlagKind) -> Flag:
    found = [f for f in flags_of(evaluate(study)) if f.key.kind is kind]
    assert len(found) == 1, [f.title for f in flags_of(evaluate(study))]
    return found[0]


@pytest.mark.parametrize("seed", range(10))
def test_everything_made_by_hand_is_found(seed: int) -> None:
    found = made_by_hand(table(world(seed)))
    assert found.indicators == (IndicatorSet(("g1", "g2", "g3"), "g", ("1", "2", "3"), True),)
    shifted = {s.column: (s.source, s.shift, s.scale) for s in found.shifted}
    assert set(shifted) == {"xc", "wz"}
    assert shifted["xc"] == ("x", pytest.approx(3.92, abs=1e-9), 1.0)
    data = world(seed)
    assert shifted["wz"] == (
        "w",
        pytest.approx(data["w"].mean(), abs=1e-6),
        pytest.approx(data["w"].std(ddof=1), rel=1e-6),
    )
    assert found.multiplied == (HandProduct("xcw", ("w", "xc")),)


@pytest.mark.parametrize("seed", range(20))
def test_nothing_is_found_where_nothing_was_made(seed: int) -> None:
    rng = np.random.default_rng(seed)
    data = {f"item{i}": rng.integers(1, 6, 80).astype(float) for i in range(30)}
    data |= {f"sign{i}": (rng.random(80) < 0.4) * 1.0 for i in range(6)}
    data |= {"z": rng.normal(0, 1, 80), "age": rng.integers(18, 70, 80).astype(float), "celsius": rng.normal(20, 5, 80)}
    data["fahrenheit"] = data["celsius"] * 1.8 + 32
    found = made_by_hand(table(data))
    assert found.indicators == ()
    assert found.shifted == ()
    assert found.multiplied == ()


def test_gaps_and_rounding_do_not_hide_them() -> None:
    data = world(3)
    data["x"][4] = np.nan
    data["xc"][4] = np.nan
    data["xcw"][4] = np.nan
    data["wz"] = data["wz"].round(3)
    data["xcw"] = data["xcw"].round(3)
    data["g"][7] = np.nan
    data["g1"][7] = data["g2"][7] = data["g3"][7] = 0.0
    found = made_by_hand(table(data))
    assert [s.columns for s in found.indicators] == [("g1", "g2", "g3")]
    assert {s.column for s in found.shifted} == {"xc", "wz"}
    assert [m.column for m in found.multiplied] == ["xcw"]


@pytest.mark.parametrize("decimals", [2, 3])
def test_a_centered_column_written_with_few_digits_is_known(decimals: int) -> None:
    data = world(5)
    data["xc"] = (data["x"] - 3.91742).round(decimals)
    data["xcw"] = (data["xc"] * data["w"]).round(decimals)
    found = made_by_hand(table(data))
    assert [(s.column, s.source) for s in found.shifted if s.column == "xc"] == [("xc", "x")]
    assert next(s.shift for s in found.shifted if s.column == "xc") == pytest.approx(3.917, abs=10.0**-decimals)
    assert [m.column for m in found.multiplied] == ["xcw"]
    data["xc"][3] += 4 * 10.0**-decimals
    assert "xc" not in [s.column for s in made_by_hand(table(data)).shifted], "one cell says something else"


@pytest.mark.parametrize("n", [3, 4, 5])
def test_products_made_by_hand_that_are_not_listed_are_counted(n: int) -> None:
    data = world(6)
    names = ["w", *(f"c{i}" for i in range(n))]
    for i, name in enumerate(names[1:]):
        data[name] = np.random.default_rng(40 + i).normal(3, 1, data["x"].size).round(2)
        data[f"p{i}"] = data[name] * data["w"]
    study = study_of(data, "y", ", ".join([*names, *(f"p{i}" for i in range(n))]))
    cost = flag_of(study, FlagKind.BY_HAND).cost
    assert (f"; and {n - 3} more." in cost) == (n > 3)
    assert sum(f"p{i} is" in cost for i in range(n)) == 3


def test_indicators_of_each_other() -> None:
    g = np.arange(40) % 4
    whole = {"q_north": (g == 0) * 1.0, "q_south": (g == 1) * 1.0, "q_east": (g == 2) * 1.0, "q_west": (g == 3) * 1.0}
    assert made_by_hand(table({"y": np.sin(g + np.arange(40)), **whole})).indicators == (
        IndicatorSet(tuple(whole), None, (), True),
    )
    part = {name: values for name, values in whole.items() if name != "q_west"}
    assert made_by_hand(table({"y": np.sin(g + np.arange(40)), **part})).indicators == (
        IndicatorSet(tuple(part), None, (), False),
    )
    # Without a stem in common two exclusive marks are only two exclusive marks.
    loose = {"smokes": whole["q_north"], "tall": whole["q_south"]}
    assert made_by_hand(table({"y": np.sin(g + np.arange(40)), **loose})).indicators == ()
    words = text_column("site", [["quarry", "harbour", "dome"][i % 3] for i in range(40)])
    marks = [number_column(f"d{k}", ((np.arange(40) % 3) == k) * 1.0) for k in range(3)]
    found = made_by_hand(Table((words, *marks))).indicators
    assert [(s.of, sorted(s.columns)) for s in found] == [("site", ["d0", "d1", "d2"])]


@pytest.mark.parametrize(
    ("names", "found"),
    [
        (["site_b", "site_c"], "site"),
        (["site1", "site2", "site12"], "site"),
        (["q_1", "q_2"], "q"),
        (["abc", "xbc"], ""),
        (["male", "married"], ""),
        (["x1", "x2"], ""),
        (["is quarry", "is dome"], "is"),
        (["ab", "ab2"], ""),
    ],
)
def test_what_names_have_in_common(names: list[str], found: str) -> None:
    assert stem(names) == found


def test_k_indicators_and_an_intercept_have_three_ways_out() -> None:
    study = study_of(world(), "y", "g1, g2, g3")
    assert len(fit_of(study).left_out) == 1
    flag = flag_of(study, FlagKind.LEFT_OUT)
    assert "exactly one of g1, g2 and g3" in flag.cost
    assert "the model is equivalent" in flag.cost
    assert [r.label for r in flag.remedies] == [
        "Remove g3: it becomes the reference",
        "Remove the intercept: level means",
        "Enter g as groups instead",
    ]
    fits = [fit_of(remedy.edit(study)) for remedy in flag.remedies]
    assert all(not fit.left_out for fit in fits)
    for fit in fits[1:]:
        np.testing.assert_allclose(fit.predicted(0), fits[0].predicted(0), rtol=1e-10)
        assert relation(fit, fits[0]) is Relation.TWINS
    data = world()
    means = [data["y"][data["g"] == k].mean() for k in (1, 2, 3)]
    assert list(fits[1].last.b[1:]) == pytest.approx(means), (
        "without the intercept the coefficients are the level means"
    )


def test_a_code_beside_its_own_indicators() -> None:
    study = set_blocks(study_of(world(), "y", "x"), study_of(world(), "y", "g; g1, g2, x").model.blocks)
    study = study_of(world(), "y", "g, x, g1, g2, g3")
    flag = next(f for f in flags_of(evaluate(study)) if f.key.kind is FlagKind.LEFT_OUT)
    assert "are indicators of g, which is in the model as well" in flag.cost
    for remedy in flag.remedies:
        after = remedy.edit(study)
        assert not [f for f in flags_of(evaluate(after)) if f.key.kind is FlagKind.LEFT_OUT and f.key == flag.key]


def test_indicators_become_one_group_variable() -> None:
    study = study_of(world(), "y", "x, g2, g3; x*g2, x*g3")
    flag = flag_of(study, FlagKind.INDICATORS)
    assert flag.title == "g1, g2 and g3 are indicators of g"
    (remedy,) = flag.remedies
    after = remedy.edit(study)
    assert after.variable("g").kind is Kind.GROUP
    assert [t.variables for t in after.model.terms] == [("x",), ("g",), ("x", "g")]
    assert relation(fit_of(after), fit_of(study)) is Relation.TWINS
    assert not [f for f in flags_of(evaluate(after)) if f.key.kind is FlagKind.INDICATORS]


def test_indicators_of_no_column_make_one() -> None:
    data = {name: values for name, values in world().items() if name not in ("g", "g1")}
    study = study_of(data, "y", "x, g2, g3")
    assert made_by_hand(study.table).indicators == ()
    data = {("site_b" if n == "g2" else "site_c" if n == "g3" else n): v for n, v in data.items()}
    study = study_of(data, "y", "x, site_b, site_c")
    (remedy,) = flag_of(study, FlagKind.INDICATORS).remedies
    after = remedy.edit(study)
    made = after.variable("site")
    assert [level.label for level in made.levels] == ["none of them", "site b", "site c"]
    assert [t.variables for t in after.model.terms] == [("x",), ("site",)]
    assert relation(fit_of(after), fit_of(study)) is Relation.TWINS


def test_columns_made_by_hand_give_way_to_their_sources() -> None:
    study = study_of(world(), "y", "xc, w; xcw")
    flag = flag_of(study, FlagKind.BY_HAND)
    assert "xc is x minus 3.92" in flag.cost
    off = world()["xc"].mean()
    assert f"averages {off:.6g}".replace("-", "−") in flag.cost
    assert "xcw is w times xc" in flag.cost
    (remedy,) = flag.remedies
    after = remedy.edit(study)
    assert after.model.treatment("x") == CENTERED
    assert set(after.model.terms) == {term("x"), term("w"), term("x*w")}
    assert relation(fit_of(after), fit_of(study)) is Relation.TWINS
    assert fit_of(after).last.t[-1] == pytest.approx(fit_of(study).last.t[-1], rel=1e-9)
    scaled = study_of(world(), "y", "wz, x")
    (remedy,) = flag_of(scaled, FlagKind.BY_HAND).remedies
    assert remedy.edit(scaled).model.treatment("w") == STANDARDIZED


@pytest.mark.parametrize(("value", "flagged"), [(3.92, True), (3.9, True), (4.0, False), (3.95, False), (3.9174, True)])
def test_a_typed_mean_is_noticed(value: float, flagged: bool) -> None:
    x = np.linspace(1, 7, 40)
    x = x - x.mean() + 3.91742
    data = {"x": x, "y": np.sin(x) + x + np.cos(5 * x)}
    study = treat(study_of(data, "y", "x"), ["x"], Treatment(zero=At(value)))
    found = [f for f in flags_of(evaluate(study)) if f.key.kind is FlagKind.ROUNDED_MEAN]
    assert bool(found) == flagged
    if found:
        assert "the mean of x is 3.91" in found[0].cost
        assert f"averages {float(f'{3.91742 - value:.2g}'):g}".replace("-", "−") in found[0].cost
        assert found[0].remedies[0].edit(study).model.treatment("x").zero == Mean()


def test_a_whole_value_is_taken_for_a_rounded_mean_only_where_it_nearly_is() -> None:
    x = np.linspace(1, 7, 40) + 0.01
    data = {"x": x, "y": np.sin(x) + x + np.cos(5 * x)}
    study = treat(study_of(data, "y", "x"), ["x"], Treatment(zero=At(4.0)))
    assert [f for f in flags_of(evaluate(study)) if f.key.kind is FlagKind.ROUNDED_MEAN]
    assert not [f for f in flags_of(evaluate(treat(study, ["x"], AS_IS))) if f.key.kind is FlagKind.ROUNDED_MEAN]


def test_the_wrong_single_slope_stays_beside_the_right_test() -> None:
    data = noise_world(4, 90)
    data["code"] = np.arange(90) % 5 + 1.0
    study = study_of(data, "y", "x, code")
    flag = next(f for f in flags_of(evaluate(study)) if f.key.kind is FlagKind.CODE)
    after = flag.remedies[0].edit(study)
    stays = flag_of(after, FlagKind.ONE_SLOPE)
    assert flag.remedies[0].then == stays.key
    wrong, right = fit_of(study).last.coefficient(1), fit_of(after).last.joint[term("code")]
    assert f"b = {wrong.b:.2f}, t(87) = {wrong.t:.2f}".replace("-", "−") in stays.cost
    assert f"F(4, {right.df2}) = {right.f:.2f}" in stays.cost
    assert not [f for f in flags_of(evaluate(dismiss(after, stays.key, "seen"))) if f.key == stays.key]
    assert take_out(after, [term("code")]).pinned == ()
    back = stays.remedies[0].edit(after)
    assert back.variable("code").kind is Kind.NUMBER


# ---- twins, nested, neither


@pytest.mark.parametrize("seed", range(40))
def test_relations_of_random_pairs(seed: int) -> None:
    rng = np.random.default_rng(seed)
    study = study_of(noise_world(seed, 70), "y", "x, w, g; x*w, x*g")
    first = fit_of(study)
    dressed = treat(study, ["x"], Treatment(zero=At(float(rng.normal(3, 2)))))
    dressed = set_reference(dressed, "g", ["low", "mid", "top"][int(rng.integers(3))])
    dressed = set_blocks(dressed, list(dressed.model.blocks)[::-1])
    assert relation(fit_of(dressed), first) is Relation.TWINS
    more = enter(dressed, [term("z")])
    assert relation(first, fit_of(more)) is Relation.INSIDE
    assert relation(fit_of(more), first) is Relation.AROUND
    other = enter(take_out(more, [term("x*w")]), [term("d")])
    assert relation(first, fit_of(other)) is Relation.NEITHER
    part = take_out(study, [term("w")])
    moved = treat(part, ["x"], CENTERED)
    assert relation(fit_of(part), fit_of(moved)) is Relation.NEITHER, "without a part another zero is another fit"


def test_other_cases_and_outcomes_are_not_compared() -> None:
    data = noise_world(1)
    study = study_of(data, "y", "x, w")
    holes = {n: v.copy() for n, v in data.items()}
    holes["w"][3] = np.nan
    assert relation(fit_of(study_of(holes, "y", "x, w")), fit_of(study)) is Relation.OTHER_CASES
    assert relation(fit_of(study_of(data, "z", "x, w")), fit_of(study)) is Relation.OTHER_OUTCOME
