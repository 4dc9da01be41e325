"""The sentence that says how numbers enter: which, with zero where, over which cases, in which units, after which transformations."""

from __future__ import annotations

from dataclasses import replace

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLabel

from yellow_slope.app.state.session import StudySession
from yellow_slope.app.verbs.treating import Treating
from yellow_slope.app.widgets.dialogs import Dialogs
from yellow_slope.app.widgets.flowrow import FlowRow
from yellow_slope.app.widgets.picker import Picker
from yellow_slope.core.data.variable import Kind
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
    Transform,
    Treatment,
    WithinGroups,
)
from yellow_slope.core.words.names.numbers import TRANSFORMED, zero_name
from yellow_slope.core.words.spelling.numerals import number_or_place

EVERY = "*"
MOST_LISTED = 40
MIXED = "differently"


class TreatmentBar(FlowRow):
    """Each part of the sentence is a chip; a choice concerns all numbers that are chosen."""

    def __init__(self, session: StudySession, treating: Treating, dialogs: Dialogs) -> None:
        super().__init__()
        self.session, self._verbs, self._dialogs = session, treating, dialogs
        self.who = Picker("Numbers", "Which numbers are treated; Ctrl+click on strips chooses several")
        self.zero = Picker("Zero", "Where zero is: what the coefficients of partners in products are asked at")
        self.base = Picker("Base", "The cases over which mean, median and SD are taken")
        self.units = Picker("Units", "What one unit of the number is")
        self.after = Picker("Transformation", "What is done to the values before, in order")
        self.words: dict[str, QLabel] = {}
        for word, chip in (
            ("Enter", self.who),
            ("with zero at", self.zero),
            ("of", self.base),
            ("in", self.units),
            ("after", self.after),
        ):
            label = QLabel(word)
            label.setObjectName("soft")
            label.setAlignment(Qt.AlignmentFlag.AlignVCenter)
            self.words[word] = label
            self.add(label)
            self.add(chip)
        self.who.chosen.connect(self._choose)
        self.zero.chosen.connect(self._set_zero)
        self.base.chosen.connect(self._set_base)
        self.units.chosen.connect(self._set_units)
        self.after.chosen.connect(self._set_transforms)

    # ---- showing

    def renew(self) -> None:
        """Take the newest study."""
        study = self.session.study
        if study is None:
            return
        names = self._verbs.meant.numbers_meant()
        labels = ", ".join(study.variable(n).label for n in names)
        used = [n for n in variables_of(study.model.terms) if study.variable(n).kind is Kind.NUMBER]
        rest = [v.name for v in study.numbers if v.name not in used and v.name != study.model.outcome]
        listed = [*used, *rest][:MOST_LISTED]
        self.who.set_choices(
            [(EVERY, "all numbers in the model"), *((n, study.variable(n).label) for n in listed)],
            None, labels or "choose a number",
        )  # fmt: skip
        self.who.setToolTip(
            f"{labels}. " * bool(labels) + "Which numbers are treated; Ctrl+click on strips chooses several"
        )
        treatments = [study.model.treatment(n) for n in names]
        self._show_zero(study, treatments)
        self._show_units(study, treatments, names)
        self._show_transforms(treatments, [study.variable(n) for n in names])
        for chip in (self.zero, self.base, self.units, self.after):
            chip.setEnabled(bool(names))
        self.arrange()

    def _show_zero(self, study: Study, treatments: list[Treatment]) -> None:
        groups = [v for v in study.variables if v.kind is Kind.GROUP][:MOST_LISTED]
        choices = [("raw", "where it is"), ("mean", "the mean"), ("median", "the median"), ("at", "a value …")]
        choices += [(f"within {v.name}", f"the mean within each group of {v.label}") for v in groups]
        zeros = list(dict.fromkeys(t.zero for t in treatments))
        text = zero_name(study, zeros[0]) if len(zeros) == 1 else MIXED if zeros else "–"
        self.zero.set_choices(choices, None, text)
        based = any(isinstance(z, Mean | Median | WithinGroups) for z in zeros) or any(
            isinstance(t.scale, OneSD) for t in treatments
        )
        bases = list(dict.fromkeys(t.base for t in treatments))
        given = bool(treatments) and all(isinstance(t.zero, At) and isinstance(t.scale, Given) for t in treatments)
        shown = "given numbers" if given else f"the {bases[0]}".replace("the all", "all") if len(bases) == 1 else MIXED
        self.base.set_choices(
            [("model", "the model's cases"), ("all", "all cases"), ("given", "given numbers …")], None, shown
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
            text = (
                own
                if isinstance(scale, One)
                else "SDs"
                if isinstance(scale, OneSD)
                else f"units of {number_or_place(scale.value)}"
            )
        self.units.set_choices([("one", own), ("sd", "SDs"), ("given", "units of …")], None, text)

    def _show_transforms(self, treatments: list[Treatment], variables: list[object]) -> None:
        before = list(dict.fromkeys(t.transforms for t in treatments))
        text = MIXED if len(before) > 1 else "–"
        if len(before) == 1:
            text = ", then ".join(TRANSFORMED[t] for t in before[0]) or "no transformation"
        choices = [("", "no transformation"), *((str(t), TRANSFORMED[t]) for t in Transform)]
        if len(before) == 1 and before[0]:
            choices += [(f"+{t}", f"… then {TRANSFORMED[t]}") for t in Transform]
        self.after.set_choices(choices, None, text)

    # ---- choosing

    def _choose(self, value: str) -> None:
        study = self.session.study
        if study is None:
            return
        if value == EVERY:
            self._verbs.choose_numbers()
        else:
            self.session.look(variable=value, chosen=(), clicked=Term((value,)))

    def _edit(self, change) -> None:  # type: ignore[no-untyped-def]
        """Change the treatment of every number that is meant; what the others of its parts say stays."""
        self._verbs.change_treatments(change)

    def _set_zero(self, value: str) -> None:
        if value == "at":
            self._verbs.center_at()
            return
        zero = {"raw": Raw(), "mean": Mean(), "median": Median()}.get(value) or WithinGroups(
            value.removeprefix("within ")
        )
        self._edit(lambda t: replace(t, zero=zero))

    def _set_base(self, value: str) -> None:
        if value != "given":
            self._edit(lambda t: replace(t, base=Base.ALL if value == "all" else Base.MODEL))
            return
        said = self._dialogs.text("Given numbers", "Zero and size of a unit, separated by a semicolon, as in 3.9; 1.7")
        if said is None:
            return
        try:
            zero, scale = (float(part.replace("−", "-")) for part in said.split(";"))
        except ValueError:
            self.session.say(f"“{said}” is not two numbers separated by a semicolon.")
            return
        self._edit(lambda t: replace(t, zero=At(zero), scale=Given(scale), base=Base.MODEL))

    def _set_units(self, value: str) -> None:
        if value != "given":
            self._edit(lambda t: replace(t, scale=OneSD() if value == "sd" else One()))
            return
        size = self._dialogs.number("Units", "How much is one unit?", 10.0, 1e-9, 1e12, 6)
        if size is not None:
            self._edit(lambda t: replace(t, scale=Given(size)))

    def _set_transforms(self, value: str) -> None:
        def change(t: Treatment) -> Treatment:
            if value.startswith("+"):
                return replace(t, transforms=(*t.transforms, Transform(value[1:])))
            return replace(t, transforms=(Transform(value),) if value else ())

        study = self.session.study
        given = study is not None and any(
            isinstance(study.model.treatment(n).zero, At) for n in self._verbs.meant.numbers_meant()
        )
        said = "Zero is at the mean now: the value it stood at belonged to the scale before." if given else ""
        # A given zero is a value of the transformed scale; on another scale it would be another place.
        self._verbs.change_treatments(
            lambda t: replace(change(t), zero=Mean()) if isinstance(t.zero, At) else change(t), said
        )
