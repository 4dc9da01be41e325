"""Looking around: waypoints, finder, search, flags, columns beside their sources, the theme."""

from __future__ import annotations

from yellow_slope.app.state.desk import Cell, Looking, Waypoint
from yellow_slope.app.state.requests import Request
from yellow_slope.app.state.session import StudySession
from yellow_slope.app.verbs.actions import Menu, action
from yellow_slope.core.data.variable import Kind
from yellow_slope.core.probe.asking import probe_of
from yellow_slope.core.probe.seen import Seen
from yellow_slope.core.study.edits.probes import put_probe
from yellow_slope.core.study.flagkeys import FlagKey
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Term
from yellow_slope.core.words.names.groups import is_only_code
from yellow_slope.core.words.names.probes import turned
from yellow_slope.core.words.names.terms import label


class Navigation:
    """What changes the desk but not the study."""

    def __init__(self, session: StudySession) -> None:
        self.session = session

    # ---- waypoints

    @action("go to Data", "Go to the waypoint Data", "Alt+1", available="session.is_open")
    def go_data(self) -> None:
        """Go to Data."""
        self.go(Waypoint.DATA)

    @action("go to Prepare", "Go to the waypoint Prepare", "Alt+2", available="session.is_open")
    def go_prepare(self) -> None:
        """Go to Prepare."""
        self.go(Waypoint.PREPARE)

    @action("go to Blocks", "Go to the waypoint Blocks", "Alt+3", available="session.is_open")
    def go_blocks(self) -> None:
        """Go to Blocks."""
        self.go(Waypoint.BLOCKS)

    @action("go to Checks", "Go to the waypoint Checks", "Alt+4", available="session.is_open")
    def go_checks(self) -> None:
        """Go to Checks."""
        self.go(Waypoint.CHECKS)

    @action("go to Probe", "Go to the waypoint Probe", "Alt+5", available="session.is_open")
    def go_probe(self) -> None:
        """Go to Probe."""
        self.go(Waypoint.PROBE)

    @action("go to Report", "Go to the waypoint Report", "Alt+6", available="session.is_open")
    def go_report(self) -> None:
        """Go to Report."""
        self.go(Waypoint.REPORT)

    def go(self, waypoint: Waypoint) -> None:
        """Go to a waypoint; Probe opens on the product chosen in the ladder."""
        if waypoint == Waypoint.PROBE and self.session.desk.waypoint != Waypoint.PROBE:
            self._aim_probe()
        self.session.look(waypoint=waypoint, flag=None)

    def _aim_probe(self) -> None:
        study, cell = self.session.study, self.session.desk.cell
        if cell is None or cell.term is None:
            return
        if not cell.term.is_product or cell.term not in study.model.active_terms:
            return
        view = self.session.view
        now, wanted = self.session.current_probe(), probe_of(study, cell.term, view.fit if view is not None else None)
        if wanted != now:
            self.session.look(seen=Seen())
            self.session.edit(turned(study, now, wanted), lambda s: put_probe(s, wanted), quiet=True)

    # ---- finding

    @action("find a variable", "Put the keyboard on the search box", "Ctrl+F", available="session.is_open")
    def to_search(self) -> None:
        """Put the keyboard on the search box."""
        self.session.ask(Request.FIND_VARIABLE)

    @action("find a command", "Open the command finder", "Ctrl+K")
    def find_command(self) -> None:
        """Open the command finder."""
        self.session.ask(Request.FIND_COMMAND)

    # ---- flags

    @action("go to the next flag", "Show the next flag with its cost and remedies", "F8", available="session.is_open")
    def next_flag(self) -> None:
        """Show the next flag in the foot."""
        flags = self.session.view.flags if self.session.view else ()
        if not flags:
            self.session.say("There are no flags.")
            return
        keys = [f.key for f in flags]
        now = keys.index(self.session.desk.flag) if self.session.desk.flag in keys else -1
        self.show_flag(keys[(now + 1) % len(keys)])

    def show_flag(self, key: FlagKey) -> None:
        """Show a flag in the foot, and the thing it is about."""
        flag, study = self.session.flag(key), self.session.study
        if flag is None:
            return
        changes: Looking = {"flag": key}
        if flag.term is not None:
            changes["cell"] = Cell(study.model.block_of(flag.term), flag.term)
        if flag.variable is not None:
            changes["variable"] = flag.variable
        self.session.look(**changes)

    # ---- what is shown

    @action(
        "show the column",
        "Show the chosen term's columns beside their sources",
        "Ctrl+D",
        menu=Menu.TERM,
        available="session.is_open",
    )
    def show_column(self) -> None:
        """Show the chosen term's columns beside their sources, at Data; or no longer."""
        desk, study = self.session.desk, self.session.study
        term = desk.cell.term if desk.cell is not None else None
        if term is None and desk.variable is not None and Term((desk.variable,)) in study.model.terms:
            term = Term((desk.variable,))
        if term is None:
            self.session.say("Choose a term in the ladder first.")
            return
        beside = tuple(t for t in desk.beside if t != term) if term in desk.beside else (*desk.beside, term)
        where = term.variables[0] if desk.variable not in term.variables else desk.variable
        self.session.look(beside=beside, waypoint=Waypoint.DATA, flag=None, variable=where)
        if self.session.is_open:
            self.session.say(self._beside_said(study, term, term in beside))

    def _beside_said(self, study: Study, term: Term, is_shown: bool) -> str:
        """What has moved in the table."""
        name, view = label(study, term), self.session.view
        if not is_shown:
            return f"{name} is no longer shown in the table."
        if len(term.variables) == 1:
            return f"{name} is shown first in the table; Ctrl+D puts it back."
        if view is None or view.fit is None:
            return f"What {name} is made of is shown first in the table; there is no fit to show its own columns."
        return f"{name} and what it is made of are shown first in the table; Ctrl+D puts them back."

    @action("probe this", "Probe the chosen product", "Ctrl+P", menu=Menu.TERM, available="session.is_open")
    def probe_this(self) -> None:
        """Probe the chosen product."""
        self.go(Waypoint.PROBE)

    def unnamed_group(self) -> str | None:
        """The group that is looked at whose levels are called by their codes; None where all have names."""
        study, desk, probe = self.session.study, self.session.desk, self.session.current_probe()
        names: tuple[str, ...] = (desk.variable,) if desk.variable is not None else ()
        if desk.waypoint is Waypoint.PROBE:
            second = (probe.second.variable,) if probe is not None and probe.second is not None else ()
            names = (probe.focal, probe.moderator, *second) if probe is not None else ()
        elif desk.waypoint is Waypoint.BLOCKS:
            names = desk.cell.term.variables if desk.cell is not None and desk.cell.term is not None else ()
        known = {v.name: v for v in study.variables if v.kind is Kind.GROUP}
        return next((n for n in names if n in known and any(map(is_only_code, known[n].levels))), None)

    def has_unnamed_group(self) -> bool:
        """Whether the group that is looked at has levels without a name."""
        return self.unnamed_group() is not None

    @action(
        "name the levels", "Name the codes of the current group, on its card at Data", available="has_unnamed_group"
    )
    def name_levels(self) -> None:
        """Name the levels of the group that is looked at."""
        name = self.unnamed_group()
        if name is not None:
            self.session.look(waypoint=Waypoint.DATA, variable=name, flag=None)
            self.session.ask(Request.NAME_LEVELS)

    @action("codes or labels", "Show codes or labels in the table", "Ctrl+J", available="session.is_open")
    def switch_codes(self) -> None:
        """Codes or labels."""
        self.session.look(codes=not self.session.desk.codes)

    @action(
        "own scale per row",
        "Draw each row of the ladder on a scale of its own, or all on one",
        available="session.is_open",
    )
    def switch_scales(self) -> None:
        """Common scale or own scales."""
        self.session.look(own_scales=not self.session.desk.own_scales)

    @action("copy the sentence", "Copy the text of the foot", "Ctrl+Shift+C", available="session.is_open")
    def copy_sentence(self) -> None:
        """Copy what the foot says."""
        self.session.ask(Request.COPY_SENTENCE)

    @action("dark or light", "Switch between the dark and the light theme", "Ctrl+Shift+L", menu=Menu.STUDY)
    def switch_theme(self) -> None:
        """Dark or light."""
        self.session.look(dark=not self.session.desk.dark)
