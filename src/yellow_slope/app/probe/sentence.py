"""The sentence above the plots: which effect is looked at, along what, in which step, and where everything that meets
it stands."""

from __future__ import annotations

from collections.abc import Callable
from enum import Enum, auto

import numpy as np
from PyQt6.QtWidgets import QLabel, QLineEdit, QToolButton, QWidget

from yellow_slope.app.state.session import StudySession
from yellow_slope.app.widgets.flowrow import FlowRow
from yellow_slope.app.widgets.picker import Picker
from yellow_slope.core.fit.design.bases import GroupBasis, NumberBasis
from yellow_slope.core.probe.asking import ProductTests, can_be_second, first_step, is_wholly_about, met, probeable
from yellow_slope.core.probe.places import few_values
from yellow_slope.core.probe.probed import Probed
from yellow_slope.core.study.probe import PickRule, Probe
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Term
from yellow_slope.core.words.names.terms import label
from yellow_slope.core.words.spelling.numerals import p_equals, place
from yellow_slope.values import dataclass

MOST_HELD = 8
"""Variables that have a chip of their own; of more it is said that they stand at mean or shares."""
MOST_PRODUCTS = 200


class Side(Enum):
    """A variable is no longer held at one place but looked at in several, side by side."""

    LEVELS = auto()
    """Each level of a group; of a number low, mean and high."""
    PERCENTILES = auto()
    VALUES = auto()
    """Every observed value of a number that has but few."""


class Ask(Enum):
    """Type a place."""

    PLACE = auto()


Where = Side | Ask | str | float | None
"""Where a chip lets a variable stand; None: at mean or shares."""


@dataclass(frozen=True, slots=True)
class Kept:
    """A probe of the study that is kept under a name."""

    name: str


class HeldChip:
    """Where one variable stands: its name, the choices, and a field for a place of one's own."""

    def __init__(
        self, row: FlowRow, chosen: Callable[[str, Where], object], typed: Callable[[str, str], object]
    ) -> None:
        self.name = ""
        self.label = QLabel()
        self.label.setObjectName("soft")
        self.picker = Picker[Where]("Held at", "The value at which this variable is held")
        self.picker.whenever_chosen(lambda where: chosen(self.name, where))
        self.field = QLineEdit()
        self.field.setFixedSize(64, 30)
        self.field.setToolTip("Type a value and press Enter")
        self.field.returnPressed.connect(lambda: typed(self.name, self.field.text()))
        for widget in (self.label, self.picker, self.field):
            row.add(widget)

    def show(self, name: str, study: Study, probed: Probed, second: bool) -> None:
        """Show where a variable stands."""
        self.name = name
        variable = study.variable(name)
        choices, now, own = held_choices(study, probed, name, second)
        self.label.setText(f"{variable.short} at")
        self.picker.setAccessibleName(f"{variable.label} held at")
        self.picker.set_choices(choices, now)
        self.field.setAccessibleName(f"{variable.label} held at a value")
        for widget, there in ((self.label, True), (self.picker, True), (self.field, own)):
            widget.setVisible(there)
        if own and isinstance(now, float) and not self.field.hasFocus():
            self.field.setText(f"{now:.15g}".replace("-", "−"))

    def hide(self) -> None:
        """There is nothing to show."""
        for widget in (self.label, self.picker, self.field):
            widget.setVisible(False)


def held_choices(study: Study, probed: Probed, name: str, second: bool) -> tuple[list[tuple[Where, str]], Where, bool]:
    """Where a variable can stand, where it does, and whether that was typed. second: whether it can be looked at in
    several places."""
    basis, variable = probed.fit.design.bases[name], study.variable(name)
    now: Where = dict(probed.probe.held).get(name)
    own = probed.probe.second
    choices: list[tuple[Where, str]]
    is_own = False
    if isinstance(basis, GroupBasis):
        choices = [(None, "shares"), *((code, variable.level(code).label) for code in basis.levels)]
        if second:
            choices.insert(0, (Side.LEVELS, "each level"))
    else:
        mean, sd = basis.typical, basis.sd
        spots = {
            mean - sd: f"1 SD below {place(mean - sd, sd)}",
            mean + sd: f"1 SD above {place(mean + sd, sd)}",
            basis.low: f"lowest {place(basis.low, sd)}",
            basis.high: f"highest {place(basis.high, sd)}",
        }
        choices = [(None, f"mean {place(mean, sd)}"), *spots.items()]
        is_own = isinstance(now, float | int) and float(now) not in spots
        if isinstance(now, float | int) and is_own:
            choices.append((float(now), f"value {place(float(now), sd)}"))
        choices.append((Ask.PLACE, "a value of your own …"))
        if second:
            values = few_values(np.asarray(probed.fit.values[name], dtype=np.float64))
            side: list[tuple[Where, str]] = [
                (Side.LEVELS, "low, mean, high"),
                (Side.PERCENTILES, "percentiles 16, 50, 84"),
            ]
            side += [(Side.VALUES, f"each of {len(values)} values")] if values else []
            choices = [*side, *choices]
    if own is not None and own.variable == name:
        rules = {PickRule.PERCENTILES: Side.PERCENTILES, PickRule.OBSERVED: Side.VALUES}
        now = rules.get(own.pick.rule, Side.LEVELS) if isinstance(basis, NumberBasis) else Side.LEVELS
    elif isinstance(now, int | float):
        now = float(now)
    return choices, now, is_own and isinstance(now, float)


class Sentence(FlowRow):
    """“practice × worry: slope of practice ⇄ along worry in step 3, coaching at each level”."""

    def __init__(self, session: StudySession, parent: QWidget | None = None) -> None:
        super().__init__(parent=parent)
        self.session = session
        self.asked = Picker[Kept | Term]("What is probed", "The probes that are kept, and all products with their p")
        self.asked.limit = 40
        self.of, self.along_word, self.in_word = QLabel("slope of"), QLabel("along"), QLabel("in")
        self.focal = Picker[str]("Focal predictor", "The predictor whose effect is probed")
        self.swap = QToolButton()
        self.swap.setText("⇄")
        self.swap.setAccessibleName("Swap focal predictor and moderator")
        self.swap.setToolTip("Exchange their roles (Ctrl+I)")
        self.moderator = Picker[str]("Moderator", "What the effect may depend on")
        self.step = Picker[str]("Step", "The step whose slopes are probed")
        self.comparison = Picker[int]("Comparison", "Which group is compared with the reference")
        self.more = QLabel()
        for label_ in (self.of, self.along_word, self.in_word, self.more):
            label_.setObjectName("soft")
        self.swap.setFixedSize(30, 30)
        row: tuple[QWidget, ...] = (
            self.asked,
            self.of,
            self.focal,
            self.comparison,
            self.swap,
            self.along_word,
            self.moderator,
            self.in_word,
            self.step,
        )
        for widget in row:
            self.add(widget)
        self.chips: list[HeldChip] = []
        self._held: Callable[[str, Where], object] = lambda name, where: None
        self._typed: Callable[[str, str], object] = lambda name, text: None
        self.add(self.more)

    def whenever_held(self, call: Callable[[str, Where], object], typed: Callable[[str, str], object]) -> None:
        """Call with a variable and where it is to stand: chosen, or as it was typed."""
        self._held, self._typed = call, typed

    def _chip(self, index: int) -> HeldChip:
        """A chip; they are made as they are needed, before the end of the row."""
        while len(self.chips) <= index:
            self.take(self.more)
            before = self.chips[-1].field if self.chips else self.step
            chip = HeldChip(self, lambda *chosen: self._held(*chosen), lambda *typed: self._typed(*typed))
            self.chips.append(chip)
            QWidget.setTabOrder(before, chip.picker)
            QWidget.setTabOrder(chip.picker, chip.field)
            self.add(self.more)
        return self.chips[index]

    def chip_of(self, name: str) -> HeldChip | None:
        """The chip of a variable, while it is shown."""
        return next((c for c in self.chips if c.name == name and not c.picker.isHidden()), None)

    def renew(self, study: Study, probe: Probe, probed: Probed) -> None:
        """Say what is probed."""
        self._renew_asked(study, probe, probed)
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
        is_slope, is_number = (isinstance(b, NumberBasis) for b in (probed.focal, probed.moderator))
        self.of.setText("slope of" if is_slope else "difference by")
        self.along_word.setText("along" if is_number else "by")
        self._renew_held(study, probe, probed)
        self.arrange()

    def _renew_asked(self, study: Study, probe: Probe, probed: Probed) -> None:
        kept: list[tuple[Kept | Term, str]] = [(Kept(p.name), f"kept: {p.name}") for p in study.probes if p.name]
        model = study.model
        products = [t for block in model.steps for t in block.terms if t.is_product][:MOST_PRODUCTS]
        asked: list[tuple[Kept | Term, str]] = []
        tests = ProductTests(study, probed.fit)
        for term in products:
            p = tests.p(term)
            said = f"{label(study, term)}   {p_equals(p)}" if p <= 1 else label(study, term)
            asked.append((term, said))
        now: Kept | Term | None = Kept(probe.name) if probe.name else None
        if now is None:
            about = [t for t in probed.products if is_wholly_about(study, probe, t)]
            asked_of = max(about, key=lambda t: len(set(t.variables)), default=None)
            wider = [t for t in products if self._all_of(probe) <= set(t.variables)]
            now = min(wider, key=lambda t: len(t.variables)) if wider else asked_of
        self.asked.set_choices([*kept, *asked], now, "choose a product …")
        self.asked.show_text(probe.name or (label(study, now) if isinstance(now, Term) else "choose a product"))
        self.asked.setVisible(bool(kept or len(asked) > 1))

    @staticmethod
    def _all_of(probe: Probe) -> set[str]:
        second = {probe.second.variable} if probe.second is not None else set()
        return {probe.focal, probe.moderator} | second

    def _renew_held(self, study: Study, probe: Probe, probed: Probed) -> None:
        names = met(study, probe, probed.step)
        sides = can_be_second(study, probe, probed.step)
        second = probe.second.variable if probe.second is not None else None
        names = tuple(sorted(names, key=lambda n: n != second))
        for i, name in enumerate(names[:MOST_HELD]):
            self._chip(i).show(name, study, probed, name in sides)
        for chip in self.chips[len(names[:MOST_HELD]) :]:
            chip.hide()
        left = len(names) - MOST_HELD
        self.more.setVisible(left > 0)
        self.more.setText(f"{left} more at mean or shares")
        self.more.setToolTip(", ".join(study.variable(n).label for n in names[MOST_HELD:]))
