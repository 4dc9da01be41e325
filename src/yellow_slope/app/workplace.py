"""What stands around one session: header, roster, six benches, foot and status line, and all that can be done."""

from __future__ import annotations

from collections.abc import Callable
from functools import cached_property
from typing import TYPE_CHECKING, assert_never

from PyQt6.QtCore import QPoint, Qt, pyqtSignal
from PyQt6.QtGui import QCursor, QResizeEvent
from PyQt6.QtWidgets import QApplication, QFrame, QHBoxLayout, QMainWindow, QStackedWidget, QVBoxLayout, QWidget

from yellow_slope.app.explanations.link import Link
from yellow_slope.app.frame.commandfinder import Finder
from yellow_slope.app.frame.firstsight import FirstSight
from yellow_slope.app.frame.foot import Foot
from yellow_slope.app.frame.header import Header
from yellow_slope.app.frame.roster import Roster
from yellow_slope.app.frame.search import Search
from yellow_slope.app.frame.statusline import StatusLine
from yellow_slope.app.keyhomes import AROUND, KeyHomes
from yellow_slope.app.menus import Menus
from yellow_slope.app.state.carrying import Carry
from yellow_slope.app.state.desk import Waypoint
from yellow_slope.app.state.keeper import Keeper
from yellow_slope.app.state.lanes import Lane
from yellow_slope.app.state.needed import load_needed
from yellow_slope.app.state.requests import Copy, NameBlock, Request, WriteLine
from yellow_slope.app.state.session import StudySession
from yellow_slope.app.state.topics import Topic
from yellow_slope.app.state.view import View, view_of
from yellow_slope.app.state.worker import Job, Worker
from yellow_slope.app.verbs.actions import ActionTable, Menu, Scope
from yellow_slope.app.verbs.composing import Composing
from yellow_slope.app.verbs.entering import Entering
from yellow_slope.app.verbs.exporting import Exporting
from yellow_slope.app.verbs.figuring import Figuring
from yellow_slope.app.verbs.files import Files
from yellow_slope.app.verbs.keptmodels import KeptModels
from yellow_slope.app.verbs.kinds import Kinds
from yellow_slope.app.verbs.meant import Meant
from yellow_slope.app.verbs.navigation import Navigation
from yellow_slope.app.verbs.reporting import Reporting
from yellow_slope.app.verbs.saving import Saving
from yellow_slope.app.verbs.sources import Sources
from yellow_slope.app.verbs.standarderrors import StandardErrors
from yellow_slope.app.verbs.targets import Targets
from yellow_slope.app.verbs.treating import Treating
from yellow_slope.app.verbs.unclosed import UnclosedWork
from yellow_slope.app.verbs.whathappened import WhatHappened
from yellow_slope.app.widgets import theme
from yellow_slope.app.widgets.dialogs import Dialogs
from yellow_slope.app.widgets.following import Bench
from yellow_slope.app.widgets.plaintext import PLAIN_TEXTS
from yellow_slope.core.fit.fitted.steps import Resampling
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Term
from yellow_slope.looks import SIZES

if TYPE_CHECKING:
    from yellow_slope.app.blocks.bench import BlocksBench
    from yellow_slope.app.checks.bench import ChecksBench
    from yellow_slope.app.data.bench import DataBench
    from yellow_slope.app.prepare.bench import PrepareBench
    from yellow_slope.app.probe.bench import ProbeBench
    from yellow_slope.app.report.bench import ReportBench

MANY_COLUMNS, UNTIL_DRAWN = 1000, 0.4
"""Of so many columns the window is drawn before the worker, which takes turns with it, begins: seconds."""

WITH_REPORT = 1500
"""Pixels of width from which the foot has room for one more link."""


class Workplace(QWidget):
    """The parts of one window on one session: they know the session, not each other.

    A bench is imported and built when somebody first goes to it, or before, in idle moments (`build_next`).
    """

    shown = pyqtSignal()
    """A study was opened: it is to be seen."""

    def __init__(self, window: QMainWindow, worker: Worker, first: FirstSight) -> None:
        super().__init__()
        self.frame, self.worker, self.first = window, worker, first
        self.session = StudySession(self._evaluate)
        self.worker.went_wrong.connect(self.session.say)
        self.session.on(self._dress, Topic.THEME)  # before any part that draws in the colours of the theme
        self.actions_table = ActionTable()
        self.keys = KeyHomes(self.actions_table)
        self.setObjectName("paper")
        self.dialogs = Dialogs(window)
        self.meant = Meant(self.session)
        self.entering = Entering(self.session, self.meant, self.dialogs)
        self.treating = Treating(self.session, self.meant, self.dialogs)
        self.kinds = Kinds(self.session, self.meant, self.dialogs)
        self.composing = Composing(self.session, self.meant, self.dialogs)
        self.models = KeptModels(self.session, self.dialogs)
        self.menus = Menus(self.session, self.actions_table, self.models, self)
        targets = Targets(self.session, self.dialogs)
        self.keeper = Keeper(self.session, self.worker, window)
        self.saving = Saving(self.session, self.worker, targets)
        self.unclosed = UnclosedWork(self.session, self.worker, self.saving, self.keeper)
        self.fileactions = Files(self.session, self.worker, self.saving, self.unclosed)
        self.happened = WhatHappened(self.session, self.worker, targets, window)
        self.figuring = Figuring(self.session, self.worker, self.dialogs)
        self.exports = Exporting(self.session, self.worker, targets, self.figuring)
        self.inference = StandardErrors(self.session, self.dialogs)
        self.navigation = Navigation(self.session)
        self.equations = Reporting(self.session, self.worker, self.fileactions.copy, self.fileactions.copy_picture)
        self.sources = Sources(self.session)
        self.benches: dict[Waypoint, Bench] = {}
        """Those that are built."""
        self._build()
        for owner in (
            self.fileactions,
            self.saving,
            self.exports,
            self.figuring,
            self.happened,
            self.entering,
            self.treating,
            self.kinds,
            self.composing,
            self.models,
            self.inference,
            self.navigation,
            self.equations,
            self.sources,
            self.header.trail,
            self.roster,
        ):
            self.actions_table.add_all(owner)
        self._wire()
        for scope, home in (
            (Scope.EVERYWHERE, window),
            (Scope.TERMS, self.roster),
            (Scope.ROSTER, self.roster),
            (Scope.TRAIL, self.header.trail),
        ):
            self.keys.add_home(scope, home)

    # ---- evaluating

    def _evaluate(self, study: Study, serial: int) -> None:
        before = self.session.view
        self.worker.drop(Lane.RESAMPLING)

        probing = self.session.desk.waypoint is Waypoint.PROBE

        is_first_of_many = before is None and len(study.table.columns) > MANY_COLUMNS

        def work(job: Job) -> View | None:
            load_needed()
            if is_first_of_many:
                job.stopped.wait(UNTIL_DRAWN)
            return view_of(study, before, job.is_worthless, Resampling(quick_only=True), probing)

        def arrived(view: View | None) -> None:
            if view is not None:
                self.session.arrive(serial, view)
                if view.is_waiting and serial == self.session.serial:
                    self._resample(view, serial)
                else:
                    self._probe()

        self.worker.newest(Lane.EVALUATION, work, arrived, self.session.say)

    def _probe(self) -> None:
        """Ask the current probe once somebody looks: everything else of the newest results stays."""
        view, study = self.session.view, self.session.study
        here = self.session.desk.waypoint is Waypoint.PROBE
        if here and view is not None and not view.is_probed and self.session.is_settled:
            self._evaluate(study, self.session.serial)

    def _resample(self, view: View, serial: int) -> None:
        """Draw the bootstraps that take a while; what has a formula is shown in the meantime."""

        probing = view.is_probed

        def work(job: Job) -> View | None:
            def go_on(share: float) -> None:
                job.share = share
                job.go_on()

            return view_of(view.study, view, job.is_worthless, Resampling(go_on=go_on), probing)

        def arrived(done: View | None) -> None:
            if done is not None:
                self.session.arrive(serial, done)

        self.worker.newest(Lane.RESAMPLING, work, arrived, self.session.say)
        self.status.resampling()

    # ---- building

    def bench(self, waypoint: Waypoint) -> Bench:
        """The bench of a waypoint."""
        match waypoint:
            case Waypoint.DATA:
                return self.data
            case Waypoint.PREPARE:
                return self.prepare
            case Waypoint.BLOCKS:
                return self.blocks
            case Waypoint.CHECKS:
                return self.checks
            case Waypoint.PROBE:
                return self.probe
            case Waypoint.REPORT:
                return self.report
            case _:
                assert_never(waypoint)

    @property
    def is_built(self) -> bool:
        """Whether all benches are."""
        return len(self.benches) == len(Waypoint)

    def build_next(self) -> bool:
        """Build the next bench that nobody has gone to yet; whether there was one."""
        for waypoint in Waypoint:
            if waypoint not in self.benches:
                self.bench(waypoint)
                return True
        return False

    def build_all(self) -> None:
        """Build every bench that nobody has gone to yet."""
        while self.build_next():
            pass

    @cached_property
    def data(self) -> DataBench:
        """The bench of Data."""
        from yellow_slope.app.data.bench import DataBench

        with self.session.catching_up():
            bench = DataBench(self.session, self.kinds, self.worker, self.fileactions.file)
        bench.read_as.chosen.connect(self.fileactions.read_again)
        bench.menu_wanted.connect(lambda at: self.menus.menu(Menu.CASE).popup(at))
        self._settle_in(Waypoint.DATA, bench, bench.verbs, bench.cases)
        self.keys.add_home(Scope.TABLE, bench.view)
        self._tip(bench.codes, self.navigation.switch_codes)
        return bench

    @cached_property
    def prepare(self) -> PrepareBench:
        """The bench of Prepare."""
        from yellow_slope.app.prepare.bench import ON_STRIPS, PrepareBench

        with self.session.catching_up():
            bench = PrepareBench(self.session, self.treating, self.worker, self.dialogs)
        self._settle_in(Waypoint.PREPARE, bench, bench, bench.card)
        self.keys.add_home(Scope.STRIP, bench.list)
        self.keys.add_home(Scope.CARD, bench.card.sheet)
        for found in self.actions_table:
            if found.id in ON_STRIPS:
                self.keys.bind(found, bench.list, AROUND)
        return bench

    @cached_property
    def blocks(self) -> BlocksBench:
        """The bench of Blocks."""
        from yellow_slope.app.blocks.bench import BlocksBench

        with self.session.catching_up():
            bench = BlocksBench(self.session, self.entering, self.worker)
        ladder, below = bench.ladder, bench.below
        ladder.carried.connect(self._carried)
        ladder.menu_wanted.connect(lambda at: self.menus.menu(Menu.TERM, Menu.VARIABLE).popup(at))
        ladder.flag_chosen.connect(self.navigation.show_flag)
        bench.probe_wanted.connect(self.navigation.probe_this)
        below.model_chosen.connect(self.models.compare)
        self.meant.in_ladder = ladder.hasFocus
        self._settle_in(Waypoint.BLOCKS, bench, bench, ladder, below)
        self.keys.add_home(Scope.TERMS, ladder)
        self.keys.add_home(Scope.LADDER, ladder)
        self.keys.add_home(Scope.BELOW, below.table, below.trust.table)
        return bench

    @cached_property
    def checks(self) -> ChecksBench:
        """The bench of Checks."""
        from yellow_slope.app.checks.bench import ChecksBench

        with self.session.catching_up():
            bench = ChecksBench(self.session, self.worker, self.dialogs)
        bench.case_wanted.connect(self._show_case)
        self._settle_in(Waypoint.CHECKS, bench, bench)
        self.keys.add_home(Scope.CHECKS, bench)
        self._tip(bench.beyond, bench.light_all_beyond)
        self._tip(bench.aside, bench.set_lit_aside)
        self._tip(bench.back, bench.take_all_back)
        self._tip(bench.both, bench.switch_before_and_after)
        return bench

    @cached_property
    def probe(self) -> ProbeBench:
        """The bench of Probe."""
        from yellow_slope.app.probe.bench import ProbeBench

        with self.session.catching_up():
            bench = ProbeBench(self.session, self.worker)
        self._settle_in(Waypoint.PROBE, bench, bench, bench.plots, bench.table)
        self.keys.add_home(Scope.PROBE, bench)
        self.keys.add_home(Scope.HANDLE, bench.plots)
        self.keys.add_home(Scope.EFFECTS, bench.table)
        self._tip(bench.swap, bench.swap_roles)
        return bench

    @cached_property
    def report(self) -> ReportBench:
        """The bench of Report."""
        from yellow_slope.app.report.bench import ReportBench

        with self.session.catching_up():
            bench = ReportBench(self.session, self.worker, self.equations, self.figuring, self.sources, self.dialogs)
        bench.save_wanted.connect(self.exports.save_report)
        bench.figure_wanted.connect(self.exports.export_figure)
        bench.table_wanted.connect(self.exports.save_table)
        canvas = bench.tuner.canvas
        self._settle_in(Waypoint.REPORT, bench, canvas, bench.parts)
        self.keys.add_home(Scope.FIGURE, canvas)
        self.keys.add_home(Scope.PARTS, bench.parts.list)
        self._tip(bench.figure_button, self.exports.export_figure)
        self._tip(bench.save_button, self.exports.save_report)
        return bench

    def _settle_in(self, waypoint: Waypoint, bench: Bench, *owners: object) -> None:
        """Give a bench its place, and register what can be done there."""
        self.benches[waypoint] = bench
        self.stack.addWidget(bench)
        for owner in owners:
            self.actions_table.add_all(owner, 1 + list(Waypoint).index(waypoint))

    def _build(self) -> None:
        self.header = Header(self.session)
        self.roster = Roster(self.session, self.worker)
        self.search = Search(self.session, self.roster, self.actions_table)
        box = QHBoxLayout()
        box.setContentsMargins(12, 0, 12, 0)
        box.addWidget(self.search)
        side = QVBoxLayout()
        side.setContentsMargins(0, 8, 0, 0)
        side.addLayout(box)
        side.addWidget(self.roster, 1)
        self.side = QWidget()
        self.side.setLayout(side)
        self.side.setFixedWidth(SIZES.roster)
        self.stack = QStackedWidget()
        self.foot = Foot(self.session, self.worker, self.dialogs, self._foot_links, self.sources.can_be_found)
        self.foot.figures.clicked.connect(self.sources.find_in_report)
        self.status = StatusLine(self.session, self.worker, self.inference)
        right = _column(self.stack, _line(), self.foot)
        middle = QHBoxLayout()
        middle.setSpacing(0)
        middle.addWidget(self.side)
        middle.addWidget(_line(upright=True))
        middle.addLayout(right, 1)
        whole = _column(self.header, _line())
        whole.addLayout(middle, 1)
        whole.addWidget(_line())
        whole.addWidget(self.status)
        self.setLayout(whole)

    def _wire(self) -> None:
        files, navigation = self.fileactions, self.navigation
        files.trouble = self._file_trouble
        self.unclosed.found = self.first.offer
        self.header.trail.gone_to.connect(navigation.go)
        self.header.menu_wanted.connect(self._show_study_menu)
        self.header.act_on(self.actions_table.of(files.undo), self.actions_table.of(files.redo))
        self.search.left.connect(self._unfold)
        self.roster.carried.connect(self._carried)
        self.roster.menu_wanted.connect(lambda at: self.menus.menu(Menu.VARIABLE, Menu.TERM).popup(at))
        self.roster.flag_chosen.connect(navigation.show_flag)
        self.status.flags_clicked.connect(navigation.next_flag)
        self.status.jobs.watch(self.worker)
        self._tip(self.first.demo, files.open_demo)
        self._tip(self.first.browse_button, files.browse)
        self._tip(self.status.flags, navigation.next_flag)
        self.session.on(self._opened, Topic.OPENED)
        self.session.on(self._desk_changed, Topic.WAYPOINT)
        self.session.on(self._probe, Topic.WAYPOINT)
        self.session.on(self._title, Topic.STUDY)
        self.session.on(self._asked, Topic.REQUEST)

    def _file_trouble(self, said: str) -> None:
        self.first.show_trouble(said)
        self.session.say(said)

    def _tip(self, button: QWidget, method: Callable[..., object]) -> None:
        """A button that runs an action says what the table of actions says."""
        button.setToolTip(self.actions_table.of(method).tooltip)

    # ---- what is shown

    def open_path(self, text: str) -> None:
        """Open a table or study file."""
        self.fileactions.open_path(text)

    def go(self, waypoint: Waypoint) -> None:
        """Go to a waypoint."""
        self.navigation.go(waypoint)

    def _opened(self) -> None:
        self.shown.emit()
        self._desk_changed()
        self.roster.setFocus()

    def _title(self) -> None:
        if self.session.is_open:
            mark = "" if self.session.is_saved else " •"
            self.frame.setWindowTitle(f"{self.session.study.name}{mark} — Yellow Slope")

    def _show_case(self, row: int) -> None:
        """Show a case in the table."""
        self.go(Waypoint.DATA)
        self.data.verbs.show_cell(row, "")

    def _desk_changed(self) -> None:
        waypoint = self.session.desk.waypoint
        bench = self.bench(waypoint)
        if self.stack.currentWidget() is bench:
            return
        self.stack.setCurrentWidget(bench)
        focused = QApplication.focusWidget()
        if focused is not self.roster and focused is not self.header.trail:
            self._focus_bench()

    def _focus_bench(self) -> None:
        """Put the keyboard on the waypoint's main part."""
        self.bench(self.session.desk.waypoint).take_keyboard()

    def _dress(self) -> None:
        """Take on the theme of the desk."""
        app = QApplication.instance()
        if isinstance(app, QApplication) and theme.is_dark() != self.session.desk.dark:
            with PLAIN_TEXTS.at_rest():
                theme.dress(app, self.session.desk.dark)
            for widget in self.frame.findChildren(QWidget):
                widget.update()

    def _foot_links(self) -> list[Link]:
        """What the foot offers: the sentence to copy, where the report says it, and what goes with the waypoint."""
        bench, waypoint = self.bench(self.session.desk.waypoint), self.session.desk.waypoint
        says = not self.foot.told.is_instruction
        copy = [("Copy", self.navigation.copy_sentence)] if says else []
        offers = bench.offers()
        has_place = says and self.width() >= WITH_REPORT and self.sources.can_be_found()
        reported = [("In the report", self.sources.find_in_report)] if has_place else []
        is_named = waypoint is Waypoint.DATA or not self.navigation.has_unnamed_group()
        name = [] if is_named else [("Name the levels", self.navigation.name_levels)]
        offered = [*copy, *reported, *name, *offers]
        return [
            Link(text, found.tooltip, found.run) for text, found in ((t, self.actions_table.of(m)) for t, m in offered)
        ]

    # ---- what parts ask of the window

    def _asked(self) -> None:  # noqa: C901, PLR0912 - a table: one case for each kind
        asked = self.session.asked
        match asked:
            case WriteLine(text):
                self.go(Waypoint.BLOCKS)
                self.blocks.quick.begin(text)
            case NameBlock(block):
                self.blocks.ask_name(block)
            case Copy(text):
                self.fileactions.copy(text)
            case Request.CHOOSE_OUTCOME:
                self.go(Waypoint.BLOCKS)
                self.blocks.outcome.setFocus()
                self.blocks.outcome.showMenu()
            case Request.COPY_SENTENCE:
                self.fileactions.copy(self.foot.whole_text())
            case Request.FIND_COMMAND:
                self._find_command()
            case Request.FIND_VARIABLE:
                self._fold(False)
                self.search.begin()
            case Request.FIND_IN_REPORT:
                self.report.found.begin()
            case Request.FOCUS_BENCH:
                self._focus_bench()
            case Request.NAME_LEVELS:
                self.data.card.begin_names()
            case Request.NAME_COMPARISON:
                self.prepare.card.ask_name()
            case Request.SPACE_LEVELS:
                self.prepare.card.space()
            case Request.COMPLETE_QUESTIONS:
                self.prepare.card.complete()
            case Request.ADD_GROUP_MEANS:
                self.treating.add_group_means()
            case Request.QUIT:
                self.frame.close()
            case None:
                pass
            case _:
                assert_never(asked)

    def _find_command(self) -> None:
        self.build_all()
        before = QApplication.focusWidget()
        finder = Finder(self.actions_table, self)

        def back() -> None:
            self.frame.activateWindow()
            if before is not None and before.isVisible():
                before.setFocus()

        finder.rejected.connect(back)
        finder.chosen.connect(back)
        finder.move(self.mapToGlobal(QPoint((self.width() - finder.width()) // 2, 70)))
        finder.open()
        finder.field.setFocus()

    def _show_study_menu(self) -> None:
        self.menus.study_menu().popup(self.header.name.mapToGlobal(QPoint(0, self.header.name.height())))

    # ---- carrying terms with the mouse

    def _carried(self, term: Term, place: QPoint, how: Carry) -> None:
        inside = self.blocks.carry(term, place, how)
        if how is Carry.MOVE:
            shape = Qt.CursorShape.DragCopyCursor if inside else Qt.CursorShape.ClosedHandCursor
            if QApplication.overrideCursor() is None:
                QApplication.setOverrideCursor(QCursor(shape))
        else:
            QApplication.restoreOverrideCursor()

    # ---- its width

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._unfold()

    def _unfold(self) -> None:
        """The roster at its width for the window; folded where the window is narrow and nothing is searched."""
        self._fold(self.width() < SIZES.fold_below and not self.search.is_used)

    def _fold(self, folded: bool) -> None:
        if self.roster.folded != folded:
            self.roster.folded = folded
            self.side.setFixedWidth(SIZES.roster_folded if folded else SIZES.roster)
            self.roster.fit_scroll()


def _column(*widgets: QWidget) -> QVBoxLayout:
    layout = QVBoxLayout()
    layout.setContentsMargins(0, 0, 0, 0)
    layout.setSpacing(0)
    for widget in widgets:
        layout.addWidget(widget, 1 if isinstance(widget, QStackedWidget) else 0)
    return layout


def _line(upright: bool = False) -> QFrame:
    line = QFrame()
    line.setObjectName("line")
    if upright:
        line.setFixedWidth(1)
    else:
        line.setFixedHeight(1)
    return line
