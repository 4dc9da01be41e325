"""Changing the model by keys: choose, enter, multiply, move, take out, treat; for what roster or ladder has current."""

from __future__ import annotations

from collections.abc import Callable

from yellow_slope.app.actions import EVERYWHERE, TERMS, Action
from yellow_slope.app.desk import Cell
from yellow_slope.app.session import StudySession
from yellow_slope.core import edits
from yellow_slope.core.quickline import write_line
from yellow_slope.core.terms import Term
from yellow_slope.core.variable import Kind, Treatment


class Modelling:
    """The verbs of the model."""

    def __init__(self, session: StudySession) -> None:
        self.session = session
        self.in_ladder: Callable[[], bool] = lambda: False
        """Whether the ladder has the keyboard; its chosen row is then meant, else the roster's variable."""
        self.ask_name: Callable[[int], None] = lambda block: None
        self.ask_line: Callable[[str], None] = lambda text: None

    def actions(self) -> list[Action]:
        """What can be done to variables and terms."""
        named = [
            ("enter", "Enter what is chosen in the chosen block", self.enter, ("Return",), "variable"),
            ("enter as a new block", "Enter what is chosen as a block of its own", self.enter_new, ("Shift+Return",), "variable"),
            ("choose", "Choose a variable or term, beside those chosen already", self.toggle, ("Space",), "variable"),
            ("multiply", "Multiply what is chosen", self.multiply, ("X",), "variable"),
            ("make the outcome", "Make the current variable the outcome", self.make_outcome, ("Y",), "variable"),
            ("take out", "Take the chosen term or block out of the model", self.take_out, ("Delete", "Backspace"), "term"),
            ("move to the block before", "Move the chosen term one block up", lambda: self.move(-1), ("Alt+Up",), "term"),
            ("move to the next block", "Move the chosen term one block down", lambda: self.move(1), ("Alt+Down",), "term"),
            ("clear the choice", "Choose nothing and leave the flag", self.clear, ("Escape",), "variable"),
            ("name the block", "Name the chosen block", self.name_block, ("F2",), "term"),
            ("center", "Center the chosen numbers at their mean", lambda: self.treat(Treatment.CENTERED), ("C",), "variable"),
            ("standardize", "Standardize the chosen numbers", lambda: self.treat(Treatment.STANDARDIZED), ("Z",), "variable"),
            ("leave as it is", "Let the chosen numbers enter as they are", lambda: self.treat(Treatment.AS_IS), ("A",), "variable"),
            ("treat as groups", "The chosen column is a code", lambda: self.set_kind(Kind.GROUP), ("G",), "variable"),
            ("treat as a number", "The chosen column is a quantity", lambda: self.set_kind(Kind.NUMBER), ("N",), "variable"),
        ]  # fmt: skip
        found = [Action(name, help, run, keys, TERMS, menu, self.has_study) for name, help, run, keys, menu in named]
        lines = [
            ("type a model", "Put the keyboard on the quick line", lambda: self.ask_line(""), ("Ctrl+L",)),
            ("edit the model as a line", "Put the whole model on the quick line, to change it there", self.edit_line, ("Ctrl+T",)),
        ]  # fmt: skip
        return [
            *found,
            *(Action(name, help, run, keys, EVERYWHERE, "", self.has_study) for name, help, run, keys in lines),
        ]

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

    def _current_term(self) -> Term | None:
        desk = self.session.desk
        if self.in_ladder():
            return desk.cell.term if desk.cell is not None else None
        return Term((desk.variable,)) if desk.variable is not None else None

    def _label(self, terms: tuple[Term, ...]) -> str:
        assert self.session.study is not None
        return ", ".join(self.session.study.label(t) for t in terms)

    def show(self, term: Term) -> None:
        """Make a term the chosen cell."""
        study = self.session.study
        home = study.block_of(term) if study else None
        if home is not None:
            self.session.look(cell=Cell(home, term), open_step=None, flag=None)

    # ---- verbs

    def toggle(self) -> None:
        """Choose the current variable or term, or no longer."""
        term, chosen = self._current_term(), self.session.desk.chosen
        if term is not None:
            self.session.look(chosen=tuple(t for t in chosen if t != term) if term in chosen else (*chosen, term))

    def clear(self) -> None:
        """Choose nothing; the foot shows no flag."""
        self.session.look(chosen=(), flag=None)

    def enter(self, new_block: bool = False) -> None:
        """Enter what is chosen in the chosen block, else in the last."""
        study, desk = self.session.study, self.session.desk
        terms = desk.chosen or ((Term((desk.variable,)),) if desk.variable else ())
        if study is None or not terms:
            self.session.say("Choose a variable first.")
            return
        block = None if new_block or desk.cell is None else desk.cell.block
        if block is None and not new_block and study.blocks:
            block = len(study.blocks) - 1
        if self.session.edit(f"enter {self._label(terms)}", lambda s: edits.enter(s, terms, block)):
            self.session.look(chosen=())
            self.show(terms[-1])

    def enter_new(self) -> None:
        """Enter what is chosen as a block of its own."""
        self.enter(new_block=True)

    def enter_in(self, term: Term, block: int) -> None:
        """Enter a term in a block; one past the last begins a new one."""
        if self.session.edit(f"enter {self._label((term,))}", lambda s: edits.enter(s, [term], block)):
            self.show(term)

    def multiply(self) -> None:
        """Multiply what is chosen and enter the product."""
        terms = self.session.desk.chosen
        if len(terms) < 2:
            self.session.say("Choose two or more variables or terms with Space, then press X.")
            return
        product = terms[0]
        for term in terms[1:]:
            product = product.times(term)
        self.enter_product(product)
        self.session.look(chosen=())

    def enter_product(self, product: Term) -> None:
        """Enter a product where it belongs and show it."""
        if self.session.edit(f"multiply {self._label((product,))}", lambda s: edits.enter_product(s, product)):
            self.show(product)

    def take_out(self) -> None:
        """Take the chosen terms, the current term or the current block out of the model."""
        study, desk = self.session.study, self.session.desk
        if study is None:
            return
        terms = tuple(t for t in desk.chosen if t in study.terms)
        if not terms and desk.cell is not None:
            if desk.cell.term is not None:
                terms = (desk.cell.term,)
            elif desk.cell.block is not None and desk.cell.block < len(study.blocks):
                terms = study.blocks[desk.cell.block].terms
        if terms:
            self.session.edit(f"take out {self._label(terms)}", lambda s: edits.take_out(s, terms))
            self.session.look(chosen=())

    def move(self, by: int) -> None:
        """Move the current term to an earlier or later block."""
        cell = self.session.desk.cell
        term = cell.term if cell is not None else None
        if term is not None and self.session.edit(f"move {self._label((term,))}", lambda s: edits.move(s, term, by)):
            self.show(term)

    def make_outcome(self) -> None:
        """Make the current variable the outcome."""
        name = self.current_variable()
        if name is not None:
            self.session.edit("choose the outcome", lambda s: edits.set_outcome(s, name))

    def numbers_meant(self) -> list[str]:
        """Numbers chosen with Space or Ctrl+click, else the current one; never the outcome."""
        study, desk = self.session.study, self.session.desk
        if study is None:
            return []
        current = self.current_variable()
        names = [t.variables[0] for t in desk.chosen if len(t.variables) == 1] or ([current] if current else [])
        return [n for n in names if study.variable(n).kind is Kind.NUMBER and n != study.outcome]

    def treat(self, treatment: Treatment) -> None:
        """Give the numbers that are meant one treatment."""
        names = self.numbers_meant()
        if not names:
            self.session.say("Choose a number first; Ctrl+click or Space chooses several.")
            return
        verb = {
            Treatment.CENTERED: "center",
            Treatment.STANDARDIZED: "standardize",
            Treatment.AS_IS: "leave as it is:",
        }[treatment]
        labels = self._label(tuple(Term((n,)) for n in names))
        self.session.edit(f"{verb} {labels}", lambda s: edits.treat(s, names, treatment))

    def set_kind(self, kind: Kind) -> None:
        """Say what the current column is."""
        name = self.current_variable()
        if name is not None:
            self.session.edit(f"treat as {kind}", lambda s: edits.set_kind(s, name, kind))

    def edit_line(self) -> None:
        """Put the whole model on the quick line."""
        study = self.session.study
        self.ask_line(write_line(study) if study is not None and study.terms else "")

    def name_block(self) -> None:
        """Name the chosen block in place."""
        cell = self.session.desk.cell
        if cell is not None and cell.block is not None:
            self.ask_name(cell.block)
