"""The window: header, roster, six benches, foot and status line around one session."""

from __future__ import annotations

from functools import partial
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

from yellow_slope.app import theme
from yellow_slope.app.actions import EVERYWHERE, PROBE, TERMS, Action, ActionTable
from yellow_slope.app.background import Background
from yellow_slope.app.blocks.bench import BlocksBench
from yellow_slope.app.checks.bench import ChecksBench
from yellow_slope.app.commands import Commands
from yellow_slope.app.data.bench import DataBench
from yellow_slope.app.desk import WAYPOINTS, Cell
from yellow_slope.app.finder import Finder
from yellow_slope.app.firstsight import FirstSight
from yellow_slope.app.foot import Foot
from yellow_slope.app.header import Header
from yellow_slope.app.prepare.bench import PrepareBench
from yellow_slope.app.probe.bench import ProbeBench
from yellow_slope.app.report.bench import ReportBench
from yellow_slope.app.roster import Roster
from yellow_slope.app.session import StudySession
from yellow_slope.app.statusline import StatusLine
from yellow_slope.app.stories import Link
from yellow_slope.core import edits
from yellow_slope.core.probe import probeable
from yellow_slope.core.study import Probe
from yellow_slope.core.terms import Term
from yellow_slope.core.variable import Kind, Treatment
from yellow_slope.looks import SIZES


class Window(QMainWindow):
    """One window on one session."""

    def __init__(self) -> None:
        super().__init__()
        self.background = Background(self)
        self.session = StudySession(self.background.submit)
        self.background.serve(self.session)
        self.actions_table = ActionTable()
        self.commands = Commands(self)
        self.setWindowTitle("Yellow Slope")
        self.setMinimumSize(1000, 640)
        self.resize(1280, 800)
        self.setAcceptDrops(True)
        self.first = FirstSight()
        self.first.open_wanted.connect(self.open_path)
        self.first.demo_wanted.connect(self.commands.open_demo)
        self._register_study_actions()
        self._build()
        self._register_model_actions()
        self._register_looking_actions()
        self.actions_table.whenever_added(self._bind)
        self.session.on("opened", self._opened)
        self.session.on("desk", self._desk_changed)
        self.session.on("study", self._title)
        self.first.path.setFocus()

    # ---- building

    def _build(self) -> None:
        self.header = Header(self.session, self.actions_table)
        self.header.trail.gone_to.connect(self.go)
        self.header.menu_wanted.connect(self._study_menu)
        self.search = QLineEdit()
        self.search.setPlaceholderText("Find a variable or a command")
        self.search.setAccessibleName("Find a variable or a command")
        self.search.setToolTip("Type a name; Enter runs the first command found if no variable matches (Ctrl+F)")
        self.roster = Roster(self.session)
        self.search.textChanged.connect(self.roster.search)
        self.search.returnPressed.connect(self._searched)
        self.roster.carried.connect(self._carried)
        self.roster.menu_wanted.connect(lambda at: self._context_menu(at, "variable"))
        self.roster.flag_chosen.connect(self.show_flag)
        side = QVBoxLayout()
        side.setContentsMargins(0, 8, 0, 0)
        box = QHBoxLayout()
        box.setContentsMargins(12, 0, 12, 0)
        box.addWidget(self.search)
        side.addLayout(box)
        side.addWidget(self.roster, 1)
        self.side = QWidget()
        self.side.setLayout(side)
        self.side.setFixedWidth(SIZES.roster)
        self.benches: dict[str, QWidget] = {
            "Data": DataBench(self.session),
            "Prepare": PrepareBench(self.session),
            "Blocks": BlocksBench(self.session),
            "Checks": ChecksBench(self.session),
            "Probe": ProbeBench(self.session),
            "Report": ReportBench(self.session),
        }
        self._wire_benches()
        self.stack = QStackedWidget()
        for bench in self.benches.values():
            self.stack.addWidget(bench)
        self.foot = Foot(self.session, self._foot_links)
        self.status = StatusLine(self.session)
        self.status.flags_clicked.connect(lambda: self.actions_table.run("go to the next flag"))
        right = QVBoxLayout()
        right.setSpacing(0)
        right.addWidget(self.stack, 1)
        right.addWidget(_line())
        right.addWidget(self.foot)
        middle = QHBoxLayout()
        middle.setSpacing(0)
        middle.addWidget(self.side)
        middle.addWidget(_line(upright=True))
        middle.addLayout(right, 1)
        whole = QVBoxLayout()
        whole.setContentsMargins(0, 0, 0, 0)
        whole.setSpacing(0)
        whole.addWidget(self.header)
        whole.addWidget(_line())
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

    def _wire_benches(self) -> None:
        blocks, probe, report = self.blocks, self.probe, self.report
        blocks.ladder.flag_chosen.connect(self.show_flag)
        blocks.ladder.menu_wanted.connect(lambda at: self._context_menu(at, "term"))
        blocks.ladder.carried.connect(self._carried)
        probe.swap.clicked.connect(probe.swap_roles)
        report.save_wanted.connect(self.commands.save_report)
        report.figure_wanted.connect(self.commands.export_figure)
        report.copy_wanted.connect(self.commands.copy)

    @property
    def blocks(self) -> BlocksBench:
        """The bench of Blocks."""
        bench = self.benches["Blocks"]
        assert isinstance(bench, BlocksBench)
        return bench

    @property
    def probe(self) -> ProbeBench:
        """The bench of Probe."""
        bench = self.benches["Probe"]
        assert isinstance(bench, ProbeBench)
        return bench

    @property
    def report(self) -> ReportBench:
        """The bench of Report."""
        bench = self.benches["Report"]
        assert isinstance(bench, ReportBench)
        return bench

    @property
    def data(self) -> DataBench:
        """The bench of Data."""
        bench = self.benches["Data"]
        assert isinstance(bench, DataBench)
        return bench

    @property
    def prepare(self) -> PrepareBench:
        """The bench of Prepare."""
        bench = self.benches["Prepare"]
        assert isinstance(bench, PrepareBench)
        return bench

    # ---- actions

    def _has_study(self) -> bool:
        return self.session.study is not None

    def _register_study_actions(self) -> None:
        add, c = self.actions_table.add, self.commands
        add(Action("open a file", "Open a table or a study", self._open, ("Ctrl+O",), menu="study"))
        add(Action("open the demo", "Open the made-up learners with a finished model", c.open_demo, menu="study"))
        add(
            Action(
                "save", "Save the study where it stands", c.save, ("Ctrl+S",), menu="study", available=self._has_study
            )
        )
        add(
            Action(
                "save as",
                "Save the study in another file",
                c.save_as,
                ("Ctrl+Shift+S",),
                menu="study",
                available=self._has_study,
            )
        )
        add(Action("rename the study", "Give the study a name", c.rename, menu="study", available=self._has_study))
        add(
            Action(
                "save the report",
                "Save the report as one HTML file",
                c.save_report,
                ("Ctrl+R",),
                menu="study",
                available=self._has_study,
            )
        )
        add(
            Action(
                "save the figure",
                "Save the figure as PNG or SVG, several files on one line",
                c.export_figure,
                ("Ctrl+E",),
                menu="study",
                available=self._has_study,
            )
        )
        add(
            Action(
                "undo",
                "Take back the last edit",
                lambda: self.session.undo(),
                ("Ctrl+Z",),
                menu="study",
                available=lambda: bool(self.session.undo_name),
            )
        )
        add(
            Action(
                "redo",
                "Do again what was undone",
                lambda: self.session.redo(),
                ("Ctrl+Shift+Z", "Ctrl+Y"),
                menu="study",
                available=lambda: bool(self.session.redo_name),
            )
        )
        add(
            Action(
                "change the confidence level",
                "Choose the level of all intervals",
                c.set_level,
                menu="study",
                available=self._has_study,
            )
        )
        add(
            Action(
                "dark or light",
                "Switch between the dark and the light theme",
                self._switch_theme,
                ("Ctrl+Shift+L",),
                menu="study",
            )
        )
        add(Action("quit", "Close the window", self.close, ("Ctrl+Q",), menu="study"))

    def _register_model_actions(self) -> None:
        add, b = self.actions_table.add, self.blocks
        has = self._has_study
        add(
            Action(
                "enter", "Enter what is chosen in the chosen block", b.enter_chosen, ("Return",), TERMS, "variable", has
            )
        )
        add(
            Action(
                "enter as a new block",
                "Enter what is chosen as a block of its own",
                lambda: b.enter_chosen(True),
                ("Shift+Return",),
                TERMS,
                "variable",
                has,
            )
        )
        add(
            Action(
                "choose",
                "Choose a variable or term, beside those chosen already",
                self._toggle_chosen,
                ("Space",),
                TERMS,
                "variable",
                has,
            )
        )
        add(Action("multiply", "Multiply what is chosen", b.multiply_chosen, ("X",), TERMS, "variable", has))
        add(
            Action(
                "make the outcome",
                "Make the current variable the outcome",
                self._make_outcome,
                ("Y",),
                TERMS,
                "variable",
                has,
            )
        )
        add(
            Action(
                "take out",
                "Take the chosen term or block out of the model",
                b.take_out,
                ("Delete", "Backspace"),
                TERMS,
                "term",
                has,
            )
        )
        add(
            Action(
                "move to the block before",
                "Move the chosen term one block up",
                lambda: b.move_chosen(-1),
                ("Alt+Up",),
                TERMS,
                "term",
                has,
            )
        )
        add(
            Action(
                "move to the next block",
                "Move the chosen term one block down",
                lambda: b.move_chosen(1),
                ("Alt+Down",),
                TERMS,
                "term",
                has,
            )
        )
        add(Action("name the block", "Name the chosen block", self._name_block, ("F2",), TERMS, "term", has))
        add(
            Action(
                "center",
                "Center the chosen numbers at their mean",
                lambda: self._treat(Treatment.CENTERED),
                ("C",),
                TERMS,
                "variable",
                has,
            )
        )
        add(
            Action(
                "standardize",
                "Standardize the chosen numbers",
                lambda: self._treat(Treatment.STANDARDIZED),
                ("Z",),
                TERMS,
                "variable",
                has,
            )
        )
        add(
            Action(
                "leave as it is",
                "Let the chosen numbers enter as they are",
                lambda: self._treat(Treatment.AS_IS),
                ("A",),
                TERMS,
                "variable",
                has,
            )
        )
        add(
            Action(
                "treat as groups",
                "The chosen column is a code",
                lambda: self._set_kind(Kind.GROUP),
                ("G",),
                TERMS,
                "variable",
                has,
            )
        )
        add(
            Action(
                "treat as a number",
                "The chosen column is a quantity",
                lambda: self._set_kind(Kind.NUMBER),
                ("N",),
                TERMS,
                "variable",
                has,
            )
        )
        add(
            Action(
                "type a model", "Put the keyboard on the quick line", self._to_quick_line, ("Ctrl+L",), available=has
            )
        )

    def _register_looking_actions(self) -> None:
        add, has = self.actions_table.add, self._has_study
        for i, name in enumerate(WAYPOINTS, 1):
            add(
                Action(
                    f"go to {name}", f"Go to the waypoint {name}", partial(self.go, name), (f"Alt+{i}",), available=has
                )
            )
        add(Action("find a command", "Open the command finder", self.find_command, ("Ctrl+K",)))
        add(
            Action("find a variable", "Put the keyboard on the search box", self._to_search, ("Ctrl+F",), available=has)
        )
        add(
            Action(
                "go to the next flag",
                "Show the next flag with its cost and remedies",
                self.next_flag,
                ("F8",),
                available=has,
            )
        )
        add(
            Action(
                "show the column",
                "Show the chosen term's columns beside their sources",
                self.show_column,
                ("Ctrl+D",),
                menu="term",
                available=has,
            )
        )
        add(Action("probe this", "Probe the chosen product", self.probe_this, ("Ctrl+P",), menu="term", available=has))
        add(
            Action(
                "swap focal predictor and moderator",
                "Look at the product from its other side",
                self.probe.swap_roles,
                ("Ctrl+I",),
                available=has,
            )
        )
        add(
            Action(
                "keep as pick point",
                "Keep the handle's place as a pick point",
                self.probe.keep_pick_point,
                ("Ctrl+M",),
                PROBE,
                available=has,
            )
        )
        add(
            Action("copy the sentence", "Copy what the foot says", self.copy_sentence, ("Ctrl+Shift+C",), available=has)
        )
        add(Action("copy the equation", "Copy the equation of the open step", self.report.copy_equation, available=has))
        add(
            Action(
                "codes or labels",
                "Show codes or labels in the table",
                lambda: self.session.look(codes=not self.session.desk.codes),
                ("Ctrl+J",),
                available=has,
            )
        )
        add(
            Action(
                "own scale per row",
                "Draw each row of the ladder on a scale of its own, or all on one",
                lambda: self.session.look(own_scales=not self.session.desk.own_scales),
                available=has,
            )
        )

    def _bind(self, action: Action) -> None:
        """Give an action its keys; single keys only where variables and terms are."""
        homes: list[QWidget] = [self]
        if action.scope == TERMS:
            homes = [self.roster, self.blocks.ladder]
        elif action.scope == PROBE:
            homes = [self.probe]
        for home in homes:
            bound = QAction(action.title, home)
            bound.setShortcuts([QKeySequence(key) for key in action.keys])
            context = Qt.ShortcutContext.WindowShortcut
            if action.scope == TERMS:
                context = Qt.ShortcutContext.WidgetShortcut
            elif action.scope != EVERYWHERE:
                context = Qt.ShortcutContext.WidgetWithChildrenShortcut
            bound.setShortcutContext(context)
            bound.triggered.connect(lambda _=False, name=action.name: self.actions_table.run(name))
            home.addAction(bound)

    # ---- what actions do

    def _open(self) -> None:
        self.first.browse()

    def open_path(self, text: str) -> bool:
        """Open a table or study file."""
        return self.commands.open_path(text)

    def _opened(self) -> None:
        self.pages.setCurrentWidget(self.desk_widget)
        self._desk_changed()
        self.roster.setFocus()

    def _title(self) -> None:
        if self.session.study is not None:
            mark = "" if self.session.is_saved else " •"
            self.setWindowTitle(f"{self.session.study.name}{mark} — Yellow Slope")

    def go(self, waypoint: str) -> None:
        """Go to a waypoint; Probe opens on the product chosen in the ladder."""
        if self.session.study is None:
            return
        if waypoint == "Probe" and self.session.desk.waypoint != "Probe":
            self._aim_probe()
        self.session.look(waypoint=waypoint, flag=None)

    def _desk_changed(self) -> None:
        bench = self.benches[self.session.desk.waypoint]
        if self.stack.currentWidget() is not bench:
            self.stack.setCurrentWidget(bench)
            target: QWidget | None = {
                "Blocks": self.blocks.ladder, "Probe": self.probe.plots, "Data": self.data.view, "Report": self.report.page,
            }.get(self.session.desk.waypoint)  # fmt: skip
            focused = QApplication.focusWidget()
            if target is not None and focused is not self.roster and focused is not self.header.trail:
                target.setFocus()

    def _aim_probe(self) -> None:
        study, cell = self.session.study, self.session.desk.cell
        if study is None or cell is None or cell.term is None or not cell.term.is_product:
            return
        names = list(dict.fromkeys(cell.term.variables))
        if len(names) < 2:
            return
        now = self.session.current_probe()
        if now is not None and {now.focal, now.moderator} <= set(names):
            return
        if (names[0], names[1]) in probeable(study) or (names[1], names[0]) in probeable(study):
            for probe in study.probes:
                if {probe.focal, probe.moderator} == {names[0], names[1]}:
                    wanted = probe
                    break
            else:
                wanted = Probe(names[0], names[1])
            self.session.look(handle=None, place=None, focus=0)
            self.session.edit("probe", lambda s: edits.put_probe(s, wanted))

    def probe_this(self) -> None:
        """Go to Probe on the chosen product."""
        self.go("Probe")

    def find_command(self) -> None:
        """Open the command finder."""
        finder = Finder(self.actions_table, self)
        at = self.mapToGlobal(QPoint((self.width() - finder.width()) // 2, 70))
        finder.move(at)
        finder.open()
        finder.field.setFocus()

    def _to_search(self) -> None:
        self.search.setFocus()
        self.search.selectAll()

    def _searched(self) -> None:
        shown = self.roster.shown()
        if shown:
            self.session.look(variable=shown[0].name)
            self.roster.setFocus()
            return
        found = self.actions_table.matching(self.search.text())
        self.search.clear()
        if found:
            found[0].run()

    def _to_quick_line(self) -> None:
        self.go("Blocks")
        self.blocks.quick.field.setFocus()
        self.blocks.quick.field.selectAll()

    def next_flag(self) -> None:
        """Show the next flag in the foot."""
        flags = self.session.results.flags if self.session.results else ()
        if not flags:
            self.session.say("There are no flags.")
            return
        keys = [f.key for f in flags]
        now = keys.index(self.session.desk.flag) if self.session.desk.flag in keys else -1
        self.show_flag(keys[(now + 1) % len(keys)])

    def show_flag(self, key: str) -> None:
        """Show a flag in the foot, and the thing it is about."""
        flag, study = self.session.flag(key), self.session.study
        if flag is None or study is None:
            return
        changes: dict[str, object] = {"flag": key}
        if flag.term is not None:
            home = study.block_of(flag.term)
            changes["cell"] = Cell(home, flag.term)
        if flag.variable is not None:
            changes["variable"] = flag.variable
        self.session.look(**changes)

    def show_column(self) -> None:
        """Show the chosen term's columns beside their sources, at Data."""
        desk, study = self.session.desk, self.session.study
        term = desk.cell.term if desk.cell is not None else None
        if term is None and desk.variable is not None and study is not None and Term((desk.variable,)) in study.terms:
            term = Term((desk.variable,))
        if term is None:
            self.session.say("Choose a term in the ladder first.")
            return
        beside = tuple(t for t in desk.beside if t != term) if term in desk.beside else (*desk.beside, term)
        self.session.look(beside=beside, waypoint="Data", flag=None)

    def copy_sentence(self) -> None:
        """Copy what the foot says."""
        told = self.foot._story
        self.commands.copy(" ".join(x for x in (told.title + ".", told.figures, told.sentence) if x))

    def _toggle_chosen(self) -> None:
        desk = self.session.desk
        if self.roster.hasFocus() and desk.variable is not None:
            term: Term | None = Term((desk.variable,))
        else:
            term = desk.cell.term if desk.cell is not None else None
        if term is None:
            return
        chosen = tuple(t for t in desk.chosen if t != term) if term in desk.chosen else (*desk.chosen, term)
        self.session.look(chosen=chosen)

    def _current_variable(self) -> str | None:
        desk = self.session.desk
        if self.blocks.ladder.hasFocus() and desk.cell is not None and desk.cell.term is not None:
            return desk.cell.term.variables[0] if len(desk.cell.term.variables) == 1 else None
        return desk.variable

    def _make_outcome(self) -> None:
        name = self._current_variable()
        if name is not None:
            self.session.edit("choose the outcome", lambda s: edits.set_outcome(s, name))

    def _treat(self, treatment: Treatment) -> None:
        name = self._current_variable()
        if name is not None and not self.session.desk.chosen:
            self.session.edit(f"make it {treatment}", lambda s: edits.treat(s, [name], treatment))
        else:
            self.prepare.treat_chosen(treatment)

    def _set_kind(self, kind: Kind) -> None:
        name = self._current_variable()
        if name is not None:
            self.session.edit(f"treat as {kind}", lambda s: edits.set_kind(s, name, kind))

    def _name_block(self) -> None:
        cell = self.session.desk.cell
        if cell is not None and cell.block is not None:
            self.blocks.ask_name(cell.block)

    def _switch_theme(self) -> None:
        dark = not self.session.desk.dark
        app = QApplication.instance()
        assert isinstance(app, QApplication)
        theme.dress(app, dark)
        self.session.look(dark=dark)
        for widget in self.findChildren(QWidget):
            widget.update()

    # ---- menus and links

    def _study_menu(self) -> None:
        menu = self._menu("study")
        menu.popup(self.header.name.mapToGlobal(QPoint(0, self.header.name.height())))

    def _context_menu(self, at: QPoint, kind: str) -> None:
        self._menu(kind, "term" if kind == "variable" else "variable").popup(at)

    def _menu(self, *kinds: str) -> QMenu:
        menu = QMenu(self)
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
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
        menu.setToolTipsVisible(True)
        return menu

    def _link(self, text: str, action: str) -> Link:
        found = self.actions_table[action]
        return Link(text, found.tooltip, found.run)

    def _foot_links(self) -> list[Link]:
        desk = self.session.desk
        links = [self._link("Copy", "copy the sentence")]
        if desk.waypoint == "Blocks" and desk.cell is not None and desk.cell.term is not None:
            if desk.cell.term.is_product:
                links.append(self._link("Probe this", "probe this"))
            links.append(self._link("Show column", "show the column"))
        if desk.waypoint == "Probe":
            links += [
                self._link("Keep as pick point", "keep as pick point"),
                self._link("Save figure", "save the figure"),
            ]
        if desk.waypoint == "Report":
            links.append(self._link("Copy equation", "copy the equation"))
        return links

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
        if event is not None and event.mimeData() is not None and event.mimeData().hasUrls():  # type: ignore[union-attr]
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent | None) -> None:
        if event is None or event.mimeData() is None:
            return
        urls = event.mimeData().urls()  # type: ignore[union-attr]
        if urls and urls[0].isLocalFile():
            self.open_path(str(Path(urls[0].toLocalFile())))

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        folded = self.width() < SIZES.fold_below
        if self.roster.folded != folded:
            self.roster.folded = folded
            self.side.setFixedWidth(SIZES.roster_folded if folded else SIZES.roster)
            self.search.setVisible(not folded)
            self.roster.viewport().update()  # type: ignore[union-attr]

    def closeEvent(self, event: QCloseEvent | None) -> None:
        if event is None:
            return
        if not self.commands.may_leave():
            event.ignore()
            return
        self.background.end()
        event.accept()

    def sizeHint(self) -> QSize:
        return QSize(1280, 800)


def _line(upright: bool = False) -> QFrame:
    line = QFrame()
    line.setObjectName("line")
    if upright:
        line.setFixedWidth(1)
    else:
        line.setFixedHeight(1)
    return line
