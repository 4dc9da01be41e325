"""The window: header, roster, six benches, foot and status line around one session."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QPoint, QSize, Qt
from PyQt6.QtGui import QAction, QCloseEvent, QCursor, QDragEnterEvent, QDropEvent, QKeySequence, QResizeEvent
from PyQt6.QtWidgets import (
    QApplication,
    QFrame,
    QHBoxLayout,
    QLineEdit,
    QMainWindow,
    QMenu,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from yellow_slope.app.actions import EVERYWHERE, PROBE, TERMS, Action, ActionTable
from yellow_slope.app.background import Background
from yellow_slope.app.blocks.bench import BlocksBench
from yellow_slope.app.checks.bench import ChecksBench
from yellow_slope.app.commands import Commands
from yellow_slope.app.data.bench import DataBench
from yellow_slope.app.errands import Errands
from yellow_slope.app.firstsight import FirstSight
from yellow_slope.app.foot import Foot
from yellow_slope.app.header import Header
from yellow_slope.app.looking import Looking
from yellow_slope.app.modelling import Modelling
from yellow_slope.app.prepare.bench import PrepareBench
from yellow_slope.app.probe.bench import ProbeBench
from yellow_slope.app.report.bench import ReportBench
from yellow_slope.app.roster import Roster
from yellow_slope.app.session import StudySession
from yellow_slope.app.statusline import StatusLine
from yellow_slope.core.terms import Term
from yellow_slope.core.variable import Treatment
from yellow_slope.looks import SIZES


class Window(QMainWindow):
    """One window on one session."""

    def __init__(self) -> None:
        super().__init__()
        self.background = Background(self)
        self.session = StudySession(self.background.submit)
        self.background.serve(self.session)
        self.errands = Errands(self)
        self.actions_table = ActionTable()
        self.setWindowTitle("Yellow Slope")
        self.setMinimumSize(1000, 640)
        self.resize(1280, 800)
        self.setAcceptDrops(True)
        self.first = FirstSight()
        self.modelling = Modelling(self.session)
        self.commands = Commands(self)
        self._make_benches()
        self.looking = Looking(self)
        for action in (*self.commands.actions(), *self.modelling.actions(), *self.looking.actions()):
            self.actions_table.add(action)
        self._build()
        self._wire()
        self.actions_table.whenever_added(self._bind)
        self.first.path.setFocus()

    # ---- building

    def _make_benches(self) -> None:
        self.data = DataBench(self.session)
        self.prepare = PrepareBench(self.session, self.modelling)
        self.blocks = BlocksBench(self.session, self.modelling)
        self.checks = ChecksBench(self.session)
        self.probe = ProbeBench(self.session)
        self.report = ReportBench(self.session)
        self.benches: dict[str, QWidget] = {
            "Data": self.data, "Prepare": self.prepare, "Blocks": self.blocks,
            "Checks": self.checks, "Probe": self.probe, "Report": self.report,
        }  # fmt: skip

    def _build(self) -> None:
        self.header = Header(self.session, self.actions_table)
        self.search = QLineEdit()
        self.search.setPlaceholderText("Find a variable or a command")
        self.search.setAccessibleName("Find a variable or a command")
        self.search.setToolTip("Type a name; Enter runs the first command found if no variable matches (Ctrl+F)")
        self.roster = Roster(self.session)
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
        for bench in self.benches.values():
            self.stack.addWidget(bench)
        self.foot = Foot(self.session, self.looking.links)
        self.status = StatusLine(self.session)
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
        self.desk_widget = QWidget()
        self.desk_widget.setObjectName("paper")
        self.desk_widget.setLayout(whole)
        self.pages = QStackedWidget()
        self.pages.addWidget(self.first)
        self.pages.addWidget(self.desk_widget)
        self.setCentralWidget(self.pages)

    def _wire(self) -> None:
        self.first.open_wanted.connect(self.open_path)
        self.data.read_as.chosen.connect(self.commands.read_again)
        self.first.demo_wanted.connect(self.commands.open_demo)
        self.header.trail.gone_to.connect(self.go)
        self.header.menu_wanted.connect(self._study_menu)
        self.search.textChanged.connect(self.roster.search)
        self.search.returnPressed.connect(self.looking.searched)
        self.roster.carried.connect(self._carried)
        self.roster.menu_wanted.connect(lambda at: self.menu("variable", "term").popup(at))
        self.roster.flag_chosen.connect(self.looking.show_flag)
        ladder = self.blocks.ladder
        ladder.carried.connect(self._carried)
        ladder.menu_wanted.connect(lambda at: self.menu("term", "variable").popup(at))
        ladder.flag_chosen.connect(self.looking.show_flag)
        self.probe.swap.clicked.connect(self.probe.swap_roles)
        self.report.save_wanted.connect(self.commands.save_report)
        self.report.figure_wanted.connect(self.commands.export_figure)
        self.report.copy_wanted.connect(self.commands.copy)
        self.status.flags_clicked.connect(self.looking.next_flag)
        self.status.errand.watch(self.errands)
        self.first.errand.watch(self.errands)
        self._tips()
        self.modelling.in_ladder = ladder.hasFocus
        self.modelling.ask_name = self.blocks.ask_name
        self.modelling.ask_line = self._to_quick_line
        self.session.on("opened", self._opened)
        self.session.on("desk", self._desk_changed)
        self.session.on("study", self._title)

    def _tips(self) -> None:
        """Buttons that run an action say what the table of actions says."""
        save_figure, save_report, copy = self.report.figure_button, self.report.save_button, self.report.copy_button
        for button, action in (
            (self.probe.swap, "swap focal predictor and moderator"), (self.data.codes, "codes or labels"),
            (save_figure, "save the figure"), (save_report, "save the report"), (copy, "copy the equation"),
            (self.first.demo, "open the demo"), (self.first.browse_button, "open a file"),
            (self.status.flags, "go to the next flag"),
        ):  # fmt: skip
            button.setToolTip(self.actions_table[action].tooltip)
        for treatment, action in (
            ("centered", "center"),
            ("standardized", "standardize"),
            ("as it is", "leave as it is"),
        ):
            self.prepare.buttons[Treatment(treatment)].setToolTip(self.actions_table[action].tooltip)

    def _bind(self, action: Action) -> None:
        """Give an action its keys; single keys only where variables and terms are."""
        places: dict[str, list[QWidget]] = {TERMS: [self.roster, self.blocks.ladder], PROBE: [self.probe]}
        context = {TERMS: Qt.ShortcutContext.WidgetShortcut, EVERYWHERE: Qt.ShortcutContext.WindowShortcut}
        for home in places.get(action.scope, [self]):
            bound = QAction(action.title, home)
            bound.setShortcuts([QKeySequence(key) for key in action.keys])
            bound.setShortcutContext(context.get(action.scope, Qt.ShortcutContext.WidgetWithChildrenShortcut))
            bound.triggered.connect(lambda _=False, name=action.name: self.actions_table.run(name))
            home.addAction(bound)

    # ---- what is shown

    def open_path(self, text: str) -> None:
        """Open a table or study file."""
        self.commands.open_path(text)

    def go(self, waypoint: str) -> None:
        """Go to a waypoint."""
        self.looking.go(waypoint)

    def _opened(self) -> None:
        self.pages.setCurrentWidget(self.desk_widget)
        self._desk_changed()
        self.roster.setFocus()

    def _title(self) -> None:
        if self.session.study is not None:
            mark = "" if self.session.is_saved else " •"
            self.setWindowTitle(f"{self.session.study.name}{mark} — Yellow Slope")

    def _desk_changed(self) -> None:
        waypoint = self.session.desk.waypoint
        bench = self.benches[waypoint]
        if self.stack.currentWidget() is bench:
            return
        self.stack.setCurrentWidget(bench)
        targets: dict[str, QWidget] = {
            "Blocks": self.blocks.ladder, "Probe": self.probe.plots, "Data": self.data.view, "Report": self.report.page,
            "Checks": self.checks.first_plot,
        }  # fmt: skip
        focused = QApplication.focusWidget()
        if focused is self.roster or focused is self.header.trail:
            return
        if waypoint == "Prepare":
            self.prepare.focus_strip()
        else:
            targets[waypoint].setFocus()

    def _to_quick_line(self, text: str) -> None:
        self.go("Blocks")
        self.blocks.quick.begin(text)

    def repaint_all(self) -> None:
        """Draw everything again, after a change of theme."""
        for widget in self.findChildren(QWidget):
            widget.update()

    # ---- menus

    def _study_menu(self) -> None:
        self.menu("study").popup(self.header.name.mapToGlobal(QPoint(0, self.header.name.height())))

    def menu(self, *kinds: str) -> QMenu:
        """A menu of the actions registered for it."""
        menu = QMenu(self)
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        menu.setToolTipsVisible(True)
        for kind in kinds:
            if not menu.isEmpty():
                menu.addSeparator()
            for action in self.actions_table.menu(kind):
                shown = QAction(action.title, menu)
                if action.keys:
                    shown.setShortcut(QKeySequence(action.keys[0]))
                shown.setToolTip(action.help)
                shown.setEnabled(action.available())
                shown.triggered.connect(lambda _=False, name=action.name: self.actions_table.run(name))
                menu.addAction(shown)
        return menu

    # ---- carrying terms with the mouse

    def _carried(self, term: Term, place: QPoint, how: str) -> None:
        inside = self.blocks.carry(term, place, how)
        if how == "move":
            shape = Qt.CursorShape.DragCopyCursor if inside else Qt.CursorShape.ClosedHandCursor
            if QApplication.overrideCursor() is None:
                QApplication.setOverrideCursor(QCursor(shape))
        else:
            QApplication.restoreOverrideCursor()

    # ---- events of the window

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        if event is not None and event.mimeData().hasUrls():
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent | None) -> None:
        urls = event.mimeData().urls() if event is not None else []
        if urls and urls[0].isLocalFile():
            self.open_path(str(Path(urls[0].toLocalFile())))

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        folded = self.width() < SIZES.fold_below
        if self.roster.folded != folded:
            self.roster.folded = folded
            self.side.setFixedWidth(SIZES.roster_folded if folded else SIZES.roster)
            self.search.setVisible(not folded)
            self.roster.viewport().update()

    def closeEvent(self, event: QCloseEvent | None) -> None:
        if event is None:
            return
        if not self.commands.may_leave():
            event.ignore()
            return
        self.end()
        event.accept()

    def end(self) -> None:
        """Stop the threads; what is being written is finished first."""
        self.background.end()
        self.errands.end()

    def sizeHint(self) -> QSize:
        return QSize(1280, 800)


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
