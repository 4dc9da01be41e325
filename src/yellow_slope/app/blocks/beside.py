"""The kept model that stands beside the present one: its fit, and which of its coefficients ask the same."""

from __future__ import annotations

import numpy as np

from yellow_slope.app.state.session import StudySession
from yellow_slope.core.arrays import FloatArray
from yellow_slope.core.fit.asked.lowtohigh import low_to_high
from yellow_slope.core.fit.asked.matching import matched, matched_step
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.study.model import Model
from yellow_slope.values import dataclass


@dataclass(frozen=True, slots=True, eq=False)
class Beside:
    """A model that is compared with; `fit` is None where it has none."""

    model: Model
    fit: Fit | None
    columns: dict[int, int]
    """For columns of the present model (-1: the constant) its own column."""
    scale: FloatArray
    present: Fit | None

    @classmethod
    def of(cls, session: StudySession, coming: Fit | None = None) -> Beside | None:
        """The model that is looked at beside the current one, or beside one to come; None where there is none."""
        view, wanted = session.view, session.desk.compared
        if view is None or wanted is None or wanted == view.study.current:
            return None
        model = next((m for m in view.study.models if m.id == wanted), None)
        if model is None:
            return None
        found, present = view.evaluation.fits[model.id], coming or view.fit
        fit = found if isinstance(found, Fit) else None
        if fit is None or present is None:
            return cls(model, fit, {}, low_to_high(fit) if fit is not None else np.zeros(0), present)
        return cls(model, fit, matched(present, fit), low_to_high(fit), present)

    def interval(self, step: int, column: int) -> tuple[float, float, float] | None:
        """Low, b and high of the same question there, from low to high on the sheet's common scale."""
        if self.fit is None or self.present is None or column not in self.columns:
            return None
        its = matched_step(step, self.present, self.fit)
        j = self.columns[column]
        if its is None or j >= self.fit.steps[its].n_columns:
            return None
        found = self.fit.steps[its].coefficient(j)
        factor = float(self.scale[j]) if j >= 0 else 1.0
        return found.low * factor, found.b * factor, found.high * factor

    def b(self, step: int, column: int) -> float | None:
        """Its b there, raw."""
        if self.fit is None or self.present is None or column not in self.columns:
            return None
        its = matched_step(step, self.present, self.fit)
        j = self.columns[column]
        return float(self.fit.steps[its].b[j + 1]) if its is not None and j < self.fit.steps[its].n_columns else None
