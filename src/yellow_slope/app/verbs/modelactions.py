"""Changing the model by keys: choose, enter, multiply, move, take out, treat; for what roster or ladder has current."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import replace

from yellow_slope.app.state.desk import Cell
from yellow_slope.app.state.session import StudySession
from yellow_slope.app.verbs.actions import TERMS, action
from yellow_slope.app.widgets.dialogs import Dialogs
from yellow_slope.core.data.derived import GroupMean
from yellow_slope.core.data.formula import expression_text
from yellow_slope.core.data.variable import Kind
from yellow_slope.core.fit.design.bases import GroupBasis
from yellow_slope.core.fit.design.codes import effective_reference
from yellow_slope.core.quickline import write_line
from yellow_slope.core.study.coding import Dummy
from yellow_slope.core.study.edits import descriptions
from yellow_slope.core.study.edits import model as edits
from yellow_slope.core.study.edits.descriptions import MOST_GROUPS
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Term, variables_of
from yellow_slope.core.study.treatment import AS_IS, CENTERED, STANDARDIZED, At, Median, Treatment, WithinGroups
from yellow_slope.core.words.names import label, labels_of, treatment_name
from yellow_slope.core.words.sentences.columns import reference_moved
from yellow_slope.core.words.spelling.numerals import counted, listed


class ModelActions:
    """The verbs of the model."""

    def __init__(self, session: StudySession, dialogs: Dialogs) -> None:
        self.session, self.dialogs = session, dialogs
        self.in_ladder: Callable[[], bool] = lambda: False
        """Whether the ladder has the keyboard; its chosen row is then meant, else the roster's variable."""

    def has_study(self) -> bool:
        """Whether there is a study to work on."""
        return self.session.study is not None

    # ---- what is meant

    def current_variable(self) -> str | None:
        """The variable of the ladder's row or of the roster."""
        cell = self.session.desk.cell
        if self.in_ladder() and cell is not None and cell.term is not None:
            return cell.term.variables[0] if len(cell.term.variables) == 1 else None
        return self.session.desk.variable

    def current_term(self) -> Term | None:
        """The term of the ladder's row, or the roster's variable."""
        desk = self.session.desk
        if self.in_ladder():
            return desk.cell.term if desk.cell is not None else None
        return Term((desk.variable,)) if desk.variable is not None else None

    def _label(self, terms: tuple[Term, ...]) -> str:
        assert self.session.study is not None
        return labels_of(self.session.study, terms)

    def show(self, term: Term) -> None:
        """Make a term the chosen cell."""
        study = self.session.study
        home = study.model.block_of(term) if study else None
        if home is not None:
            self.session.look(cell=Cell(home, term), open_step=None, flag=None)

    def show_block(self, index: int) -> None:
        """Make a block the chosen cell."""
        self.session.look(cell=Cell(block=index), open_step=None, flag=None)

    # ---- verbs

    @action(
        "enter",
        "Enter what is chosen in the chosen block",
        "Return",
        scope=TERMS,
        menu="variable",
        available="has_study",
    )
    def enter(self, new_block: bool = False) -> None:
        """Enter what is chosen in the chosen block, else in the last."""
        study, desk = self.session.study, self.session.desk
        terms = desk.chosen or ((Term((desk.variable,)),) if desk.variable else ())
        if study is None or not terms:
            self.session.say("Choose a variable first.")
            return
        block = None if new_block or desk.cell is None else desk.cell.block
        if block is None and not new_block and study.model.blocks:
            block = len(study.model.blocks) - 1
        if self.session.edit(f"enter {self._label(terms)}", lambda s: edits.enter(s, terms, block)):
            self.session.look(chosen=(), clicked=None)
            self.show(terms[-1])

    @action(
        "enter as a new block", "Enter what is chosen as a block of its own", "Shift+Return", scope=TERMS,
        menu="variable", available="has_study",
    )  # fmt: skip
    def enter_new(self) -> None:
        """Enter what is chosen as a block of its own."""
        self.enter(new_block=True)

    def enter_in(self, term: Term, block: int) -> None:
        """Enter a term in a block; one past the last begins a new one."""
        if self.session.edit(f"enter {self._label((term,))}", lambda s: edits.enter(s, [term], block)):
            self.show(term)

    @action(
        "choose", "Choose a variable or term, beside those chosen already", "Space", scope=TERMS, menu="variable",
        available="has_study",
    )  # fmt: skip
    def toggle(self) -> None:
        """Choose the current variable or term, or no longer."""
        term, chosen = self.current_term(), self.session.desk.chosen
        if term is not None:
            self.session.look(
                chosen=tuple(t for t in chosen if t != term) if term in chosen else (*chosen, term), clicked=None
            )

    @action("multiply", "Multiply what is chosen", "X", scope=TERMS, menu="variable", available="has_study")
    def multiply(self) -> None:
        """Multiply what is chosen and enter the product."""
        product = self.chosen_product("X")
        if product is not None:
            self.enter_product(product)
            self.session.look(chosen=(), clicked=None)

    def chosen_product(self, key: str) -> Term | None:
        """The product of what is chosen; None, and how to choose, where less than two are."""
        terms = self.session.desk.chosen
        if len(terms) < 2:
            self.session.say(f"Choose two or more variables or terms with Space or Ctrl+click, then press {key}.")
            return None
        product = terms[0]
        for term in terms[1:]:
            product = product.times(term)
        return product

    def chosen_terms(self) -> tuple[Term, ...]:
        """What is chosen, else the current variable or term."""
        current = self.current_term()
        return self.session.desk.chosen or ((current,) if current is not None else ())

    def enter_product(self, product: Term) -> None:
        """Enter a product where it belongs and show it."""
        if self.session.edit(f"multiply {self._label((product,))}", lambda s: edits.enter_product(s, product)):
            self.show(product)

    @action(
        "make the outcome", "Make the current variable the outcome", "Y", scope=TERMS, menu="variable",
        available="has_study",
    )  # fmt: skip
    def make_outcome(self) -> None:
        """Make the current variable the outcome; what it takes out of the model is said."""
        name = self.current_variable()
        if name is not None:
            self.choose_outcome(name)

    def choose_outcome(self, name: str) -> None:
        """Make a variable the outcome; what it takes out of the model is said."""
        study = self.session.study
        if study is None:
            return
        gone = tuple(t for t in study.model.terms if name in t.variables)
        said = ""
        if gone:
            shown = listed([label(study, t) for t in gone[:4]]) if len(gone) <= 4 else counted(len(gone), "term")
            said = f"{study.variable(name).label} is the outcome now; taken out of the model: {shown}."
        self.session.edit("choose the outcome", lambda s: edits.set_outcome(s, name), say=said)

    @action(
        "take out", "Take the chosen term or block out of the model", "Delete", "Backspace", scope=TERMS, menu="term",
        available="has_study",
    )  # fmt: skip
    def take_out(self) -> None:
        """Take the chosen terms, the current term or the current block out of the model."""
        study, desk = self.session.study, self.session.desk
        if study is None:
            return
        terms = tuple(t for t in desk.chosen if t in study.model.terms)
        if not terms and desk.cell is not None:
            if desk.cell.term is not None:
                terms = (desk.cell.term,)
            elif desk.cell.block is not None and desk.cell.block < len(study.model.blocks):
                terms = study.model.blocks[desk.cell.block].terms
        if terms:
            self.session.edit(f"take out {self._label(terms)}", lambda s: edits.take_out(s, terms))
            self.session.look(chosen=(), clicked=None)

    @action(
        "move to the block before",
        "Move the chosen term one block up",
        "Alt+Up",
        scope=TERMS,
        menu="term",
        available="has_study",
    )
    def move_up(self) -> None:
        """Move the current term to the block before."""
        self.move(-1)

    @action(
        "move to the next block",
        "Move the chosen term one block down",
        "Alt+Down",
        scope=TERMS,
        menu="term",
        available="has_study",
    )
    def move_down(self) -> None:
        """Move the current term to the next block."""
        self.move(1)

    def move(self, by: int) -> None:
        """Move the current term to an earlier or later block."""
        cell = self.session.desk.cell
        term = cell.term if cell is not None else None
        if term is not None and self.session.edit(f"move {self._label((term,))}", lambda s: edits.move(s, term, by)):
            self.show(term)

    @action(
        "clear the choice",
        "Choose nothing and leave the flag",
        "Escape",
        scope=TERMS,
        menu="variable",
        available="has_study",
    )
    def clear(self) -> None:
        """Choose nothing; the foot shows no flag."""
        self.session.look(chosen=(), clicked=None, flag=None, waiting=())
        self.session.say("")

    @action("name the block", "Name the chosen block", "F2", scope=TERMS, menu="term", available="has_study")
    def name_block(self) -> None:
        """Name the chosen block in place."""
        cell = self.session.desk.cell
        if cell is not None and cell.block is not None:
            self.session.ask(f"name {cell.block}")

    # ---- treatments and kinds

    def numbers_meant(self) -> list[str]:
        """Numbers chosen with Space or Ctrl+click, else the current one; never the outcome."""
        study, desk = self.session.study, self.session.desk
        if study is None:
            return []
        current = self.current_variable()
        names = [t.variables[0] for t in desk.chosen if len(t.variables) == 1] or ([current] if current else [])
        return [n for n in names if study.variable(n).kind is Kind.NUMBER and n != study.model.outcome]

    @action(
        "center", "Center the chosen numbers at their mean", "C", scope=TERMS, menu="variable", available="has_study"
    )
    def center(self) -> None:
        """Center what is chosen."""
        self.treat(CENTERED)

    @action("standardize", "Standardize the chosen numbers", "Z", scope=TERMS, menu="variable", available="has_study")
    def standardize(self) -> None:
        """Standardize what is chosen."""
        self.treat(STANDARDIZED)

    @action(
        "leave as it is",
        "Let the chosen numbers enter as they are",
        "A",
        scope=TERMS,
        menu="variable",
        available="has_study",
    )
    def leave(self) -> None:
        """Let what is chosen enter as it is."""
        self.treat(AS_IS)

    def treat(self, treatment: Treatment) -> None:
        """Give the numbers that are meant one treatment; the choice ends with it."""
        names, study = self.numbers_meant(), self.session.study
        if not names or study is None:
            self.session.say("Choose a number first; Ctrl+click or Space chooses several.")
            return
        verb = {CENTERED: "center", STANDARDIZED: "standardize", AS_IS: "leave as it is:"}.get(treatment)
        labels = self._label(tuple(Term((n,)) for n in names))
        what = f"{verb} {labels}" if verb else f"{labels}: {treatment_name(study, treatment)}"
        if self.session.edit(what, lambda s: edits.treat(s, names, treatment)):
            self.session.look(chosen=(), clicked=None)

    def change_treatments(self, change: Callable[[Treatment], Treatment], say: str = "") -> bool:
        """Change the treatment of each number that is meant, in one step; the choice stays, for there may be more to say."""
        names, study = self.numbers_meant(), self.session.study
        if not names or study is None:
            self.session.say("Choose a number first; Ctrl+click or Space chooses several.")
            return False
        by_treatment: dict[Treatment, list[str]] = {}
        for name in names:
            by_treatment.setdefault(change(study.model.treatment(name)), []).append(name)

        def edit(now: Study) -> Study:
            for treatment, some in by_treatment.items():
                now = edits.treat(now, some, treatment)
            return now

        labels = self._label(tuple(Term((n,)) for n in names))
        how = treatment_name(study, next(iter(by_treatment))) if len(by_treatment) == 1 else "another treatment"
        return self.session.edit(f"{labels}: {how}", edit, say=say)

    @action(
        "choose all numbers of the model", "Choose every number that is in the model, to treat them together", "Ctrl+A",
        scope=TERMS, menu="variable", available="has_study",
    )  # fmt: skip
    def choose_numbers(self) -> None:
        """Choose every number of the model."""
        study = self.session.study
        if study is None:
            return
        names = [n for n in variables_of(study.model.terms) if study.variable(n).kind is Kind.NUMBER]
        if not names:
            self.session.say("There is no number in the model yet.")
            return
        self.session.look(chosen=tuple(Term((n,)) for n in names), clicked=None)

    @action("center at the median", "Put zero of the chosen numbers at their median", available="has_study")
    def center_at_median(self) -> None:
        """Zero at the median."""
        self.change_treatments(lambda t: replace(t, zero=Median()))

    @action("center at a value", "Put zero of the chosen numbers at a value of your own", available="has_study")
    def center_at(self) -> None:
        """Ask for the value that is to be zero."""
        study, names = self.session.study, self.numbers_meant()
        if study is None or not names:
            self.session.say("Choose a number first; Ctrl+click or Space chooses several.")
            return
        said = self.dialogs.text("Zero", f"Which value of {study.variable(names[0]).label} is to be zero?")
        if said is None:
            return
        try:
            value = float(said.strip().replace("−", "-"))
        except ValueError:
            value = float("nan")
        if not math.isfinite(value):
            self.session.say(f"“{said}” is no number.")
            return
        self.change_treatments(lambda t: replace(t, zero=At(value)))

    @action(
        "add the group means as a variable",
        "Compute, for each case, the mean of the chosen number in the case's group, as a variable of its own",
        available="has_study",
    )
    def add_group_means(self) -> None:
        """The means a number is centered within, as a computed variable."""
        study, names = self.session.study, self.numbers_meant()
        zero = study.model.treatment(names[0]).zero if study is not None and names else None
        if study is None or not isinstance(zero, WithinGroups):
            self.session.say("Center a number within groups first; their means can then be a variable of their own.")
            return
        title = f"mean {study.variable(names[0]).label} by {study.variable(zero.of).label}"
        known = {v.name: v for v in study.variables}
        text = expression_text(GroupMean(names[0], zero.of), known, stored=False)
        if self.session.edit(f"compute {title}", lambda s: descriptions.derive(s, title, text)):
            self.session.look(variable=title, chosen=())

    @action(
        "take as the reference", "Let the level of the chosen comparison be the reference; on a whole group the next level",
        "R", scope=TERMS, menu="term", available="has_study",
    )  # fmt: skip
    def take_reference(self) -> None:
        """The level of the ladder's chosen comparison becomes the reference; of a group without one chosen the next level."""
        study, view, cell = self.session.study, self.session.view, self.session.desk.cell
        fit = view.fit if view is not None and self.session.is_settled else None
        name = self.current_variable()
        if study is None or name is None or study.variable(name).kind is not Kind.GROUP:
            self.session.say("Choose a group or one of its comparisons first.")
            return
        basis = fit.design.bases.get(name) if fit is not None else None
        levels = basis.levels if isinstance(basis, GroupBasis) else tuple(x.code for x in study.variable(name).levels)
        if not levels:
            return
        if not isinstance(study.model.coding(name), Dummy):
            self.session.say("These comparisons have no reference; Prepare asks each level against a reference.")
            return
        now = effective_reference(study.model.coding(name), levels)  # type: ignore[arg-type]
        to = levels[(now + 1) % len(levels)]
        column = cell.column if self.in_ladder() and cell is not None else None
        if (
            column is not None
            and column >= 0
            and fit is not None
            and fit.design.columns[column].atoms[0].variable == name
        ):
            at = fit.design.columns[column].atoms[0].comparison or 0
            to = [code for i, code in enumerate(levels) if i != now][at]
        label = study.variable(name).level(to).label
        self.session.edit(f"take {label} as the reference", lambda s: edits.set_reference(s, name, to))

    @action("treat as groups", "The chosen columns are codes", "G", scope=TERMS, menu="variable", available="has_study")
    def as_groups(self) -> None:
        """The chosen column is a code."""
        self.set_kind(Kind.GROUP)

    @action(
        "treat as a number",
        "The chosen columns are quantities",
        "N",
        scope=TERMS,
        menu="variable",
        available="has_study",
    )
    def as_number(self) -> None:
        """The chosen column is a quantity."""
        self.set_kind(Kind.NUMBER)

    @action(
        "leave the column out", "The chosen columns are texts or identifiers, not for a model", "L", scope=TERMS,
        menu="variable", available="has_study",
    )  # fmt: skip
    def as_text(self) -> None:
        """The chosen column is not for a model."""
        self.set_kind(Kind.TEXT)

    def set_kind(self, kind: Kind, name: str | None = None) -> None:
        """Say what a column is, or all that are chosen, in one step; before one becomes many groups the program asks."""
        study, desk = self.session.study, self.session.desk
        if study is None:
            return
        current = name or self.current_variable()
        chosen = [t.variables[0] for t in desk.chosen if len(t.variables) == 1] if name is None else []
        names = [n for n in chosen or ([current] if current else []) if study.variable(n).kind is not kind]
        if kind is Kind.GROUP:
            names = [n for n in names if n not in study.table or self._many_groups_are_meant(study, n)]
        if not names:
            return

        def edit(now: Study) -> Study:
            for one in names:
                now = descriptions.set_kind(now, one, kind)
            return now

        if self.session.edit(f"treat {self._label(tuple(Term((n,)) for n in names))} as {kind}", edit) and chosen:
            self.session.look(chosen=(), clicked=None)

    @action(
        "order the levels", "Put the levels of the chosen groups into another order: of the words, the codes, the file, turned round",
        "O", scope=TERMS, menu="variable", available="has_study",
    )  # fmt: skip
    def order_levels(self) -> None:
        """The next order of the current group's levels; of all chosen groups in one step."""
        study, desk, current = self.session.study, self.session.desk, self.current_variable()
        if study is None or current is None:
            return
        chosen = [t.variables[0] for t in desk.chosen if len(t.variables) == 1]
        names = [n for n in chosen or [current] if study.variable(n).kind is Kind.GROUP]
        if not names:
            self.session.say("Choose a group variable first: only groups have levels to order.")
            return
        new, said = study, ""
        for name in names:
            new, said = descriptions.next_order(new, name)
        levels = ", ".join(level.label for level in new.variable(names[-1]).levels[:8])
        how = "Turned round" if said == "turned round" else f"In {said}"
        moved = reference_moved(study, new, names[-1])
        self.session.edit("order the levels", lambda _: new, say=f"{how}: {levels}. {moved}".strip())

    def _many_groups_are_meant(self, study: Study, name: str) -> bool:
        """Ask before a column of many different values becomes groups, with the columns it would make."""
        n = descriptions.levels_to_be(study, name)
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
        return self.dialogs.choose("Many groups", said, "Treat as groups", "Leave it") == 0

    # ---- the quick line

    @action("type a model", "Put the keyboard on the quick line", "Ctrl+L", available="has_study")
    def type_line(self) -> None:
        """Put the keyboard on the quick line."""
        self.session.ask("line ")

    @action(
        "edit the model as a line",
        "Put the whole model on the quick line, to change it there",
        "Ctrl+T",
        available="has_study",
    )
    def edit_line(self) -> None:
        """Put the whole model on the quick line."""
        study = self.session.study
        self.session.ask("line " + (write_line(study) if study is not None and study.model.terms else ""))
