"""The chosen variable's card: kind, label, unit, treatment, levels with counts."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import (
    QApplication,
    QFrame,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QPushButton,
    QScrollArea,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from yellow_slope.app.data.levels import LevelsPanel
from yellow_slope.app.data.portraits import HEIGHT, histogram, outcome_by_level
from yellow_slope.app.state.asking import Asked, Question
from yellow_slope.app.state.lanes import Lane
from yellow_slope.app.state.session import StudySession
from yellow_slope.app.state.topics import Topic
from yellow_slope.app.state.worker import Job, Worker
from yellow_slope.app.verbs.kinds import Kinds
from yellow_slope.app.widgets.field import Field, NamesField
from yellow_slope.app.widgets.following import Follows
from yellow_slope.app.widgets.picker import Picker
from yellow_slope.core.data.formula import expression_text
from yellow_slope.core.data.table import NumberColumn, number_text
from yellow_slope.core.data.variable import Kind, Variable, shortened
from yellow_slope.core.fit.asked.summaries import LevelSummary, Portrait, level_summaries, portrait_of
from yellow_slope.core.study.edits.descriptions import give_value, label_edit, unit_edit
from yellow_slope.core.study.edits.entries import treat
from yellow_slope.core.study.edits.kinds import may_be_code, name_codes
from yellow_slope.core.study.flagkeys import FlagKind
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.treatment import READY, Treatment
from yellow_slope.core.study.whole import Edit
from yellow_slope.core.typed import typed_number
from yellow_slope.core.words.names.numbers import treatment_name
from yellow_slope.core.words.sentences.columns import apart_name, costs, kind_reason, number_rows
from yellow_slope.values import dataclass

WIDTH = 292
SCROLL_BAR = 12
SHOWN_LEVELS = 40
SHOWN_MEANS = 12
SHOWN_STRAYS = 8
OF_COLUMNS = (FlagKind.MISSING_CODE, FlagKind.STRAY, FlagKind.CODE)
"""Flags that are about the column itself."""


Summary = Portrait | tuple[LevelSummary, ...]


@dataclass(frozen=True, slots=True)
class PortraitOf(Question[Summary]):
    """Where the values of a column lie; of a group the cases of each level, and the outcome in them."""

    lane = Lane.CARD
    study: Study
    name: str
    outcome: str | None
    level: float

    def answer(self, job: Job) -> Summary:
        variable, columns = self.study.variable(self.name), self.study.columns
        if variable.kind is Kind.NUMBER:
            return portrait_of(self.study, self.name)
        values = columns.numbers(self.outcome) if self.outcome is not None else None
        return level_summaries(columns.levels(self.name), len(variable.levels), values, self.level)


class VariableCard(Follows, QScrollArea):
    """Everything about one variable, and where to change it."""

    change_wanted = pyqtSignal(str)
    """A computed column is to be computed otherwise."""

    def __init__(self, session: StudySession, kinds: Kinds, worker: Worker, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session, self._kinds = session, kinds
        self._portrayed: Asked[Summary] = Asked(worker, self._portrait_is_there, session.say)
        self.setFixedWidth(WIDTH)
        self.setWidgetResizable(True)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setAccessibleName("The chosen variable")
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self._shown: tuple[object, ...] = ()
        self._of: str | None = None
        self.follow(session, Topic.STUDY, Topic.RESULTS, Topic.CHOICE, Topic.WAYPOINT)

    def begin_names(self) -> None:
        """Put the keyboard on the field for the names of all levels, where there is one."""
        for field in self.findChildren(NamesField):
            self.ensureWidgetVisible(field)
            field.setFocus()
            field.selectAll()
            return

    def renew(self) -> None:
        study, name = self.session.study, self.session.desk.variable
        variable = study.variable(name) if name else None
        key = (study.table, variable, self.session.shown_serial, study.model.outcome, study.derived)
        if key == self._shown or not self.isVisible():
            return
        focused = QApplication.focusWidget()
        held = focused.accessibleName() if focused is not None and self.isAncestorOf(focused) else ""
        if held and isinstance(focused, QLineEdit) and focused.isModified():
            if self._of != name:
                focused.clearFocus()  # another variable is asked for: what was typed is taken over first
            return  # nothing is taken away under somebody's typing; its end renews the card
        self._shown, self._of = key, name
        panel = QWidget()
        panel.setObjectName("panel")
        panel.setMaximumWidth(WIDTH - SCROLL_BAR)
        panel.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        layout = QVBoxLayout(panel)
        layout.setContentsMargins(14, 12, 14, 12)
        layout.setSpacing(8)
        if variable is None:
            hint = QLabel("Choose a column to see what it is.")
            hint.setObjectName("soft")
            hint.setWordWrap(True)
            layout.addWidget(hint)
        else:
            self._fill(layout, variable)
        layout.addStretch(1)
        before = self.takeWidget()
        self.setWidget(panel)
        if before is not None:  # it may hold the field whose Enter is being worked on: gone only after that
            before.hide()
            before.deleteLater()
        if held:
            self._give_focus(panel, held)

    def _give_focus(self, panel: QWidget, name: str) -> None:
        """The card was made anew while it had the keyboard: the field of the same name takes it again."""
        same = [w for w in panel.findChildren(QWidget) if w.accessibleName() == name]
        (same[0] if same else self.parentWidget() or panel).setFocus()

    def _fill(self, layout: QVBoxLayout, variable: Variable) -> None:
        study, view = self.session.study, self.session.view
        title = QLabel(variable.label)
        title.setObjectName("title")
        title.setTextFormat(Qt.TextFormat.PlainText)
        title.setWordWrap(True)
        layout.addWidget(title)
        derived = next((d for d in study.derived if d.name == variable.name), None)
        known = {v.name: v for v in study.variables}
        came = (
            f"= {expression_text(derived.expression, known, stored=False)}" if derived else f"column “{variable.name}”"
        )
        column = QLabel(came + (" · the outcome" if variable.name == study.model.outcome else ""))
        column.setObjectName("small")
        column.setTextFormat(Qt.TextFormat.PlainText)
        column.setWordWrap(True)
        layout.addWidget(column)
        if derived is not None:
            change = QPushButton("Change the expression")
            change.setObjectName("link")
            change.setAccessibleName(f"Change how {variable.label} is computed")
            change.setToolTip("Change the expression; everything that depends on it is updated")
            change.clicked.connect(lambda: self.change_wanted.emit(variable.name))
            layout.addWidget(change, 0, Qt.AlignmentFlag.AlignLeft)
        self._kind(layout, variable)
        self._portrait(layout, variable)
        if view is not None:
            for said in costs(study, view.evaluation, variable.name):
                _line(layout, said, "small")
        self._flags(layout, variable)
        self._field(layout, "label", variable.label, lambda text: label_edit(variable.name, text))
        if variable.kind is Kind.NUMBER:
            self._field(layout, "unit", variable.unit, lambda text: unit_edit(variable.name, text), "as in “hour”")
            self._treatment(layout, variable)
            if variable.name != study.model.outcome and may_be_code(study, variable.name):
                self._names_of_codes(layout, variable)
        if variable.kind is Kind.GROUP:
            layout.addWidget(LevelsPanel(self.session, variable, self._told))

    def _kind(self, layout: QVBoxLayout, variable: Variable) -> None:
        study = self.session.study
        row = QHBoxLayout()
        row.setSpacing(4)
        for kind, text in ((Kind.NUMBER, "number"), (Kind.GROUP, "groups"), (Kind.TEXT, "leave out")):
            button = QToolButton()
            button.setText(text)
            button.setObjectName("chip")
            button.setCheckable(True)
            button.setChecked(variable.kind is kind)
            button.setAccessibleName(f"Treat {variable.label} as {text}")
            button.setToolTip(
                {
                    "number": "A quantity: differences between its values mean something",
                    "groups": "A code: its values name groups",
                    "leave out": "Free text or an identifier: not for a model",
                }[text]
            )
            button.setEnabled(kind is not Kind.NUMBER or study.columns.is_numeric(variable.name))
            button.clicked.connect(partial(self._set_kind, variable.name, kind))
            row.addWidget(button)
        row.addStretch(1)
        layout.addLayout(row)
        why = kind_reason(study, variable)
        if why:
            _line(layout, why, "small")

    def _portrait(self, layout: QVBoxLayout, variable: Variable) -> None:
        """Where the values lie; worked out by the worker, kept as long as it holds."""
        study = self.session.study
        if not variable.kind.enters:
            return
        box = QVBoxLayout()
        box.setSpacing(4)
        layout.addLayout(box)
        outcome = study.model.outcome if study.model.outcome != variable.name else None
        names = (variable.name,) if outcome is None else (variable.name, outcome)
        self._portrayed.ask(PortraitOf(study.columns_alone(*names), variable.name, outcome, study.model.level))
        summary = self._portrayed.now
        if summary is not None:
            self._draw(box, study, variable, summary)
        elif variable.kind is Kind.NUMBER:  # the room is kept, so that nothing jumps
            box.addSpacing(HEIGHT + 132)

    def _portrait_is_there(self, _summary: Summary) -> None:
        self._shown = ()
        self._told()

    def _draw(self, box: QVBoxLayout, study: Study, variable: Variable, summary: Summary) -> None:
        if isinstance(summary, Portrait):
            box.addWidget(histogram(summary, variable.label))
            box.addLayout(_figures(summary))
            return
        if study.model.outcome is not None and study.model.outcome != variable.name:
            outcome = study.variable(study.model.outcome).label
            shown = [(level.label, x) for level, x in zip(variable.levels, summary)][:SHOWN_MEANS]
            _line(box, f"mean {outcome} by level, with intervals of their own", "small")
            box.addWidget(outcome_by_level([name for name, _ in shown], tuple(x for _, x in shown), outcome))

    def _flags(self, layout: QVBoxLayout, variable: Variable) -> None:
        """What deserves care at this column, with its remedies."""
        view = self.session.view
        if view is None:
            return
        for flag in view.flags:
            if flag.key.kind not in OF_COLUMNS or not flag.stands_at(variable.name):
                continue
            box = QFrame()
            box.setObjectName("flagged")
            inside = QVBoxLayout(box)
            inside.setContentsMargins(8, 6, 8, 6)
            inside.setSpacing(4)
            _line(inside, flag.title, "amber")
            for remedy in flag.remedies:
                button = QPushButton(remedy.label)
                button.setObjectName("chip")
                button.setAccessibleName(remedy.label)
                button.setToolTip(flag.cost)
                button.clicked.connect(lambda _=False, r=remedy: self.session.edit(r.label.lower(), r.edit))
                inside.addWidget(button)
            keep = QPushButton("Why, and other ways")
            keep.setObjectName("link")
            keep.setAccessibleName(f"Show the flag: {flag.title}")
            keep.setToolTip("Show the flag below, where it can be dismissed with a reason")
            keep.clicked.connect(lambda _=False, k=flag.key: self.session.look(flag=k))
            inside.addWidget(keep)
            layout.addWidget(box)
        self._strays(layout, variable)

    def _strays(self, layout: QVBoxLayout, variable: Variable) -> None:
        """Cells that are no numbers, with their rows, and a field to give them a value."""
        study = self.session.study
        column = study.table.column(variable.name) if variable.name in study.table else None
        if not isinstance(column, NumberColumn) or not column.stray or not variable.kind.enters:
            return
        given = dict(variable.given)
        rows: dict[str, list[int]] = {}
        for stray in column.stray:
            rows.setdefault(stray.text, []).append(stray.row + 1)
        _line(layout, "cells that are not numbers: type a value, or leave empty", "small")
        grid = QGridLayout()
        grid.setHorizontalSpacing(6)
        for i, (text, where) in enumerate(list(rows.items())[:SHOWN_STRAYS]):
            label = QLabel(
                f"“{shortened(text, 14)}”, row {', '.join(map(str, where[:2]))}{' …' if len(where) > 2 else ''}"
            )
            label.setTextFormat(Qt.TextFormat.PlainText)
            label.setToolTip(f"“{text}” in rows {', '.join(map(str, where[:20]))}")
            field = Field(number_text(given[text]) if text in given else "")
            field.setFixedWidth(70)
            field.setPlaceholderText("missing")
            field.setAccessibleName(f"Value of {text}")
            field.setToolTip("Type the number that this cell means; empty counts it as missing")
            field.editingFinished.connect(self._giver(field, variable.name, text))
            grid.addWidget(label, i, 0)
            grid.addWidget(field, i, 1)
        layout.addLayout(grid)
        if len(rows) > SHOWN_STRAYS:
            _line(layout, f"and {len(rows) - SHOWN_STRAYS} other texts", "small")

    def _giver(self, field: QLineEdit, name: str, text: str) -> Callable[[], None]:
        def done() -> None:
            if not field.isModified():
                return
            field.setModified(False)
            value = typed_number(field.text())
            if value is None and field.text().strip():
                self.session.say(f"“{field.text()}” is not a number.")
                return
            self.session.edit("give a cell a value", lambda s: give_value(s, name, text, value))
            self._told()

        return done

    def _set_kind(self, name: str, kind: Kind, _checked: bool = False) -> None:
        self._kinds.set_kind(kind, name)
        self._shown = ()
        self._told()

    def _field(self, layout: QVBoxLayout, name: str, text: str, edit: Callable[[str], Edit], hint: str = "") -> None:
        whole = f"{name}, {hint}" if hint else name
        label = QLabel(whole)
        label.setObjectName("small")
        field = Field(text)
        field.setCursorPosition(0)
        field.setAccessibleName(whole.capitalize())
        field.setToolTip(f"Type the {whole} and press Enter")

        def done() -> None:
            if field.isModified():
                field.setModified(False)
                self.session.edit(f"change the {name}", edit(field.text()))
                self._told()

        field.editingFinished.connect(done)
        layout.addWidget(label)
        layout.addWidget(field)

    def _names_of_codes(self, layout: QVBoxLayout, variable: Variable) -> None:
        """A number of few values may be a code: typed names make groups of it, in one step."""
        field = NamesField()
        field.setPlaceholderText("is it a code? its names: first, second, …")
        field.setAccessibleName("Names of the codes")
        field.setToolTip(
            "Type a name for each value, smallest first, with commas between them: the values become groups"
        )

        def done() -> None:
            if field.isModified() and field.text().strip():
                field.setModified(False)
                names = field.text().split(",")
                self.session.edit(f"name the codes of {variable.label}", lambda s: name_codes(s, variable.name, names))
                self._told()

        field.editingFinished.connect(done)
        layout.addWidget(field)

    def _treatment(self, layout: QVBoxLayout, variable: Variable) -> None:
        study = self.session.study
        label = QLabel("enters the model")
        label.setObjectName("small")
        picker = Picker[Treatment]("Treatment", "How the number enters the model")
        now = study.model.treatment(variable.name)
        ready = list(dict.fromkeys((*READY, now)))
        picker.set_choices([(treatment, treatment_name(study, treatment)) for treatment in ready], now)

        def enter(treatment: Treatment) -> None:
            what = f"make {variable.label} {treatment_name(study, treatment)}"
            self.session.edit(what, lambda s: treat(s, [variable.name], treatment))

        picker.whenever_chosen(enter)
        layout.addWidget(label)
        layout.addWidget(picker)


def _figures(portrait: Portrait) -> QGridLayout:
    """The number's figures; where a code for missing is suspected, with and without it."""
    grid = QGridLayout()
    grid.setHorizontalSpacing(10)
    grid.setVerticalSpacing(1)
    columns = [number_rows(portrait.whole)]
    if portrait.apart:
        columns.append(number_rows(portrait.rest))
        for column, head in enumerate(("as it is", f"without {apart_name(portrait.apart)}"), 1):
            title = QLabel(head)
            title.setObjectName("small")
            title.setAlignment(Qt.AlignmentFlag.AlignRight)
            grid.addWidget(title, 0, column)
    for column, rows in enumerate(columns, 1):
        for row, (name, figure) in enumerate(rows, 1):
            label, value = QLabel(name), QLabel(figure)
            label.setObjectName("soft")
            value.setAlignment(Qt.AlignmentFlag.AlignRight)
            if column == 1:
                grid.addWidget(label, row, 0)
            grid.addWidget(value, row, column)
    return grid


def _line(layout: QVBoxLayout, text: str, look: str) -> None:
    label = QLabel(text)
    label.setObjectName(look)
    label.setTextFormat(Qt.TextFormat.PlainText)
    label.setWordWrap(True)
    layout.addWidget(label)
