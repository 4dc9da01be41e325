"""What can be asked of a model: which pairs are multiplied, which probe comes first, and which step answers."""

from __future__ import annotations

from itertools import combinations
from math import inf

import numpy as np

from yellow_slope.core.data.variable import Kind
from yellow_slope.core.errors import StudyError
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.fit.fitted.inference import FTest
from yellow_slope.core.study.model import Model
from yellow_slope.core.study.probe import PickRule, Probe, Second
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Term, variables_of

MOST_TESTED = 60
"""Of more products of the most variables none is looked for by its p: the last is taken."""
MOST_PANELS = 24
"""A group of more levels does not become a second moderator by itself."""


def probeable(study: Study, step: int | None = None, model: Model | None = None) -> tuple[tuple[str, str], ...]:
    """Pairs of variables that stand in one product, in block order up to a step; the last entered last. A power
    pairs its variable with itself."""
    blocks = (model or study.model).steps
    found: dict[tuple[str, str], None] = {}
    for block in blocks if step is None else blocks[: step + 1]:
        for term in block.terms:
            names = tuple(dict.fromkeys(term.variables))
            for a, b in combinations(names, 2) if len(names) > 1 or not term.is_product else [(names[0], names[0])]:
                if (b, a) not in found:
                    found.setdefault((a, b))
    return tuple(found)


def default_probe(study: Study, fit: Fit | None) -> Probe | None:
    """The study's first probe of the current model that can be asked, else that of its highest product. The one rule.

    fit: of the current model; without it the highest product that was entered last.
    """
    pairs = probeable(study, study.model.reported_step) or probeable(study)
    names = set(variables_of(study.model.active_terms))
    for probe in study.probes:
        if probe.model not in (None, study.current):
            continue
        both = (probe.focal, probe.moderator)
        if both in pairs or both[::-1] in pairs or (both[0] == both[1] and both[0] in names):
            return probe
    product = highest_product(study, fit)
    return None if product is None else of_product(study, product)


def highest_product(study: Study, fit: Fit | None, step: int | None = None) -> Term | None:
    """Of the products entered up to a step (None: the reported one; where that has none, all) the one of the most
    variables; of several that of the smallest joint p, else the last."""
    steps = study.model.steps
    end = study.model.reported_step if step is None else step
    terms = [t for block in steps[: end + 1] for t in block.terms if t.is_product]
    terms = terms or [t for block in steps for t in block.terms if t.is_product]
    if not terms:
        return None
    most = max(len(set(term.variables)) for term in terms)
    highest = [term for term in terms if len(set(term.variables)) == most]
    if len(highest) == 1 or fit is None or len(highest) > MOST_TESTED:
        return highest[-1]
    tests = ProductTests(study, fit)
    p = [(tests.p(term), -i) for i, term in enumerate(highest)]
    return highest[-min(p)[1]]


class ProductTests:
    """Joint tests of all terms of exactly a product's variables, in the reported step or the first that has it. The
    model's products are looked through once, for as many as are asked."""

    def __init__(self, study: Study, fit: Fit) -> None:
        self._fit, self._reported = fit, study.model.reported_step
        self._products: dict[frozenset[str], list[tuple[int, Term]]] = {}
        self._steps: dict[Term, int] = {}
        for index, block in enumerate(study.model.steps):
            for term in block.terms:
                self._steps.setdefault(term, index)
                if term.is_product:
                    self._products.setdefault(frozenset(term.variables), []).append((index, term))

    def test(self, term: Term) -> FTest | None:
        """None where no such step was fitted, or none of its columns is there."""
        if term not in self._steps:
            return None
        index = max(self._steps[term], self._reported)
        if index >= len(self._fit.steps):
            return None
        step = self._fit.steps[index]
        own = [t for at, t in self._products.get(frozenset(term.variables), ()) if at <= index]
        chosen = [j for t in own for j in self._fit.design.columns_of(t) if j < step.n_columns]
        if not chosen:
            return None
        if len(chosen) == 1 and step.why(chosen[0]) is None:  # the coefficient's own test
            c = step.coefficient(chosen[0])
            return FTest(c.t**2, 1, step.inference.df, c.p)
        g = np.zeros((len(chosen), step.n_columns + 1))
        g[np.arange(len(chosen)), [j + 1 for j in chosen]] = 1.0
        return step.inference.test(g)

    def p(self, term: Term) -> float:
        """Its p; inf where it has none."""
        test = self.test(term)
        return inf if test is None or np.isnan(test.p) else test.p


def of_product(study: Study, term: Term) -> Probe:
    """The probe that a product opens as: its first variable along the next, a third for each level or at low, mean and
    high.

    A number is looked along before a group, which then makes the panels.
    """
    focal, *others = dict.fromkeys(term.variables)
    if not others:
        return Probe(focal, focal)
    numbers = [name for name in others if study.variable(name).kind is Kind.NUMBER]
    moderator = (numbers or others)[0]
    rest = [name for name in others if name != moderator]
    second = next((name for name in rest if len(study.variable(name).levels) <= MOST_PANELS), None)
    return Probe(focal, moderator, second=None if second is None else Second(second))


def is_about(probe: Probe, term: Term) -> bool:
    """Whether a probe asks about a product: two of its variables, and where it can be a third; of a power the one along
    itself."""
    pair, names = {probe.focal, probe.moderator}, set(term.variables)
    return term.is_product and pair <= names and len(pair) == min(2, len(names))


def is_wholly_about(study: Study, probe: Probe, term: Term) -> bool:
    """Whether a probe shows all that a product of three says: its third variable is the second moderator."""
    if not is_about(probe, term):
        return False
    wanted = of_product(study, term).second
    return wanted is None or (probe.second is not None and probe.second.variable in term.variables)


def probe_of(study: Study, term: Term, fit: Fit | None) -> Probe:
    """The probe of a product: the current one where it is about it, else one that the study has, else the one that a
    product opens as."""
    now = default_probe(study, fit)
    known = [p for p in study.probes if p.model in (None, study.current)]
    about = [p for p in ([now] if now is not None else []) + known if is_wholly_about(study, p, term)]
    return about[0] if about else of_product(study, term)


def asked_probes(study: Study, fit: Fit | None) -> tuple[Probe, ...]:
    """All probes of the study, or without any the default one: what report and results answer. fit: of the current
    model."""
    first = default_probe(study, fit)
    return study.probes or ((first,) if first is not None else ())


def first_step(study: Study, probe: Probe) -> int:
    """The first step that can answer the probe. StudyError if none can."""
    model = study.model_of(probe.model)
    for name in dict.fromkeys((probe.focal, probe.moderator, *([probe.second.variable] if probe.second else []))):
        study.variable(name)
        if name not in variables_of(model.active_terms):
            raise StudyError(f"{study.variable(name).label} is not in the model; it cannot be probed.")
    for index, block in enumerate(model.steps):
        if any(_answers(term, probe) for term in block.terms):
            return index
    labels = [study.variable(name).label for name in (probe.focal, probe.moderator)]
    raise StudyError(f"No term multiplies {labels[0]} and {labels[1]}, the two variables that were to be probed.")


def asked_step(study: Study, probe: Probe) -> int:
    """The step that a probe asks about. StudyError with the reason where the model cannot answer it.

    A chosen step whose block is switched off, or stands in another model, gives way to the step without a choice.
    """
    model = study.model_of(probe.model)
    earliest = first_step(study, probe)
    index = model.step_index(probe.step)
    if probe.step is None or index < 0:
        index = max(model.reported_step, earliest)
    if index < earliest:
        raise StudyError(f"Step {index + 1} has no product of the two variables; step {earliest + 1} is the first.")
    if probe.pick.rule is PickRule.OWN and not probe.pick.values:
        raise StudyError("No pick points were given.")
    if probe.second is not None:
        if probe.second.variable in (probe.focal, probe.moderator):
            raise StudyError("A second moderator must be another variable than the focal predictor and the moderator.")
        entered = [t for block in model.steps[: index + 1] for t in block.terms]
        if not any(probe.focal in t.variables and probe.second.variable in t.variables for t in entered):
            label = study.variable(probe.second.variable).label
            raise StudyError(f"Step {index + 1} has no product of {study.variable(probe.focal).label} and {label}.")
    return index


def checked_step(study: Study, probe: Probe) -> int:
    """The step of a probe that somebody wrote down. StudyError also for a step or a held variable that the model
    lacks."""
    model = study.model_of(probe.model)
    index = asked_step(study, probe)
    if model.step_index(probe.step) < 0:
        raise StudyError(f"There is no step “{probe.step}” in the model.")
    for name, _ in probe.held:
        study.variable(name)
        if name not in variables_of(model.active_terms):
            raise StudyError(f"{study.variable(name).label} is not in the model; it cannot be held at a place.")
    return index


def _answers(term: Term, probe: Probe) -> bool:
    return probe.focal in term.variables and probe.moderator in term.variables


def met(study: Study, probe: Probe, step: int) -> tuple[str, ...]:
    """The variables that meet the focal predictor or the moderator in a product of the step, the second moderator among
    them, in the order of the model."""
    terms = [t for block in study.model_of(probe.model).steps[: step + 1] for t in block.terms]
    pair = {probe.focal, probe.moderator}
    names = {n for t in terms if t.is_product and pair & set(t.variables) for n in t.variables}
    return tuple(n for n in variables_of(terms) if n in names - pair)


def can_be_second(study: Study, probe: Probe, step: int) -> tuple[str, ...]:
    """Of those the ones that can be a second moderator: they meet the focal predictor."""
    terms = [t for block in study.model_of(probe.model).steps[: step + 1] for t in block.terms]
    names = {n for t in terms if probe.focal in t.variables for n in t.variables}
    return tuple(n for n in met(study, probe, step) if n in names)
