"""What sentences say is what the sheet says: figures, places and tests of whole random studies.

A sentence's figures are those of the sheet with its digits, its place is where they were taken, its test is the one
that it names.
"""

from __future__ import annotations

import math
import re
from itertools import permutations

import numpy as np
import pytest

from tests.support.described import drawn
from yellow_slope.core.fit.design.bases import GroupBasis
from yellow_slope.core.fit.fitted.evaluate import evaluate
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.fit.fitted.inference import ConditionalEffect
from yellow_slope.core.fit.fitted.steps import StepResult
from yellow_slope.core.fit.solve.why import Why
from yellow_slope.core.probe.probed import Probed, TestOf
from yellow_slope.core.probe.probing import probe_fit
from yellow_slope.core.study.probe import Probe
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Term
from yellow_slope.core.words.sentences.coefficients import Reader
from yellow_slope.core.words.sentences.effects import EffectReader
from yellow_slope.core.words.spelling.numerals import estimate_decimals, fixed

SEEDS = range(60)
NUMBER = r"−?[\d,]+(?:\.\d+)?"
TWO_VALUES = re.compile(rf"(?:is|:) ({NUMBER}) [^:]*?(?:, | and )({NUMBER})(?= |$)[^:]*: ({NUMBER})[^(:]* (more|less)")


def value(text: str) -> float:
    return float(text.replace(",", "").replace("−", "-"))


def decimals(text: str) -> int:
    return len(text.partition(".")[2])


@pytest.fixture(params=SEEDS)
def studied(request: pytest.FixtureRequest) -> tuple[Study, Fit, str]:
    """A drawn study with its fit, and what was drawn."""
    made = drawn(request.param)
    evaluation = evaluate(made.study)
    if evaluation.fit is None:
        pytest.skip(f"there is no fit: {evaluation.problem}")
    return evaluation.study, evaluation.fit, made.said


def has_figure(text: str, number: float, d: int) -> bool:
    """Whether the number stands there with so many decimals, whatever its sign, for that may be said in words."""
    return re.search(rf"(?<![\d.,]){re.escape(fixed(abs(number), d))}(?![\d])(?!\.\d)", text) is not None


def says_bounds(text: str, low: float, high: float, d: int) -> bool:
    return f" CI {fixed(low, d)} to {fixed(high, d)})" in text


def test_a_coefficients_sentence_says_the_sheets_figures(studied: tuple[Study, Fit, str]) -> None:
    study, fit, said = studied
    read, alpha = Reader(study, fit, study.model), 1 - study.model.level
    for step in fit.steps:
        for j in range(step.n_columns):
            c, term = step.coefficient(j), fit.design.columns[j].term
            text = read.coefficient(step.index, j)
            where = (said, step.index, j, text)
            if math.isnan(c.b):
                assert " CI " not in text, where
                assert "significant" not in text, where
                continue
            missing = read.missing_parts(step.index, term)
            times = 1.0 if missing else math.prod(math.factorial(term.variables.count(n)) for n in set(term.variables))
            b, low, high, se = (times * v for v in (c.b, c.low, c.high, c.se))
            d = estimate_decimals(se, b, low, high)
            assert has_figure(text, b, d), where
            assert says_bounds(text, low, high, d) == (low == low), where
            assert ("Not significant" in text) == (c.why is None and c.p >= alpha), where
            if "Not significant" in text:
                assert f"values from {fixed(low, d)} to {fixed(high, d)} remain plausible" in text, where
            two = TWO_VALUES.search(text)
            if two is not None and not missing:
                one, other, size = (value(two.group(i)) for i in (1, 2, 3))
                change = size if two.group(4) == "more" else -size
                rounding = 10.0 ** -min(decimals(two.group(i)) for i in (1, 2, 3))
                assert abs(other - one - change) <= 1.6 * rounding + 1e-9 * abs(one), where
                assert change * b >= 0, where


def test_a_sets_sentence_says_its_own_test(studied: tuple[Study, Fit, str]) -> None:
    study, fit, said = studied
    read, alpha = Reader(study, fit, study.model), 1 - study.model.level
    for step in fit.steps:
        for term, test in step.joint.items():
            text = read.joint(step.index, term)
            where = (said, step.index, str(term), text)
            if not test.has_f:
                assert ("cannot be tested" in text) == (not test.exists), where
                assert "F(" not in text, where
            else:
                assert f"F({test.df1}, {test.df2}) = {fixed(test.f, 2)}, p" in text, where
            if test.exists:
                assert ("not differ significantly" in text) == (test.p >= alpha), where
            if not test.has_f:
                continue
            own = wald(step, fit.design.columns_of(term))
            assert own is None or test.f == pytest.approx(own, rel=1e-5, abs=1e-9), where


def wald(step: StepResult, columns: tuple[int, ...]) -> float | None:
    """F of these coefficients by their covariance; None where columns depend on each other, or nearly."""
    chosen = [j + 1 for j in columns]
    covariance = step.covariance[np.ix_(chosen, chosen)]
    b = step.b[chosen]
    if np.isnan(step.b[1:]).any() or np.isnan(covariance).any():
        return None
    size = np.sqrt(np.diag(covariance))
    unit = covariance / np.outer(size, size)
    if np.linalg.cond(unit) > 1e7:
        return None
    return float((b / size) @ np.linalg.solve(unit, b / size)) / len(chosen)


def test_a_probes_sentences_say_its_figures_where_they_were_taken(studied: tuple[Study, Fit, str]) -> None:
    study, fit, said = studied
    pairs = [pair for t in study.model.terms for pair in permutations(dict.fromkeys(t.variables), 2)]
    for focal, moderator in dict.fromkeys(pairs):
        bases = [fit.design.bases[name] for name in (focal, moderator)]
        if any(isinstance(basis, GroupBasis) and len(basis.levels) < 2 for basis in bases):
            continue  # all cases are in one group: there is nothing to probe
        probed = probe_fit(study, fit, Probe(focal, moderator))
        read = EffectReader(study, probed, 0)
        for k, focus in enumerate(read.shown.foci):
            for place, effect in zip(probed.places, focus.effects):
                text = read.effect(k, effect, place)
                where = (said, focal, moderator, k, str(place), text)
                assert read.where(place).casefold() in text.casefold(), where
                check_effect(text, effect, study.model.level, where)
            for difference in focus.differences:
                text = read.difference(k, difference)
                where = (said, focal, moderator, k, f"{difference.of} minus {difference.minus}", text)
                check_effect(text, difference.effect, study.model.level, where)
                assert difference.minus is not None
                for i in (difference.of, difference.minus):
                    place, effect = probed.places[i], focus.effects[i]
                    assert read.where(place).casefold() in text.casefold(), where
                    if effect.exists and difference.effect.exists and effect.why is difference.effect.why is None:
                        d = estimate_decimals(effect.se, effect.effect, effect.low, effect.high)
                        here = f"{fixed(effect.effect, d)} {read.where(place)}"
                        assert here in text or not all(
                            focus.effects[m].exists for m in (difference.of, difference.minus)
                        )
            check_tests(read, probed, fit, k, (said, focal, moderator, k))


def check_effect(text: str, effect: ConditionalEffect, level: float, where: object) -> None:
    if not effect.exists:
        assert " CI " not in text, where
        return
    if effect.why is Why.FIXED:
        assert "fixed by the model" in text, where
        assert " CI " not in text, where
        return
    d = estimate_decimals(effect.se, effect.effect, effect.low, effect.high)
    assert has_figure(text, effect.effect, d), where
    assert says_bounds(text, effect.low, effect.high, d) == (effect.low == effect.low), where
    assert ("Not significant" in text) == (effect.why is None and effect.p >= 1 - level), where


def check_tests(read: EffectReader, probed: Probed, fit: Fit, focus: int, where: object) -> None:
    """Each test by its name: of one product, or of all columns with both, it is that by their covariance."""
    step = fit.steps[probed.step]
    entered = [t for block in probed.model.steps[: probed.step + 1] for t in block.terms]
    for tested in probed.tests(0, focus):
        text = read.test_text(tested, focus)
        if tested.test.has_f:
            figures = f"F({tested.test.df1}, {tested.test.df2}) = {fixed(tested.test.f, 2)}"
            assert text.startswith(f"{read.test_name(tested, focus)}: {figures}"), (where, text)
        terms: list[Term] = []
        if tested.of is TestOf.PRODUCT and tested.term is not None:
            terms = [tested.term]
        elif tested.of is TestOf.COLUMNS:
            terms = [t for t in entered if {probed.probe.focal, probed.probe.moderator} <= set(t.variables)]
        columns = tuple(j for t in terms for j in fit.design.columns_of(t))
        own = wald(step, columns) if columns else None
        if own is not None and tested.test.has_f:
            assert tested.test.f == pytest.approx(own, rel=1e-5, abs=1e-9), (where, text)
