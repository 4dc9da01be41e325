"""The waypoint Blocks: outcome, quick line and ladder."""

from __future__ import annotations

from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QLineEdit, QVBoxLayout, QWidget

from yellow_slope.app.actions import action
from yellow_slope.app.blocks.groups import GroupsSheet
from yellow_slope.app.blocks.ladder import Ladder
from yellow_slope.app.blocks.layout import DENSITIES
from yellow_slope.app.blocks.preview import Preview
from yellow_slope.app.blocks.quick import QuickLine
from yellow_slope.app.desk import Cell
from yellow_slope.app.modelactions import ModelActions
from yellow_slope.app.picker import Picker
from yellow_slope.app.session import StudySession
from yellow_slope.app.worker import Worker
from yellow_slope.core.data.variable import Kind
from yellow_slope.core.quickline import Reading
from yellow_slope.core.study import edits
from yellow_slope.core.study.terms import Term
from yellow_slope.looks import SIZES

STEPS = ""
MOST_OFFERED = 60
"""Groups offered by the chip; the others by the roster."""


class BlocksBench(QWidget):
    """Specification and live result in one."""

    def __init__(
        self, session: StudySession, modelactions: ModelActions, worker: Worker, parent: QWidget | None = None
    ) -> None:
        super().__init__(parent)
        self.session, self.modelactions = session, modelactions
        self.outcome = Picker("Outcome", "Choose the outcome; it must be a number")
        self.outcome.chosen.connect(self._choose_outcome)
        self.quick = QuickLine(session)
        self.quick.accepted.connect(self.take_line)
        self.quick.left.connect(self.focus_ladder)
        self.bars = Picker("Scale of the bars", "All rows on one axis from low to high, or each row on its own")
        self.bars.set_choices(
            [("low to high", "bars: low to high"), ("own scale per row", "bars: own scale per row")], "low to high"
        )
        self.bars.chosen.connect(lambda value: session.look(own_scales=value != "low to high"))
        self.density = Picker("Figures of the open step", "How much the open step shows of each coefficient")
        self.density.limit = 30
        self.density.set_choices([(d.name, d.name) for d in DENSITIES], session.desk.density)
        self.density.chosen.connect(lambda name: session.look(density=name))
        self.across = Picker(
            "What stands across", "Steps side by side, or the last step fitted in every level of a group"
        )
        self.across.chosen.connect(self._choose_across)
        self.groups = GroupsSheet(session)
        self.ladder = Ladder(session)
        self.preview = Preview(session, worker, self._show_coming)
        self.quick.read.connect(self.preview.show)
        self.ladder.begin_block.connect(modelactions.enter_new)
        self.ladder.name_wanted.connect(self.ask_name)
        self.problem = QLabel()
        self.problem.setObjectName("soft")
        self.problem.setWordWrap(True)
        self.problem.setTextFormat(Qt.TextFormat.PlainText)
        self.problem.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.problem.setContentsMargins(8, 6, 8, 6)
        self._naming: QLineEdit | None = None
        top = QHBoxLayout()
        top.setSpacing(8)
        label = QLabel("Outcome")
        label.setObjectName("soft")
        label.setFixedHeight(30)
        for widget in (label, self.outcome):
            top.addWidget(widget, 0, Qt.AlignmentFlag.AlignTop)
        top.addWidget(self.quick, 1)
        for widget in (self.across, self.density, self.bars):
            top.addWidget(widget, 0, Qt.AlignmentFlag.AlignTop)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(SIZES.margin, 7, SIZES.margin, 0)
        layout.setSpacing(0)
        layout.addLayout(top)
        layout.addWidget(self.problem)
        layout.addWidget(self.ladder, 1)
        layout.addWidget(self.groups, 1)
        self.groups.hide()
        session.on("study", self._renew)
        session.on("results", self._renew)
        session.on("desk", self._renew_bars)

    def _renew_bars(self) -> None:
        self.bars.set_current("own scale per row" if self.session.desk.own_scales else "low to high")
        self.density.set_current(self.session.desk.density)

    def _show_coming(self) -> None:
        """What a typed line would make stands pale in the ladder."""
        self.ladder.show_coming(self.preview.coming)

    def _renew(self) -> None:
        study = self.session.study
        if study is None:
            return
        choices = [(v.name, v.label) for v in study.variables if not edits.why_no_outcome(study, v)]
        self.outcome.set_choices(choices, study.model.outcome)
        groups = [(v.name, f"by {v.label}") for v in study.variables if v.kind is Kind.GROUP][:MOST_OFFERED]
        self.across.set_choices([(STEPS, "steps"), *groups], study.model.by or STEPS)
        view = self.session.view
        by = study.model.by is not None and bool(study.model.blocks)
        had = self.ladder.hasFocus() or self.groups.hasFocus()
        self.ladder.setVisible(not by)
        self.groups.setVisible(by)
        if had:
            self.focus_ladder()
        self.bars.setEnabled(not by)
        if by and view is not None and view.groups_refusal:
            self.problem.setText(view.groups_refusal)
            self.problem.show()
            return
        said = self.session.view.evaluation.problem if self.session.view else ""
        if said and study.model.outcome is None:
            said = "Choose an outcome here, or press Y on a variable; then drop variables below, or type a model in the line above."
        elif said and not study.model.blocks:
            said = "Drop a variable below, press Enter on one in the roster, or type a model in the line above."
        self.problem.setText(said)
        self.problem.setVisible(bool(said))

    def has_study(self) -> bool:
        """Whether there is a study to work on."""
        return self.session.study is not None

    def _choose_across(self, name: str) -> None:
        self.session.edit(
            "one model per group" if name != STEPS else "one model of all groups",
            lambda s: edits.set_by(s, None if name == STEPS else name),
        )

    @action(
        "one model per group", "Fit the last step in every level of the current group, side by side; again: steps",
        "Ctrl+B", menu="term", available="has_study",
    )  # fmt: skip
    def one_per_group(self) -> None:
        """Turn the steps into groups and back: those of the roster's variable, else of the model's only group."""
        study = self.session.study
        if study is None:
            return
        if study.model.by is not None:
            self._choose_across(STEPS)
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
        self.session.look(waypoint="Blocks")

    def focus_ladder(self) -> None:
        """Put the keyboard on the ladder, or on the groups that stand in its place."""
        self.main_part.setFocus(Qt.FocusReason.OtherFocusReason)

    @property
    def main_part(self) -> QWidget:
        """What is worked on: the ladder, or one model per group."""
        study = self.session.study
        return self.groups if study is not None and study.model.by is not None and study.model.blocks else self.ladder

    def _choose_outcome(self, name: str) -> None:
        self.modelactions.choose_outcome(name)

    def take_line(self, reading: Reading) -> None:
        """Apply a typed line and choose what it entered last."""
        self.preview.clear()
        if self.session.edit("type a model", reading.apply):
            study = self.session.study
            assert study is not None
            if study.model.blocks:
                terms = study.model.blocks[-1].terms
                products = [t for t in terms if t.is_product]
                self.modelactions.show((products or list(terms))[-1])
            self.focus_ladder()

    # ---- carrying

    def land(self) -> None:
        """A carried term was dropped on the ladder."""
        what, block, partner = self.ladder.landing()
        over = self.ladder.over
        if over is None:
            return
        term = over[0]
        if what == "multiply" and partner is not None:
            self.modelactions.enter_product(partner.times(term))
        elif what == "enter":
            self.modelactions.enter_in(term, block)

    # ---- naming a block

    def ask_name(self, block: int) -> None:
        """Edit a block's name in place."""
        study = self.session.study
        area = self.ladder.rect_of(Cell(block=block))
        if study is None or area is None or block >= len(study.model.blocks):
            return
        field = QLineEdit(study.model.blocks[block].name, self.ladder.viewport())
        field.setAccessibleName(f"Name of block {block + 1}")
        field.setPlaceholderText("what this block asks")
        field.setGeometry(22, int(area.top()), 260, SIZES.row)
        self._naming = field

        def done() -> None:
            if self._naming is field:
                self._naming = None
                text = field.text()
                field.deleteLater()
                self.session.edit("name a block", lambda s: edits.name_block(s, block, text))
                self.focus_ladder()

        field.editingFinished.connect(done)
        field.show()
        field.selectAll()
        field.setFocus()

    def carry(self, term: Term, place: QPoint, how: str) -> bool:
        """A term is carried over the window: follow, drop or cancel. True while it is over the ladder."""
        local = self.ladder.viewport().mapFromGlobal(place)
        inside = self.isVisible() and self.ladder.viewport().rect().contains(local)
        if how == "move":
            self.ladder.carry_over(term, local if inside else None)
        elif how == "drop":
            if inside:
                self.ladder.carry_over(term, local)
                self.land()
            self.ladder.carry_over(term, None)
        else:
            self.ladder.carry_over(term, None)
        return inside
