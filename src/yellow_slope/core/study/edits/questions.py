"""Edits of what a group's comparisons ask: planned questions, built level by level, and names of comparisons."""

from __future__ import annotations

from collections.abc import Iterable

from yellow_slope.core.errors import StudyError
from yellow_slope.core.study.coding import Coding, LevelMeans, Planned, Question
from yellow_slope.core.study.edits.entries import set_coding
from yellow_slope.core.study.edits.models import set_constant
from yellow_slope.core.study.model import means_of
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.whole import edit
from yellow_slope.values import replace

OUT, ONE, OTHER = 0, 1, -1
"""Where a level stands in a question."""


def questions_of(study: Study, name: str) -> tuple[Question, ...]:
    """The planned questions of a group; none under another coding."""
    coding = study.model.coding(name)
    return coding.questions if isinstance(coding, Planned) else ()


@edit
def ask(study: Study, name: str, questions: Iterable[Question]) -> Study:
    """Let the comparisons of a group be these questions."""
    wanted = tuple(questions)
    if isinstance(study.model.coding(name), Planned) and wanted == questions_of(study, name):
        return study
    return set_coding(study, name, Planned(wanted))


@edit
def ask_more(study: Study, name: str, questions: Iterable[Question]) -> Study:
    """Ask further questions; empty ones make room for them."""
    return ask(study, name, [*(q for q in questions_of(study, name) if not q.is_empty), *questions])


@edit
def drop_question(study: Study, name: str, place: int) -> Study:
    """Ask a question no longer."""
    return ask(study, name, [q for i, q in enumerate(questions_of(study, name)) if i != place])


@edit
def change_sides(study: Study, name: str, place: int) -> Study:
    """Let plus and minus of a question change places."""
    return _changed(
        study,
        name,
        place,
        lambda q: replace(q, one=q.other, other=q.one, weights=tuple((code, -weight) for code, weight in q.weights)),
    )


@edit
def stand(study: Study, name: str, place: int, code: str, side: int) -> Study:
    """Put a level of a question on the one side, on the other, or out of it."""
    study.variable(name).level(code)

    def moved(q: Question) -> Question:
        one = [c for c in q.one if c != code] + ([code] if side == ONE else [])
        other = [c for c in q.other if c != code] + ([code] if side == OTHER else [])
        order = [level.code for level in study.variable(name).levels]
        return replace(
            q, one=tuple(sorted(one, key=order.index)), other=tuple(sorted(other, key=order.index)), weights=()
        )

    return _changed(study, name, place, moved)


def side_of(question: Question, code: str) -> int:
    """Where a level stands in a question."""
    for own, weight in question.weights:
        if own == code and weight:
            return ONE if weight > 0 else OTHER
    return ONE if code in question.one else OTHER if code in question.other else OUT


@edit
def name_question(study: Study, name: str, place: int, text: str) -> Study:
    """Give a question a name of its own; an empty one lets it follow the level names."""
    return _changed(study, name, place, lambda q: replace(q, name=text.strip()))


@edit
def name_comparison(study: Study, name: str, key: str, text: str) -> Study:
    """Give a comparison of any coding a name of its own; an empty one lets it follow the level names."""
    coding = study.model.coding(name)
    if isinstance(coding, Planned):
        return name_question(study, name, int(key), text)
    others = tuple((k, n) for k, n in coding.names if k != key)
    names = (*others, (key, text.strip())) if text.strip() else others
    return study if names == coding.names else set_coding(study, name, replace(coding, names=names))


@edit
def choose_coding(study: Study, name: str, coding: Coding) -> Study:
    """Choose what the comparisons ask; level means take the constant out, comparisons put it back where it went for
    them."""
    before = study.model.coding(name)
    if isinstance(coding, LevelMeans) and study.model.constant:
        return set_coding(set_constant(study, False), name, coding)
    new = set_coding(study, name, coding)
    if isinstance(before, LevelMeans) and not isinstance(coding, LevelMeans):
        return new if means_of(new.model) else set_constant(new, True)
    return new


def _changed(study: Study, name: str, place: int, change) -> Study:  # type: ignore[no-untyped-def]
    questions = list(questions_of(study, name))
    if not 0 <= place < len(questions):
        raise StudyError(f"{study.variable(name).label} has no question {place + 1}.")
    questions[place] = change(questions[place])
    return ask(study, name, questions)
