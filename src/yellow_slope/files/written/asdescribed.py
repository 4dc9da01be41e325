"""Choices in the words of a small description, as results repeat them."""

from __future__ import annotations

from typing import assert_never

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
from yellow_slope.core.study.probe import Probe
from yellow_slope.core.study.standarderrors import HC, Bootstrap, Classical, Cluster, Errors
from yellow_slope.files.specdocument import (
    CodingDocument,
    ErrorsDocument,
    ErrorsOf,
    ProbeDocument,
    QuestionDocument,
    SecondDocument,
    SmallestDocument,
)


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


def errors_document(errors: Errors) -> ErrorsOf:
    """The kind of standard errors as a document."""
    match errors:
        case Classical():
            return "classical"
        case HC(kind):
            return f"HC{kind}"  # type: ignore[return-value]
        case Cluster(id):
            return ErrorsDocument(cluster=id)
        case Bootstrap(way, draws, seed, cluster):
            return ErrorsDocument(bootstrap=way, draws=draws, seed=seed, cluster=cluster)
        case _:
            assert_never(errors)


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
