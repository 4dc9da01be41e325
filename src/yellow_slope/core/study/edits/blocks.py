"""Edits of terms and blocks: what is explained, by what, in which order."""

from __future__ import annotations

from collections.abc import Iterable

from yellow_slope.core.data.variable import Kind, Variable
from yellow_slope.core.errors import StudyError
from yellow_slope.core.study.edits.models import change_model
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import MOST_FACTORS, Block, Term
from yellow_slope.core.study.whole import edit
from yellow_slope.values import replace


def _label(study: Study, term: Term) -> str:
    return term.text(lambda name: study.variable(name).label)


HOLDS = {
    Kind.GROUP: "is a group",
    Kind.TEXT: "contains free texts",
    Kind.DATE: "contains dates",
    Kind.IDENTIFIER: "identifies cases",
}
"""What a column that is no number does."""


def why_no_outcome(study: Study, variable: Variable) -> str:
    """Why a variable cannot be the outcome; empty if it can: a number, or numbers that were taken for two groups or for
    a count."""
    if variable.kind is Kind.NUMBER:
        return ""
    numeric = study.columns.is_numeric(variable.name)
    if numeric and (variable.kind is Kind.IDENTIFIER or (variable.kind is Kind.GROUP and len(variable.levels) == 2)):
        return ""
    return f"{variable.label} {HOLDS[variable.kind]}; the outcome must be a number."


@edit
def set_outcome(study: Study, name: str | None) -> Study:
    """Make a number the outcome; it leaves the terms if it stood there. Two-valued groups of numbers count as
    numbers for as long as they are an outcome."""
    if name == study.model.outcome:
        return study
    if name is None:
        return change_model(study, outcome=None)
    why = why_no_outcome(study, study.variable(name))
    if why:
        raise StudyError(why)
    blocks = (replace(b, terms=tuple(t for t in b.terms if name not in t.variables)) for b in study.model.blocks)
    study = study.with_model(replace(study.model, blocks=_without_empty(blocks), outcome=name))
    return replace(study, variables=tuple(_as_outcome(v) if v.name == name else v for v in study.variables))


def _as_outcome(variable: Variable) -> Variable:
    if variable.kind is Kind.NUMBER:
        return variable
    return replace(variable, kind=Kind.NUMBER, otherwise=variable.kind)


def check_term(study: Study, term: Term) -> None:
    """StudyError if the term cannot stand in the current model."""
    if not term.variables:
        raise StudyError("A term needs at least one variable.")
    if len(term.variables) > MOST_FACTORS:
        raise StudyError(f"A product can have at most {MOST_FACTORS} factors, not {len(term.variables):,}.")
    for name in term.variables:
        variable = study.variable(name)
        if name == study.model.outcome:
            raise StudyError(f"{variable.label} is the outcome; it cannot be a predictor as well.")
        if not variable.kind.enters:
            raise StudyError(f"{variable.label} {HOLDS[variable.kind]}; only numbers and groups can enter a model.")
        if variable.kind is Kind.GROUP and term.variables.count(name) > 1:
            raise StudyError(f"{variable.label} is a group; it cannot be multiplied with itself.")


@edit
def enter(study: Study, terms: Iterable[Term], block: int | None = None, name: str = "") -> Study:
    """Enter terms in a block (None or one past the last: begin a new block). Terms already there are moved."""
    wanted = tuple(dict.fromkeys(terms))
    for term in wanted:
        check_term(study, term)
    old = study.model.blocks
    if block is not None and block < len(old) and set(wanted) <= set(old[block].terms):
        return study
    blocks = [replace(b, terms=tuple(t for t in b.terms if t not in wanted)) for b in old]
    if block is None or block >= len(blocks):
        blocks.append(Block(wanted, name))
    else:
        blocks[block] = replace(blocks[block], terms=blocks[block].terms + wanted)
    new = _without_empty(blocks)
    if [b.terms for b in new] == [b.terms for b in old]:
        return study
    return change_model(study, blocks=new)


@edit
def enter_product(study: Study, term: Term) -> Study:
    """Enter a product: in the last block if that is later than all its parts, else in a new one. One that is there
    stays."""
    if term in study.model.terms:
        return study
    last = len(study.model.blocks) - 1
    homes = [study.model.block_of(part) for part in term.parts()]
    latest = max((home for home in homes if home is not None), default=-1)
    return enter(study, [term], last if last > latest else None)


@edit
def take_out(study: Study, terms: Iterable[Term]) -> Study:
    """Take terms out of the model."""
    gone = set(terms)
    if not gone & set(study.model.terms):
        return study
    blocks = (replace(b, terms=tuple(t for t in b.terms if t not in gone)) for b in study.model.blocks)
    return change_model(study, blocks=_without_empty(blocks))


@edit
def leave_out_first(study: Study, term: Term) -> Study:
    """Where columns depend on each other, leave out this term's rather than the last entered."""
    if term not in study.model.terms:
        raise StudyError(f"{_label(study, term)} is not in the model.")
    return change_model(study, leave_out_first=(term,))


@edit
def move_term(study: Study, term: Term, by: int) -> Study:
    """Move a term to an earlier (-1) or later (+1) block; past the last begins a new one.

    A move that changes nothing gives back the same study.
    """
    home = study.model.block_of(term)
    if home is None:
        raise StudyError(f"{_label(study, term)} is not in the model.")
    target = home + by
    if target < 0:
        if study.model.blocks[0].terms == (term,):
            return study
        rest = (replace(b, terms=tuple(t for t in b.terms if t != term)) for b in study.model.blocks)
        return change_model(study, blocks=_without_empty([Block((term,)), *rest]))
    return enter(study, [term], target)


@edit
def set_blocks(study: Study, blocks: Iterable[Block]) -> Study:
    """Replace the whole model."""
    seen: set[Term] = set()
    kept: list[Block] = []
    for block in blocks:
        terms = tuple(t for t in dict.fromkeys(block.terms) if t not in seen)
        seen.update(terms)
        for term in terms:
            check_term(study, term)
        kept.append(replace(block, terms=terms))
    return change_model(study, blocks=_without_empty(kept))


@edit
def name_block(study: Study, index: int, name: str) -> Study:
    """Give a block a name."""
    return _with_block(study, index, name=name.strip())


@edit
def switch_block(study: Study, index: int, on: bool) -> Study:
    """Switch a block off for the moment, or on again."""
    return _with_block(study, index, on=on)


def _with_block(study: Study, index: int, **changes: object) -> Study:
    blocks = list(study.model.blocks)
    if not 0 <= index < len(blocks):
        raise StudyError(f"There is no block {index + 1}; the model has {len(blocks)}.")
    new = replace(blocks[index], **changes)  # type: ignore[arg-type]
    if (new.name, new.on) == (blocks[index].name, blocks[index].on):
        return study
    blocks[index] = new
    return change_model(study, blocks=tuple(blocks))


def _without_empty(blocks: Iterable[Block]) -> tuple[Block, ...]:
    return tuple(block for block in blocks if block.terms)
