"""What a typed line would make of the model, evaluated off the interface thread while it is typed."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from yellow_slope.app.state.lanes import Lane
from yellow_slope.app.state.session import StudySession
from yellow_slope.app.state.worker import Job, Worker
from yellow_slope.core.fit.fitted.evaluate import Evaluation, evaluate
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.fit.fitted.steps import Resampling
from yellow_slope.core.quickline import Reading, Summary
from yellow_slope.core.study.study import Study
from yellow_slope.values import dataclass


@dataclass(frozen=True, slots=True, eq=False)
class Coming:
    """The study that Enter would make; `evaluation` is None as long as it is computed."""

    now: Study
    study: Study
    reading: Reading
    evaluation: Evaluation | None = None

    @property
    def fit(self) -> Fit | None:
        """Its fit; None while there is none."""
        return self.evaluation.fit if self.evaluation is not None else None

    @property
    def summary(self) -> Summary:
        """What Enter would do."""
        fit = self.fit
        if fit is None:
            return self.reading.summary(self.now)
        # Counted from the levels until the cases have told which of them there are.
        terms = dict.fromkeys(
            t for block in self.reading.blocks if block.on for t in block.terms if t not in self.reading.stays
        )
        return self.reading.summary(self.now, sum(len(fit.design.columns_of(t)) for t in terms))

    @property
    def problem(self) -> str:
        """Why there would be no fit."""
        return self.evaluation.problem if self.evaluation is not None else ""

    def changed_steps(self, before: Fit | None) -> frozenset[int]:
        """Steps that would not be what they are."""
        fit = self.fit
        if fit is None:
            return frozenset()
        changed = set()
        for step in fit.steps:
            old = before.steps[step.index] if before is not None and step.index < len(before.steps) else None
            same = (
                old is not None
                and before is not None
                and np.array_equal(old.b, step.b, equal_nan=True)
                and fit.design.columns[: step.n_columns] == before.design.columns[: old.n_columns]
            )
            if not same:
                changed.add(step.index)
        return frozenset(changed)


class Preview:
    """Follows the quick line; `changed` is called whenever there is something else to show."""

    def __init__(self, session: StudySession, worker: Worker, changed: Callable[[], None]) -> None:
        self._session, self._worker, self._changed = session, worker, changed
        self.coming: Coming | None = None

    def show(self, reading: Reading | None) -> None:
        """Show what a line would make; None, or a line with a mistake: nothing."""
        study = self._session.study
        if reading is None or reading.mistake is not None:
            self.clear()
            return
        wanted = reading.apply(study)
        if wanted is study:
            self.clear()
            return
        self.coming = Coming(study, wanted, reading)
        self._changed()
        before = self._session.view.evaluation if self._session.view is not None else None

        def work(job: Job) -> Evaluation:
            return evaluate(wanted, before, Resampling(quick_only=True))

        def arrived(found: Evaluation) -> None:
            if self.coming is not None and self.coming.study is wanted:
                self.coming = Coming(study, wanted, reading, found)
                self._changed()

        self._worker.newest(Lane.TYPED_MODEL, work, arrived, self._session.say)

    def clear(self) -> None:
        """Nothing is typed any longer."""
        self._worker.drop(Lane.TYPED_MODEL)
        if self.coming is not None:
            self.coming = None
            self._changed()
