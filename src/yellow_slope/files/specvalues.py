"""What a small description says, as values: treatments, codings, rules, samples, errors, probes, blocks."""

from __future__ import annotations

from typing import Literal, assert_never

from msgspec import UNSET

from yellow_slope.core.data.conditions import All, Any, AtLeast, AtMost, Between, Is, Missing, Not, OneOf, Rule
from yellow_slope.core.data.conditiontext import typed_condition
from yellow_slope.core.data.table import number_text
from yellow_slope.core.data.variable import Kind, Variable
from yellow_slope.core.errors import StudyError
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
from yellow_slope.files.specdocument import (
    BlockDocument,
    ByDocument,
    CodingDocument,
    CodingName,
    ErrorsOf,
    Names,
    ProbeDocument,
    RuleDocument,
    SampleDocument,
    SecondDocument,
    SmallestDocument,
    Treated,
    ZeroDocument,
)
from yellow_slope.values import names_of

READY: dict[str, Treatment] = {"as it is": AS_IS, "centered": CENTERED, "standardized": STANDARDIZED}


# ---- treatments


def treatment_of(said: Treated) -> Treatment:
    """A treatment from its document."""
    if isinstance(said, str):
        return READY[said]
    return Treatment(tuple(said.transforms), _zero_of(said.zero), _scale_of(said.scale), said.base)


def _zero_of(said: Literal["as it is", "mean", "median"] | ZeroDocument) -> Zero:
    match said:
        case ZeroDocument(at=at, within=within):
            return At(at) if at is not None else WithinGroups(within or "")
        case "as it is":
            return Raw()
        case "mean":
            return Mean()
        case "median":
            return Median()
        case _:
            assert_never(said)


def _scale_of(said: Literal["one", "sd"] | ByDocument) -> Scale:
    match said:
        case ByDocument():
            return Given(said.by)
        case "one":
            return One()
        case "sd":
            return OneSD()
        case _:
            assert_never(said)


# ---- codings


def coding_of(said: CodingName | CodingDocument, variable: Variable) -> Coding:
    """A coding from its document; levels by code or label. StudyError for a level there is none of."""
    document = CodingDocument(coding=said) if isinstance(said, str) else said

    def known(text: str) -> str:
        return variable.named_level(text).code

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


# ---- errors


def errors_of(said: ErrorsOf) -> Errors:
    """The kind of standard errors from its document."""
    if isinstance(said, str):
        return Classical() if said == "classical" else HC(int(said[2:]))
    if said.bootstrap is UNSET:
        return Cluster(said.cluster or "")
    usual = Bootstrap()
    draws = usual.draws if said.draws is UNSET else said.draws
    seed = usual.seed if said.seed is UNSET else said.seed
    return Bootstrap(said.bootstrap, draws, seed, said.cluster)


# ---- samples


def rule_of(said: RuleDocument, study: Study) -> Rule:
    """A rule from its document. StudyError where it says nothing, or two things at once."""
    given = [name for name in names_of(said) if name != "variable" and getattr(said, name) is not None]
    if len(given) != 1 or said.missing is False:
        raise StudyError("A sample rule says one thing: a variable with one comparison, or all, any or not.")
    if said.all_ is not None:
        return All(tuple(rule_of(part, study) for part in said.all_))
    if said.any_ is not None:
        return Any(tuple(rule_of(part, study) for part in said.any_))
    if said.not_ is not None:
        return Not(rule_of(said.not_, study))
    if said.variable is None:
        raise StudyError("A sample rule names no variable.")
    variable = study.variable(said.variable)

    def value(text: str | float) -> str | float:
        if variable.kind is not Kind.GROUP:
            return text
        code = text if isinstance(text, str) else number_text(float(text))
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


def sample_of(said: SampleDocument, study: Study) -> Sample:
    """A sample from its document; rows count from 1 there."""
    aside = tuple(SetAside(tuple(row - 1 for row in part.rows), part.reason) for part in said.aside)
    if isinstance(said.rule, str):
        return Sample(said.name, typed_condition(said.rule, study.variables, study.columns.is_numeric), aside)
    return Sample(said.name, rule_of(said.rule, study) if said.rule is not None else None, aside)


# ---- blocks and probes


def block_of(said: BlockDocument | list[Names]) -> Block:
    """A block from its document."""
    if isinstance(said, BlockDocument):
        return Block(tuple(_term(names) for names in said.terms), said.name, said.on, said.id)
    return Block(tuple(_term(names) for names in said))


def _term(said: Names) -> Term:
    return Term((said,) if isinstance(said, str) else tuple(said))


def probe_of(said: ProbeDocument, study: Study) -> Probe:
    """A probe from its document. StudyError for a model or a step that is not there."""
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
        _second(said.second),
        said.band,
        None if said.model is None else model.id,
        said.unit,
        _smallest(said.smallest),
        said.compared,
        said.name,
    )


def _smallest(said: SmallestDocument | None) -> Smallest | None:
    return None if said is None else Smallest(said.size, said.unit)


def _second(said: SecondDocument | None) -> Second | None:
    return None if said is None else Second(said.variable, PickPoints(said.pick, tuple(said.values)))


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
