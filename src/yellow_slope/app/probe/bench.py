"""The waypoint Probe: a sentence that chooses, two plots, the table and the card of regions."""

from __future__ import annotations

from dataclasses import replace

from PyQt6.QtWidgets import QHBoxLayout, QLabel, QLineEdit, QToolButton, QVBoxLayout, QWidget

from yellow_slope.app.picker import Picker
from yellow_slope.app.probe.plots import ProbePlots, reading_of
from yellow_slope.app.probe.tables import EffectTable, RegionCard, comparison_choices
from yellow_slope.app.session import StudySession
from yellow_slope.app.stories import handle_value
from yellow_slope.core import edits
from yellow_slope.core.design import GroupBasis, NumberBasis
from yellow_slope.core.probe import REGION_RULES, first_step, probeable
from yellow_slope.core.study import PICK_RULES, PickPoints, Probe
from yellow_slope.looks import SIZES

SHARES = "shares in the sample"


class ProbeBench(QWidget):
    """Slopes and regions of one product."""

    def __init__(self, session: StudySession, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.words = {name: QLabel(text) for name, text in {"of": "Slope of", "along": "along", "in": "in"}.items()}
        self.focal = Picker("Focal predictor", "The predictor whose effect is looked at")
        self.focal.chosen.connect(lambda name: self._choose(focal=name))
        self.swap = QToolButton()
        self.swap.setText("⇄")
        self.swap.setAccessibleName("Swap focal predictor and moderator")
        self.moderator = Picker("Moderator", "What the effect may depend on")
        self.moderator.chosen.connect(lambda name: self._choose(moderator=name))
        self.step = Picker("Step", "The step whose slopes are probed")
        self.step.chosen.connect(self._choose_step)
        self.comparison = Picker("Comparison", "Which group is compared with the reference")
        self.comparison.chosen.connect(lambda value: session.look(focus=int(value), place=None))
        self.held_label = QLabel()
        self.held = Picker("Other groups held at", "Where another group variable of the products stands")
        self.held.chosen.connect(self._choose_held)
        self.rule = Picker("Region", "Each point by itself, or all points at once (wider)")
        self.rule.set_choices([(r, f"region: {r}") for r in REGION_RULES], REGION_RULES[0])
        self.rule.chosen.connect(lambda value: session.look(region_rule=value))
        self.at = QLineEdit()
        self.at.setAccessibleName("Handle at")
        self.at.setToolTip("Type a moderator value and press Enter to move the handle there")
        self.at.setFixedSize(64, 30)
        self.at_label = QLabel("handle at")
        self.at.returnPressed.connect(self._typed)
        self.pick = Picker("Pick points", "Where the moderator is looked at")
        self.pick.set_choices([(r, f"pick points: {r}") for r in PICK_RULES if r != "own values"], PICK_RULES[0])
        self.pick.chosen.connect(self._choose_pick)
        self.plots = ProbePlots(session)
        self.table = EffectTable(session)
        self.card = RegionCard(session)
        self._lay_out()
        for topic in ("study", "results", "desk"):
            session.on(topic, self._renew)

    def _lay_out(self) -> None:
        top = QHBoxLayout()
        top.setSpacing(6)
        for label in (*self.words.values(), self.held_label, self.at_label):
            label.setObjectName("soft")
        for widget in (
            self.words["of"], self.focal, self.swap, self.words["along"], self.moderator, self.words["in"], self.step,
            self.comparison, self.held_label, self.held,
        ):  # fmt: skip
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

    def showEvent(self, event) -> None:  # type: ignore[no-untyped-def]
        super().showEvent(event)
        self._renew()

    # ---- what is shown

    def _renew(self) -> None:
        if not self.isVisible() or not self.session.is_settled:
            return
        study, probe, probed = self.session.study, self.session.current_probe(), self.session.probed()
        there = study is not None and probe is not None and probed is not None
        for widget in (
            *self.words.values(), self.focal, self.swap, self.moderator, self.step, self.comparison, self.held_label,
            self.held, self.rule, self.at, self.at_label, self.pick, self.table, self.card,
        ):  # fmt: skip
            widget.setVisible(there)
        if study is None or probe is None or probed is None:
            self.plots.update()
            return
        pairs = probeable(study)
        names = list(dict.fromkeys(name for pair in pairs for name in pair))
        self.focal.set_choices([(n, study.variable(n).label) for n in names], probe.focal)
        partners = [b if a == probe.focal else a for a, b in pairs if probe.focal in (a, b)]
        self.moderator.set_choices([(n, study.variable(n).label) for n in partners], probe.moderator)
        first = first_step(study, probe)
        steps = [(str(i), f"step {i + 1}") for i in range(first, len(study.blocks))]
        self.step.set_choices(steps, str(probed.step))
        is_slope = isinstance(probed.focal, NumberBasis)
        self.words["of"].setText("Slope of" if is_slope else "Difference by")
        self.words["along"].setText("along" if isinstance(probed.moderator, NumberBasis) else "by")
        choices = comparison_choices(probed, "")
        focus = min(self.session.desk.focus, len(probed.foci) - 1)
        self.comparison.set_choices(choices, str(focus))
        self.comparison.setVisible(len(choices) > 1)
        self._renew_held(probed.probe)
        is_number = isinstance(probed.moderator, NumberBasis)
        for widget in (self.at, self.at_label, self.rule, self.pick):
            widget.setVisible(is_number)
        if is_number and not self.at.hasFocus():
            self.at.setText(reading_of(probed, handle_value(self.session, probed)))
        self.rule.set_current(self.session.desk.region_rule)
        self.pick.set_current(probe.pick.rule)

    def _others(self, probe: Probe) -> list[GroupBasis]:
        results, study = self.session.results, self.session.study
        fit = results.evaluation.fit if results else None
        if fit is None or study is None:
            return []
        names = {n for t in study.terms if t.is_product and probe.focal in t.variables for n in t.variables}
        return [
            b for n, b in fit.design.bases.items()
            if n in names and n not in (probe.focal, probe.moderator) and isinstance(b, GroupBasis)
        ]  # fmt: skip

    def _renew_held(self, probe: Probe) -> None:
        others, study = self._others(probe), self.session.study
        show = bool(others) and study is not None
        self.held.setVisible(show)
        self.held_label.setVisible(show)
        if not show or study is None:
            return
        basis = others[0]
        now = dict(probe.held).get(basis.variable, "")
        self.held_label.setText(f"{study.variable(basis.variable).short} at")
        self.held.set_choices([("", SHARES)] + [(x.code, x.label) for x in basis.levels], now)
        self.held.setText(f"{dict([('', SHARES)] + [(x.code, x.label) for x in basis.levels])[now]}  ▾")

    # ---- choosing

    def _put(self, probe: Probe) -> None:
        self.session.edit("probe", lambda s: edits.put_probe(s, probe))

    def _choose(self, focal: str | None = None, moderator: str | None = None) -> None:
        study, probe = self.session.study, self.session.current_probe()
        if study is None or probe is None:
            return
        pairs = probeable(study)
        wanted = focal or probe.focal
        partners = [b if a == wanted else a for a, b in pairs if wanted in (a, b)]
        other = moderator or (probe.moderator if probe.moderator in partners else partners[0])
        if other == wanted:
            return
        self.session.look(handle=None, place=None, focus=0)
        self._put(Probe(wanted, other))

    def swap_roles(self) -> None:
        """Focal predictor and moderator change places."""
        probe = self.session.current_probe()
        if probe is not None:
            self.session.look(handle=None, place=None, focus=0)
            self._put(Probe(probe.moderator, probe.focal, probe.step))

    def _choose_step(self, value: str) -> None:
        probe, study = self.session.current_probe(), self.session.study
        if probe is not None and study is not None:
            step = int(value)
            self._put(replace(probe, step=None if step == len(study.blocks) - 1 else step))

    def _choose_held(self, code: str) -> None:
        probe = self.session.current_probe()
        if probe is None:
            return
        name = self._others(probe)[0].variable
        rest = tuple(pair for pair in probe.held if pair[0] != name)
        self._put(replace(probe, held=(*rest, (name, code)) if code else rest))

    def _choose_pick(self, rule: str) -> None:
        probe = self.session.current_probe()
        if probe is not None:
            self._put(replace(probe, pick=PickPoints(rule)))

    def keep_pick_point(self) -> None:
        """Keep the handle's place as a pick point of its own."""
        probe, probed = self.session.current_probe(), self.session.probed()
        if probe is None or probed is None or not isinstance(probed.moderator, NumberBasis):
            return
        own = probe.pick.values if probe.pick.rule == "own values" else tuple(x.value for x in probed.places)
        values = tuple(sorted({*own, handle_value(self.session, probed)}))
        self._put(replace(probe, pick=PickPoints("own values", values)))

    def _typed(self) -> None:
        text = self.at.text().replace("−", "-").replace(",", ".").strip()
        try:
            value = float(text)
        except ValueError:
            self.session.say(f"“{self.at.text()}” is not a number.")
            return
        self.plots.setFocus()
        self.plots.put_handle(value)
