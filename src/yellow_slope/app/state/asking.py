"""What is asked off the interface thread: a question is one frozen value that holds all that its answer rests on."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Callable
from dataclasses import fields
from typing import ClassVar, Generic, TypeVar

from yellow_slope.app.state.lanes import Lane
from yellow_slope.app.state.worker import Job, Worker
from yellow_slope.core.fit.fitted.evaluate import Evaluation
from yellow_slope.core.study.study import Study

Answer = TypeVar("Answer")


class Question(ABC, Generic[Answer]):
    """A kind of question is a frozen dataclass. `answer` sees its fields and nothing else: two that are the same have
    the same answer, and nothing that an answer rests on can be forgotten."""

    lane: ClassVar[Lane]

    @abstractmethod
    def answer(self, job: Job) -> Answer:
        """On the worker's thread. YellowSlopeError where there is none."""


def is_same(one: object, other: object) -> bool:
    """Whether both ask the same: of the same kind, with fields that are the same. Two studies that say the same of the
    same table are, by whatever way they came about; results are the same where they are one object."""
    if one is other:
        return True
    if type(one) is not type(other):
        return False
    if isinstance(one, Study) and isinstance(other, Study):
        return one.says_as(other)
    if isinstance(one, Evaluation) and isinstance(other, Evaluation):
        return one.fits == other.fits and is_same(one.study, other.study)
    if isinstance(one, Question):
        return all(is_same(getattr(one, f.name), getattr(other, f.name)) for f in fields(one) if f.compare)  # type: ignore[arg-type]
    return bool(one == other)


class Asked(Generic[Answer]):
    """The newest question of one part of the window: asked if it is new, given up when a newer one comes."""

    def __init__(
        self,
        worker: Worker,
        arrived: Callable[[Answer], None],
        trouble: Callable[[str], None],
        heard: Callable[[float], None] | None = None,
    ) -> None:
        """heard: is told how much of the answer is there, 0 to 1."""
        self._worker, self._arrived, self._trouble, self._heard = worker, arrived, trouble, heard
        self.question: Question[Answer] | None = None
        """What was asked last."""
        self.answer: Answer | None = None
        """What is known last; while it is pending, that of an earlier question."""
        self.is_pending = False

    def ask(self, question: Question[Answer] | None) -> bool:
        """Ask it, if it is not what was asked last; None forgets question and answer. Whether that was new."""
        if is_same(question, self.question):
            return False
        before, self.question = self.question, question
        if question is None:
            self.answer, self.is_pending = None, False
            if before is not None:
                self._worker.drop(before.lane)
            return True
        self.is_pending = True
        self._worker.newest(question.lane, question.answer, self._take, self._fail, heard=self._heard)
        return True

    def give_up(self) -> None:
        """Nobody waits for an answer any longer: the question is asked anew when it comes again."""
        if self.is_pending and self.question is not None:
            self._worker.drop(self.question.lane)
            self.question, self.is_pending = None, False

    def _take(self, answer: Answer) -> None:
        self.answer, self.is_pending = answer, False
        self._arrived(answer)

    def _fail(self, said: str) -> None:
        self.is_pending = False
        self._trouble(said)

    @property
    def now(self) -> Answer | None:
        """The answer to what was asked last; None while it is pending or where there is none."""
        return None if self.is_pending else self.answer
