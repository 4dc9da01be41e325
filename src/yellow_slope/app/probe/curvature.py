"""Whether a product stands once the squares of its numbers are entered: asked on the worker, said in the card."""

from __future__ import annotations

from yellow_slope.app.state.asking import Question
from yellow_slope.app.state.lanes import Lane
from yellow_slope.app.state.worker import Job
from yellow_slope.core.probe.probed import Probed
from yellow_slope.core.stand.standing import ProductAsked, standing, with_squares
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.sentences.probecard import curvature_text
from yellow_slope.values import dataclass

MOST_WORK = 400_000_000
"""Cases by columns by columns: of larger models it is asked at Checks alone."""


@dataclass(frozen=True, slots=True)
class Curvature(Question[str]):
    """How the product of what is probed stands beside squares, in words; nothing where none could be entered."""

    lane = Lane.PROBE_CURVATURE
    study: Study
    probed: Probed

    def answer(self, job: Job) -> str:
        study, probed = self.study, self.probed
        fit, highest = probed.fit, [term for term, _ in probed.highest]
        if len(highest) != 1 or probed.by_itself or fit.cases.n * fit.steps[probed.step].n_columns ** 2 > MOST_WORK:
            return ""
        if probed.model.id != study.current:
            return ""
        row = with_squares(study, fit, probed.step, highest[0])
        if row is None:
            return ""
        now = standing(study, fit, probed.step, ProductAsked(highest[0]))
        return curvature_text(study, highest[0], now, row)
