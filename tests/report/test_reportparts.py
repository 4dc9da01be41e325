"""The parts of the report: each says what is its own, and nothing where there is nothing to say."""

from __future__ import annotations

import itertools
from itertools import pairwise

import numpy as np
import pytest

from tests.support.worlds import study_of
from yellow_slope.core.fit.fitted.evaluate import evaluate
from yellow_slope.core.stand.rivals import PutBack
from yellow_slope.core.study.coding import Effect
from yellow_slope.core.study.edits.blocks import take_out
from yellow_slope.core.study.edits.dismissals import dismiss
from yellow_slope.core.study.edits.entries import set_coding, treat
from yellow_slope.core.study.edits.levels import name_level
from yellow_slope.core.study.edits.models import set_errors
from yellow_slope.core.study.edits.report import choose_set, comment_part, move_part, switch_part
from yellow_slope.core.study.edits.samples import set_aside
from yellow_slope.core.study.flagkeys import FlagKey, FlagKind
from yellow_slope.core.study.report import PAPER_PARTS, PartKind, ReadySet, ReportChoice, ReportPart
from yellow_slope.core.study.standarderrors import Bootstrap
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Term
from yellow_slope.core.study.treatment import Treatment
from yellow_slope.core.told.origins import AtProbe, AtStep, AtVariable
from yellow_slope.core.words.spelling.numerals import fixed
from yellow_slope.report.checks import asked_of
from yellow_slope.report.document import Section
from yellow_slope.report.parts import build_report, sections_of
from yellow_slope.values import replace


def of(study: Study, kind: PartKind) -> list[Section]:
    return [section for section in build_report(evaluate(study)).sections if section.kind is kind]


def test_exclusions_name_reason_case_and_cost(demo: Study) -> None:
    (section,) = of(set_aside(demo, [3], "wrong boots"), PartKind.EXCLUSIONS)
    (table,) = section.tables
    told = {row[0].text: (row[1].numbers, row[2].numbers) for row in table.rows}
    assert told["Set aside: wrong boots (row 4 (learner 4))"] == ((1,), ())
    assert told["Missing: coaching"] == ((5,), (5,))
    assert told["Missing: returner"] == ((4,), (3,)), "one lacks another value too"
    assert "19 cases had missing values" in table.note
    rng = np.random.default_rng(1)
    whole = study_of({"x": rng.normal(size=30), "y": rng.normal(size=30)}, "y", "x")
    assert of(whole, PartKind.EXCLUSIONS) == []


def test_codes_stand_with_their_reference_and_those_no_case_has_are_said(demo: Study) -> None:
    (section,) = of(demo, PartKind.CODES)
    variables, *codes = section.tables
    assert [row[0].text for row in variables.rows][:2] == ["control score", "age"]
    assert variables.rows[1][2].text == "centered; 0 at average age (34.2)"
    coaching = next(t for t in codes if t.title == "The codes of coaching")
    assert any("reference" in row[0].text for row in coaching.rows)
    for row in coaching.rows:
        assert sum(cell.numbers[0] for cell in row[2:]) == (0 if "reference" in row[0].text else 1)
    effect = next(
        t for t in of(set_coding(demo, "coaching", Effect()), PartKind.CODES)[0].tables if "coaching" in t.title
    )
    assert sorted(sum(cell.numbers[0] for cell in row[2:]) for row in effect.rows) == [-3, 1, 1, 1]
    named = name_level(demo, "coaching", "3", "a talk with oneself")
    assert any("a talk with oneself" in row[0].text for t in of(named, PartKind.CODES)[0].tables for row in t.rows)


def test_flags_that_stand_and_those_put_aside_are_told(demo: Study) -> None:
    assert of(demo, PartKind.FLAGS) == [], "who is excluded is said with the sample"
    raw = treat(demo, ["practice", "worry"], Treatment())
    (section,) = of(raw, PartKind.FLAGS)
    assert any("never near 0" in str(text) for text in section.paragraphs)
    (section,) = of(dismiss(demo, FlagKey(FlagKind.LOST), "a lost clipboard"), PartKind.FLAGS)
    assert [str(p) for p in section.paragraphs] == [
        "Dismissed (19 cases excluded for missing values): a lost clipboard"
    ]


def test_regions_and_crossings_have_parts_of_their_own(demo: Study) -> None:
    regions = of(demo, PartKind.REGIONS)
    assert [s.title.split(", ")[1] for s in regions] == ["Practice by worry", "Returner by balance"]
    (crossing,) = of(demo, PartKind.CROSSOVER)
    (table,) = crossing.tables
    row = next(row for row in table.rows if row[0].text == "Practice by worry")
    assert row[2].text == "in the data"
    assert row[4].numbers[0] < row[3].numbers[0] < row[4].numbers[1]
    plain = take_out(demo, [t for t in demo.model.terms if t.is_product])
    assert of(plain, PartKind.REGIONS) == []
    assert of(plain, PartKind.CROSSOVER) == []


def test_coefficients_in_words_are_an_appendix_with_the_effects(demo: Study) -> None:
    assert of(demo, PartKind.WORDS) == []
    first, effects = of(switch_part(demo, PartKind.WORDS, True), PartKind.WORDS)
    assert first.title == "The coefficients of step 3 in words"
    assert effects.title == "Conditional effects in words"
    assert len(effects.paragraphs) == 3 + 3 + 4


def test_words_of_ones_own_hold_live_figures(demo: Study) -> None:
    study = comment_part(demo, PartKind.STEPS, "Of {n} *learners*:", "That was {b practice x worry}.")
    (section,) = of(study, PartKind.STEPS)
    assert str(section.paragraphs[0]) == "Of 221 learners:"
    assert [run.italic for run in section.paragraphs[0].text.runs] == [False, True, False]
    assert [str(p) for p in section.after] == ["That was −1.43."]


def test_rows_say_where_their_figures_are_made(demo: Study) -> None:
    (coefficients,) = of(demo, PartKind.COEFFICIENTS)[0].tables
    origins = [coefficients.origin(i) for i in range(len(coefficients.rows))]
    steps = [o.step for o in origins if isinstance(o, AtStep)]
    assert len(steps) == len(coefficients.rows)
    assert sorted(steps) == steps
    assert isinstance(of(demo, PartKind.VARIABLES)[0].tables[0].origin(0), AtVariable)
    probes = of(demo, PartKind.PROBES)
    assert [s.tables[0].origin(0) for s in probes] == [AtProbe(p) for p in demo.probes]


def test_parts_that_nobody_placed_stand_behind_the_one_they_follow() -> None:
    some = ReportChoice((ReportPart(PartKind.METHODS), ReportPart(PartKind.SAMPLE), ReportPart(PartKind.STEPS)))
    kinds = [part.kind for part in some.whole().parts]
    assert set(kinds) == set(PartKind)
    assert kinds.index(PartKind.COEFFICIENTS) == kinds.index(PartKind.STEPS) + 1
    assert kinds.index(PartKind.FINDINGS) == 0
    assert [k for k in kinds if k in (PartKind.METHODS, PartKind.SAMPLE, PartKind.STEPS)] == [
        PartKind.METHODS,
        PartKind.SAMPLE,
        PartKind.STEPS,
    ]
    assert not some.whole().part(PartKind.WORDS).on


@pytest.mark.parametrize("ready", list(ReadySet))
def test_the_first_section_needs_nothing_of_the_later_ones(demo: Study, ready: ReadySet) -> None:
    sections = sections_of(evaluate(choose_set(demo, ready)))
    assert next(sections).title == ("Sample" if ready is ReadySet.APPENDIX else "Findings")
    kinds = [section.kind for section in sections]
    order = [k for k, nxt in pairwise([*kinds, None]) if k is not nxt]
    assert len(order) == len(set(order)), "the sections of a part stand together"


def test_all_variables_that_cost_cases_are_named_once() -> None:
    """In the table of exclusions; where it is not printed, with the sample."""
    rng = np.random.default_rng(13)
    data = {name: rng.normal(size=80) for name in (*(f"v{k}" for k in range(10)), "y")}
    for k in range(9):
        data[f"v{k}"][k] = np.nan
    study = study_of(data, "y", ", ".join(f"v{k}" for k in range(10)))

    def sample(of: Study) -> str:
        return str(next(sections_of(evaluate(of))).paragraphs[0].text)

    assert "(v0 1, v1 1, v2 1, and 6 other variables)" in sample(study)
    assert "v7 1, v8 1)" in sample(switch_part(study, PartKind.EXCLUSIONS, False))


def test_a_paper_has_the_order_of_a_results_section_and_everything_else_is_appendix(demo: Study) -> None:
    kinds = [k for k, _ in itertools.groupby(s.kind for s in build_report(evaluate(demo)).sections)]
    appendix = kinds.index(None)
    assert tuple(kinds[:appendix]) == PAPER_PARTS[: len(kinds[:appendix])]
    assert not set(kinds[appendix + 1 :]) & {None, *PAPER_PARTS}
    assert kinds[appendix + 1] is PartKind.SAMPLE or kinds[appendix + 1] is PartKind.EXCLUSIONS
    mixed = move_part(move_part(demo, PartKind.PROBES, 6), PartKind.FINDINGS, 5)
    printed = [s.kind for s in build_report(evaluate(mixed)).sections]
    assert None not in printed, "where the parts of a paper stand among others there is no appendix"
    paper = choose_set(mixed, ReadySet.PAPER)
    printed = [s.kind for s in build_report(evaluate(paper)).sections if s.kind]
    assert list(dict.fromkeys(printed)) == [k for k in PAPER_PARTS if k in printed]
    assert paper.report.ready is ReadySet.PAPER


def test_what_setting_cases_aside_changed_is_one_sentence_of_the_findings(demo: Study) -> None:
    rows = [int(r) for r in np.flatnonzero(demo.columns.present("worry"))[:2]]
    aside = set_aside(demo, rows, "wrong boots")
    told = [str(p) for s in of(aside, PartKind.FINDINGS) for p in s.paragraphs if "excluded by hand included" in str(p)]
    assert len(told) == 1
    back, now = evaluate(demo).fit, evaluate(aside).fit
    assert back is not None
    assert now is not None
    column = next(j for j in back.design.columns_of(Term(("practice", "worry"))))
    c = back.steps[-1].coefficient(column)
    assert told[0].startswith("With the 2 cases excluded by hand included, the interaction of practice and worry was")
    assert f"b = {fixed(c.b, 2)}" in told[0]
    assert f"n = {back.cases.n}" in told[0]
    assert not [p for s in of(demo, PartKind.FINDINGS) for p in s.paragraphs if "by hand" in str(p)]
    plain = aside.with_model(replace(aside.model, blocks=aside.model.blocks[:1], reported=None))
    (said,) = [str(p) for s in of(plain, PartKind.FINDINGS) for p in s.paragraphs if "hand included" in str(p)]
    assert "of the variance" in said


def test_what_was_set_aside_is_told_by_the_inference_that_it_has(demo: Study) -> None:
    """A product of a model that is resampled is put back by formula, and says so."""
    aside = set_aside(demo, [3, 9], "wrong boots")
    drawn = set_errors(aside, Bootstrap(draws=1000))
    told = [str(p) for s in of(drawn, PartKind.FINDINGS) for p in s.paragraphs if "excluded by hand included" in str(p)]
    evaluation = evaluate(drawn)
    assert evaluation.fit is not None
    stand = asked_of(drawn, evaluation.fit, drawn.model.reported_step).stand  # type: ignore[union-attr]
    assert stand is not None
    row = next(row for row in stand.rows if isinstance(row.rival, PutBack))
    assert ("with standard errors by formula" in " ".join(told)) is row.by_formula
