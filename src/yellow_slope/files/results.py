"""Results as a JSON document: every number at full precision, usable as a check from outside."""

from __future__ import annotations

import math
from typing import Literal

import numpy as np
from pydantic import BaseModel, ConfigDict, Field

from yellow_slope import __version__
from yellow_slope.core.errors import StudyError
from yellow_slope.core.fit.bases import GroupBasis, NumberBasis
from yellow_slope.core.fit.collinearity import conditions, generalized_vif
from yellow_slope.core.fit.describe import described
from yellow_slope.core.fit.diagnosis import press_r2
from yellow_slope.core.fit.evaluate import Evaluation, Fit, Problem
from yellow_slope.core.fit.inference import ConditionalEffect, FTest, Why
from yellow_slope.core.fit.steps import StepResult
from yellow_slope.core.flags import dismissed_flags, flags_of
from yellow_slope.core.probe.curve import Region, Zero
from yellow_slope.core.probe.probing import Focus, Panel, Probed, asked_probes, probe_fit
from yellow_slope.core.study.model import Model
from yellow_slope.core.study.probe import Pointwise, Simultaneous
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.coefficients import Reader
from yellow_slope.core.words.effects import EffectReader
from yellow_slope.core.words.equation import equation
from yellow_slope.core.words.names import comparison_name, treatment_name
from yellow_slope.files.documents import CodingDocument, ErrorsOf, ProbeDocument
from yellow_slope.files.values import coding_document, errors_document, probe_document

Number = float | None
MOST_WORDS = 400
"""Of models with more coefficients the sentences are left out: nobody could read them."""


class _Part(BaseModel):
    model_config = ConfigDict(extra="forbid")


class LostPart(_Part):
    """Cases lost by one variable."""

    variable: str = Field(description="the variable without a value")
    any: int = Field(description="cases of the sample without a value there")
    only: int = Field(description="cases that lack a value there and nowhere else")
    undefined: int = Field(description="values for which a transformation is not defined")


class CasesPart(_Part):
    """Which cases count."""

    table: int = Field(description="cases in the table")
    outside: int = Field(description="cases outside the sample rule")
    aside: int = Field(description="cases set aside by hand")
    used: int = Field(description="cases in use")
    lost: list[LostPart] = Field(description="variables that cost cases")
    rows: list[int] = Field(description="row numbers of the cases in use, from 1")


class TestPart(_Part):
    """A joint test."""

    f: Number = Field(description="F; null where the test does not exist")
    df1: int = Field(description="numerator degrees of freedom")
    df2: int = Field(description="denominator degrees of freedom")
    p: Number = Field(description="upper tail of F")
    why: str | None = Field(description="why the test does not exist")


class NumberPart(_Part):
    """How a number entered."""

    kind: Literal["number"] = Field("number", description="what it is")
    treatment: str = Field(description="the treatment in words")
    transforms: list[str] = Field(description="transformations in order")
    center: float = Field(description="what is subtracted from the transformed value")
    scale: float = Field(description="what the rest is divided by")
    mean: float = Field(description="mean of the raw values (of a number centered within groups: of its deviations)")
    sd: float = Field(description="SD of the same values")
    low: float = Field(description="least of the same values")
    high: float = Field(description="largest of the same values")
    transformed_mean: float = Field(description="mean after the transformations")
    transformed_sd: float = Field(description="SD after the transformations")


class ComparisonPart(_Part):
    """One comparison of a group."""

    name: str = Field(description="its name")
    weights: list[float] = Field(description="weight of each level present; they sum to 0, of a level mean to 1")


class GroupPart(_Part):
    """How a group entered."""

    kind: Literal["group"] = Field("group", description="what it is")
    coding: CodingDocument = Field(description="what its comparisons ask")
    levels: list[str] = Field(description="codes present among the model's cases")
    labels: list[str] = Field(description="their labels")
    counts: list[int] = Field(description="their cases")
    reference: str | None = Field(description="code of the reference group; null where the coding has none")
    comparisons: list[ComparisonPart] = Field(description="one for each code column")
    codes: list[list[float]] = Field(description="code columns: a row for each level")
    zero_weights: list[float] | None = Field(description="level weights where all codes are 0; null for level means")


class FactorPart(_Part):
    """A factor of a model column."""

    variable: str = Field(description="the variable")
    comparison: int | None = Field(description="of a group the position of its comparison, from 0; null for a number")


class CoefficientPart(_Part):
    """One coefficient of one step; the constant has no factors."""

    term: list[str] = Field(description="the variables of its term")
    factors: list[FactorPart] = Field(description="the factors of its column; empty for the constant")
    compared: dict[str, str] = Field(
        description="for each dummy-coded group of the term, the code of the level set against the reference"
    )
    left_out: bool = Field(description="whether the column was left out because others say what it says")
    estimable: bool = Field(description="whether the cases tell of it")
    why: str | None = Field(description="why b, or its standard error, does not exist")
    b: Number = Field(description="the coefficient")
    se: Number = Field(description="its standard error")
    t: Number = Field(description="b over its standard error")
    p: Number = Field(description="two-sided")
    low: Number = Field(description="lower end of the interval")
    high: Number = Field(description="upper end of the interval")
    beta: Number = Field(description="with outcome and numbers standardized")
    beta_se: Number = Field(description="standard error of beta")
    beta_p: Number = Field(description="p of beta, which may answer another question than b")
    vif: Number = Field(description="variance inflation factor")
    sr2: Number = Field(description="squared semipartial correlation, from the classical t")
    partial_r: Number = Field(description="partial correlation, from the classical t")
    r: Number = Field(description="zero-order correlation of the column with the outcome")
    words: str = Field(description="the sentence")


class JointPart(_Part):
    """The joint test of a term of several columns."""

    term: list[str] = Field(description="the variables of the term")
    test: TestPart = Field(description="the test")


class SetPart(_Part):
    """Collinearity of a term."""

    term: list[str] = Field(description="the variables of the term")
    gvif: Number = Field(description="generalized variance inflation of all its columns")


class ConditionPart(_Part):
    """One condition index."""

    index: float = Field(description="the condition index")
    shares: list[float] = Field(description="share of each coefficient's variance that goes with it, constant first")


class LeftOutPart(_Part):
    """A column that the model cannot hold."""

    column: int = Field(description="position among the model's columns, from 0")
    on: list[tuple[int, float]] = Field(
        description="columns it depends on, with their weights; empty if it is constant"
    )


class StepPart(_Part):
    """One step; everything is named, nothing rounded."""

    step: int = Field(description="counted from 1")
    block_id: str = Field(description="id of the block that makes the step")
    block: str = Field(description="name of the block")
    n: int = Field(description="cases")
    rank: int = Field(description="estimated columns, the constant included")
    df: int = Field(description="residual degrees of freedom")
    sse: float = Field(description="residual sum of squares; 0 for a perfect fit")
    sst: float = Field(description="total sum of squares")
    s2: Number = Field(description="residual variance")
    about_mean: bool = Field(description="whether R² is about the mean (else about zero)")
    perfect: bool = Field(description="whether the fit is perfect, so that errors do not exist")
    r2: Number = Field(description="R²")
    adjusted_r2: Number = Field(description="adjusted R²")
    press_r2: Number = Field(description="PRESS R²; null where a case has leverage 1")
    aic: Number = Field(description="AIC; null for a perfect fit")
    bic: Number = Field(description="BIC; null for a perfect fit")
    change_r2: Number = Field(description="what the block adds to R²")
    change: TestPart = Field(description="test of what the block adds")
    f2: Number = Field(description="effect size of the block")
    whole: TestPart = Field(description="test of all columns at once")
    critical: Number = Field(description="the t that intervals use")
    error_df: int = Field(description="degrees of freedom of t and F")
    coefficients: list[CoefficientPart] = Field(description="the constant first")
    joint: list[JointPart] = Field(description="terms of several columns")
    collinearity: list[SetPart] = Field(description="generalized variance inflation of each term")
    conditions: list[ConditionPart] = Field(description="condition indices, rising")
    covariance: list[list[Number]] = Field(
        description="of b, constant first; null rows and columns where b is not given or errors do not exist"
    )
    equation: str = Field(description="to be computed by hand")


class EffectPart(_Part):
    """A conditional effect."""

    at: str | float | None = Field(description="place of a number or code of a level; null: the same everywhere")
    name: str = Field(description="name of the pick point; empty for a level")
    effect: Number = Field(description="the effect; null where no case tells of it")
    se: Number = Field(description="its standard error")
    t: Number = Field(description="effect over its standard error")
    p: Number = Field(description="two-sided, not adjusted")
    low: Number = Field(description="lower end of the interval")
    high: Number = Field(description="upper end of the interval")
    df: int = Field(description="degrees of freedom")
    near: int = Field(description="cases near a place, or in the group")
    why: str | None = Field(description="why something does not exist")
    words: str = Field(description="the sentence")


class DifferencePart(_Part):
    """The focal effect at one place minus that at another."""

    of: str | float | None = Field(description="place or level code of the one")
    minus: str | float | None = Field(description="place or level code of the other")
    of_second: str | float | None = Field(None, description="place of the second moderator of the one")
    minus_second: str | float | None = Field(None, description="place of the second moderator of the other")
    effect: Number = Field(description="the difference")
    se: Number = Field(description="its standard error")
    t: Number = Field(description="difference over its standard error")
    p: Number = Field(description="two-sided, not adjusted")
    p_holm: Number = Field(description="Holm adjusted; null where all differences are one test")
    low: Number = Field(description="lower end of the interval")
    high: Number = Field(description="upper end of the interval")
    df: int = Field(description="degrees of freedom")
    why: str | None = Field(description="why something does not exist")
    words: str = Field(description="the sentence")


class RegionPart(_Part):
    """A stretch of the moderator."""

    low: Number = Field(description="null where nothing bounds it")
    high: Number = Field(description="null where nothing bounds it")
    sign: Literal[-1, 0, 1] = Field(description="0: not significant")
    cases: int = Field(description="cases in it")
    share: float = Field(description="their share")
    low_is_outside: bool = Field(description="whether the lower bound lies outside the data")
    high_is_outside: bool = Field(description="whether the upper bound lies outside the data")


class ZeroPart(_Part):
    """Where an effect is 0, with Fieller's set."""

    at: float = Field(description="the place")
    inside: bool = Field(description="whether it lies inside the data")
    set: Literal["bounded", "two rays", "whole line"] = Field(description="shape of the set")
    low: Number = Field(description="lower end; of two rays the end of the lower one; null on the whole line")
    high: Number = Field(description="upper end; of two rays the beginning of the upper one")


class FocusPart(_Part):
    """One focal effect."""

    compared: str | None = Field(description="name of the comparison; null for a slope")
    weights: dict[str, float] | None = Field(description="weight of each level by its code; null for a slope")
    effects: list[EffectPart] = Field(description="at the places")
    differences: list[DifferencePart] = Field(description="between every two places, of at most twelve")
    critical: Number = Field(description="what |t| must pass at each point")
    critical_band: Number = Field(description="what |t| must pass in the band that was asked for")
    boundaries: list[float] = Field(description="of the band that was asked for")
    regions: list[RegionPart] = Field(description="of the band that was asked for")
    pointwise: list[RegionPart] = Field(description="regions, each point by itself")
    simultaneous: list[RegionPart] = Field(description="regions, all points at once")
    zero: ZeroPart | None = Field(description="where a linear effect is 0")


class PanelPart(_Part):
    """What is seen at one place of the second moderator; without one there is one panel."""

    second: str | float | None = Field(description="place of the second moderator")
    foci: list[FocusPart] = Field(description="the focal effects")
    lines_meet_at: list[float] = Field(description="where the lines meet, if all meet in one place")
    crossover: ZeroPart | None = Field(description="that place with Fieller's set")


class ProbePart(_Part):
    """A probe and its answer."""

    asked: ProbeDocument = Field(description="the probe as it was asked")
    model: str = Field(description="id of the model")
    step: int = Field(description="counted from 1")
    interaction: TestPart = Field(description="joint test of all columns that hold both")
    panels: list[PanelPart] = Field(description="one for each place of the second moderator")
    across: list[DifferencePart] = Field(description="differences between places of both moderators, Holm adjusted")


class RefusedPart(_Part):
    """A probe that the model cannot answer."""

    asked: ProbeDocument = Field(description="the probe as it was asked")
    why: str = Field(description="the reason")


class DescribedPart(_Part):
    """Descriptives and correlations over the model's cases."""

    variables: list[str] = Field(description="outcome, numbers and, for each indicator, its group")
    levels: list[str | None] = Field(description="code of the level of an indicator; null for numbers")
    n: int = Field(description="cases")
    mean: list[float] = Field(description="means")
    sd: list[float] = Field(description="SDs with n - 1")
    low: list[float] = Field(description="least values")
    high: list[float] = Field(description="largest values")
    correlations: list[list[Number]] = Field(description="null with a constant column")


class FlagPart(_Part):
    """A flag of the current model."""

    flag: str = Field(description="kind of flag")
    about: list[str] = Field(description="the variables it is about")
    title: str = Field(description="what it says")
    cost: str = Field(description="what it costs")
    remedies: list[str] = Field(description="what can be done")
    put_aside: str | None = Field(description="the reason, if it was put aside")


class ModelPart(_Part):
    """One model."""

    id: str = Field(description="its id")
    name: str = Field(description="its name")
    outcome: str | None = Field(description="the variable to be explained")
    level: float = Field(description="confidence level")
    constant: bool = Field(description="whether it has a constant")
    errors: ErrorsOf = Field(description="kind of standard errors")
    clusters: int | None = Field(description="number of clusters; null without")
    problem: str = Field(description="why there is no fit; empty if there is one")
    cases: CasesPart = Field(description="which cases count")
    bases: dict[str, NumberPart | GroupPart] = Field(description="how each variable entered")
    left_out: list[LeftOutPart] = Field(description="columns that the model cannot hold")
    steps: list[StepPart] = Field(description="the steps")
    described: DescribedPart | None = Field(description="descriptives; null without a fit, or of more than 60 columns")


class ResultsDocument(_Part):
    """results.json, version 2."""

    format: Literal["yellow-slope-results"] = Field("yellow-slope-results", description="what this document is")
    version: Literal[2] = Field(2, description="version of the format")
    program: str = Field(description="version of the program")
    study: str = Field(description="name of the study")
    current: str = Field(description="id of the current model")
    models: list[ModelPart] = Field(description="all models of the study")
    probes: list[ProbePart] = Field(description="the probes that were answered")
    refused: list[RefusedPart] = Field(description="the probes that no model can answer")
    flags: list[FlagPart] = Field(description="flags of the current model")


def results_document(evaluation: Evaluation) -> ResultsDocument:
    """Everything an evaluation holds, as a document."""
    study = evaluation.study
    probes: list[ProbePart] = []
    refused: list[RefusedPart] = []
    for probe in asked_probes(study):
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
    )


def _flag(flag, reason: str | None) -> FlagPart:  # type: ignore[no-untyped-def]
    return FlagPart(
        flag=str(flag.key.kind), about=list(flag.key.about), title=flag.title, cost=flag.cost,
        remedies=[r.label for r in flag.remedies], put_aside=reason,
    )  # fmt: skip


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
        id=model.id, name=model.name, outcome=model.outcome, level=model.level, constant=model.constant,
        errors=errors_document(model.errors), clusters=fit.n_clusters if fit else None,
        problem=found.said if isinstance(found, Problem) else "",
        cases=CasesPart(
            table=cases.n_table, outside=cases.n_outside, aside=cases.n_aside, used=cases.n,
            lost=[LostPart(variable=x.variable, any=x.any, only=x.only, undefined=x.undefined) for x in cases.lost],
            rows=(cases.rows + 1).tolist(),
        ),
        bases={name: _basis(study, basis) for name, basis in fit.design.bases.items()} if fit else {},
        left_out=[LeftOutPart(column=out.column, on=list(out.on)) for out in fit.left_out] if fit else [],
        steps=[_step(study, model, fit, s) for s in fit.steps] if fit else [],
        described=_described(fit, model) if fit else None,
    )  # fmt: skip


def _basis(study: Study, basis: NumberBasis | GroupBasis) -> NumberPart | GroupPart:
    if isinstance(basis, NumberBasis):
        return NumberPart(
            treatment=treatment_name(study, basis.treatment), transforms=[str(t) for t in basis.treatment.transforms],
            center=basis.center, scale=basis.scale, mean=basis.mean, sd=basis.sd, low=basis.low, high=basis.high,
            transformed_mean=basis.axis_mean, transformed_sd=basis.axis_sd,
        )  # fmt: skip
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
    return StepPart(
        step=step.index + 1, block_id=step.block_id, block=model.steps[step.index].name, n=step.n, rank=step.rank,
        df=step.df, sse=step.sse, sst=step.total, s2=_number(step.s2), about_mean=step.about_mean,
        perfect=step.is_perfect, r2=_number(step.r2), adjusted_r2=_number(step.adjusted_r2),
        press_r2=_number(press_r2(fit, step.index)), aic=_number(step.aic), bic=_number(step.bic),
        change_r2=_number(step.change.r2), change=_test(step.change.test), f2=_number(step.change.f2),
        whole=_test(step.whole), critical=_number(step.inference.critical(model.level)), error_df=step.inference.df,
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
    )  # fmt: skip


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
        term=term, factors=factors, compared=compared, left_out=j >= 0 and step.is_left_out(j),
        estimable=bool(step.estimable[j + 1]), why=_why(c.why), b=_number(c.b), se=_number(c.se), t=_number(c.t),
        p=_number(c.p), low=_number(c.low), high=_number(c.high), beta=_number(c.beta), beta_se=_number(c.beta_se),
        beta_p=_number(c.beta_p), vif=_number(c.vif), sr2=_number(c.sr2), partial_r=_number(c.partial_r),
        r=_number(c.r), words=read.coefficient(step.index, j) if step.n_columns <= MOST_WORDS else "",
    )  # fmt: skip


def _probe(study: Study, probed: Probed) -> ProbePart:
    read = EffectReader(study, probed)
    return ProbePart(
        asked=probe_document(probed.probe),
        model=probed.model.id,
        step=probed.step + 1,
        interaction=_test(probed.interaction),
        panels=[_panel(probed, read, panel) for panel in probed.panels],
        across=[
            DifferencePart(
                of=_at(probed, x.of[1]), minus=_at(probed, x.minus[1]), of_second=_second(probed, x.of[0]),
                minus_second=_second(probed, x.minus[0]), p_holm=_number(x.p_holm), **_figures(x.effect), words="",
            )
            for x in probed.across
        ],
    )  # fmt: skip


def _at(probed: Probed, index: int) -> str | float | None:
    place = probed.places[index]
    if place.code is not None:
        return place.code
    return None if len(probed.places) == 1 and probed.by_itself else place.value


def _second(probed: Probed, panel: int) -> str | float | None:
    place = probed.panels[panel].second
    return None if place is None else (place.value if place.code is None else place.code)


def _panel(probed: Probed, read: EffectReader, panel: Panel) -> PanelPart:
    index = probed.panels.index(panel)
    inside = (probed.x.low, probed.x.high) if probed.x is not None else (0.0, 0.0)
    return PanelPart(
        second=_second(probed, index),
        foci=[_focus(probed, read, focus, k, words=index == 0) for k, focus in enumerate(panel.foci)],
        lines_meet_at=[float(x) for x in panel.crossing],
        crossover=_zero(panel.crossing_set, inside),
    )


def _focus(probed: Probed, read: EffectReader, focus: Focus, k: int, words: bool) -> FocusPart:
    curve = focus.curve
    observed = np.asarray(probed.observed, dtype=np.float64)
    inside = (0.0, 0.0)
    pointwise: list[RegionPart] = []
    simultaneous: list[RegionPart] = []
    boundaries: list[float] = []
    critical = band = float("nan")
    if curve is not None and isinstance(probed.moderator, NumberBasis):
        inside = (probed.moderator.low, probed.moderator.high)
        critical = curve.critical()
        band = curve.critical(probed.probe.band, observed)
        boundaries = [float(b) for b in curve.boundaries(probed.probe.band, observed)]
        if not curve.is_level:
            pointwise = [_region(r) for r in curve.regions(observed, Pointwise())]
            simultaneous = [_region(r) for r in curve.regions(observed, Simultaneous())]
    weights = None
    if focus.comparison is not None and isinstance(probed.focal, GroupBasis):
        weights = dict(zip(probed.focal.levels, focus.comparison.weights.tolist()))
    return FocusPart(
        compared=read.focus_name(k) or None,
        weights=weights,
        effects=[
            EffectPart(
                at=_at(probed, i), name=place.name, near=place.near, **_figures(effect),
                words=read.effect(k, effect, read.where(i)) if words else "",
            )
            for i, (place, effect) in enumerate(zip(probed.places, focus.effects))
        ],
        differences=[
            DifferencePart(
                of=_at(probed, d.of), minus=_at(probed, d.minus), p_holm=_number(d.p_holm), **_figures(d.effect),
                words=read.difference(k, d) if words else "",
            )
            for d in focus.differences
        ],
        critical=_number(critical),
        critical_band=_number(band),
        boundaries=boundaries,
        regions=[_region(r) for r in focus.regions],
        pointwise=pointwise,
        simultaneous=simultaneous,
        zero=_zero(focus.zero, inside),
    )  # fmt: skip


def _figures(e: ConditionalEffect) -> dict[str, Number | int | str]:
    values = {name: _number(getattr(e, name)) for name in ("effect", "se", "t", "p", "low", "high")}
    return {**values, "df": e.df, "why": _why(e.why)}


def _region(r: Region) -> RegionPart:
    return RegionPart(
        low=_number(r.low), high=_number(r.high), sign=r.sign, cases=r.cases, share=r.share,
        low_is_outside=r.low_is_outside, high_is_outside=r.high_is_outside,
    )  # fmt: skip


def _zero(zero: Zero | None, inside: tuple[float, float]) -> ZeroPart | None:
    if zero is None:
        return None
    return ZeroPart(
        at=zero.at, inside=inside[0] <= zero.at <= inside[1], set=zero.kind.value, low=_number(zero.low),
        high=_number(zero.high),
    )  # fmt: skip


def _described(fit: Fit, model: Model) -> DescribedPart | None:
    found = described(fit, model)
    if found is None:
        return None
    return DescribedPart(
        variables=[name for name, _ in found.columns],
        levels=[code for _, code in found.columns],
        n=found.n,
        mean=found.mean.tolist(),
        sd=found.sd.tolist(),
        low=found.low.tolist(),
        high=found.high.tolist(),
        correlations=[[_number(float(v)) for v in row] for row in found.r],
    )
