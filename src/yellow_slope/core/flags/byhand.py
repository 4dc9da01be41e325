"""Columns made by hand: indicators of groups offered as one variable, and centered or multiplied columns in the
model."""

from __future__ import annotations

import math
from collections.abc import Iterator
from functools import partial

import numpy as np

from yellow_slope.core.data.byhand import ByHand, HandProduct, IndicatorSet, Shifted, made_by_computing, made_by_hand
from yellow_slope.core.data.columns import computed_column
from yellow_slope.core.data.table import NumberColumn
from yellow_slope.core.data.variable import Kind
from yellow_slope.core.errors import YellowSlopeError
from yellow_slope.core.fit.fitted.evaluate import Evaluation
from yellow_slope.core.flags.flag import Flag, Remedy
from yellow_slope.core.study.edits.replacing import enter_the_group, undo_by_hand
from yellow_slope.core.study.flagkeys import FlagKey, FlagKind
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.whole import Edit
from yellow_slope.core.words.spelling.numerals import counted, fixed, listed, number_or_place

MOST_NAMED = 6


def indicator_sets(evaluation: Evaluation) -> Iterator[Flag]:
    """Columns of 0 and 1 that are one group variable taken apart."""
    study = evaluation.study
    used = {name for term in study.model.terms for name in term.variables}
    for found in made_by_hand(study.table).indicators:
        if not all(study.variable(name).kind.enters for name in found.columns):
            continue
        in_use = [name for name in found.columns if name in used]
        if not in_use and (found.of is None or study.variable(found.of).kind is Kind.GROUP):
            continue
        labels = _labels(study, found.columns)
        of = f" of {study.variable(found.of).label}" if found.of is not None else " of one group variable"
        title = f"{labels} are indicators{of}"
        first, *rest = in_use or found.columns
        yield Flag(
            FlagKey(FlagKind.INDICATORS, found.columns),
            title,
            partial(_told_set, study, found, bool(in_use)),
            variable=first,
            also=tuple(rest),
        )


def _labels(study: Study, names: tuple[str, ...]) -> str:
    shown = [study.variable(name).label for name in names[:MOST_NAMED]]
    return listed([*shown, f"{len(names) - MOST_NAMED} more"] if len(names) > MOST_NAMED else shown)


def _told_set(study: Study, found: IndicatorSet, in_use: bool) -> tuple[str, tuple[Remedy, ...]]:
    n = len(found.columns)
    whole = (
        f"Every case is in exactly one of the {n}, so together they are redundant with an intercept."
        if found.is_whole
        else f"No case is in more than one of the {n}; those in none of them are an unnamed reference."
    )
    cost = (
        f"{whole} As one group variable they enter and leave together, get one joint test, and every coefficient names "
        "what it is compared with."
    )
    if found.of is not None:
        label = study.variable(found.of).label
        said = f"Enter {label} in their place" if in_use else f"Treat {label} as groups"
    else:
        said = "Make one group variable of them"
    edit = partial(_entered, found=found)
    return cost, (Remedy(said, edit),) if _works(study, edit) else ()


def _entered(study: Study, found: IndicatorSet) -> Study:
    return enter_the_group(study, found)


def _works(study: Study, edit: Edit) -> bool:
    try:
        edit(study)
    except YellowSlopeError:
        return False
    return True


def all_made(study: Study) -> ByHand:
    """Shifted and multiplied columns, of the file and of what is computed for the model."""
    found = made_by_hand(study.table)
    used = {name for term in study.model.terms for name in term.variables}
    computed = frozenset(d.name for d in study.derived if d.name in used and study.variable(d.name).kind is Kind.NUMBER)
    if not computed:
        return found
    numbers = [c for c in study.table.columns if isinstance(c, NumberColumn) and not c.stray]
    numbers += [computed_column(name, study.columns.numbers(name)) for name in sorted(computed)]
    more = made_by_computing(numbers, computed)
    return ByHand(found.indicators, (*found.shifted, *more.shifted), (*found.multiplied, *more.multiplied))


def made_columns(evaluation: Evaluation) -> Iterator[Flag]:
    """Centered and multiplied columns of the file that stand in the model as if they were variables."""
    study = evaluation.study
    used = {name for term in study.model.terms for name in term.variables}
    found = all_made(study)
    multiplied = tuple(m for m in found.multiplied if m.column in used)
    factors = {name for m in multiplied for name in m.factors}
    shifted = tuple(s for s in found.shifted if s.column in used or s.column in factors)
    names = tuple(name for name in (*(s.column for s in shifted), *(m.column for m in multiplied)) if name in used)
    if not names:
        return
    how = "computed" if all(name not in study.table for name in names) else "made by hand"
    title = f"{_labels(study, names)} {'was' if len(names) == 1 else 'were'} {how} from other columns"
    key = FlagKey(FlagKind.BY_HAND, names)
    yield Flag(key, title, partial(_told_columns, evaluation, shifted, multiplied), variable=names[0], also=names[1:])


def _told_columns(
    evaluation: Evaluation, shifted: tuple[Shifted, ...], multiplied: tuple[HandProduct, ...]
) -> tuple[str, tuple[Remedy, ...]]:
    study, cases = evaluation.study, evaluation.cases
    said: list[str] = []
    for one in shifted[:3]:
        label, source = study.variable(one.column).label, study.variable(one.source).label
        how = f"{label} is {source} minus {number_or_place(one.shift)}"
        if one.scale != 1.0:
            how = f"{label} is ({source} − {number_or_place(one.shift)}) / {number_or_place(one.scale)}"
        values = study.columns.numbers(one.column) if study.columns.is_numeric(one.column) else np.zeros(0)
        here = values[cases.rows] if values.size else values
        here = here[~np.isnan(here)]
        off, sd = (float(here.mean()), float(here.std())) if here.size else (0.0, 0.0)
        n = counted(int(here.size), "case")
        average = fixed(off, max(0, 1 - math.floor(math.log10(abs(off))))) if off else "0"
        tail = f": over the {n} of the model it averages {average}, not 0" if abs(off) > 1e-3 * sd else ""
        said.append(how + tail)
    for product in multiplied[:3]:
        label = study.variable(product.column).label
        said.append(f"{label} is {' times '.join(study.variable(f).label for f in product.factors)}")
    more = len(shifted) + len(multiplied) - len(said)
    cost = "; ".join(said) + (f"; and {more} more" if more > 0 else "") + "."
    if multiplied:
        cost += (
            " Entered as a variable of its own, a product has no parts: no slope at its "
            "partner's values, no probe, no zero point can be obtained from it."
        )
    if shifted:
        cost += " A mean copied by hand belongs to other cases and has few digits."
    edit = partial(undo_by_hand, shifted=shifted, multiplied=multiplied)
    return cost, (Remedy("Enter what they were made from", edit),) if _works(study, edit) else ()
