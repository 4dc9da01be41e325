"""By what a fit is remembered: all that its numbers rest on besides the table, and nothing else."""

from __future__ import annotations

from collections.abc import Iterator

from yellow_slope.core.data.conditions import Rule, variables_in
from yellow_slope.core.data.derived import Expression, Reversed, parts_of, sources_of
from yellow_slope.core.data.variable import Kind
from yellow_slope.core.fit.design.cases import needed
from yellow_slope.core.study.coding import Planned
from yellow_slope.core.study.model import Entry, Model
from yellow_slope.core.study.standarderrors import Errors
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.treatment import Transform, Treatment
from yellow_slope.values import dataclass, replace


@dataclass(frozen=True, slots=True)
class ColumnKey:
    """What the values of a variable rest on: no label, no unit, no name of a level."""

    name: str
    kind: Kind
    levels: tuple[tuple[str, ...], ...]
    """The codes of each level, in order; empty for what is no group."""
    missing: tuple[str, ...]
    given: tuple[tuple[str, float], ...]
    limits: tuple[float, float] | None
    """The declared limits, where its scale is turned round by them."""
    expression: Expression | None
    """How it is computed."""


@dataclass(frozen=True, slots=True)
class FitKey:
    """What the fit of a model rests on."""

    outcome: str | None
    steps: tuple[tuple[tuple[str, ...], ...], ...]
    """The variables of each term of each step, in order."""
    entries: tuple[tuple[str, Entry | None], ...]
    """How each variable of the last step enters, without names of comparisons."""
    constant: bool
    level: float
    errors: Errors
    leave_out_first: tuple[tuple[str, ...], ...]
    columns: tuple[ColumnKey, ...]
    sample: str | None
    """The sample's name, where there is no such sample."""
    rule: Rule | None
    aside: tuple[int, ...]


def fit_key(study: Study, model: Model) -> FitKey:
    """The key of a model's fit."""
    sample = next((s for s in study.samples if s.name == model.sample), None)
    rule = sample.rule if sample is not None else None
    aside = {row for part in sample.aside for row in part.rows} if sample is not None else set()
    used = set(model.variables)
    return FitKey(
        outcome=model.outcome,
        steps=tuple(tuple(term.variables for term in block.terms) for block in model.steps),
        entries=tuple((name, _nameless(entry)) for name, entry in sorted(model.entries.items()) if name in used),
        constant=model.constant,
        level=model.level,
        errors=model.errors,
        leave_out_first=tuple(term.key for term in model.leave_out_first),
        columns=tuple(_columns(study, model, rule)),
        sample=model.sample if sample is None else None,
        rule=rule,
        aside=tuple(sorted(aside)),
    )


def _nameless(entry: Entry) -> Entry:
    """The entry without the names that comparisons were given: they change no number."""
    if isinstance(entry, Treatment):
        return entry
    if isinstance(entry, Planned):
        return Planned(tuple(replace(question, name="") for question in entry.questions))
    return replace(entry, names=())


def _columns(study: Study, model: Model, rule: Rule | None) -> Iterator[ColumnKey]:
    """The variables that the model reads, and those that these are computed from."""
    known = {v.name: v for v in study.variables}
    derived = {d.name: d.expression for d in study.derived}
    names = dict.fromkeys([*needed(model), *(variables_in(rule) if rule is not None else ())])
    turned = {name for name in names if Transform.REVERSE in model.treatment(name).transforms}
    waiting = list(names)
    while waiting:
        expression = derived.get(waiting.pop())
        if expression is not None:
            turned |= {part.name for part in parts_of(expression) if isinstance(part, Reversed)}
            waiting += [source for source in sources_of(expression) if source not in names]
            names.update(dict.fromkeys(sources_of(expression)))
    for name in names:
        v = known.get(name)
        if v is not None:
            levels = tuple(level.codes for level in v.levels) if v.kind is Kind.GROUP else ()
            limits = v.limits if name in turned else None
            yield ColumnKey(name, v.kind, levels, v.missing, v.given, limits, derived.get(name))
