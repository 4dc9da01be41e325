"""In words: what a group's codings ask, what the intercept then is, how questions hang together, and the group
overview."""

from __future__ import annotations

import math

import numpy as np

from yellow_slope.core.fit.design.bases import GroupBasis
from yellow_slope.core.fit.design.codes import question_weights
from yellow_slope.core.fit.fitted.inference import ConditionalEffect
from yellow_slope.core.groups.codecard import CodeCard
from yellow_slope.core.groups.overview import Overview
from yellow_slope.core.study.coding import (
    Adjacent,
    AgainstMean,
    Coding,
    Dummy,
    Effect,
    LevelMeans,
    Planned,
    Trends,
    WeightedEffect,
)
from yellow_slope.core.study.edits.questions import questions_of
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Term
from yellow_slope.core.words.names.groups import comparison_name, comparison_sides, level_name, side_name, sides
from yellow_slope.core.words.sentences.coefficients import Reader
from yellow_slope.core.words.spelling.numerals import (
    bounded,
    counted,
    estimate_decimals,
    fixed,
    interval,
    level_text,
    listed,
    p_equals,
    p_value,
    place,
)
from yellow_slope.core.words.spelling.reasons import reason
from yellow_slope.core.words.spelling.testtexts import written_test
from yellow_slope.values import dataclass


@dataclass(frozen=True, slots=True)
class Offered:
    """A coding that can be chosen: its value, what it asks, and the same in two short lines."""

    coding: Coding
    asks: str
    short: str


CODINGS: tuple[Offered, ...] = (
    Offered(Dummy(), "each level against a reference", "each against\na reference"),
    Offered(Effect(), "each level against the mean of all levels", "each against the\nmean of all levels"),
    Offered(WeightedEffect(), "each level against the mean of all cases", "each against the\nmean of all cases"),
    Offered(Adjacent(), "each level against the one before", "each against\nthe one before"),
    Offered(AgainstMean(True), "each level against the mean of the later ones", "each against the\nmean of later ones"),
    Offered(
        AgainstMean(False), "each level against the mean of the earlier ones", "each against the\nmean of earlier ones"
    ),
    Offered(Trends(), "trends over the levels", "trends over\nthe levels"),
    Offered(Planned(()), "planned comparisons", "planned\ncomparisons"),
    Offered(LevelMeans(), "level means, without an intercept", "level means,\nno intercept"),
)


def offered(coding: Coding) -> Offered:
    """The offer that a coding is of."""

    def is_it(other: Coding) -> bool:
        if isinstance(other, AgainstMean) and isinstance(coding, AgainstMean):
            return other.later == coding.later
        return type(other) is type(coding)

    return next(one for one in CODINGS if is_it(one.coding))


def intercept_is(study: Study, basis: GroupBasis, constant: bool) -> str:
    """What the intercept is under this coding, as it goes on after the coding's name."""
    if basis.zero_weights is None:
        return "there is no intercept; each coefficient is the level of its group"
    if not constant:
        return "the model has no intercept"
    name = side_name(study, basis, basis.zero_weights)
    return f"the intercept is {name}" if basis.reference is None else f"the intercept is the level in {name}"


def independence(card: CodeCard, index: int) -> str:
    """How a comparison goes together with the others, by weights and in these cases."""
    others = [i for i in range(card.n_coded) if i != index]
    if not others or card.basis.zero_weights is None:
        return ""
    if index >= card.n_coded:
        return "follows from the others: it is tested, not coded"
    apart = [i for i in others if card.by_weights[index, i]]
    bound = [i for i in others if not card.by_weights[index, i]]
    parts = []
    if apart:
        parts.append(f"independent of {listed([str(i + 1) for i in apart])} by weights")
    if bound:
        parts.append(f"overlaps with {listed([str(i + 1) for i in bound])} by weights")
    values = [bounded(float(card.correlations[index, i]), 2) for i in others]
    if not np.isnan(card.correlations[index, others]).any():
        parts.append(f"in these cases r\u00a0=\u00a0{listed(values)}")
    return "; ".join(parts)


def question_troubles(study: Study, card: CodeCard) -> dict[int, str]:
    """What is the matter with planned questions, by their place: empty, without cases, surplus or dependent."""
    basis = card.basis
    found: dict[int, str] = {}
    follows = {int(c.key) for c in basis.follows}
    for i, question in enumerate(questions_of(study, card.variable)):
        if question.is_empty:
            sides = [word for word, side in (("+", question.one), ("−", question.other)) if not side]
            found[i] = f"no level is on the {listed([f'{word} side' for word in sides])} yet"
        elif question_weights(question, basis.levels) is None:
            found[i] = "no case of the model is in the levels of one side"
        elif i in follows:
            full = card.basis.n_asked == len(basis.levels) - 1
            said = (
                f"{len(basis.levels)} levels allow {len(basis.levels) - 1} questions"
                if full
                else "it follows from those before it"
            )
            found[i] = f"{said}: this one is tested, not coded"
    return found


def effect_lines(card: CodeCard, index: int, study: Study) -> tuple[str, str]:
    """What a comparison finds, in two lines: size with units and direction, and its interval; or the reason there is
    none."""
    effect = card.effects[index]
    outcome = study.variable(study.model.outcome or "")
    if not effect.exists:
        return "–", reason(effect.why)
    d = estimate_decimals(effect.se, effect.effect, effect.low, effect.high)
    basis = card.basis
    if basis.zero_weights is None or (index < card.n_coded and comparison_sides(basis, index) is None):
        size = f"{fixed(effect.effect, d)} {outcome.many}" if outcome.unit else fixed(effect.effect, d)
    else:
        way = "higher" if effect.effect >= 0 else "lower"
        amount = fixed(abs(effect.effect), d)
        size = f"{amount} {outcome.many} {way}" if outcome.unit else f"{amount} {way}"
    if effect.why is not None:
        return size, reason(effect.why)
    return size, interval(effect.low, effect.high, d)


def comparison_title(card: CodeCard, study: Study, index: int) -> str:
    """A comparison as the head of its column."""
    if index < card.n_coded:
        return comparison_name(study, card.basis, index)
    made = card.comparisons[index]
    if made.name:
        return made.name
    both = sides(made.weights)
    if both is None:
        return f"question {int(made.key) + 1}"
    return " vs ".join(side_name(study, card.basis, side, quotes=False) for side in both)


def comparison_sentence(card: CodeCard, study: Study, index: int) -> str:
    """A comparison in words: that of its coefficient, or of a question that is tested only."""
    read = Reader(study, card.fit, card.model)
    if index < card.n_coded:
        columns = card.fit.design.columns_of(Term((card.variable,)))
        return read.coefficient(card.step, columns[index])
    effect, both = card.effects[index], sides(card.comparisons[index].weights)
    title = comparison_title(card, study, index)
    if not effect.exists or both is None:
        return f"{title}: {effect_text(effect)}."
    d = estimate_decimals(effect.se, effect.effect, effect.low, effect.high)
    outcome = study.variable(card.model.outcome or "")
    one, other = (side_name(study, card.basis, side) for side in both)
    size, way = read.amount(effect.effect, d), "higher" if effect.effect >= 0 else "lower"
    said = f"{outcome.label} is {size} {way} in {one} than in {other}{read.bounds(effect.low, effect.high, d)}"
    return f"{said[:1].upper()}{said[1:]}. It follows from the questions before it: it is tested, not coded."


def joint_sentence(card: CodeCard, study: Study) -> str:
    """All comparisons of a card together, and what the intercept is."""
    read = Reader(study, card.fit, card.model)
    own = Term((card.variable,))
    said = read.joint(card.step, own) if own in card.fit.steps[card.step].joint else ""
    text = intercept_is(study, card.basis, card.model.constant)
    return f"{said} {text[:1].upper()}{text[1:]}.".strip()


def comparison_figures(card: CodeCard, index: int) -> str:
    """Figures of a comparison for the foot."""
    effect = card.effects[index]
    where = "the groups alone" if card.is_alone else f"step {card.step + 1}"
    return f"{where}    {effect_text(effect)}"


def effect_text(effect: ConditionalEffect, between: str = "    ") -> str:
    """b, SE, t and p in one line, or why there are none."""
    if not effect.exists:
        return reason(effect.why)
    d = estimate_decimals(effect.se, effect.effect, effect.low, effect.high)
    b = f"b = {fixed(effect.effect, d)}"
    if effect.why is not None:
        return f"{b}{between}{reason(effect.why)}"
    t = [] if math.isnan(effect.t) else [f"t({effect.df}) = {fixed(effect.t, 2)}"]  # none where errors are drawn
    return between.join([b, f"SE = {fixed(effect.se, d)}", *t, p_equals(effect.p)])


# ---- the overview


def omnibus_text(found: Overview, study: Study) -> str:
    """The omnibus test with its effect size, and that the block of codes is the same test."""
    test, title = found.omnibus, study.variable(found.variable).label
    if not test.exists:
        return f"Whether the groups of {title} differ cannot be tested: {reason(test.why)}."
    shown = test.p < 1 - study.model.level
    said = f"The groups of {title} {'differ' if shown else 'do not differ significantly'}: {written_test(test)}"
    if found.held is None:
        said += (
            f", η² = {bounded(found.eta2)} ({level_text(study.model.level)} CI {bounded(found.eta2_low)} to "
            f"{bounded(found.eta2_high)})"
        )
    block = found.block
    if block.exists:
        codes = counted(block.df1, "code")
        figures = written_test(block)
        same = abs(block.f - test.f) <= 1e-8 * max(1.0, test.f)
        if same:
            said += f". The block of {codes} is the same test: {figures}"
        elif found.held is not None:
            said += f". The {codes} alone are tested at the zero points: {figures}"
    return f"{said}."


def stated_values(found: Overview, study: Study) -> str:
    """Where the other predictors stand in adjusted means; empty for the groups alone."""
    if found.held is None:
        return ""
    parts = [
        f"{study.variable(n).label} {place(v, found.fit.design.number(n).sd)}" for n, v in found.held.numbers.items()
    ]
    parts += [f"{study.variable(n).label} at its shares" for n in found.held.weights]
    return f"adjusted to {listed(parts)}" if parts else "no other predictor is in the model"


def overview_note(found: Overview, study: Study) -> str:
    """What intervals and p of the overview rest on."""
    level = level_text(study.model.level)
    if found.held is None:
        return (
            f"{level} intervals from the SD pooled over all groups ({place(found.spread, found.spread)}); those of "
            "differences are unadjusted, Holm's p allows for their number; d is in pooled SDs."
        )
    return f"{level} intervals from the model; those of differences are unadjusted, Holm's p allows for their number."


def pair_cells(found: Overview, study: Study, index: int) -> tuple[str, ...]:
    """A row of the table of pairs: the two levels, difference, interval, p, Holm's p, d, its interval."""
    pair = found.pairs[index]
    variable = study.variable(found.variable)
    one, other = (variable.level(found.levels[i]).label for i in (pair.one, pair.other))
    effect = pair.effect
    d = estimate_decimals(effect.se, effect.effect, effect.low, effect.high)
    size = "–" if pair.d != pair.d else fixed(pair.d, 2)
    around = "" if pair.d_low != pair.d_low else interval(pair.d_low, pair.d_high, 2)
    return (
        f"{one} minus {other}",
        fixed(effect.effect, d),
        interval(effect.low, effect.high, d) if effect.low == effect.low else reason(effect.why),
        p_value(effect.p),
        p_value(pair.p_holm),
        size,
        around,
    )


def pair_sentence(found: Overview, study: Study, index: int) -> str:
    """A pairwise difference as a sentence."""
    pair = found.pairs[index]
    variable, outcome = study.variable(found.variable), study.variable(study.model.outcome or "")
    one, other = (level_name(variable, found.levels[i]) for i in (pair.one, pair.other))
    effect = pair.effect
    if not effect.exists:
        return f"{outcome.label} in {one} and in {other} cannot be compared: {reason(effect.why)}."
    d = estimate_decimals(effect.se, effect.effect, effect.low, effect.high)
    way = "higher" if effect.effect >= 0 else "lower"
    unit = f" {outcome.many}" if outcome.unit else ""
    said = f"{outcome.label} is {fixed(abs(effect.effect), d)}{unit} {way} in {one} than in {other}"
    if effect.why is not None:
        return f"{said}; {reason(effect.why)}."
    said += f" ({level_text(study.model.level)} CI {interval(effect.low, effect.high, d)})"
    stated = stated_values(found, study)
    return f"{said}{', ' + stated if stated else ''}: {p_equals(effect.p)}, Holm adjusted {p_value(pair.p_holm)}."
