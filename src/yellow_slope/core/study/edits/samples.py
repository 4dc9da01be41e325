"""Edits of samples: rules, and cases set aside and taken back."""

from __future__ import annotations

from collections.abc import Iterable

from yellow_slope.core.data.conditions import Rule, holds, variables_in
from yellow_slope.core.errors import StudyError
from yellow_slope.core.study.edits.models import change_model
from yellow_slope.core.study.rules import Sample, SetAside
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.whole import edit
from yellow_slope.values import replace


@edit
def put_sample(study: Study, sample: Sample) -> Study:
    """Add a sample, or replace the one of that name; StudyError if its rule or cases cannot be."""
    if not sample.name.strip():
        raise StudyError("A sample needs a name.")
    if sample.rule is not None:
        for name in variables_in(sample.rule):
            study.variable(name)
        holds(sample.rule, study.columns)
    for aside in sample.aside:
        wrong = [row for row in aside.rows if not 0 <= row < study.table.n_rows]
        if wrong:
            raise StudyError(f"The table has no row {wrong[0] + 1}; it has {study.table.n_rows}.")
    if sample.name in {s.name for s in study.samples}:
        return replace(study, samples=tuple(sample if s.name == sample.name else s for s in study.samples))
    return replace(study, samples=(*study.samples, sample))


@edit
def set_sample(study: Study, name: str | None) -> Study:
    """Let the current model rest on that sample; None: on all cases."""
    if name is not None and name not in {sample.name for sample in study.samples}:
        raise StudyError(f"There is no sample named “{name}”.")
    return change_model(study, sample=name)


@edit
def set_aside(study: Study, rows: Iterable[int], reason: str) -> Study:
    """Set cases aside in the current model's sample; without one a sample is made for it."""
    sample = study.sample_of(study.model) or Sample(free_sample_name(study))
    new = replace(sample, aside=(*sample.aside, SetAside(tuple(sorted(set(rows))), reason)))
    return set_sample(put_sample(study, new), new.name)


@edit
def take_back(study: Study, rows: Iterable[int]) -> Study:
    """Let cases of the current model's sample take part again that were set aside."""
    sample = study.sample_of(study.model)
    back = set(rows)
    if sample is None or not any(back & set(aside.rows) for aside in sample.aside):
        return study
    left = (replace(aside, rows=tuple(row for row in aside.rows if row not in back)) for aside in sample.aside)
    return put_sample(study, replace(sample, aside=tuple(aside for aside in left if aside.rows)))


@edit
def set_rule(study: Study, rule: Rule | None) -> Study:
    """Give the current model's sample a rule, or none; a model of all cases gets a sample of its own."""
    sample = study.sample_of(study.model)
    if sample is None:
        return study if rule is None else new_sample(study, free_sample_name(study), rule)
    return study if sample.rule == rule else put_sample(study, replace(sample, rule=rule))


def free_sample_name(study: Study) -> str:
    """A name that no sample has."""
    number = 1
    while any(sample.name == f"sample {number}" for sample in study.samples):
        number += 1
    return f"sample {number}"


@edit
def new_sample(study: Study, name: str, rule: Rule | None = None) -> Study:
    """A further sample, which the current model then rests on. StudyError for a name that is taken."""
    name = name.strip()
    if any(sample.name == name for sample in study.samples):
        raise StudyError(f"There is a sample “{name}” already.")
    return set_sample(put_sample(study, Sample(name, rule)), name)


@edit
def rename_sample(study: Study, old: str, new: str) -> Study:
    """Give a sample another name, in every model that rests on it."""
    new = new.strip()
    if new == old:
        return study
    if not new or any(sample.name == new for sample in study.samples):
        raise StudyError(f"There is a sample “{new}” already." if new else "A sample needs a name.")
    samples = tuple(replace(s, name=new) if s.name == old else s for s in study.samples)
    models = tuple(replace(m, sample=new) if m.sample == old else m for m in study.models)
    return replace(study, samples=samples, models=models)


@edit
def remove_sample(study: Study, name: str) -> Study:
    """Take a sample away; models that rested on it rest on all cases."""
    models = tuple(replace(m, sample=None) if m.sample == name else m for m in study.models)
    return replace(study, samples=tuple(s for s in study.samples if s.name != name), models=models)
