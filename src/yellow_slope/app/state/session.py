"""The session: the current study, its past and future, the newest view, and the desk. It knows no toolkit."""

from __future__ import annotations

import logging
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Unpack

from yellow_slope.app.state.desk import Desk, Looking, Seeing, Waypoint
from yellow_slope.app.state.figured import Figured
from yellow_slope.app.state.prepared import Prepared
from yellow_slope.app.state.requests import Asked
from yellow_slope.app.state.topics import TOPIC_OF, Topic
from yellow_slope.app.state.view import View, view_of
from yellow_slope.core.errors import YellowSlopeError
from yellow_slope.core.fit.asked.matching import column_keys
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.flags import Flag
from yellow_slope.core.letters import shown
from yellow_slope.core.probe.asking import default_probe
from yellow_slope.core.probe.probed import Probed
from yellow_slope.core.probe.seen import Seen, Sight
from yellow_slope.core.stand.checked import Checked
from yellow_slope.core.stand.standing import ProductAsked, Stand, asked_in, probed_product
from yellow_slope.core.study.checks import Check
from yellow_slope.core.study.flagkeys import FlagKey
from yellow_slope.core.study.history import Edited, History, Opened, Redone, Saved, Step, Undone
from yellow_slope.core.study.probe import Probe
from yellow_slope.core.study.study import NO_STUDY, Study
from yellow_slope.core.study.terms import Term
from yellow_slope.core.study.whole import Edit
from yellow_slope.core.words.sentences.effects import EffectReader
from yellow_slope.core.words.sentences.gone import gone_sentence, let_go_sentence
from yellow_slope.files.safely.atomically import Stamp
from yellow_slope.values import replace

log = logging.getLogger(__name__)


class StudySession:
    """Owns the study. Parts of the window follow it by topic."""

    def __init__(self, submit: Callable[[Study, int], None] | None = None) -> None:
        self.history = History[Study]()
        """The study with its past and future."""
        self.stamp: Stamp | None = None
        """How the study file stood on the disk when it was read or written here."""
        self.record: Callable[[Step[Study]], None] = lambda step: None
        """Told of everything that happens to the study."""
        self.view: View | None = None
        self.serial = 0
        self.shown_serial = 0
        self.message = ""
        self.checked: Checked | None = None
        """What is checked of the open step; Checks puts it here."""
        self._probes: list[tuple[tuple[object, ...], Probe | None]] = []
        """The probes asked for last, by what they rest on."""
        self.figured: Figured | None = None
        """The figure that is tuned, laid out; Report puts it here."""
        self.stand: Stand | None = None
        """How the chosen product stands; Checks puts it here."""
        self.before_and_after = ""
        """What other cases change, in words; Checks puts it here."""
        self.prepared: Prepared | None = None
        """What Prepare has computed of the current variable: a code card, an overview, or what centering changes."""
        self.asked: Asked | None = None
        """What a part asks of the window."""
        self.desk = Desk()
        self._listeners: dict[Topic, list[Callable[[], None]]] = {}
        self._submit = submit or self._at_once

    # ---- observing

    def on(self, call: Callable[[], None], *topics: Topic) -> None:
        """Call whenever one of the topics changes; once where several do."""
        for topic in topics:
            self._listeners.setdefault(topic, []).append(call)

    @contextmanager
    def catching_up(self) -> Iterator[None]:
        """Who begins to listen meanwhile is told of everything at the end, if there is a study: they come late."""
        before = {call for calls in self._listeners.values() for call in calls}
        yield
        if self.is_open:
            for call in dict.fromkeys(call for calls in self._listeners.values() for call in calls):
                if call not in before:
                    call()

    def _tell(self, *topics: Topic) -> None:
        for call in dict.fromkeys(call for topic in topics for call in self._listeners.get(topic, ())):
            call()

    def ask(self, what: Asked) -> None:
        """Ask something of whoever can do it."""
        self.asked = what
        self._tell(Topic.REQUEST)

    # ---- the study

    def open(
        self, study: Study, path: Path | None = None, source: Path | None = None, stamp: Stamp | None = None
    ) -> None:
        """Take up another study; its past begins here. `source`: the file it was just read from."""
        went = study.went
        study = replace(study, went=()) if went else study
        self._begin(Opened(study, path, source), stamp)
        if went:
            self.say(let_go_sentence(study, went))

    def take_up(self, history: History[Study], remark: str, stamp: Stamp | None = None) -> None:
        """Take up a study with its past, as a journal kept it. `remark`: what is not as it was."""
        study = history.study
        assert study is not None
        self.history = replace(history, study=replace(study, went=()) if study.went else study)
        self._begin(None, stamp)
        went = let_go_sentence(study, study.went) if study.went else ""
        self.say(f"{remark} {went}".strip())

    def _begin(self, opened: Opened[Study] | None, stamp: Stamp | None) -> None:
        """Everything anew for another study."""
        for step in [opened] if opened is not None else self.history.steps():
            if opened is not None:
                self.history.take(step)
            self.record(step)
        study = self.study
        log.info("a study of %d rows and %d columns", study.table.n_rows, len(study.table.columns))
        self.stamp, self.view = stamp, None
        self.checked = self.stand = self.figured = None
        waypoint = Waypoint.BLOCKS if study.model.blocks else Waypoint.DATA
        first = study.variables[0].name if study.variables else None
        self.desk = Desk(waypoint=waypoint, dark=self.desk.dark, variable=study.model.outcome or first)
        self.say("")
        self.serial += 1
        self._tidy_desk(study)
        self._tell(Topic.STUDY, *TOPIC_OF.values())
        self._tell(Topic.OPENED)
        self._submit(study, self.serial)  # once all is drawn: the worker takes turns with whoever draws

    def _go(self, step: Step[Study]) -> None:
        """One step on, kept by whoever keeps it."""
        self.history.take(step)
        self.record(step)

    def edit(self, what: str, change: Edit, quiet: bool = False, say: str = "") -> bool:
        """Apply an edit and remember it under its name. A refusal becomes a message and changes nothing.

        An edit that gives back the same study is no step. A quiet edit (Probe turning to the product that is looked
        at) is no step of its own for undo, nor a change to save. `say`: what the user should know of it.
        """
        if not self.is_open:
            return False
        try:
            new = change(self.study)
        except YellowSlopeError as error:
            self.say(str(error))
            return False
        if new is self.study:
            return False
        if new.went:
            say = f"{say} {gone_sentence(new, new.went)}".strip()
            new = replace(new, went=())
        if quiet and self.is_saved:
            self.history.saved = self.study  # it may have come back to that by another way
        self._go(Edited(what, new, quiet))
        self.say(say)
        self._changed()
        return True

    def undo(self) -> None:
        """Back to the study before the last edit."""
        what = self.undo_name
        if what:
            self._go(Undone())
            self.say(f"Undone: {what}")
            self._changed()

    def redo(self) -> None:
        """Do again what was undone."""
        what = self.redo_name
        if what:
            self._go(Redone())
            self.say(f"Done again: {what}")
            self._changed()

    @property
    def study(self) -> Study:
        """The study; one of no columns while none is open."""
        return self.history.study or NO_STUDY

    @property
    def is_open(self) -> bool:
        """Whether a study is open."""
        return self.history.study is not None

    @property
    def path(self) -> Path | None:
        """The study file it stands in; None where it stands in none."""
        return self.history.path

    @property
    def source(self) -> Path | None:
        """The file it was just read from."""
        return self.history.source

    @property
    def saved(self) -> Study | None:
        """As it stands in its file, or as it was opened."""
        return self.history.saved

    @property
    def undo_name(self) -> str:
        """What undo would take back; empty if nothing."""
        return self.history.past[-1][0] if self.history.past else ""

    @property
    def redo_name(self) -> str:
        """What redo would do again; empty if nothing."""
        return self.history.future[-1][0] if self.history.future else ""

    @property
    def is_saved(self) -> bool:
        """Whether the study is as it was opened or last saved, by whatever way it came back to that."""
        study, saved = self.history.study, self.saved
        return study is saved or (study is not None and saved is not None and study.says_as(saved))

    def mark_saved(self, path: Path, study: Study, stamp: Stamp | None = None) -> None:
        """That study now stands in that file."""
        self._go(Saved(study, path))
        self.stamp = stamp
        self._tell(Topic.STUDY)

    def let_go(self) -> None:
        """The study may be left as it is: nothing of it is to be saved."""
        self.history.saved = self.history.study

    def _changed(self) -> None:
        self.serial += 1
        before = self.desk
        self._tidy_desk(self.study)
        self._tell(Topic.STUDY, *self._moved(before))
        self._submit(self.study, self.serial)

    def _tidy_desk(self, study: Study) -> None:
        model = study.model
        terms = set(model.terms)
        desk = self.desk
        if desk.cell is not None and desk.cell.term is not None and desk.cell.term not in terms:
            desk = replace(desk, cell=None)
        if desk.cell is not None and desk.cell.column is not None and desk.cell.column >= 0:
            desk = replace(desk, cell=replace(desk.cell, column=None)) if self._columns_moved(study) else desk
        if desk.open_step is not None and desk.open_step >= len(model.steps):
            desk = replace(desk, open_step=None)
        known = {v.name for v in study.variables}
        if desk.variable not in known:
            desk = replace(desk, variable=study.model.outcome or next(iter(v.name for v in study.variables), None))
        if desk.compared is not None and (
            desk.compared == study.current or desk.compared not in {m.id for m in study.models}
        ):
            desk = replace(desk, compared=None)
        chosen = tuple(t for t in desk.chosen if set(t.variables) <= known)
        beside = tuple(t for t in desk.beside if t in terms)
        sort = desk.sort if desk.sort is not None and desk.sort[0] in known else None
        if desk.lit and (self.view is None or self.view.study.table.n_rows != study.table.n_rows):
            desk = replace(desk, lit=())  # rows of another table are other cases
        if desk.figure is not None and not any(f.name == desk.figure for f in study.figures):
            desk = replace(desk, figure=None, part=None)
        shown = self._probe_of(self.view.study, self.view.fit) if self.view is not None else None
        now = self._probe_of(study, self._fit_of(study))
        if shown is not None and (now is None or now.about != shown.about):
            desk = replace(desk, seen=Seen())
        self.desk = replace(desk, chosen=chosen, beside=beside, sort=sort, flag=None, zero=None)

    def _columns_moved(self, study: Study) -> bool:
        """Whether the last edit may have changed which column stands where."""
        shown = self.view.study if self.view else None
        return shown is None or shown.models != study.models or shown.variables != study.variables

    # ---- evaluation

    def _at_once(self, study: Study, serial: int) -> None:
        view = view_of(study, self.view)
        assert view is not None
        self.arrive(serial, view)

    def arrive(self, serial: int, view: View) -> None:
        """Take results in, unless a newer study has made them worthless."""
        if serial != self.serial:
            return
        self.view, self.shown_serial = view, serial
        self._probes.clear()  # a fit that is no longer shown is let go
        self._tell(Topic.RESULTS)

    @property
    def is_settled(self) -> bool:
        """Whether what is shown belongs to the current study."""
        return self.shown_serial == self.serial

    def flag(self, key: FlagKey | None) -> Flag | None:
        """The flag of that key, if it is raised."""
        return self.view.flag(key) if self.view is not None else None

    # ---- the desk

    def look(self, **changes: Unpack[Looking]) -> None:
        """Change what is looked at or chosen. A message ends with what it was about."""
        new = replace(self.desk, **changes)
        if new != self.desk:
            elsewhere = (
                new.waypoint != self.desk.waypoint or new.cell != self.desk.cell or new.variable != self.desk.variable
            )
            before, self.desk = self.desk, new
            if elsewhere and self.message:
                self.say("")
            self._tell(*self._moved(before))

    def _moved(self, before: Desk) -> list[Topic]:
        """The topics of what is otherwise on the desk than before."""
        here = self.desk
        return [topic for name, topic in TOPIC_OF.items() if getattr(before, name) != getattr(here, name)]

    def look_again(self, topic: Topic = Topic.COMPUTED) -> None:
        """Something that is looked at has been computed or found."""
        self._tell(topic)

    def say(self, message: str) -> None:
        """Show a sentence in the status line; an empty one ends it."""
        self.message = shown(message)
        self._tell(Topic.MESSAGE)

    def chosen_product(self) -> Term | None:
        """The product that is looked at, of the newest results: the chosen row's, else the current probe's, else the
        last."""
        if self.view is None:
            return None
        study = self.view.study
        cell = self.desk.cell
        if (
            cell is not None
            and cell.term is not None
            and cell.term.is_product
            and cell.term in study.model.active_terms
        ):
            return cell.term
        return probed_product(study, self.view.fit)

    def product_asked(self) -> ProductAsked | None:
        """What Checks looks at in the open step: the chosen product, or the chosen column of it; where that is not in
        the step, the product entered last."""
        view = self.view
        if view is None or view.fit is None:
            return None
        study, fit, cell, product = view.study, view.fit, self.desk.cell, self.chosen_product()
        columns = fit.design.columns_of(product) if product is not None else ()
        one = cell.column if cell is not None and cell.term == product else None
        key = column_keys(fit)[one] if one is not None and one in columns and len(columns) > 1 else None
        return asked_in(study, self.desk.step(study.model), product, key)

    def shown_check(self) -> Check:
        """The question that Checks shows large: without a product whether it stands is none."""
        check = self.desk.check
        return Check.SPREAD if check is Check.STAND and self.product_asked() is None else check

    # ---- probing

    def current_probe(self) -> Probe | None:
        """The study's first probe that can be asked, else that of its highest product."""
        return self._probe_of(self.study, self._fit_of(self.study))

    def _probe_of(self, study: Study, fit: Fit | None) -> Probe | None:
        key = (study.probes, study.current, study.model, study.variables, fit)
        for known, probe in self._probes:
            if known == key:
                return probe
        probe = default_probe(study, fit)
        self._probes = [*self._probes[-1:], (key, probe)]
        return probe

    def _fit_of(self, study: Study) -> Fit | None:
        """The fit that tells which of several products comes first: the newest, while the model is the same."""
        view = self.view
        if view is None or view.fit is None:
            return None
        here, shown = study.model, view.study.model
        return view.fit if here is shown or here.steps == shown.steps else None

    def probed(self) -> Probed | None:
        """The current probe's answer in the newest view; None where there is nothing to probe."""
        return self.view.probed if self.view is not None else None

    def sight(self) -> Sight | None:
        """What is seen of the current probe; None where there is nothing to probe."""
        probed = self.probed()
        return Sight.of(probed, self.desk.seen) if probed is not None else None

    def effects(self) -> EffectReader | None:
        """Puts the panel that is seen into words; None where there is nothing to probe."""
        sight = self.sight()
        if sight is None or self.view is None:
            return None
        return EffectReader(self.view.study, sight.probed, sight.seen.panel, sight.second)

    def see(self, **changes: Unpack[Seeing]) -> None:
        """Change what is seen of the probe: panel, focus, place or handle."""
        seen = self.desk.seen
        if "panel" in changes and "second" not in changes:
            seen = replace(seen, second=None)
        self.look(seen=replace(seen, **changes), flag=None)
