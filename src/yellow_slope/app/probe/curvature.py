"""Whether a product stands once the squares of its numbers are entered: asked on the worker, said in the card."""

from __future__ import annotations

from dataclasses import dataclass

from yellow_slope.app.state.view import View
from yellow_slope.core.probe.probed import Probed
from yellow_slope.core.stand.standing import ProductAsked, standing, with_squares
from yellow_slope.core.words.sentences.probecard import curvature_text

MOST_WORK = 400_000_000
"""Cases by columns by columns: of larger models it is asked at Checks alone."""


@dataclass(frozen=True, slots=True, eq=False)
class Curvature:
    """What is said, and of what."""

    key: object
    said: str


def curvature(key: object, view: View, probed: Probed) -> Curvature:
    """The product of what is probed, with squares beside it; nothing where none could be entered."""
    fit, study = probed.fit, view.study
    highest = [term for term, _ in probed.highest]
    if len(highest) != 1 or probed.by_itself or fit.cases.n * fit.steps[probed.step].n_columns ** 2 > MOST_WORK:
        return Curvature(key, "")
    if probed.model.id != study.current:
        return Curvature(key, "")
    row = with_squares(study, fit, probed.step, highest[0])
    if row is None:
        return Curvature(key, "")
    now = standing(study, fit, probed.step, ProductAsked(highest[0]))
    return Curvature(key, curvature_text(study, highest[0], now, row))
