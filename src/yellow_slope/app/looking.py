"""Looking around: waypoints, finder, search, flags, columns, the foot's sentence."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import TYPE_CHECKING

from PyQt6.QtCore import QPoint
from PyQt6.QtWidgets import QApplication

from yellow_slope.app import theme
from yellow_slope.app.actions import EVERYWHERE, PROBE, Action
from yellow_slope.app.desk import WAYPOINTS, Cell
from yellow_slope.app.finder import Finder
from yellow_slope.app.stories import Link
from yellow_slope.core import edits
from yellow_slope.core.probe import probeable
from yellow_slope.core.study import Probe
from yellow_slope.core.terms import Term

if TYPE_CHECKING:
    from yellow_slope.app.window import Window


class Looking:
    """What changes the desk but not the study."""

    def __init__(self, window: Window) -> None:
        self.window, self.session = window, window.session

    def actions(self) -> list[Action]:
        """Everything that can be looked at."""
        w, session = self.window, self.session
        named: list[tuple[str, str, Callable[[], object], tuple[str, ...], str]] = [
            *((f"go to {name}", f"Go to the waypoint {name}", partial(self.go, name), (f"Alt+{i}",), "") for i, name in enumerate(WAYPOINTS, 1)),
            ("find a variable", "Put the keyboard on the search box", self.to_search, ("Ctrl+F",), ""),
            ("go to the next flag", "Show the next flag with its cost and remedies", self.next_flag, ("F8",), ""),
            ("show the column", "Show the chosen term's columns beside their sources", self.show_column, ("Ctrl+D",), "term"),
            ("probe this", "Probe the chosen product", partial(self.go, "Probe"), ("Ctrl+P",), "term"),
            ("swap focal predictor and moderator", "Look at the product from its other side", w.probe.swap_roles, ("Ctrl+I",), ""),
            ("copy the sentence", "Copy what the foot says", self.copy_sentence, ("Ctrl+Shift+C",), ""),
            ("copy the equation", "Copy the equation of the open step", w.report.copy_equation, (), ""),
            ("codes or labels", "Show codes or labels in the table", lambda: session.look(codes=not session.desk.codes), ("Ctrl+J",), ""),
            ("own scale per row", "Draw each row of the ladder on a scale of its own, or all on one", self.switch_scales, (), ""),
        ]  # fmt: skip
        found = [Action(name, help, run, keys, EVERYWHERE, menu, self._has) for name, help, run, keys, menu in named]
        return [
            *found,
            Action("find a command", "Open the command finder", self.find_command, ("Ctrl+K",)),
            Action("dark or light", "Switch between the dark and the light theme", self.switch_theme, ("Ctrl+Shift+L",), menu="study"),
            Action("keep as pick point", "Keep the handle's place as a pick point", w.probe.keep_pick_point, ("Ctrl+M",), PROBE, "", self._has),
        ]  # fmt: skip

    def _has(self) -> bool:
        return self.session.study is not None

    def go(self, waypoint: str) -> None:
        """Go to a waypoint; Probe opens on the product chosen in the ladder."""
        if self.session.study is None:
            return
        if waypoint == "Probe" and self.session.desk.waypoint != "Probe":
            self._aim_probe()
        self.session.look(waypoint=waypoint, flag=None)

    def _aim_probe(self) -> None:
        study, cell = self.session.study, self.session.desk.cell
        if study is None or cell is None or cell.term is None:
            return
        names = list(dict.fromkeys(cell.term.variables))[:2]
        now = self.session.current_probe()
        if len(names) < 2 or (now is not None and {now.focal, now.moderator} <= set(cell.term.variables)):
            return
        if (names[0], names[1]) in probeable(study) or (names[1], names[0]) in probeable(study):
            known = [p for p in study.probes if {p.focal, p.moderator} == set(names)]
            wanted = known[0] if known else Probe(names[0], names[1])
            self.session.look(handle=None, place=None, focus=0)
            self.session.edit("probe", lambda s: edits.put_probe(s, wanted), quiet=True)

    def find_command(self) -> None:
        """Open the command finder."""
        before = QApplication.focusWidget()
        finder = Finder(self.window.actions_table, self.window)

        def back() -> None:
            self.window.activateWindow()
            if before is not None and before.isVisible():
                before.setFocus()

        finder.rejected.connect(back)
        finder.move(self.window.mapToGlobal(QPoint((self.window.width() - finder.width()) // 2, 70)))
        finder.open()
        finder.field.setFocus()

    def to_search(self) -> None:
        """Put the keyboard on the search box."""
        self.window.search.setVisible(True)
        self.window.search.setFocus()
        self.window.search.selectAll()

    def searched(self) -> None:
        """Enter in the search box: the first variable found, else the first command found."""
        shown, search = self.window.roster.shown(), self.window.search
        if shown:
            self.session.look(variable=shown[0].name)
            self.window.roster.setFocus()
            return
        found = self.window.actions_table.matching(search.text())
        search.clear()
        if found:
            found[0].run()

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
            changes["cell"] = Cell(study.block_of(flag.term), flag.term)
        if flag.variable is not None:
            changes["variable"] = flag.variable
        self.session.look(**changes)

    def show_column(self) -> None:
        """Show the chosen term's columns beside their sources, at Data; or no longer."""
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
        told = self.window.foot.told
        self.window.commands.copy(" ".join(x for x in (told.title + ".", told.figures, told.sentence) if x))

    def switch_scales(self) -> None:
        """Common scale or own scales."""
        self.session.look(own_scales=not self.session.desk.own_scales)

    def switch_theme(self) -> None:
        """Dark or light."""
        app = QApplication.instance()
        assert isinstance(app, QApplication)
        dark = not self.session.desk.dark
        theme.dress(app, dark)
        self.session.look(dark=dark)
        self.window.repaint_all()

    def links(self) -> list[Link]:
        """What the foot offers at the waypoint."""
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

    def _link(self, text: str, action: str) -> Link:
        found = self.window.actions_table[action]
        return Link(text, found.tooltip, found.run)
