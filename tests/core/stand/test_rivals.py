"""Each rival of a product is what a study says that is built apart and evaluated as a whole."""

from __future__ import annotations

import numpy as np
import pytest

from tests.support.worlds import blocks_of, fit_of, noise_world, study_of, term
from yellow_slope.core.data.conditions import Is
from yellow_slope.core.data.table import Table, number_column
from yellow_slope.core.data.variable import Kind
from yellow_slope.core.errors import StudyError
from yellow_slope.core.fit.asked.covariatetrials import covariate_trials
from yellow_slope.core.fit.asked.matching import column_keys
from yellow_slope.core.fit.fitted.steps import Resampling
from yellow_slope.core.fit.solve.why import Why
from yellow_slope.core.stand.rivals import (
    AnyOneOut,
    CovariateProducts,
    Form,
    OneLevel,
    OtherErrors,
    OutcomeAs,
    PutBack,
    Squares,
    WithoutFar,
    adopt,
)
from yellow_slope.core.stand.standing import (
    ProductAsked,
    Row,
    Stand,
    default_split,
    resampled_standing,
    stand_of,
    standing,
)
from yellow_slope.core.study.checks import Checks, Cutoffs, FarBy
from yellow_slope.core.study.edits.blocks import set_blocks
from yellow_slope.core.study.edits.checks import set_cutoff, set_distance, set_split
from yellow_slope.core.study.edits.entries import treat
from yellow_slope.core.study.edits.kinds import set_kind
from yellow_slope.core.study.edits.models import set_errors
from yellow_slope.core.study.edits.samples import new_sample, set_aside
from yellow_slope.core.study.rules import SetAside
from yellow_slope.core.study.standarderrors import HC, Bootstrap, Classical, Cluster, IntervalWay
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.treatment import CENTERED
from yellow_slope.values import replace

BLOCKS = "x, w, z, g, d; x*w, x*g"


def world(seed: int, product: str = "x*w") -> tuple[Study, ProductAsked]:
    made = noise_world(seed, 90)
    made["y"] = np.exp(made["y"] / 20) + 1
    study = set_split(treat(study_of(made, "y", BLOCKS), ["x", "w"], CENTERED), "d")
    study = set_aside(study, [3, 50], "odd") if seed % 2 else study
    return study, ProductAsked(term(product))


def stood(study: Study, asked: ProductAsked, step: int = 1) -> Stand:
    return stand_of(study, fit_of(study), step, asked)


def row_of(stand: Stand, kind: type, **what: object) -> Row:
    """The one row of a kind, with these parts."""
    (found,) = (
        r for r in stand.rows if isinstance(r.rival, kind) and all(getattr(r.rival, k) == v for k, v in what.items())
    )
    return found


def apart(study: Study, blocks: str = BLOCKS, rows: list[int] | None = None, **changes: object) -> Study:
    """A study built from the table itself: with other blocks, without some rows of it."""
    table = study.table
    keep = np.setdiff1d(np.arange(table.n_rows), rows or [])
    columns = {}
    for column in table.columns:
        texts = [column.text(int(i)) for i in keep]
        columns[column.name] = np.array([float(t) for t in texts]) if column.is_numeric else texts
    new = treat(study_of(columns, study.model.outcome or "y", blocks), ["x", "w"], CENTERED)
    return new.with_model(replace(new.model, **changes))  # type: ignore[arg-type]


def agrees(row: Row, other: Study, product: str, step: int = 1) -> None:
    """The row says what the other study says, to the last digits."""
    found = standing(other, fit_of(other), step, ProductAsked(term(product)))
    assert row.standing.n == found.n
    assert row.standing.p == pytest.approx(found.p, rel=1e-8)
    for mine, theirs in zip(row.standing.columns, found.columns, strict=True):
        assert (mine.b, mine.se, mine.low, mine.high) == pytest.approx(
            (theirs.b, theirs.se, theirs.low, theirs.high), rel=1e-8
        )


@pytest.mark.parametrize("product", ["x*w", "x*g"])
@pytest.mark.parametrize("seed", range(8))
def test_each_rival_is_a_study_built_apart(seed: int, product: str) -> None:
    study, asked = world(seed, product)
    stand = stood(study, asked)
    gone = [3, 50] if seed % 2 else []
    agrees(Row(AnyOneOut(), stand.base), apart(study, rows=gone), product)
    agrees(row_of(stand, OtherErrors, errors=HC(3)), apart(study, rows=gone, errors=HC(3)), product)
    for by in FarBy:
        row = row_of(stand, WithoutFar, by=by)
        assert isinstance(row.rival, WithoutFar)
        if row.rival.rows:
            agrees(row, apart(study, rows=[*gone, *row.rival.rows]), product)
        else:
            assert row.why == "no case is beyond it"
    if gone:
        agrees(row_of(stand, PutBack), apart(study), product)
    squares = "x*x, w*w" if product == "x*w" else "x*x"
    agrees(row_of(stand, Squares), apart(study, f"x, w, z, g, d, {squares}; x*w, x*g", gone), product)
    for code in ("no", "yes"):
        level = row_of(stand, OneLevel, code=code)
        other = [i for i in range(90) if study.table.column("d").text(i) != code]
        agrees(level, apart(study, rows=sorted({*gone, *other})), product)
    numbers = study.columns.numbers("y")
    made = {Form.LOG: np.log(numbers), Form.ROOT: np.sqrt(numbers)}
    order = np.argsort(np.argsort(numbers)) + 1.0
    for form, values in {**made, Form.RANKS: order}.items():
        table = Table(tuple(number_column("y", values) if c.name == "y" else c for c in study.table.columns))
        agrees(row_of(stand, OutcomeAs, form=form), apart(replace(study, table=table), rows=gone), product)
        assert not row_of(stand, OutcomeAs, form=form).has_units


@pytest.mark.parametrize("seed", range(4))
def test_the_worst_covariate_is_that_of_how_far_to_trust_it(seed: int) -> None:
    study, asked = world(seed)
    row = row_of(stood(study, asked), CovariateProducts)
    assert isinstance(row.rival, CovariateProducts)
    fit = fit_of(study)
    trials = covariate_trials(study, study.model, fit, asked.product)
    assert row.rival.covariate == trials.rows[0].covariate
    assert row.standing.p == max(t.p for t in trials.rows)
    assert row.rival.tried == 3


@pytest.mark.parametrize("seed", range(6))
def test_a_rival_that_is_adopted_says_what_its_row_says(seed: int) -> None:
    study, asked = world(seed)
    for row in stood(study, asked).rows:
        if row.why or row.standing.is_waiting or isinstance(row.rival, AnyOneOut):
            continue
        new = adopt(study, row.rival, asked.product, "far out")
        now = standing(new, fit_of(new), new.model.step_index(study.model.steps[1].id), asked)
        assert now.p == pytest.approx(row.standing.p, rel=1e-9)
        assert now.n == row.standing.n


def test_the_resampled_rival_is_the_models_own_bootstrap() -> None:
    study, asked = world(2)
    stand = stood(study, asked)
    row = next(r for r in stand.rows if r.standing.is_waiting)
    assert isinstance(row.rival, OtherErrors)
    drawn = resampled_standing(study, fit_of(study), 1, asked, row.rival, Resampling())
    own = set_errors(study, Bootstrap(IntervalWay.PERCENTILE, 5000, 1))
    expected = standing(own, fit_of(own), 1, asked)
    assert drawn.one is not None
    assert expected.one is not None
    assert (drawn.one.b, drawn.one.low, drawn.one.high, drawn.p) == (
        expected.one.b,
        expected.one.low,
        expected.one.high,
        expected.p,
    )
    of_set = resampled_standing(study, fit_of(study), 1, ProductAsked(term("x*g")), row.rival, Resampling())
    assert of_set.test is not None
    assert of_set.p == fit_of(own).last.joint[term("x*g")].p
    assert len({c.low for c in of_set.columns}) == 2


def test_a_step_is_read_by_its_block() -> None:
    study, asked = world(1)
    early = study.with_model(replace(study.model, blocks=tuple(blocks_of("x, w; x*w, z; g, d, x*g"))))
    stand = stood(early, asked, 1)
    agrees(row_of(stand, Squares), apart(early, "x, w, x*x, w*w; x*w, z; g, d, x*g", [3, 50]), "x*w", 1)


def test_a_single_comparison_is_found_again() -> None:
    study, _ = world(4, "x*g")
    fit = fit_of(study)
    column = fit.design.columns_of(term("x*g"))[1]
    stand = stood(study, ProductAsked(term("x*g"), column_keys(fit)[column]))
    assert stand.base.one is not None
    assert stand.base.one.b == fit.last.b[column + 1]
    robust = row_of(stand, OtherErrors, errors=HC(3)).standing.one
    assert robust is not None
    assert robust.b == pytest.approx(stand.base.one.b)


def test_what_cannot_be_computed_has_its_reason() -> None:
    made = noise_world(1, 60)
    made["y"] = made["y"] - 30
    made["b"] = np.arange(60.0) % 2
    study = study_of(made, "y", "x, b, d; x*b")
    stand = stood(study, ProductAsked(term("x*b")))
    assert row_of(stand, OutcomeAs, form=Form.LOG).why == "y is 0 or below in some case"
    assert row_of(stand, OutcomeAs, form=Form.ROOT).why == "y is below 0 in some case"
    assert not row_of(stand, OutcomeAs, form=Form.RANKS).why
    x, w = np.arange(1.0, 9.0), np.array([1.0, 0, 2, 0, 1, 5, 3, 3])
    perfect = study_of({"x": x, "w": w, "y": 1 + x * w}, "y", "x, w; x*w")
    stand = stood(perfect, ProductAsked(term("x*w")))
    assert stand.base.cause is Why.PERFECT
    assert all(stand.same_conclusion(row) is None for row in stand.rows)


def test_a_number_of_two_values_has_no_square() -> None:
    made = {**noise_world(1, 60), "b": np.arange(60.0) % 2 + 3}
    study = set_kind(study_of(made, "y", "x, z"), "b", Kind.NUMBER)
    study = set_blocks(study, blocks_of("x, b; x*b"))
    (row,) = (r for r in stood(study, ProductAsked(term("x*b"))).rows if isinstance(r.rival, Squares))
    assert row.rival == Squares((term("x*x"),))


def test_errors_of_the_model_decide_which_others_are_rivals() -> None:
    study, asked = world(0)
    robust = stood(set_errors(study, HC(3)), asked)
    assert [r.rival for r in robust.rows[:2]] == [
        OtherErrors(Classical()),
        OtherErrors(Bootstrap(IntervalWay.PERCENTILE, 5000, 1)),
    ]
    clustered = stood(set_errors(study, Cluster("g")), asked)
    assert OtherErrors(Bootstrap(IntervalWay.PERCENTILE, 5000, 1, "g")) in [r.rival for r in clustered.rows]
    drawn = stood(set_errors(study, Bootstrap(IntervalWay.PERCENTILE, 5000, 1)), asked)
    assert not any(r.standing.is_waiting for r in drawn.rows)


def test_the_parts_are_chosen_or_follow_one_rule() -> None:
    study, asked = world(0)
    assert default_split(study, asked.product) == "d"
    free = set_split(study, None)
    assert default_split(free, asked.product) == "g"
    assert default_split(free, term("x*g")) == "d"
    with pytest.raises(StudyError, match="not a group"):
        set_split(study, "x")
    many = {**noise_world(1, 90), "h": [f"crew {k % 9}" for k in range(90)]}
    nine = study_of(many, "y", "x, w, h; x*w")
    assert default_split(nine, term("x*w")) is None
    with pytest.raises(StudyError, match="9 levels; at most 8"):
        set_split(nine, "h")


def test_cutoffs_are_choices_of_the_study() -> None:
    study, asked = world(0)
    tight = set_cutoff(study, FarBy.STUDENTIZED, 1.5)
    row = row_of(stood(tight, asked), WithoutFar, by=FarBy.STUDENTIZED)
    assert isinstance(row.rival, WithoutFar)
    assert row.rival.is_typed
    assert len(row.rival.rows) > 2
    assert set_cutoff(tight, FarBy.STUDENTIZED, None).checks == Checks(split="d")
    assert set_distance(study, True, False).checks.cutoffs == Cutoffs(exact=True, groups=False)
    with pytest.raises(StudyError, match="above 0"):
        set_cutoff(study, FarBy.COOK, -1.0)


def test_a_level_alone_stays_within_the_sample() -> None:
    study, asked = world(1)
    narrow = new_sample(study, "narrow", Is("g", "low"))
    (sample,) = (s for s in narrow.samples if s.name == "narrow")
    narrow = replace(narrow, samples=(replace(sample, aside=(SetAside((6,), "odd"),)),))
    row = row_of(stood(narrow, asked, 1), OneLevel, code="no")
    inside = [i for i in range(90) if i % 3 == 0 and (i // 3) % 2 == 0 and i != 6]
    assert row.standing.n == len(inside)
