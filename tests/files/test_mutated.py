"""Inputs of every kind, changed at random: opened or refused in a sentence, quickly, within bounds, without litter.

What opens is saved again equal, and what is exported reads back the same. `make mutated FROM=0 TO=10000` for more.
"""

from __future__ import annotations

import os
import random
import resource
import tempfile
import warnings
from pathlib import Path

import numpy as np
import pytest

from tests.support.clock import within
from tests.support.mutating import kinds
from tests.support.seeds import few
from yellow_slope.app.state.recentfiles import recent_files, remember
from yellow_slope.core.data.table import TextColumn
from yellow_slope.core.errors import YellowSlopeError
from yellow_slope.core.fit.fitted.evaluate import evaluate
from yellow_slope.core.letters import NO_LETTER, shown
from yellow_slope.core.study.study import Study
from yellow_slope.files.opening import open_anything
from yellow_slope.files.study.studydocument import study_document
from yellow_slope.files.study.studyfile import packed, unpacked
from yellow_slope.files.written.exporting import SUFFIXES, ExportChoices, write_export
from yellow_slope.files.written.results import results_document

pytestmark = pytest.mark.no_cover  # what it runs through others run through

BEGIN, END = int(os.environ.get("MUTATED_FROM", "0")), int(os.environ.get("MUTATED_TO") or few(80, 300))
PARTS = 6
LONGEST = 5
"""Seconds of work."""
MOST_MEMORY = 1500
"""MB that one input may take."""


def memory() -> float:
    """MB that the process has taken at most so far."""
    return resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024


def everything(folder: Path) -> set[str]:
    return {str(path.relative_to(folder)) for path in folder.rglob("*")}


def reads_back(study: Study, folder: Path, rng: random.Random) -> None:
    """Its table, exported, reads back the same."""
    suffix = rng.choice(SUFFIXES)
    path = folder / f"out{suffix}"
    try:
        written = write_export(evaluate(study), [path], ExportChoices(computed=False)).files
    except YellowSlopeError as error:
        assert str(error).strip()  # noqa: PT017
        return
    again = open_anything(path)
    assert again.table.n_rows == study.table.n_rows, suffix
    assert len(again.table.names) == len(study.table.names), suffix
    for old, new in zip(study.table.columns, again.table.columns, strict=True):
        if isinstance(old, TextColumn) or isinstance(new, TextColumn):
            continue
        ours, theirs = np.asarray(old.numbers), np.asarray(new.numbers)
        assert np.allclose(ours, theirs, rtol=1e-12, atol=1e-9, equal_nan=True), (suffix, old.name)
    for file in written:
        file.unlink()


@pytest.mark.no_cover
@pytest.mark.parametrize("part", range(PARTS))
def test_mutated_inputs(part: int) -> None:
    every = kinds()
    for seed in range(BEGIN + part, END, PARTS):
        kind, rng = every[seed % len(every)], random.Random(seed)
        before = memory()
        try:
            with tempfile.TemporaryDirectory() as made, within(LONGEST), warnings.catch_warnings():
                warnings.simplefilter("error")
                inside = Path(made) / "inside"
                inside.mkdir()
                study: Study | None = None
                try:
                    study = kind.act(inside, rng)
                except YellowSlopeError as error:
                    said = str(error)
                    assert said.strip()
                    assert len(said) < 2000
                    assert NO_LETTER.search(shown(said)) is None
                there = everything(Path(made))
                if study is not None:
                    again = unpacked(packed(study), "again.yslope")
                    assert study_document(again) == study_document(study)
                    assert again.variables == study.variables
                    results_document(evaluate(again))
                    reads_back(again, inside, rng)
                assert everything(Path(made)) == there, "something was left over"
                assert everything(Path(made)) == {"inside", *(f"inside/{p.name}" for p in inside.iterdir())}
        except BaseException as error:
            error.add_note(f"seed {seed}, {kind.name}")
            raise
        assert memory() - before < MOST_MEMORY, f"seed {seed}, {kind.name}"


def test_mutated_settings() -> None:
    """The list of recent files, whatever stands in it."""
    from tests.support.mutating import mutated
    from yellow_slope.app.state.recentfiles import _file

    remember(Path(__file__))
    content = _file().read_bytes()
    for seed in range(60):
        _file().write_bytes(mutated(content, random.Random(seed)))
        assert all(path.is_file() for path in recent_files())
        remember(Path(__file__))
        assert Path(__file__).resolve() in recent_files()
