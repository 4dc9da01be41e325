"""The levels of a group on its card: reference, codes, names, order, merging."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

import numpy as np
from PyQt6.QtCore import QEvent, QObject, QPointF, Qt
from PyQt6.QtGui import QFontMetrics, QKeyEvent, QPainter, QPaintEvent, QPen, QResizeEvent
from PyQt6.QtWidgets import QGridLayout, QLabel, QLineEdit, QPushButton, QToolButton, QVBoxLayout, QWidget

from yellow_slope.app.state.session import StudySession
from yellow_slope.app.widgets import theme
from yellow_slope.app.widgets.field import Field, NamesField
from yellow_slope.app.widgets.theme import colour, font
from yellow_slope.core.data.variable import Level, Variable, shortened
from yellow_slope.core.fit.design.bases import GroupBasis
from yellow_slope.core.fit.design.codes import effective_reference
from yellow_slope.core.study.coding import Coding, Dummy
from yellow_slope.core.study.edits.entries import set_reference
from yellow_slope.core.study.edits.levels import move_level, name_level, name_levels, order_levels, take_apart
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.names.groups import asks
from yellow_slope.core.words.sentences.columns import reference_moved
from yellow_slope.core.words.spelling.numerals import counted

SHOWN_LEVELS = 40
LONG = 15
"""Characters of a name that fit beside code and count."""
PADDING = 6
SIZES_OF_NAMES = (13, 12, 11, 10)
"""Type sizes of a level's name, for the longest to be read whole."""


class LevelsPanel(QWidget):
    """Two levels that are given one name are one level; Alt+Up and Alt+Down move the level whose name is typed."""

    def __init__(self, session: StudySession, variable: Variable, renew: Callable[[], None]) -> None:
        super().__init__()
        self.session, self.variable, self._changed = session, variable, renew
        study = session.study
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(6)
        coded = any(level.codes != (level.label,) for level in variable.levels)
        what = "reference, code, name, cases" if coded else "reference, name, cases"
        layout.addWidget(_small(f"{'ordered ' if variable.ordered else ''}levels: {what}"))
        layout.addWidget(
            self._line(
                "all names at once: first, second, …",
                "Names of all levels",
                "Type a name for each level in order, with commas between them; the "
                "same name given twice merges the levels",
                self._name_all,
                NamesField,
            )
        )
        coding = study.model.coding(variable.name)
        if not isinstance(coding, Dummy):
            layout.addWidget(QLabel(f"columns: {asks(coding)}"))
        layout.addLayout(self._grid(study, coding, coded))
        if len(variable.levels) > SHOWN_LEVELS:
            layout.addWidget(QLabel(f"and {len(variable.levels) - SHOWN_LEVELS} more"))
        if len(variable.levels) > 2:
            layout.addWidget(
                self._line(
                    "order: type the names in order",
                    "Order of the levels",
                    "Type names or codes in the intended order; those that are not "
                    "named follow (O changes the order by one key)",
                    self._order,
                )
            )
        merged = [level for level in variable.levels if len(level.codes) > 1]
        if merged:
            apart = QPushButton(f"Take {counted(len(merged), 'merged level')} apart")
            apart.setObjectName("link")
            apart.setAccessibleName("Split merged levels")
            apart.setToolTip("Every code is a level of its own again")
            apart.clicked.connect(lambda: self._edit("split merged levels", take_apart))
            layout.addWidget(apart, 0, Qt.AlignmentFlag.AlignLeft)

    def _grid(self, study: Study, coding: Coding, coded: bool) -> QGridLayout:
        variable = self.variable
        view = self.session.view
        fit = view.fit if view is not None and self.session.is_settled else None
        basis = fit.design.bases.get(variable.name) if fit is not None else None
        serving = None
        if isinstance(basis, GroupBasis) and basis.reference is not None:
            serving = basis.levels[basis.reference]
        indices = study.columns.levels(variable.name)
        counts = np.bincount(indices[indices >= 0], minlength=len(variable.levels))
        is_long = any(len(level.label) > LONG for level in variable.levels[:SHOWN_LEVELS])
        grid = QGridLayout()
        grid.setHorizontalSpacing(4)
        grid.setVerticalSpacing(3)
        for i, level in enumerate(variable.levels[:SHOWN_LEVELS]):
            chosen = level.code == serving if serving else level.code == _expected(coding, variable)
            share = 100 * counts[i] / max(1, counts.sum())
            count = QLabel(f"{int(counts[i])}  {share:.0f} %")
            count.setObjectName("soft")
            count.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
            code = QLabel(shortened(", ".join(level.codes), 8 if not is_long else 24))
            code.setToolTip(", ".join(level.codes))
            code.setTextFormat(Qt.TextFormat.PlainText)
            code.setObjectName("soft")
            row = 2 * i
            grid.addWidget(self._mark(level, chosen, coding), row, 0)
            grid.addWidget(self._up(level, i), row + (1 if is_long else 0), 4)
            if is_long:  # a long name has the whole line; code, count and arrow stand below it
                grid.addWidget(self._name(level), row, 1, 1, 4)
                if coded:
                    grid.addWidget(code, row + 1, 1, 1, 2)
                grid.addWidget(count, row + 1, 3)
            else:
                if coded:
                    grid.addWidget(code, row, 1)
                grid.addWidget(self._name(level), row, 2 if coded else 1, 1, 1 if coded else 2)
                grid.addWidget(count, row, 3)
        grid.setColumnStretch(2, 1)
        grid.setColumnMinimumWidth(1, 0)
        return grid

    # ---- the parts of a row

    def _mark(self, level: Level, chosen: bool, coding: Coding) -> QToolButton:
        mark = RoundMark(chosen)
        mark.setAccessibleName(f"Use {level.label} as the reference group")
        nobody = "" if isinstance(coding, Dummy) and coding.reference else ", set by default"
        mark.setToolTip(f"The reference group{nobody}" if chosen else f"Use “{level.label}” as the reference group")
        mark.clicked.connect(partial(self._edit, "choose the reference", lambda s, n: set_reference(s, n, level.code)))
        return mark

    def _name(self, level: Level) -> QLineEdit:
        name = _NameField(level.label, partial(self._move, level))
        name.setAccessibleName(f"Name of level {level.code}")
        name.setMinimumWidth(72)
        name.setCursorPosition(0)
        name.setToolTip(
            f"{level.label}\nType the level's name and press Enter; the name of another "
            "level merges the two. Alt+Up and Alt+Down move it"
        )

        def done() -> None:
            if name.isModified():
                name.setModified(False)
                self._rename(level, name.text())

        name.editingFinished.connect(done)
        return name

    def _up(self, level: Level, index: int) -> QToolButton:
        up = QToolButton()
        up.setText("↑")
        up.setFixedWidth(22)
        up.setEnabled(index > 0)
        up.setAccessibleName(f"Move {level.label} up")
        up.setToolTip(f"“{level.label}” before the level above it (Alt+Up in its name)")
        up.clicked.connect(partial(self._move, level, -1))
        return up

    # ---- edits; columns with the same codes that are chosen take part

    def _columns(self) -> list[str]:
        """The variable, and the chosen ones whose levels have the same codes."""
        study = self.session.study
        chosen = [t.variables[0] for t in self.session.desk.chosen if len(t.variables) == 1]
        codes = {level.codes for level in self.variable.levels}
        same = [n for n in chosen if n != self.variable.name and {x.codes for x in study.variable(n).levels} == codes]
        return [self.variable.name, *same]

    def _edit(self, what: str, change: Callable[[Study, str], Study], _checked: bool = False, say: str = "") -> None:
        names, before = self._columns(), self.session.study

        def all_of_them(study: Study) -> Study:
            for name in names:
                study = change(study, name)
            return study

        also = f"In {counted(len(names), 'column')} with these levels." if len(names) > 1 else ""
        if self.session.edit(what, all_of_them, say=say or also):
            after = self.session.study
            moved = reference_moved(before, after, names[0]) if before is not None and after is not None else ""
            if moved:
                self.session.say(f"{self.session.message} {moved}".strip())
        self._changed()

    def _rename(self, level: Level, text: str) -> None:
        text = text.strip()
        other = next((x for x in self.variable.levels if x != level and x.label.casefold() == text.casefold()), None)
        said = ""
        if other is not None:
            codes = ", ".join((*other.codes, *level.codes))
            said = f"“{other.label}” is one level of the codes {codes} now; undo takes it back."
        self._edit("name a level", lambda s, n: name_level(s, n, level.code, text), say=said)

    def _name_all(self, text: str) -> None:
        self._edit("name the levels", lambda s, n: name_levels(s, n, text.split(",")))

    def _order(self, text: str) -> None:
        self._edit("order the levels", lambda s, n: order_levels(s, n, text.split(",")))

    def _move(self, level: Level, by: int, _checked: bool = False) -> None:
        self._edit("move a level", lambda s, n: move_level(s, n, level.code, by))

    def _line(
        self, hint: str, name: str, help: str, take: Callable[[str], None], kind: type[Field] = Field
    ) -> QLineEdit:
        field = kind()
        field.setPlaceholderText(hint)
        field.setAccessibleName(name)
        field.setToolTip(help)

        def done() -> None:
            if field.isModified() and field.text().strip():
                field.setModified(False)
                take(field.text())

        field.editingFinished.connect(done)
        return field


class RoundMark(QToolButton):
    """A circle, filled where it is chosen."""

    def __init__(self, chosen: bool) -> None:
        super().__init__()
        self._chosen = chosen
        self.setFixedSize(26, 26)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter, p = QPainter(self), theme.palette()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        middle = QPointF(self.width() / 2, self.height() / 2)
        if self.hasFocus():
            painter.setPen(QPen(colour(p.yellow), 2))
            painter.drawEllipse(middle, 10, 10)
        painter.setPen(QPen(colour(p.ink), 1.4))
        painter.setBrush(colour(p.ink) if self._chosen else Qt.BrushStyle.NoBrush)
        painter.drawEllipse(middle, 5, 5)


class _NameField(Field):
    """Alt+Up and Alt+Down move the level."""

    def __init__(self, text: str, move: Callable[[int], None]) -> None:
        super().__init__(text)
        self._move = move
        self.installEventFilter(self)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """A long name is written smaller, so that it can be read whole."""
        super().resizeEvent(event)
        room = self.width() - 2 * PADDING
        fitting = (size for size in SIZES_OF_NAMES if QFontMetrics(font(size)).horizontalAdvance(self.text()) <= room)
        size = next(fitting, SIZES_OF_NAMES[-1])
        self.setStyleSheet("" if size == SIZES_OF_NAMES[0] else f"font-size: {size}px; padding: 6px 4px;")

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            way = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}.get(
                Qt.Key(event.key()) if event.key() in UP_DOWN else Qt.Key.Key_unknown
            )
            if way is not None and event.modifiers() & Qt.KeyboardModifier.AltModifier:
                self._move(way)
                return True
        return super().eventFilter(watched, event)


UP_DOWN = (Qt.Key.Key_Up, Qt.Key.Key_Down)


def _expected(coding: Coding, variable: Variable) -> str | None:
    """The reference that dummy coding would have over all levels."""
    if not isinstance(coding, Dummy) or not variable.levels:
        return None
    codes = [level.code for level in variable.levels]
    return codes[effective_reference(coding, codes)]


def _small(text: str) -> QLabel:
    label = QLabel(text)
    label.setObjectName("small")
    return label
