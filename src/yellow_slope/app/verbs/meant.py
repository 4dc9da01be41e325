"""What is meant: the variable, terms and numbers that the next action is about."""

from __future__ import annotations

from collections.abc import Callable

from yellow_slope.app.state.desk import Cell
from yellow_slope.app.state.session import StudySession
from yellow_slope.core.data.variable import Kind
from yellow_slope.core.study.flagkeys import FlagKey, FlagKind
from yellow_slope.core.study.terms import Term
from yellow_slope.core.words.names.terms import labels_of


class Meant:
    """What roster or ladder has current, and what is chosen there."""

    def __init__(self, session: StudySession) -> None:
        self.session = session
        self.in_ladder: Callable[[], bool] = lambda: False
        """Whether the ladder has the keyboard; its chosen row is then meant, else the roster's variable."""

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

    def labels(self, terms: tuple[Term, ...]) -> str:
        return labels_of(self.session.study, terms)

    def show(self, term: Term) -> None:
        """Make a term the chosen cell."""
        study = self.session.study
        home = study.model.block_of(term) if study else None
        if home is not None:
            entered = [t for block in study.model.blocks[: home + 1] if block.on for t in block.terms]
            lacks = term.is_product and study.model.missing_parts(term, entered)
            flag = FlagKey(FlagKind.PARTS, term.key) if lacks else None  # what a product lacks is said at once
            self.session.look(cell=Cell(home, term), open_step=None, flag=flag)

    def show_block(self, index: int) -> None:
        """Make a block the chosen cell."""
        self.session.look(cell=Cell(block=index), open_step=None, flag=None)

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

    def numbers_meant(self) -> list[str]:
        """Numbers chosen with Space or Ctrl+click, else the current one; never the outcome."""
        study, desk = self.session.study, self.session.desk
        current = self.current_variable()
        names = [t.variables[0] for t in desk.chosen if len(t.variables) == 1] or ([current] if current else [])
        return [n for n in names if study.variable(n).kind is Kind.NUMBER and n != study.model.outcome]
