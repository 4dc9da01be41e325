"""A row for each case of the current model: predicted value, residuals, leverage, influence, distance."""

from __future__ import annotations

import csv
import io

import numpy as np

from yellow_slope.core.data.table import number_text
from yellow_slope.core.fit.asked.diagnosis import diagnose, mahalanobis
from yellow_slope.core.fit.fitted.fit import Fit

HEAD = (
    "row",
    "predicted",
    "residual",
    "leverage",
    "internally studentized residual",
    "externally studentized residual",
    "cook",
    "dffits",
    "mahalanobis",
)


def case_table(fit: Fit, step: int | None = None) -> bytes:
    """Comma-separated text; rows are numbered from 1 as in the table, what does not exist is empty."""
    found = diagnose(fit, len(fit.steps) - 1 if step is None else step)
    columns = (
        found.predicted,
        found.residual,
        found.leverage,
        found.studentized,
        found.deleted,
        found.cook,
        found.dffits,
        mahalanobis(fit),
    )
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(HEAD)
    for row, values in zip(fit.cases.rows, np.column_stack(columns)):
        writer.writerow([row + 1, *(number_text(float(v)) if np.isfinite(v) else "" for v in values)])
    return out.getvalue().encode("utf-8")
