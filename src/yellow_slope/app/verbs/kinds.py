"""What columns are, by keys: numbers, groups, left out; and the order of levels."""

from __future__ import annotations

from yellow_slope.app.state.session import StudySession
from yellow_slope.app.verbs.actions import Menu, Scope, action
from yellow_slope.app.verbs.meant import Meant
from yellow_slope.app.widgets.dialogs import Dialogs
from yellow_slope.core.data.variable import Kind
from yellow_slope.core.study.edits.kinds import MOST_GROUPS, levels_to_be, set_kind
from yellow_slope.core.study.edits.levels import Order, next_order
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Term
from yellow_slope.core.words.names.groups import order_name
from yellow_slope.core.words.sentences.columns import reference_moved


class Kinds:
    """The verbs of kinds and levels."""

    def __init__(self, session: StudySession, meant: Meant, dialogs: Dialogs) -> None:
        self.session, self.meant, self.dialogs = session, meant, dialogs

    @action(
        "treat as groups",
        "The chosen columns are codes",
        "G",
        scope=Scope.TERMS,
        menu=Menu.VARIABLE,
        available="session.is_open",
    )
    def as_groups(self) -> None:
        """The chosen column is a code."""
        self.set_kind(Kind.GROUP)

    @action(
        "treat as a number",
        "The chosen columns are quantities",
        "N",
        scope=Scope.TERMS,
        menu=Menu.VARIABLE,
        available="session.is_open",
    )
    def as_number(self) -> None:
        """The chosen column is a quantity."""
        self.set_kind(Kind.NUMBER)

    @action(
        "leave the column out",
        "The chosen columns are texts or identifiers, not for a model",
        "L",
        scope=Scope.TERMS,
        menu=Menu.VARIABLE,
        available="session.is_open",
    )
    def as_text(self) -> None:
        """The chosen column is not for a model."""
        self.set_kind(Kind.TEXT)

    def set_kind(self, kind: Kind, name: str | None = None) -> None:
        """Say what a column is, or all that are chosen, in one step; before one becomes many groups the program
        asks."""
        study, desk = self.session.study, self.session.desk
        current = name or self.meant.current_variable()
        chosen = [t.variables[0] for t in desk.chosen if len(t.variables) == 1] if name is None else []
        names = [n for n in chosen or ([current] if current else []) if study.variable(n).kind is not kind]
        if kind is Kind.GROUP:
            names = [n for n in names if n not in study.table or self._many_groups_are_meant(study, n)]
        if not names:
            return

        def edit(now: Study) -> Study:
            for one in names:
                now = set_kind(now, one, kind)
            return now

        if (
            self.session.edit(f"treat {self.meant.labels(tuple(Term((n,)) for n in names))} as {kind.label}", edit)
            and chosen
        ):
            self.session.look(chosen=(), clicked=None)

    @action(
        "order the levels",
        "Put the levels of the chosen groups into another order: of the words, the codes, the file, reversed",
        "O",
        scope=Scope.TERMS,
        menu=Menu.VARIABLE,
        available="session.is_open",
    )
    def order_levels(self) -> None:
        """The next order of the current group's levels; of all chosen groups in one step."""
        study, desk, current = self.session.study, self.session.desk, self.meant.current_variable()
        if current is None:
            return
        chosen = [t.variables[0] for t in desk.chosen if len(t.variables) == 1]
        names = [n for n in chosen or [current] if study.variable(n).kind is Kind.GROUP]
        if not names:
            self.session.say("Choose a group variable first: only groups have levels to order.")
            return
        new, order = study, Order.TURNED
        for name in names:
            new, order = next_order(new, name)
        levels = ", ".join(level.label for level in new.variable(names[-1]).levels[:8])
        moved = reference_moved(study, new, names[-1])
        self.session.edit("order the levels", lambda _: new, say=f"{order_name(order)}: {levels}. {moved}".strip())

    def _many_groups_are_meant(self, study: Study, name: str) -> bool:
        """Ask before a column of many different values becomes groups, with the columns it would make."""
        n = levels_to_be(study, name)
        if n <= MOST_GROUPS:
            return True
        columns = 0
        for term in study.model.terms:
            if name in term.variables:
                width = n - 1
                for other in term.variables:
                    variable = study.variable(other)
                    width *= max(1, len(variable.levels) - 1) if other != name and variable.kind is Kind.GROUP else 1
                columns += width
        title = study.variable(name).label
        inside = f" and {columns:,} columns in the model" if columns else ""
        said = f"{title} has {n:,} different values: as groups it would make {n - 1:,} comparisons{inside}."
        return self.dialogs.choose("Many groups", said, "Treat as groups", "Cancel") == 0
