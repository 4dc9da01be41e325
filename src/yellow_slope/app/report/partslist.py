"""The parts of the report beside its pages: each switched, put in order and commented."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QObject, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QHBoxLayout,
    QLabel,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from yellow_slope.app.state.session import StudySession
from yellow_slope.app.verbs.actions import Scope, action
from yellow_slope.app.widgets.dialogs import Dialogs
from yellow_slope.app.widgets.picker import Picker
from yellow_slope.core.study.edits.report import choose_set, comment_part, move_part, switch_part
from yellow_slope.core.study.report import USUAL_PARTS, PartKind, ReadySet

WIDE = 206
PART = Qt.ItemDataRole.UserRole


class PartsList(QWidget):
    """Space or a click on its mark prints a part or not; dragging or Alt with an arrow moves it."""

    gone_to = pyqtSignal(object)
    """A part that is looked for on the pages."""

    def __init__(self, session: StudySession, dialogs: Dialogs, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session, self._dialogs = session, dialogs
        self.setFixedWidth(WIDE)
        self.sets = Picker[ReadySet]("Ready sets of parts", "Parts for a purpose: a paper, its appendix, or everything")
        self.sets.set_choices([(ready, ready.value) for ready in ReadySet], None, "parts of your own")
        self.sets.whenever_chosen(self._choose_set)
        self.list = QListWidget()
        self.list.setAccessibleName("Parts of the report")
        self.list.setToolTip("Space prints a part or not; drag it, or move it with Alt and an arrow; Enter shows it")
        self.list.setDragDropMode(QAbstractItemView.DragDropMode.InternalMove)
        self.list.setDefaultDropAction(Qt.DropAction.MoveAction)
        self.list.itemChanged.connect(self._switched)
        self.list.itemClicked.connect(self._show)
        self.list.itemActivated.connect(self._show)
        self.list.currentItemChanged.connect(lambda *_: self._tell_comments())
        model = self.list.model()
        assert model is not None
        model.rowsMoved.connect(self._dragged)
        self.list.installEventFilter(self)
        self.above = self._link("above …", "Your own words above the chosen part; *word* is slanted, **word** bold")
        self.above.clicked.connect(lambda _=False: self._comment(True))
        self.below = self._link("below …", "Your own words below the chosen part; *word* is slanted, **word** bold")
        self.below.clicked.connect(lambda _=False: self._comment(False))
        self.said = QLabel()
        self.said.setObjectName("small")
        self.said.setWordWrap(True)
        self.said.setTextFormat(Qt.TextFormat.PlainText)
        self.said.setAccessibleName("Your own words about the chosen part")
        words = QHBoxLayout()
        words.setSpacing(0)
        label = QLabel("Say")
        label.setObjectName("soft")
        for widget in (label, self.above, self.below):
            words.addWidget(widget)
        words.addStretch(1)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        column.addWidget(self.sets)
        column.addWidget(self.list, 1)
        column.addLayout(words)
        column.addWidget(self.said)
        self._filling = False

    def _link(self, text: str, help: str) -> QPushButton:
        button = QPushButton(text)
        button.setObjectName("link")
        button.setAccessibleName(help)
        button.setToolTip(help)
        return button

    # ---- showing

    def renew(self) -> None:
        """Show the study's choice."""
        study = self.session.study
        if study is None:
            return
        parts = study.report.whole().parts
        self._filling = True
        chosen = self.part()
        if self._order() != [p.kind for p in parts]:
            self.list.clear()
            for part in parts:
                item = QListWidgetItem(part.kind.value)
                item.setData(PART, part.kind)
                flags = Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable | Qt.ItemFlag.ItemIsUserCheckable
                item.setFlags(flags | Qt.ItemFlag.ItemIsDragEnabled)
                self.list.addItem(item)
                if part.kind is chosen:
                    self.list.setCurrentItem(item)
        for i, part in enumerate(parts):
            shown = self.list.item(i)
            assert shown is not None
            shown.setCheckState(Qt.CheckState.Checked if part.on else Qt.CheckState.Unchecked)
        usual = all(part.on == one.on for part, one in zip(parts, USUAL_PARTS))
        self.sets.set_current(study.report.ready, "the usual parts" if usual else "parts of your own")
        self._filling = False
        self._tell_comments()

    def _order(self) -> list[PartKind]:
        items = (self.list.item(i) for i in range(self.list.count()))
        return [item.data(PART) for item in items if item is not None]

    def part(self) -> PartKind | None:
        """The chosen part."""
        item = self.list.currentItem()
        return item.data(PART) if item is not None else None

    def has_part(self) -> bool:
        """Whether a part is chosen."""
        return self.part() is not None

    def _tell_comments(self) -> None:
        study, part = self.session.study, self.part()
        for button in (self.above, self.below):
            button.setEnabled(part is not None)
        said = study.report.part(part) if study is not None and part is not None else None
        told = (
            [f"above: {said.above}" if said.above else "", f"below: {said.below}" if said.below else ""] if said else []
        )
        self.said.setText("\n".join(text for text in told if text))

    # ---- changing

    def _choose_set(self, ready: ReadySet) -> None:
        self.session.edit(f"parts: {ready.value}", lambda s: choose_set(s, ready))

    def _switched(self, item: QListWidgetItem) -> None:
        if not self._filling:
            part, on = item.data(PART), item.checkState() == Qt.CheckState.Checked
            self.session.edit("part of the report", lambda s: switch_part(s, part, on))

    def _dragged(self) -> None:
        study = self.session.study
        if self._filling or study is None:
            return
        wanted = self._order()
        now = [part.kind for part in study.report.whole().parts]
        moved = next((k for k in now if [x for x in now if x is not k] == [x for x in wanted if x is not k]), None)
        if moved is not None and wanted != now:
            by = wanted.index(moved) - now.index(moved)
            self.session.edit("order of the report", lambda s: move_part(s, moved, by))

    def _move(self, by: int) -> None:
        part = self.part()
        if part is not None:
            self.session.edit("order of the report", lambda s: move_part(s, part, by))

    @action("part earlier", "Move the chosen part of the report up", "Alt+Up", scope=Scope.PARTS, available="has_part")
    def earlier(self) -> None:
        """The chosen part earlier."""
        self._move(-1)

    @action(
        "part later", "Move the chosen part of the report down", "Alt+Down", scope=Scope.PARTS, available="has_part"
    )
    def later(self) -> None:
        """The chosen part later."""
        self._move(1)

    def _comment(self, is_above: bool) -> None:
        study, part = self.session.study, self.part()
        if study is None or part is None:
            return
        now = study.report.part(part)
        where = "above" if is_above else "below"
        said = self._dialogs.text(
            f"Words {where} a part", f"Your own words {where} “{part.value}”:", now.above if is_above else now.below
        )
        if said is None:
            return
        above, below = (said.strip(), now.below) if is_above else (now.above, said.strip())
        self.session.edit("words in the report", lambda s: comment_part(s, part, above, below))

    def _show(self, item: QListWidgetItem) -> None:
        self.gone_to.emit(item.data(PART))

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        enter = (Qt.Key.Key_Return, Qt.Key.Key_Enter)
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress and event.key() in enter:
            item = self.list.currentItem()
            if item is not None:
                self._show(item)
                return True
        return super().eventFilter(watched, event)
