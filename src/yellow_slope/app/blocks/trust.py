"""How far to trust a product: what its block could have shown, its reliability, and each covariate's products tried."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QVBoxLayout, QWidget

from yellow_slope.app.blocks.belowtables import Told, trials_told
from yellow_slope.app.state.asking import Asked, Question
from yellow_slope.app.state.lanes import Lane
from yellow_slope.app.state.session import StudySession
from yellow_slope.app.state.worker import Job, Worker
from yellow_slope.app.widgets.field import Field
from yellow_slope.app.widgets.figuretable import FigureTable
from yellow_slope.core.fit.asked.covariatetrials import covariate_trials
from yellow_slope.core.fit.asked.reliability import Reliability, reliability_of
from yellow_slope.core.fit.fitted.evaluate import Evaluation
from yellow_slope.core.fit.fitted.steps import Resampling
from yellow_slope.core.study.edits.descriptions import set_reliability
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Term
from yellow_slope.core.typed import typed_number
from yellow_slope.core.words.names.terms import label
from yellow_slope.core.words.sentences.coefficients import reader
from yellow_slope.core.words.sentences.steps import smallest_sentence
from yellow_slope.core.words.spelling.numerals import bounded, percent
from yellow_slope.values import dataclass


@dataclass(frozen=True, slots=True, eq=False)
class Trusted:
    """What was found of one product."""

    term: Term
    smallest: str
    reliability: Reliability | None
    trials: Told


@dataclass(frozen=True, slots=True)
class HowFar(Question[Trusted | None]):
    """How far to trust a product; None without a fit."""

    lane = Lane.TRUST
    evaluation: Evaluation
    term: Term

    def answer(self, job: Job) -> Trusted | None:
        evaluation, term = self.evaluation, self.term
        fit, read, study = evaluation.fit, reader(evaluation), evaluation.study
        if fit is None or read is None:
            return None
        step = study.model.step_of(term)
        smallest = smallest_sentence(read, step) if step is not None else ""
        trials = covariate_trials(study, study.model, fit, term, Resampling(go_on=job.told))
        return Trusted(term, smallest, reliability_of(study, fit, term), trials_told(evaluation, trials))


class TrustPanel(QWidget):
    """Follows the chosen product while it is visible."""

    def __init__(self, session: StudySession, worker: Worker, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.smallest = _said("What the block's test could detect")
        self.parts = QWidget()
        self.fields: list[Field] = []
        self.labels: list[QLabel] = []
        row = QHBoxLayout(self.parts)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(8)
        for which in ("first", "second"):
            title, field = QLabel(), Field()
            title.setTextFormat(Qt.TextFormat.PlainText)
            field.setFixedSize(64, 28)
            field.setAccessibleName(f"Reliability of the {which} part")
            field.setToolTip("Reliability of the scale in cases like these, as in .82; empty if it is not known")
            field.editingFinished.connect(self._take)
            self.labels.append(title)
            self.fields.append(field)
            row.addWidget(title)
            row.addWidget(field)
        self.reliability = _said("Reliability of the product")
        row.addWidget(self.reliability, 1)
        self.trials = _said("How large the product's effect appears")
        self.table = FigureTable(
            "The product with each covariate's products added",
            "Each row adds the products of one covariate with the factors",
        )
        layout = QVBoxLayout(self)
        layout.setContentsMargins(10, 4, 10, 0)
        layout.setSpacing(6)
        layout.addWidget(self.smallest)
        layout.addWidget(self.parts)
        layout.addWidget(self.trials)
        layout.addWidget(self.table, 1)
        self._asked = Asked(worker, self._show, session.say)
        self._found: Trusted | None = None

    def renew(self) -> None:
        """Look at the chosen product, off the interface thread, if it or the results are new."""
        view, term = self.session.view, self.session.chosen_product()
        if view is None or view.fit is None or term is None:
            self._asked.ask(None)
            self._show(None)
        elif self._asked.ask(HowFar(view.evaluation.modelled(), term)):
            self.trials.setText("Adding the covariates' products …")

    def _show(self, found: Trusted | None) -> None:
        self._found = found
        self.table.setVisible(found is not None)
        if found is None:
            self.smallest.setText("There is no product in the model yet.")
            self.parts.hide()
            self.trials.setText("")
            return
        study = self.session.view.study if self.session.view is not None else self.session.study
        self.smallest.setText(f"{label(study, found.term)}: {found.smallest}")
        self._show_reliability(study, found.reliability)
        self.trials.setText(found.trials.said)
        self.table.show_rows(found.trials.head, found.trials.rows, found.trials.corner)

    def _show_reliability(self, study: Study, found: Reliability | None) -> None:
        self.parts.setVisible(found is not None)
        if found is None:
            return
        for name, given, title, field in zip((found.one, found.other), found.given, self.labels, self.fields):
            title.setText(f"reliability of {study.variable(name).label}")
            if not field.hasFocus():
                field.setText("" if given is None else bounded(given, 2))
        self.reliability.setText(reliability_said(found))

    def _take(self) -> None:
        """Take what was typed over into the study."""
        if self._found is None or self._found.reliability is None:
            return
        found = self._found.reliability
        for name, field in zip((found.one, found.other), self.fields):
            value = typed_number(field.text())
            if value is None and field.text().strip():
                self.session.say(f"“{field.text()}” is not a number between 0 and 1.")
                continue
            self.session.edit("reliability of a scale", lambda s, n=name, v=value: set_reliability(s, n, v))  # type: ignore[misc]


def reliability_said(found: Reliability) -> str:
    """The product's reliability, or what is missing for it."""
    if found.product is None or found.attenuation is None:
        return "Type the reliability of both parts to see the reliability of their product here."
    return (
        f"The parts correlate {bounded(found.r, 2)}, so their product has a reliability "
        f"of {bounded(found.product, 2)}. Its standardized effect appears at "
        f"{percent(found.attenuation)} of its size if measurement errors are independent "
        "of everything else."
    )


def _said(name: str) -> QLabel:
    text = QLabel()
    text.setWordWrap(True)
    text.setTextFormat(Qt.TextFormat.PlainText)
    text.setAccessibleName(name)
    return text
