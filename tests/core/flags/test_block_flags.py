"""The flags of the waypoint Blocks: where they stand, what they cost in figures, and that their remedies end them."""

from __future__ import annotations

from itertools import combinations

import numpy as np
import pytest

from tests.support.worlds import fit_of, noise_world, study_of, term
from yellow_slope.core.data.table import DateColumn, Table, number_column, text_column
from yellow_slope.core.data.variable import Kind
from yellow_slope.core.fit.asked.diagnosis import press_r2
from yellow_slope.core.fit.fitted.evaluate import evaluate
from yellow_slope.core.flags import Flag, flags_of
from yellow_slope.core.study.edits.blocks import enter, set_outcome, take_out
from yellow_slope.core.study.edits.dismissals import dismiss
from yellow_slope.core.study.edits.entries import treat
from yellow_slope.core.study.edits.kinds import set_kind
from yellow_slope.core.study.edits.samples import new_sample, set_rule
from yellow_slope.core.study.flagkeys import FlagKey, FlagKind
from yellow_slope.core.study.study import Study, new_study
from yellow_slope.core.study.treatment import CENTERED
from yellow_slope.core.words.spelling.numerals import bounded, fixed

RNG = np.random.default_rng(17)


def raised(study: Study, kind: FlagKind) -> list[Flag]:
    return [flag for flag in flags_of(evaluate(study)) if flag.key.kind is kind]


def far_world(n: int = 120) -> dict[str, np.ndarray]:
    x, w = RNG.normal(50, 2, n), RNG.normal(30, 1, n)
    return {"x": x, "w": w, "y": x + w + 0.3 * (x - 50) * (w - 30) + RNG.normal(size=n)}


def test_what_centering_would_remove_is_told_from_what_stays() -> None:
    study = study_of(far_world(), "y", "x, w; x*w")
    (flag,) = raised(study, FlagKind.COLLINEAR)
    fit = fit_of(study)
    worst = float(np.nanmax(fit.last.vif))
    assert flag.term == term("x*w")
    assert fixed(worst, 1) in flag.cost
    assert "3 columns have a VIF of 10 or more" in flag.cost
    centered = treat(study, ["x", "w"], CENTERED)
    assert fixed(float(fit_of(centered).last.vif[3]), 1) in flag.cost
    assert flag.cost.endswith("Then nothing of it remains.")
    assert flag.remedies[0].label == "Center x and w"
    after = flag.remedies[0].edit(study)
    assert raised(after, FlagKind.COLLINEAR) == []
    j = fit.design.columns_of(term("x*w"))[0]
    assert fit_of(after).last.t[j + 1] == pytest.approx(fit.last.t[j + 1], rel=1e-7), "the product's test stays"


def test_what_the_cases_hold_stays_wherever_zero_lies() -> None:
    n = 120
    x = RNG.normal(size=n)
    twin = x + 0.1 * RNG.normal(size=n)
    study = study_of({"x": x, "twin": twin, "y": x + RNG.normal(size=n)}, "y", "x, twin")
    (flag,) = raised(study, FlagKind.COLLINEAR)
    vif = float(np.nanmax(fit_of(study).last.vif))
    r = float(np.corrcoef(x, twin)[0, 1])
    assert f"remains {fixed(vif, 1)} wherever zero lies" in flag.cost
    assert f"(r = {bounded(r, 2)})" in flag.cost
    (remedy,) = flag.remedies
    assert remedy.label.startswith("Remove ")
    assert raised(remedy.edit(study), FlagKind.COLLINEAR) == []


@pytest.mark.parametrize(("share", "alone"), [(2.1, True), (1.9, False)])
def test_one_partner_is_told_from_several(share: float, alone: bool) -> None:
    """One column says nearly all that the others say of it where its r² is four fifths of theirs: 2.1² is, 1.9² is
    not, of a sum of two independent columns and little else."""
    q = np.linalg.qr(np.column_stack([np.ones(80), np.random.default_rng(5).normal(size=(80, 4))]))[0]
    a, b, rest, y = q[:, 1:].T
    x = share * a + b + 0.4 * rest
    study = study_of({"a": a, "b": b, "x": x, "y": y + a}, "y", "a, b, x")
    (flag,) = raised(study, FlagKind.COLLINEAR)
    r2, whole = share**2 / (share**2 + 1.16), 1 - 0.16 / (share**2 + 1.16)
    assert (r2 >= 0.8 * whole) == alone
    assert r2 < 0.8 / whole
    assert ("it correlates with a (r =" in flag.cost) == alone
    assert ("several columns together" in flag.cost) != alone


def test_both_kinds_at_once() -> None:
    world = far_world()
    world["z"] = world["x"] + 0.3 * RNG.normal(size=120)
    study = study_of(world, "y", "x, w, z; x*w")
    (flag,) = raised(study, FlagKind.COLLINEAR)
    assert "Centering x and w reduces it to" in flag.cost
    centered = fit_of(treat(study, ["x", "w"], CENTERED)).last.vif
    assert f"the largest to {fixed(float(np.nanmax(centered[1:])), 1)}" in flag.cost
    assert int(np.nanargmax(centered)) == 1, "it is that of the first column"
    assert "wherever zero lies" in flag.cost
    after = flag.remedies[0].edit(study)
    (rest,) = raised(after, FlagKind.COLLINEAR)
    assert rest.term in (term("x"), term("z"))
    assert raised(rest.remedies[-1].edit(after), FlagKind.COLLINEAR) == []


def test_few_cases_for_the_columns() -> None:
    n, k = 60, 8
    world = {f"v{i}": RNG.normal(size=n) for i in range(k)}
    world["y"] = RNG.normal(size=n)
    study = study_of(world, "y", "v0, v1; " + ", ".join(f"v{i}" for i in range(2, k)))
    (flag,) = raised(study, FlagKind.FEW)
    fit = fit_of(study)
    assert flag.title == "60 cases for 8 columns"
    assert f"R² of {bounded(k / (n - 1), 2)} on average" in flag.cost
    assert f"has {bounded(fit.last.r2)}, adjusted {bounded(fit.last.adjusted_r2)}" in flag.cost
    assert bounded(press_r2(fit, 1)) in flag.cost
    after = flag.remedies[0].edit(study)
    assert not after.model.blocks[1].on
    assert raised(after, FlagKind.FEW) == []
    enough = study_of({**{n_: v for n_, v in world.items() if n_ != "v7"}}, "y", "v0, v1, v2, v3, v4, v5")
    assert raised(enough, FlagKind.FEW) == [], "ten for each"
    few = {name: values[:15] for name, values in world.items()}
    assert raised(study_of(few, "y", "v0, v1"), FlagKind.FEW)
    assert raised(study_of({name: values[:9] for name, values in few.items()}, "y", "v0"), FlagKind.FEW) == []


def groups_world() -> dict[str, np.ndarray]:
    n = 90
    g = np.array((["a"] * 40 + ["b"] * 45 + ["c"] * 3 + ["d"] * 2)[:n])
    h = np.array((["u", "v"] * 45)[:n])
    return {"g": g, "h": h, "x": RNG.normal(size=n), "y": RNG.normal(size=n)}


def test_groups_of_few_cases_are_merged_or_set_aside() -> None:
    study = study_of(groups_world(), "y", "x, g")
    (flag,) = raised(study, FlagKind.SMALL)
    assert flag.title == "Few cases in “c” and “d” of g"
    assert "“c” 3 and “d” 2; the largest group has 45" in flag.cost
    assert f"{(45 / 2) ** 0.5:.1f} times" in flag.cost
    merge, aside = flag.remedies
    assert merge.label == "Merge “c” with “b”"
    assert aside.label == "Set its 3 cases aside"
    merged = merge.edit(study)
    assert [len(level.codes) for level in merged.variable("g").levels] == [1, 2, 1]
    left = aside.edit(study)
    fit = fit_of(left)
    assert fit.design.group("g").levels == ("a", "b", "d")
    assert fit.y.size == 87
    (rest,) = raised(left, FlagKind.SMALL)
    assert "“d”" in rest.title


def test_cells_of_few_cases() -> None:
    world = groups_world()
    world["g"] = np.array(["a", "b"] * 45)
    world["h"] = np.array(["u", "v"] * 44 + ["v", "u"])
    study = study_of(world, "y", "g, h; g*h")
    (flag,) = raised(study, FlagKind.SMALL)
    assert flag.term == term("g*h")
    assert flag.title == "Few cases in 2 cells of g × h"
    assert "“a” and “v” 1 and “b” and “u” 1" in flag.cost
    after = flag.remedies[0].edit(study)
    assert fit_of(after).y.size == 88
    assert raised(after, FlagKind.SMALL) == []


def test_a_group_that_is_the_same_for_all() -> None:
    study = study_of({**noise_world(3)}, "y", "x, d; x*d")
    alone = set_kind(set_rule(study, None), "d", Kind.GROUP)
    rule = new_sample(alone, "only no", __import__("yellow_slope.core.data.conditions", fromlist=["Is"]).Is("d", "no"))
    (flag,) = raised(rule, FlagKind.CONSTANT)
    n = fit_of(rule).y.size
    assert f"All {n} cases of the model are in “no”" in flag.cost
    assert "2 terms with it cannot be estimated" in flag.cost
    assert raised(flag.remedies[0].edit(rule), FlagKind.CONSTANT) == []


def test_many_products_are_many_tests() -> None:
    n = 200
    world = {f"v{i}": RNG.normal(size=n) for i in range(6)}
    world["y"] = world["v0"] * world["v1"] + RNG.normal(size=n)
    products = ", ".join(f"v{i}*v{j}" for i in range(5) for j in range(i + 1, 5))
    study = study_of(world, "y", f"v0, v1, v2, v3, v4; {products}")
    (flag,) = raised(study, FlagKind.MANY)
    fit = fit_of(study)
    ps = sorted(float(p) for p in fit.last.p[6:])
    assert flag.title == "10 products are tested at once"
    assert "0.5 of 10 tests at .05 would be significant on average" in flag.cost
    assert f"about {100 * (1 - 0.95**10):.0f}%" in flag.cost
    below = sum(p < 0.05 for p in ps)
    assert f"Here {below} " in flag.cost
    assert "v0 × v1" in flag.cost
    fewer = take_out(study, [term("v3*v4")])
    assert raised(fewer, FlagKind.MANY) == []


def test_what_counts_the_rows_is_no_predictor() -> None:
    n = 80
    columns = (
        number_column("row", np.arange(1.0, n + 1)),
        number_column("x", RNG.normal(size=n)),
        number_column("y", RNG.normal(size=n)),
    )
    study = set_kind(new_study(Table(columns)), "row", Kind.NUMBER)
    study = enter(set_outcome(study, "y"), [term("row"), term("x")])
    (flag,) = raised(study, FlagKind.IDENTIFIER)
    assert "it counts the rows from 1 to 80" in flag.cost
    for remedy in flag.remedies:
        after = remedy.edit(study)
        assert raised(after, FlagKind.IDENTIFIER) == []
        assert term("row") not in after.model.terms


def test_a_date_is_no_predictor() -> None:
    n = 60
    days = DateColumn("start", np.arange(18000.0, 18000 + 3 * n, 3), "dates")
    study = new_study(Table((days, number_column("y", RNG.normal(size=n)))))
    study = set_kind(study, "start", Kind.NUMBER)
    study = enter(set_outcome(study, "y"), [term("start")])
    (flag,) = raised(study, FlagKind.IDENTIFIER)
    assert flag.title == "start is not a predictor: it is a date"
    assert flag.remedies[1].edit(study).variable("start").kind is Kind.DATE


def test_groups_of_hardly_more_than_one_case_tell_cases_apart() -> None:
    n = 30
    names = [f"p{i // 2 if i < 20 else i}" for i in range(n)]
    study = new_study(Table((text_column("who", names), number_column("y", RNG.normal(size=n)))))
    study = set_kind(set_outcome(study, "y"), "who", Kind.GROUP)
    study = enter(study, [term("who")])
    (flag,) = raised(study, FlagKind.IDENTIFIER)
    assert "20 groups for 30 cases" in flag.cost


def test_a_set_without_a_block_of_its_own_where_the_two_disagree() -> None:
    n = 150
    x, g = RNG.normal(size=n), np.array(["a", "b", "c"])[np.arange(n) % 3]
    study = study_of({"x": x, "g": g, "y": 2 * x + RNG.normal(size=n)}, "y", "x, g")
    fit = fit_of(study)
    (flag,) = raised(study, FlagKind.SET)
    assert f"F(3, 146) = {fixed(fit.last.change.test.f, 2)}" in flag.cost
    assert f"F(2, 146) = {fixed(fit.last.joint[term('g')].f, 2)}" in flag.cost
    after = flag.remedies[0].edit(study)
    assert [len(b.terms) for b in after.model.blocks] == [1, 1]
    assert raised(after, FlagKind.SET) == []
    both = study_of({"x": x, "g": g, "y": 2 * x + 3 * (g == "b") + RNG.normal(size=n)}, "y", "x, g")
    assert raised(both, FlagKind.SET) == [], "both significant: nothing to be misread"


def test_flags_of_the_waypoint_are_put_aside_and_kept() -> None:
    study = study_of(far_world(), "y", "x, w; x*w")
    (flag,) = raised(study, FlagKind.COLLINEAR)
    aside = dismiss(study, flag.key, "known")
    assert raised(aside, FlagKind.COLLINEAR) == []
    assert aside.dismissals[0].flag == FlagKey(FlagKind.COLLINEAR, ("w", "x"))
    assert treat(aside, ["x"], CENTERED).dismissals, "it stays as long as the product does"
    assert not take_out(aside, [term("x*w")]).dismissals


def test_where_no_single_test_is_left_it_is_said_as_a_person_would() -> None:
    rng = np.random.default_rng(3)
    table = {name: rng.normal(size=60) for name in "abcde"}
    products = ", ".join(f"{a}*{b}" for a, b in combinations(table, 2))
    study = study_of({**table, "y": rng.normal(size=60)}, "y", f"a, b, c, d, e; {products}")
    (flag,) = raised(study, FlagKind.MANY)
    assert "After Holm's correction none remains." in flag.cost
