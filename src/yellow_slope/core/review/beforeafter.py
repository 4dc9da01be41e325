"""Before and after: the current model with all cases, without those set aside, without those that are lit, and in every
other sample, side by side."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np

from yellow_slope.core.errors import YellowSlopeError
from yellow_slope.core.fit.design.bases import NumberBasis
from yellow_slope.core.fit.fitted.evaluate import Evaluation, evaluate_model
from yellow_slope.core.fit.fitted.fit import Fit, Problem
from yellow_slope.core.flags import told_flags
from yellow_slope.core.probe.asking import probe_of
from yellow_slope.core.probe.probing import probe_fit
from yellow_slope.core.stand.standing import ProductAsked, Standing, standing
from yellow_slope.core.study.edits.samples import set_aside, set_sample, take_back
from yellow_slope.core.study.standarderrors import analytic
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.treatment import Base, Mean, Median, OneSD
from yellow_slope.core.words.names.terms import label
from yellow_slope.core.words.sentences.effects import EffectReader
from yellow_slope.core.words.spelling.numerals import (
    bounded,
    estimate_decimals,
    fixed,
    interval,
    level_text,
    listed,
    p_value,
    place,
)
from yellow_slope.core.words.spelling.testtexts import written_cells
from yellow_slope.values import dataclass, replace

DASH = "–"


@dataclass(frozen=True, slots=True)
class Boundaries:
    """Where one focal effect passes from told apart to not told apart from 0, within the data."""

    name: str
    """The comparison; empty of a slope."""
    at: tuple[float, ...]
    moderator: str
    """Along which they lie."""
    everywhere: bool | None
    """Without a boundary: whether it is told apart everywhere, or nowhere; None where nothing can be told."""


@dataclass(frozen=True, slots=True)
class State:
    """One choice of cases, and what the model says with it."""

    name: str
    n: int
    r2: tuple[float, ...] = ()
    """Of every step."""
    change: tuple[tuple[float, float], ...] = ()
    """Of every step its change in R² and p."""
    standing: Standing | None = None
    """Of the product; None without one."""
    boundaries: tuple[Boundaries, ...] = ()
    flags: tuple[str, ...] = ()
    """Titles of the flags that stand."""
    why: str = ""
    """Why there is nothing."""


def wanted_states(study: Study, lit: Sequence[int] = ()) -> list[tuple[str, Study]]:
    """The states that stand side by side, by name: all cases (where some are set aside), as it is, without the lit ones
    (where some are lit that are not set aside), every other sample. With errors that have a formula."""
    bare = study.with_model(replace(study.model, errors=analytic(study.model.errors)))
    sample = bare.sample_of(bare.model)
    aside = sorted({row for part in sample.aside for row in part.rows}) if sample is not None else []
    wanted: list[tuple[str, Study]] = []
    if aside:
        wanted.append(("all cases", take_back(bare, aside)))
        wanted.append((f"without the {len(aside):,} set aside", bare))
    else:
        wanted.append(("as it is", bare))
    more = sorted(set(lit) - set(aside))
    if more:
        name = f"without the {len(more):,} selected{' too' if aside else ''}"
        wanted.append((name, set_aside(bare, more, "lit")))
    for other in study.samples:
        if other.name != study.model.sample:
            wanted.append((f"sample “{other.name}”", set_sample(bare, other.name)))
    if study.model.sample is not None and study.samples and sample is not None and sample.rule is not None:
        wanted.append(("every case of the table", set_sample(bare, None)))
    return wanted


def states_of(
    study: Study,
    step: int,
    asked: ProductAsked | None,
    lit: Sequence[int] = (),
    go_on: Callable[[float], None] = lambda share: None,
    fit: Fit | None = None,
) -> tuple[State, ...]:
    """The states side by side. fit: that of the current model, which serves for the state that it is of."""
    wanted = wanted_states(study, lit)
    states = []
    for i, (name, one) in enumerate(wanted):
        go_on(i / len(wanted))
        own = one.model == study.model and one.samples == study.samples
        found = fit if own and fit is not None else evaluate_model(one, one.model)
        states.append(_state(name, one, found, study.model.steps[step].id, asked))
    return tuple(states)


def _state(name: str, study: Study, found: Fit | Problem, block: str, asked: ProductAsked | None) -> State:
    if not isinstance(found, Fit):
        return State(name, found.cases.n, why=found.said)
    step = study.model.step_index(block)
    r2 = tuple(result.r2 for result in found.steps)
    change = tuple((result.change.r2, result.change.test.p) for result in found.steps)
    flags = tuple(flag.title for flag in told_flags(_alone(study, found))[0])
    told = standing(study, found, step, asked) if asked is not None else None
    return State(name, found.cases.n, r2, change, told, _boundaries(study, found, block, asked), flags)


def _alone(study: Study, fit: Fit) -> Evaluation:
    """An evaluation of the current model alone."""
    return Evaluation(replace(study, models=(study.model,)), {study.current: fit})


def _boundaries(study: Study, fit: Fit, block: str, asked: ProductAsked | None) -> tuple[Boundaries, ...]:
    if asked is None:
        return ()
    probe = probe_of(study, asked.product, fit)
    if not isinstance(fit.design.bases.get(probe.moderator), NumberBasis):
        return ()  # between groups there are no boundaries
    try:
        probed = probe_fit(study, fit, replace(probe, step=block))
    except YellowSlopeError:
        return ()
    found = []
    for k, panel in enumerate(probed.panels):
        read = EffectReader(study, probed, k)
        for i, focus in enumerate(panel.foci):
            if focus.regions is None:
                continue
            signs = {region.sign for region in focus.regions.within}
            everywhere = (0 not in signs) if len(signs) == 1 else None
            name = ", ".join(text for text in (read.focus_name(i), read.second_name()) if text)
            found.append(Boundaries(name, focus.regions.boundaries, probed.probe.moderator, everywhere))
    return tuple(found)


# ---- as a table


@dataclass(frozen=True, slots=True)
class StateRow:
    """A row of the table: what it is, and for each state its figure."""

    name: str
    cells: tuple[str, ...]
    differs: bool = False
    """Whether a conclusion is not the same in all states."""
    said: str = ""
    """Its name in a sentence, where that is another."""
    is_flag: bool = False


def state_rows(study: Study, asked: ProductAsked | None, states: Sequence[State]) -> tuple[StateRow, ...]:
    """Cases, R² and its change in every step, the product, its boundaries, the flags; a dash where there is nothing."""
    alpha = 1.0 - study.model.level
    rows = [StateRow("cases", tuple(f"{s.n:,}" for s in states))]
    for k, _ in enumerate(study.model.steps):
        rows.append(StateRow(f"R², step {k + 1}", tuple(bounded(s.r2[k]) if k < len(s.r2) else DASH for s in states)))
        if k:
            cells = tuple(_change_text(s, k) for s in states)
            ps = [s.change[k][1] for s in states if k < len(s.change)]
            rows.append(StateRow(f"change in step {k + 1}", cells, _apart(ps, alpha)))
    if asked is not None:
        rows += _product_rows(study, asked, states, alpha)
    for name, moderator in dict.fromkeys((b.name, b.moderator) for s in states for b in s.boundaries):
        title = f"boundaries on {study.variable(moderator).label}" + (f", {name}" if name else "")
        own = [next((b for b in s.boundaries if b.name == name), None) for s in states]
        cells = tuple(_boundary_text(study, moderator, one) for one in own)
        counts = {len(b.at) for s in states for b in s.boundaries if b.name == name}
        rows.append(StateRow(title, cells, len(counts) > 1))
    for title in dict.fromkeys(f for s in states for f in s.flags):
        cells = tuple("raised" if title in s.flags else DASH for s in states)
        rows.append(StateRow(f"flag: {title}", cells, len(set(cells)) > 1, f"the flag “{title}”", True))
    if any(s.why for s in states):
        rows.append(StateRow("no model because", tuple(s.why.rstrip(".") or DASH for s in states)))
    return tuple(rows)


def _product_rows(study: Study, asked: ProductAsked, states: Sequence[State], alpha: float) -> list[StateRow]:
    name = label(study, asked.product)
    ones = [s.standing.one if s.standing is not None else None for s in states]
    ps = [s.standing.p for s in states if s.standing is not None]
    rows: list[StateRow] = []
    if any(s.standing is not None and s.standing.test is not None for s in states):
        tests = [s.standing.test if s.standing is not None else None for s in states]
        rows.append(StateRow(f"{name}, F", tuple(written_cells(t)[0] if t is not None else DASH for t in tests)))
    else:
        told = [one for one in ones if one is not None]
        digits = max((estimate_decimals(o.se, o.b, o.low, o.high) for o in told if o.b == o.b), default=2)
        rows.append(StateRow(f"{name}, b", tuple(fixed(o.b, digits) if o is not None else DASH for o in ones)))
        ends = tuple(interval(o.low, o.high, digits) if o is not None and o.low == o.low else DASH for o in ones)
        rows.append(StateRow(f"its {level_text(study.model.level)} interval", ends))
    cells = tuple(p_value(s.standing.p) if s.standing is not None else DASH for s in states)
    return [*rows, StateRow("its p", cells, _apart(ps, alpha), f"the p of {name}")]


def _change_text(state: State, k: int) -> str:
    if k >= len(state.change):
        return DASH
    change, p = state.change[k]
    return f"{bounded(change)}, p {_p(p)}"


def _p(p: float) -> str:
    text = p_value(p)
    return text if text[0] in "<>" or text == DASH else f"= {text}"


def _apart(ps: Sequence[float], alpha: float) -> bool:
    """Whether some are significant and some are not."""
    return len({p < alpha for p in ps if p == p}) > 1


def _boundary_text(study: Study, name: str, found: Boundaries | None) -> str:
    if found is None:
        return DASH
    if found.at:
        sd = float(np.nanstd(study.columns.numbers(name)))
        return " and ".join(place(at, sd) for at in found.at)
    return {True: "significant everywhere", False: "nowhere significant", None: DASH}[found.everywhere]


def state_sentence(study: Study, asked: ProductAsked | None, states: Sequence[State], rows: Sequence[StateRow]) -> str:
    """Which conclusions move between the states, and where zero points stand."""
    if len(states) < 2:
        return "No case is set aside or selected. Select cases, or set them aside, to see here what changes."
    flags = sum(row.is_flag for row in rows if row.differs)
    moved = [row.said or row.name for row in rows if row.differs and not (row.is_flag and flags > 1)]
    moved += [f"{flags} flags"] if flags > 1 else []
    said = f"The analyses differ in {listed(moved)}." if moved else "The analyses do not differ in any conclusion."
    return f"{said} {zero_sentence(study)}".strip()


def zero_sentence(study: Study) -> str:
    """Of which cases the zero points and scales are."""
    moving: list[str] = []
    fixed_ones: list[str] = []
    for name in dict.fromkeys(v for term in study.model.active_terms for v in term.variables):
        treatment = study.model.treatment(name)
        if isinstance(treatment.zero, Mean | Median) or isinstance(treatment.scale, OneSD):
            (moving if treatment.base is Base.MODEL else fixed_ones).append(study.variable(name).label)
    parts = []
    if moving:
        parts.append(f"Zero points of {listed(moving)} are those of the cases in use")
    if fixed_ones:
        begun = "those" if parts else "Zero points"
        parts.append(f"{begun} of {listed(fixed_ones)} are those of all cases of the table")
    return f"{'; '.join(parts)} (chosen at Prepare)." if parts else ""
