"""Printed tables, figures and the document."""

from __future__ import annotations

import re

import numpy as np

from tests.support.worlds import fit_of
from yellow_slope import looks
from yellow_slope.core.data.table import NumberColumn, Stray, Table, number_column
from yellow_slope.core.data.variable import Kind
from yellow_slope.core.fit.fitted.evaluate import evaluate
from yellow_slope.core.probe.places import NumberPlace
from yellow_slope.core.probe.probing import probe_fit
from yellow_slope.core.probe.seen import Seen, Sight
from yellow_slope.core.study.checks import Check
from yellow_slope.core.study.edits.blocks import enter, set_outcome, take_out
from yellow_slope.core.study.edits.checks import set_printed
from yellow_slope.core.study.edits.computed import derive
from yellow_slope.core.study.edits.descriptions import declare_missing, describe, give_value
from yellow_slope.core.study.edits.dismissals import dismiss
from yellow_slope.core.study.edits.kinds import set_kind
from yellow_slope.core.study.edits.levels import name_levels
from yellow_slope.core.study.edits.models import keep_model, make_current, put_model, set_errors, set_reported
from yellow_slope.core.study.edits.report import choose_set, switch_part
from yellow_slope.core.study.edits.samples import set_aside
from yellow_slope.core.study.flagkeys import FlagKey, FlagKind
from yellow_slope.core.study.probe import Probe
from yellow_slope.core.study.report import PartKind, ReadySet
from yellow_slope.core.study.standarderrors import HC
from yellow_slope.core.study.study import Study, new_study
from yellow_slope.core.study.terms import Term
from yellow_slope.core.told.steps import StepFigure, step_line
from yellow_slope.core.words.names.places import point_name
from yellow_slope.core.words.sentences.coefficients import Reader
from yellow_slope.core.words.sentences.effects import EffectReader
from yellow_slope.core.words.sentences.figures import probe_caption
from yellow_slope.core.words.spelling.numerals import bounded, fixed
from yellow_slope.files.written.checkresults import checks_part
from yellow_slope.plots.marks import Page
from yellow_slope.report.drawing import page_bytes
from yellow_slope.report.figures import KINDS, figure_page
from yellow_slope.report.modeltables import coefficients_table, steps_tables
from yellow_slope.report.parts import build_report, probes_of
from yellow_slope.report.probetables import effects_table, regions_table
from yellow_slope.report.sampletables import descriptives_tables
from yellow_slope.report.writers.html import html_of
from yellow_slope.values import replace


def test_coefficients_as_a_table(demo: Study) -> None:
    evaluation = evaluate(demo)
    table = coefficients_table(evaluation)
    assert table is not None
    fit = fit_of(demo)
    heads = [row for row in table.rows if row[0].strong]
    assert [row[0].text for row in heads] == [f"Step {i + 1}: {b.name}" for i, b in enumerate(demo.model.blocks)]
    for row, step in zip(heads, fit.steps):
        assert f"ΔR² = {bounded(step.change.r2)}" in row[1].text
    last = table.rows[table.rows.index(heads[2]) :]
    worry = next(row for row in last if row[0].text == "practice × worry")
    found = fit.last.coefficient(
        next(j for j, c in enumerate(fit.design.columns) if c.term.key == ("practice", "worry"))
    )
    assert worry[1].text == fixed(found.b, 2)
    assert worry[4].text == bounded(found.beta, 2)
    assert all(sum(cell.span for cell in row) == len(table.head) for row in table.rows)


def test_the_steps_as_a_table_say_what_the_screen_says(demo: Study) -> None:
    fit = fit_of(demo)
    read = Reader(demo, fit, demo.model)
    table, further = steps_tables(read)
    assert all(len(row) == len(table.head) for row in table.rows)
    assert all(len(row) == len(further.head) for row in further.rows)
    for step, (row, more) in enumerate(zip(table.rows, further.rows)):
        line = step_line(read, step)
        assert row[1].text == line.text(StepFigure.R2)
        assert row[2].text == line.text(StepFigure.R2_INTERVAL)
        assert row[4].text == line.text(StepFigure.CHANGE)
        assert row[8].text == line.text(StepFigure.P)
        assert f"{row[6].text} ({row[7].text})" == line.text(StepFigure.F)
        assert more[2].text == line.text(StepFigure.PRESS)
        assert more[5].text == line.text(StepFigure.AT_80)
        assert row[1].numbers + row[2].numbers == (fit.steps[step].r2, *line.cells[StepFigure.R2_INTERVAL].numbers)
    assert "stands where" not in table.note + further.note
    robust = set_errors(demo, HC(3))
    table, _ = steps_tables(Reader(robust, fit_of(robust), robust.model))
    assert table.rows[0][2].text == "–"
    assert "(its interval, interval of ΔR²: " in table.note


def test_models_side_by_side_stand_in_the_report(demo: Study) -> None:
    assert "Models side by side" not in [s.title for s in build_report(evaluate(demo)).sections]
    study = take_out(keep_model(demo, "whole"), [Term(("practice", "coaching"))])
    study = put_model(study, replace(study.models[0], id="odd", name="nothing", outcome=None))
    study = make_current(study, next(m.id for m in study.models if not m.name))
    section = next(s for s in build_report(evaluate(study)).sections if s.title == "Models side by side")
    assert str(section.paragraphs[0]).startswith(
        "This model is nested in “whole”, which adds 3 columns: F(3, 206) = 4.02"
    )
    assert str(section.paragraphs[1]).startswith("“nothing” cannot be compared: ")
    rows = {row[0].text: row for row in section.tables[0].rows}
    assert rows["whole"][4].text == bounded(fit_of(demo).last.r2)
    assert rows["this model"][4].text == bounded(fit_of(study).last.r2)
    assert sum(cell.span for cell in rows["nothing"]) == len(section.tables[0].head)


def test_descriptives_and_correlations(demo: Study) -> None:
    (table,) = descriptives_tables(evaluate(demo))
    fit = fit_of(demo)
    assert table.rows[0][1].text == fixed(float(fit.y.mean()), 2)
    r = np.corrcoef(fit.y, np.asarray(fit.values["age"]))[0, 1]
    assert table.rows[1][3].text == bounded(float(r), 2)
    assert "Correlations of .14 or more in size have p < .05, those of .18 or more p < .01" in table.note
    assert all(len(row) == len(table.head) for row in table.rows)


def test_effects_and_regions(demo: Study) -> None:
    fit = fit_of(demo)
    along = probe_fit(demo, fit, Probe("practice", "worry"))
    table = effects_table(demo, along)
    assert [row[0].text for row in table.rows] == [
        f"{p.value:.2f} ({point_name(p.point)})" for p in along.places if isinstance(p, NumberPlace)
    ]
    assert table.rows[0][1].text == fixed(along.panels[0].foci[0].effects[0].effect, 2)
    regions = regions_table(demo, along)
    assert regions is not None
    assert sum(int(row[2].text) for row in regions.rows) == fit.y.size
    by = probe_fit(demo, fit, Probe("practice", "coaching"))
    assert regions_table(demo, by) is None
    assert len(effects_table(demo, by).rows) == 4 + 6


def page_of(study: Study, probe: Probe) -> Page:
    return figure_page(study, Sight.of(probe_fit(study, fit_of(study), probe), Seen()))


def test_the_same_figure_gives_the_same_bytes(demo: Study) -> None:
    page = page_of(demo, Probe("practice", "worry"))
    for kind in KINDS:
        first, second = (page_bytes(page, kind, 100) for _ in range(2))
        assert first == second
    assert page_bytes(page, "pdf").startswith(b"%PDF-")


def test_print_figures_stay_on_white(demo: Study) -> None:
    svg = page_bytes(page_of(demo, Probe("practice", "worry")), "svg")
    assert looks.LIGHT.panel.lower() in svg.decode().lower()


def test_checks_are_printed_with_rivals_chosen_questions_and_who_was_set_aside(demo: Study) -> None:
    out = set_printed(set_printed(set_aside(demo, [3, 115], "wrong boots"), Check.SPREAD, False), Check.ORDER, True)
    evaluation = evaluate(out)
    report = build_report(evaluation)
    (section,) = (s for s in report.sections if s.title == "Checks")
    assert [p.title for p in section.pictures] == ["Robustness", "Normality", "Independence"]
    said = " ".join(map(str, section.paragraphs))
    (out_of_it,) = (s for s in report.sections if s.title == "Exclusions")
    aside = out_of_it.tables[0].rows[0]
    assert [cell.text for cell in aside] == [
        "Set aside: wrong boots (row 4 (learner 4) and row 116 (learner 116))",
        "2",
        "",
    ]
    sentence = "The interaction of practice and worry kept its sign in"
    everywhere = " ".join(str(p) for s in report.sections for p in s.paragraphs)
    assert sentence not in said, "it is among the findings"
    assert everywhere.count(sentence) == 1
    without = build_report(evaluate(switch_part(out, PartKind.FINDINGS, False)))
    (section,) = (s for s in without.sections if s.title == "Checks")
    assert sentence in " ".join(map(str, section.paragraphs))
    assert "resampled" not in said
    assert "it changes most without" in said
    (table,) = section.tables
    assert table.head[1:] == ("all cases", "without the 2 set aside")
    assert table.rows[0][1].text == "221"
    part = checks_part(evaluation)
    assert part is not None
    assert part.stand is not None
    assert part.stand.words.replace("The interaction", "The interaction of practice and worry") in everywhere
    drawn = {r.name: r.standing.p for r in part.stand.rivals}
    assert drawn["bootstrap, 5,000 samples"] is not None
    assert [s.n for s in part.before_and_after] == [221, 219]
    assert part.before_and_after[1].product == part.stand.as_it_stands
    assert part.durbin_watson is not None
    assert f"Durbin-Watson statistic is {part.durbin_watson:.2f}" in said


def test_the_report_holds_every_part(demo: Study) -> None:
    study = choose_set(set_reported(demo, demo.model.steps[1].id), ReadySet.EVERYTHING)
    report = build_report(evaluate(study))
    titles = [section.title for section in report.sections]
    assert [t for t in titles if t][:4] == [
        "Findings",
        "Descriptives and correlations",
        "The model, step by step",
        "Coefficients",
    ]
    after = titles[titles.index("Appendix") :]
    assert after[1:4] == ["Exclusions", "Variables and codes", "The coefficients of step 2 in words"]
    assert titles[-4:] == ["Equation of step 2", "Methods", "Sources", "How to repeat it"]
    assert len(demo.probes) == 3
    drawn = report.pictures
    assert [p.title for p in drawn[3:]] == ["Equal variance", "Normality"], "no product in step 2"
    html = html_of(report)
    assert html.count("<svg") == len(drawn) == 5
    assert len(re.findall(r"<b>Table \d+<", html)) == len(report.tables) == 1 + 3 + 1 + 2 + 1 + 3 + 2 + 1
    assert "Figure 5" in html


def test_names_with_markup_are_shown_as_they_are(demo: Study) -> None:
    study = describe(demo, "practice", label="<b>practice</b> & more")
    html = html_of(build_report(evaluate(study)))
    assert "&lt;b&gt;practice&lt;/b&gt; &amp; more" in html
    assert "<b>practice</b>" not in html


def test_a_reason_goes_into_the_report(demo: Study) -> None:
    report = build_report(evaluate(dismiss(demo, FlagKey(FlagKind.LOST), "a lost clipboard")))
    (care,) = (s for s in report.sections if s.title == "Points to note")
    assert any("a lost clipboard" in str(text) for text in care.paragraphs)


def test_a_study_without_a_model_has_a_report_that_says_so(demo: Study) -> None:
    report = build_report(evaluate(take_out(demo, demo.model.terms)))
    assert [str(p) for p in report.sections[-1].paragraphs] == ["No term has been entered yet."]


def test_captions_say_where_everything_stands(demo: Study) -> None:
    evaluation = evaluate(demo)
    caption = probe_caption(EffectReader(evaluation.study, probes_of(evaluation)[0], 0), 0)
    assert caption.startswith("Predicted control score by practice and worry in step 3, with 95% intervals.")
    assert "Coaching groups weighted by their share, other predictors held constant." in caption


def test_what_was_declared_given_computed_and_merged_is_said() -> None:
    x = NumberColumn("x", np.array([1.0, 2.5, np.nan, 4.0, 99.0, 6.0, 7.5, 8.0]), (Stray(2, "about 3"),))
    study = new_study(
        Table((x, number_column("g", [0, 1, 2, 0, 1, 2, 0, 1]), number_column("y", [1.0, 3, 2, 5, 4, 7, 6, 9])))
    )
    study = set_kind(study, "g", Kind.GROUP)
    study = give_value(declare_missing(study, ["x"], "99"), "x", "about 3", 3.0)
    study = name_levels(study, "g", ["low", "high", "high"])
    study = derive(study, "twice", "x * 2")
    study = set_outcome(enter(study, [Term(("twice",)), Term(("g",))]), "y")
    said = next(s for s in build_report(evaluate(study)).sections if s.title == "Sample").paragraphs
    assert tuple(str(p) for p in said) == (
        "Counted as missing: 99 in x.",
        "Cells that were given a value: “about 3” as 3 in x.",
        "Computed: twice = x * 2.",
        "Levels of several codes: high (1 and 2) of g.",
    )
