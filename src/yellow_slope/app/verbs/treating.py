"""How variables enter, by keys: centered, standardized, compared with another reference."""

from __future__ import annotations

from collections.abc import Callable

from yellow_slope.app.state.desk import Waypoint
from yellow_slope.app.state.session import StudySession
from yellow_slope.app.verbs.actions import Menu, Scope, action
from yellow_slope.app.verbs.meant import Meant
from yellow_slope.app.widgets.dialogs import Dialogs
from yellow_slope.core.data.derived import GroupMean
from yellow_slope.core.data.formula import expression_text
from yellow_slope.core.data.variable import Kind, by_name
from yellow_slope.core.fit.design.bases import GroupBasis
from yellow_slope.core.fit.design.codes import effective_reference
from yellow_slope.core.study.coding import Dummy
from yellow_slope.core.study.edits.computed import derive
from yellow_slope.core.study.edits.entries import set_reference, treat
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Term, variables_of
from yellow_slope.core.study.treatment import AS_IS, CENTERED, STANDARDIZED, At, Median, Treatment, WithinGroups
from yellow_slope.core.typed import typed_number
from yellow_slope.core.words.names.numbers import treatment_name
from yellow_slope.values import replace


class Treating:
    """The verbs of treatments and references."""

    def __init__(self, session: StudySession, meant: Meant, dialogs: Dialogs) -> None:
        self.session, self.meant, self.dialogs = session, meant, dialogs

    @action(
        "center",
        "Center the chosen numbers at their mean",
        "C",
        scope=Scope.TERMS,
        menu=Menu.VARIABLE,
        available="session.is_open",
    )
    def center(self) -> None:
        """Center what is chosen."""
        self.treat(CENTERED)

    @action(
        "standardize",
        "Standardize the chosen numbers",
        "Z",
        scope=Scope.TERMS,
        menu=Menu.VARIABLE,
        available="session.is_open",
    )
    def standardize(self) -> None:
        """Standardize what is chosen."""
        self.treat(STANDARDIZED)

    @action(
        "leave as it is",
        "Enter the chosen numbers as they are",
        "A",
        scope=Scope.TERMS,
        menu=Menu.VARIABLE,
        available="session.is_open",
    )
    def leave(self) -> None:
        """Let what is chosen enter as it is."""
        self.treat(AS_IS)

    def treat(self, treatment: Treatment) -> None:
        """Give the numbers that are meant one treatment; the choice ends with it, but at Prepare, where there may be
        more to say about them."""
        names, study = self.meant.numbers_meant(), self.session.study
        if not names:
            self.session.say("Choose a number first; Ctrl+click or Space chooses several.")
            return
        verb = {CENTERED: "center", STANDARDIZED: "standardize", AS_IS: "leave as it is:"}.get(treatment)
        labels = self.meant.labels(tuple(Term((n,)) for n in names))
        what = f"{verb} {labels}" if verb else f"{labels}: {treatment_name(study, treatment)}"
        if (
            self.session.edit(what, lambda s: treat(s, names, treatment))
            and self.session.desk.waypoint is not Waypoint.PREPARE
        ):
            self.session.look(chosen=(), clicked=None)

    def change_treatments(self, change: Callable[[Treatment], Treatment], say: str = "") -> bool:
        """Change the treatment of each number that is meant, in one step; the choice stays, for there may be more to
        say."""
        names, study = self.meant.numbers_meant(), self.session.study
        if not names:
            self.session.say("Choose a number first; Ctrl+click or Space chooses several.")
            return False
        by_treatment: dict[Treatment, list[str]] = {}
        for name in names:
            by_treatment.setdefault(change(study.model.treatment(name)), []).append(name)

        def edit(now: Study) -> Study:
            for treatment, some in by_treatment.items():
                now = treat(now, some, treatment)
            return now

        labels = self.meant.labels(tuple(Term((n,)) for n in names))
        how = treatment_name(study, next(iter(by_treatment))) if len(by_treatment) == 1 else "another treatment"
        return self.session.edit(f"{labels}: {how}", edit, say=say)

    @action(
        "choose all numbers of the model",
        "Choose every number that is in the model, to treat them together",
        "Ctrl+A",
        scope=Scope.TERMS,
        menu=Menu.VARIABLE,
        available="session.is_open",
    )
    def choose_numbers(self) -> None:
        """Choose every number of the model."""
        study = self.session.study
        names = [n for n in variables_of(study.model.terms) if study.variable(n).kind is Kind.NUMBER]
        if not names:
            self.session.say("There is no number in the model yet.")
            return
        self.session.look(chosen=tuple(Term((n,)) for n in names), clicked=None)

    @action("center at the median", "Center the chosen numbers at their median", available="session.is_open")
    def center_at_median(self) -> None:
        """Zero at the median."""
        self.change_treatments(lambda t: replace(t, zero=Median()))

    @action("center at a value", "Center the chosen numbers at a value of your own", available="session.is_open")
    def center_at(self) -> None:
        """Ask for the value that is to be zero."""
        study, names = self.session.study, self.meant.numbers_meant()
        if not names:
            self.session.say("Choose a number first; Ctrl+click or Space chooses several.")
            return
        said = self.dialogs.text("Zero", f"Which value of {study.variable(names[0]).label} should be zero?")
        if said is None:
            return
        value = typed_number(said)
        if value is None:
            self.session.say(f"“{said}” is not a number.")
            return
        self.change_treatments(lambda t: replace(t, zero=At(value)))

    @action(
        "add the group means as a variable",
        "Compute, for each case, the mean of the chosen number in the case's group, as a variable of its own",
        available="session.is_open",
    )
    def add_group_means(self) -> None:
        """The means a number is centered within, as a computed variable."""
        study, names = self.session.study, self.meant.numbers_meant()
        zero = study.model.treatment(names[0]).zero if names else None
        if not isinstance(zero, WithinGroups):
            self.session.say("Center a number within groups first; their means can then be a variable of their own.")
            return
        title = f"mean {study.variable(names[0]).label} {by_name(study.variable(zero.of).label)}"
        known = {v.name: v for v in study.variables}
        text = expression_text(GroupMean(names[0], zero.of), known, stored=False)
        if self.session.edit(f"compute {title}", lambda s: derive(s, title, text)):
            self.session.look(variable=title, chosen=())

    @action(
        "make the reference",
        "Make the level of the chosen comparison the reference; on a whole group, the next level",
        "R",
        scope=Scope.TERMS,
        menu=Menu.TERM,
        available="session.is_open",
    )
    def take_reference(self) -> None:
        """The level of the ladder's chosen comparison becomes the reference; of a group without one chosen the next
        level."""
        study, view, cell = self.session.study, self.session.view, self.session.desk.cell
        fit = view.fit if view is not None and self.session.is_settled else None
        name = self.meant.current_variable()
        if name is None or study.variable(name).kind is not Kind.GROUP:
            self.session.say("Choose a group or one of its comparisons first.")
            return
        basis = fit.design.bases.get(name) if fit is not None else None
        levels = basis.levels if isinstance(basis, GroupBasis) else tuple(x.code for x in study.variable(name).levels)
        if not levels:
            return
        if not isinstance(study.model.coding(name), Dummy):
            self.session.say(
                "These comparisons have no reference; at Prepare each level can be compared with a reference."
            )
            return
        now = effective_reference(study.model.coding(name), levels)  # type: ignore[arg-type]
        to = levels[(now + 1) % len(levels)]
        column = cell.column if self.meant.in_ladder() and cell is not None else None
        if (
            column is not None
            and column >= 0
            and fit is not None
            and fit.design.columns[column].atoms[0].variable == name
        ):
            at = fit.design.columns[column].atoms[0].comparison or 0
            to = [code for i, code in enumerate(levels) if i != now][at]
        label = study.variable(name).level(to).label
        self.session.edit(f"use {label} as the reference", lambda s: set_reference(s, name, to))
