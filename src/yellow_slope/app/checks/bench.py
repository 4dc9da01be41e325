"""The waypoint Checks: does the product stand, are the assumptions met, who pulls; one question large, the others
beside."""

from __future__ import annotations

import time
from collections.abc import Callable
from functools import partial

import numpy as np
from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QHideEvent, QResizeEvent
from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QLabel, QPushButton, QStackedWidget, QVBoxLayout, QWidget

from yellow_slope.app.checks.casestable import CasesTable
from yellow_slope.app.checks.choices import FAR_OF, CheckChoices
from yellow_slope.app.checks.plots import CheckPlot
from yellow_slope.app.checks.questions import Beside, BesideEachOther, Checking, DrawnRival, Pages, PagesOf, Rivals
from yellow_slope.app.checks.standtable import StandTable
from yellow_slope.app.explanations.adopting import adopt_rival
from yellow_slope.app.figures.drawn import screen_look
from yellow_slope.app.state.asking import Asked
from yellow_slope.app.state.lanes import Lane
from yellow_slope.app.state.session import StudySession
from yellow_slope.app.state.topics import Topic
from yellow_slope.app.state.worker import Worker
from yellow_slope.app.verbs.actions import Scope, action
from yellow_slope.app.verbs.asides import aside_rows, ask_to_set_aside, let_back
from yellow_slope.app.verbs.figuring import Figuring
from yellow_slope.app.verbs.nextsteps import next_steps
from yellow_slope.app.widgets.dialogs import Dialogs
from yellow_slope.app.widgets.figuretable import FigureColumn, FigureRow, FigureTable
from yellow_slope.app.widgets.following import Bench
from yellow_slope.app.widgets.nextsteps import NextSteps
from yellow_slope.core.arrays import IntArray
from yellow_slope.core.stand.checked import Checked
from yellow_slope.core.stand.standing import Row, Stand
from yellow_slope.core.study.checks import Check
from yellow_slope.core.words.sentences.checks import advice, check_title, remark
from yellow_slope.core.words.spelling.numerals import counted, percent
from yellow_slope.looks import SIZES
from yellow_slope.plots.checks import far_cases, why_not_drawn
from yellow_slope.values import replace

NO_MODEL = "Enter a model at Blocks; its checks appear here."
NO_PRODUCT = "There is no product in this step. Enter one at Blocks, and its robustness checks appear here."
WAITS = "Computing the robustness checks …"
LEAST_SMALL, MOST_SMALL = 108, 300
GAP = 8
SOON = 0.3
"""Seconds for which what stood there may stay while rivals are asked anew."""
WIDE = 1300
"""A bench wider than this has a wall of plots beside the large one."""
TALL_TABLE = 150


class ChecksBench(Bench):
    """Is the model one to be believed?"""

    case_wanted = pyqtSignal(int)
    """A row of the table is to be shown at Data."""

    def __init__(self, session: StudySession, worker: Worker, dialogs: Dialogs, parent: QWidget | None = None) -> None:
        super().__init__(session, worker, Lane.CHECKS, parent)
        self._dialogs = dialogs
        self.title = QLabel()
        self.title.setObjectName("title")
        self.choices = CheckChoices(session, dialogs)
        self.beyond = self._button("Select all beyond", self.light_all_beyond)
        self.aside = self._button("Set aside …", self.set_lit_aside)
        self.back = self._button("Include again", self.take_all_back)
        self.both = self._button("Before and after", self.switch_before_and_after)
        self.both.setCheckable(True)
        self.lead = QLabel()
        self.lead.setWordWrap(True)
        self.lead.setTextFormat(Qt.TextFormat.PlainText)
        self.lead.setAccessibleName("Summary of the robustness checks")
        self.table = StandTable()
        self.table.row_chosen.connect(self._choose_rival)
        self.table.adopted.connect(self._adopt)
        self.table.resized.connect(self._told)
        self.large = CheckPlot(Check.SPREAD)
        self.next = NextSteps(self)
        self.large.resized.connect(self._told)
        self.large.brushed.connect(self._brushed)
        self.stack = QStackedWidget()
        help = "The model with all cases, without those set aside, without the selected ones"
        self.states = FigureTable("Before and after", help)
        for page in (self.table, self.large, self.states):
            self.stack.addWidget(page)
        self.cases = CasesTable()
        self.cases.wanted.connect(self.case_wanted.emit)
        self.cases.hide()
        self.small = {check: CheckPlot(check, small=True) for check in Check}
        for check, plot in self.small.items():
            plot.clicked.connect(partial(self.show_check, check))
        self._lay_out()
        self._lit_rows: tuple[tuple[int, ...], IntArray] = (), np.zeros(0, dtype=np.int64)
        """The lit rows of the last brush, as they stand on the desk and as an array."""
        say = session.say
        self._checking: Asked[Checked] = Asked(worker, self._arrived, say)
        self._rivals: Asked[Stand] = Asked(worker, self._stood, say, self._say_progress)
        self._asked_at = 0.0
        self._drawing: Asked[Row] = Asked(worker, self._drawn, say)
        self._pages: Asked[Pages] = Asked(worker, self._show, say)
        self._beside: Asked[Beside] = Asked(worker, self._compared, say)
        self.follow(session, Topic.RESULTS, Topic.ROW, Topic.THEME, Topic.CHECK, Topic.LIT, Topic.CHOICE)

    def _button(self, text: str, run: Callable[[], object]) -> QPushButton:
        button = QPushButton(text)
        button.setObjectName("link")
        button.setAccessibleName(text.removesuffix(" …"))
        button.clicked.connect(lambda _=False: run())
        return button

    def _lay_out(self) -> None:
        top = QHBoxLayout()
        top.setSpacing(6)
        top.addWidget(self.title)
        for widget in self.choices.widgets:
            top.addWidget(widget)
        top.addStretch(1)
        top.addWidget(self.both)
        verbs = QHBoxLayout()
        verbs.setSpacing(10)
        verbs.addWidget(self.lead, 1)
        for button in (self.beyond, self.aside, self.back):
            verbs.addWidget(button)
        verbs.addStretch(0)
        left = QVBoxLayout()
        left.setSpacing(GAP)
        left.addWidget(self.stack, 1)
        left.addWidget(self.cases)
        self.cases.setFixedHeight(TALL_TABLE)
        self.strip = QWidget()
        grid = QGridLayout(self.strip)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setSpacing(GAP)
        for i, plot in enumerate(self.small.values()):
            grid.addWidget(plot, i // 2, i % 2)
        body = QHBoxLayout()
        body.setSpacing(SIZES.margin)
        body.addLayout(left, 1)
        body.addWidget(self.strip)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(SIZES.margin, 8, SIZES.margin, 8)
        layout.setSpacing(6)
        layout.addLayout(top)
        layout.addLayout(verbs)
        layout.addLayout(body, 1)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Two columns of small plots, as wide as leaves the large one most of the room."""
        super().resizeEvent(event)
        share = 0.115 if self.width() < WIDE else 1 / 6
        each = min(MOST_SMALL, max(LEAST_SMALL, int(self.width() * share)))
        self.strip.setFixedWidth(2 * each + GAP)

    def hideEvent(self, event: QHideEvent | None) -> None:
        """What nobody waits for any longer is given up; coming back asks it anew."""
        super().hideEvent(event)
        if not self.is_current or self._beside.is_pending:
            for asked in (self._checking, self._rivals, self._drawing, self._pages, self._beside):
                asked.give_up()
            self._missed = True

    def _say_progress(self, share: float) -> None:
        """How far the rivals are, where nothing stands there or what does is old."""
        if self.table.drawn is None or time.monotonic() - self._asked_at > SOON:
            self.table.say(f"{WAITS} {percent(share)}")

    def offers(self) -> list[tuple[str, Callable[..., object]]]:
        return [("Make a figure", Figuring.make)] if self.session.checked is not None else []

    @property
    def main_part(self) -> QWidget:
        return self.table if self.session.shown_check() is Check.STAND else self.large

    @property
    def is_current(self) -> bool:
        return not any(one.is_pending for one in (self._checking, self._rivals, self._drawing, self._pages))

    # ---- choosing

    def show_check(self, check: Check) -> None:
        """Make one question the large one."""
        self.session.look(check=check, before_and_after=False, flag=None)

    @action("next check", "Show the next check", "PgDown", scope=Scope.CHECKS)
    def next_check(self) -> None:
        """Show the next question."""
        self._turn(1)

    @action("previous check", "Show the previous check", "PgUp", scope=Scope.CHECKS)
    def check_before(self) -> None:
        """Show the question before."""
        self._turn(-1)

    def _turn(self, by: int) -> None:
        order = list(Check)
        self.show_check(order[(order.index(self.session.shown_check()) + by) % len(order)])
        self.take_keyboard()

    def _choose_rival(self, index: int) -> None:
        stand = self.session.stand
        if stand is not None:
            self.session.look(rival=stand.rows[index].rival if index >= 0 else None, flag=None)

    def _chosen_row(self) -> int | None:
        """The chosen row, as the table counts them."""
        stand = self.session.stand
        return stand.index_of(self.session.desk.rival) if stand is not None else None

    def _adopt(self, keep: bool) -> None:
        stand, index = self.session.stand, self._chosen_row()
        if stand is not None and index is not None and index >= 0:
            adopt_rival(self.session, stand, stand.rows[index], keep)

    # ---- lit cases

    def _brushed(self, cases: IntArray, adds: bool) -> None:
        found = self.session.checked
        if found is None:
            return
        rows = found.fit.cases.rows[cases]
        if adds:
            now = np.array(self.session.desk.lit, dtype=np.int64)
            again = rows.size == 1 and bool(np.isin(rows, now).all())
            rows = np.setdiff1d(now, rows) if again else np.union1d(now, rows)
        rows = np.sort(rows)
        lit = tuple(rows.tolist())
        self._lit_rows = lit, rows
        self.session.look(lit=lit)

    def has_far(self) -> bool:
        """Whether the question has a cut-off of cases."""
        check = self.session.shown_check()
        return self.session.checked is not None and (check in FAR_OF or check is Check.MOVES)

    def has_lit(self) -> bool:
        """Whether any case is lit."""
        return bool(self.session.desk.lit)

    def has_aside(self) -> bool:
        """Whether any case is set aside."""
        return bool(aside_rows(self.session.study))

    @action(
        "select all beyond",
        "Select the cases beyond the cut-off of the plot",
        "B",
        scope=Scope.CHECKS,
        available="has_far",
    )
    def light_all_beyond(self) -> None:
        """Light every case beyond the cut-off."""
        found = self.session.checked
        if found is None:
            return
        rows = found.fit.cases.rows[far_cases(self.session.shown_check(), found)]
        self.session.look(lit=tuple(int(row) for row in rows))
        if not rows.size:
            self.session.say("No case is beyond the cut-off.")

    @action("select none", "Clear the selection of cases", "Esc", scope=Scope.CHECKS, available="has_lit")
    def light_none(self) -> None:
        """Light no case any longer."""
        self.session.look(lit=())

    @action(
        "set the selected cases aside",
        "Exclude the selected cases, with a reason; they stay in every plot, crossed out",
        "Delete",
        scope=Scope.CHECKS,
        available="has_lit",
    )
    def set_lit_aside(self) -> None:
        """Set the lit cases aside; the reason is asked for."""
        if ask_to_set_aside(self.session, self._dialogs, self.session.desk.lit):
            self.session.look(lit=())  # they are in no plot any more

    @action(
        "include cases again",
        "Include the selected cases again, or, if none is selected, all that are set aside",
        "Shift+Delete",
        scope=Scope.CHECKS,
        available="has_aside",
    )
    def take_all_back(self) -> None:
        """Let cases take part again."""
        study = self.session.study
        aside = aside_rows(study)
        lit = [row for row in self.session.desk.lit if row in aside]
        let_back(self.session, lit or sorted(aside))

    @action(
        "before and after",
        "What changes without the cases set aside, and without the selected ones; again: the plot",
        "V",
        scope=Scope.CHECKS,
        available="has_model",
    )
    def switch_before_and_after(self) -> None:
        """Show before and after in place of the plot, or the plot again."""
        self.session.look(before_and_after=not self.session.desk.before_and_after)

    def has_model(self) -> bool:
        """Whether there is a model to check."""
        return self.session.view is not None and self.session.view.fit is not None

    # ---- what is shown

    def renew(self) -> None:
        """Have the open step checked and drawn, off the interface thread."""
        view, desk = self.session.view, self.session.desk
        fit = view.fit if view is not None else None
        self._show_frame(fit is not None)
        if view is None or fit is None:
            self._checking.ask(None)
            self._pages.ask(None)
            self.session.checked = self.session.stand = None
            self.table.say(NO_MODEL)
            self.large.say(NO_MODEL)
            self.next.offer(next_steps(self.session))
            return
        self.next.offer([])
        step = desk.step(view.study.model)
        study = view.study.modelled(checks=view.study.checks)
        asking = Checking(study, fit, step, self.session.product_asked())
        self._show_choices(asking)
        if self._checking.ask(asking):
            self._ask(asking)
        if self.table.chosen != self._chosen_row():
            self.table.show_chosen(self._chosen_row())
        self._lead()
        self._show_lit()
        self._draw()
        if desk.before_and_after:
            if self._beside.ask(BesideEachOther(study, step, asking.asked, desk.lit)):
                self.session.before_and_after = "Fitting the model with other cases …"
            else:
                self._lead()

    def _compared(self, found: Beside) -> None:
        """The model stands side by side with other cases."""
        self.session.before_and_after = found.said
        head = tuple(FigureColumn(state.name) for state in found.states)
        lines = tuple(FigureRow(row.name, row.cells, strong=row.differs) for row in found.rows)
        self.states.show_rows(head, lines, "the same model")
        self._lead()
        self.session.look_again()

    def _lead(self) -> None:
        """What stands above the large part."""
        found, stand, desk = self.session.checked, self.session.stand, self.session.desk
        if desk.before_and_after:
            text = ""
        elif self.session.shown_check() is Check.STAND:
            if found is None or stand is None or stand.fit is not found.fit:
                return
            text = remark(Check.STAND, found, stand)
        elif found is not None:
            text = advice(self.session.shown_check())
        else:
            text = ""
        self.lead.setText(text)
        self.lead.setToolTip(text)

    def _show_frame(self, there: bool) -> None:
        """The question, its choices and the small plots stand there where there is something to look at."""
        check = self.session.shown_check()
        for widget in (self.title, self.strip, self.both, self.lead):
            widget.setVisible(there)
        self.choices.show_frame(there, check)
        self.beyond.setVisible(there and (check in FAR_OF or check is Check.MOVES))
        self.aside.setVisible(there and bool(self.session.desk.lit))
        self.back.setVisible(there and self.has_aside())
        compares = there and self.session.desk.before_and_after
        plain = self.table if check is Check.STAND or not there else self.large
        self.stack.setCurrentWidget(self.states if compares else plain)
        self.both.setChecked(compares)

    def _show_choices(self, asking: Checking) -> None:
        self.title.setText(check_title(self.session.shown_check()))
        self.choices.show(asking.study, asking.fit, asking.step, asking.asked)

    # ---- asking

    def _ask(self, asking: Checking) -> None:
        """Let the rivals stand against the product while the step is checked; each is shown when it is there."""
        self._drawing.ask(None)
        if asking.asked is None:
            self._rivals.ask(None)
            self.session.stand = None
            self.table.say(NO_PRODUCT)
            self.lead.setText("")
            return
        if self.session.stand is None:
            self.table.say(WAITS)
        self._asked_at = time.monotonic()
        self._rivals.ask(Rivals(asking.study, asking.fit, asking.step, asking.asked))

    def _arrived(self, found: Checked) -> None:
        self.session.checked = found
        if isinstance(asking := self._checking.question, Checking):
            self._show_choices(asking)
        self._show_lit()
        self._draw()
        if self._rivals.now is not None or self.session.shown_check() is not Check.STAND:
            self.session.look_again()

    def _stood(self, found: Stand) -> None:
        asking, known = self._rivals.question, self.session.checked
        assert isinstance(asking, Rivals)
        self._take_stand(found, told=known is not None and known.fit is asking.fit)
        row = next((row for row in found.rows if row.standing.is_waiting), None)
        if row is not None:  # it is drawn while everything else is shown already
            self._drawing.ask(DrawnRival(asking.study, asking.fit, asking.step, found.asked, row))

    def _drawn(self, found: Row) -> None:
        stand = self._rivals.now
        if stand is not None:
            rows = tuple(found if row.rival == found.rival else row for row in stand.rows)
            self._take_stand(replace(stand, rows=rows), told=self.session.desk.rival == found.rival)

    def _take_stand(self, stand: Stand, told: bool = True) -> None:
        """Show how the product stands. told: whether the foot says something else now."""
        self.session.stand = stand
        self._lead()
        self._draw()
        if told and self.session.shown_check() is Check.STAND:
            self.session.look_again()

    # ---- drawing

    def _show_lit(self) -> None:
        """Light the cases in every plot and list them."""
        found, lit = self.session.checked, self.session.desk.lit
        if found is None:
            self.cases.hide()
            return
        rows = found.fit.cases.rows
        wanted = self._lit_rows[1] if self._lit_rows[0] is lit else np.array(lit, dtype=np.int64)
        places = np.minimum(np.searchsorted(rows, wanted), rows.size - 1)
        inside = rows[places] == wanted
        here = places[inside]
        for plot in (self.large, *self.small.values()):
            plot.lit = here
            plot.update()
        self.cases.setVisible(bool(lit) and self.session.shown_check() is not Check.STAND)
        if lit:
            self.cases.show_cases(found, here, tuple(int(row) for row in wanted[~inside]))
        name = counted(len(lit), "selected case")
        self.aside.setText(f"Set aside {name} …")

    def _draw(self) -> None:
        """Have the pages drawn for the room there is."""
        found, stand, desk = self.session.checked, self.session.stand, self.session.desk
        if found is not None and stand is not None and stand.fit is not found.fit:
            stand = None
        asking = self._checking.question
        if found is None or not isinstance(asking, Checking) or found.fit is not asking.fit:
            return
        shown = self.session.shown_check()
        self.large.become(shown)
        for check, plot in self.small.items():
            plot.current = check is shown
            plot.update()
        small = tuple((check, plot.size_of_plot) for check, plot in self.small.items())
        large, rows = self.large.size_of_plot, self.table.size_of_plot
        self._pages.ask(PagesOf(found, stand, shown, desk.along, small, large, rows, screen_look()))

    def _show(self, pages: Pages) -> None:
        found, shown = pages.found, self.session.shown_check()
        for (check, plot), placed in zip(self.small.items(), pages.small):
            if placed is None:
                waits = check is Check.STAND and found.asked is not None
                plot.say(WAITS if waits else why_not_drawn(check, found))
            else:
                plot.show_placed(placed, found)
        if shown is Check.STAND:
            if pages.rows is not None:
                self.table.show_drawn(pages.rows)
                self.table.show_chosen(self._chosen_row())
            self._lead()
        elif pages.large is None:
            self.large.say(why_not_drawn(shown, found))
        else:
            self.large.show_placed(pages.large, found)
