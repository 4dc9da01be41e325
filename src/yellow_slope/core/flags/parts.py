"""A product without its parts, or before them."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

from yellow_slope.core.fit.fitted.evaluate import Evaluation
from yellow_slope.core.flags.flag import Flag, Remedy
from yellow_slope.core.study.edits.blocks import enter, set_blocks, take_out
from yellow_slope.core.study.flagkeys import FlagKey, FlagKind
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import MANY_FACTORS, Block, Term
from yellow_slope.core.words.names.terms import label
from yellow_slope.core.words.spelling.numerals import counted, listed


def missing_parts(evaluation: Evaluation) -> Iterator[Flag]:
    """A product in whose step a part of it is missing."""
    study = evaluation.study
    model = study.model
    before: set[Term] = set()
    for index, block in enumerate(model.blocks):
        if not block.on:
            continue
        before |= set(block.terms)
        for term in block.terms:
            missing = tuple(model.missing_parts(term, before))
            if missing:
                key = FlagKey(FlagKind.PARTS, term.key)
                later = all(part in model.terms for part in missing)
                word = "is entered before" if later else "is entered without"
                title = f"{label(study, term)} {word} {_listed(study, missing)}"
                yield Flag(key, title, partial(_told, study, term, missing, index), term=term)


def _listed(study: Study, parts: tuple[Term, ...]) -> str:
    names = [label(study, part) for part in parts[:4]]
    return listed(names) if len(parts) <= 4 else f"{', '.join(names)} and {counted(len(parts) - 4, 'more part')}"


def _told(study: Study, term: Term, missing: tuple[Term, ...], home: int) -> tuple[str, tuple[Remedy, ...]]:
    labels = _listed(study, missing)
    cost = (
        f"Without {labels} in the same step, the product's coefficient confounds the interaction with effects of its "
        "parts. It is not the difference of slopes that it seems to be."
    )
    if len(term.variables) > MANY_FACTORS:
        cost += f" A product of {len(term.variables)} factors has more parts than are listed; only the single ones are."
    verb = "Move" if all(part in study.model.terms for part in missing) else "Enter"
    return cost, (
        Remedy(f"{verb} {labels} before it", partial(_enter, parts=missing, home=home)),
        Remedy("Remove the product", partial(take_out, terms=[term])),
    )


def _enter(study: Study, parts: tuple[Term, ...], home: int) -> Study:
    if home > 0:
        return enter(study, parts, home - 1)
    taken = take_out(study, parts)
    return set_blocks(taken, (Block(parts), *taken.model.blocks))
