"""Results as a JSON document: every number at full precision, usable as a check from outside."""

from __future__ import annotations

import math
from typing import Literal

from pydantic import BaseModel, ConfigDict, Field

from yellow_slope.core.curve import ConditionalEffect
from yellow_slope.core.describe import described
from yellow_slope.core.design import NumberBasis
from yellow_slope.core.equation import equation
from yellow_slope.core.errors import YellowSlopeError
from yellow_slope.core.evaluate import Evaluation, Fit
from yellow_slope.core.flags import flags_of
from yellow_slope.core.probe import Probed, default_probe, probe_fit
from yellow_slope.core.reading import Reader
from yellow_slope.core.steps import FTest, StepResult

Number = float | None


class _Part(BaseModel):
    model_config = ConfigDict(extra="forbid")


class LostPart(_Part):
    """Cases lost by one variable."""

    variable: str
    any: int
    only: int


class SamplePart(_Part):
    """Which cases count."""

    table: int
    used: int
    lost: list[LostPart]


class TestPart(_Part):
    """A joint test."""

    f: Number
    df1: int
    df2: int
    p: Number


class NumberPart(_Part):
    """How a number entered."""

    kind: Literal["number"] = "number"
    treatment: str
    center: float
    scale: float
    mean: float
    sd: float
    low: float
    high: float


class GroupPart(_Part):
    """How a group entered."""

    kind: Literal["group"] = "group"
    levels: list[str] = Field(description="codes present among the model's cases")
    labels: list[str]
    counts: list[int]
    reference: str


class CoefficientPart(_Part):
    """One coefficient of one step; the constant has an empty term."""

    term: list[str]
    compared: dict[str, str] = Field(description="for each group of the term, the level set against the reference")
    left_out: bool
    b: Number
    se: Number
    t: Number
    p: Number
    low: Number
    high: Number
    beta: Number
    beta_se: Number
    beta_p: Number
    vif: Number
    sr2: Number
    words: str


class JointPart(_Part):
    """The joint test of a term of several columns."""

    term: list[str]
    test: TestPart


class StepPart(_Part):
    """One step; everything is named, nothing rounded."""

    step: int = Field(description="counted from 1")
    block: str
    n: int
    rank: int
    df: int
    sse: float
    r2: Number
    adjusted_r2: Number
    change_r2: Number
    change: TestPart
    f2: Number
    whole: TestPart
    coefficients: list[CoefficientPart]
    joint: list[JointPart]
    covariance: list[list[Number]] = Field(description="of b, constant first; null rows for left-out columns")
    equation: str


class EffectPart(_Part):
    """A conditional effect."""

    at: str | float
    name: str
    effect: float
    se: float
    t: Number
    p: Number
    low: float
    high: float
    df: int
    near: int | None
    words: str


class RegionPart(_Part):
    """A stretch of the moderator; null where nothing bounds it."""

    low: Number
    high: Number
    sign: Literal[-1, 0, 1]
    cases: int
    share: float


class FocusPart(_Part):
    """One focal effect."""

    compared: str | None = Field(description="the group compared with the reference; null for a slope")
    effects: list[EffectPart]
    differences: list[EffectPart]
    boundaries: list[float]
    regions: list[RegionPart]


class ProbePart(_Part):
    """A probed product."""

    focal: str
    moderator: str
    step: int
    interaction: TestPart
    foci: list[FocusPart]
    lines_meet_at: list[float]


class DescribedPart(_Part):
    """Descriptives and correlations over the model's cases."""

    names: list[str]
    n: int
    mean: list[float]
    sd: list[float]
    low: list[float]
    high: list[float]
    correlations: list[list[Number]]


class FlagPart(_Part):
    """A flag."""

    key: str
    title: str
    cost: str
    remedies: list[str]


class ResultsDocument(_Part):
    """results.json, format 1."""

    format: Literal["yellow-slope-results"] = "yellow-slope-results"
    version: Literal[1] = 1
    study: str
    outcome: str | None
    level: float
    problem: str
    sample: SamplePart
    bases: dict[str, NumberPart | GroupPart]
    steps: list[StepPart]
    probes: list[ProbePart]
    described: DescribedPart | None
    flags: list[FlagPart]


def results_document(evaluation: Evaluation) -> ResultsDocument:
    """Everything an evaluation holds, as a document."""
    study, fit, sample = evaluation.study, evaluation.fit, evaluation.sample
    return ResultsDocument(
        study=study.name,
        outcome=study.outcome,
        level=study.level,
        problem=evaluation.problem,
        sample=SamplePart(
            table=sample.n_table,
            used=sample.n,
            lost=[LostPart(variable=x.variable, any=x.any, only=x.only) for x in sample.lost],
        ),
        bases=_bases(evaluation, fit) if fit else {},
        steps=[_step(evaluation, fit, s) for s in fit.steps] if fit else [],
        probes=_probes(evaluation, fit) if fit else [],
        described=_described(evaluation),
        flags=[
            FlagPart(key=f.key, title=f.title, cost=f.cost, remedies=[r.label for r in f.remedies])
            for f in flags_of(evaluation)
        ],
    )


def _number(value: float) -> Number:
    return float(value) if math.isfinite(value) else None


def _test(test: FTest) -> TestPart:
    return TestPart(f=_number(test.f), df1=test.df1, df2=test.df2, p=_number(test.p))


def _bases(evaluation: Evaluation, fit: Fit) -> dict[str, NumberPart | GroupPart]:
    found: dict[str, NumberPart | GroupPart] = {}
    for name, basis in fit.design.bases.items():
        if isinstance(basis, NumberBasis):
            found[name] = NumberPart(
                treatment=str(evaluation.study.variable(name).treatment),
                center=basis.center,
                scale=basis.scale,
                mean=basis.mean,
                sd=basis.sd,
                low=basis.low,
                high=basis.high,
            )
        else:
            found[name] = GroupPart(
                levels=[x.code for x in basis.levels],
                labels=[x.label for x in basis.levels],
                counts=[int(c) for c in basis.counts],
                reference=basis.levels[basis.reference].code,
            )
    return found


def _step(evaluation: Evaluation, fit: Fit, step: StepResult) -> StepPart:
    read = Reader(evaluation.study, fit)
    covariance = [[_number(float(v)) for v in row] for row in step.covariance]
    for column in range(step.n_columns):
        if step.is_left_out(column):
            covariance[column + 1] = [None] * len(covariance)
    return StepPart(
        step=step.index + 1,
        block=evaluation.study.blocks[step.index].name,
        n=step.n,
        rank=step.rank,
        df=step.df,
        sse=step.sse,
        r2=_number(step.r2),
        adjusted_r2=_number(step.adjusted_r2),
        change_r2=_number(step.change.r2),
        change=_test(step.change.test),
        f2=_number(step.change.f2),
        whole=_test(step.whole),
        coefficients=[_coefficient(fit, read, step, j) for j in range(-1, step.n_columns)],
        joint=[JointPart(term=list(t.variables), test=_test(test)) for t, test in step.joint.items()],
        covariance=covariance,
        equation=equation(evaluation.study, fit, step.index),
    )


def _coefficient(fit: Fit, read: Reader, step: StepResult, j: int) -> CoefficientPart:
    c = step.coefficient(j)
    term: list[str] = []
    compared: dict[str, str] = {}
    if j >= 0:
        column = fit.design.columns[j]
        term = list(column.term.variables)
        for atom in column.atoms:
            if atom.comparison is not None:
                compared[atom.variable] = fit.design.group(atom.variable).compared[atom.comparison].code
    return CoefficientPart(
        term=term,
        compared=compared,
        left_out=j >= 0 and step.is_left_out(j),
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
        words=read.coefficient(step.index, j),
    )


def _probes(evaluation: Evaluation, fit: Fit) -> list[ProbePart]:
    study = evaluation.study
    first = default_probe(study)
    wanted = list(study.probes) or ([first] if first else [])
    found: list[ProbePart] = []
    for probe in wanted:
        try:
            found.append(_probe(evaluation, fit, probe_fit(study, fit, probe)))
        except YellowSlopeError:
            continue
    return found


def _probe(evaluation: Evaluation, fit: Fit, probed: Probed) -> ProbePart:
    read = Reader(evaluation.study, fit)
    number = isinstance(probed.moderator, NumberBasis)
    foci: list[FocusPart] = []
    for k, focus in enumerate(probed.foci):
        effects = [
            _effect(
                e,
                where.value if number else probed.moderator.levels[i].code,  # type: ignore[union-attr]
                where.name,
                where.near,
                read.effect(probed, k, e, read.at_value(probed, where.value) if number else read.at_level(probed, i)),
            )
            for i, (where, e) in enumerate(zip(probed.places, focus.effects))
        ]
        differences = [
            _effect(d.effect, f"{d.of} minus {d.minus}", "", None, read.slope_difference(probed, k, i))
            for i, d in enumerate(focus.differences)
        ]
        regions = [
            RegionPart(low=_number(r.low), high=_number(r.high), sign=r.sign, cases=r.cases, share=r.share)  # type: ignore[arg-type]
            for r in focus.regions
        ]
        foci.append(
            FocusPart(
                compared=focus.name or None,
                effects=effects,
                differences=differences,
                boundaries=[float(b) for b in focus.curve.boundaries()] if focus.curve else [],
                regions=regions,
            )
        )
    return ProbePart(
        focal=probed.probe.focal,
        moderator=probed.probe.moderator,
        step=probed.step + 1,
        interaction=_test(probed.interaction),
        foci=foci,
        lines_meet_at=list(probed.crossing),
    )


def _effect(e: ConditionalEffect, at: str | float, name: str, near: int | None, words: str) -> EffectPart:
    return EffectPart(
        at=at, name=name, effect=e.effect, se=e.se, t=_number(e.t), p=_number(e.p), low=e.low, high=e.high, df=e.df,
        near=near, words=words,
    )  # fmt: skip


def _described(evaluation: Evaluation) -> DescribedPart | None:
    found = described(evaluation)
    if found is None:
        return None
    return DescribedPart(
        names=list(found.names),
        n=found.n,
        mean=found.mean.tolist(),
        sd=found.sd.tolist(),
        low=found.low.tolist(),
        high=found.high.tolist(),
        correlations=[[_number(float(v)) for v in row] for row in found.r],
    )
