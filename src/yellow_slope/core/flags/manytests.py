"""Many tests at once: some are significant by chance alone."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

import numpy as np

from yellow_slope.core.fit.asked.families import holm
from yellow_slope.core.fit.fitted.evaluate import Evaluation
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.flags.flag import Flag, Remedy
from yellow_slope.core.study.flagkeys import FlagKey, FlagKind
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.names.terms import column_name
from yellow_slope.core.words.spelling.numerals import counted, fixed, listed, percent

MANY_PRODUCTS = 10
"""From so many columns of products on that are tested one by one somebody should ask how many are chance."""
MOST_NAMED = 4


def many_tests(evaluation: Evaluation) -> Iterator[Flag]:
    """Ten or more columns of products in the last step, each with its own p."""
    study, fit = evaluation.study, evaluation.fit
    if fit is None:
        return
    tested = _tested(fit)
    if len(tested) >= MANY_PRODUCTS:
        title = f"{len(tested)} products are tested at once"
        yield Flag(FlagKey(FlagKind.MANY), title, partial(_told, study, fit, tested))


def _tested(fit: Fit) -> tuple[int, ...]:
    return tuple(
        j for j, column in enumerate(fit.design.columns) if column.term.is_product and not np.isnan(fit.last.p[j + 1])
    )


def _told(study: Study, fit: Fit, tested: tuple[int, ...]) -> tuple[str, tuple[Remedy, ...]]:
    alpha, m = 1 - study.model.level, len(tested)
    ps = [float(fit.last.p[j + 1]) for j in tested]
    below = sum(p < alpha for p in ps)
    adjusted = holm(ps)
    left = [j for j, p in zip(tested, adjusted) if p < alpha]
    cost = (
        f"Without any effect, {fixed(m * alpha, 1)} of {m} tests at {fixed(alpha, 2).removeprefix('0')} would be "
        f"significant on average. At least one would be with a chance of about {percent(1 - (1 - alpha) ** m)}. Here "
        f"{below or 'none'} {'are' if below > 1 else 'is'} significant. After Holm's correction {len(left) or 'none'} "
    )
    if left:
        shown = [column_name(study, fit, j) for j in left[:MOST_NAMED]]
        more = f" and {len(left) - MOST_NAMED} more" if len(left) > MOST_NAMED else ""
        cost += f"{'remains' if len(left) == 1 else 'remain'}: {listed(shown)}{more}."
    else:
        cost += "remains."
    change = fit.last.change.test
    if not np.isnan(change.p):
        cost += f" The test of the last block is one test of all its {counted(change.df1, 'column')}."
    return cost, ()
