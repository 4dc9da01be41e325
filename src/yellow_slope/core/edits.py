"""Edits: functions from a study to a study. They check what they are given and leave everything else as it is."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import replace

from yellow_slope.core.errors import StudyError
from yellow_slope.core.study import Dismissal, Probe, Study
from yellow_slope.core.terms import Block, Term, variables_of
from yellow_slope.core.variable import Kind, Level, Treatment, Variable, as_group, as_number


def change_variable(study: Study, new: Variable) -> Study:
    """The study with one description replaced."""
    study.variable(new.name)
    return replace(study, variables=tuple(new if v.name == new.name else v for v in study.variables))


def set_outcome(study: Study, name: str | None) -> Study:
    """Make a number the outcome; it leaves the terms if it stood there."""
    if name is not None:
        variable = study.variable(name)
        if variable.kind is not Kind.NUMBER:
            raise StudyError(f"{variable.label} is a {variable.kind}; the outcome must be a number.")
        blocks = tuple(Block(tuple(t for t in b.terms if name not in t.variables), b.name) for b in study.blocks)
        study = replace(study, blocks=_without_empty(blocks))
    return _tidied(replace(study, outcome=name))


def check_term(study: Study, term: Term) -> None:
    """StudyError if the term cannot stand in a model of this study."""
    if not term.variables:
        raise StudyError("A term needs at least one variable.")
    for name in term.variables:
        variable = study.variable(name)
        if name == study.outcome:
            raise StudyError(f"{variable.label} is the outcome; it cannot be a predictor as well.")
        if variable.kind is Kind.TEXT:
            raise StudyError(f"{variable.label} holds free texts; only numbers and groups can enter a model.")
        if variable.kind is Kind.GROUP and term.variables.count(name) > 1:
            raise StudyError(f"{variable.label} is a group; it cannot be multiplied with itself.")


def enter(study: Study, terms: Iterable[Term], block: int | None = None, name: str = "") -> Study:
    """Enter terms in a block (None or one past the last: begin a new block). Terms already there are moved."""
    wanted = tuple(dict.fromkeys(terms))
    for term in wanted:
        check_term(study, term)
    blocks = [Block(tuple(t for t in b.terms if t not in wanted), b.name) for b in study.blocks]
    if block is None or block >= len(blocks):
        blocks.append(Block(wanted, name))
    else:
        blocks[block] = Block(blocks[block].terms + wanted, blocks[block].name)
    return replace(study, blocks=_without_empty(blocks))


def enter_product(study: Study, term: Term) -> Study:
    """Enter a product: in the last block if that is later than all its parts, else in a new one."""
    last = len(study.blocks) - 1
    homes = [study.block_of(part) for part in term.parts()]
    latest = max((home for home in homes if home is not None), default=-1)
    return enter(study, [term], last if last > latest else None)


def take_out(study: Study, terms: Iterable[Term]) -> Study:
    """Take terms out of the model."""
    gone = set(terms)
    blocks = (Block(tuple(t for t in b.terms if t not in gone), b.name) for b in study.blocks)
    return _tidied(replace(study, blocks=_without_empty(blocks)))


def leave_out_first(study: Study, term: Term) -> Study:
    """Where columns depend on each other, leave out this term's rather than the last entered."""
    if term not in study.terms:
        raise StudyError(f"{study.label(term)} is not in the model.")
    return replace(study, first_out=(term,))


def move(study: Study, term: Term, by: int) -> Study:
    """Move a term to an earlier (-1) or later (+1) block; past the last begins a new one."""
    home = study.block_of(term)
    if home is None:
        raise StudyError(f"{study.label(term)} is not in the model.")
    target = home + by
    if target < 0:
        blocks = [Block((term,)), *(Block(tuple(t for t in b.terms if t != term), b.name) for b in study.blocks)]
        return replace(study, blocks=_without_empty(blocks))
    return enter(study, [term], target)


def set_blocks(study: Study, blocks: Iterable[Block]) -> Study:
    """Replace the whole model."""
    seen: set[Term] = set()
    kept: list[Block] = []
    for block in blocks:
        terms = tuple(t for t in dict.fromkeys(block.terms) if t not in seen)
        seen.update(terms)
        for term in terms:
            check_term(study, term)
        kept.append(Block(terms, block.name))
    return _tidied(replace(study, blocks=_without_empty(kept)))


def name_block(study: Study, index: int, name: str) -> Study:
    """Give a block a name."""
    blocks = list(study.blocks)
    blocks[index] = replace(blocks[index], name=name.strip())
    return replace(study, blocks=tuple(blocks))


def treat(study: Study, names: Iterable[str], treatment: Treatment) -> Study:
    """Give several numbers one treatment."""
    for name in names:
        variable = study.variable(name)
        if variable.kind is not Kind.NUMBER:
            raise StudyError(f"{variable.label} is a {variable.kind}; only numbers are centered or standardized.")
        study = change_variable(study, replace(variable, treatment=treatment))
    return study


def set_reference(study: Study, name: str, code: str) -> Study:
    """Choose the reference group of a group variable."""
    variable = study.variable(name)
    if variable.kind is not Kind.GROUP:
        raise StudyError(f"{variable.label} is a {variable.kind}; only groups have a reference.")
    variable.level(code)
    return change_variable(study, replace(variable, reference=code))


def set_kind(study: Study, name: str, kind: Kind) -> Study:
    """Treat a column as numbers or as groups."""
    variable, column = study.variable(name), study.table.column(name)
    if kind is Kind.GROUP:
        if name == study.outcome:
            raise StudyError(f"{variable.label} is the outcome, which must be a number.")
        new = as_group(variable, column)
        if len(new.levels) < 2:
            raise StudyError(f"{variable.label} has fewer than two different values; it cannot form groups.")
        squares = [term for term in study.terms if term.variables.count(name) > 1]
        return take_out(change_variable(study, new), squares)
    if kind is Kind.NUMBER:
        return change_variable(study, as_number(variable, column))
    if name == study.outcome:
        raise StudyError(f"{variable.label} is the outcome; choose another outcome before it is left out.")
    out = [term for term in study.terms if name in term.variables]
    return take_out(change_variable(study, replace(variable, kind=kind)), out)


def describe(study: Study, name: str, *, label: str | None = None, unit: str | None = None) -> Study:
    """Give a variable a label or a unit."""
    variable = study.variable(name)
    if label is not None:
        variable = replace(variable, label=label.strip() or name, short_label="")
    if unit is not None:
        variable = replace(variable, unit=unit.strip(), units="")
    return change_variable(study, variable)


def name_level(study: Study, name: str, code: str, label: str) -> Study:
    """Give a level a label."""
    variable = study.variable(name)
    variable.level(code)
    levels = tuple(Level(x.code, label.strip() or x.code) if x.code == code else x for x in variable.levels)
    return change_variable(study, replace(variable, levels=levels))


def set_level(study: Study, level: float) -> Study:
    """Choose the confidence level, as .95."""
    if not 0.5 <= level < 1:
        raise StudyError("The confidence level must lie between .50 and 1.")
    return replace(study, level=level)


def put_probe(study: Study, probe: Probe) -> Study:
    """Add a probe, or replace the one about the same two variables."""
    others = tuple(p for p in study.probes if {p.focal, p.moderator} != {probe.focal, probe.moderator})
    return replace(study, probes=(probe, *others))


def dismiss(study: Study, flag: str, reason: str) -> Study:
    """Put a flag aside with a reason."""
    others = tuple(d for d in study.dismissals if d.flag != flag)
    return replace(study, dismissals=(*others, Dismissal(flag, reason)))


def rename(study: Study, name: str) -> Study:
    """Give the study a name."""
    return replace(study, name=name.strip() or "Untitled study")


def _without_empty(blocks: Iterable[Block]) -> tuple[Block, ...]:
    return tuple(block for block in blocks if block.terms)


def _tidied(study: Study) -> Study:
    used = set(variables_of(study.terms))
    terms = set(study.terms)
    probes = tuple(p for p in study.probes if {p.focal, p.moderator} <= used)
    return replace(study, probes=probes, first_out=tuple(t for t in study.first_out if t in terms))


def describe_label(name: str, label: str) -> Callable[[Study], Study]:
    """The edit that gives a variable a label."""
    return lambda study: describe(study, name, label=label)


def describe_unit(name: str, unit: str) -> Callable[[Study], Study]:
    """The edit that gives a variable a unit."""
    return lambda study: describe(study, name, unit=unit)
