"""Between documents and values: treatments, codings, rules, samples, errors, probes, blocks."""

from __future__ import annotations

from typing import assert_never

from yellow_slope.core.data.conditions import All, Any, AtLeast, AtMost, Between, Is, Missing, Not, OneOf, Rule
from yellow_slope.core.data.conditiontext import typed_condition
from yellow_slope.core.data.table import number_text
from yellow_slope.core.data.variable import Kind, Variable
from yellow_slope.core.errors import StudyError
from yellow_slope.core.study.checks import Check, Checks, Cutoffs
from yellow_slope.core.study.coding import (
    Adjacent,
    AgainstMean,
    Coding,
    Dummy,
    Effect,
    LevelMeans,
    Planned,
    Question,
    Trends,
    WeightedEffect,
)
from yellow_slope.core.study.model import Model
from yellow_slope.core.study.probe import PickPoints, Probe, Second, Smallest
from yellow_slope.core.study.report import USUAL_PARTS, CoefficientFigure, ReportChoice, ReportPart
from yellow_slope.core.study.rules import Sample, SetAside
from yellow_slope.core.study.standarderrors import HC, Bootstrap, Classical, Cluster, Errors
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Block, Term
from yellow_slope.core.study.treatment import (
    AS_IS,
    CENTERED,
    STANDARDIZED,
    At,
    Given,
    Mean,
    Median,
    One,
    OneSD,
    Raw,
    Scale,
    Treatment,
    WithinGroups,
    Zero,
)
from yellow_slope.files.study.documents import (
    AsideDocument,
    AtDocument,
    BlockDocument,
    BootstrapDocument,
    ByDocument,
    ChecksDocument,
    ClusterDocument,
    CodingDocument,
    CodingName,
    ErrorsOf,
    ProbeDocument,
    QuestionDocument,
    ReportDocument,
    ReportPartDocument,
    RuleDocument,
    SampleDocument,
    ScaleOf,
    SecondDocument,
    SmallestDocument,
    Treated,
    TreatmentDocument,
    WithinDocument,
    ZeroOf,
)

READY: dict[str, Treatment] = {"as it is": AS_IS, "centered": CENTERED, "standardized": STANDARDIZED}


# ---- treatments


def treatment_of(said: Treated) -> Treatment:
    """A treatment from its document."""
    if isinstance(said, str):
        return READY[said]
    return Treatment(tuple(said.transforms), _zero_of(said.zero), _scale_of(said.scale), said.base)


def treatment_document(treatment: Treatment) -> Treated:
    """A treatment as a document; the ready ones as their name."""
    for name, ready in READY.items():
        if treatment == ready:
            return name  # type: ignore[return-value]
    return TreatmentDocument(
        transforms=list(treatment.transforms),
        zero=_zero_document(treatment.zero),
        scale=_scale_document(treatment.scale),
        base=treatment.base,
    )


def _zero_of(said: ZeroOf) -> Zero:
    match said:
        case AtDocument():
            return At(said.at)
        case WithinDocument():
            return WithinGroups(said.within)
        case "as it is":
            return Raw()
        case "mean":
            return Mean()
        case "median":
            return Median()
        case _:
            assert_never(said)


def _zero_document(zero: Zero) -> ZeroOf:
    match zero:
        case Raw():
            return "as it is"
        case Mean():
            return "mean"
        case Median():
            return "median"
        case At(value):
            return AtDocument(at=value)
        case WithinGroups(of):
            return WithinDocument(within=of)
        case _:
            assert_never(zero)


def _scale_of(said: ScaleOf) -> Scale:
    match said:
        case ByDocument():
            return Given(said.by)
        case "one":
            return One()
        case "sd":
            return OneSD()
        case _:
            assert_never(said)


def _scale_document(scale: Scale) -> ScaleOf:
    match scale:
        case One():
            return "one"
        case OneSD():
            return "sd"
        case Given(value):
            return ByDocument(by=value)
        case _:
            assert_never(scale)


# ---- codings


def coding_of(said: CodingName | CodingDocument, variable: Variable, stored: bool = False) -> Coding:
    """A coding from its document; levels by code or label. StudyError for a level there is none of.

    stored: it was right when it was written; a level it names may be gone since, and its code then stays as it stands.
    """
    document = CodingDocument(coding=said) if isinstance(said, str) else said

    def known(text: str) -> str:
        level = variable.find_code(text) or variable.find_level(text) if stored else variable.named_level(text)
        return text if level is None else level.code

    def code(text: str | None) -> str | None:
        return None if text is None else known(text)

    def codes(texts: list[str]) -> tuple[str, ...]:
        return tuple(known(text) for text in texts)

    name, names = document.coding, tuple(document.names.items())
    match name:
        case "dummy":
            return Dummy(code(document.reference), names=names)
        case "effect":
            return Effect(code(document.without), names=names)
        case "weighted effect":
            return WeightedEffect(code(document.without), names=names)
        case "adjacent":
            return Adjacent(names=names)
        case "against later mean":
            return AgainstMean(True, names=names)
        case "against earlier mean":
            return AgainstMean(False, names=names)
        case "trends":
            return Trends(tuple((known(x), place) for x, place in document.spacing.items()), names=names)
        case "planned":
            return Planned(
                tuple(
                    Question(q.name, codes(q.one), codes(q.other), tuple((known(x), w) for x, w in q.weights.items()))
                    for q in document.questions
                )
            )
        case "level means":
            return LevelMeans(names=names)
        case _:
            assert_never(name)


def coding_document(coding: Coding) -> CodingDocument:
    """A coding as a document; levels by code."""
    names = {} if isinstance(coding, Planned) else dict(coding.names)
    match coding:
        case Dummy(reference):
            return CodingDocument(coding="dummy", reference=reference, names=names)
        case Effect(without):
            return CodingDocument(coding="effect", without=without, names=names)
        case WeightedEffect(without):
            return CodingDocument(coding="weighted effect", without=without, names=names)
        case Adjacent():
            return CodingDocument(coding="adjacent", names=names)
        case AgainstMean(later):
            return CodingDocument(coding="against later mean" if later else "against earlier mean", names=names)
        case Trends(spacing):
            return CodingDocument(coding="trends", spacing=dict(spacing), names=names)
        case Planned(questions):
            asked = [
                QuestionDocument(name=q.name, one=list(q.one), other=list(q.other), weights=dict(q.weights))
                for q in questions
            ]
            return CodingDocument(coding="planned", questions=asked)
        case LevelMeans():
            return CodingDocument(coding="level means", names=names)
        case _:
            assert_never(coding)


# ---- errors


def errors_of(said: ErrorsOf) -> Errors:
    """The kind of standard errors from its document."""
    if isinstance(said, ClusterDocument):
        return Cluster(said.cluster)
    if isinstance(said, BootstrapDocument):
        return Bootstrap(said.bootstrap, said.draws, said.seed, said.cluster)
    return Classical() if said == "classical" else HC(int(said[2:]))


def errors_document(errors: Errors) -> ErrorsOf:
    """The kind of standard errors as a document."""
    match errors:
        case Classical():
            return "classical"
        case HC(kind):
            return f"HC{kind}"  # type: ignore[return-value]
        case Cluster(id):
            return ClusterDocument(cluster=id)
        case Bootstrap(way, draws, seed, cluster):
            return BootstrapDocument(bootstrap=way, draws=draws, seed=seed, cluster=cluster)
        case _:
            assert_never(errors)


# ---- samples


def rule_of(said: RuleDocument, study: Study, stored: bool = False) -> Rule:
    """A rule from its document. StudyError where it says nothing, or two things at once.

    stored: it was right when it was written; levels it names may be gone since, and then no case has them.
    """
    given = said.model_dump(exclude_none=True, exclude={"variable"})
    if len(given) != 1:
        raise StudyError("A sample rule says one thing: a variable with one comparison, or all, any or not.")
    if said.all_ is not None:
        return All(tuple(rule_of(part, study, stored) for part in said.all_))
    if said.any_ is not None:
        return Any(tuple(rule_of(part, study, stored) for part in said.any_))
    if said.not_ is not None:
        return Not(rule_of(said.not_, study, stored))
    if said.variable is None:
        raise StudyError("A sample rule names no variable.")
    variable = study.variable(said.variable)

    def value(text: str | float) -> str | float:
        if variable.kind is not Kind.GROUP:
            return text
        code = text if isinstance(text, str) else number_text(float(text))
        if stored:
            return code
        return variable.named_level(code).code

    if said.is_ is not None:
        return Is(said.variable, value(said.is_))
    if said.one_of is not None:
        return OneOf(said.variable, tuple(value(v) for v in said.one_of))
    if said.at_least is not None:
        return AtLeast(said.variable, said.at_least)
    if said.at_most is not None:
        return AtMost(said.variable, said.at_most)
    if said.between is not None:
        return Between(said.variable, *said.between)
    return Missing(said.variable)


def rule_document(rule: Rule) -> RuleDocument:
    """A rule as a document."""
    match rule:
        case All(rules):
            return RuleDocument(all_=[rule_document(part) for part in rules])
        case Any(rules):
            return RuleDocument(any_=[rule_document(part) for part in rules])
        case Not(inner):
            return RuleDocument(not_=rule_document(inner))
        case Is(name, value):
            return RuleDocument(variable=name, is_=value)
        case OneOf(name, values):
            return RuleDocument(variable=name, one_of=list(values))
        case AtLeast(name, value):
            return RuleDocument(variable=name, at_least=value)
        case AtMost(name, value):
            return RuleDocument(variable=name, at_most=value)
        case Between(name, low, high):
            return RuleDocument(variable=name, between=(low, high))
        case Missing(name):
            return RuleDocument(variable=name, missing=True)
        case _:
            assert_never(rule)


def sample_of(said: SampleDocument, study: Study, stored: bool = False) -> Sample:
    """A sample from its document; rows count from 1 there."""
    aside = tuple(SetAside(tuple(row - 1 for row in part.rows), part.reason) for part in said.aside)
    if isinstance(said.rule, str):
        return Sample(said.name, typed_condition(said.rule, study.variables, study.columns.is_numeric), aside)
    return Sample(said.name, rule_of(said.rule, study, stored) if said.rule is not None else None, aside)


def sample_document(sample: Sample) -> SampleDocument:
    """A sample as a document."""
    aside = [AsideDocument(rows=[row + 1 for row in part.rows], reason=part.reason) for part in sample.aside]
    rule = rule_document(sample.rule) if sample.rule is not None else None
    return SampleDocument(name=sample.name, rule=rule, aside=aside)


# ---- checks


def checks_of(said: ChecksDocument) -> Checks:
    """The choices of checks from their document."""
    printed = tuple(check for check in Check if check in said.printed)
    cutoffs = Cutoffs(said.studentized, said.cook, said.distance, said.exact, said.groups)
    return Checks(cutoffs, said.split, printed)


def checks_document(checks: Checks) -> ChecksDocument:
    """The choices of checks as a document."""
    cut = checks.cutoffs
    return ChecksDocument(
        studentized=cut.studentized,
        cook=cut.cook,
        distance=cut.distance,
        exact=cut.exact,
        groups=cut.groups,
        split=checks.split,
        printed=list(checks.printed),
    )


def report_of(said: ReportDocument) -> ReportChoice:
    """The choice of the report from its document; a part that is named twice counts once."""
    parts = {one.part: ReportPart(one.part, one.on, one.above, one.below) for one in said.parts}
    return ReportChoice(
        tuple(parts.values()) or USUAL_PARTS,
        tuple(dict.fromkeys(said.assigned)),
        said.decimals,
        said.stars,
        tuple(figure for figure in CoefficientFigure if figure in said.beside),
        said.correlations,
    ).whole()


def report_document(report: ReportChoice) -> ReportDocument:
    """The choice of the report as a document; what is usual is not said."""
    parts = [
        ReportPartDocument(part=part.kind, on=part.on, above=part.above, below=part.below) for part in report.parts
    ]
    return ReportDocument(
        parts=[] if report.parts == USUAL_PARTS else parts,
        assigned=list(report.assigned),
        decimals=report.decimals,
        stars=report.stars,
        beside=list(report.beside),
        correlations=report.correlations,
    )


# ---- blocks and probes


def block_of(said: BlockDocument | list[list[str]]) -> Block:
    """A block from its document."""
    if isinstance(said, BlockDocument):
        return Block(tuple(Term(tuple(t)) for t in said.terms), said.name, said.on, said.id)
    return Block(tuple(Term(tuple(t)) for t in said))


def block_document(block: Block) -> BlockDocument:
    """A block as a document."""
    return BlockDocument(id=block.id, name=block.name, on=block.on, terms=[list(t.variables) for t in block.terms])


def probe_document(probe: Probe) -> ProbeDocument:
    """A probe as a document."""
    second = probe.second
    return ProbeDocument(
        focal=probe.focal,
        moderator=probe.moderator,
        step=probe.step,
        pick=probe.pick.rule,
        values=list(probe.pick.values),
        held=dict(probe.held),
        second=None
        if second is None
        else SecondDocument(variable=second.variable, pick=second.pick.rule, values=list(second.pick.values)),
        band=probe.rule,
        model=probe.model,
        unit=probe.unit,
        smallest=None
        if probe.smallest is None
        else SmallestDocument(size=probe.smallest.size, unit=probe.smallest.unit),
        compared=probe.compared,
        name=probe.name,
    )


def probe_of(said: ProbeDocument, study: Study, stored: bool = False) -> Probe:
    """A probe from its document. StudyError for a model or a step that is not there.

    stored: it was right when it was written; what it names may be gone since, and is then let go by whoever reads.
    """
    if stored:
        known = {v.name: v for v in study.variables}
        return Probe(
            said.focal,
            said.moderator,
            said.step if isinstance(said.step, str) else None,
            PickPoints(said.pick, tuple(said.values)),
            tuple((name, _stored_place(known.get(name), where)) for name, where in said.held.items()),
            _second(said),
            said.band,
            said.model,
            said.unit,
            _smallest(said),
            said.compared,
            said.name,
        )
    model = _model(said.model, study)
    step = said.step
    if isinstance(step, int):
        if not 1 <= step <= len(model.steps):
            raise StudyError(f"There is no step {step}; the model has {len(model.steps)}.")
        step = model.steps[step - 1].id
    elif step is not None and model.step_index(step) == -1:
        raise StudyError(f"There is no step “{step}” in the model.")
    held: list[tuple[str, str | float]] = []
    for name, where in said.held.items():
        variable = study.variable(name)
        if variable.kind is Kind.GROUP:
            text = where if isinstance(where, str) else number_text(float(where))
            held.append((name, variable.named_level(text).code))
        else:
            try:
                held.append((name, float(where)))
            except ValueError:
                raise StudyError(f"{variable.label} is a number; it cannot be held at “{where}”.") from None
    return Probe(
        said.focal,
        said.moderator,
        step,
        PickPoints(said.pick, tuple(said.values)),
        tuple(held),
        _second(said),
        said.band,
        None if said.model is None else model.id,
        said.unit,
        _smallest(said),
        said.compared,
        said.name,
    )


def _stored_place(variable: Variable | None, where: str | float) -> str | float:
    """Where a probe holds a variable: of a group the code of its level, as far as it has one."""
    if variable is None or variable.kind is not Kind.GROUP:
        return where
    text = where if isinstance(where, str) else number_text(float(where))
    level = variable.find_code(text) or variable.find_level(text)
    return text if level is None else level.code


def _smallest(said: ProbeDocument) -> Smallest | None:
    smallest = said.smallest
    return None if smallest is None else Smallest(smallest.size, smallest.unit)


def _second(said: ProbeDocument) -> Second | None:
    second = said.second
    return None if second is None else Second(second.variable, PickPoints(second.pick, tuple(second.values)))


def _model(text: str | None, study: Study) -> Model:
    if text is None:
        return study.model
    for model in study.models:
        if text in (model.id, model.name):
            return model
    raise StudyError(f"There is no model “{text}”.")


def with_reference(study: Study, name: str, reference: str) -> Dummy:
    """Dummy coding with a reference by code or label; one the variable has not is kept as it is typed, to be
    refused."""
    level = study.variable(name).find_level(reference)
    return Dummy(level.code if level else reference)
