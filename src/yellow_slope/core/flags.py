"""Flags: remarks on what deserves care, at the place itself, with the cost in numbers and one-click remedies."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass

import numpy as np

from yellow_slope.core import edits
from yellow_slope.core.design import GroupBasis, NumberBasis
from yellow_slope.core.estimate import LeftOut
from yellow_slope.core.evaluate import Evaluation, Fit, evaluate
from yellow_slope.core.numerals import bounded, counted, listed, place
from yellow_slope.core.reading import Reader, sample_sentence
from yellow_slope.core.study import Study
from yellow_slope.core.terms import Term
from yellow_slope.core.variable import Kind, Treatment

FEW_VALUES = 7


@dataclass(frozen=True, slots=True)
class Remedy:
    """One click: what it says and what it does to the study."""

    label: str
    edit: Callable[[Study], Study]


@dataclass(frozen=True, slots=True)
class Flag:
    """A remark. `term` or `variable` says where it stands; both None: at the cases in use."""

    key: str
    title: str
    cost: str
    remedies: tuple[Remedy, ...]
    variable: str | None = None
    term: Term | None = None


def flags_of(evaluation: Evaluation) -> tuple[Flag, ...]:
    """All flags of an evaluation but those put aside."""
    put_aside = {d.flag for d in evaluation.study.dismissals}
    return tuple(flag for flag in _all(evaluation) if flag.key not in put_aside)


def _all(evaluation: Evaluation) -> Iterator[Flag]:
    study = evaluation.study
    yield from missing_parts(study)
    if evaluation.fit is not None:
        yield from dependent_columns(study, evaluation.fit)
        yield from codes_as_quantities(evaluation, evaluation.fit)
        yield from far_zeros(study, evaluation.fit)
        yield from unchosen_references(study, evaluation.fit)
    yield from lost_cases(evaluation)


def missing_parts(study: Study) -> Iterator[Flag]:
    """A product without its parts."""
    for term in study.terms:
        missing = [part for part in term.parts() if part not in study.terms]
        if not missing:
            continue
        labels = listed([study.label(part) for part in missing])
        home = study.block_of(term) or 0
        yield Flag(
            "parts of " + " x ".join(term.key),
            f"{study.label(term)} stands without {labels}",
            f"Without {labels} in the model the product's coefficient mixes the interaction with what its parts do; "
            "it is not the difference of slopes that it seems to be.",
            (
                Remedy(f"Enter {labels} before it", _enterer(tuple(missing), home)),
                Remedy("Take the product out", lambda s, t=term: edits.take_out(s, [t])),  # type: ignore[misc]
            ),
            term=term,
        )


def _enterer(parts: tuple[Term, ...], home: int) -> Callable[[Study], Study]:
    def edit(study: Study) -> Study:
        if home > 0:
            return edits.enter(study, parts, home - 1)
        blocks = study.blocks
        first = type(blocks[0])(parts)
        return edits.set_blocks(study, (first, *blocks))

    return edit


def dependent_columns(study: Study, fit: Fit) -> Iterator[Flag]:
    """Terms with columns that cannot be estimated, and what they depend on."""
    read = Reader(study, fit)
    last = len(fit.steps) - 1
    by_term: dict[Term, list[LeftOut]] = {}
    for out in fit.left_out:
        by_term.setdefault(fit.design.columns[out.column].term, []).append(out)
    for term, outs in by_term.items():
        others = dict.fromkeys(fit.design.columns[j].term for out in outs for j, _ in out.on)
        others.pop(term, None)
        others = {other: None for other in others if _helps(study, other, term, len(outs))}
        cost = " ".join(read.coefficient(last, out.column) for out in outs[:3])
        if any((study.block_of(other) or 0) < (study.block_of(term) or 0) for other in others):
            cost += " Leaving out a term of an earlier block instead changes the earlier steps as well."
        many = f"{len(outs)} columns of {study.label(term)}"
        yield Flag(
            f"left out of {' x '.join(term.key)}",
            f"{read.term_name(outs[0].column) if len(outs) == 1 else many} cannot be estimated",
            cost,
            (_taker(study, term), *(_chooser(study, other) for other in list(others)[:3])),
            term=term,
        )


def _taker(study: Study, term: Term) -> Remedy:
    return Remedy(f"Take out {study.label(term)}", lambda s: edits.take_out(s, [term]))


def _helps(study: Study, other: Term, term: Term, before: int) -> bool:
    """Whether fewer columns of a term are left out once another's are left out first."""
    fit = evaluate(edits.leave_out_first(study, other)).fit
    return fit is not None and sum(fit.design.columns[out.column].term == term for out in fit.left_out) < before


def _chooser(study: Study, term: Term) -> Remedy:
    return Remedy(f"Leave out {study.label(term)} instead", lambda s: edits.leave_out_first(s, term))


def codes_as_quantities(evaluation: Evaluation, fit: Fit) -> Iterator[Flag]:
    """A number column with few whole values, used as a quantity."""
    study = evaluation.study
    for name, basis in fit.design.bases.items():
        if not isinstance(basis, NumberBasis):
            continue
        values = np.unique(np.asarray(fit.values[name], dtype=np.float64))
        if not 3 <= values.size <= FEW_VALUES or np.any(values != np.round(values)):
            continue
        label = study.variable(name).label
        grouped = edits.set_kind(study, name, Kind.GROUP)
        other = evaluate(grouped).fit
        cost = f"{label} takes only {values.size} whole values and enters as one slope over them."
        if other is not None:
            cost += (
                f" Treated as groups, {values.size - 1} comparisons would stand in its place, and R² of the last step "
                f"would be {bounded(other.last.r2)} instead of {bounded(fit.last.r2)}."
            )
        yield Flag(
            f"code {name}", f"Is {label} a quantity, or a code?", cost,
            (Remedy("Treat as groups", lambda s, n=name: edits.set_kind(s, n, Kind.GROUP)),),  # type: ignore[misc]
            variable=name,
        )  # fmt: skip


def far_zeros(study: Study, fit: Fit) -> Iterator[Flag]:
    """A raw variable in a product whose zero lies outside its range."""
    for name, basis in fit.design.bases.items():
        variable = study.variable(name)
        if not isinstance(basis, NumberBasis) or variable.treatment is not Treatment.AS_IS:
            continue
        partners = dict.fromkeys(n for t in study.terms if t.is_product and name in t.variables for n in t.variables)
        partners.pop(name, None)
        if basis.low <= 0 <= basis.high or not partners:
            continue
        labels = listed([study.variable(n).label for n in partners])
        reach = f"{place(basis.low, basis.sd)} to {place(basis.high, basis.sd)}"
        yield Flag(
            f"zero of {name}",
            f"{variable.label} is multiplied as it is, but is never near 0",
            f"The coefficient of {labels} is its effect at {variable.label} = 0, while {variable.label} runs from {reach}. "
            f"Centered, it is the effect at the mean ({place(basis.mean, basis.sd)}); the product's own test stays the same.",
            (Remedy(f"Center {variable.label}", lambda s, n=name: edits.treat(s, [n], Treatment.CENTERED)),),  # type: ignore[misc]
            variable=name,
        )


def unchosen_references(study: Study, fit: Fit) -> Iterator[Flag]:
    """A reference group nobody chose."""
    for name, basis in fit.design.bases.items():
        variable = study.variable(name)
        if not isinstance(basis, GroupBasis) or variable.reference is not None or len(basis.levels) < 2:
            continue
        now = basis.levels[basis.reference]
        largest = basis.levels[int(np.argmax(basis.counts))]
        remedies = [Remedy(f"Keep “{now.label}”", lambda s, n=name, c=now.code: edits.set_reference(s, n, c))]  # type: ignore[misc]
        others = [level for level in basis.levels if level != now]
        others.sort(key=lambda level: level != largest)
        for level in others[:3]:
            remedies.append(
                Remedy(f"Take “{level.label}”", lambda s, n=name, c=level.code: edits.set_reference(s, n, c))  # type: ignore[misc]
            )
        cases = int(basis.counts[basis.reference])
        yield Flag(
            f"reference of {name}",
            f"Nobody chose the reference group of {variable.label}",
            f"Every comparison of {variable.label} is with “{now.label}” ({counted(cases, 'case')}) only because it comes first.",
            tuple(remedies),
            variable=name,
        )


def lost_cases(evaluation: Evaluation) -> Iterator[Flag]:
    """Cases lost for missing values, and by which variable."""
    sample, study = evaluation.sample, evaluation.study
    if sample.n_lost == 0 or study.outcome is None or not study.blocks:
        return
    costly = sorted((x for x in sample.lost if x.variable != study.outcome), key=lambda x: -x.only)
    remedies = tuple(
        Remedy(f"Do without {study.variable(x.variable).label} (+{counted(x.only, 'case')})", _without(x.variable))
        for x in costly[:2]
        if x.only > 0
    )
    yield Flag(
        "lost cases",
        f"{counted(sample.n_lost, 'case')} left out for missing values",
        sample_sentence(evaluation),
        remedies,
    )


def _without(name: str) -> Callable[[Study], Study]:
    return lambda study: edits.take_out(study, [t for t in study.terms if name in t.variables])
