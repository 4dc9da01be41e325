"""From a number of the report to where it is made, and from what is looked at to where the report says it."""

from __future__ import annotations

from typing import assert_never

from yellow_slope.app.state.desk import Cell, Under, Waypoint
from yellow_slope.app.state.session import StudySession
from yellow_slope.app.verbs.actions import action
from yellow_slope.core.probe.seen import Seen
from yellow_slope.core.study.edits.probes import put_probe
from yellow_slope.core.told.origins import AtCheck, AtModels, AtProbe, AtSample, AtStep, AtVariable, Origin
from yellow_slope.core.words.names.probes import turned


def looked_at(session: StudySession) -> Origin | None:
    """Where the number that is looked at is made; None where it is nowhere in the report."""
    desk, view = session.desk, session.view
    if view is None or view.fit is None:
        return None
    study = view.study
    match desk.waypoint:
        case Waypoint.DATA | Waypoint.PREPARE:
            used = desk.variable is not None and desk.variable in study.model.variables
            return AtVariable(desk.variable) if used and desk.variable is not None else None
        case Waypoint.BLOCKS:
            if study.model.by is not None:
                return AtStep(len(study.model.steps) - 1)
            step = desk.step(study.model)
            term = desk.cell.term if desk.cell is not None else None
            return AtStep(step, term if term in study.model.active_terms else None)
        case Waypoint.CHECKS:
            return AtCheck(desk.check)
        case Waypoint.PROBE:
            probe = session.current_probe()
            return AtProbe(probe) if probe is not None else None
        case Waypoint.REPORT:
            return None
        case _:
            assert_never(desk.waypoint)


class Sources:
    """Both ways between the report and the rest of the program."""

    def __init__(self, session: StudySession) -> None:
        self.session = session

    def can_be_found(self) -> bool:
        """Whether what is looked at has a place in the report."""
        return looked_at(self.session) is not None

    @action(
        "find it in the report",
        "Show where the report says the number that is looked at",
        "Ctrl+Shift+H",
        available="can_be_found",
    )
    def find_in_report(self) -> None:
        """Go to the report, to what is looked at."""
        origin = looked_at(self.session)
        if origin is not None:
            self.session.look(waypoint=Waypoint.REPORT, sought=origin, figure=None, flag=None)

    def lead_to(self, origin: Origin) -> None:
        """Go to where a number is made."""
        study, look = self.session.study, self.session.look
        match origin:
            case AtVariable(name):
                if name not in {v.name for v in study.variables}:
                    return
                waypoint = Waypoint.PREPARE if name in study.model.variables else Waypoint.DATA
                look(variable=name, waypoint=waypoint, flag=None)
            case AtSample():
                look(waypoint=Waypoint.DATA, flag=None)
            case AtStep(step, term):
                if step >= len(study.model.steps):
                    return
                there = term is not None and term in study.model.active_terms
                cell = Cell(study.model.block_of(term), term) if there and term is not None else None
                look(cell=cell, open_step=step, waypoint=Waypoint.BLOCKS, flag=None)
            case AtProbe(probe):
                now = self.session.current_probe()
                if probe != now:
                    look(seen=Seen())
                    self.session.edit(turned(study, now, probe), lambda s: put_probe(s, probe), quiet=True)
                look(waypoint=Waypoint.PROBE, flag=None)
            case AtCheck(check):
                look(check=check, waypoint=Waypoint.CHECKS, flag=None)
            case AtModels():
                look(below=Under.MODELS, waypoint=Waypoint.BLOCKS, flag=None)
            case _:
                assert_never(origin)
