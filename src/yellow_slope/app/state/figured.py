"""The figure that is tuned: laid out, with what there is to know of it."""

from __future__ import annotations

from yellow_slope.core.errors import YellowSlopeError
from yellow_slope.core.figured.subjects import Subject, subject_of
from yellow_slope.core.fit.fitted.evaluate import Evaluation
from yellow_slope.core.probe.probed import Probed
from yellow_slope.core.study.figures import Figure, LineKey, LineOf, Shown
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.names.groups import is_only_code
from yellow_slope.core.words.sentences.figures import figure_remarks, is_fit_for_print, print_remark
from yellow_slope.plots.figures import laid_out, same_names, shortened_names, smaller_letters, smallest
from yellow_slope.plots.marks import Page
from yellow_slope.plots.parts import Parts, lines_of
from yellow_slope.values import dataclass


@dataclass(frozen=True, slots=True, eq=False)
class Figured:
    """A figure with its page; without one the reason why it cannot be drawn."""

    figure: Figure
    study: Study
    subject: Subject | None
    page: Page | None
    parts: Parts | None
    refusal: str = ""
    print_remark: str = ""
    is_fit_for_print: bool = True
    """Whether letters and lines are large enough."""
    remarks: tuple[str, ...] = ()
    codes: tuple[LineKey, ...] = ()
    """Levels that have no name but their code."""


def figured(study: Study, evaluation: Evaluation, figure: Figure, subject: Subject | str) -> Figured:
    """A figure laid out of its subject, or of the reason why there is none."""
    if isinstance(subject, str):
        return Figured(
            figure, study, None, None, None, subject, remarks=tuple(figure_remarks(evaluation, figure, None))
        )
    remarks = figure_remarks(evaluation, figure, subject)
    try:
        laid = laid_out(figure, subject)
    except YellowSlopeError as error:
        return Figured(figure, study, subject, None, None, str(error), remarks=tuple(remarks))
    page = laid.page
    parts = Parts(page, subject)
    remarks += [*smaller_letters(figure, laid.share), *shortened_names(page), *same_names(figure)]
    letters, line = smallest(page)
    said = print_remark(letters, line, f"{round(figure.size.width, 2):g} cm width")
    codes = tuple(key for key in lines_of(parts) if is_code(study, figure, key))
    is_fit = is_fit_for_print(letters, line)
    return Figured(figure, study, subject, page, parts, "", said, is_fit, tuple(remarks), codes)


def is_code(study: Study, figure: Figure, key: LineKey) -> bool:
    """Whether a level stands with its code, and the figure gives it no name."""
    if key.kind is not LineOf.LEVEL or any(k.line == key and t.words is not None for k, t in figure.texts):
        return False
    variable = next((v for v in study.variables if v.name == key.variable), None)
    level = variable.find_code(key.of) if variable is not None else None
    return level is not None and is_only_code(level)


def subject_or_reason(evaluation: Evaluation, shows: Shown, probed: Probed | None) -> Subject | str:
    """What a figure shows, or why it cannot be drawn."""
    try:
        return subject_of(evaluation, shows, probed)
    except YellowSlopeError as error:
        return str(error)
