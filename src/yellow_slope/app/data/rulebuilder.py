"""A sample rule by clicking: a variable, a comparison, values; with a live count of the cases."""

from __future__ import annotations

from collections.abc import Callable
from enum import Enum
from typing import assert_never

import numpy as np
from PyQt6.QtCore import QPoint, Qt, pyqtSignal
from PyQt6.QtWidgets import (
    QComboBox,
    QFrame,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from yellow_slope.app.state.session import StudySession
from yellow_slope.app.widgets.picker import Picker
from yellow_slope.core.data.conditions import All, Any, AtLeast, AtMost, Between, Is, Missing, Not, OneOf, Rule
from yellow_slope.core.data.conditiontext import typed_place, typed_values
from yellow_slope.core.data.scanner import Mistake, quote
from yellow_slope.core.data.table import date_text, number_text
from yellow_slope.core.data.variable import Kind, Variable
from yellow_slope.core.words.sentences.samples import share_text
from yellow_slope.core.words.spelling.numerals import place


class Asks(Enum):
    """What a rule asks of a variable's values, as it stands in the menu."""

    IS = "is"
    IS_NOT = "is not"
    ONE_OF = "is one of"
    NONE_OF = "is not one of"
    AT_LEAST = "at least"
    AT_MOST = "at most"
    BETWEEN = "between"
    MORE = "more than"
    LESS = "less than"
    MISSING = "missing"
    THERE = "not missing"

    @property
    def about_values(self) -> bool:
        """Whether values have to be said."""
        return self not in (Asks.MISSING, Asks.THERE)


OF_GROUPS = (Asks.ONE_OF, Asks.NONE_OF, Asks.MISSING, Asks.THERE)
OF_NUMBERS = (
    Asks.AT_LEAST,
    Asks.AT_MOST,
    Asks.BETWEEN,
    Asks.MORE,
    Asks.LESS,
    Asks.IS,
    Asks.IS_NOT,
    Asks.MISSING,
    Asks.THERE,
)
OF_TEXTS = (Asks.IS, Asks.IS_NOT, Asks.MISSING, Asks.THERE)
WIDTH, LIST_HEIGHT = 330, 150


class RuleBuilder(QFrame):
    """Pops up at a chip; tells the rule that was made."""

    made = pyqtSignal(object)

    def __init__(self, session: StudySession, count: Callable[[Rule], int], parent: QWidget | None = None) -> None:
        super().__init__(parent, Qt.WindowType.Popup)
        self.setObjectName("popup")
        self.setAccessibleName("A sample rule")
        self.session, self._count = session, count
        self.variable = QComboBox()
        self.variable.setAccessibleName("Variable of the rule")
        self.variable.setToolTip("The variable that the rule is about; type its first letters")
        self.variable.setMaxVisibleItems(16)
        self.way = Picker[Asks]("Comparison", "How its values are compared")
        self.levels = QListWidget()
        self.levels.setAccessibleName("Levels that are used")
        self.levels.setToolTip("Tick the levels that the rule is about (Space)")
        self.levels.setFixedHeight(LIST_HEIGHT)
        self.first, self.second = _place_field("Value"), _place_field("Second value")
        self.between = QLabel("and")
        self.range = QLabel()
        self.range.setObjectName("small")
        self.counted = QLabel()
        self.counted.setObjectName("strong")
        self.counted.setWordWrap(True)
        self.use = QPushButton("Use this rule")
        self.use.setObjectName("main")
        self.use.setAccessibleName("Use this rule")
        self.use.setToolTip("Only cases that meet the rule are used (Enter)")
        values = QHBoxLayout()
        for widget in (self.first, self.between, self.second):
            values.addWidget(widget)
        last = QHBoxLayout()
        last.addWidget(self.counted, 1)
        last.addWidget(self.use)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(12, 12, 12, 12)
        layout.setSpacing(8)
        for item in (self.variable, self.way, self.levels):
            layout.addWidget(item)
        layout.addLayout(values)
        layout.addWidget(self.range)
        layout.addLayout(last)
        self.setFixedWidth(WIDTH)
        self.variable.currentIndexChanged.connect(lambda _: self._variable_chosen())
        self.way.whenever_chosen(self._way_chosen)
        self.levels.itemChanged.connect(lambda _: self._changed())
        for field in (self.first, self.second):
            field.textEdited.connect(lambda _: self._changed())
            field.returnPressed.connect(self._done)
        self.use.clicked.connect(self._done)

    def begin(self, at: QPoint, rule: Rule | None = None) -> None:
        """Show up there, for a new rule about the current variable or for one that is there."""
        study = self.session.study
        self.variable.blockSignals(True)
        self.variable.clear()
        for variable in study.variables:
            self.variable.addItem(variable.label, variable.name)
        core = rule.rule if isinstance(rule, Not) else rule
        name = self.session.desk.variable
        if core is not None and not isinstance(core, All | Any | Not):
            name = core.variable
        self.variable.setCurrentIndex(max(0, self.variable.findData(name)))
        self.variable.blockSignals(False)
        self._variable_chosen()
        if core is not None and not isinstance(core, All | Any | Not):
            self._fill(core, isinstance(rule, Not))
        self.move(at)
        self.show()
        self.variable.setFocus()

    # ---- what is asked

    def about(self) -> Variable | None:
        """The variable that is chosen."""
        study, name = self.session.study, self.variable.currentData()
        return study.variable(name) if name is not None else None

    def _variable_chosen(self) -> None:
        study, variable = self.session.study, self.about()
        if variable is None:
            return
        ways = OF_GROUPS if variable.kind is Kind.GROUP else OF_NUMBERS
        numeric = study.columns.is_numeric(variable.name) or variable.kind is Kind.DATE
        if variable.kind is not Kind.GROUP and not numeric:
            ways = OF_TEXTS
        self.way.set_choices([(way, way.value) for way in ways], ways[0])
        self.levels.blockSignals(True)
        self.levels.clear()
        self.range.clear()
        if variable.kind is Kind.GROUP:
            indices = study.columns.levels(variable.name)
            counts = np.bincount(indices[indices >= 0], minlength=len(variable.levels))
            for level, n in zip(variable.levels, counts):
                item = QListWidgetItem(f"{level.label}   {n:,}")
                item.setData(Qt.ItemDataRole.UserRole, level.code)
                item.setFlags(item.flags() | Qt.ItemFlag.ItemIsUserCheckable)
                item.setCheckState(Qt.CheckState.Unchecked)
                self.levels.addItem(item)
        elif variable.kind is Kind.NUMBER:
            values = study.columns.numbers(variable.name)
            here = values[np.isfinite(values)]
            if here.size:
                sd = float(here.std()) or 1.0
                self.range.setText(f"runs from {place(float(here.min()), sd)} to {place(float(here.max()), sd)}")
        self.levels.blockSignals(False)
        self.first.clear()
        self.second.clear()
        self._way_chosen(ways[0])

    def _way_chosen(self, way: Asks) -> None:
        self.way.set_current(way)
        variable = self.about()
        group = variable is not None and variable.kind is Kind.GROUP
        asks = way.about_values
        self.levels.setVisible(group and asks)
        self.first.setVisible(asks and not group)
        for widget in (self.between, self.second):
            widget.setVisible(way is Asks.BETWEEN)
        self.range.setVisible(bool(self.range.text()) and asks)
        self.adjustSize()
        self._changed()

    def _fill(self, rule: Rule, negated: bool) -> None:
        """Show a rule that is there."""
        group = self.levels.count() > 0
        match rule:
            case Is() | OneOf():
                values = (rule.value,) if isinstance(rule, Is) else rule.values
                one, several = (Asks.IS_NOT, Asks.NONE_OF) if negated else (Asks.IS, Asks.ONE_OF)
                self._way_chosen(several if group else one)
                for i in range(self.levels.count()):
                    item = self.levels.item(i)
                    if item is not None and item.data(Qt.ItemDataRole.UserRole) in values:
                        item.setCheckState(Qt.CheckState.Checked)
                self.first.setText(", ".join(self._typed(value) for value in values))
            case Between(_, low, high):
                self._way_chosen(Asks.BETWEEN)
                self.first.setText(self._typed(low))
                self.second.setText(self._typed(high))
            case AtLeast(_, value):
                self._way_chosen(Asks.LESS if negated else Asks.AT_LEAST)
                self.first.setText(self._typed(value))
            case AtMost(_, value):
                self._way_chosen(Asks.MORE if negated else Asks.AT_MOST)
                self.first.setText(self._typed(value))
            case Missing():
                self._way_chosen(Asks.THERE if negated else Asks.MISSING)
            case All() | Any() | Not():
                pass  # several rules are changed as a line
            case _:
                assert_never(rule)
        self._changed()

    def _typed(self, value: str | float) -> str:
        """A value as it is typed, with every digit."""
        variable = self.about()
        if isinstance(value, str):
            return value if variable is not None and variable.kind is Kind.NUMBER else quote(value)
        return date_text(value) if variable is not None and variable.kind is Kind.DATE else number_text(value)

    def rule(self) -> Rule | Mistake:
        """The rule as it stands, or why there is none yet."""
        variable, way = self.about(), self.way.current
        if variable is None or way is None:
            return Mistake(0, 1, "Choose a variable.")
        name = variable.name
        match way:
            case Asks.MISSING:
                return Missing(name)
            case Asks.THERE:
                return Not(Missing(name))
            case Asks.ONE_OF | Asks.NONE_OF | Asks.IS | Asks.IS_NOT:
                values = self._values(variable)
                if isinstance(values, Mistake):
                    return values
                found: Rule = Is(name, values[0]) if len(values) == 1 else OneOf(name, tuple(values))
                return Not(found) if way in (Asks.NONE_OF, Asks.IS_NOT) else found
            case Asks.BETWEEN:
                low, high = self._place(variable, self.first), self._place(variable, self.second)
                if isinstance(low, Mistake) or isinstance(high, Mistake):
                    return low if isinstance(low, Mistake) else high  # type: ignore[return-value]
                return (
                    Between(name, low, high) if low <= high else Mistake(0, 1, "The second number is the smaller one.")
                )
            case Asks.AT_LEAST | Asks.AT_MOST | Asks.MORE | Asks.LESS:
                at = self._place(variable, self.first)
                if isinstance(at, Mistake):
                    return at
                made = AtLeast(name, at) if way in (Asks.AT_LEAST, Asks.LESS) else AtMost(name, at)
                return Not(made) if way in (Asks.MORE, Asks.LESS) else made
            case _:
                assert_never(way)

    def _values(self, variable: Variable) -> list[str | float] | Mistake:
        """The ticked levels of a group, or the typed values of anything else."""
        study = self.session.study
        if variable.kind is Kind.GROUP:
            items = [self.levels.item(i) for i in range(self.levels.count())]
            ticked = [x.data(Qt.ItemDataRole.UserRole) for x in items if x and x.checkState() is Qt.CheckState.Checked]
            return ticked or Mistake(0, 1, "Tick one level or more.")
        if not self.first.text().strip():
            return Mistake(0, 1, "Type a value.")
        return typed_values(self.first.text(), variable, study.variables, study.columns.is_numeric)

    def _place(self, variable: Variable, field: QLineEdit) -> float | Mistake:
        study = self.session.study
        if not field.text().strip():
            return Mistake(0, 1, "Type a value.")
        return typed_place(field.text(), variable, study.variables, study.columns.is_numeric)

    def _changed(self) -> None:
        rule, study = self.rule(), self.session.study
        wrong = isinstance(rule, Mistake)
        self.use.setEnabled(not wrong)
        self.counted.setText(
            rule.message if isinstance(rule, Mistake) else share_text(self._count(rule), study.table.n_rows)
        )

    def _done(self) -> None:
        rule = self.rule()
        if not isinstance(rule, Mistake):
            self.close()
            self.made.emit(rule)


def _place_field(name: str) -> QLineEdit:
    field = QLineEdit()
    field.setAccessibleName(f"{name} of the rule")
    field.setToolTip("A number, or a date as 2026-03-01")
    return field
