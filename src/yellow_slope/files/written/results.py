"""Results as a JSON document: every number at full precision, usable as a check from outside."""

from __future__ import annotations

import math
from typing import Literal, TypedDict, assert_never

import numpy as np

from yellow_slope import __version__
from yellow_slope.core.arrays import FloatArray
from yellow_slope.core.errors import StudyError
from yellow_slope.core.fit.asked.bygroup import by_group
from yellow_slope.core.fit.asked.collinearity import conditions, generalized_vif
from yellow_slope.core.fit.asked.describe import correlation_interval, described
from yellow_slope.core.fit.asked.diagnosis import press_r2
from yellow_slope.core.fit.asked.r2intervals import change_interval, r2_interval
from yellow_slope.core.fit.asked.sensitivity import smallest_changes
from yellow_slope.core.fit.design.bases import GroupBasis, NumberBasis
from yellow_slope.core.fit.fitted.evaluate import Evaluation
from yellow_slope.core.fit.fitted.fit import Fit, Problem
from yellow_slope.core.fit.fitted.inference import ConditionalEffect, FTest
from yellow_slope.core.fit.fitted.steps import StepResult
from yellow_slope.core.fit.solve.why import Why
from yellow_slope.core.flags import dismissed_flags, flags_of
from yellow_slope.core.probe.asking import asked_probes
from yellow_slope.core.probe.curve import Crossover
from yellow_slope.core.probe.maps import effect_map, has_map
from yellow_slope.core.probe.mattering import Size
from yellow_slope.core.probe.places import Everywhere, LevelPlace, NumberPlace, Place
from yellow_slope.core.probe.probed import Focus, Probed
from yellow_slope.core.probe.probing import probe_fit
from yellow_slope.core.probe.regions import Regions, regions_of
from yellow_slope.core.probe.share import own_share
from yellow_slope.core.probe.support import Near
from yellow_slope.core.probe.together import Together
from yellow_slope.core.study.model import Model
from yellow_slope.core.study.probe import RegionRule
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.names.groups import comparison_name
from yellow_slope.core.words.names.numbers import treatment_name
from yellow_slope.core.words.sentences.bygroup import GroupReader
from yellow_slope.core.words.sentences.coefficients import Reader
from yellow_slope.core.words.sentences.effects import EffectReader
from yellow_slope.core.words.sentences.equation import equation
from yellow_slope.files.written.asdescribed import coding_document, errors_document, probe_document
from yellow_slope.files.written.checkparts import Number
from yellow_slope.files.written.checkresults import checks_part
from yellow_slope.files.written.resultparts import (
    ByGroupPart,
    CasesPart,
    CoefficientPart,
    ComparisonPart,
    ConditionPart,
    DescribedPart,
    DifferencePart,
    EffectPart,
    FactorPart,
    FlagPart,
    FocusPart,
    GroupModelPart,
    GroupPart,
    JointPart,
    LeftOutPart,
    LostPart,
    MapPart,
    MatteringPart,
    ModelPart,
    NamedTestPart,
    NearPart,
    NumberPart,
    PanelPart,
    ProbePart,
    RefusedPart,
    RegionPart,
    RegionsPart,
    ResampledPart,
    ResultsDocument,
    SetPart,
    SizedPart,
    SmallestPart,
    StepPart,
    TestPart,
    TogetherPart,
    ZeroPart,
)

SIZES: dict[Size, Literal["above", "below", "small", "open"]] = {
    Size.ABOVE: "above",
    Size.BELOW: "below",
    Size.SMALL: "small",
    Size.OPEN: "open",
}
TOGETHER: dict[Together, Literal["joint", "any", "every"]] = {
    Together.JOINT: "joint",
    Together.ANY: "any",
    Together.EVERY: "every",
}
MOST_WORDS = 400
"""Of models with more coefficients the sentences are left out: nobody could read them."""


def results_document(evaluation: Evaluation) -> ResultsDocument:
    """Everything an evaluation holds, as a document."""
    study = evaluation.study
    probes: list[ProbePart] = []
    refused: list[RefusedPart] = []
    for probe in asked_probes(study, evaluation.fit):
        found = evaluation.fits.get(study.current if probe.model is None else probe.model)
        try:
            if isinstance(found, Fit):
                probes.append(_probe(study, probe_fit(study, found, probe)))
            else:
                why = found.said if isinstance(found, Problem) else f"There is no model “{probe.model}”."
                refused.append(RefusedPart(asked=probe_document(probe), why=why))
        except StudyError as error:
            refused.append(RefusedPart(asked=probe_document(probe), why=str(error)))
    aside = [_flag(flag, reason) for flag, reason in dismissed_flags(evaluation)]
    return ResultsDocument(
        program=__version__,
        study=study.name,
        current=study.current,
        models=[_model(study, model, evaluation.fits[model.id]) for model in study.models],
        probes=probes,
        refused=refused,
        flags=[*(_flag(flag, None) for flag in flags_of(evaluation)), *aside],
        checks=checks_part(evaluation),
    )


def _flag(flag, reason: str | None) -> FlagPart:  # type: ignore[no-untyped-def]
    return FlagPart(
        flag=str(flag.key.kind),
        about=list(flag.key.listed),
        title=flag.title,
        cost=flag.cost,
        remedies=[r.label for r in flag.remedies],
        put_aside=reason,
    )


def _number(value: float) -> Number:
    return float(value) if math.isfinite(value) else None


def _why(why: Why | None) -> str | None:
    return None if why is None else str(why)


def _test(test: FTest) -> TestPart:
    return TestPart(f=_number(test.f), df1=test.df1, df2=test.df2, p=_number(test.p), why=_why(test.why))


def _model(study: Study, model: Model, found: Fit | Problem) -> ModelPart:
    fit = found if isinstance(found, Fit) else None
    cases = found.cases
    return ModelPart(
        id=model.id,
        name=model.name,
        outcome=model.outcome,
        level=model.level,
        constant=model.constant,
        errors=errors_document(model.errors),
        clusters=fit.n_clusters if fit else None,
        resampled=_resampled(fit),
        problem=found.said if isinstance(found, Problem) else "",
        cases=CasesPart(
            table=cases.n_table,
            outside=cases.n_outside,
            aside=cases.n_aside,
            used=cases.n,
            lost=[LostPart(variable=x.variable, any=x.any, only=x.only, undefined=x.undefined) for x in cases.lost],
            rows=(cases.rows + 1).tolist(),
        ),
        bases={name: _basis(study, basis) for name, basis in fit.design.bases.items()} if fit else {},
        left_out=[LeftOutPart(column=out.column, on=list(out.on)) for out in fit.left_out] if fit else [],
        steps=[_step(study, model, fit, s) for s in fit.steps] if fit else [],
        described=_described(fit, model) if fit else None,
        by_group=_by_group(study, model, fit) if fit is not None and model.by is not None else None,
    )


def _resampled(fit: Fit | None) -> ResampledPart | None:
    if fit is None or fit.resampled is None:
        return None
    made = fit.resampled
    return ResampledPart(draws=made.errors.draws, redrawn=made.redrawn, percentiles_only=made.unit_missing)


def _by_group(study: Study, model: Model, fit: Fit) -> ByGroupPart:
    assert model.by is not None
    try:
        found = by_group(study, model, fit)
    except StudyError as error:
        return ByGroupPart(variable=model.by, problem=str(error))
    read = GroupReader(study, fit, found)
    groups = []
    for group in found.groups:
        inner, reader = group.fit, read.reader(group)
        step = inner.last if inner is not None else None
        groups.append(
            GroupModelPart(
                level=group.code,
                label=read.level_label(group),
                n=group.n,
                problem=group.said,
                df=step.df if step else None,
                sse=_number(step.sse) if step else None,
                r2=_number(step.r2) if step else None,
                coefficients=[_coefficient(inner, reader, step, j) for j in range(-1, step.n_columns)]
                if inner is not None and reader is not None and step is not None
                else [],
            )
        )
    return ByGroupPart(
        variable=model.by,
        terms=[list(t.variables) for b in found.model.blocks for t in b.terms],
        dropped=[list(t.variables) for t in found.dropped],
        without=found.n_without,
        groups=groups,
        test=_test(found.test),
        joint=[JointPart(term=list(t.variables), test=_test(test)) for t, test in found.joint.items()],
        words=read.headline(),
    )


def _basis(study: Study, basis: NumberBasis | GroupBasis) -> NumberPart | GroupPart:
    if isinstance(basis, NumberBasis):
        return NumberPart(
            treatment=treatment_name(study, basis.treatment),
            transforms=[str(t) for t in basis.treatment.transforms],
            center=basis.center,
            scale=basis.scale,
            mean=basis.mean,
            sd=basis.sd,
            low=basis.low,
            high=basis.high,
            transformed_mean=basis.axis_mean,
            transformed_sd=basis.axis_sd,
        )
    variable = study.variable(basis.variable)
    return GroupPart(
        coding=coding_document(basis.coding),
        levels=list(basis.levels),
        labels=[variable.level(code).label for code in basis.levels],
        counts=[int(c) for c in basis.counts],
        reference=None if basis.reference is None else basis.levels[basis.reference],
        comparisons=[
            ComparisonPart(name=comparison_name(study, basis, i), weights=c.weights.tolist())
            for i, c in enumerate(basis.comparisons)
        ],
        codes=basis.codes.tolist(),
        zero_weights=None if basis.zero_weights is None else basis.zero_weights.tolist(),
    )


def _step(study: Study, model: Model, fit: Fit, step: StepResult) -> StepPart:
    read = Reader(study, fit, model)
    found = conditions(fit, step.index)
    terms = dict.fromkeys(column.term for column in fit.design.columns[: step.n_columns])
    whole, change = r2_interval(fit, model, step.index), change_interval(fit, model, step.index)
    return StepPart(
        step=step.index + 1,
        block_id=model.steps[step.index].id,
        block=model.steps[step.index].name,
        n=step.n,
        rank=step.rank,
        df=step.df,
        sse=step.sse,
        sst=step.total,
        s2=_number(step.s2),
        about_mean=step.about_mean,
        perfect=step.is_perfect,
        r2=_number(step.r2),
        r2_low=_number(whole.low),
        r2_high=_number(whole.high),
        adjusted_r2=_number(step.adjusted_r2),
        press_r2=_number(press_r2(fit, step.index)),
        aic=_number(step.aic),
        bic=_number(step.bic),
        change_r2=_number(step.change.r2),
        change_low=_number(change.low),
        change_high=_number(change.high),
        smallest=[
            SmallestPart(power=x.power, f2=_number(x.f2), change_r2=_number(x.r2), why=_why(x.why))
            for x in smallest_changes(fit, model, step.index)
        ],
        change=_test(step.change.test),
        f2=_number(step.change.f2),
        whole=_test(step.whole),
        critical=_number(step.inference.critical(model.level)),
        error_df=step.inference.df,
        coefficients=[_coefficient(fit, read, step, j) for j in range(-1, step.n_columns)],
        joint=[JointPart(term=list(t.variables), test=_test(test)) for t, test in step.joint.items()],
        collinearity=[
            SetPart(term=list(t.variables), gvif=_number(generalized_vif(fit, step.index, t))) for t in terms
        ],
        conditions=[
            ConditionPart(index=float(index), shares=shares.tolist())
            for index, shares in zip(found.indices, found.shares)
        ],
        covariance=[[_number(float(v)) for v in row] for row in step.covariance],
        equation=equation(study, fit, step.index, model),
    )


def _coefficient(fit: Fit, read: Reader, step: StepResult, j: int) -> CoefficientPart:
    c = step.coefficient(j)
    term: list[str] = []
    factors: list[FactorPart] = []
    compared: dict[str, str] = {}
    if j >= 0:
        column = fit.design.columns[j]
        term = list(column.term.variables)
        for atom in column.atoms:
            factors.append(FactorPart(variable=atom.variable, comparison=atom.comparison))
            if atom.comparison is not None:
                basis = fit.design.group(atom.variable)
                if basis.reference is not None:
                    others = [code for i, code in enumerate(basis.levels) if i != basis.reference]
                    compared[atom.variable] = others[atom.comparison]
    return CoefficientPart(
        term=term,
        factors=factors,
        compared=compared,
        left_out=j >= 0 and step.is_left_out(j),
        estimable=bool(step.estimable[j + 1]),
        why=_why(c.why),
        b=_number(c.b),
        se=_number(c.se),
        t=_number(c.t),
        p=_number(c.p),
        low=_number(c.low),
        high=_number(c.high),
        beta=_number(c.beta),
        beta_se=_number(c.beta_se),
        beta_p=_number(c.beta_p),
        vif=_number(c.vif),
        sr2=_number(c.sr2),
        partial_r=_number(c.partial_r),
        r=_number(c.r),
        words=read.coefficient(step.index, j) if step.n_columns <= MOST_WORDS else "",
    )


def _probe(study: Study, probed: Probed) -> ProbePart:
    readers = [EffectReader(study, probed, k) for k in range(len(probed.panels))]
    return ProbePart(
        asked=probe_document(probed.probe),
        model=probed.model.id,
        step=probed.step + 1,
        unit=probed.unit,
        joint=_test(probed.joint),
        share=_number(own_share(probed.fit, probed.step, [term for term, _ in probed.highest])),
        panels=[_panel(probed, read) for read in readers],
        across=[
            [
                DifferencePart(
                    of=_where(probed.places[x.of[1]]),
                    minus=_where(probed.places[x.minus[1]]),
                    of_second=_second(probed, x.of[0]),
                    minus_second=_second(probed, x.minus[0]),
                    p_holm=_number(x.p_holm),
                    **_figures(x.effect),
                    words=readers[0].across(focus, x),
                )
                for x in found
            ]
            for focus, found in enumerate(probed.across)
        ],
        maps=[_map(probed, focus) for focus in range(len(probed.panels[0].foci))] if has_map(probed) else [],
    )


def _map(probed: Probed, focus: int) -> MapPart:
    found = effect_map(probed, focus)
    return MapPart(
        critical=_number(found.critical),
        dimension=found.surface.dimension,
        bounds=[line.points.tolist() for line in found.bounds],
        share=found.share,
    )


def _where(place: Place) -> str | float | None:
    """A value, a level's code, or null where the effect is the same everywhere."""
    match place:
        case NumberPlace(value, _):
            return value
        case LevelPlace(_, code):
            return code
        case Everywhere():
            return None
        case _:
            assert_never(place)


def _second(probed: Probed, panel: int) -> str | float | None:
    place = probed.panels[panel].second
    return None if place is None else _where(place)


def _panel(probed: Probed, read: EffectReader) -> PanelPart:
    panel = read.shown
    inside = (probed.x.low, probed.x.high) if probed.x is not None else (0.0, 0.0)
    return PanelPart(
        second=_second(probed, read.panel),
        foci=[_focus(probed, read, focus, k) for k, focus in enumerate(panel.foci)],
        lines_meet_at=[float(x) for x in panel.crossing],
        crossover=_zero(panel.crossing_set, inside),
        together=[
            TogetherPart(
                of=TOGETHER[found.of],
                critical=_number(found.critical),
                df1=found.df1,
                regions=[
                    RegionPart(
                        low=_number(r.low),
                        high=_number(r.high),
                        sign=1 if r.sign else 0,
                        words="passes" if r.sign else "does not pass",
                        cases=_near(probed, r.cases),
                        share=r.share,
                    )
                    for r in found.within
                ],
            )
            for found in panel.together
        ],
    )


def _focus(probed: Probed, read: EffectReader, focus: Focus, k: int) -> FocusPart:
    inside = (0.0, 0.0)
    by_rule: list[Regions] = []
    if focus.curve is not None and isinstance(probed.moderator, NumberBasis):
        inside = (probed.moderator.low, probed.moderator.high)
        observed = np.asarray(probed.observed, dtype=np.float64)
        by_rule = [regions_of(focus.curve, rule, observed, focus.support) for rule in RegionRule]
    weights = None
    if focus.comparison is not None and isinstance(probed.focal, GroupBasis):
        weights = dict(zip(probed.focal.levels, focus.comparison.weights.tolist()))
    return FocusPart(
        compared=read.focus_name(k) or None,
        weights=weights,
        effects=[
            EffectPart(
                at=_where(place),
                name=read.place_name(i) if isinstance(place, NumberPlace) else "",
                near=_near(probed, near),
                **_figures(effect),
                words=read.effect(k, effect, place),
            )
            for i, (place, effect, near) in enumerate(zip(probed.places, focus.effects, focus.near))
        ],
        differences=[
            DifferencePart(
                of=_where(probed.places[d.of]),
                minus="the mean of the others" if d.minus is None else _where(probed.places[d.minus]),
                p_holm=_number(d.p_holm),
                **_figures(d.effect),
                words=read.difference(k, d),
            )
            for d in focus.differences
        ],
        regions=_regions(probed, read, k, focus.regions) if focus.regions is not None else None,
        by_rule=[_regions(probed, read, k, found) for found in by_rule],
        tests=[
            NamedTestPart(name=read.test_name(tested, k), test=_test(tested.test))
            for tested in probed.tests(read.panel, k)
        ],
        zero=_zero(focus.zero, inside),
        mattering=_mattering(probed, focus),
    )


def _mattering(probed: Probed, focus: Focus) -> MatteringPart | None:
    found = focus.mattering
    if found is None:
        return None
    return MatteringPart(
        smallest=found.smallest,
        critical=_number(found.critical),
        critical_small=_number(found.critical_small),
        stretches=[
            SizedPart(low=_number(s.low), high=_number(s.high), size=SIZES[s.size], cases=_near(probed, s.cases))
            for s in found.within
        ],
        outside=list(found.outside),
    )


class Figures(TypedDict):
    """What is given of an effect and of a difference alike."""

    effect: Number
    se: Number
    t: Number
    p: Number
    low: Number
    high: Number
    df: int
    why: str | None


def _figures(e: ConditionalEffect) -> Figures:
    return Figures(
        effect=_number(e.effect),
        se=_number(e.se),
        t=_number(e.t),
        p=_number(e.p),
        low=_number(e.low),
        high=_number(e.high),
        df=e.df,
        why=_why(e.why),
    )


def _near(probed: Probed, near: tuple[Near, ...]) -> list[NearPart]:
    codes = probed.focal.levels if isinstance(probed.focal, GroupBasis) else ()
    return [NearPart(levels=[codes[i] for i in one.levels], cases=one.cases, of=one.of) for one in near]


def _regions(probed: Probed, read: EffectReader, focus: int, found: Regions) -> RegionsPart:
    return RegionsPart(
        rule=found.rule,
        critical=_number(found.critical),
        regions=[
            RegionPart(
                low=_number(r.low),
                high=_number(r.high),
                sign=r.sign,
                words=read.region(focus, r.sign),
                cases=_near(probed, r.cases),
                share=r.share,
            )
            for r in found.within
        ],
        outside=list(found.outside),
    )


def _zero(zero: Crossover | None, inside: tuple[float, float]) -> ZeroPart | None:
    if zero is None:
        return None
    return ZeroPart(
        at=zero.at,
        inside=inside[0] <= zero.at <= inside[1],
        set=zero.kind.value,
        low=_number(zero.low),
        high=_number(zero.high),
    )


def _described(fit: Fit, model: Model) -> DescribedPart | None:
    found = described(fit, model)
    if found is None:
        return None
    low, high = correlation_interval(found.r, found.n, model.level)
    return DescribedPart(
        variables=[name for name, _ in found.columns],
        levels=[code for _, code in found.columns],
        n=found.n,
        mean=found.mean.tolist(),
        sd=found.sd.tolist(),
        low=found.low.tolist(),
        high=found.high.tolist(),
        correlations=_numbers(found.r),
        correlation_p=_numbers(found.p),
        correlation_low=_numbers(low),
        correlation_high=_numbers(high),
    )


def _numbers(values: FloatArray) -> list[list[float | None]]:
    return [[_number(float(v)) for v in row] for row in values]
