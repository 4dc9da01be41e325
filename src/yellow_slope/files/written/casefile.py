"""A row for each case of the current model: predicted value, residuals, leverage, influence, distance."""

from __future__ import annotations

import csv
import io

import numpy as np

from yellow_slope.core.arrays import FloatArray
from yellow_slope.core.data.table import number_text
from yellow_slope.core.fit.asked.diagnosis import diagnose, mahalanobis, raw_columns
from yellow_slope.core.fit.asked.leftout import without_each
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.fit.solve.scipylater import special
from yellow_slope.core.stand.standing import probed_product
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.names.terms import column_name

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
    "p of mahalanobis",
)


def case_table(study: Study, fit: Fit) -> bytes:
    """Comma-separated text of the last step; rows are numbered from 1 as in the table, what does not exist is empty.

    DFBETAS stand there for each column of the product that is probed.
    """
    step = len(fit.steps) - 1
    found, distance = diagnose(fit, step), mahalanobis(fit)
    names, pulls = _pulls(study, fit, step)
    columns = (
        found.predicted,
        found.residual,
        found.leverage,
        found.studentized,
        found.deleted,
        found.cook,
        found.dffits,
        distance,
        special.gammaincc(raw_columns(fit) / 2, distance / 2) if raw_columns(fit) else np.full(distance.size, np.nan),
        *pulls,
    )
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow([*HEAD, *names])
    for row, values in zip(fit.cases.rows, np.column_stack(columns)):
        writer.writerow([row + 1, *(number_text(float(v)) if np.isfinite(v) else "" for v in values)])
    return out.getvalue().encode("utf-8")


def _pulls(study: Study, fit: Fit, step: int) -> tuple[list[str], list[FloatArray]]:
    """DFBETAS of the probed product, column by column, and what they are called."""
    product = probed_product(study, fit)
    if product is None:
        return [], []
    columns = fit.design.columns_of(product)
    asked = np.eye(fit.steps[step].n_columns + 1)
    pulls = [without_each(fit, step, asked[j + 1], study.model.level).change for j in columns]
    return [f"dfbetas of {column_name(study, fit, j)}" for j in columns], pulls
