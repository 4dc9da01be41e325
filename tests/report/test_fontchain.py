"""Letters of every script: written by the font that has them, or said to be missing."""

from __future__ import annotations

import pytest

from tests.support.worlds import fit_of, noise_world, study_of
from yellow_slope.core.probe.probing import probe_fit
from yellow_slope.core.probe.seen import Seen, Sight
from yellow_slope.core.study.edits.descriptions import describe
from yellow_slope.core.study.edits.levels import name_levels
from yellow_slope.core.study.probe import Probe
from yellow_slope.looks import FONT_FAMILY
from yellow_slope.plots.marks import Page
from yellow_slope.plots.measuring import text_width
from yellow_slope.report import fontchain
from yellow_slope.report.drawing import page_bytes
from yellow_slope.report.figures import figure_page
from yellow_slope.report.fontchain import chain, letters_of, remark, remark_on_names

SCRIPTS = {
    "Cyrillic": "оценка",
    "Greek": "ώρες",
    "Hebrew": "הדרכה",
    "Arabic": "مجموعة",
    "Vietnamese": "nhóm hướng dẫn",
    "Polish": "łąka",
    "emoji": "😀",
}


def page(name: str) -> Page:
    study = describe(study_of(noise_world(41), "y", "x, w; x*w"), "x", label=name)
    return figure_page(study, Sight.of(probe_fit(study, fit_of(study), Probe("x", "w")), Seen()))


@pytest.mark.parametrize("script", SCRIPTS)
def test_every_script_is_written(script: str) -> None:
    made = page(SCRIPTS[script])
    assert remark(made) == ""
    families, missing = chain(letters_of(made))
    assert families[0] == FONT_FAMILY
    assert missing == ""
    for kind in ("png", "svg", "pdf"):
        assert page_bytes(made, kind, 80) == page_bytes(made, kind, 80)


def test_a_letter_that_no_font_has_is_said(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(fontchain, "_letters", lambda path, index: frozenset())
    chain.cache_clear()
    made = page("小组")
    said = "No font on this machine has “小” and “组”"
    assert remark(made) == f"{said}: the figure shows boxes in their place."
    assert page_bytes(made, "png", 80)
    study = study_of(noise_world(41), "y", "x, w, g")
    assert remark_on_names(study) == ""
    study = name_levels(study, "g", ["小组", *(level.label for level in study.variable("g").levels[1:])])
    assert remark_on_names(study) == f"{said}: names show boxes in their place."
    chain.cache_clear()


def test_widths_of_letters_of_other_fonts() -> None:
    assert text_width("小", 10) == 10
    assert 5 < text_width("ж", 10) < 10
    assert text_width("e\u0301", 10) == text_width("e", 10)
