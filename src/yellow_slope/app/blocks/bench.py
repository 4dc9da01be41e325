"""The waypoint Blocks: outcome, quick line, ladder, what the steps say below it, and the chosen product's plot beside
it."""

from __future__ import annotations

from collections.abc import Callable
from typing import assert_never

from PyQt6.QtCore import QPoint, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QLineEdit, QVBoxLayout, QWidget

from yellow_slope.app.blocks.below import BAR, TITLES, BelowPanel
from yellow_slope.app.blocks.comparestrip import CompareStrip
from yellow_slope.app.blocks.groups import GroupsSheet
from yellow_slope.app.blocks.ladder import Ladder
from yellow_slope.app.blocks.layout import HEAD, density_name
from yellow_slope.app.blocks.plotbeside import PlotBeside
from yellow_slope.app.blocks.preview import Preview
from yellow_slope.app.blocks.quick import QuickLine
from yellow_slope.app.state.carrying import Carry, Entered, Multiplied
from yellow_slope.app.state.desk import Cell, Density, Under, Waypoint
from yellow_slope.app.state.lanes import Lane
from yellow_slope.app.state.session import StudySession
from yellow_slope.app.state.topics import Topic
from yellow_slope.app.state.worker import Worker
from yellow_slope.app.verbs.actions import Menu, action
from yellow_slope.app.verbs.entering import Entering
from yellow_slope.app.verbs.figuring import Figuring
from yellow_slope.app.verbs.navigation import Navigation
from yellow_slope.app.verbs.nextsteps import next_steps
from yellow_slope.app.widgets.following import Bench
from yellow_slope.app.widgets.nextsteps import NextSteps
from yellow_slope.app.widgets.picker import Picker
from yellow_slope.core.data.variable import Kind
from yellow_slope.core.quickline import Reading
from yellow_slope.core.study.edits.blocks import name_block, why_no_outcome
from yellow_slope.core.study.edits.models import set_by
from yellow_slope.core.study.terms import Term
from yellow_slope.looks import SIZES

MOST_OFFERED = 60
"""Groups offered by the chip; the others by the roster."""
WIDE = 1500
"""From this width of the window on the chosen product's plot stands beside the ladder."""
LEAST_BELOW, LEAST_LADDER = 150, 190
TRUST_HEIGHT = 320


class BlocksBench(Bench):
    """Specification and live result in one."""

    probe_wanted = pyqtSignal()

    def __init__(
        self, session: StudySession, entering: Entering, worker: Worker, parent: QWidget | None = None
    ) -> None:
        super().__init__(session, worker, Lane.TYPED_MODEL, parent)
        self.entering = entering
        self.outcome = Picker[str]("Outcome", "Choose the outcome; it must be a number")
        self.outcome.whenever_chosen(self._choose_outcome)
        self.quick = QuickLine(session)
        self.quick.accepted.connect(self.take_line)
        self.quick.left.connect(self.focus_ladder)
        self._make_views(session)
        self.groups = GroupsSheet(session)
        self.ladder = Ladder(session)
        self.preview = Preview(session, worker, self._show_coming)
        self.quick.read.connect(self.preview.show)
        self.ladder.begin_block.connect(entering.enter_new)
        self.ladder.name_wanted.connect(self.ask_name)
        self.strip = CompareStrip(session, worker)
        self.strip.grown.connect(lambda: QTimer.singleShot(0, self._fit_parts))
        self.below = BelowPanel(session, worker)
        self.plot = PlotBeside(session, worker)
        self.plot.probe_wanted.connect(self.probe_wanted.emit)
        self.problem = QLabel()
        self.problem.setObjectName("soft")
        self.problem.setWordWrap(True)
        self.problem.setTextFormat(Qt.TextFormat.PlainText)
        self.problem.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.problem.setContentsMargins(8, 6, 8, 6)
        self._naming: QLineEdit | None = None
        self._lay_out()
        self.follow(session, Topic.STUDY, Topic.RESULTS)
        session.on(self._desk_changed, Topic.LADDER)

    def _make_views(self, session: StudySession) -> None:
        """The chips that change what is seen, not what is computed, and the one that turns steps into groups."""
        self.bars = Picker[bool]("Scale of the bars", "All rows on one axis from low to high, or each row on its own")
        self.bars.caption = "bars"
        self.bars.set_choices([(False, "low to high, all on one axis"), (True, "own scale per row")], False)
        self.bars.whenever_chosen(lambda own: session.look(own_scales=own))
        self.density = Picker[Density](
            "Columns of the open step", "Which statistics the open step shows of each coefficient"
        )
        self.density.caption = "figures"
        self.density.set_choices([(density, density_name(density)) for density in Density], session.desk.density)
        self.density.whenever_chosen(lambda density: session.look(density=density))
        self.across = Picker[str | None](
            "What the columns show", "Steps side by side, or the last step fitted in every level of a group"
        )
        self.across.whenever_chosen(self._choose_across)
        self.under = Picker[Under](
            "Table below the ladder", "Step statistics, descriptives, models, or how far to trust the product"
        )
        self.under.caption = "below"
        self.under.set_choices([*TITLES.items(), (Under.NOTHING, "nothing")], Under.NOTHING)
        self.under.whenever_chosen(lambda part: session.look(below=part))

    def _lay_out(self) -> None:
        top = QHBoxLayout()
        top.setSpacing(8)
        label = QLabel("Outcome")
        label.setObjectName("soft")
        label.setFixedHeight(30)
        before: tuple[QWidget, ...] = (label, self.outcome)
        after: tuple[QWidget, ...] = (self.across, self.density, self.bars, self.under)
        for widget in before:
            top.addWidget(widget, 0, Qt.AlignmentFlag.AlignTop)
        top.addWidget(self.quick, 1)
        for widget in after:
            top.addWidget(widget, 0, Qt.AlignmentFlag.AlignTop)
        left = QVBoxLayout()
        left.setSpacing(0)
        left.addWidget(self.strip)
        left.addWidget(self.problem)
        self.next = NextSteps()
        left.addWidget(self.next)
        left.addWidget(self.ladder, 1)
        left.addWidget(self.groups, 1)
        left.addWidget(self.below)
        sides = QHBoxLayout()
        sides.setSpacing(14)
        sides.addLayout(left, 1)
        sides.addWidget(self.plot)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(SIZES.margin, 7, SIZES.margin, 0)
        layout.setSpacing(0)
        layout.addLayout(top)
        layout.addLayout(sides, 1)
        self.groups.hide()
        self.below.hide()
        self.plot.hide()

    # ---- what is seen

    def _desk_changed(self) -> None:
        self.bars.set_current(self.session.desk.own_scales)
        self.density.set_current(self.session.desk.density)
        self._fit_parts()

    def _show_coming(self) -> None:
        """What a typed line would make stands pale in the ladder."""
        self.ladder.show_coming(self.preview.coming)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._fit_parts()

    def _fit_parts(self) -> None:
        """Which parts stand beside and below the ladder, and how high the lower one is."""
        study, desk = self.session.study, self.session.desk
        window = self.window()
        has_blocks = bool(study.model.blocks)
        self.plot.setVisible(has_blocks and window is not None and window.width() >= WIDE)
        self.plot.setFixedWidth(min(560, max(420, round(self.width() * 0.34))))
        above = self.main_part.y() or 57
        spare = self.height() - above - HEAD - self.ladder.whole_height()
        part = (
            desk.below
            if desk.below is not None
            else (Under.STEPS if has_blocks and spare >= LEAST_BELOW else Under.NOTHING)
        )
        self.under.set_current(part)
        self.below.setVisible(part is not Under.NOTHING)
        if part is Under.NOTHING:
            return
        wanted = TRUST_HEIGHT if part is Under.TRUST else BAR + 40 + self.below.table.wanted_height
        height = spare
        if desk.below is not None and wanted > spare:
            most = self.height() - above - LEAST_LADDER
            height = max(LEAST_BELOW, min(round(0.5 * self.height()), most, wanted))
            height += (self.height() - above - HEAD - height) % SIZES.row  # whole rows of the ladder
        self.below.setFixedHeight(height)
        self.below.show_part(part)

    def renew(self) -> None:
        study = self.session.study
        choices = [(v.name, v.label) for v in study.variables if not why_no_outcome(study, v)]
        self.outcome.set_choices(choices, study.model.outcome)
        groups = [(v.name, f"by {v.label}") for v in study.variables if v.kind is Kind.GROUP][:MOST_OFFERED]
        self.across.set_choices([(None, "steps"), *groups], study.model.by)
        view = self.session.view
        by = study.model.by is not None and bool(study.model.blocks)
        had = self.ladder.hasFocus() or self.groups.hasFocus()
        self.ladder.setVisible(not by)
        self.groups.setVisible(by)
        if had:
            self.focus_ladder()
        self.bars.setEnabled(not by)
        self.density.setEnabled(not by)
        self._fit_parts()
        if by and view is not None and view.groups_refusal:
            self.problem.setText(view.groups_refusal)
            self.problem.show()
            self.next.offer([])
            return
        said = self.session.view.evaluation.problem if self.session.view else ""
        if said and study.model.outcome is None:
            said = (
                "Choose an outcome here, or press Y on a variable; then drop variables below, or type a model in the "
                "line above."
            )
        elif said and not study.model.blocks:
            said = "Drop a variable below, press Enter on one in the roster, or type a model in the line above."
        self.problem.setText(said)
        self.problem.setVisible(bool(said))
        self.next.offer(next_steps(self.session) if said else [])

    @action(
        "show or hide the table below",
        "Show the step statistics below the ladder, or give the room to the ladder",
        "Ctrl+Shift+B",
        available="session.is_open",
    )
    def switch_below(self) -> None:
        """What the steps say, or nothing."""
        self.session.look(waypoint=Waypoint.BLOCKS, below=Under.NOTHING if self.below.isVisible() else Under.STEPS)

    @action("step statistics", "All statistics of each step, below the ladder", "Ctrl+1", available="session.is_open")
    def show_steps(self) -> None:
        """The steps below the ladder."""
        self.session.look(waypoint=Waypoint.BLOCKS, below=Under.STEPS)

    @action(
        "descriptives and correlations",
        "Of exactly the model's cases, below the ladder",
        "Ctrl+2",
        available="session.is_open",
    )
    def show_variables(self) -> None:
        """The variables below the ladder."""
        self.session.look(waypoint=Waypoint.BLOCKS, below=Under.VARIABLES)

    @action(
        "models side by side",
        "The study's models with their fit and coefficients, below the ladder",
        "Ctrl+3",
        menu=Menu.MODELS,
        available="session.is_open",
    )
    def show_models(self) -> None:
        """The models below the ladder."""
        self.session.look(waypoint=Waypoint.BLOCKS, below=Under.MODELS)

    @action(
        "how far to trust a product",
        "Power, reliability, and covariates' products",
        "Ctrl+4",
        available="session.is_open",
    )
    def show_trust(self) -> None:
        """The chosen product's trials below the ladder."""
        self.session.look(waypoint=Waypoint.BLOCKS, below=Under.TRUST)

    @action(
        "next columns of the open step",
        "Show the open step's next set of columns",
        "Ctrl+Shift+D",
        available="session.is_open",
    )
    def next_density(self) -> None:
        """From interval only to all figures and round again."""
        every = list(Density)
        now = every.index(self.session.desk.density)
        self.session.look(density=every[(now + 1) % len(every)])

    # ---- groups across

    def _choose_across(self, name: str | None) -> None:
        self.session.edit(
            "one model per group" if name is not None else "one model of all groups", lambda s: set_by(s, name)
        )

    @action(
        "one model per group",
        "Fit the last step in every level of the current group, side by side; again: steps",
        "Ctrl+B",
        menu=Menu.TERM,
        available="session.is_open",
    )
    def one_per_group(self) -> None:
        """Turn the steps into groups and back: those of the roster's variable, else of the model's only group."""
        study = self.session.study
        if study.model.by is not None:
            self._choose_across(None)
            return
        name = self.session.desk.variable
        if name is None or study.variable(name).kind is not Kind.GROUP:
            inside = [v for v in study.model.variables if study.variable(v).kind is Kind.GROUP]
            every = inside or [v.name for v in study.variables if v.kind is Kind.GROUP]
            if len(every) != 1:
                self.session.say("Choose a group variable in the roster first.")
                return
            name = every[0]
        self._choose_across(name)
        self.session.look(waypoint=Waypoint.BLOCKS)

    def focus_ladder(self) -> None:
        """Put the keyboard on the ladder, or on the groups that stand in its place."""
        self.main_part.setFocus(Qt.FocusReason.OtherFocusReason)

    @property
    def main_part(self) -> QWidget:
        """What is worked on: the ladder, or one model per group."""
        study = self.session.study
        return self.groups if study.model.by is not None and study.model.blocks else self.ladder

    def offers(self) -> list[tuple[str, Callable[..., object]]]:
        cell = self.session.desk.cell
        if cell is None or cell.term is None:
            return []
        probe = [("Probe this", Navigation.probe_this)] if cell.term.is_product else []
        return [*probe, ("Show column", Navigation.show_column), ("Make a figure", Figuring.make)]

    def _choose_outcome(self, name: str) -> None:
        self.entering.choose_outcome(name)

    def take_line(self, reading: Reading) -> None:
        """Apply a typed line and choose what it entered last."""
        self.preview.clear()
        if self.session.edit("type a model", reading.apply):
            study = self.session.study
            if study.model.blocks:
                terms = study.model.blocks[-1].terms
                products = [t for t in terms if t.is_product]
                self.entering.meant.show((products or list(terms))[-1])
            self.focus_ladder()

    # ---- carrying

    def land(self) -> None:
        """A carried term was dropped on the ladder."""
        landing, over = self.ladder.landing(), self.ladder.over
        if over is None or landing is None:
            return
        match landing:
            case Multiplied(by):
                self.entering.enter_product(by.times(over[0]))
            case Entered(block):
                self.entering.enter_in(over[0], block)
            case _:
                assert_never(landing)

    # ---- naming a block

    def ask_name(self, block: int) -> None:
        """Edit a block's name in place."""
        study = self.session.study
        area = self.ladder.rect_of(Cell(block=block))
        if area is None or block >= len(study.model.blocks):
            return
        field = QLineEdit(study.model.blocks[block].name, self.ladder.viewport())
        field.setAccessibleName(f"Name of block {block + 1}")
        field.setPlaceholderText("a name for this block")
        field.setGeometry(22, int(area.top()), 260, SIZES.row)
        self._naming = field

        def done() -> None:
            if self._naming is field:
                self._naming = None
                text = field.text()
                field.deleteLater()
                self.session.edit("name a block", lambda s: name_block(s, block, text))
                self.focus_ladder()

        field.editingFinished.connect(done)
        field.show()
        field.selectAll()
        field.setFocus()

    def carry(self, term: Term, place: QPoint, how: Carry) -> bool:
        """A term is carried over the window. True while it is over the ladder."""
        local = self.ladder.viewport().mapFromGlobal(place)
        inside = self.isVisible() and self.ladder.viewport().rect().contains(local)
        match how:
            case Carry.MOVE:
                self.ladder.carry_over(term, local if inside else None)
            case Carry.DROP:
                if inside:
                    self.ladder.carry_over(term, local)
                    self.land()
                self.ladder.carry_over(term, None)
            case _:
                assert_never(how)
        return inside
