"""A question is asked anew exactly when something is another that its answer rests on."""

from __future__ import annotations

from dataclasses import dataclass

import pytest
from PyQt6.QtWidgets import QApplication

from yellow_slope.app.state.asking import Asked, Question, is_same
from yellow_slope.app.state.lanes import Lane
from yellow_slope.app.state.worker import Job, Worker
from yellow_slope.core.errors import StudyError
from yellow_slope.core.fit.fitted.evaluate import evaluate
from yellow_slope.core.study.checks import Checks, Cutoffs
from yellow_slope.core.study.edits.descriptions import change_variable
from yellow_slope.core.study.edits.models import rename_study, set_level
from yellow_slope.core.study.study import Study
from yellow_slope.demo.learners import STUDY
from yellow_slope.files.opening import open_anything
from yellow_slope.values import replace


@dataclass(frozen=True, slots=True)
class Doubled(Question[int]):
    lane = Lane.CARD
    number: int

    def answer(self, job: Job) -> int:
        if self.number < 0:
            raise StudyError("There is none.")
        return 2 * self.number


@dataclass(frozen=True, slots=True)
class Rows(Question[int]):
    lane = Lane.CARD
    study: Study

    def answer(self, job: Job) -> int:
        return self.study.table.n_rows


@pytest.fixture
def worker(qapp: QApplication) -> Worker:
    return Worker()


def wait(asked: Asked[int]) -> None:
    while asked.is_pending:
        QApplication.processEvents()


def test_the_same_question_is_asked_once_and_a_new_one_takes_its_place(worker: Worker) -> None:
    arrived: list[int] = []
    asked: Asked[int] = Asked(worker, arrived.append, lambda _: None)
    assert asked.ask(Doubled(2))
    assert not asked.ask(Doubled(2))
    assert asked.is_pending
    assert asked.now is None
    assert asked.ask(Doubled(3))
    wait(asked)
    assert (arrived, asked.now) == ([6], 6)
    assert asked.ask(Doubled(4))
    assert (asked.now, asked.answer) == (None, 6), "what was known stays until there is something newer"
    asked.give_up()
    assert asked.ask(Doubled(4)), "nobody waited for it"
    assert asked.ask(None)
    assert asked.answer is None
    worker.end()


def test_why_there_is_no_answer_is_said_once(worker: Worker) -> None:
    said: list[str] = []
    asked: Asked[int] = Asked(worker, lambda _: None, said.append)
    asked.ask(Doubled(-1))
    wait(asked)
    assert said == ["There is none."]
    assert not asked.ask(Doubled(-1))
    worker.end()


def test_studies_are_the_same_by_what_they_say() -> None:
    study = open_anything(STUDY)
    there_and_back = set_level(set_level(study, 0.9), study.model.level)
    assert is_same(Rows(study), Rows(there_and_back))
    assert not is_same(Rows(study), Rows(set_level(study, 0.9)))
    assert not is_same(Rows(study), Rows(rename_study(study, "another")))
    assert not is_same(Rows(study), Doubled(1))


def test_what_fits_rest_on_is_told_from_what_they_do_not() -> None:
    """Names of the study, probes, figures and what was put aside change no fit, and no word or picture of one."""
    study = open_anything(STUDY)
    evaluation = evaluate(study)
    renamed = rename_study(study, "another")
    assert is_same(evaluation.modelled(), evaluate(renamed, evaluation).modelled())
    less = replace(study, probes=(), figures=(), dismissals=())
    assert is_same(study.modelled(), less.modelled())
    assert not is_same(study.modelled(study.probes), less.modelled(less.probes))
    strict = Checks(Cutoffs(cook=0.5))
    assert not is_same(study.modelled(checks=strict), less.modelled(checks=study.checks))
    variable = study.variables[3]
    relabelled = change_variable(study, replace(variable, label="of another name"))
    assert not is_same(evaluation.modelled(), evaluate(relabelled, evaluation).modelled())


def test_a_column_rests_on_itself_and_one_that_is_computed_on_all() -> None:
    study = open_anything(STUDY)
    name, other = study.table.names[2], study.table.names[3]
    relabelled = change_variable(study, replace(study.variable(other), label="of another name"))
    assert is_same(study.columns_alone(name), relabelled.columns_alone(name))
    assert not is_same(study.columns_alone(name, other), relabelled.columns_alone(name, other))
    for computed in study.derived:
        assert not is_same(study.columns_alone(computed.name), relabelled.columns_alone(computed.name))
