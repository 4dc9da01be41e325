"""A sample rule by clicking: a variable, a comparison, values; with a live count of the cases."""

from __future__ import annotations

from collections.abc import Callable

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
from yellow_slope.core.data.conditiontext import find_condition
from yellow_slope.core.data.scanner import Mistake, quote, typed_name
from yellow_slope.core.data.table import date_text, number_text
from yellow_slope.core.data.variable import Kind, Variable
from yellow_slope.core.words.sentences.samples import share_text
from yellow_slope.core.words.spelling.numerals import place

GROUP_WAYS = ("is one of", "is not one of", "missing", "not missing")
NUMBER_WAYS = ("at least", "at most", "between", "more than", "less than", "is", "is not", "missing", "not missing")
TEXT_WAYS = ("is", "is not", "missing", "not missing")
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
        self.variable.setToolTip("The variable that the rule asks about; type its first letters")
        self.variable.setMaxVisibleItems(16)
        self.way = Picker("Comparison", "How its values are compared")
        self.levels = QListWidget()
        self.levels.setAccessibleName("Levels that count")
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
        self.use.setToolTip("Only cases of which the rule holds take part (Enter)")
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
        self.way.chosen.connect(self._way_chosen)
        self.levels.itemChanged.connect(lambda _: self._changed())
        for field in (self.first, self.second):
            field.textEdited.connect(lambda _: self._changed())
            field.returnPressed.connect(self._done)
        self.use.clicked.connect(self._done)

    def begin(self, at: QPoint, rule: Rule | None = None) -> None:
        """Show up there, for a new rule about the current variable or for one that is there."""
        study = self.session.study
        if study is None:
            return
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
        return study.variable(name) if study is not None and name is not None else None

    def _variable_chosen(self) -> None:
        study, variable = self.session.study, self.about()
        if study is None or variable is None:
            return
        ways = GROUP_WAYS if variable.kind is Kind.GROUP else NUMBER_WAYS
        numeric = study.columns.is_numeric(variable.name) or variable.kind is Kind.DATE
        if variable.kind is not Kind.GROUP and not numeric:
            ways = TEXT_WAYS
        self.way.set_choices([(way, way) for way in ways], ways[0])
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

    def _way_chosen(self, way: str) -> None:
        self.way.set_current(way)
        variable = self.about()
        group = variable is not None and variable.kind is Kind.GROUP
        asks = not way.endswith("missing")
        self.levels.setVisible(group and asks)
        self.first.setVisible(asks and not group)
        for widget in (self.between, self.second):
            widget.setVisible(way == "between")
        self.range.setVisible(bool(self.range.text()) and asks)
        self.adjustSize()
        self._changed()

    def _fill(self, rule: Rule, negated: bool) -> None:
        """Show a rule that is there."""
        ways = {
            AtLeast: ("at least", "less than"),
            AtMost: ("at most", "more than"),
            Missing: ("missing", "not missing"),
        }
        group = self.levels.count() > 0
        if isinstance(rule, Is | OneOf):
            values = (rule.value,) if isinstance(rule, Is) else rule.values
            self._way_chosen(("is one of", "is not one of")[negated] if group else ("is", "is not")[negated])
            for i in range(self.levels.count()):
                item = self.levels.item(i)
                if item is not None and item.data(Qt.ItemDataRole.UserRole) in values:
                    item.setCheckState(Qt.CheckState.Checked)
            self.first.setText(", ".join(self._typed(value) for value in values))
        elif isinstance(rule, Between):
            self._way_chosen("between")
            self.first.setText(self._typed(rule.low))
            self.second.setText(self._typed(rule.high))
        else:
            self._way_chosen(ways[type(rule)][negated])
            if isinstance(rule, AtLeast | AtMost):
                self.first.setText(self._typed(rule.value))
        self._changed()

    def _typed(self, value: str | float) -> str:
        """A value as it is typed, with every digit."""
        variable = self.about()
        if isinstance(value, str):
            return value if variable is not None and variable.kind is Kind.NUMBER else quote(value)
        return date_text(value) if variable is not None and variable.kind is Kind.DATE else number_text(value)

    def rule(self) -> Rule | Mistake:
        """The rule as it stands, or why there is none yet."""
        study, variable, way = self.session.study, self.about(), self.way.current or ""
        if study is None or variable is None:
            return Mistake(0, 1, "Choose a variable.")
        if variable.kind is Kind.GROUP and not way.endswith("missing"):
            items = [self.levels.item(i) for i in range(self.levels.count())]
            ticked = [x.data(Qt.ItemDataRole.UserRole) for x in items if x and x.checkState() is Qt.CheckState.Checked]
            if not ticked:
                return Mistake(0, 1, "Tick one level or more.")
            found: Rule = Is(variable.name, ticked[0]) if len(ticked) == 1 else OneOf(variable.name, tuple(ticked))
            return Not(found) if way == "is not one of" else found
        values = "" if way.endswith("missing") else f" {self.first.text().strip()}"
        if way == "between":
            values += f" and {self.second.text().strip()}"
        if not way.endswith("missing") and not self.first.text().strip():
            return Mistake(0, 1, "Type a value.")
        line = f"{typed_name(variable, study.variables)} {way}{values}"
        return find_condition(line, study.variables, study.columns.is_numeric)

    def _changed(self) -> None:
        rule, study = self.rule(), self.session.study
        if study is None:
            return
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
