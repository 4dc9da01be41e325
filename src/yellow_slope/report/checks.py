"""The report's section of checks: the product and its rivals, chosen questions, cases set aside and what changed."""

from __future__ import annotations

from yellow_slope.core.fit.fitted.evaluate import Evaluation
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.review.beforeafter import state_rows, state_sentence, states_of
from yellow_slope.core.stand.checked import Checked, checked
from yellow_slope.core.stand.rivals import AnyOneOut
from yellow_slope.core.stand.standing import ProductAsked, Stand, asked_in, is_large, probed_product, whole_stand
from yellow_slope.core.study.checks import Check
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.sentences.checks import advice, left_bounds_sentence, question, remark
from yellow_slope.core.words.sentences.rivals import QUESTION, asked_name, range_story
from yellow_slope.core.words.spelling.letters import capital
from yellow_slope.core.words.spelling.numerals import counted
from yellow_slope.plots.checks import can_be_drawn, check_page
from yellow_slope.plots.marks import Page
from yellow_slope.plots.rivals import stand_page
from yellow_slope.report.cells import Cell, Table
from yellow_slope.report.figures import on_paper, print_look
from yellow_slope.report.origins import AtSample

WIDTH, TALL, LOW = 470.0, 300.0, 200.0
"""Points: a page's width, the height of rivals, of another question."""


def checks_said(evaluation: Evaluation, fit: Fit) -> tuple[list[str], list[Table], list[tuple[str, str, Page]]]:
    """Paragraphs, tables, and pages with their title and caption, of the reported step."""
    study = evaluation.study
    step = study.model.reported_step
    said: list[str] = []
    if is_large(fit, step):
        n = counted(fit.cases.n, "case")
        return [f"With {n} the rivals and checks stand at the waypoint Checks and in the results."], [], []
    asked = asked_in(study, step, probed_product(study, fit))
    found = checked(study, fit, step, asked)
    pages: list[tuple[str, str, Page]] = []
    stand: Stand | None = None
    if asked is not None:
        stand = whole_stand(study, fit, step, asked)
        said.append(f"{capital(asked_name(study, fit, asked))}: {_continued(remark(Check.STAND, found, stand))}")
        said += [left] if (left := _left_out_said(found, stand)) else []
        pages.append((QUESTION, _caption(found, stand), stand_figure(found, stand)))
    for check in Check:
        if check is not Check.STAND and can_be_drawn(check, found, stand):
            said.append(f"{question(check)} {remark(check, found, stand)}")
            if check in study.checks.printed:
                pages.append((question(check), advice(check), check_figure(check, found, stand)))
    tables = [table] if (table := _states_table(study, step, asked)) is not None else []
    return said, tables, pages


def _left_out_said(found: Checked, stand: Stand) -> str:
    """The product and its boundaries without any one case."""
    row = next(row for row in stand.rows if isinstance(row.rival, AnyOneOut))
    if row.range is None:
        return ""
    said = _continued(range_story(found.study, found.fit, stand, row))
    return f"Without any one case {said} {left_bounds_sentence(found)}".strip()


def _continued(text: str) -> str:
    return text[:1].lower() + text[1:]


def _states_table(study: Study, step: int, asked: ProductAsked | None) -> Table | None:
    """Before and after, where anybody is set aside or samples are kept."""
    states = states_of(study, step, asked)
    if len(states) < 2:
        return None
    rows = state_rows(study, asked, states)
    cells = tuple(tuple(Cell(text) for text in (row.name, *row.cells)) for row in rows)
    return Table(
        "The model before and after cases were set aside",
        ("", *(state.name for state in states)),
        cells,
        state_sentence(study, asked, states, rows),
        origins=tuple(AtSample() for _ in rows),
    )


def _caption(found: Checked, stand: Stand) -> str:
    level = f"{100 * stand.level:g}%"
    set_of = stand.base.test is not None
    what = "F of all comparisons; bars are the single comparisons" if set_of else "b"
    return (
        f"The product as it stands (heavy) and after one thing was done otherwise: {what} with {level} intervals. "
        "Hollow points and a pennant mark where significance at that level changes."
    )


def stand_figure(found: Checked, stand: Stand) -> Page:
    """The product and its rivals on paper."""
    return on_paper(stand_page(found.study, found.fit, stand, print_look(), WIDTH, TALL))


def check_figure(check: Check, found: Checked, stand: Stand | None) -> Page:
    """The plot of a question on paper."""
    return on_paper(check_page(check, found, stand, print_look(), WIDTH * 0.72, LOW))
