"""The checks of results.json: rivals, assumptions, cases, before and after."""

from __future__ import annotations

from typing import assert_never

from yellow_slope.core.fit.fitted.evaluate import Evaluation
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.probe.leftbounds import BoundariesWithoutEach
from yellow_slope.core.review.beforeafter import State, states_of
from yellow_slope.core.stand.checked import Checked, checked
from yellow_slope.core.stand.rivals import (
    AnyOneOut,
    CovariateProducts,
    OneLevel,
    OtherErrors,
    OutcomeAs,
    PutBack,
    Rival,
    Squares,
    WithoutFar,
)
from yellow_slope.core.stand.standing import Row, Stand, Standing, asked_in, probed_product, whole_stand
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.names.terms import label
from yellow_slope.core.words.sentences.checks import own_r
from yellow_slope.core.words.sentences.rivals import rival_name, stand_sentence
from yellow_slope.files.written.checkparts import (
    ChecksPart,
    FarPart,
    LeftOutRangePart,
    OverlapPart,
    RivalPart,
    SpreadLevelPart,
    StandingColumnPart,
    StandingPart,
    StandPart,
    StatePart,
    ThirdPart,
)
from yellow_slope.files.written.nullable import number


def checks_part(evaluation: Evaluation) -> ChecksPart | None:
    """The checks of the reported step of the current model; None without a fit."""
    study, fit = evaluation.study, evaluation.fit
    if fit is None:
        return None
    step = study.model.reported_step
    asked = asked_in(study, step, probed_product(study, fit))
    found = checked(study, fit, step, asked)
    stand = whole_stand(study, fit, step, asked) if asked is not None else None
    straight = found.straight
    return ChecksPart(
        step=step,
        stand=_stand(study, fit, stand) if stand is not None else None,
        breusch_pagan=number(found.spread.test.f),
        breusch_pagan_df=found.spread.test.df1,
        breusch_pagan_p=number(found.spread.test.p),
        robust_ratio=number(found.ratio),
        variances={
            name: [SpreadLevelPart(level=x.code, n=x.n, variance=number(x.variance)) for x in levels]
            for name, levels in found.spread.groups
        },
        shapiro_w=number(found.normality.w),
        shapiro_p=number(found.normality.p),
        skewness=number(found.normality.skewness),
        kurtosis=number(found.normality.kurtosis),
        durbin_watson=number(found.order.d),
        lag_one=number(found.order.r),
        reset_f=number(found.reset.f),
        reset_df=[found.reset.df1, found.reset.df2],
        reset_p=number(found.reset.p),
        thirds=_thirds(found) if straight is not None else [],
        boundaries_without_each=[list(span) for span in _spans(found)],
        overlap=[
            OverlapPart(
                term=list(t.term.variables),
                columns=t.columns,
                now=number(t.now),
                raw=number(t.raw),
                centered=number(t.centered),
            )
            for t in found.overlap.terms
        ],
        condition_index=number(found.overlap.index),
        condition_index_raw=number(found.overlap.raw_index),
        condition_index_centered=number(found.overlap.centered_index),
        partial_r=number(own_r(found)),
        far=[
            FarPart(
                by=by.value,
                cutoff=number(far.cutoff),
                typed=far.is_typed,
                rows=(fit.cases.rows[far.cases] + 1).tolist(),
            )
            for by, far in found.far.items()
        ],
        before_and_after=[_state(study, fit, state) for state in states_of(study, step, asked, fit=fit)],
    )


def _spans(found: Checked) -> tuple[tuple[float, float], ...]:
    each = found.straight.without_each if found.straight is not None else None
    return each.spans() if isinstance(each, BoundariesWithoutEach) else ()


def _thirds(found: Checked) -> list[ThirdPart]:
    straight = found.straight
    assert straight is not None
    assert straight.focus.curve is not None
    return [
        ThirdPart(
            low=third.low,
            high=third.high,
            at=third.at,
            n=third.n,
            effect=number(third.effect),
            se=number(third.se),
            ends=[number(end) for end in third.ends],
            line=number(straight.focus.curve.at(third.at).effect),
        )
        for third in straight.thirds
    ]


def _stand(study: Study, fit: Fit, stand: Stand) -> StandPart:
    return StandPart(
        product=list(stand.asked.product.variables),
        as_it_stands=_standing(study, stand.base, label(study, stand.asked.product)),
        rivals=[_rival(study, fit, stand, row) for row in stand.rows],
        words=stand_sentence(study, fit, stand),
    )


def _standing(study: Study, standing: Standing, name: str) -> StandingPart:
    test = standing.test
    return StandingPart(
        n=standing.n,
        columns=[
            StandingColumnPart(
                name=name if len(standing.columns) == 1 else f"{name}, column {i + 1}",
                b=number(c.b),
                se=number(c.se),
                t=number(c.t),
                p=number(c.p),
                low=number(c.low),
                high=number(c.high),
            )
            for i, c in enumerate(standing.columns)
        ],
        f=number(test.f) if test is not None else None,
        df1=test.df1 if test is not None else None,
        df2=test.df2 if test is not None else None,
        p=number(standing.p),
        why=standing.why,
    )


def _rival(study: Study, fit: Fit, stand: Stand, row: Row) -> RivalPart:
    found = row.range
    rows = fit.cases.rows
    return RivalPart(
        name=rival_name(study, row.rival),
        kind=_kind(row.rival),
        terms=[list(t.variables) for t in getattr(row.rival, "terms", ())],
        rows=[r + 1 for r in getattr(row.rival, "rows", ())],
        same_units=row.has_units,
        standing=_standing(study, row.standing, label(study, stand.asked.product)),
        range=None
        if found is None
        else LeftOutRangePart(
            low=number(found.low),
            high=number(found.high),
            p_low=number(found.p_low),
            p_high=number(found.p_high),
            row=int(rows[found.case]) + 1,
            turns=[int(rows[i]) + 1 for i in found.turns],
            alone=found.alone,
        ),
        keeps_sign=stand.keeps_sign(row),
        same_conclusion=stand.same_conclusion(row),
    )


def _kind(rival: Rival) -> str:
    match rival:
        case OtherErrors():
            return "errors"
        case AnyOneOut():
            return "any one left out"
        case WithoutFar():
            return "without far"
        case PutBack():
            return "put back"
        case Squares():
            return "squares"
        case CovariateProducts():
            return "covariate"
        case OutcomeAs():
            return "outcome"
        case OneLevel():
            return "level"
        case _:
            assert_never(rival)


def _state(study: Study, fit: Fit, state: State) -> StatePart:
    product = probed_product(study, fit)
    name = label(study, product) if product is not None else ""
    return StatePart(
        name=state.name,
        n=state.n,
        r2=list(state.r2),
        change=[r2 for r2, _ in state.change],
        change_p=[number(p) for _, p in state.change],
        product=_standing(study, state.standing, name) if state.standing is not None else None,
        boundaries={b.name or "slope": list(b.at) for b in state.boundaries},
        flags=list(state.flags),
        why=state.why,
    )
