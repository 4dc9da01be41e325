"""Results as a JSON document: every number at full precision, usable as a check from outside."""

from __future__ import annotations

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
from yellow_slope.core.fit.fitted.steps import StepResult
from yellow_slope.core.flags import dismissed_flags, flags_of
from yellow_slope.core.probe.asking import asked_probes
from yellow_slope.core.probe.probing import probe_fit
from yellow_slope.core.study.model import Model
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.names.groups import comparison_name
from yellow_slope.core.words.names.numbers import treatment_name
from yellow_slope.core.words.sentences.bygroup import GroupReader
from yellow_slope.core.words.sentences.coefficients import Reader
from yellow_slope.core.words.sentences.equation import equation
from yellow_slope.files.written.asdescribed import coding_document, errors_document, probe_document
from yellow_slope.files.written.checkresults import checks_part
from yellow_slope.files.written.nullable import number, reason, test_part
from yellow_slope.files.written.probeparts import ProbePart, RefusedPart
from yellow_slope.files.written.proberesults import probe_part
from yellow_slope.files.written.resultparts import (
    ByGroupPart,
    CasesPart,
    CoefficientPart,
    ComparisonPart,
    ConditionPart,
    DescribedPart,
    FactorPart,
    FlagPart,
    GroupModelPart,
    GroupPart,
    JointPart,
    LeftOutPart,
    LostPart,
    ModelPart,
    NumberPart,
    ResampledPart,
    ResultsDocument,
    SetPart,
    SmallestPart,
    StepPart,
)

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
                probes.append(probe_part(study, probe_fit(study, found, probe)))
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
                sse=number(step.sse) if step else None,
                r2=number(step.r2) if step else None,
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
        test=test_part(found.test),
        joint=[JointPart(term=list(t.variables), test=test_part(test)) for t, test in found.joint.items()],
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
        s2=number(step.s2),
        about_mean=step.about_mean,
        perfect=step.is_perfect,
        r2=number(step.r2),
        r2_low=number(whole.low),
        r2_high=number(whole.high),
        adjusted_r2=number(step.adjusted_r2),
        press_r2=number(press_r2(fit, step.index)),
        aic=number(step.aic),
        bic=number(step.bic),
        change_r2=number(step.change.r2),
        change_low=number(change.low),
        change_high=number(change.high),
        smallest=[
            SmallestPart(power=x.power, f2=number(x.f2), change_r2=number(x.r2), why=reason(x.why))
            for x in smallest_changes(fit, model, step.index)
        ],
        change=test_part(step.change.test),
        f2=number(step.change.f2),
        whole=test_part(step.whole),
        critical=number(step.inference.critical(model.level)),
        error_df=step.inference.df,
        coefficients=[_coefficient(fit, read, step, j) for j in range(-1, step.n_columns)],
        joint=[JointPart(term=list(t.variables), test=test_part(test)) for t, test in step.joint.items()],
        collinearity=[SetPart(term=list(t.variables), gvif=number(generalized_vif(fit, step.index, t))) for t in terms],
        conditions=[
            ConditionPart(index=float(index), shares=shares.tolist())
            for index, shares in zip(found.indices, found.shares)
        ],
        covariance=[[number(float(v)) for v in row] for row in step.covariance],
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
        why=reason(c.why),
        b=number(c.b),
        se=number(c.se),
        t=number(c.t),
        p=number(c.p),
        low=number(c.low),
        high=number(c.high),
        beta=number(c.beta),
        beta_se=number(c.beta_se),
        beta_p=number(c.beta_p),
        vif=number(c.vif),
        sr2=number(c.sr2),
        partial_r=number(c.partial_r),
        r=number(c.r),
        words=read.coefficient(step.index, j) if step.n_columns <= MOST_WORDS else "",
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
    return [[number(float(v)) for v in row] for row in values]
