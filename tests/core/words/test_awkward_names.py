"""Names that look like words of the program are names: nothing is read off them, and nothing of them is cut open."""

from __future__ import annotations

import numpy as np
import pytest

from tests.support.worlds import study_of
from yellow_slope.core.fit.fitted.evaluate import Evaluation, evaluate
from yellow_slope.core.probe.asking import asked_probes
from yellow_slope.core.probe.probing import probe_fit
from yellow_slope.core.stand.checked import checked
from yellow_slope.core.study.checks import Check
from yellow_slope.core.study.edits.descriptions import change_variable
from yellow_slope.core.study.edits.report import choose_set
from yellow_slope.core.study.report import ReadySet
from yellow_slope.core.words.sentences.effects import EffectReader
from yellow_slope.core.words.sentences.longnames import LongNames
from yellow_slope.core.words.spelling.letters import capital
from yellow_slope.core.words.spelling.rich import runs_of, with_symbols
from yellow_slope.plots.checks import check_page
from yellow_slope.plots.look import SCREEN
from yellow_slope.report.parts import build_report
from yellow_slope.values import replace

LABELS = {"x": "by car", "w": "mood at start (1 × 2)", "g": "q23r", "y": "students seen"}


@pytest.fixture(scope="module")
def awkward() -> Evaluation:
    rng, n = np.random.default_rng(1), 90
    x, w = rng.normal(5, 1, n), rng.normal(3, 1, n)
    columns = {"x": x, "w": w, "g": ["abc"[i % 3] for i in range(n)], "y": x * w + rng.normal(size=n)}
    study = study_of(columns, "y", "x, w, g; x*w, x*g, w*g")
    for name, label in LABELS.items():
        study = change_variable(study, replace(study.variable(name), label=label))
    group = study.variable("g")
    levels = zip(group.levels, ["in house", "at sea", "p = .05"])
    study = change_variable(study, replace(group, levels=tuple(replace(one, label=label) for one, label in levels)))
    return evaluate(choose_set(study, ReadySet.EVERYTHING))


def test_no_name_is_cut_open_or_slanted(awkward: Evaluation) -> None:
    for section in build_report(awkward).sections:
        for paragraph in section.paragraphs:
            text = str(paragraph.text)
            assert text.count("(") == text.count(")"), text
            assert "by by" not in text.lower(), text
            slanted = "".join(f"*{run.text}*" if run.italic else run.text for run in runs_of(paragraph.text))
            assert "23*" not in slanted, slanted


def test_a_letter_within_a_name_is_no_symbol() -> None:
    for name in ("q23r", "x_p", "A-p", "mr.t", "7F"):
        assert not any(run.italic for run in with_symbols(f"{name} = 3, {name}(1, 2)").runs), name
    assert [run.text for run in with_symbols("F(1, 2) = 3.1, p < .001").runs if run.italic] == ["F", "p"]


def test_a_title_tells_a_name_that_begins_with_by(awkward: Evaluation) -> None:
    study, fit = awkward.study, awkward.fit
    assert fit is not None
    probe = asked_probes(study, fit)[0]
    turned = replace(probe, focal=probe.moderator, moderator=probe.focal)
    titles = [EffectReader(study, probe_fit(study, fit, one), 0).title() for one in (probe, turned)]
    assert titles == ["By car by mood at start (1 × 2)", "Mood at start (1 × 2) by “by car”"]


def test_where_a_group_is_held_is_a_place_whatever_its_name(awkward: Evaluation) -> None:
    study, fit = awkward.study, awkward.fit
    assert fit is not None
    group = change_variable(study, replace(study.variable("g"), label="in house"))
    probe = asked_probes(study, fit)[0]
    assert probe.second is None
    read = EffectReader(group, probe_fit(group, fit, probe), 0)
    assert [(one.said, one.is_place) for one in read.held_parts()] == [
        ("in house groups weighted by their share", False)
    ]


def test_a_plot_of_the_outcome_is_no_plot_of_residuals(awkward: Evaluation) -> None:
    """An outcome whose name begins as “studentized” does keeps its own axis."""
    study, fit = awkward.study, awkward.fit
    assert fit is not None
    renamed = change_variable(study, replace(study.variable("y"), label="outcome"))
    reaches = []
    for one in (study, renamed):
        found = checked(one, fit, fit.last.index, None, lambda _: None)
        if found.own is not None:
            page = check_page(Check.OWN, found, None, SCREEN, 400, 300, False, None)
            reaches.append(page.frames[0].y)
    assert reaches[:1] == reaches[1:]


def test_a_long_name_within_a_longer_one_is_not_cut_out_of_it() -> None:
    study = study_of({"a": range(9), "b": range(9), "y": range(9)}, "y", "a, b")
    for name, label, short in (
        ("a", "mood at the start of the week", "mood"),
        ("b", "mood at the start of the week two", "later mood"),
    ):
        study = change_variable(study, replace(study.variable(name), label=label, short_label=short))
    names = LongNames(study, are_known=True)
    one, two = (names.study.variable(name).label for name in ("a", "b"))
    text = f"{capital(two)}, then {one}; moods at the start of the weeks"
    assert names.printed_text(text) == "Later mood, then mood; moods at the start of the weeks"
    first = LongNames(study)
    assert first.printed_text(f"{one}, then {one}") == f"{study.variable('a').label}, then mood"


def test_a_short_name_does_not_end_in_a_comma() -> None:
    study = study_of({"a": range(9), "y": range(9)}, "y", "a")
    study = change_variable(study, replace(study.variable("y"), label="joy of the evening, as it was told at last"))
    names = LongNames(study, are_known=True)
    assert names.printed_text(f"{capital(names.study.variable('y').label)} rose") == "Joy of the evening rose"
