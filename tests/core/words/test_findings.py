"""The findings paragraph: the right claim for every kind of result, and none where there is none."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest

from tests.support.worlds import study_of
from yellow_slope.core.fit.fitted.evaluate import evaluate
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.study.checks import Check
from yellow_slope.core.study.edits.entries import treat
from yellow_slope.core.study.edits.models import set_errors, set_reported
from yellow_slope.core.study.edits.probes import put_probe
from yellow_slope.core.study.probe import Probe, Second
from yellow_slope.core.study.standarderrors import HC
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.treatment import CENTERED
from yellow_slope.core.words.sentences.coefficients import Reader
from yellow_slope.core.words.sentences.findings import findings
from yellow_slope.core.words.sentences.methods import how_to_repeat, methods_used, steps_methods
from yellow_slope.core.words.sentences.works import Work, references
from yellow_slope.core.words.spelling.rich import emphasized, rich, runs_of, sym
from yellow_slope.report.parts import probes_of
from yellow_slope.values import replace


def world(product: float, noise: float = 1.0, n: int = 200) -> Study:
    """y on x, w, a group and x by w, with a product of that size."""
    rng = np.random.default_rng(11)
    x, w = rng.normal(5, 1, n), rng.normal(2, 1, n)
    g = [("low", "high")[i] for i in rng.integers(0, 2, n)]
    y = 3 + x + 0.5 * w + product * (x - 5) * (w - 2) + noise * rng.normal(size=n)
    return study_of({"x": x, "w": w, "g": g, "y": y}, "y", "x, w, g; x*w")


def said(study: Study) -> list[str]:
    evaluation = evaluate(study)
    fit = evaluation.fit
    assert isinstance(fit, Fit)
    return [str(f.text) for f in findings(evaluation, fit, list(probes_of(evaluation)))]


def test_a_significant_product_of_numbers_has_its_slopes_and_its_region() -> None:
    study = treat(world(0.6), ["x", "w"], CENTERED)
    first, blocks, told = said(study)
    assert "200 cases" in first
    assert "x and w were mean-centered. The reference group was “high” for g." in first
    assert blocks.startswith("In the first block, x, w and g explained ")
    assert " of the variance in y, R² = ." in blocks
    assert "Adding x × w explained another " in blocks
    assert "%, ΔR² = ." in blocks
    assert "The final model explained " in blocks
    assert told.startswith("The slope of x depended on w, b = 0.")
    assert "95% CI [" in told
    assert " when w was low (" in told
    assert ", 1 SD below the mean), " in told
    assert "It was significantly positive for w above " in told


def test_a_product_that_is_not_significant_tells_no_slopes_as_news() -> None:
    told = said(world(0.0))[2]
    assert told.startswith("The slope of x did not depend significantly on w, b = ")
    assert "The slope was" not in told
    assert "significantly positive" not in told
    assert "significantly negative" not in told
    assert "crossed" not in told
    assert "no effect" not in told


def test_a_perfect_fit_has_no_test() -> None:
    study = world(0.6, noise=0.0)
    paragraphs = said(study)
    assert "could not be tested: " in paragraphs[2]
    assert "p = " not in paragraphs[2]
    assert "nan" not in " ".join(paragraphs).lower()


def test_groups_are_told_level_by_level() -> None:
    rng = np.random.default_rng(2)
    x, g = rng.normal(0, 1, 240), ["abc"[i] for i in rng.integers(0, 3, 240)]
    y = x * np.array([{"a": 0.0, "b": 1.0, "c": 3.0}[v] for v in g]) + rng.normal(size=240)
    study = put_probe(study_of({"x": x, "g": g, "y": y}, "y", "x, g; x*g"), Probe("x", "g"))
    told = said(study)[2]
    assert told.startswith("The slope of x depended on g, F(2, 234) = ")
    assert " in “a”, " in told
    assert " and 3." in told or " and 2." in told
    other = said(put_probe(study_of({"x": x, "g": g, "y": y}, "y", "x, g; x*g"), Probe("g", "x")))[2]
    assert other.startswith("The differences in y between the groups of g depended on x, F(2, 234) = ")
    assert "The difference c minus a was " in other


def test_three_factors_are_told_panel_by_panel() -> None:
    rng = np.random.default_rng(4)
    n = 400
    x, w = rng.normal(size=n), rng.normal(size=n)
    g = ["ab"[i] for i in rng.integers(0, 2, n)]
    y = x * w * np.array([2.0 if v == "b" else 0.0 for v in g]) + rng.normal(size=n)
    study = study_of({"x": x, "w": w, "g": g, "y": y}, "y", "x, w, g, x*w, x*g, w*g; x*w*g")
    told = said(put_probe(study, Probe("x", "w", second=Second("g"))))[2]
    assert "was significant" in told
    assert "In the group “a” (g), the slope of x was " in told
    assert "In the group “b” (g), it was significantly negative for w below " in told


def test_robust_errors_and_the_reported_step_are_those_that_are_told() -> None:
    study = world(0.6)
    robust = said(set_errors(study, HC(3)))
    assert "HC3" in robust[1]
    assert robust[2] != said(study)[2]
    first = said(set_reported(study, study.model.steps[0].id))
    assert "step 2" not in first[1]


def test_nothing_is_told_where_nothing_is_estimable() -> None:
    rng = np.random.default_rng(8)
    x = rng.normal(size=60)
    study = study_of({"x": x, "w": 2 * x + 1, "y": x + rng.normal(size=60)}, "y", "x, w; x*w")
    text = " ".join(said(study))
    assert "nan" not in text.lower()
    assert "inf" not in text.lower().replace("infl", "")


def test_methods_are_those_that_were_used_and_an_analysis_can_be_repeated(demo: Study) -> None:
    evaluation = evaluate(demo)
    fit = evaluation.fit
    assert isinstance(fit, Fit)
    used = methods_used(demo, fit, probes_of(evaluation))
    assert any("Johnson & Neyman, 1936" in one.text for one in used)
    assert not any("robust" in one.text for one in used)
    robust = evaluate(set_errors(demo, HC(3)))
    assert isinstance(robust.fit, Fit)
    assert any("HC3 (MacKinnon & White, 1985)" in one.text for one in methods_used(robust.study, robust.fit, ()))
    told = how_to_repeat(replace(demo, source=replace(demo.source, checksum="abc")), "y = x", "1.0")
    assert told[0] == "Yellow Slope 1.0."
    assert "SHA-256 of the table file: abc." in told
    assert any("as a quick line: y = x" in text for text in told)


def test_every_work_that_is_named_is_in_the_list_and_in_the_documents(demo: Study) -> None:
    evaluation = evaluate(demo)
    fit = evaluation.fit
    assert isinstance(fit, Fit)
    documents = Path(__file__).parents[3].joinpath("docs", "methods.md").read_text(encoding="utf-8")
    listed = documents[documents.index("## Sources") :]
    for work in Work:
        whole = work.reference
        assert f"- {whole}" in listed
        assert f" ({work.year}). " in whole
        assert whole.startswith(f"{work.authors.split(',')[0].split(' &')[0]}, "), "it begins with the first author"
        assert whole.endswith(".")
        assert [f"{work}", f"{work:owner}", f"{work:named}"] == [
            f"{work.authors}, {work.year}",
            f"{work.authors}'s ({work.year})",
            f"{work.authors} ({work.year})",
        ]
    told = references(methods_used(demo, fit, probes_of(evaluation), [Check.PULL]))
    assert [text.split(",")[0] for text in told] == ["Cook", "Fieller", "Holm", "Johnson"]
    assert told[2].startswith(
        "Holm, S. (1979). A simple sequentially rejective multiple test procedure. *Scandinavian "
    )
    assert told[2].endswith("*, *6*, 65–70.")


def test_what_is_given_beside_b_is_told_where_it_is(demo: Study) -> None:
    fit = evaluate(demo).fit
    assert isinstance(fit, Fit)
    assert len(steps_methods(Reader(demo, fit, demo.model))) == 3
    plain = study_of({"x": [1.0, 2.0, 3.0, 4.0], "y": [1.0, 2.0, 4.0, 3.0]}, "y", "x")
    robust = evaluate(set_errors(plain, HC(3)))
    assert isinstance(robust.fit, Fit)
    assert [one.text[:8] for one in steps_methods(Reader(robust.study, robust.fit, robust.study.model))] == ["The effe"]


def test_emphasis_is_typed_with_stars() -> None:
    (one,) = emphasized("a *b* **c** d")
    assert [(r.text, r.italic, r.bold) for r in one.runs] == [
        ("a ", False, False),
        ("b", True, False),
        (" ", False, False),
        ("c", False, True),
        (" d", False, False),
    ]
    assert str(one) == "a b c d"
    assert emphasized("  \n\n ") == []
    assert runs_of("x")[0].text == "x"
    assert rich("a", "b", sym("p")).runs[0].text == "ab"


@pytest.mark.parametrize("product", [0.0, 0.3, 0.6])
def test_every_paragraph_begins_with_a_capital_and_ends_with_a_full_stop(product: float) -> None:
    for paragraph in said(world(product)):
        is_letter = paragraph[1] == " "  # a name of one letter stays as it is typed
        assert paragraph[0].isupper() or paragraph[0].isdigit() or is_letter
        assert paragraph.rstrip().endswith("."), paragraph
        assert "  " not in paragraph.strip(), paragraph


def test_what_is_not_listed_is_said_to_be_in_the_table() -> None:
    rng = np.random.default_rng(21)
    n = 900
    x, g = rng.normal(size=n), np.arange(n) % 9
    y = x * g + rng.normal(size=n)
    study = study_of({"x": x, "g": [f"g{i}" for i in g], "y": y}, "y", "x, g; x*g")
    by_group = said(put_probe(study, Probe("g", "x")))[2]
    assert by_group.count("The difference ") == 6
    assert "The table lists all 8 differences." in by_group
    slopes = said(put_probe(study, Probe("x", "g")))[2]
    assert "The table lists it at all 9 places." in slopes
    w = rng.normal(size=n)
    panels = study_of(
        {"x": x, "w": w, "g": [f"g{i}" for i in g], "y": y + x * w * g}, "y", "x, w, g, x*w, x*g, w*g; x*w*g"
    )
    told = said(put_probe(panels, Probe("x", "w", second=Second("g"))))[2]
    assert told.count("In the group ") == 6
    assert "The table lists the effects in all 9 panels." in told


def test_others_held_constant_are_said_with_the_first_effects() -> None:
    """Also where the paragraph before tells of no effect, for its product is not significant."""
    rng = np.random.default_rng(5)
    x, w, z = (rng.normal(size=200) for _ in range(3))
    study = study_of({"x": x, "w": w, "z": z, "y": x * w + rng.normal(size=200)}, "y", "x, w, z; x*w, w*z")
    first, second = said(put_probe(put_probe(study, Probe("x", "w")), Probe("z", "w")))[2:4]
    assert "did not depend significantly" in first
    assert "held constant" not in first
    assert "held constant" in second


def test_variables_that_are_not_named_are_not_said_to_cost_less() -> None:
    data = {f"v{k}": np.random.default_rng(k).normal(size=60) for k in range(10)}
    for k in range(10):
        data[f"v{k}"][k] = np.nan
    study = study_of({**data, "y": np.random.default_rng(99).normal(size=60)}, "y", ", ".join(data))
    assert "10 had missing values (v0 1, v1 1, v2 1, and 7 other variables)" in said(study)[0]
