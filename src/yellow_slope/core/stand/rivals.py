"""Rivals of a product: the same question after one thing was done otherwise. Each is an edit of the study, so that what
stands beside the product is what it becomes where the rival is adopted."""

from __future__ import annotations

from enum import Enum, auto
from typing import assert_never

from yellow_slope.core.data.conditions import All, Is
from yellow_slope.core.data.derived import Applied, Derived, Function, Named
from yellow_slope.core.data.variable import Kind, Variable
from yellow_slope.core.study.checks import FarBy
from yellow_slope.core.study.edits.blocks import enter, set_outcome
from yellow_slope.core.study.edits.computed import taken_name, with_derived
from yellow_slope.core.study.edits.models import set_errors
from yellow_slope.core.study.edits.samples import free_sample_name, put_sample, set_aside, set_sample, take_back
from yellow_slope.core.study.rules import Sample
from yellow_slope.core.study.standarderrors import Errors
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Term
from yellow_slope.core.study.whole import edit
from yellow_slope.values import dataclass


class Family(Enum):
    """What is done otherwise."""

    ERRORS = auto()
    CASES = auto()
    MODELS = auto()
    OUTCOMES = auto()


@dataclass(frozen=True, slots=True)
class OtherErrors:
    """Another kind of standard errors."""

    errors: Errors


@dataclass(frozen=True, slots=True)
class AnyOneOut:
    """Each case left out in turn."""


@dataclass(frozen=True, slots=True)
class WithoutFar:
    """Without the cases beyond a cut-off, by their rows from 0."""

    by: FarBy
    cutoff: float
    is_typed: bool
    rows: tuple[int, ...]


@dataclass(frozen=True, slots=True)
class PutBack:
    """With the cases that were set aside, by their rows from 0."""

    rows: tuple[int, ...]


@dataclass(frozen=True, slots=True)
class Squares:
    """With the squares of the product's numbers."""

    terms: tuple[Term, ...]


@dataclass(frozen=True, slots=True)
class CovariateProducts:
    """With the products of one covariate: of those tried the one that harms most."""

    covariate: str
    terms: tuple[Term, ...]
    tried: int
    left: int = 0
    """Covariates that were not tried for their number."""


class Form(Enum):
    """What is explained in place of the outcome."""

    LOG = Function.LOG
    ROOT = Function.ROOT
    RANKS = Function.RANK


@dataclass(frozen=True, slots=True)
class OutcomeAs:
    """Another form of the outcome, in units of its own."""

    form: Form


@dataclass(frozen=True, slots=True)
class OneLevel:
    """In one level of a group alone, by its code."""

    variable: str
    code: str


Rival = OtherErrors | AnyOneOut | WithoutFar | PutBack | Squares | CovariateProducts | OutcomeAs | OneLevel


def family_of(rival: Rival) -> Family:
    """What a rival does otherwise."""
    match rival:
        case OtherErrors():
            return Family.ERRORS
        case AnyOneOut() | WithoutFar() | PutBack():
            return Family.CASES
        case Squares() | CovariateProducts() | OneLevel():
            return Family.MODELS
        case OutcomeAs():
            return Family.OUTCOMES
        case _:
            assert_never(rival)


def can_be_adopted(rival: Rival) -> bool:
    """Whether it is one model: leaving out any one case is as many as there are cases."""
    return not isinstance(rival, AnyOneOut)


@edit
def adopt(study: Study, rival: Rival, product: Term, reason: str) -> Study:
    """The study with the rival in place of what is. reason: what is written beside cases that are set aside."""
    match rival:
        case OtherErrors(errors):
            return set_errors(study, errors)
        case AnyOneOut():
            return study
        case WithoutFar(rows=rows):
            return set_aside(study, rows, reason) if rows else study
        case PutBack(rows):
            return take_back(study, rows)
        case Squares(terms) | CovariateProducts(terms=terms):
            return enter(study, terms, _place_before(study, product))
        case OutcomeAs(form):
            return _with_outcome(study, form)
        case OneLevel(variable, code):
            return _with_level(study, variable, code)
        case _:
            assert_never(rival)


def _place_before(study: Study, product: Term) -> int | None:
    """The last block that is on before the product's own; without one the product's."""
    own = study.model.block_of(product)
    if own is None:
        return None
    return next((i for i in range(own - 1, -1, -1) if study.model.blocks[i].on), own)


def _with_outcome(study: Study, form: Form) -> Study:
    """The outcome computed otherwise; a variable that is computed so already is taken."""
    outcome = study.model.outcome
    assert outcome is not None
    expression = Applied(form.value, Named(outcome))
    for known in study.derived:
        if known.expression == expression:
            return set_outcome(study, known.name)
    name = f"{form.value} of {study.variable(outcome).label}"
    number = 2
    while taken_name(study, name):
        name = f"{form.value} of {study.variable(outcome).label} {number}"
        number += 1
    made = with_derived(study, Derived(name, expression), Variable(name, Kind.NUMBER, name))
    return set_outcome(made, name)


def _with_level(study: Study, variable: str, code: str) -> Study:
    """A sample of that level alone, within the sample there is."""
    sample, rule = study.sample_of(study.model), Is(variable, code)
    if sample is None:
        new = Sample(free_sample_name(study), rule)
    else:
        both = rule if sample.rule is None else All((sample.rule, rule))
        new = Sample(free_sample_name(study), both, sample.aside)
    return set_sample(put_sample(study, new), new.name)
