"""The sentence that says how numbers enter: which, with zero where, over which cases, in which units, after which
transformations."""

from __future__ import annotations

from collections.abc import Callable
from typing import assert_never

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLabel, QWidget

from yellow_slope.app.state.session import StudySession
from yellow_slope.app.verbs.treating import Treating
from yellow_slope.app.widgets.dialogs import Dialogs
from yellow_slope.app.widgets.flowrow import FlowRow
from yellow_slope.app.widgets.numberdialog import Wanted
from yellow_slope.app.widgets.picker import Further, Picker
from yellow_slope.core.data.variable import Kind, Variable
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Term, variables_of
from yellow_slope.core.study.treatment import (
    At,
    Base,
    Given,
    Mean,
    Median,
    One,
    OneSD,
    Raw,
    Scale,
    Transform,
    Treatment,
    WithinGroups,
    Zero,
)
from yellow_slope.core.typed import typed_numbers
from yellow_slope.core.words.names.numbers import TRANSFORMED, base_name, zero_name
from yellow_slope.core.words.sentences.comparisons import offered
from yellow_slope.core.words.spelling.numerals import counted, number_or_place
from yellow_slope.values import replace

MOST_LISTED = 40
MIXED = "differently"


class TreatmentBar(FlowRow):
    """Each part of the sentence is a chip; a choice concerns all numbers that are chosen."""

    def __init__(self, session: StudySession, treating: Treating, dialogs: Dialogs) -> None:
        super().__init__()
        self.session, self._verbs, self._dialogs = session, treating, dialogs
        self.who = Picker[str | None]("Numbers", "Which numbers are treated; Ctrl+click on strips chooses several")
        self.zero = Picker[Zero | Further](
            "Zero", "Where zero is: the value at which the effects of partners in products are given"
        )
        self.base = Picker[Base | Further]("Base", "The cases from which mean, median and SD are computed")
        self.units = Picker[Scale | Further]("Units", "What one unit of the number is")
        self.after = Picker[tuple[Transform, ...]]("Transformation", "What is done to the values before, in order")
        self.words: dict[str, QLabel] = {}
        for word, chip in (
            ("Enter", self.who),
            ("with zero at", self.zero),
            ("of", self.base),
            ("in", self.units),
            ("after", self.after),
        ):
            label = QLabel(word)
            label.setTextFormat(Qt.TextFormat.PlainText)
            label.setObjectName("soft")
            label.setAlignment(Qt.AlignmentFlag.AlignVCenter)
            self.words[word] = label
            self.add(label)
            self.add(chip)
        self.asked = QLabel()
        self.asked.setTextFormat(Qt.TextFormat.PlainText)
        self.asked.setObjectName("soft")
        self.asked.setAlignment(Qt.AlignmentFlag.AlignVCenter)
        self.asked.setAccessibleName("What the group's comparisons test")
        self.asked.hide()
        self.add(self.asked)
        self.who.whenever_chosen(self._choose)
        self.zero.whenever_chosen(self._set_zero)
        self.base.whenever_chosen(self._set_base)
        self.units.whenever_chosen(self._set_units)
        self.after.whenever_chosen(self._set_transforms)

    # ---- showing

    def renew(self) -> None:
        """Take the newest study."""
        study = self.session.study
        names = self._verbs.meant.numbers_meant()
        current = self.session.desk.variable
        group = next((v for v in study.variables if v.name == current and v.kind is Kind.GROUP), None)
        group = group if not names else None
        labels = group.label if group is not None else ", ".join(study.variable(n).label for n in names)
        used = [n for n in variables_of(study.model.terms) if study.variable(n).kind is Kind.NUMBER]
        rest = [v.name for v in study.numbers if v.name not in used and v.name != study.model.outcome]
        listed = [*used, *rest][:MOST_LISTED]
        self.who.set_choices(
            [(None, "all numbers in the model"), *((n, study.variable(n).label) for n in listed)], None
        )
        self.who.show_text(labels or "choose a number")
        self.who.setToolTip(
            f"{labels}. " * bool(labels) + "Which numbers are treated; Ctrl+click on strips chooses several"
        )
        treatments = [study.model.treatment(n) for n in names]
        self._show_zero(study, treatments)
        self._show_units(study, treatments, names)
        self._show_transforms(treatments, [study.variable(n) for n in names])
        for chip in (self.zero, self.base, self.units, self.after):
            chip.setEnabled(bool(names))
        self._show_group(study, group)
        self.arrange()

    def _show_group(self, study: Study, group: Variable | None) -> None:
        """Of a group the sentence says what its comparisons ask; they are chosen on its card."""
        of_numbers: tuple[QWidget, ...] = (self.zero, self.units, self.after)
        for part in (*of_numbers, *(self.words[word] for word in ("with zero at", "in", "after"))):
            part.setVisible(group is None)
        self.asked.setVisible(group is not None)
        if group is not None:
            self.words["of"].hide()
            self.base.hide()
            enters = group.name in variables_of(study.model.terms)
            asking = offered(study.model.coding(group.name)).asks
            levels = counted(len(group.levels), "group")
            self.asked.setText(f"as {levels}, asking {asking}" + ("" if enters else "; it is not in the model"))

    def _show_zero(self, study: Study, treatments: list[Treatment]) -> None:
        groups = [v for v in study.variables if v.kind is Kind.GROUP][:MOST_LISTED]
        choices: list[tuple[Zero | Further, str]] = [
            (Raw(), "where it is"),
            (Mean(), "the mean"),
            (Median(), "the median"),
            (Further.ASK, "a value …"),
            *((WithinGroups(v.name), f"the mean within each group of {v.label}") for v in groups),
        ]
        zeros = list(dict.fromkeys(t.zero for t in treatments))
        text = zero_name(study, zeros[0]) if len(zeros) == 1 else MIXED if zeros else "–"
        self.zero.set_choices(choices, None, text)
        based = any(isinstance(z, Mean | Median | WithinGroups) for z in zeros) or any(
            isinstance(t.scale, OneSD) for t in treatments
        )
        bases = list(dict.fromkeys(t.base for t in treatments))
        given = bool(treatments) and all(isinstance(t.zero, At) and isinstance(t.scale, Given) for t in treatments)
        shown = "given numbers" if given else base_name(bases[0]) if len(bases) == 1 else MIXED
        self.base.set_choices(
            [*((base, base_name(base)) for base in Base), (Further.ASK, "given numbers …")], None, shown
        )
        seen = (based or given) and bool(treatments)
        self.base.setVisible(seen)
        self.words["of"].setVisible(seen)

    def _show_units(self, study: Study, treatments: list[Treatment], names: list[str]) -> None:
        scales = list(dict.fromkeys(t.scale for t in treatments))
        units = {study.variable(n).many for n in names}
        own = "their own units" if len(names) > 1 else "its own unit"
        if len(units) == 1 and units != {"units"}:
            own = next(iter(units))
        text = MIXED if len(scales) > 1 else "–"
        if len(scales) == 1:
            scale = scales[0]
            match scale:
                case One():
                    text = own
                case OneSD():
                    text = "SDs"
                case Given(size):
                    text = f"units of {number_or_place(size)}"
                case _:
                    assert_never(scale)
        self.units.set_choices([(One(), own), (OneSD(), "SDs"), (Further.ASK, "units of …")], None, text)

    def _show_transforms(self, treatments: list[Treatment], variables: list[object]) -> None:
        before = list(dict.fromkeys(t.transforms for t in treatments))
        text = MIXED if len(before) > 1 else "–"
        if len(before) == 1:
            text = ", then ".join(TRANSFORMED[t] for t in before[0]) or "no transformation"
        choices: list[tuple[tuple[Transform, ...], str]] = [
            ((), "no transformation"),
            *(((t,), TRANSFORMED[t]) for t in Transform),
        ]
        if len(before) == 1 and before[0]:
            choices += [((*before[0], t), f"… then {TRANSFORMED[t]}") for t in Transform]
        self.after.set_choices(choices, None, text)

    # ---- choosing

    def _choose(self, value: str | None) -> None:
        if value is None:
            self._verbs.choose_numbers()
        else:
            self.session.look(variable=value, chosen=(), clicked=Term((value,)))

    def _edit(self, change: Callable[[Treatment], Treatment]) -> None:
        """Change the treatment of every number that is meant; what the others of its parts say stays."""
        self._verbs.change_treatments(change)

    def _set_zero(self, zero: Zero | Further) -> None:
        if isinstance(zero, Further):
            self._verbs.center_at()
            return
        self._edit(lambda t: replace(t, zero=zero))

    def _set_base(self, base: Base | Further) -> None:
        if not isinstance(base, Further):
            self._edit(lambda t: replace(t, base=base))
            return
        said = self._dialogs.text("Given numbers", "Zero and size of a unit, separated by a semicolon, as in 3.9; 1.7")
        if said is None:
            return
        found = typed_numbers(said)
        if isinstance(found, str) or len(found) != 2:
            self.session.say(f"“{said}” is not two numbers separated by a semicolon.")
            return
        zero, scale = found
        self._edit(lambda t: replace(t, zero=At(zero), scale=Given(scale), base=Base.MODEL))

    def _set_units(self, scale: Scale | Further) -> None:
        if not isinstance(scale, Further):
            self._edit(lambda t: replace(t, scale=scale))
            return
        size = self._dialogs.number("Units", "How much is one unit?", 10.0, Wanted(1e-9, 1e12))
        if size is not None:
            self._edit(lambda t: replace(t, scale=Given(size)))

    def _set_transforms(self, transforms: tuple[Transform, ...]) -> None:
        def change(t: Treatment) -> Treatment:
            return replace(t, transforms=transforms)

        study = self.session.study
        given = any(isinstance(study.model.treatment(n).zero, At) for n in self._verbs.meant.numbers_meant())
        said = "Zero is now at the mean: its earlier value belonged to the previous scale." if given else ""
        # A given zero is a value of the transformed scale; on another scale it would be another place.
        self._verbs.change_treatments(
            lambda t: replace(change(t), zero=Mean()) if isinstance(t.zero, At) else change(t), said
        )
