"""Figures in the study: edits refuse what cannot be, nothing of a figure is lost unsaid, files keep all of it."""

from __future__ import annotations

import pytest

from yellow_slope.core.errors import StudyError
from yellow_slope.core.study.edits.blocks import take_out
from yellow_slope.core.study.edits.figures import (
    add_figure,
    drop_figure,
    figure_named,
    move_figure,
    set_figure_letters,
    tune_figure,
)
from yellow_slope.core.study.edits.kinds import set_kind
from yellow_slope.core.study.edits.probes import drop_probe, keep_probe, put_probe, turn_probe
from yellow_slope.core.study.figures import (
    PAPER_GREY,
    POSTER,
    SLIDES,
    AxisKey,
    AxisTuning,
    Figure,
    FigureSize,
    LineKey,
    LineOf,
    LineTuning,
    Live,
    Pane,
    Parts,
    Pattern,
    Role,
    ShowsGroup,
    ShowsProbe,
    ShowsSteps,
    TextKey,
    TextTuning,
    pieces_of,
)
from yellow_slope.core.study.figuretext import read_look, read_size, size_name
from yellow_slope.core.study.gone import Gone, What
from yellow_slope.core.study.probe import PickPoints, PickRule, Probe
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Term
from yellow_slope.files.study.studyfile import packed, unpacked
from yellow_slope.values import replace

LINES = Figure("lines", ShowsProbe("practice", "worry"))
LEVEL = LineKey(LineOf.LEVEL, "coaching", "3")


def test_names_are_free_and_known(demo: Study) -> None:
    study = add_figure(add_figure(demo, LINES), LINES)
    assert [f.name for f in study.figures] == ["lines", "lines 2"]
    with pytest.raises(StudyError, match="No figure is called “x”; there are: “lines”, “lines 2”"):
        figure_named(study, "x")
    with pytest.raises(StudyError, match="Another figure is called “lines 2” already"):
        tune_figure(study, "lines", replace(LINES, name="lines 2"))
    with pytest.raises(StudyError, match="none was given"):
        tune_figure(study, "lines", replace(LINES, name="  "))
    assert [f.name for f in move_figure(study, "lines", 1).figures] == ["lines 2", "lines"]
    assert move_figure(study, "lines", -1) is study
    assert [f.name for f in drop_figure(study, "lines").figures] == ["lines 2"]


@pytest.mark.parametrize(
    ("figure", "said"),
    [
        (replace(LINES, size=FigureSize(2.0)), "3 to 120 cm wide, not 2"),
        (replace(LINES, size=FigureSize(8.0, 900.0)), "cm high, not 900"),
        (replace(LINES, size=FigureSize(float("nan"))), "not nan"),
        (replace(LINES, letters=1.0), "5 to 72 points, not 1"),
        (LINES.with_text(TextKey(Role.X_TITLE, Pane.LINES), TextTuning(size=400.0)), "points, not 400"),
        (replace(LINES, title="t" * 201), "at most 200 characters"),
        (replace(LINES, alternative="t" * 4001), "at most 4000 characters"),
        (LINES.with_line(LEVEL, LineTuning(width=99.0)), "0.1 to 20 points wide"),
        (LINES.with_axis(AxisKey(Pane.LINES, True), AxisTuning(4.0, 2.0)), "cannot go from 4 to 2"),
        (LINES.with_axis(AxisKey(Pane.LINES, True), AxisTuning(low=float("inf"))), "begins and ends at numbers"),
        (LINES.with_axis(AxisKey(Pane.LINES, True), AxisTuning(step=0.0)), "must be above 0"),
        (LINES.with_axis(AxisKey(Pane.LINES, True), AxisTuning(decimals=12)), "0 to 9 decimals"),
        (replace(LINES, parts=Parts(band=3.0)), "not 300"),
        (replace(LINES, look=replace(POSTER, strength=0.0)), "0.2 to 10 times"),
        (replace(LINES, shows=ShowsProbe("nothing", "worry")), "nothing"),
        (replace(LINES, shows=ShowsSteps("m9")), "There is no model “m9”"),
    ],
)
def test_what_cannot_be_is_refused_and_the_figure_stays_as_it_was(demo: Study, figure: Figure, said: str) -> None:
    study = add_figure(demo, LINES)
    with pytest.raises(StudyError, match=said):
        tune_figure(study, "lines", figure)
    with pytest.raises(StudyError, match=said):
        add_figure(demo, figure)
    assert study.figures == (LINES,)


def test_letters_of_all_figures(demo: Study) -> None:
    assert set_figure_letters(demo, 11.0).figure_letters == 11.0
    with pytest.raises(StudyError, match="5 to 24 points, not 30"):
        set_figure_letters(demo, 30.0)


def test_a_level_that_is_gone_is_remembered_as_lost(demo: Study) -> None:
    tuned = LINES.with_line(LEVEL, LineTuning(pattern=Pattern.DOTTED))
    tuned = tuned.with_text(TextKey(Role.LINE, line=LEVEL), TextTuning("a coach"))
    study = set_kind(add_figure(demo, tuned), "coaching", demo.variable("practice").kind)
    figure = figure_named(study, "lines")
    assert not figure.lines
    assert not figure.texts
    assert figure.lost == (Gone(What.TUNED, ("coaching",), "3"),)
    assert Gone(What.TUNED, ("coaching",), "3") in study.went
    assert unpacked(packed(study), "x").figures[0].lost == figure.lost


def test_a_figure_of_a_variable_that_is_gone_goes_and_that_is_said(demo: Study) -> None:
    study = add_figure(demo, Figure("groups", ShowsGroup("site")))
    without = set_kind(study, "site", demo.variable("learner").kind)
    assert not without.figures
    assert Gone(What.FIGURE, ("groups",)) in without.went


def test_a_figure_of_a_product_that_left_the_model_stays(demo: Study) -> None:
    study = take_out(add_figure(demo, LINES), [Term(("practice", "worry"))])
    assert study.figures == (LINES,)


def test_a_probe_that_a_figure_shows_stays_and_keeps_its_choices(demo: Study) -> None:
    probe = replace(demo.probes[0], pick=PickPoints(PickRule.QUARTILES))
    study = add_figure(put_probe(demo, probe), Figure("f", ShowsProbe.of(probe)), probe)
    other = Probe("practice", "coaching")
    turned = turn_probe(study, probe, other)
    assert probe in turned.probes
    named = keep_probe(study, probe, "first look")
    assert figure_named(named, "f").shows == ShowsProbe.of(replace(probe, name="first look"))
    dropped = drop_probe(named, "first look")
    assert figure_named(dropped, "f").shows == ShowsProbe.of(probe)
    assert probe in dropped.probes
    alone = turn_probe(put_probe(demo, probe), probe, other)
    assert probe not in alone.probes


def test_a_look_brings_its_letters_and_its_size_and_takes_them_along(demo: Study) -> None:
    figure = replace(LINES, size=FigureSize(8.5), letters=7.0)
    grey = figure.in_look(PAPER_GREY)
    assert (grey.size, grey.letters, grey.points) == (FigureSize(8.5), None, 9.0)
    slides = grey.in_look(SLIDES)
    assert (slides.size, slides.points) == (SLIDES.size, 18.0)
    back = slides.in_look(PAPER_GREY)
    assert back.size.width == pytest.approx(16.51)
    wide = replace(slides, size=FigureSize(30.0)).in_look(PAPER_GREY)
    assert wide.size == FigureSize(30.0)


def test_sizes_and_looks_as_they_are_typed() -> None:
    assert read_size("8.5cm") == FigureSize(8.5)
    assert read_size(" 17,5 x 9 cm ") == FigureSize(17.5, 9.0)
    assert read_size("3.5 in") == FigureSize(3.5 * 2.54)
    assert read_size("85 mm").width == pytest.approx(8.5)
    assert read_size("Double Column") == FigureSize(17.5)
    for text in ("", "wide", "8.5 furlongs", "1e9", "x 3"):
        with pytest.raises(StudyError, match=r"is not a size|cm wide"):
            read_size(text)
    with pytest.raises(StudyError, match="cm high, not 200"):
        read_size("10 x 200 cm")
    assert read_look("PAPER,  grey") == PAPER_GREY
    own = replace(PAPER_GREY, name="mine")
    assert read_look("mine", [own]) == own
    assert size_name(FigureSize(8.5)) == "single column, 8.5 cm"
    assert size_name(FigureSize(9.0)) == "9 cm wide"
    assert size_name(FigureSize(9.0, 6.0)) == "9 × 6 cm"


def test_what_is_no_letter_in_a_text_of_a_figure_is_marked() -> None:
    """Words of one's own hold nothing that a writer could stumble over; what was there instead can be seen."""
    tuned = replace(LINES, title="a\x07b", caption=pieces_of("c\ud800", Live.N), alternative="\u202ed")
    assert (tuned.title, tuned.caption, tuned.alternative) == ("a\ufffdb", pieces_of("c\ufffd", Live.N), "\ufffdd")
    assert TextTuning("a\x07b").words == "a\ufffdb"
