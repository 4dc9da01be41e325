"""Whatever the table and the model: an evaluation, its results and its report, or a sentence that says why not."""

from __future__ import annotations

import warnings

import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from tests.support.seeds import few
from tests.support.worlds import study_of
from yellow_slope.core.data.variable import Kind
from yellow_slope.core.errors import YellowSlopeError
from yellow_slope.core.fit.fitted.evaluate import evaluate
from yellow_slope.core.flags import flags_of
from yellow_slope.core.probe.asking import probeable
from yellow_slope.core.study.edits.blocks import set_blocks
from yellow_slope.core.study.edits.entries import treat
from yellow_slope.core.study.edits.kinds import set_kind
from yellow_slope.core.study.edits.probes import put_probe
from yellow_slope.core.study.probe import Probe
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Block, Term
from yellow_slope.core.study.treatment import READY
from yellow_slope.files.safely.jsontext import json_text
from yellow_slope.files.study.studyfile import packed, unpacked
from yellow_slope.files.study.typed import as_json
from yellow_slope.files.written.results import results_document
from yellow_slope.report.parts import build_report
from yellow_slope.report.writers.html import html_of

pytestmark = pytest.mark.no_cover  # what it runs through others run through

NAMES = ("a", "b", "g", "h")


@st.composite
def studies(draw: st.DrawFn) -> Study:
    """Small tables with gaps, ties, constants and huge values; models of any shape."""
    n = draw(st.integers(3, 24))
    seed = draw(st.integers(0, 10**6))
    rng = np.random.default_rng(seed)
    columns: dict[str, np.ndarray] = {}
    for name in ("y", "a", "b"):
        kind = draw(st.sampled_from(["normal", "whole", "constant", "huge", "tiny", "copy", "gaps"]))
        values = rng.normal(3, 2, n)
        if kind == "whole":
            values = np.round(values)
        elif kind == "constant":
            values = np.full(n, 2.5)
        elif kind == "huge":
            values = values * 1e12 + 1e14
        elif kind == "tiny":
            values = values * 1e-9
        elif kind == "copy" and columns:
            values = columns["y"] * 2 - 1
        elif kind == "gaps":
            values[rng.random(n) < 0.3] = np.nan
            values[0] = 3.0  # a column without any value is no number
        columns[name] = values
    for name in ("g", "h"):
        k = draw(st.integers(1, 4))
        columns[name] = np.array([f"{name}{i}" for i in range(4)])[rng.integers(0, k, n)]
    picks = st.lists(st.sampled_from(NAMES), min_size=1, max_size=3)
    terms = [Term(tuple(t)) for t in draw(st.lists(picks, min_size=1, max_size=5))]
    fitting = [t for t in terms if t.variables.count("g") < 2 and t.variables.count("h") < 2]
    cut = draw(st.integers(0, len(fitting)))
    study = study_of(columns, "y", "g")
    for name in ("a", "b"):
        study = set_kind(study, name, Kind.NUMBER)
    study = set_blocks(study, [Block(tuple(fitting[:cut])), Block(tuple(fitting[cut:]))])
    for name in ("a", "b"):
        study = treat(study, [name], draw(st.sampled_from(READY)))
    for pair in probeable(study)[:2]:
        study = put_probe(study, Probe(*(pair if draw(st.booleans()) else pair[::-1])))
    return study


@pytest.mark.no_cover
@settings(max_examples=few(30, 150), deadline=None, suppress_health_check=[HealthCheck.too_slow])
@given(studies())
def test_evaluation_results_and_remedies(study: Study) -> None:
    with warnings.catch_warnings():
        warnings.simplefilter("error")
        evaluation = evaluate(study)
        assert evaluation.fit is not None or evaluation.problem.endswith(".")
        document = results_document(evaluation)
        assert json_text(as_json(document))
        for flag in flags_of(evaluation):
            assert flag.title
            assert flag.cost
            for remedy in flag.remedies:
                try:
                    changed = remedy.edit(study)
                except YellowSlopeError:
                    continue
                again = {f.key: f for f in flags_of(evaluate(changed))}
                assert flag.key not in again or again[flag.key].title != flag.title


@pytest.mark.no_cover
@settings(max_examples=12, deadline=None, suppress_health_check=[HealthCheck.too_slow])
@given(studies())
def test_reports_and_study_files(study: Study) -> None:
    assert html_of(build_report(evaluate(study))).startswith("<!DOCTYPE html>")
    again = unpacked(packed(study), "s.yslope")
    assert again.model.blocks == study.model.blocks
    assert evaluate(again).problem == evaluate(study).problem
    assert all(v.kind is not Kind.TEXT or v.name in ("g", "h") for v in again.variables)
