"""What can be asked of a model: which pairs are multiplied, which probe comes first, and which step answers."""

from __future__ import annotations

from itertools import combinations

from yellow_slope.core.data.variable import Kind
from yellow_slope.core.errors import StudyError
from yellow_slope.core.probe.probed import Probed
from yellow_slope.core.study.model import Model
from yellow_slope.core.study.probe import PickRule, Probe
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Term, variables_of


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


def default_probe(study: Study) -> Probe | None:
    """The study's first probe of the current model that can be asked, else the product entered last, a power where
    there is no other. The one rule."""
    pairs = probeable(study, study.model.reported_step) or probeable(study)
    names = set(variables_of(study.model.active_terms))
    for probe in study.probes:
        if probe.model not in (None, study.current):
            continue
        both = (probe.focal, probe.moderator)
        if both in pairs or both[::-1] in pairs or (both[0] == both[1] and both[0] in names):
            return probe
    pairs = tuple(pair for pair in pairs if pair[0] != pair[1]) or pairs
    return Probe(*pairs[-1]) if pairs else None


def is_about(probe: Probe, term: Term) -> bool:
    """Whether a probe asks about a product: two of its variables, of a power the one along itself."""
    pair, names = {probe.focal, probe.moderator}, set(term.variables)
    return term.is_product and pair <= names and len(pair) == min(2, len(names))


def probe_of(study: Study, term: Term) -> Probe:
    """The probe of a product: the current one where it is about it, else one that the study has, else its first
    variable along the next."""
    now = default_probe(study)
    known = [p for p in study.probes if p.model in (None, study.current)]
    about = [p for p in ([now] if now is not None else []) + known if is_about(p, term)]
    names = tuple(dict.fromkeys(term.variables))
    return about[0] if about else Probe(names[0], names[min(1, len(names) - 1)])


def asked_probes(study: Study) -> tuple[Probe, ...]:
    """All probes of the study, or without any the default one: what report and results answer."""
    first = default_probe(study)
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


def other_groups(study: Study, probed: Probed) -> tuple[str, ...]:
    """Group variables that stand in a product with the focal predictor and are neither moderator."""
    names = {
        n for t in probed.model.active_terms if t.is_product and probed.probe.focal in t.variables for n in t.variables
    }
    taken = {probed.probe.focal, probed.probe.moderator, probed.probe.second.variable if probed.probe.second else ""}
    return tuple(
        n
        for n in variables_of(probed.model.active_terms)
        if n in names - taken and study.variable(n).kind is Kind.GROUP
    )
