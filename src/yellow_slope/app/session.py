"""The session: the current study, its past and future, the newest evaluation, and the desk. It knows no toolkit."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any

from yellow_slope.app.desk import Desk
from yellow_slope.core.errors import YellowSlopeError
from yellow_slope.core.evaluate import Evaluation, evaluate
from yellow_slope.core.flags import Flag, flags_of
from yellow_slope.core.probe import Probed, default_probe, probe_fit
from yellow_slope.core.reading import Reader, reader
from yellow_slope.core.study import Probe, Study


@dataclass(frozen=True, slots=True, eq=False)
class Results:
    """What a study's evaluation shows: the evaluation and its flags."""

    evaluation: Evaluation
    flags: tuple[Flag, ...]

    @property
    def reader(self) -> Reader | None:
        """Puts the numbers into words; None while nothing is fitted."""
        return reader(self.evaluation)


def results_of(study: Study, worthless: Callable[[], bool] = lambda: False) -> Results | None:
    """Evaluate and look for flags; None as soon as a newer study has made this worthless."""
    evaluation = evaluate(study)
    return None if worthless() else Results(evaluation, flags_of(evaluation))


class StudySession:
    """Owns the study. Widgets observe it by topic: “study”, “results”, “desk”, “message”."""

    def __init__(self, submit: Callable[[Study, int], None] | None = None) -> None:
        self.study: Study | None = None
        self.path: Path | None = None
        self.saved: Study | None = None
        self.source: Path | None = None
        self.results: Results | None = None
        self.serial = 0
        self.shown_serial = 0
        self.message = ""
        self.desk = Desk()
        self._past: list[tuple[str, Study]] = []
        self._future: list[tuple[str, Study]] = []
        self._listeners: dict[str, list[Callable[[], None]]] = {}
        self._submit = submit or self._at_once
        self._probed: tuple[Any, Probed | None] = (None, None)

    # ---- observing

    def on(self, topic: str, call: Callable[[], None]) -> None:
        """Call whenever the topic changes."""
        self._listeners.setdefault(topic, []).append(call)

    def _tell(self, topic: str) -> None:
        for call in self._listeners.get(topic, []):
            call()

    # ---- the study

    def open(self, study: Study, path: Path | None = None, source: Path | None = None) -> None:
        """Take up another study; its past begins here. `source`: the table file it was just read from."""
        self.study, self.path, self.saved, self.source = study, path, study, source
        self._past, self._future = [], []
        self.results = None
        waypoint = "Blocks" if study.blocks else "Data"
        first = study.variables[0].name if study.variables else None
        self.desk = Desk(waypoint=waypoint, dark=self.desk.dark, variable=study.outcome or first)
        self.say("")
        self._changed()
        self._tell("desk")
        self._tell("opened")

    def edit(self, what: str, change: Callable[[Study], Study], quiet: bool = False) -> bool:
        """Apply an edit and remember it under its name. A refusal becomes a message and changes nothing.

        A quiet edit (Probe turning to the product that is looked at) is no step of its own for undo, nor a change to save.
        """
        if self.study is None:
            return False
        try:
            new = change(self.study)
        except YellowSlopeError as error:
            self.say(str(error))
            return False
        if new is self.study:
            return False
        if quiet:
            self.saved = new if self.is_saved else self.saved
        else:
            self._past.append((what, self.study))
            self._future.clear()
        self.study = new
        self.say("")
        self._changed()
        return True

    def undo(self) -> None:
        """Back to the study before the last edit."""
        if self._past and self.study is not None:
            what, before = self._past.pop()
            self._future.append((what, self.study))
            self.study = before
            self.say(f"Undone: {what}")
            self._changed()

    def redo(self) -> None:
        """Do again what was undone."""
        if self._future and self.study is not None:
            what, after = self._future.pop()
            self._past.append((what, self.study))
            self.study = after
            self.say(f"Done again: {what}")
            self._changed()

    @property
    def undo_name(self) -> str:
        """What undo would take back; empty if nothing."""
        return self._past[-1][0] if self._past else ""

    @property
    def redo_name(self) -> str:
        """What redo would do again; empty if nothing."""
        return self._future[-1][0] if self._future else ""

    @property
    def is_saved(self) -> bool:
        """Whether the study is as it was opened or last saved."""
        return self.study is self.saved

    def mark_saved(self, path: Path, study: Study) -> None:
        """That study now stands in that file."""
        self.path, self.saved = path, study
        self._tell("study")

    def _changed(self) -> None:
        assert self.study is not None
        self.serial += 1
        self._tidy_desk(self.study)
        self._tell("study")
        self._submit(self.study, self.serial)

    def _tidy_desk(self, study: Study) -> None:
        terms = set(study.terms)
        desk = self.desk
        if desk.cell is not None and desk.cell.term is not None and desk.cell.term not in terms:
            desk = replace(desk, cell=None)
        if desk.cell is not None and desk.cell.column is not None and desk.cell.column >= 0:
            desk = replace(desk, cell=replace(desk.cell, column=None)) if self._columns_moved(study) else desk
        if desk.open_step is not None and desk.open_step >= len(study.blocks):
            desk = replace(desk, open_step=None)
        known = {v.name for v in study.variables}
        chosen = tuple(t for t in desk.chosen if set(t.variables) <= known)
        beside = tuple(t for t in desk.beside if t in terms)
        self.desk = replace(desk, chosen=chosen, beside=beside, flag=None)

    def _columns_moved(self, study: Study) -> bool:
        """Whether the last edit may have changed which column stands where."""
        shown = self.results.evaluation.study if self.results else None
        return shown is None or shown.blocks != study.blocks or shown.variables != study.variables

    # ---- evaluation

    def _at_once(self, study: Study, serial: int) -> None:
        results = results_of(study)
        assert results is not None
        self.arrive(serial, results)

    def arrive(self, serial: int, results: Results) -> None:
        """Take results in, unless a newer study has made them worthless."""
        if serial != self.serial:
            return
        self.results, self.shown_serial = results, serial
        self._tell("results")

    @property
    def is_settled(self) -> bool:
        """Whether what is shown belongs to the current study."""
        return self.shown_serial == self.serial

    def flag(self, key: str | None) -> Flag | None:
        """The flag of that key, if it is raised."""
        flags = self.results.flags if self.results else ()
        return next((flag for flag in flags if flag.key == key), None)

    # ---- the desk

    def look(self, **changes: Any) -> None:
        """Change what is looked at or chosen."""
        new = replace(self.desk, **changes)
        if new != self.desk:
            self.desk = new
            self._tell("desk")

    def say(self, message: str) -> None:
        """Show a sentence in the status line."""
        self.message = message
        self._tell("message")

    # ---- probing

    def current_probe(self) -> Probe | None:
        """The probe of the product chosen in the ladder, else the study's first, else the product entered last."""
        return default_probe(self.study) if self.study is not None else None

    def probed(self) -> Probed | None:
        """The current probe's results for the newest evaluation; None where there is nothing to probe."""
        evaluation = self.results.evaluation if self.results else None
        if evaluation is None or evaluation.fit is None:
            return None
        probe = default_probe(evaluation.study)
        key = (evaluation, probe, self.desk.region_rule)
        if self._probed[0] is not None and all(a is b or a == b for a, b in zip(self._probed[0], key)):
            return self._probed[1]
        found = None
        if probe is not None:
            try:
                found = probe_fit(evaluation.study, evaluation.fit, probe, self.desk.region_rule)
            except YellowSlopeError as error:
                self.say(str(error))
        self._probed = (key, found)
        return found
