"""In words: what a product would be without any one case."""

from __future__ import annotations

import numpy as np

from yellow_slope.core.fit.asked.leftout import WithoutEach, without_each
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.study.standarderrors import Classical
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Term
from yellow_slope.core.words.names.cases import case_name
from yellow_slope.core.words.names.terms import column_name
from yellow_slope.core.words.spelling.numerals import counted, estimate_decimals, fixed, listed_some, p_value

MOST_ROWS = 4


def left_out_sentence(study: Study, fit: Fit, step: int, product: Term) -> str:
    """The product of a step without each case: the range of b and p, who moves it most, and where the conclusion at the
    study's level changes. Of several columns that which moves most; empty where there is nothing to tell."""
    width = fit.steps[step].n_columns
    columns = [j for j in fit.design.columns_of(product) if j < width]
    found = {j: without_each(fit, step, np.eye(width + 1)[j + 1], study.model.level) for j in columns}
    told = {j: one for j, one in found.items() if np.isfinite(one.p).any() and np.isfinite(one.p_of_all)}
    if not told:
        return ""
    column = max(told, key=lambda j: float(np.nanmax(np.abs(told[j].change))))
    name = column_name(study, fit, column) + (" (of its columns the one that moves most)" if len(told) > 1 else "")
    parts = [_range(study, told[column], name, fit), _turns(told[column], study.model.level, fit)]
    if not isinstance(study.model.errors, Classical):
        parts.append("(With classical standard errors.)")
    return " ".join(part for part in parts if part)


def _range(study: Study, found: WithoutEach, name: str, fit: Fit) -> str:
    """“Without any one case practice × worry lies between 0.38 and 0.47, its p between .001 and .012; …”."""
    low, high = float(np.nanmin(found.effect)), float(np.nanmax(found.effect))
    digits = estimate_decimals(float(np.nanmedian(found.se)), low, high)
    first, last = p_value(float(np.nanmin(found.p))), p_value(float(np.nanmax(found.p)))
    p = f"its p between {first} and {last}" if first != last else f"its p is {last} each time"
    case = case_name(study, fit.cases.rows[int(np.nanargmax(np.abs(found.change)))])
    said = f"Without any one case {name} lies between {fixed(low, digits)} and {fixed(high, digits)}, {p}"
    alone = int(np.isnan(found.effect).sum())
    if alone:
        said += f" ({counted(alone, 'case')} that nothing can be told without left in)"
    return f"{said}; {case} moves it most."


def _turns(found: WithoutEach, level: float, fit: Fit) -> str:
    """Where the conclusion at the study's level changes."""
    alpha = 1.0 - level
    holds = found.p_of_all < alpha
    other = np.flatnonzero(np.isfinite(found.p) & ((found.p < alpha) != holds))
    if not other.size:
        return ""
    rows = listed_some([str(fit.cases.rows[i] + 1) for i in other], MOST_ROWS)
    change = "is no longer below" if holds else "falls below"
    return f"Its p {change} {p_value(alpha)} without {'row' if other.size == 1 else 'rows'} {rows}, each alone."
