"""Composing: products of sets, everything up to an order, products with their parts; blocks ordered, split and
merged."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from itertools import combinations
from math import comb

from yellow_slope.core.data.variable import Kind
from yellow_slope.core.errors import StudyError
from yellow_slope.core.study.edits.blocks import check_term, enter, enter_product
from yellow_slope.core.study.edits.models import change_model
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import MANY_FACTORS, Block, Term
from yellow_slope.core.study.whole import edit
from yellow_slope.values import replace

MOST_TERMS = 3000
"""More terms than this at once are refused: no sheet could show them."""


def each_with_each(one: Sequence[Term], other: Sequence[Term]) -> tuple[Term, ...]:
    """The product of each of the one with each of the other, each once. StudyError for more than can be shown."""
    if len(one) * len(other) > MOST_TERMS:
        raise StudyError(f"These would be {len(one) * len(other):,} products; at most {MOST_TERMS:,} are possible.")
    return tuple(dict.fromkeys(a.times(b) for a in one for b in other))


def up_to_order(names: Sequence[str], order: int) -> tuple[Term, ...]:
    """The variables and all their products of different ones up to an order, the single ones first."""
    distinct = list(dict.fromkeys(names))
    largest = min(order, len(distinct))
    n = sum(comb(len(distinct), size) for size in range(1, largest + 1))
    if n > MOST_TERMS:
        raise StudyError(f"These would be {n:,} terms; at most {MOST_TERMS:,} are possible.")
    return tuple(Term(some) for size in range(1, largest + 1) for some in combinations(distinct, size))


def with_their_parts(terms: Iterable[Term], but: Iterable[Term] = ()) -> tuple[Term, ...]:
    """The terms and everything they are made of but what is there already, the single variables first."""
    wanted = tuple(terms)
    large = next((t for t in wanted if len(t.variables) > MANY_FACTORS), None)
    if large is not None:
        raise StudyError(f"A product of more than {MANY_FACTORS} factors has too many parts to enter them one by one.")
    known = set(but)
    found = dict.fromkeys([*(part for term in wanted for part in term.parts() if part not in known), *wanted])
    return tuple(sorted(found, key=lambda term: len(term.variables)))


def powered(study: Study, name: str, power: int) -> Term:
    """A number to a power: Term("x", "x") is x². StudyError for a group."""
    variable = study.variable(name)
    if variable.kind is not Kind.NUMBER:
        raise StudyError(f"{variable.label} is {variable.kind.one}; only numbers have powers.")
    return Term((name,) * power)


@edit
def enter_with_parts(study: Study, term: Term) -> Study:
    """Enter a product with what it is made of: the parts that are missing before it, the product in a block after
    them."""
    parts = with_their_parts([term], study.model.terms)[:-1]
    if parts:
        study = enter(study, parts, _place_of_parts(study, term))
    return enter_product(study, term)


def _place_of_parts(study: Study, term: Term) -> int | None:
    """The block of the last part that is entered already; without one a new block before any other product's."""
    homes = [study.model.block_of(part) for part in term.parts()]
    known = [home for home in homes if home is not None]
    return max(known) if known else None


@edit
def move_block(study: Study, index: int, by: int) -> Study:
    """Move a whole block to an earlier (-1) or later (+1) place; at the end of the line nothing changes."""
    blocks = list(study.model.blocks)
    to = index + by
    if not (0 <= index < len(blocks) and 0 <= to < len(blocks)):
        return study
    blocks.insert(to, blocks.pop(index))
    return change_model(study, blocks=tuple(blocks))


@edit
def split_block(study: Study, index: int, terms: Iterable[Term]) -> Study:
    """Let terms of a block begin a block of their own right after it. StudyError where nothing would stay or leave."""
    blocks = list(study.model.blocks)
    leaving = set(terms)
    there = blocks[index].terms
    gone = tuple(t for t in there if t in leaving)
    kept = tuple(t for t in there if t not in leaving)
    if not gone or not kept:
        raise StudyError("To split a block choose some of its terms, not all: they begin a block of their own.")
    blocks[index] = replace(blocks[index], terms=kept)
    blocks.insert(index + 1, Block(gone, on=blocks[index].on))
    return change_model(study, blocks=tuple(blocks))


@edit
def merge_blocks(study: Study, index: int) -> Study:
    """Let a block and the one before it be one, under the earlier one's name, or the later one's where that has
    none."""
    blocks = list(study.model.blocks)
    if not 0 < index < len(blocks):
        raise StudyError("The first block has none before it to be merged with.")
    one, other = blocks[index - 1], blocks[index]
    blocks[index - 1 : index + 1] = [
        replace(one, terms=one.terms + other.terms, name=one.name or other.name, on=one.on or other.on)
    ]
    return change_model(study, blocks=tuple(blocks))


def checked(study: Study, terms: Iterable[Term]) -> tuple[Term, ...]:
    """The terms, each of which can stand in the model. StudyError with the reason for the first that cannot."""
    found = tuple(terms)
    for term in found:
        check_term(study, term)
    return found
