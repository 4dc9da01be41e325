"""Edits of how variables enter: treatments and codings."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from types import MappingProxyType
from typing import assert_never

from yellow_slope.core.data.variable import Kind
from yellow_slope.core.errors import StudyError
from yellow_slope.core.study.coding import (
    Adjacent,
    AgainstMean,
    Coding,
    Dummy,
    Effect,
    LevelMeans,
    Planned,
    Trends,
    WeightedEffect,
)
from yellow_slope.core.study.edits.models import change_model
from yellow_slope.core.study.model import Entry
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.treatment import Given, Transform, Treatment, WithinGroups
from yellow_slope.core.study.whole import edit

MOST_QUESTIONS = 60
"""More planned questions than this nobody reads; a group of more levels is completed by the program."""


def _entries(study: Study, new: Mapping[str, Entry]) -> Study:
    model = study.model
    merged = {**model.entries, **new}
    if merged == dict(model.entries):
        return study
    return change_model(study, entries=MappingProxyType(merged))


@edit
def treat(study: Study, names: Iterable[str], treatment: Treatment) -> Study:
    """Give several numbers one treatment."""
    names = list(names)
    for name in names:
        variable = study.variable(name)
        if variable.kind is not Kind.NUMBER:
            raise StudyError(f"{variable.label} is {variable.kind.one}; only numbers are centered or standardized.")
        if Transform.REVERSE in treatment.transforms and variable.limits is None:
            raise StudyError(f"{variable.label} has no declared limits; without them its scale cannot be reversed.")
        if isinstance(treatment.scale, Given) and not treatment.scale.value > 0:
            raise StudyError(f"The scale of {variable.label} must be larger than 0.")
        if isinstance(treatment.zero, WithinGroups):
            by = study.variable(treatment.zero.of)
            if by.kind is not Kind.GROUP:
                raise StudyError(f"{by.label} is {by.kind.one}; a number is centered within the levels of a group.")
    return _entries(study, dict.fromkeys(names, treatment))


@edit
def set_coding(study: Study, name: str, coding: Coding) -> Study:
    """Choose what a group variable's comparisons ask."""
    variable = study.variable(name)
    if variable.kind is not Kind.GROUP:
        raise StudyError(f"{variable.label} is {variable.kind.one}; only groups have comparisons.")
    codes: list[str] = []
    match coding:
        case Dummy(one) | Effect(one) | WeightedEffect(one):
            codes = [one] if one is not None else []
        case Trends(spacing):
            codes = [code for code, _ in spacing]
        case Planned(questions):
            codes = [c for q in questions for c in (*q.one, *q.other, *(code for code, _ in q.weights))]
            if len(questions) > MOST_QUESTIONS:
                raise StudyError(f"At most {MOST_QUESTIONS} questions can be planned for one group.")
            for question in questions:
                if question.why_not():
                    raise StudyError(f"A question about {variable.label} {question.why_not()}.")
        case LevelMeans():
            if study.model.constant:
                raise StudyError(
                    f"Columns for every level of {variable.label} are redundant with an "
                    "intercept. Remove the intercept first, or choose comparisons."
                )
        case Adjacent() | AgainstMean():
            pass
        case _:
            assert_never(coding)
    for code in codes:
        variable.level(code)
    return _entries(study, {name: coding})


@edit
def set_reference(study: Study, name: str, code: str) -> Study:
    """Choose the reference group of a group variable."""
    variable = study.variable(name)
    if variable.kind is not Kind.GROUP:
        raise StudyError(f"{variable.label} is {variable.kind.one}; only groups have a reference.")
    return set_coding(study, name, Dummy(variable.level(code).code))


@edit
def forget_entry(study: Study, name: str) -> Study:
    """Nothing is said any longer of how a variable enters."""
    if name not in study.model.entries:
        return study
    entries = {n: e for n, e in study.model.entries.items() if n != name}
    return change_model(study, entries=MappingProxyType(entries))
