"""Edits that put what was meant in the place of columns made by hand: one group for its indicators, a product for its
column."""

from __future__ import annotations

from collections.abc import Mapping
from types import MappingProxyType

from yellow_slope.core.data.byhand import HandProduct, IndicatorSet, Shifted, stem
from yellow_slope.core.data.variable import Kind
from yellow_slope.core.study.edits.blocks import set_blocks
from yellow_slope.core.study.edits.computed import derive
from yellow_slope.core.study.edits.entries import treat
from yellow_slope.core.study.edits.kinds import set_kind
from yellow_slope.core.study.edits.levels import name_levels
from yellow_slope.core.study.edits.models import change_model
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Block, Term
from yellow_slope.core.study.treatment import Mean, OneSD, Treatment
from yellow_slope.core.study.whole import edit
from yellow_slope.values import replace

NONE_OF_THEM = "none of them"


@edit
def put_in_place(study: Study, instead: Mapping[str, tuple[str, ...]]) -> Study:
    """Let terms hold other variables: each named one becomes the product of those given for it.

    A term that would multiply a group with itself says nothing and goes; of equal terms the first stays.
    """
    blocks: list[Block] = []
    seen: set[Term] = set()
    for block in study.model.blocks:
        terms: list[Term] = []
        for term in block.terms:
            names = tuple(new for name in term.variables for new in instead.get(name, (name,)))
            made = Term(names) if names != term.variables else term
            groups = [n for n in names if study.variable(n).kind is Kind.GROUP]
            if len(set(groups)) == len(groups) and made not in seen:
                seen.add(made)
                terms.append(made)
        blocks.append(replace(block, terms=tuple(terms)))
    return set_blocks(study, blocks)


@edit
def enter_the_group(study: Study, found: IndicatorSet) -> Study:
    """One group variable in the place of its indicators: the column they are of, or a computed one."""
    name = found.of
    if name is None:
        name = group_name(study, found)
        study = _computed(study, found, name)
    elif study.variable(name).kind is not Kind.GROUP:
        study = set_kind(study, name, Kind.GROUP)
    gone = dict.fromkeys(found.columns, (name,))
    study = put_in_place(study, gone)
    entries = {n: e for n, e in study.model.entries.items() if n not in gone}
    return change_model(study, entries=MappingProxyType(entries)) if len(entries) < len(study.model.entries) else study


def group_name(study: Study, found: IndicatorSet) -> str:
    """A free name for the group of indicators: what their names begin with, else all of them."""
    base = stem(list(found.columns)).rstrip() or " or ".join(study.variable(c).label for c in found.columns[:3])
    name, k = base, 2
    taken = {v.name.casefold() for v in study.variables} | {v.label.casefold() for v in study.variables}
    while name.casefold() in taken:
        name, k = f"{base} ({k})", k + 1
    return name


def _computed(study: Study, found: IndicatorSet, name: str) -> Study:
    text = "0"
    for place, column in reversed(list(enumerate(found.columns, 1))):
        known = study.variable(column)
        one = known.find_level("1")
        value = f"“{one.label}”" if known.kind is Kind.GROUP and one is not None else "1"
        text = f"{place} if [{column}] is {value} else ({text})"
    study = derive(study, name, text)
    study = set_kind(study, name, Kind.GROUP)
    labels = [study.variable(column).label for column in found.columns]
    levels = study.variable(name).levels
    names = [NONE_OF_THEM if level.code == "0" else labels[int(level.code) - 1] for level in levels]
    return name_levels(study, name, names)


@edit
def undo_by_hand(study: Study, shifted: tuple[Shifted, ...], multiplied: tuple[HandProduct, ...]) -> Study:
    """Sources with their treatment, and products, in the place of columns centered or multiplied by hand."""
    back = {s.column: (s.source,) for s in shifted}
    instead: dict[str, tuple[str, ...]] = {}
    for product in multiplied:
        instead[product.column] = tuple(n for factor in product.factors for n in back.get(factor, (factor,)))
    known = {m.column: m.factors for m in multiplied}
    for column, names in instead.items():
        whole = list(names)
        for _ in range(4):  # a product of a product
            whole = [n for name in whole for n in (known.get(name) or (name,))]
            whole = [n for name in whole for n in back.get(name, (name,))]
        instead[column] = tuple(whole)
    instead.update(back)
    new = put_in_place(study, instead)
    used = {name for term in new.model.terms for name in term.variables}
    for one in shifted:
        if one.source in used and new.variable(one.source).kind is Kind.NUMBER:
            scale = {} if one.scale == 1.0 else {"scale": OneSD()}
            new = treat(new, [one.source], Treatment(zero=Mean(), **scale))  # type: ignore[arg-type]
    return new
