"""Whatever is done to a study, in whatever order: it stays whole, is evaluated and told, and opens again as it was."""

from __future__ import annotations

import importlib
import inspect
import os
import pkgutil
import typing
import warnings
from functools import lru_cache

import numpy as np
import pytest

from tests.support.seeds import few
from tests.support.walking import Walk, every_edit, start
from yellow_slope.app.state.session import StudySession
from yellow_slope.core.data.table import TextColumn
from yellow_slope.core.fit.fitted.evaluate import Evaluation, evaluate
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.flags import raised_flags
from yellow_slope.core.probe.probing import probe_all
from yellow_slope.core.study import edits
from yellow_slope.core.study.edits.blocks import set_blocks, set_outcome
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Block, Term
from yellow_slope.core.study.whole import EDITS, whole
from yellow_slope.core.words.sentences.effects import EffectReader
from yellow_slope.core.words.sentences.figures import probe_caption
from yellow_slope.core.words.sentences.gone import gone_names
from yellow_slope.files.study import studyfile
from yellow_slope.files.study.studydocument import study_document
from yellow_slope.files.study.studyfile import packed, unpacked
from yellow_slope.files.written.results import results_document
from yellow_slope.report.parts import build_report

pytestmark = pytest.mark.no_cover  # what it runs through others run through

STEPS = 8
WALKS = int(os.environ.get("EDITS_TO") or few(240, 800))
TABLES = 40
PARTS = 8
"""In so many tests the walks are taken, so that they run beside each other."""


def test_no_edit_is_forgotten() -> None:
    every_edit()
    for module in pkgutil.iter_modules(edits.__path__):
        found = importlib.import_module(f"{edits.__name__}.{module.name}")
        for name, function in inspect.getmembers(found, inspect.isfunction):
            own = function.__module__ == found.__name__ and not name.startswith("_")
            first = next(iter(inspect.signature(function).parameters), "")
            if own and first == "study" and typing.get_type_hints(function).get("return") is Study:
                assert f"{module.name}.{name}" in EDITS, (
                    f"{name} gives a study that nobody makes whole: mark it with @edit"
                )


def same(one: Study, other: Study) -> bool:
    """Whether two studies are the same but for the object they are."""
    if one.variables != other.variables or one.table.names != other.table.names:
        return False
    for mine, its in zip(one.table.columns, other.table.columns):
        alike = (
            [mine.text(i) for i in range(len(mine))] == [its.text(i) for i in range(len(its))]
            if isinstance(mine, TextColumn) or isinstance(its, TextColumn)
            else np.array_equal(mine.numbers, its.numbers, equal_nan=True)
        )
        if not alike:
            return False
    return study_document(one) == study_document(other)


def told(evaluation: Evaluation) -> None:
    """All that is said of a study is said without an exception, and every flag is known by a key of its own."""
    flags = raised_flags(evaluation)
    assert len({flag.key for flag in flags}) == len(flags), [flag.key.text for flag in flags]
    for flag in flags:
        assert flag.title
        assert flag.cost
    study = evaluation.study
    fits = {key: fit for key, fit in evaluation.fits.items() if isinstance(fit, Fit)}
    for probed in probe_all(study, fits):
        assert probe_caption(EffectReader(study, probed, 0), 0)


def walked(seed: int, written: bool) -> None:
    """Eight edits, each seen by itself; then everything that is made of the study, and all the way back."""
    walk = Walk(seed)
    study = start(seed % TABLES)
    study = set_outcome(study, "y")
    study = set_blocks(study, [Block((Term(("x",)), Term(("g",)))), Block((Term(("x", "g")), Term(("item",))))])
    session = StudySession(lambda study, serial: None)
    session.open(study)
    every = sorted(every_edit().items())
    evaluation = evaluate(study)
    for _ in range(STEPS):
        now = session.study
        assert now is not None
        name, function = walk.pick(every)
        session.edit(name, walk.edit(now, name, function))
        now = session.study
        assert now is not None
        again, went = whole(now)
        assert not went, gone_names(now, went)
        assert again is now
        if walk.chance(0.25):
            evaluation = evaluate(now, evaluation)
    final = session.study
    assert final is not None
    evaluation = evaluate(final, evaluation)
    told(evaluation)
    if written:
        assert results_document(evaluation).models
        assert build_report(evaluation).sections
    opened = unpacked(packed(final), "walk.yslope")
    assert not opened.went, gone_names(opened, opened.went)
    assert same(opened, final)
    while session.undo_name:
        session.undo()
    assert session.study is study


@pytest.mark.no_cover
@pytest.mark.parametrize("part", range(PARTS))
def test_walks(part: int, monkeypatch: pytest.MonkeyPatch) -> None:
    # Few tables are walked on, and what reading one costs is no part of a walk.
    read = studyfile.__dict__["read_typed"]
    known = lru_cache(maxsize=4 * TABLES)(lambda data, types, source: read(data, dict(types), source))
    monkeypatch.setattr(studyfile, "read_typed", lambda data, types, source: known(data, tuple(types.items()), source))
    with warnings.catch_warnings():
        warnings.simplefilter("error")
        for seed in range(part, WALKS, PARTS):
            try:
                walked(seed, written=seed // PARTS % 32 == 0)
            except Exception as error:
                error.add_note(f"walk {seed}")
                raise
