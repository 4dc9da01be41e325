"""Changing the model by keys: choose, enter, multiply, move, take out; and by typing."""

from __future__ import annotations

from yellow_slope.app.state.requests import NameBlock, WriteLine
from yellow_slope.app.state.session import StudySession
from yellow_slope.app.verbs.actions import Menu, Scope, action
from yellow_slope.app.verbs.meant import Meant
from yellow_slope.app.widgets.dialogs import Dialogs
from yellow_slope.core.quickline import write_line
from yellow_slope.core.study.edits.blocks import enter, enter_product, move_term, set_outcome, take_out
from yellow_slope.core.study.terms import Term
from yellow_slope.core.words.names.terms import label
from yellow_slope.core.words.spelling.numerals import counted, listed


class Entering:
    """The verbs of terms and blocks."""

    def __init__(self, session: StudySession, meant: Meant, dialogs: Dialogs) -> None:
        self.session, self.meant, self.dialogs = session, meant, dialogs

    @action(
        "enter",
        "Enter what is chosen in the chosen block",
        "Return",
        scope=Scope.TERMS,
        menu=Menu.VARIABLE,
        available="session.is_open",
    )
    def enter(self, new_block: bool = False) -> None:
        """Enter what is chosen in the chosen block, else in the last."""
        study, desk = self.session.study, self.session.desk
        terms = desk.chosen or ((Term((desk.variable,)),) if desk.variable else ())
        if not terms:
            self.session.say("Choose a variable first.")
            return
        block = None if new_block or desk.cell is None else desk.cell.block
        if block is None and not new_block and study.model.blocks:
            block = len(study.model.blocks) - 1
        if self.session.edit(f"enter {self.meant.labels(terms)}", lambda s: enter(s, terms, block)):
            self.session.look(chosen=(), clicked=None)
            self.meant.show(terms[-1])

    @action(
        "enter as a new block",
        "Enter what is chosen as a block of its own",
        "Shift+Return",
        scope=Scope.TERMS,
        menu=Menu.VARIABLE,
        available="session.is_open",
    )
    def enter_new(self) -> None:
        """Enter what is chosen as a block of its own."""
        self.enter(new_block=True)

    def enter_in(self, term: Term, block: int) -> None:
        """Enter a term in a block; one past the last begins a new one."""
        if self.session.edit(f"enter {self.meant.labels((term,))}", lambda s: enter(s, [term], block)):
            self.meant.show(term)

    @action(
        "choose",
        "Add a variable or term to those chosen",
        "Space",
        scope=Scope.TERMS,
        menu=Menu.VARIABLE,
        available="session.is_open",
    )
    def toggle(self) -> None:
        """Choose the current variable or term, or no longer."""
        term, chosen = self.meant.current_term(), self.session.desk.chosen
        if term is not None:
            self.session.look(
                chosen=tuple(t for t in chosen if t != term) if term in chosen else (*chosen, term), clicked=None
            )

    @action(
        "multiply", "Multiply what is chosen", "X", scope=Scope.TERMS, menu=Menu.VARIABLE, available="session.is_open"
    )
    def multiply(self) -> None:
        """Multiply what is chosen and enter the product."""
        product = self.meant.chosen_product("X")
        if product is not None:
            self.enter_product(product)
            self.session.look(chosen=(), clicked=None)

    def enter_product(self, product: Term) -> None:
        """Enter a product where it belongs and show it."""
        if self.session.edit(f"multiply {self.meant.labels((product,))}", lambda s: enter_product(s, product)):
            self.meant.show(product)

    @action(
        "make the outcome",
        "Make the current variable the outcome",
        "Y",
        scope=Scope.TERMS,
        menu=Menu.VARIABLE,
        available="session.is_open",
    )
    def make_outcome(self) -> None:
        """Make the current variable the outcome; what it takes out of the model is said."""
        name = self.meant.current_variable()
        if name is not None:
            self.choose_outcome(name)

    def choose_outcome(self, name: str) -> None:
        """Make a variable the outcome; what it takes out of the model is said."""
        study = self.session.study
        gone = tuple(t for t in study.model.terms if name in t.variables)
        said = ""
        if gone:
            shown = listed([label(study, t) for t in gone[:4]]) if len(gone) <= 4 else counted(len(gone), "term")
            said = f"{study.variable(name).label} is the outcome now; removed from the model: {shown}."
        self.session.edit(f"{study.variable(name).label} as the outcome", lambda s: set_outcome(s, name), say=said)

    @action(
        "remove",
        "Remove the chosen term or block from the model",
        "Delete",
        "Backspace",
        scope=Scope.TERMS,
        menu=Menu.TERM,
        available="session.is_open",
    )
    def take_out(self) -> None:
        """Take the chosen terms, the current term or the current block out of the model."""
        study, desk = self.session.study, self.session.desk
        terms = tuple(t for t in desk.chosen if t in study.model.terms)
        if not terms and desk.cell is not None:
            if desk.cell.term is not None:
                terms = (desk.cell.term,)
            elif desk.cell.block is not None and desk.cell.block < len(study.model.blocks):
                terms = study.model.blocks[desk.cell.block].terms
        if terms:
            self.session.edit(f"remove {self.meant.labels(terms)}", lambda s: take_out(s, terms))
            self.session.look(chosen=(), clicked=None)

    @action(
        "move to the block before",
        "Move the chosen term one block up",
        "Alt+Up",
        scope=Scope.TERMS,
        menu=Menu.TERM,
        available="session.is_open",
    )
    def move_up(self) -> None:
        """Move the current term to the block before."""
        self.move(-1)

    @action(
        "move to the next block",
        "Move the chosen term one block down",
        "Alt+Down",
        scope=Scope.TERMS,
        menu=Menu.TERM,
        available="session.is_open",
    )
    def move_down(self) -> None:
        """Move the current term to the next block."""
        self.move(1)

    def move(self, by: int) -> None:
        """Move the current term to an earlier or later block."""
        cell = self.session.desk.cell
        term = cell.term if cell is not None else None
        if term is not None and self.session.edit(
            f"move {self.meant.labels((term,))}", lambda s: move_term(s, term, by)
        ):
            self.meant.show(term)

    @action(
        "clear the choice",
        "Clear the choice and close the flag",
        "Escape",
        scope=Scope.TERMS,
        menu=Menu.VARIABLE,
        available="session.is_open",
    )
    def clear(self) -> None:
        """Choose nothing; the foot shows no flag."""
        self.session.look(chosen=(), clicked=None, flag=None, waiting=())
        self.session.say("")

    @action(
        "name the block", "Name the chosen block", "F2", scope=Scope.TERMS, menu=Menu.TERM, available="session.is_open"
    )
    def name_block(self) -> None:
        """Name the chosen block in place."""
        cell = self.session.desk.cell
        if cell is not None and cell.block is not None:
            self.session.ask(NameBlock(cell.block))

    @action("type a model", "Put the keyboard on the quick line", "Ctrl+L", available="session.is_open")
    def type_line(self) -> None:
        """Put the keyboard on the quick line."""
        self.session.ask(WriteLine())

    @action(
        "edit the model as a line",
        "Put the whole model on the quick line, to change it there",
        "Ctrl+T",
        available="session.is_open",
    )
    def edit_line(self) -> None:
        """Put the whole model on the quick line."""
        study = self.session.study
        self.session.ask(WriteLine(write_line(study) if study.model.terms else ""))
