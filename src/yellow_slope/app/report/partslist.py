"""The parts of the report beside its pages: each switched, put in order and commented."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QModelIndex, QObject, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QPainter
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QHBoxLayout,
    QLabel,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QStyle,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QVBoxLayout,
    QWidget,
)

from yellow_slope.app.state.session import StudySession
from yellow_slope.app.verbs.actions import Scope, action
from yellow_slope.app.widgets import theme
from yellow_slope.app.widgets.dialogs import Dialogs
from yellow_slope.app.widgets.picker import Picker
from yellow_slope.core.study.edits.report import (
    choose_set,
    comment_part,
    move_part,
    set_assigned,
    set_beside,
    set_correlations,
    set_decimals,
    set_stars,
    switch_part,
)
from yellow_slope.core.study.report import (
    FEWEST_DECIMALS,
    MOST_CHOSEN,
    USUAL_PARTS,
    BesideCorrelation,
    CoefficientFigure,
    PartKind,
    ReadySet,
)
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.sentences.livefigures import gone_figures, live_figures, with_figures
from yellow_slope.core.words.spelling.numerals import counted, listed, listed_some

WIDE = 232
PART = Qt.ItemDataRole.UserRole


class _Outlined(QStyledItemDelegate):
    """Draws an outline that is seen on a dark ground, too, around the mark of each part."""

    def paint(self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex) -> None:
        """The item, and the outline."""
        super().paint(painter, option, index)
        parent = self.parent()
        if painter is None or not isinstance(parent, QListWidget) or (style := parent.style()) is None:
            return
        mark = QStyleOptionViewItem(option)
        self.initStyleOption(mark, index)
        box = style.subElementRect(QStyle.SubElement.SE_ItemViewItemCheckIndicator, mark, parent)
        painter.save()
        painter.setPen(theme.colour(theme.palette().soft_ink))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(box.adjusted(0, 0, -1, -1))
        painter.restore()


class PartsList(QWidget):
    """Space or a click on its mark prints a part or not; dragging or Alt with an arrow moves it."""

    gone_to = pyqtSignal(object)
    """A part that is looked for on the pages."""

    def __init__(self, session: StudySession, dialogs: Dialogs, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session, self._dialogs = session, dialogs
        self.setFixedWidth(WIDE)
        self.sets = Picker[ReadySet]("Ready sets of parts", "Parts for a purpose: a paper, its appendix, or everything")
        self.sets.set_choices([(ready, ready.label) for ready in ReadySet], None, "parts of your own")
        self.sets.whenever_chosen(self._choose_set)
        self.list = QListWidget()
        self.list.setAccessibleName("Parts of the report")
        self.list.setToolTip("Space prints a part or not; drag it, or move it with Alt and an arrow; Enter shows it")
        self.list.setItemDelegate(_Outlined(self.list))
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
        self._make_choices()
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
        column.addWidget(self._soft("Tables and findings"))
        for choices in ((self.decimals, self.stars), (self.beside, self.correlations), (self.assigned,)):
            row = QHBoxLayout()
            row.setSpacing(4)
            for chip in choices:
                row.addWidget(chip)
            row.addStretch(1)
            column.addLayout(row)
        self._filling = False

    def _soft(self, text: str) -> QLabel:
        label = QLabel(text)
        label.setObjectName("soft")
        return label

    def _make_choices(self) -> None:
        """How tables and findings are written."""
        self.decimals = Picker[int](
            "Decimals of estimates", "Decimals of estimates; more are shown where fewer would give only zeros"
        )
        self.decimals.whenever_chosen(lambda n: self.session.edit("decimals of tables", lambda s: set_decimals(s, n)))
        self.stars = Picker[bool]("Stars", "Mark p below .05, .01 and .001 in tables, with their key in the note")
        self.stars.whenever_chosen(lambda on: self.session.edit("stars in tables", lambda s: set_stars(s, on)))
        self.beside = Picker[tuple[CoefficientFigure, bool]](
            "Columns beside a coefficient", "Which statistics are shown beside each coefficient"
        )
        self.beside.caption = "columns"
        self.beside.whenever_chosen(lambda one: self.session.edit("columns of tables", lambda s: set_beside(s, *one)))
        self.correlations = Picker[BesideCorrelation](
            "What is shown beside a correlation", "Correlations alone, with p, or with their intervals"
        )
        self.correlations.caption = "correlations"
        self.correlations.whenever_chosen(
            lambda one: self.session.edit("table of correlations", lambda s: set_correlations(s, one))
        )
        self.assigned = Picker[tuple[str, bool]](
            "Randomly assigned variables",
            "For variables that were randomly assigned, the findings may speak of effects on the outcome",
        )
        self.assigned.whenever_chosen(
            lambda one: self.session.edit("random assignment", lambda s: set_assigned(s, *one))
        )

    def _show_choices(self, study: Study) -> None:
        report = study.report
        numbers = range(FEWEST_DECIMALS, MOST_CHOSEN + 1)
        self.decimals.set_choices([(n, counted(n, "decimal")) for n in numbers], report.decimals)
        self.stars.set_choices([(False, "no stars"), (True, "stars")], report.stars)
        beside = [
            ((f, f not in report.beside), f"{'leave out' if f in report.beside else 'print'}: {f.label}")
            for f in CoefficientFigure
        ]
        self.beside.set_choices(beside, None)
        self.correlations.set_choices([(one, one.label) for one in BesideCorrelation], report.correlations)
        predictors = [name for name in study.model.variables if name != study.model.outcome]
        offered = [
            (
                (n, n not in report.assigned),
                f"{study.variable(n).label}: {'not ' if n in report.assigned else ''}randomly assigned",
            )
            for n in predictors
        ]
        known = {v.name for v in study.variables}
        chosen = [study.variable(name).short for name in report.assigned if name in known]
        self.assigned.set_choices(offered, None, f"assigned: {listed_some(chosen, 2) if chosen else 'none'}")

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
        parts = study.report.whole().parts
        self._filling = True
        chosen = self.part()
        if self._order() != [p.kind for p in parts]:
            self.list.clear()
            for part in parts:
                item = QListWidgetItem(part.kind.label)
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
        self._show_choices(study)
        usual = {part.kind for part in parts if part.on} == {part.kind for part in USUAL_PARTS if part.on}
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
        said = study.report.part(part) if part is not None else None
        told = (
            [f"above: {said.above}" if said.above else "", f"below: {said.below}" if said.below else ""] if said else []
        )
        view = self.session.view
        if said is not None and view is not None:
            gone = gone_figures(view.evaluation, f"{said.above}\n{said.below}")
            told += [f"There is no {listed([f'“{name}”' for name in gone])} any more."] if gone else []
        self.said.setText("\n".join(text for text in told if text))

    # ---- changing

    def _choose_set(self, ready: ReadySet) -> None:
        self.session.edit(f"parts: {ready.label}", lambda s: choose_set(s, ready))

    def _switched(self, item: QListWidgetItem) -> None:
        if not self._filling:
            part, on = item.data(PART), item.checkState() == Qt.CheckState.Checked
            self.session.edit("part of the report", lambda s: switch_part(s, part, on))

    def _dragged(self) -> None:
        study = self.session.study
        if self._filling:
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
        if part is None:
            return
        now = study.report.part(part)
        where = "above" if is_above else "below"
        view = self.session.view
        evaluation = view.evaluation if view is not None else None
        names = live_figures(evaluation) if evaluation is not None else {}
        said = self._dialogs.words(
            f"Words {where} “{part.label}”",
            now.above if is_above else now.below,
            names,
            lambda text: with_figures(evaluation, text) if evaluation is not None else text,
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
