"""Edits of what the report prints."""

from __future__ import annotations

import unicodedata

from yellow_slope.core.errors import StudyError
from yellow_slope.core.study.report import (
    FEWEST_DECIMALS,
    LONGEST_COMMENT,
    MOST_CHOSEN,
    BesideCorrelation,
    CoefficientFigure,
    PartKind,
    ReadySet,
    ReportChoice,
)
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.whole import edit
from yellow_slope.values import replace


@edit
def switch_part(study: Study, part: PartKind, on: bool) -> Study:
    """Print a part of the report, or not."""
    return _with(study, study.report.with_part(replace(study.report.part(part), on=on)))


@edit
def move_part(study: Study, part: PartKind, by: int) -> Study:
    """A part of the report so many places earlier or later."""
    parts = list(study.report.whole().parts)
    at = next(i for i, one in enumerate(parts) if one.kind is part)
    to = min(max(at + by, 0), len(parts) - 1)
    parts.insert(to, parts.pop(at))
    return _with(study, replace(study.report, parts=tuple(parts)))


@edit
def comment_part(study: Study, part: PartKind, above: str, below: str) -> Study:
    """Words of one's own above and below a part. StudyError for words that are too many or hold control characters."""
    for text in (above, below):
        if len(text) > LONGEST_COMMENT:
            raise StudyError(f"A comment has at most {LONGEST_COMMENT} characters; this one has {len(text)}.")
        if any(unicodedata.category(letter) == "Cc" and letter != "\n" for letter in text):
            raise StudyError("A comment has no control characters.")
    return _with(study, study.report.with_part(replace(study.report.part(part), above=above, below=below)))


@edit
def choose_set(study: Study, ready: ReadySet) -> Study:
    """Print the parts of a ready set."""
    return _with(study, study.report.of_set(ready))


@edit
def set_assigned(study: Study, name: str, on: bool) -> Study:
    """Say that cases were assigned to the values of a variable, or that they were not."""
    study.variable(name)
    others = tuple(n for n in study.report.assigned if n != name)
    return _with(study, replace(study.report, assigned=(*others, name) if on else others))


@edit
def set_decimals(study: Study, decimals: int) -> Study:
    """Estimates in tables and findings with so many decimals. StudyError for a number that cannot be."""
    if not FEWEST_DECIMALS <= decimals <= MOST_CHOSEN:
        raise StudyError(f"Estimates have {FEWEST_DECIMALS} to {MOST_CHOSEN} decimals.")
    return _with(study, replace(study.report, decimals=decimals))


@edit
def set_stars(study: Study, on: bool) -> Study:
    """Mark p below .05, .01 and .001 in tables, or not."""
    return _with(study, replace(study.report, stars=on))


@edit
def set_beside(study: Study, figure: CoefficientFigure, on: bool) -> Study:
    """Print a figure beside each coefficient, or not."""
    wanted = {*study.report.beside, figure} if on else set(study.report.beside) - {figure}
    return _with(study, replace(study.report, beside=tuple(f for f in CoefficientFigure if f in wanted)))


@edit
def set_correlations(study: Study, beside: BesideCorrelation) -> Study:
    """What stands beside each correlation."""
    return _with(study, replace(study.report, correlations=beside))


def _with(study: Study, report: ReportChoice) -> Study:
    return study if report == study.report else replace(study, report=report)
