"""Flags: remarks on what deserves care, at the place itself, with the cost in numbers and one-click remedies.

A new flag is a file of its own with a function of an evaluation, named in `FLAGS`, and a kind in `FlagKind`.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator

from yellow_slope.core.fit.fitted.evaluate import Evaluation
from yellow_slope.core.flags.blocksets import sets_without_a_block
from yellow_slope.core.flags.byhand import indicator_sets, made_columns
from yellow_slope.core.flags.codes import codes_as_quantities
from yellow_slope.core.flags.collinear import collinear_columns
from yellow_slope.core.flags.dependence import dependent_columns
from yellow_slope.core.flags.fewcases import one_group_only, small_cells, small_groups, too_many_columns
from yellow_slope.core.flags.flag import Flag, Remedy
from yellow_slope.core.flags.identifiers import identifiers_as_predictors
from yellow_slope.core.flags.lostcases import lost_cases
from yellow_slope.core.flags.manytests import many_tests
from yellow_slope.core.flags.missingcodes import codes_for_missing
from yellow_slope.core.flags.nointercept import no_intercept
from yellow_slope.core.flags.oneslope import slopes_over_codes
from yellow_slope.core.flags.parts import missing_parts
from yellow_slope.core.flags.questions import surplus_questions
from yellow_slope.core.flags.references import absent_references, unchosen_references
from yellow_slope.core.flags.roundedmean import rounded_means
from yellow_slope.core.flags.strays import stray_cells
from yellow_slope.core.flags.twovalues import two_valued_outcome
from yellow_slope.core.flags.zeros import far_zeros

FLAGS: tuple[Callable[[Evaluation], Iterator[Flag]], ...] = (
    missing_parts,
    dependent_columns,
    one_group_only,
    no_intercept,
    identifiers_as_predictors,
    codes_as_quantities,
    slopes_over_codes,
    indicator_sets,
    made_columns,
    far_zeros,
    collinear_columns,
    sets_without_a_block,
    rounded_means,
    surplus_questions,
    unchosen_references,
    absent_references,
    two_valued_outcome,
    small_groups,
    small_cells,
    too_many_columns,
    many_tests,
    codes_for_missing,
    stray_cells,
    lost_cases,
)


def raised_flags(evaluation: Evaluation) -> tuple[Flag, ...]:
    """All flags of an evaluation, also those put aside."""
    return tuple(flag for find in FLAGS for flag in find(evaluation))


def told_flags(evaluation: Evaluation) -> tuple[tuple[Flag, ...], tuple[tuple[Flag, str], ...]]:
    """The flags that stand, and those that were put aside and would stand otherwise, each with its reason."""
    reasons = {d.flag: d.reason for d in evaluation.study.dismissals}
    raised = raised_flags(evaluation)
    standing = tuple(flag for flag in raised if flag.key not in reasons)
    return standing, tuple((flag, reasons[flag.key]) for flag in raised if flag.key in reasons)


def flags_of(evaluation: Evaluation) -> tuple[Flag, ...]:
    """All flags of an evaluation but those put aside."""
    return told_flags(evaluation)[0]


def dismissed_flags(evaluation: Evaluation) -> tuple[tuple[Flag, str], ...]:
    """The flags that were put aside and would stand otherwise, each with its reason."""
    return told_flags(evaluation)[1]


__all__ = ["FLAGS", "Flag", "Remedy", "dismissed_flags", "flags_of", "raised_flags", "told_flags"]
