"""In words: what the residuals look like."""

from __future__ import annotations

import numpy as np

from yellow_slope.core.fit.asked.diagnosis import Diagnosis
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.names.cases import case_name
from yellow_slope.core.words.spelling.numerals import bounded, fixed, place


def residual_sentence(study: Study, fit: Fit, found: Diagnosis) -> str:
    """The residuals in words: their spread, the largest one and its row, and who pulls most."""
    n = found.residual.size
    pull = int(np.argmax(found.leverage))
    rows = fit.cases.rows
    sd = float(found.residual.std(ddof=1))
    full = int(np.sum(found.leverage > 1 - 1e-10))
    said = f"Residuals have SD {place(sd, sd)}."
    if np.all(np.isnan(found.studentized)):
        said = "The model fits these cases perfectly or leaves none to judge by: residuals cannot be studentized."
    else:
        far = int(np.nanargmax(np.abs(found.studentized)))
        beyond = int(np.nansum(np.abs(found.studentized) > 3))
        largest, whose = fixed(float(found.studentized[far]), 2), case_name(study, rows[far])
        verb = "lies" if beyond == 1 else "lie"
        said += f" The largest studentized residual is {largest}, in {whose}; {beyond:,} of {n:,} {verb} beyond ±3."
    if full:
        return (
            f"{said} {full:,} of {n:,} cases have leverage 1: each fixes a coefficient by itself and has no residual."
        )
    return (
        f"{said} The highest leverage is {bounded(float(found.leverage[pull]))}, in {case_name(study, rows[pull])} "
        f"(the average is {bounded(float(found.leverage.mean()))})."
    )
