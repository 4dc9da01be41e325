"""Edits of checks: cut-offs of cases far out, and the group by which the cases are halved."""

from __future__ import annotations

import math
from typing import assert_never

from yellow_slope.core.data.variable import Kind
from yellow_slope.core.errors import StudyError
from yellow_slope.core.study.checks import MOST_PARTS, Check, Cutoffs, FarBy
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.whole import edit
from yellow_slope.values import replace


@edit
def set_cutoff(study: Study, by: FarBy, value: float | None) -> Study:
    """Choose beyond which value cases count as far out; None: the usual one. StudyError for what is no cut-off."""
    if value is not None and not (math.isfinite(value) and value > 0):
        raise StudyError("A cut-off is a number above 0.")
    cut = study.checks.cutoffs
    match by:
        case FarBy.STUDENTIZED:
            return _with(study, replace(cut, studentized=value))
        case FarBy.COOK:
            return _with(study, replace(cut, cook=value))
        case FarBy.DISTANCE:
            return _with(study, replace(cut, distance=value))
        case _:
            assert_never(by)


@edit
def set_distance(study: Study, exact: bool, groups: bool) -> Study:
    """Choose how D² and its usual cut-off are taken: of the exact distribution, and with groups as indicators."""
    return _with(study, replace(study.checks.cutoffs, exact=exact, groups=groups))


@edit
def set_split(study: Study, name: str | None) -> Study:
    """Look at the product in each level of a group alone; None: in none."""
    if name is not None and study.variable(name).kind is not Kind.GROUP:
        raise StudyError(f"{study.variable(name).label} is not a group: its levels would be the subgroups.")
    if name is not None and len(study.variable(name).levels) > MOST_PARTS:
        n = len(study.variable(name).levels)
        raise StudyError(f"{study.variable(name).label} has {n} levels; at most {MOST_PARTS} subgroups are examined.")
    if name == study.checks.split:
        return study
    return replace(study, checks=replace(study.checks, split=name))


@edit
def set_printed(study: Study, check: Check, printed: bool) -> Study:
    """Print the plot of a question in the report, or no longer."""
    now = study.checks.printed
    if (check in now) == printed:
        return study
    wanted = {*now, check} if printed else {*now} - {check}
    new = tuple(each for each in Check if each in wanted)
    return replace(study, checks=replace(study.checks, printed=new))


def _with(study: Study, cutoffs: Cutoffs) -> Study:
    if cutoffs == study.checks.cutoffs:
        return study
    return replace(study, checks=replace(study.checks, cutoffs=cutoffs))
