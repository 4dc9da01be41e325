"""The report's section of checks: the product and its rivals, chosen questions, cases set aside and what changed."""

from __future__ import annotations

from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.review.beforeafter import state_rows, state_sentence, states_of, wanted_states
from yellow_slope.core.stand.checked import Checked, checked
from yellow_slope.core.stand.rivals import AnyOneOut
from yellow_slope.core.stand.standing import ProductAsked, Stand, asked_in, is_large, probed_product, whole_stand
from yellow_slope.core.study.checks import Check
from yellow_slope.core.study.report import PartKind
from yellow_slope.core.study.study import Study
from yellow_slope.core.told.cells import Cell, row_at
from yellow_slope.core.told.origins import AtSample
from yellow_slope.core.told.tables import Table
from yellow_slope.core.words.sentences.checks import advice, as_spoken, check_title, left_bounds_sentence, remark
from yellow_slope.core.words.sentences.figures import NULLS
from yellow_slope.core.words.sentences.interactions import interaction_name
from yellow_slope.core.words.sentences.rivals import asked_name, range_story, stand_sentence
from yellow_slope.core.words.spelling.letters import capital
from yellow_slope.core.words.spelling.numerals import level_text
from yellow_slope.plots.checks import can_be_drawn, check_page
from yellow_slope.plots.marks import Page
from yellow_slope.plots.rivals import stand_page
from yellow_slope.report.figures import on_paper, print_look
from yellow_slope.values import dataclass

WIDTH, TALL, LOW = 470.0, 300.0, 200.0
"""Points: a page's width, the height of rivals, of another question."""


@dataclass(frozen=True, slots=True)
class Drawn:
    """A plot of a question."""

    title: str
    caption: str
    told: str
    """What can be seen in it."""
    page: Page


@dataclass(frozen=True, slots=True)
class Asked:
    """What is checked of the reported step."""

    found: Checked
    stand: Stand | None
    """None where there is no product to ask for."""

    @property
    def name(self) -> str:
        """The product; empty where there is none."""
        return capital(asked_name(self.found.study, self.found.fit, self.stand.asked)) if self.stand is not None else ""

    def named(self, study: Study) -> str:
        """The product in the middle of a sentence: “the interaction of practice and worry”; empty where there is none.
        study: with the labels as they are to be read."""
        if self.stand is None:
            return ""
        asked = self.stand.asked
        return interaction_name(study, asked.product) if asked.key is None else asked_name(study, self.found.fit, asked)

    @property
    def kinds(self) -> list[Check]:
        """The questions that have an answer here."""
        return [check for check in Check if can_be_drawn(check, self.found, self.stand)]


def asked_of(study: Study, fit: Fit, step: int) -> Asked | None:
    """Check a step; None where there are too many cases for it to be done in passing."""
    if is_large(fit, step):
        return None
    asked = asked_in(study, step, probed_product(study, fit))
    stand = whole_stand(study, fit, step, asked) if asked is not None else None
    return Asked(checked(study, fit, step, asked), stand)


def checks_said(study: Study, asked: Asked) -> tuple[list[tuple[str, Check]], list[Table], list[Drawn]]:
    """Paragraphs with the question that each is about, tables, and plots, of the reported step."""
    found, stand, plain = as_spoken(asked.found), asked.stand, asked.found
    told: list[tuple[str, Check]] = []
    plots: list[Drawn] = []
    if stand is not None:
        stands = stand_sentence(found.study, found.fit, stand, capital(asked.named(found.study)))
        told += [] if study.report.part(PartKind.FINDINGS).on else [(stands, Check.STAND)]
        told += [(left, Check.STAND)] if (left := _left_out_said(found, stand)) else []
        plots.append(Drawn(check_title(Check.STAND), _caption(stand), stands, stand_figure(plain, stand)))
    for check in asked.kinds:
        if check is not Check.STAND:
            said = remark(check, found, stand)
            told.append((f"{check_title(check)}. {said}", check))
            if check in study.checks.printed:
                plots.append(Drawn(check_title(check), advice(check), said, check_figure(check, plain, stand)))
    table = _states_table(study, plain.fit, plain.step, plain.asked)
    return told, [table] if table is not None else [], plots


def _left_out_said(found: Checked, stand: Stand) -> str:
    """The product and its boundaries without any one case."""
    row = next(row for row in stand.rows if isinstance(row.rival, AnyOneOut))
    if row.range is None:
        return ""
    return f"{range_story(found.study, found.fit, stand, row)} {left_bounds_sentence(found)}".strip()


def _states_table(study: Study, fit: Fit, step: int, asked: ProductAsked | None) -> Table | None:
    """Before and after, where anybody is set aside or samples are kept."""
    if len(wanted_states(study)) < 2:
        return None
    states = states_of(study, step, asked, fit=fit)
    rows = state_rows(study, asked, states)
    cells = tuple(row_at(AtSample(), *(Cell(text) for text in (row.name, *row.cells))) for row in rows)
    return Table(
        "The model before and after cases were set aside",
        ("", *(state.name for state in states)),
        cells,
        state_sentence(study, asked, states, rows),
    )


def _caption(stand: Stand) -> str:
    level = level_text(stand.level)
    what = "F of all comparisons; bars are the single comparisons" if stand.base.test is not None else "b"
    return (
        f"The interaction in the model (heavy) and in each robustness check: {what} with {level} intervals. {NULLS} A "
        "pennant marks where that differs from the model."
    )


def stand_figure(found: Checked, stand: Stand) -> Page:
    """The product and its rivals on paper."""
    return on_paper(stand_page(found.study, found.fit, stand, print_look(), WIDTH, TALL))


def check_figure(check: Check, found: Checked, stand: Stand | None) -> Page:
    """The plot of a question on paper."""
    return on_paper(check_page(check, found, stand, print_look(), WIDTH * 0.72, LOW))
