"""Too few cases: for the number of columns, in a group, or in a cell of two groups."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

import numpy as np

from yellow_slope.core.fit.asked.diagnosis import press_r2
from yellow_slope.core.fit.design.bases import GroupBasis
from yellow_slope.core.fit.fitted.evaluate import Evaluation
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.flags.flag import Flag, Remedy
from yellow_slope.core.study.edits.blocks import switch_block, take_out
from yellow_slope.core.study.edits.levels import name_level
from yellow_slope.core.study.edits.samples import set_aside
from yellow_slope.core.study.flagkeys import FlagKey, FlagKind
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Term
from yellow_slope.core.words.names.terms import label
from yellow_slope.core.words.spelling.numerals import bounded, counted, listed, percent

PER_COLUMN = 10
"""Fewer cases than this for each estimated column let R² tell mostly of chance."""
IN_A_GROUP = 5
"""Fewer cases than this in a group or cell make its figures those of single cases."""
MOST_NAMED = 4


def too_many_columns(evaluation: Evaluation) -> Iterator[Flag]:
    """Fewer than ten cases for each column of the last step."""
    study, fit = evaluation.study, evaluation.fit
    if fit is None:
        return
    columns = fit.last.rank - int(fit.design.constant)
    if columns < 2 or fit.y.size >= PER_COLUMN * columns:
        return
    title = f"{counted(fit.y.size, 'case')} for {counted(columns, 'column')}"
    yield Flag(FlagKey(FlagKind.FEW), title, partial(_told_columns, study, fit, columns))


def _told_columns(study: Study, fit: Fit, columns: int) -> tuple[str, tuple[Remedy, ...]]:
    n, last = fit.y.size, fit.last
    chance = columns / (n - 1)
    press = press_r2(fit, last.index)
    cost = (
        f"That is {n / columns:.1f} cases for each column. Columns of pure noise would reach an R² of "
        f"{bounded(chance, 2)} on "
        f"average; this model has {bounded(last.r2)}, adjusted {bounded(last.adjusted_r2)}"
    )
    cost += f", and a PRESS R² of {bounded(press)}." if not np.isnan(press) else "."
    remedies: list[Remedy] = []
    steps = study.model.steps
    if len(steps) > 1 and last.rank > fit.steps[-2].rank:
        block = steps[-1]
        index = next(i for i, b in enumerate(study.model.blocks) if b.id == block.id)
        remedies.append(
            Remedy(f"Switch block {index + 1} off for the moment", partial(switch_block, index=index, on=False))
        )
    return cost, tuple(remedies)


def small_groups(evaluation: Evaluation) -> Iterator[Flag]:
    """Groups of the model with fewer than five cases."""
    study, fit = evaluation.study, evaluation.fit
    for name, basis in fit.design.bases.items() if fit is not None else ():
        if not isinstance(basis, GroupBasis) or len(basis.levels) < 2:
            continue
        small = [i for i, n in enumerate(basis.counts) if n < IN_A_GROUP]
        if small and fit is not None:
            variable = study.variable(name)
            shown = [f"“{variable.level(basis.levels[i]).label}”" for i in small[:MOST_NAMED]]
            more = f" and {len(small) - MOST_NAMED} more" if len(small) > MOST_NAMED else ""
            title = f"Few cases in {listed(shown)}{more} of {variable.label}"
            key = FlagKey(FlagKind.SMALL, (name,))
            yield Flag(key, title, partial(_told_groups, study, fit, basis, tuple(small)), variable=name)


def _told_groups(study: Study, fit: Fit, basis: GroupBasis, small: tuple[int, ...]) -> tuple[str, tuple[Remedy, ...]]:
    variable = study.variable(basis.variable)
    counts = [f"“{variable.level(basis.levels[i]).label}” {int(basis.counts[i])}" for i in small[:MOST_NAMED]]
    largest = int(basis.counts.max())
    least = int(basis.counts[list(small)].min())
    wider = (largest / least) ** 0.5
    cost = (
        f"Cases: {listed(counts)}; the largest group has {largest}. A mean of "
        f"{counted(least, 'case')} is {wider:.1f} times as uncertain as that of the "
        "largest, and a slope there is very imprecise."
    )
    i = small[0]
    code, name = basis.levels[i], variable.level(basis.levels[i]).label
    places = study.columns.levels(basis.variable)
    position = next(k for k, level in enumerate(variable.levels) if level.code == code)
    rows = fit.cases.rows[places[fit.cases.rows] == position]
    remedies = []
    neighbour = i - 1 if i > 0 else i + 1
    if len(basis.levels) > 2:
        into = variable.level(basis.levels[neighbour]).label
        remedies.append(
            Remedy(f"Merge “{name}” with “{into}”", partial(name_level, name=basis.variable, code=code, label=into))
        )
    few = "one" if rows.size == 1 else str(rows.size)
    remedies.append(
        Remedy(
            f"Set {'its case' if rows.size == 1 else f'its {rows.size} cases'} aside",
            partial(set_aside, rows=rows.tolist(), reason=f"only {few} in “{name}”"),
        )
    )
    return cost, tuple(remedies)


def small_cells(evaluation: Evaluation) -> Iterator[Flag]:
    """Cells of groups that stand in a product together, with fewer than five cases but more than none."""
    study, fit = evaluation.study, evaluation.fit
    if fit is None:
        return
    for term in dict.fromkeys(c.term for c in fit.design.columns):
        groups = [basis for n in term.variables if isinstance(basis := fit.design.bases[n], GroupBasis)]
        if len(groups) < 2:
            continue
        counts = _cells(fit, groups)
        here = [
            tuple(int(i) for i in cell)
            for cell in np.argwhere((counts > 0) & (counts < IN_A_GROUP))
            if all(basis.counts[i] >= IN_A_GROUP for basis, i in zip(groups, cell))
        ]
        if here:
            names = tuple(basis.variable for basis in groups)
            title = f"Few cases in {counted(len(here), 'cell')} of {label(study, Term(names))}"
            key = FlagKey(FlagKind.SMALL, term.key)
            yield Flag(key, title, partial(_told_cells, study, fit, groups, counts, here), term=term)


def _places(fit: Fit, groups: list[GroupBasis]) -> np.ndarray:
    """Shape (n,): the cell of each case, flattened in the order of the groups' levels."""
    shape = tuple(len(basis.levels) for basis in groups)
    return np.ravel_multi_index(tuple(np.asarray(fit.values[basis.variable]) for basis in groups), shape)


def _cells(fit: Fit, groups: list[GroupBasis]) -> np.ndarray:
    """Cases by the levels present of each group."""
    shape = tuple(len(basis.levels) for basis in groups)
    return np.bincount(_places(fit, groups), minlength=int(np.prod(shape))).reshape(shape)


def _told_cells(
    study: Study, fit: Fit, groups: list[GroupBasis], counts: np.ndarray, here: list[tuple[int, ...]]
) -> tuple[str, tuple[Remedy, ...]]:
    def named(cell: tuple[int, ...]) -> str:
        levels = (study.variable(b.variable).level(b.levels[i]).label for b, i in zip(groups, cell))
        return listed([f"“{level}”" for level in levels])

    cells = [f"{named(cell)} {int(counts[cell])}" for cell in here[:MOST_NAMED]]
    more = f" and {len(here) - MOST_NAMED} more" if len(here) > MOST_NAMED else ""
    n = int(sum(counts[cell] for cell in here))
    small = [int(np.ravel_multi_index(cell, counts.shape)) for cell in here]
    rows = fit.cases.rows[np.isin(_places(fit, groups), small)].tolist()
    aside = Remedy(f"Set these {n} cases aside", partial(set_aside, rows=rows, reason="cells with few cases"))
    return (
        f"Cases: {listed(cells)}{more}. The difference of differences rests on "
        f"{counted(n, 'case')} there, {percent(n / fit.y.size)} of all; its interval "
        "reflects that."
    ), (aside,)


def one_group_only(evaluation: Evaluation) -> Iterator[Flag]:
    """A group variable of the model of which only one level is among the cases: it can say nothing."""
    study, fit = evaluation.study, evaluation.fit
    for name, basis in fit.design.bases.items() if fit is not None else ():
        if isinstance(basis, GroupBasis) and len(basis.levels) == 1:
            variable = study.variable(name)
            level = variable.level(basis.levels[0]).label
            gone = [t for t in study.model.terms if name in t.variables]
            said = (
                f"All {counted(int(basis.counts[0]), 'case')} of the model are in “{level}”, so {variable.label} does "
                f"not vary and has no column. {counted(len(gone), 'term')} with it cannot be estimated."
            )
            remedy = Remedy(f"Remove {variable.label}", partial(take_out, terms=gone))
            title = f"All cases are in “{level}” of {variable.label}"
            yield Flag(FlagKey(FlagKind.CONSTANT, (name,)), title, partial(_plain, said, remedy), variable=name)


def _plain(said: str, remedy: Remedy) -> tuple[str, tuple[Remedy, ...]]:
    return said, (remedy,)
