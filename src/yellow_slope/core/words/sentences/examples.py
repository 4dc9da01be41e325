"""Examples of what may be typed, made of the study that is open: they can be typed as they stand."""

from __future__ import annotations

import numpy as np

from yellow_slope.core.data.conditions import All, AtLeast, Is, Rule
from yellow_slope.core.data.conditiontext import condition_text
from yellow_slope.core.data.derived import Expression
from yellow_slope.core.data.formula import expression_text, find_mistake
from yellow_slope.core.data.scanner import Mistake, typed_name
from yellow_slope.core.data.variable import Kind, Variable
from yellow_slope.core.study.coding import Question
from yellow_slope.core.study.edits.computed import taken_name
from yellow_slope.core.study.questiontext import question_text, read_questions
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.sentences.samples import rule_text
from yellow_slope.core.words.spelling.numerals import place_decimals

LOOKED_AT = 1000
"""Cases by which an example's number is chosen."""


def rule_example(study: Study) -> str:
    """A rule for the cases, as in “practice at least 5 and coaching is none”; empty where nothing can be asked."""
    numbers, groups = _candidates(study)
    rules: list[Rule] = []
    if numbers:
        rules.append(AtLeast(numbers[0].name, _middle(study, numbers[0])))
    if groups:
        rules.append(Is(groups[0].name, groups[0].levels[0].code))
    return rule_text(study, rules[0] if len(rules) == 1 else All(tuple(rules))) if rules else ""


def column_examples(study: Study) -> tuple[str, ...]:
    """Columns that could be computed, as in “often = 1 if practice at least 5 else 0”."""
    numbers, groups = _candidates(study)
    known = {v.name: v for v in study.variables}
    lines: list[tuple[str, str]] = []
    if len(numbers) > 1:
        one, other = (typed_name(v, study.variables) for v in numbers[:2])
        lines.append(("both", f"mean of {one} and {other}"))
    if numbers:
        condition = condition_text(AtLeast(numbers[0].name, _middle(study, numbers[0])), known)
        lines.append(("often", f"1 if {condition} else 0"))
    elif groups:
        lines.append(("chosen", f"1 if {condition_text(Is(groups[0].name, groups[0].levels[0].code), known)} else 0"))
    found = []
    for name, text in lines:
        read: Expression | Mistake = find_mistake(text, study.variables, study.columns.is_numeric)
        if not taken_name(study, name) and not isinstance(read, Mistake):
            found.append(f"{name} = {expression_text(read, known, stored=False)}")
    return tuple(found)


def question_example(variable: Variable) -> str:
    """Planned questions about a group, as in “video feedback, one-to-one against none; group lesson against the
    rest”."""
    codes = [level.code for level in variable.levels]
    if len(codes) < 2:
        return ""
    first = Question("", tuple(codes[-2:]) if len(codes) > 2 else (codes[1],), (codes[0],))
    asked = [first]
    if len(codes) > 2:
        asked.append(Question("", (codes[1],), tuple(code for code in codes if code != codes[1])))
    line = "; ".join(question_text(variable, question) for question in asked)
    return line if read_questions(variable, line) == tuple(asked) else question_text(variable, first)


def _candidates(study: Study) -> tuple[list[Variable], list[Variable]]:
    """Numbers and groups, those of the model first."""
    used = set(study.model.variables)
    ordered = sorted(study.variables, key=lambda v: v.name not in used)
    numbers = [v for v in ordered if v.kind is Kind.NUMBER and v.name != study.model.outcome]
    return numbers, [v for v in ordered if v.kind is Kind.GROUP and v.levels]


def _middle(study: Study, variable: Variable) -> float:
    """A value near the median, in the digits in which it is said."""
    values = study.columns.numbers(variable.name)[:LOOKED_AT]
    values = values[np.isfinite(values)]
    if not values.size:
        return 0.0
    return round(float(np.median(values)), place_decimals(float(values.std())))
