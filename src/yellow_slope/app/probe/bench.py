"""The waypoint Probe: a sentence that chooses, the plots, the table of effects and the card of regions."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import assert_never

from PyQt6.QtCore import QRect
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QBoxLayout, QVBoxLayout, QWidget

from yellow_slope.app.probe.choices import Beside, ProbeChoices
from yellow_slope.app.probe.keeping import KeepField
from yellow_slope.app.probe.plots import ProbePlots, reading_of
from yellow_slope.app.probe.regioncard import RegionCard
from yellow_slope.app.probe.room import placed
from yellow_slope.app.probe.sentence import Ask, Kept, Sentence, Side, Where
from yellow_slope.app.probe.tables import EffectTable, comparison_choices
from yellow_slope.app.state.desk import Overlay
from yellow_slope.app.state.lanes import Lane
from yellow_slope.app.state.session import StudySession
from yellow_slope.app.state.topics import Topic
from yellow_slope.app.state.worker import Worker
from yellow_slope.app.verbs.actions import Scope, action
from yellow_slope.app.verbs.exporting import Exporting
from yellow_slope.app.verbs.figuring import Figuring
from yellow_slope.app.widgets.following import Bench
from yellow_slope.core.fit.design.bases import NumberBasis
from yellow_slope.core.probe.asking import first_step, probe_of, probeable
from yellow_slope.core.probe.places import NumberPlace
from yellow_slope.core.probe.probed import Probed
from yellow_slope.core.probe.seen import AtPlace, Handle, Seen, Sight
from yellow_slope.core.probe.units import offered
from yellow_slope.core.study.edits.probes import drop_probe, keep_probe, put_probe, turn_probe
from yellow_slope.core.study.figures import ProbeShown
from yellow_slope.core.study.probe import (
    Compared,
    EffectUnit,
    PickPoints,
    PickRule,
    Probe,
    RegionRule,
    Second,
    Smallest,
)
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Term
from yellow_slope.core.typed import typed_number, typed_numbers
from yellow_slope.core.words.names.numbers import scale_name
from yellow_slope.core.words.names.probes import turned
from yellow_slope.core.words.spelling.numerals import place, place_decimals
from yellow_slope.looks import SIZES
from yellow_slope.plots.marks import About
from yellow_slope.values import replace

UNITS = {"raw": EffectUnit.RAW, "sd": EffectUnit.SD, "": None}
LONGEST_SUGGESTED = 60


class ProbeBench(Bench):
    """Slopes and regions of one product."""

    def __init__(self, session: StudySession, worker: Worker, parent: QWidget | None = None) -> None:
        super().__init__(session, worker, Lane.PROBE_PLOTS, parent)
        self.sentence = Sentence(session)
        s = self.sentence
        self.focal, self.swap, self.moderator, self.step = s.focal, s.swap, s.moderator, s.step
        self.comparison = s.comparison
        s.asked.whenever_chosen(self._choose_asked)
        s.focal.whenever_chosen(lambda name: self._choose(focal=name))
        s.swap.clicked.connect(lambda _=False: self.swap_roles())
        s.moderator.whenever_chosen(lambda name: self._choose(moderator=name))
        s.step.whenever_chosen(self._choose_step)
        s.comparison.whenever_chosen(lambda focus: session.see(focus=focus, place=Handle()))
        s.whenever_held(self._choose_held, self._typed_held)
        self.choices = ProbeChoices(session)
        c = self.choices
        self.rule, self.pick, self.own, self.at = c.rule, c.pick, c.own, c.at
        c.at.returnPressed.connect(self._typed)
        c.rule.whenever_chosen(lambda rule: self._change(rule=rule))
        c.pick.whenever_chosen(self._choose_pick)
        c.own.returnPressed.connect(self._typed_own)
        c.unit.whenever_chosen(lambda unit: self._change(unit=unit))
        c.compared.whenever_chosen(lambda asked: self._change(compared=asked))
        c.smallest.returnPressed.connect(self._typed_smallest)
        c.view.whenever_chosen(self._choose_view)
        self.plots = ProbePlots(session, worker)
        self.keeper = KeepField(self._keep_as)
        self.table = EffectTable(session)
        self.card = RegionCard(session, worker, lambda: self.plots.laid.said)
        self.plots.lights.connect(self.table.light)
        self.plots.laid_over.connect(self.card.take_new)
        self.plots.point_moved.connect(self.move_pick_point)
        self.table.lights.connect(self._light)
        self._said: object = None
        self._lay_out()
        self.follow(session, Topic.RESULTS, Topic.SEEN)

    def _lay_out(self) -> None:
        self.area = _Area(self._place)
        self.plots.setParent(self.area)
        self.below = QWidget(self.area)
        self._side = QBoxLayout(QBoxLayout.Direction.LeftToRight, self.below)
        self._side.setContentsMargins(0, 0, 0, 0)
        self._side.setSpacing(14)
        self._side.addWidget(self.table, 64)
        self._side.addWidget(self.card, 36)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(SIZES.margin, 8, SIZES.margin, 4)
        layout.setSpacing(6)
        layout.addWidget(self.sentence)
        layout.addWidget(self.choices)
        layout.addWidget(self.keeper)
        layout.addWidget(self.area, 1)

    def _light(self, abouts: tuple[About, ...]) -> None:
        """Light in the plots what the row under the mouse belongs to."""
        page = self.plots.drawn.page if self.plots.drawn is not None else None
        there = {mark.about for mark in page.marks} if page is not None else set()
        self.plots.light(next((about for about in abouts if about in there), None), told=False)

    @property
    def main_part(self) -> QWidget:
        return self.plots

    # ---- what is shown

    def renew(self) -> None:
        if not self.session.is_settled:
            return
        study, probe, probed = self.session.study, self.session.current_probe(), self.session.probed()
        there = probe is not None and probed is not None
        for widget in (self.sentence, self.choices, self.table, self.card, self.below):
            widget.setVisible(there)
        if probe is None or probed is None:
            self._said = None
            self._place()
            self.plots.update()
            return
        self._renew_words(study, probe, probed)
        if isinstance(probed.moderator, NumberBasis) and not self.at.hasFocus():
            self.at.setText(reading_of(probed, Sight.of(probed, self.session.desk.seen).handle))
        self._place()

    def _renew_words(self, study: Study, probe: Probe, probed: Probed) -> None:
        """Say what is probed and how it is told, if that is new: while the handle is moved nothing of it is."""
        desk = self.session.desk
        key = (study, probe, probed, desk.seen.of(probed).focus, desk.probe_view, desk.overlay, desk.beside_probe)
        if key == self._said:
            return
        self._said = key
        self.sentence.renew(study, probe, probed)
        chosen = comparison_choices(self.session)
        self.comparison.set_choices(chosen, desk.seen.of(probed).focus)
        self.comparison.setVisible(len(chosen) > 1)
        self.sentence.arrange()
        self.choices.renew(study, probe, probed)

    def _place(self) -> None:
        """Put plots, table and card where they have room."""
        probed, width, height = self.session.probed(), self.area.width(), self.area.height()
        self.plots.setGeometry(0, 0, width, height)
        if probed is None:
            self.plots.put_room(None)
            return
        found = placed(probed, width, height, self.plots.is_twice)
        way = QBoxLayout.Direction.TopToBottom if found.is_upright else QBoxLayout.Direction.LeftToRight
        if self._side.direction() != way:
            self._side.setDirection(way)
            self._side.setSpacing(6 if found.is_upright else 14)
            self._side.setStretch(0, 56 if found.is_upright else 64)
            self._side.setStretch(1, 44 if found.is_upright else 36)
        self.card.setMaximumHeight(round(found.card) if found.card is not None else 16777215)
        left, top, right, bottom = (round(v) for v in found.below)
        self.below.setGeometry(QRect(left, top, right - left, bottom - top))
        self.below.raise_()
        self.plots.put_room(found.room)

    # ---- choosing

    def offers(self) -> list[tuple[str, Callable[..., object]]]:
        if self.session.probed() is None:
            return []
        probe = self.session.current_probe()
        found: list[tuple[str, Callable[..., object]]] = []
        if self.has_handle():
            found.append(("Keep as pick point", self.keep_pick_point))
        if self.has_own_point():
            found.append(("Remove pick point", self.remove_pick_point))
        if probe is not None:
            found.append(
                ("Remove this probe", self.keep_no_longer) if probe.name else ("Keep this probe", self.keep_this)
            )
        return [*found, ("Make a figure", Figuring.make), ("Save figure", Exporting.export_figure)]

    def has_probe(self) -> bool:
        """Whether something is probed."""
        return self.session.probed() is not None

    def has_handle(self) -> bool:
        """Whether a number moderator is looked along, so that there is a handle."""
        probed = self.session.probed()
        return probed is not None and isinstance(probed.moderator, NumberBasis) and not self._is_level()

    def _is_level(self) -> bool:
        """Whether the effect is the same everywhere, so that no place is another."""
        sight = self.session.sight()
        return sight is not None and sight.focus.curve is not None and sight.focus.curve.is_level

    def has_own_point(self) -> bool:
        """Whether a pick point of one's own is chosen."""
        sight, probe = self.session.sight(), self.session.current_probe()
        return (
            sight is not None
            and probe is not None
            and probe.pick.rule is PickRule.OWN
            and isinstance(sight.seen.place, AtPlace)
        )

    def is_kept(self) -> bool:
        """Whether the probe that is looked at is kept under a name."""
        probe = self.session.current_probe()
        return probe is not None and bool(probe.name)

    def _put(self, probe: Probe) -> None:
        """Let the probe that is looked at become this one."""
        now = self.session.current_probe()
        study = self.session.study
        if self.session.is_open:
            self.session.edit(turned(study, now, probe), lambda s: turn_probe(s, now, probe))

    def _change(
        self, rule: RegionRule | None = None, unit: EffectUnit | None = None, compared: Compared | None = None
    ) -> None:
        """Change how the effects of the probe are told."""
        probe = self.session.current_probe()
        if probe is not None:
            self._put(
                replace(probe, rule=rule or probe.rule, unit=unit or probe.unit, compared=compared or probe.compared)
            )

    def _choose_asked(self, asked: Kept | Term) -> None:
        """Look at a kept probe, or at a product."""
        study, view, probe = self.session.study, self.session.view, self.session.current_probe()
        self.session.look(seen=Seen())
        if isinstance(asked, Kept):
            found = next((p for p in study.probes if p.name == asked.name), None)
            if found is not None:
                self.session.edit(turned(study, probe, found), lambda s: put_probe(s, found))
            return
        wanted = probe_of(study, asked, view.fit if view is not None else None)
        if wanted in study.probes:
            self.session.edit(turned(study, probe, wanted), lambda s: put_probe(s, wanted))
        else:
            self.session.edit(turned(study, probe, wanted), lambda s: turn_probe(s, probe, wanted))

    def _choose(self, focal: str | None = None, moderator: str | None = None) -> None:
        study, probe = self.session.study, self.session.current_probe()
        if probe is None:
            return
        pairs = probeable(study)
        wanted = focal or probe.focal
        partners = [b if a == wanted else a for a, b in pairs if wanted in (a, b)]
        other = moderator or (probe.moderator if probe.moderator in partners else (partners or [wanted])[0])
        self._turn_to(wanted, other)

    def _turn_to(self, focal: str, moderator: str) -> None:
        """Ask of another pair: by the probe that the study has of it, else the present one turned."""
        study, probe = self.session.study, self.session.current_probe()
        if probe is None:
            return
        self.session.look(seen=Seen())
        asked = (probe.model, focal, moderator)
        known = next((p for p in study.probes if (p.model, p.focal, p.moderator) == asked), None)
        if known is not None and known.about != probe.about:
            self.session.edit(turned(study, probe, known), lambda s: put_probe(s, known))
        else:
            self._put(turned_to(probe, focal, moderator))

    @action(
        "swap focal predictor and moderator",
        "Exchange the roles of focal predictor and moderator",
        "Ctrl+I",
        available="session.is_open",
    )
    def swap_roles(self) -> None:
        """Focal predictor and moderator change places."""
        probe = self.session.current_probe()
        if probe is not None and probe.focal != probe.moderator:
            self._turn_to(probe.moderator, probe.focal)

    @action(
        "rotate the three factors",
        "Moderator and second moderator change places",
        "Ctrl+Shift+I",
        scope=Scope.PROBE,
        available="has_second",
    )
    def turn_moderators(self) -> None:
        """Moderator and second moderator change places."""
        probe = self.session.current_probe()
        if probe is not None and probe.second is not None:
            self._turn_to(probe.focal, probe.second.variable)

    def has_second(self) -> bool:
        """Whether there is a second moderator."""
        probe = self.session.current_probe()
        return probe is not None and probe.second is not None

    @action("go to the next panel", "Go to the next panel", "Ctrl+PgDown", scope=Scope.PROBE, available="has_second")
    def next_panel(self) -> None:
        """Look at the next panel."""
        self._to_panel(1)

    @action(
        "go to the previous panel", "Go to the previous panel", "Ctrl+PgUp", scope=Scope.PROBE, available="has_second"
    )
    def panel_before(self) -> None:
        """Look at the panel before."""
        self._to_panel(-1)

    def _to_panel(self, by: int) -> None:
        sight = self.session.sight()
        if sight is not None:
            count = len(sight.probed.panels)
            self.session.see(panel=(sight.seen.panel + by) % count)

    def _choose_step(self, block_id: str) -> None:
        probe, study = self.session.current_probe(), self.session.study
        if probe is not None:
            shown = max(study.model.reported_step, first_step(study, probe))
            self._put(replace(probe, step=None if block_id == study.model.steps[shown].id else block_id))

    def _choose_held(self, name: str, where: Where) -> None:
        """Let a variable stand at a place, or look at it in several places side by side."""
        probe, probed = self.session.current_probe(), self.session.probed()
        if probe is None or probed is None:
            return
        rest = tuple(pair for pair in probe.held if pair[0] != name)
        second = probe.second if probe.second is None or probe.second.variable != name else None
        match where:
            case Ask.PLACE:
                basis = probed.fit.design.bases[name]
                if not isinstance(basis, NumberBasis):
                    return
                at = round(basis.typical, place_decimals(basis.sd))
                self._put(replace(probe, held=(*rest, (name, at)), second=second))
                chip = self.sentence.chip_of(name)
                if chip is not None:
                    chip.field.setVisible(True)
                    chip.field.setFocus()
            case Side.LEVELS | Side.PERCENTILES | Side.VALUES:
                rules = {Side.PERCENTILES: PickRule.PERCENTILES, Side.VALUES: PickRule.OBSERVED}
                pick = PickPoints(rules.get(where, PickRule.MEAN_AND_SD))
                self.session.look(seen=Seen(handle=self.session.desk.seen.handle))
                self._put(replace(probe, held=rest, second=Second(name, pick)))
            case None:
                self._put(replace(probe, held=rest, second=second))
            case str() | float() | int():
                self._put(replace(probe, held=(*rest, (name, where)), second=second))
            case _:
                assert_never(where)

    def _typed_held(self, name: str, text: str) -> None:
        probe, probed = self.session.current_probe(), self.session.probed()
        value = typed_number(text)
        if value is None:
            self.session.say(f"“{text}” is not a number.")
        elif probe is not None and probed is not None and name in dict(probe.held):
            basis = probed.fit.design.bases[name]
            self.plots.setFocus()
            self._put(replace(probe, held=tuple((n, value if n == name else at) for n, at in probe.held)))
            if isinstance(basis, NumberBasis):
                self.session.say(self._beyond(basis, [value], "effects there are extrapolated"))

    def _choose_pick(self, rule: PickRule) -> None:
        probe = self.session.current_probe()
        if probe is not None:
            values = self._as_said() if rule is PickRule.OWN else ()
            self._put(replace(probe, pick=PickPoints(rule, values)))
            if rule is PickRule.OWN:
                self.own.setFocus()

    def _choose_view(self, chosen: ProbeShown | Overlay | Beside) -> None:
        """Show a view, lay something over, or compare with a kept probe."""
        match chosen:
            case ProbeShown():
                self.session.look(probe_view=chosen)
            case Overlay():
                self.session.look(overlay=chosen)
            case Beside(name):
                self.session.look(beside_probe=name)

    # ---- keeping

    @action(
        "keep this probe", "Keep what is probed under a name", "Ctrl+Shift+P", scope=Scope.PROBE, available="has_probe"
    )
    def keep_this(self) -> None:
        """Ask for a name, and keep the probe under it."""
        probe, read = self.session.current_probe(), self.session.effects()
        if probe is None or read is None:
            return
        suggested = probe.name or read.title()[:LONGEST_SUGGESTED]
        taken = {p.name for p in self.session.study.probes}
        number, name = 2, suggested
        while name in taken and name != probe.name:
            name, number = f"{suggested} {number}", number + 1
        self.keeper.ask(name)

    def _keep_as(self, name: str) -> None:
        probe = self.session.current_probe()
        if probe is None:
            return
        self.session.edit("keep the probe", lambda s: keep_probe(s, probe, name))
        kept, wanted = self.session.current_probe(), " ".join(name.split())
        if kept is None or not wanted or kept.name != wanted:
            return  # why not was said
        self.session.say(f"Kept as “{name.strip()}”; report and commands include it.")
        self.plots.setFocus()

    @action(
        "remove the kept probe", "Remove the probe from those that are kept", scope=Scope.PROBE, available="is_kept"
    )
    def keep_no_longer(self) -> None:
        """Take the probe from those that are kept."""
        probe = self.session.current_probe()
        if probe is not None and probe.name:
            self.session.edit("remove a probe", lambda s: drop_probe(s, probe.name))
            self.session.say(f"“{probe.name}” was removed. Ctrl+Z brings it back.")

    # ---- places

    @action(
        "keep as pick point",
        "Keep the handle's place as a pick point",
        "Ctrl+M",
        scope=Scope.PROBE,
        available="has_handle",
    )
    def keep_pick_point(self) -> None:
        """Keep the handle's place as a pick point of its own."""
        probe, sight = self.session.current_probe(), self.session.sight()
        if probe is None or sight is None or not self.has_handle():
            return
        values = tuple(sorted({*self._looked_at(), sight.handle}))
        self._put(replace(probe, pick=PickPoints(PickRule.OWN, values)))

    @action(
        "remove the pick point", "Remove the chosen pick point", "Delete", scope=Scope.PROBE, available="has_own_point"
    )
    def remove_pick_point(self) -> None:
        """Remove the chosen pick point of one's own."""
        probe, sight = self.session.current_probe(), self.session.sight()
        if probe is None or sight is None or not isinstance(sight.seen.place, AtPlace):
            return
        gone = sight.seen.place.index
        values = tuple(v for i, v in enumerate(probe.pick.values) if i != gone)
        self.session.see(place=Handle())
        self._put(replace(probe, pick=PickPoints(PickRule.OWN, values) if values else PickPoints()))

    def move_pick_point(self, index: int, value: float) -> None:
        """Let a pick point stand elsewhere; of another rule the points become one's own."""
        probe = self.session.current_probe()
        if probe is None:
            return
        values = [*self._as_said()] if probe.pick.rule is not PickRule.OWN else [*probe.pick.values]
        if 0 <= index < len(values):
            values[index] = value
            self._put(replace(probe, pick=PickPoints(PickRule.OWN, tuple(sorted(set(values))))))

    def _looked_at(self) -> tuple[float, ...]:
        """The places of a number moderator that are looked at now."""
        probed = self.session.probed()
        return tuple(p.value for p in probed.places if isinstance(p, NumberPlace)) if probed is not None else ()

    def _as_said(self) -> tuple[float, ...]:
        """The places that are looked at now, in the digits in which they are said."""
        probed = self.session.probed()
        if probed is None or not isinstance(probed.moderator, NumberBasis):
            return ()
        decimals = place_decimals(probed.moderator.sd)
        return tuple(sorted({round(value, decimals) for value in self._looked_at()}))

    def _typed(self) -> None:
        value, probed = typed_number(self.at.text()), self.session.probed()
        if value is None:
            self.session.say(f"“{self.at.text()}” is not a number.")
        elif probed is not None and isinstance(probed.moderator, NumberBasis):
            self.session.say(self._beyond(probed.moderator, [value], "the handle stays within"))
            self.plots.setFocus()
            self.plots.put_handle(value)

    def _typed_own(self) -> None:
        probe, probed = self.session.current_probe(), self.session.probed()
        if probe is None or probed is None or not isinstance(probed.moderator, NumberBasis):
            return
        values = typed_numbers(self.own.text()) if self.own.text().strip() else []
        if isinstance(values, str):
            self.session.say(f"“{values}” is not a number; pick points are written as “2 3.5 5”.")
            return
        places = tuple(sorted(set(values)))
        self.table.setFocus()
        self._put(replace(probe, pick=PickPoints(PickRule.OWN, places) if places else PickPoints()))
        self.session.say(self._beyond(probed.moderator, places, "effects there are extrapolated"))

    def _typed_smallest(self) -> None:
        """Take a smallest effect that matters: “1.5”, “0.2 SD”, “3 raw”; nothing typed takes it away."""
        probe, probed, text = self.session.current_probe(), self.session.probed(), self.choices.smallest.text().strip()
        if probe is None or probed is None:
            return
        if not text:
            self.table.setFocus()
            self._put(replace(probe, smallest=None))
            return
        number, _, word = text.partition(" ")
        value, unit = typed_number(number), UNITS.get(word.strip().casefold(), EffectUnit.TREATED)
        if value is None or not value > 0 or word.strip().casefold() not in UNITS:
            said = "a size above 0, as in “1.5”, “0.2 SD” or “3 raw”"
            self.session.say(f"“{text}” is not a smallest effect: {said}.")
            return
        unit = unit or probed.unit
        if unit not in offered(probed.fit, probed.focal):
            unit = EffectUnit.TREATED if unit is EffectUnit.RAW else unit
        if unit not in offered(probed.fit, probed.focal):
            self.session.say("There is no SD to measure it by.")
            return
        self.table.setFocus()
        self._put(replace(probe, smallest=Smallest(value, unit)))

    def _beyond(self, basis: NumberBasis, values: Sequence[float], then: str) -> str:
        """What to say of places beyond what was observed; empty where none is."""
        beyond = [value for value in values if not basis.low <= value <= basis.high]
        if not beyond:
            return ""
        low, high = (place(value, basis.sd) for value in (basis.low, basis.high))
        name = scale_name(self.session.study, basis)
        return f"{name} was observed from {low} to {high}, {place(beyond[0], basis.sd)} lies beyond; {then}."


class _Area(QWidget):
    """What holds plots, table and card."""

    def __init__(self, place: Callable[[], object], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._put = place

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._put()


def turned_to(probe: Probe, focal: str, moderator: str) -> Probe:
    """The probe of another focal predictor or moderator; what was chosen of it stays where it still means something.

    A second moderator that becomes the moderator changes places with it.
    """
    second = probe.second
    if second is not None and second.variable == moderator and probe.moderator != focal:
        second = Second(probe.moderator)
    elif second is not None and second.variable in (focal, moderator):
        second = None
    same = moderator == probe.moderator
    pick = probe.pick if same or probe.pick.rule is not PickRule.OWN else PickPoints()
    held = tuple(pair for pair in probe.held if pair[0] not in (focal, moderator))
    smallest = probe.smallest if focal == probe.focal else None
    return replace(probe, focal=focal, moderator=moderator, second=second, pick=pick, held=held, smallest=smallest)
