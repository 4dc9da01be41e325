"""The row below the sentence: where the handle stands, and how the effects are told."""

from __future__ import annotations

import numpy as np
from PyQt6.QtWidgets import QLabel, QLineEdit, QWidget

from yellow_slope.app.state.desk import Overlay
from yellow_slope.app.state.session import StudySession
from yellow_slope.app.widgets.flowrow import FlowRow
from yellow_slope.app.widgets.picker import Picker
from yellow_slope.core.fit.design.bases import NumberBasis
from yellow_slope.core.probe.places import few_values
from yellow_slope.core.probe.probed import Probed
from yellow_slope.core.probe.units import offered
from yellow_slope.core.study.figures import ProbeShown
from yellow_slope.core.study.probe import Compared, EffectUnit, PickRule, Probe, RegionRule
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.names.places import pick_rule_name
from yellow_slope.core.words.sentences.effectunits import smallest_text, unit_title
from yellow_slope.core.words.sentences.regions import rule_help, rule_name
from yellow_slope.core.words.sentences.sizes import compared_name
from yellow_slope.core.words.spelling.numerals import number_or_place
from yellow_slope.plots.probeplots import beside_effect
from yellow_slope.values import dataclass


@dataclass(frozen=True, slots=True)
class Beside:
    """Compare with the probe that is kept under a name; None: with none."""

    name: str | None


class ProbeChoices(FlowRow):
    """Pick points, the rule of regions, the unit, the smallest effect that matters, what is laid over and shown."""

    def __init__(self, session: StudySession, parent: QWidget | None = None) -> None:
        super().__init__(parent=parent)
        self.session = session
        self.at_label = QLabel("handle at")
        self.at_label.setObjectName("soft")
        self.at = QLineEdit()
        self.at.setAccessibleName("Handle at")
        self.at.setToolTip("Type a moderator value and press Enter to move the handle there")
        self.at.setFixedSize(64, 26)
        self.pick = Picker[PickRule]("Pick points", "Values of the moderator at which the effect is given")
        self.own = QLineEdit()
        self.own.setAccessibleName("Own pick points")
        self.own.setToolTip("Values with blanks between them, then Enter; if empty, mean and SD are used again")
        self.own.setFixedSize(150, 26)
        self.rule = Picker[RegionRule]("Region", rule_help(RegionRule.POINTWISE))
        self.rule.set_choices([(rule, f"region: {rule_name(rule)}") for rule in RegionRule], RegionRule.POINTWISE)
        self.unit = Picker[EffectUnit]("Unit of the effects", "In which units effects are given")
        self.unit.limit = 34
        self.compared = Picker[Compared]("Differences", "Which differences between the groups are given")
        self.compared.set_choices([(c, f"differences: {compared_name(c)}") for c in Compared], Compared.PAIRS)
        self.compared.limit = 40
        self.smallest_label = QLabel("matters from")
        self.smallest_label.setObjectName("soft")
        self.smallest = QLineEdit()
        self.smallest.setAccessibleName("Smallest effect that matters")
        self.smallest.setFixedSize(70, 26)
        said = "What is shown beside the effect, overlaid on it, and compared with it"
        self.view = Picker[ProbeShown | Overlay | Beside]("Shown", said)
        self.view.limit = 44
        for picker in (self.pick, self.rule, self.unit, self.compared, self.view):
            picker.setFixedHeight(26)
        for widget in (
            self.at_label,
            self.at,
            self.pick,
            self.own,
            self.rule,
            self.compared,
            self.unit,
            self.smallest_label,
            self.smallest,
            self.view,
        ):
            self.add(widget)

    def renew(self, study: Study, probe: Probe, probed: Probed) -> None:
        """Say how the effects are told."""
        is_number = isinstance(probed.moderator, NumberBasis)
        for widget in (self.at, self.at_label, self.rule, self.pick, self.smallest, self.smallest_label):
            widget.setVisible(is_number)
        self.compared.setVisible(not is_number and len(probed.places) > 2)
        self.compared.set_current(probe.compared)
        rules = list(PickRule)
        if not is_number or not few_values(np.asarray(probed.observed, dtype=np.float64)):
            rules = [r for r in rules if r is not PickRule.OBSERVED or probe.pick.rule is r]
        self.pick.set_choices([(rule, f"pick points: {pick_rule_name(rule)}") for rule in rules], probe.pick.rule)
        self.pick.show_text(f"points: {pick_rule_name(probe.pick.rule)}")
        self.own.setVisible(is_number and probe.pick.rule is PickRule.OWN)
        if not (self.own.hasFocus() and self.own.isModified()):
            self.own.setText(" ".join(f"{value:.15g}" for value in probe.pick.values).replace("-", "−"))
        self.rule.set_current(probe.rule)
        self.rule.setToolTip(rule_help(probe.rule))
        units = offered(probed.fit, probed.focal)
        self.unit.set_choices([(u, unit_title(study, probed, u)) for u in units], probed.unit)
        self.unit.setVisible(len(units) > 1)
        self._renew_smallest(study, probe, probed)
        self._renew_view(study, probe, probed, is_number)
        self.arrange()

    def _renew_view(self, study: Study, probe: Probe, probed: Probed, is_number: bool) -> None:
        """What is shown, of a number moderator what is laid over, and the kept probes to compare with."""
        views, desk = beside_effect(probed), self.session.desk
        names = {ProbeShown.BOTH: "lines", ProbeShown.ABOVE: "from above", ProbeShown.MAP: "map"}
        choices: list[tuple[ProbeShown | Overlay | Beside, str]] = [(v, names[v]) for v in views]
        overlays = [o for o in Overlay if o is not Overlay.NOTHING] if is_number else []
        choices += [(o, f"with {o.title}") for o in overlays]
        choices += [(Overlay.NOTHING, "without an overlay")] if desk.overlay in overlays else []
        kept = [p.name for p in study.probes if p.name and p.name != probe.name]
        choices += [(Beside(name), f"compared with “{name}”") for name in kept]
        choices += [(Beside(None), "no comparison")] if desk.beside_probe in kept else []
        now = desk.probe_view if desk.probe_view in views else ProbeShown.BOTH
        self.view.set_choices(choices, now)
        shorter = {Overlay.LEFT_OUT: ", leave-one-out", Overlay.RESAMPLED: ", resamples", Overlay.THIRDS: ", thirds"}
        over = shorter.get(desk.overlay, "") if desk.overlay in overlays else ""
        self.view.show_text("show: two probes" if desk.beside_probe in kept else f"show: {names[now]}{over}")
        self.view.setVisible(len(choices) > 1)

    def _renew_smallest(self, study: Study, probe: Probe, probed: Probed) -> None:
        said = (
            "The smallest effect that matters, as in “1.5”, “0.2 SD” or “3 raw”, then Enter; if empty, none is tested"
        )
        if probe.smallest is not None:
            text = smallest_text(study, probed.fit, probed.model, probe.focal, probe.smallest)
            said = f"{text}. {said}"
        self.smallest.setToolTip(said)
        if self.smallest.hasFocus() and self.smallest.isModified():
            return
        ends = {EffectUnit.SD: " SD", EffectUnit.RAW: " raw", EffectUnit.TREATED: ""}
        smallest = probe.smallest
        shown = "" if smallest is None else f"{number_or_place(smallest.size)}{ends[smallest.unit]}"
        self.smallest.setText(shown)
