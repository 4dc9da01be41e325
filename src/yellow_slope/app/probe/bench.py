"""The waypoint Probe: a sentence that chooses, two plots, the table and the card of regions."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace

from PyQt6.QtWidgets import QHBoxLayout, QLabel, QLineEdit, QToolButton, QVBoxLayout, QWidget

from yellow_slope.app.probe.plots import ProbePlots, reading_of
from yellow_slope.app.probe.tables import EffectTable, RegionCard, comparison_choices
from yellow_slope.app.state.lanes import Lane
from yellow_slope.app.state.session import StudySession
from yellow_slope.app.state.topics import Topic
from yellow_slope.app.state.worker import Worker
from yellow_slope.app.verbs.actions import Scope, action
from yellow_slope.app.verbs.exporting import Exporting
from yellow_slope.app.widgets.following import Bench
from yellow_slope.app.widgets.picker import Picker
from yellow_slope.core.fit.design.bases import NumberBasis
from yellow_slope.core.probe.asking import first_step, other_groups, probeable
from yellow_slope.core.probe.places import NumberPlace
from yellow_slope.core.probe.probed import Probed
from yellow_slope.core.probe.seen import Handle, Seen, Sight
from yellow_slope.core.study.edits.probes import put_probe, turn_probe
from yellow_slope.core.study.probe import PickPoints, PickRule, Probe, RegionRule, Second
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.names.places import pick_rule_name
from yellow_slope.core.words.sentences.effects import EffectReader
from yellow_slope.core.words.sentences.regions import rule_help, rule_name
from yellow_slope.core.words.spelling.numerals import place, place_decimals, typed_number
from yellow_slope.looks import SIZES

SHARES = "shares in the sample"


class ProbeBench(Bench):
    """Slopes and regions of one product."""

    def __init__(self, session: StudySession, worker: Worker, parent: QWidget | None = None) -> None:
        super().__init__(session, worker, Lane.PROBE_PLOTS, parent)
        self.words = {name: QLabel(text) for name, text in {"of": "Slope of", "along": "along", "in": "in"}.items()}
        self.focal = Picker[str]("Focal predictor", "The predictor whose effect is looked at")
        self.focal.whenever_chosen(lambda name: self._choose(focal=name))
        self.swap = QToolButton()
        self.swap.setText("⇄")
        self.swap.setAccessibleName("Swap focal predictor and moderator")
        self.swap.setToolTip("Look at the product from its other side (Ctrl+I)")
        self.swap.clicked.connect(lambda _=False: self.swap_roles())
        self.moderator = Picker[str]("Moderator", "What the effect may depend on")
        self.moderator.whenever_chosen(lambda name: self._choose(moderator=name))
        self.step = Picker[str]("Step", "The step whose slopes are probed")
        self.step.whenever_chosen(self._choose_step)
        self.comparison = Picker[int]("Comparison", "Which group is compared with the reference")
        self.comparison.whenever_chosen(lambda focus: session.see(focus=focus, place=Handle()))
        self.held_label = QLabel()
        self.held = Picker[str | None]("Other groups held at", "Where another group variable of the products stands")
        self.held.whenever_chosen(self._choose_held)
        self.rule = Picker[RegionRule]("Region", rule_help(RegionRule.POINTWISE))
        self.rule.set_choices([(rule, f"region: {rule_name(rule)}") for rule in RegionRule], RegionRule.POINTWISE)
        self.rule.whenever_chosen(self._choose_rule)
        self.panel = Picker[int]("Second moderator at", "Where the second moderator stands")
        self.panel.whenever_chosen(lambda panel: session.see(panel=panel))
        self.at = QLineEdit()
        self.at.setAccessibleName("Handle at")
        self.at.setToolTip("Type a moderator value and press Enter to move the handle there")
        self.at.setFixedSize(64, 30)
        self.at_label = QLabel("handle at")
        self.at.returnPressed.connect(self._typed)
        self.pick = Picker[PickRule]("Pick points", "Where the moderator is looked at")
        self.pick.set_choices(
            [(rule, f"pick points: {pick_rule_name(rule)}") for rule in PickRule], PickRule.MEAN_AND_SD
        )
        self.pick.whenever_chosen(self._choose_pick)
        self.own = QLineEdit()
        self.own.setAccessibleName("Own pick points")
        self.own.setToolTip("Values with blanks between them, then Enter; without any, the mean and SD come back")
        self.own.setFixedSize(150, 26)
        self.own.returnPressed.connect(self._typed_own)
        self.plots = ProbePlots(session, worker)
        self.table = EffectTable(session)
        self.card = RegionCard(session)
        self._lay_out()
        self.follow(session, Topic.RESULTS, Topic.SEEN)

    def _lay_out(self) -> None:
        top = QHBoxLayout()
        top.setSpacing(6)
        for label in (*self.words.values(), self.held_label, self.at_label):
            label.setObjectName("soft")
        for widget in (
            self.words["of"],
            self.focal,
            self.swap,
            self.words["along"],
            self.moderator,
            self.words["in"],
            self.step,
            self.comparison,
            self.held_label,
            self.held,
            self.panel,
        ):
            top.addWidget(widget)
        top.addStretch(1)
        top.addWidget(self.at_label)
        top.addWidget(self.at)
        below = QHBoxLayout()
        below.setSpacing(18)
        choices = QHBoxLayout()
        choices.setContentsMargins(0, 3, 0, 0)
        choices.setSpacing(6)
        choices.addWidget(self.pick)
        choices.addWidget(self.own)
        choices.addWidget(self.rule)
        choices.addStretch(1)
        left = QVBoxLayout()
        left.setSpacing(0)
        left.addWidget(self.table, 1)
        left.addLayout(choices)
        below.addLayout(left, 64)
        right = QVBoxLayout()
        right.setSpacing(0)
        right.addWidget(self.card, 1)
        below.addLayout(right, 36)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(SIZES.margin, 8, SIZES.margin, 4)
        layout.setSpacing(8)
        layout.addLayout(top)
        layout.addWidget(self.plots, 72)
        layout.addLayout(below, 28)

    @property
    def main_part(self) -> QWidget:
        return self.plots

    # ---- what is shown

    def renew(self) -> None:
        if not self.session.is_settled:
            return
        study, probe, probed = self.session.study, self.session.current_probe(), self.session.probed()
        there = study is not None and probe is not None and probed is not None
        for widget in (
            *self.words.values(),
            self.focal,
            self.swap,
            self.moderator,
            self.step,
            self.comparison,
            self.held_label,
            self.held,
            self.rule,
            self.at,
            self.at_label,
            self.pick,
            self.own,
            self.table,
            self.card,
            self.panel,
        ):
            widget.setVisible(there)
        if study is None or probe is None or probed is None:
            self.plots.update()
            return
        pairs = probeable(study)
        names = list(dict.fromkeys([*(name for pair in pairs for name in pair), probe.focal]))
        self.focal.set_choices([(n, study.variable(n).label) for n in names], probe.focal)
        partners = [b if a == probe.focal else a for a, b in pairs if probe.focal in (a, b)]
        partners = partners if probe.moderator in partners else [*partners, probe.moderator]
        self.moderator.set_choices([(n, study.variable(n).label) for n in partners], probe.moderator)
        first = first_step(study, probe)
        steps = [(block.id, f"step {i + 1}") for i, block in enumerate(study.model.steps) if i >= first]
        self.step.set_choices(steps, study.model.steps[probed.step].id)
        self.swap.setEnabled(probe.focal != probe.moderator)
        is_slope = isinstance(probed.focal, NumberBasis)
        self.words["of"].setText("Slope of" if is_slope else "Difference by")
        self.words["along"].setText("along" if isinstance(probed.moderator, NumberBasis) else "by")
        choices = comparison_choices(self.session)
        self.comparison.set_choices(choices, self.session.desk.seen.of(probed).focus)
        self.comparison.setVisible(len(choices) > 1)
        self._renew_held(study, probed)
        self._renew_panel(probed)
        is_number = isinstance(probed.moderator, NumberBasis)
        for widget in (self.at, self.at_label, self.rule, self.pick):
            widget.setVisible(is_number)
        self.own.setVisible(is_number and probe.pick.rule is PickRule.OWN)
        if not (self.own.hasFocus() and self.own.isModified()):
            self.own.setText(" ".join(f"{value:.15g}" for value in probe.pick.values).replace("-", "−"))
        if is_number and not self.at.hasFocus():
            self.at.setText(reading_of(probed, Sight.of(probed, self.session.desk.seen).handle))
        self.rule.set_current(probe.rule)
        self.rule.setToolTip(rule_help(probe.rule))
        self.pick.set_current(probe.pick.rule)

    def _renew_held(self, study: Study, probed: Probed) -> None:
        others = other_groups(study, probed)
        self.held.setVisible(bool(others))
        self.held_label.setVisible(bool(others))
        if not others:
            return
        basis = probed.fit.design.group(others[0])
        variable = study.variable(basis.variable)
        now = dict(probed.probe.held).get(basis.variable)
        self.held_label.setText(f"{variable.short} at")
        choices = [(None, SHARES), *((code, variable.level(code).label) for code in basis.levels)]
        self.held.set_choices(choices, now if isinstance(now, str) else None)

    def _renew_panel(self, probed: Probed) -> None:
        view = self.session.view
        several = len(probed.panels) > 1 and view is not None
        self.panel.setVisible(several)
        if several and view is not None:
            panels = range(len(probed.panels))
            choices = [(k, EffectReader(view.study, probed, k).second_name()) for k in panels]
            self.panel.set_choices(choices, self.session.desk.seen.of(probed).panel)

    # ---- choosing

    def has_study(self) -> bool:
        """Whether there is a study."""
        return self.session.study is not None

    def offers(self) -> list[tuple[str, Callable[..., object]]]:
        keep = [("Keep as pick point", self.keep_pick_point)] if self.has_handle() else []
        return [*keep, ("Save figure", Exporting.export_figure)] if self.session.probed() is not None else []

    def has_handle(self) -> bool:
        """Whether a number moderator is looked along, so that there is a handle."""
        probed = self.session.probed()
        return probed is not None and isinstance(probed.moderator, NumberBasis)

    def _put(self, probe: Probe) -> None:
        """Let the probe that is looked at become this one."""
        now = self.session.current_probe()
        self.session.edit("probe", lambda s: turn_probe(s, now, probe))

    def _choose(self, focal: str | None = None, moderator: str | None = None) -> None:
        study, probe = self.session.study, self.session.current_probe()
        if study is None or probe is None:
            return
        pairs = probeable(study)
        wanted = focal or probe.focal
        partners = [b if a == wanted else a for a, b in pairs if wanted in (a, b)]
        other = moderator or (probe.moderator if probe.moderator in partners else (partners or [wanted])[0])
        self._turn_to(wanted, other)

    def _turn_to(self, focal: str, moderator: str) -> None:
        """Ask of another pair: by the probe that the study has of it, else the present one turned."""
        study, probe = self.session.study, self.session.current_probe()
        if study is None or probe is None:
            return
        self.session.look(seen=Seen())
        asked = (probe.model, focal, moderator)
        known = next((p for p in study.probes if (p.model, p.focal, p.moderator) == asked), None)
        if known is not None and known.about != probe.about:
            self.session.edit("probe", lambda s: put_probe(s, known))
        else:
            self._put(turned_to(probe, focal, moderator))

    @action(
        "swap focal predictor and moderator", "Look at the product from its other side", "Ctrl+I", available="has_study"
    )
    def swap_roles(self) -> None:
        """Focal predictor and moderator change places."""
        probe = self.session.current_probe()
        if probe is not None and probe.focal != probe.moderator:
            self._turn_to(probe.moderator, probe.focal)

    def _choose_step(self, block_id: str) -> None:
        probe, study = self.session.current_probe(), self.session.study
        if probe is not None and study is not None:
            shown = max(study.model.reported_step, first_step(study, probe))
            self._put(replace(probe, step=None if block_id == study.model.steps[shown].id else block_id))

    def _choose_held(self, code: str | None) -> None:
        probe, probed, study = self.session.current_probe(), self.session.probed(), self.session.study
        if probe is None or probed is None or study is None:
            return
        name = other_groups(study, probed)[0]
        rest = tuple(pair for pair in probe.held if pair[0] != name)
        self._put(replace(probe, held=(*rest, (name, code)) if code is not None else rest))

    def _choose_pick(self, rule: PickRule) -> None:
        probe = self.session.current_probe()
        if probe is not None:
            values = self._as_said() if rule is PickRule.OWN else ()
            self._put(replace(probe, pick=PickPoints(rule, values)))
            if rule is PickRule.OWN:
                self.own.setFocus()

    def _choose_rule(self, rule: RegionRule) -> None:
        probe = self.session.current_probe()
        if probe is not None:
            self._put(replace(probe, rule=rule))

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
        words = self.own.text().replace(";", " ").split()
        values = [typed_number(word.rstrip(",")) for word in words]
        wrong = [word for word, value in zip(words, values) if value is None]
        if wrong:
            self.session.say(f"“{wrong[0]}” is not a number; pick points are written as “2 3.5 5”.")
            return
        places = tuple(sorted({value for value in values if value is not None}))
        self.table.setFocus()
        self._put(replace(probe, pick=PickPoints(PickRule.OWN, places) if places else PickPoints()))
        self.session.say(self._beyond(probed.moderator, places, "effects there rest on the model alone"))

    def _beyond(self, basis: NumberBasis, values: Sequence[float], then: str) -> str:
        """What to say of places beyond what was observed; empty where none is."""
        beyond = [value for value in values if not basis.low <= value <= basis.high]
        if not beyond or self.session.study is None:
            return ""
        low, high = (place(value, basis.sd) for value in (basis.low, basis.high))
        name = self.session.study.variable(basis.variable).label
        return f"{name} was observed from {low} to {high}, {place(beyond[0], basis.sd)} lies beyond; {then}."


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
    return replace(probe, focal=focal, moderator=moderator, second=second, pick=pick, held=held)
