"""Descriptives and correlations over the model's cases."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from yellow_slope.core.design import GroupBasis
from yellow_slope.core.evaluate import Evaluation
from yellow_slope.core.numerals import counted, listed, place
from yellow_slope.core.study import Study
from yellow_slope.core.table import FloatArray
from yellow_slope.core.tails import t_p
from yellow_slope.core.variable import Kind, level_indices, numeric_values


@dataclass(frozen=True, slots=True, eq=False)
class Described:
    """Names of the columns described; n, mean, SD, least, most of each (k,); correlations and their p (k, k)."""

    names: tuple[str, ...]
    n: int
    mean: FloatArray
    sd: FloatArray
    low: FloatArray
    high: FloatArray
    r: FloatArray
    p: FloatArray


def described(evaluation: Evaluation) -> Described | None:
    """Outcome, numbers and group indicators of the model. None while there is no fit."""
    fit, study = evaluation.fit, evaluation.study
    if fit is None or study.outcome is None:
        return None
    names = [study.variable(study.outcome).label]
    columns: list[FloatArray] = [fit.y]
    for name, basis in fit.design.bases.items():
        variable = study.variable(name)
        if isinstance(basis, GroupBasis):
            for i, level in enumerate(basis.levels):
                if i != basis.reference:
                    names.append(f"{variable.label}: {level.label}")
                    columns.append((fit.values[name] == i).astype(np.float64))
        else:
            names.append(variable.label)
            columns.append(np.asarray(fit.values[name], dtype=np.float64))
    x = np.column_stack(columns)
    return Described(
        tuple(names), x.shape[0], x.mean(axis=0), x.std(axis=0, ddof=1), x.min(axis=0), x.max(axis=0), *correlations(x)
    )


def correlations(x: FloatArray) -> tuple[FloatArray, FloatArray]:
    """Correlations of the columns of x (n, k) and their two-sided p, each (k, k); NaN for a constant column."""
    n = x.shape[0]
    centered = x - x.mean(axis=0)
    lengths = np.sqrt(np.einsum("ij,ij->j", centered, centered))
    with np.errstate(divide="ignore", invalid="ignore"):
        unit = centered / lengths
        r = np.clip(unit.T @ unit, -1.0, 1.0)
        t = r * np.sqrt((n - 2) / (1.0 - r * r)) if n > 2 else np.full_like(r, np.nan)
    return r, t_p(t, n - 2)


def summary_sentence(study: Study, evaluation: Evaluation, name: str) -> str:
    """One variable in words: kind, gaps, and where its values lie over all cases of the table."""
    variable, column = study.variable(name), study.table.column(name)
    n = study.table.n_rows
    if variable.kind is Kind.GROUP:
        indices = level_indices(column, variable)
        gaps = int((indices < 0).sum())
        counts = [f"{x.label} {int((indices == i).sum())}" for i, x in enumerate(variable.levels)]
        text = f"{variable.label} has {counted(len(variable.levels), 'group')}: {listed(counts)}."
    elif variable.kind is Kind.NUMBER:
        values = numeric_values(column, variable)
        here = values[np.isfinite(values)]
        gaps = n - here.size
        if here.size < 2:
            return f"{variable.label} has {counted(int(here.size), 'value')}."
        sd = float(here.std(ddof=1))
        reach = f"{place(float(here.min()), sd)} to {place(float(here.max()), sd)}"
        text = f"{variable.label} runs from {reach} with mean {place(float(here.mean()), sd)} and SD {place(sd, sd)}."
    else:
        gaps = n - int(column.present.sum())
        text = f"{variable.label} holds {len(column.texts)} different texts; it cannot enter a model."
    missing = f" {counted(gaps, 'case')} of {n} {'has' if gaps == 1 else 'have'} no value." if gaps else " No gaps."
    cost = next((x for x in evaluation.sample.lost if x.variable == name), None)
    lost = f" The model loses {counted(cost.only, 'case')} only through it." if cost is not None and cost.only else ""
    return text[:1].upper() + text[1:] + missing + lost
