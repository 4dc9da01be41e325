"""Collinearity: what centering would remove, told apart from what stays because the cases hold it."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial
from types import MappingProxyType

import numpy as np

from yellow_slope.core.errors import YellowSlopeError
from yellow_slope.core.fit.design.bases import NumberBasis
from yellow_slope.core.fit.fitted.evaluate import Evaluation, fitted
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.flags.byhand import all_made
from yellow_slope.core.flags.flag import Flag, Remedy
from yellow_slope.core.study.edits.blocks import take_out
from yellow_slope.core.study.edits.entries import treat
from yellow_slope.core.study.flagkeys import FlagKey, FlagKind
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.treatment import Mean
from yellow_slope.core.words.names.terms import column_name, label
from yellow_slope.core.words.spelling.numerals import bounded, counted, fixed, listed_some
from yellow_slope.values import replace

LARGE = 10.0
"""From this variance inflation on a coefficient's interval is more than three times as wide as it could be."""
MOST_CENTERED = 6


def collinear_columns(evaluation: Evaluation) -> Iterator[Flag]:
    """Columns of the last step that share nearly all their variance with others; one flag, at the worst of them."""
    study, fit = evaluation.study, evaluation.fit
    if fit is None:
        return
    vif = fit.last.vif[1:]
    made = _by_hand(study)
    own = np.array([not made.isdisjoint(column.term.variables) for column in fit.design.columns], dtype=bool)
    large = np.flatnonzero((np.nan_to_num(vif) >= LARGE) & ~own)
    if not large.size:
        return
    worst = int(large[np.argmax(vif[large])])
    term = fit.design.columns[worst].term
    n = f" and {large.size - 1} more" if large.size > 1 else ""
    vif_text = fixed(float(vif[worst]), 1)
    title = f"{column_name(study, fit, worst)}{n} is almost a combination of other predictors, VIF {vif_text}"
    key = FlagKey(FlagKind.COLLINEAR, term.key)
    yield Flag(key, title, partial(_told, study, fit, tuple(int(j) for j in large), worst), term=term)


def _by_hand(study: Study) -> set[str]:
    """Products that stand in the model as one variable, and what they were made of: another flag speaks of them."""
    used = {name for term in study.model.active_terms for name in term.variables}
    made = [m for m in all_made(study).multiplied if m.column in used]
    return {name for m in made for name in (m.column, *m.factors)}


def _told(study: Study, fit: Fit, large: tuple[int, ...], worst: int) -> tuple[str, tuple[Remedy, ...]]:
    vif = float(fit.last.vif[worst + 1])
    name = column_name(study, fit, worst)
    cost = (
        f"The VIF of {name} is {fixed(vif, 1)}. The interval of its coefficient is {fixed(vif**0.5, 1)} "
        "times as wide as without collinearity. "
    )
    if len(large) > 1:
        cost += f"{counted(len(large), 'column')} have a VIF of {LARGE:.0f} or more. "
    away = _uncentered(study, fit, large)
    centered = _centered(study, fit, away) if away else None
    remedies: list[Remedy] = []
    if (
        centered is not None
        and len(centered.design.columns) == len(fit.design.columns)
        and not np.isnan(centered.last.vif[worst + 1])
    ):
        after = float(np.nanmax(centered.last.vif[1:]))
        rest = [j for j in large if float(centered.last.vif[j + 1]) >= LARGE]
        labels = listed_some([study.variable(n).label for n in away], MOST_CENTERED)
        its = float(centered.last.vif[worst + 1])
        if its < vif and fixed(its, 1) != fixed(vif, 1):
            cost += (
                f"Centering {labels} reduces it to {fixed(its, 1)} and the largest to "
                f"{fixed(after, 1)}. The tests of the products do not change, because "
                "that part only reflects where zero lies. "
            )
            remedies.append(Remedy(f"Center {labels}", partial(_center, names=away)))
        fit, large = (centered, tuple(rest)) if rest else (centered, ())
        worst = max(rest, key=lambda j: float(centered.last.vif[j + 1])) if rest else worst
    if large:
        cost += _what_stays(study, fit, worst)
        term = fit.design.columns[worst].term
        remedies.append(Remedy(f"Remove {label(study, term)}", partial(take_out, terms=[term])))
    elif remedies:
        cost += "Then nothing of it remains."
    return cost.strip(), tuple(remedies)


def _uncentered(study: Study, fit: Fit, large: tuple[int, ...]) -> tuple[str, ...]:
    """Numbers in products among the columns whose zero is not their mean."""
    names: dict[str, None] = {}
    terms = {c.term for c in fit.design.columns}
    for j in large:
        own = fit.design.columns[j].term
        for term in terms:
            if term.is_product and (term == own or term.contains(own)):
                names |= dict.fromkeys(term.variables)
    return tuple(
        n
        for n in names
        if isinstance(basis := fit.design.bases[n], NumberBasis) and not basis.is_at_mean and not basis.is_within
    )


def _center(study: Study, names: tuple[str, ...]) -> Study:
    for name in names:
        study = treat(study, [name], replace(study.model.treatment(name), zero=Mean()))
    return study


def _centered(study: Study, fit: Fit, names: tuple[str, ...]) -> Fit | None:
    model = study.model
    entries = {n: replace(model.treatment(n), zero=Mean()) for n in names}
    other = replace(model, entries=MappingProxyType({**model.entries, **entries}))
    try:
        found = fitted(study, other, fit.cases)
    except YellowSlopeError:
        return None
    return found if isinstance(found, Fit) else None


def _what_stays(study: Study, fit: Fit, worst: int) -> str:
    """With which column it goes together most, in these cases, wherever zero lies."""
    factored = fit.factored
    m = factored.size(fit.last.n_columns)
    kept = factored.kept[:m]
    at = int(np.searchsorted(kept, worst))
    r = factored.r[:m, :m]
    together = r[:, at] @ r
    together[at] = 0.0
    other = int(np.argmax(np.abs(together)))
    name, partner = column_name(study, fit, worst), column_name(study, fit, int(kept[other]))
    vif = float(fit.last.vif[worst + 1])
    if together[other] ** 2 >= 0.8 * (1 - 1 / vif):
        return (
            f"The VIF of {name} remains {fixed(vif, 1)} wherever zero lies: it "
            f"correlates with {partner} (r = {bounded(float(together[other]), 2)}), and "
            "only further cases could separate them."
        )
    return (
        f"The VIF of {name} remains {fixed(vif, 1)} wherever zero lies: several columns "
        f"together predict it almost completely, most of all {partner} (r = "
        f"{bounded(float(together[other]), 2)})."
    )
