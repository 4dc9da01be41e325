"""Composing by hand: products of sets, with their parts, powers, up to an order; blocks ordered, split, merged,
switched."""

from __future__ import annotations

from yellow_slope.app.state.requests import Copy
from yellow_slope.app.state.session import StudySession
from yellow_slope.app.verbs.actions import Menu, Scope, action
from yellow_slope.app.verbs.meant import Meant
from yellow_slope.app.widgets.dialogs import Dialogs
from yellow_slope.app.widgets.numberdialog import Wanted
from yellow_slope.core.quickline import unsaid, write_line
from yellow_slope.core.study.edits.blocks import enter, enter_product, switch_block
from yellow_slope.core.study.edits.composing import (
    checked,
    each_with_each,
    enter_with_parts,
    merge_blocks,
    move_block,
    powered,
    split_block,
    up_to_order,
)
from yellow_slope.core.study.edits.models import set_constant
from yellow_slope.core.study.terms import Term, variables_of
from yellow_slope.core.words.names.terms import labels_of
from yellow_slope.core.words.spelling.numerals import counted, listed


class Composing:
    """The verbs of terms and blocks as sets."""

    def __init__(self, session: StudySession, meant: Meant, dialogs: Dialogs) -> None:
        self.session, self._meant, self.dialogs = session, meant, dialogs

    def has_blocks(self) -> bool:
        """Whether there is a block."""
        return bool(self.session.study.model.blocks)

    def _labels(self, terms: tuple[Term, ...]) -> str:
        return labels_of(self.session.study, terms[:4]) + (" and more" if len(terms) > 4 else "")

    # ---- products

    @action(
        "multiply with the parts",
        "Multiply the chosen variables and enter the product after its parts",
        "Shift+X",
        scope=Scope.TERMS,
        menu=Menu.VARIABLE,
        available="session.is_open",
    )
    def multiply_with_parts(self) -> None:
        """The product with everything it is made of."""
        product = self._meant.chosen_product("Shift+X")
        if product is not None and self.session.edit(
            f"enter {self._labels((product,))} with its parts", lambda s: enter_with_parts(s, product)
        ):
            self._meant.show(product)
            self.session.look(chosen=(), clicked=None)

    @action(
        "multiply each with each",
        "Keep what is chosen as one set; with a second set chosen, each is multiplied with each",
        "E",
        scope=Scope.TERMS,
        menu=Menu.VARIABLE,
        available="session.is_open",
    )
    def each_with_each(self) -> None:
        """The first press keeps the one set, the second multiplies it with what is chosen then."""
        desk = self.session.desk
        chosen = self._meant.chosen_terms()
        if not desk.waiting:
            if not chosen:
                self.session.say(
                    "Choose the first set with Space or Ctrl+click, press E, choose the second set, press E again."
                )
                return
            self.session.look(waiting=chosen, chosen=(), clicked=None)
            self.session.say(
                f"{counted(len(chosen), 'term')} kept ({self._labels(chosen)}): choose the others, then press E again."
            )
            return
        if not chosen:
            self.session.say("Choose the second set, then press E again; Esc forgets the first one.")
            return
        first = desk.waiting

        def edit(study):  # type: ignore[no-untyped-def]
            products = checked(study, each_with_each(first, chosen))
            return enter(study, [t for t in products if t not in study.model.terms])

        self.session.look(waiting=(), chosen=(), clicked=None)
        if self.session.edit(f"multiply each of {self._labels(first)} with each of {self._labels(chosen)}", edit):
            self._meant.show(first[0].times(chosen[0]))

    @action(
        "multiply up to an order",
        "Enter what is chosen with all its products up to an order, with their parts",
        "U",
        scope=Scope.TERMS,
        menu=Menu.VARIABLE,
        available="session.is_open",
    )
    def up_to_order(self) -> None:
        """Ask for the order; single terms and products each get a block of their own."""
        names = variables_of(self._meant.chosen_terms())
        if len(names) < 2:
            self.session.say("Choose two or more variables with Space or Ctrl+click, then press U.")
            return
        said = self.dialogs.number(
            "Products",
            f"Of {len(names)} variables, all products up to the order:",
            2,
            Wanted(2, len(names), whole=True),
        )
        if said is None:
            return
        order = round(said)

        def edit(study):  # type: ignore[no-untyped-def]
            terms = checked(study, up_to_order(names, order))
            new = [t for t in terms if t not in study.model.terms]
            for size in range(1, order + 1):
                some = [t for t in new if len(t.variables) == size]
                study = enter(study, some) if some else study
            return study

        if self.session.edit(f"all products of {len(names)} variables up to order {order}", edit):
            self.session.look(chosen=(), clicked=None)
            self._meant.show(Term(names[:order]))

    @action(
        "enter the next power",
        "Enter the square of the current number, or the next power of what is a power already",
        "P",
        scope=Scope.TERMS,
        menu=Menu.VARIABLE,
        available="session.is_open",
    )
    def next_power(self) -> None:
        """x, then x², then x³."""
        term = self._meant.current_term()
        if term is None or len(set(term.variables)) > 1:
            self.session.say("Choose a number, or a power of one, first.")
            return
        name, power = term.variables[0], len(term.variables) + 1

        def edit(now):  # type: ignore[no-untyped-def]
            wanted = powered(now, name, power)
            return enter_product(enter(now, [term]) if term not in now.model.terms else now, wanted)

        if self.session.edit(f"enter {self._labels((Term((name,) * power),))}", edit):
            self._meant.show(Term((name,) * power))

    @action(
        "with or without an intercept",
        "Take the intercept out of the model, or return it",
        "I",
        scope=Scope.TERMS,
        menu=Menu.TERM,
        available="has_blocks",
    )
    def switch_constant(self) -> None:
        """With or without a constant."""
        study = self.session.study
        if self.session.is_open:
            constant = not study.model.constant
            self.session.edit("with an intercept" if constant else "no intercept", lambda s: set_constant(s, constant))

    # ---- blocks

    def _block(self) -> int | None:
        """The block of the chosen row."""
        study, cell = self.session.study, self.session.desk.cell
        if cell is None:
            return None
        if cell.term is not None:
            return study.model.block_of(cell.term)
        return cell.block if cell.block is not None and cell.block < len(study.model.blocks) else None

    @action(
        "move the block up",
        "Move the chosen row's whole block before the one above it",
        "Ctrl+Shift+Up",
        scope=Scope.TERMS,
        menu=Menu.TERM,
        available="has_blocks",
    )
    def block_up(self) -> None:
        """The block one place earlier."""
        self._move_block(-1)

    @action(
        "move the block down",
        "Move the chosen row's whole block after the one below it",
        "Ctrl+Shift+Down",
        scope=Scope.TERMS,
        menu=Menu.TERM,
        available="has_blocks",
    )
    def block_down(self) -> None:
        """The block one place later."""
        self._move_block(1)

    def _move_block(self, by: int) -> None:
        index = self._block()
        if index is None:
            self.session.say("Choose a row of the block first.")
            return
        if not 0 <= index + by < len(self.session.study.model.blocks):
            self.session.say(f"Block {index + 1} is the {'first' if by < 0 else 'last'} one.")
            return
        cell = self.session.desk.cell
        if self.session.edit("move a block", lambda s: move_block(s, index, by)) and cell is not None:
            if cell.term is not None:
                self._meant.show(cell.term)
            else:
                self._meant.show_block(index + by)

    @action(
        "split the block",
        "Move the chosen terms of a block, or the current one and all after it, to a new block",
        "S",
        scope=Scope.TERMS,
        menu=Menu.TERM,
        available="has_blocks",
    )
    def split_block(self) -> None:
        """A block becomes two."""
        study, index = self.session.study, self._block()
        if index is None:
            self.session.say("Choose a term of the block first.")
            return
        there = study.model.blocks[index].terms
        terms = [t for t in self.session.desk.chosen if t in there]
        current = self._meant.current_term()
        if not terms and current in there:
            terms = list(there[there.index(current) :])
        if self.session.edit("split a block", lambda s: split_block(s, index, terms)):
            self.session.look(chosen=(), clicked=None)
            self._meant.show(terms[0])

    @action(
        "merge with the block before",
        "Merge the chosen row's block with the one before it",
        "M",
        scope=Scope.TERMS,
        menu=Menu.TERM,
        available="has_blocks",
    )
    def merge_block(self) -> None:
        """Two blocks become one."""
        index = self._block()
        if index is None:
            self.session.say("Choose a row of the block first.")
            return
        if self.session.edit("merge two blocks", lambda s: merge_blocks(s, index)):
            self._meant.show_block(index - 1)

    @action(
        "switch the block off or on",
        "Switch the chosen row's block off for the moment, or on again",
        "B",
        scope=Scope.TERMS,
        menu=Menu.TERM,
        available="has_blocks",
    )
    def switch_block(self) -> None:
        """A block off, or on again."""
        study, index = self.session.study, self._block()
        if index is None:
            self.session.say("Choose a row of the block first.")
            return
        on = not study.model.blocks[index].on
        self.session.edit(f"switch block {index + 1} {'on' if on else 'off'}", lambda s: switch_block(s, index, on))

    # ---- as a line

    @action(
        "copy the model as a line",
        "Copy the whole model as a line that can be typed into another study",
        "Ctrl+Shift+T",
        menu=Menu.MODELS,
        available="has_blocks",
    )
    def copy_line(self) -> None:
        """The model as a line; what a line does not say is told."""
        study = self.session.study
        self.session.ask(Copy(write_line(study, portable=True)))
        left = unsaid(study)
        if left:
            self.session.say(f"Copied. The line does not include {listed(left)}.")
