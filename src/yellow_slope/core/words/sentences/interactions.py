"""In words, as in a results section: whether an effect depended on a moderator, its simple slopes, where it was
significant, and what could not be shown."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import assert_never

from yellow_slope.core.fit.design.bases import NumberBasis
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.fit.fitted.inference import ConditionalEffect, FTest
from yellow_slope.core.fit.solve.why import Why
from yellow_slope.core.probe.curve import FiellerKind
from yellow_slope.core.probe.places import LevelPlace, NumberPlace, Place, Point
from yellow_slope.core.probe.probed import Probed, Tested, TestOf
from yellow_slope.core.probe.regions import Region
from yellow_slope.core.study.probe import EffectUnit
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Term
from yellow_slope.core.words.names.groups import in_group, is_only_code
from yellow_slope.core.words.names.numbers import at_place
from yellow_slope.core.words.names.places import point_name
from yellow_slope.core.words.names.study import model_name
from yellow_slope.core.words.names.terms import label
from yellow_slope.core.words.sentences.effects import EffectReader, decimals_below, most_decimals
from yellow_slope.core.words.spelling.letters import capital
from yellow_slope.core.words.spelling.numerals import (
    bracketed,
    counted,
    estimate_decimals,
    fixed,
    level_text,
    listed,
    place,
)
from yellow_slope.core.words.spelling.reasons import reason
from yellow_slope.core.words.spelling.rich import Rich, Run, rich, sym
from yellow_slope.core.words.spelling.testtexts import written_pieces
from yellow_slope.values import dataclass

MOST_SLOPES = 6
"""Of more places or groups the table tells."""
MOST_REGIONS = 3

Pieces = list[str | Run | Rich]


# ---- names


def interaction_name(study: Study, term: Term) -> str:
    """“the interaction of practice and worry”; of a product with powers its name."""
    names = term.variables
    if len(set(names)) < len(names):
        return label(study, term)
    return f"the interaction of {listed([study.variable(name).label for name in names])}"


def leading(probed: Probed) -> Tested | None:
    """The test that a paragraph begins with: of several panels that of the highest product, of several comparisons
    that of all together, else that of the effect; None where there is none."""
    several = len(probed.panels[0].foci) > 1
    of = {TestOf.PRODUCT} if len(probed.panels) > 1 else {TestOf.EFFECTS, TestOf.PRODUCT} if several else set()
    tested = probed.tests(0, 0)
    return next((one for one in tested if one.of in of), tested[0] if tested else None)


def told_by(probed: Probed) -> frozenset[str]:
    """Of which variables' product the leading test is."""
    first = leading(probed)
    if first is not None and first.of is TestOf.PRODUCT and first.term is not None:
        return frozenset(first.term.variables)
    return frozenset((probed.probe.focal, probed.probe.moderator))


def _where(study: Study, probed: Probed) -> str:
    """In which model and step a probe stands, where these are not the ones that the paragraph before reports."""
    model = f"in the model “{model_name(study, probed.model)}”" if probed.model.id != study.current else ""
    step = f"in step {probed.step + 1}" if model or probed.step != probed.model.reported_step else ""
    return ", ".join(text for text in (model, step) if text)


# ---- the paragraph


def tells_effects(probed: Probed) -> bool:
    """Whether its paragraph tells of effects: of a product that is not significant it tells none."""
    first = leading(probed)
    return first is not None and first.test.p < 1 - probed.level


def interaction_paragraph(study: Study, probed: Probed, says_rest: bool = True) -> Rich:
    """The test with its coefficient, then slopes and regions; of one that is not significant neither. `says_rest`:
    whether it is said that nothing but the other predictors was held, which is said once in a report."""
    read = EffectReader(study, probed, 0)
    first, where = leading(probed), _where(study, probed)
    if first is None:
        return rich("")
    test = first.test
    said = _asked(read, first)
    subject = f"{where}, {said.subject}" if where else said.subject
    if not test.exists:
        why = reason(test.why) if test.why is not None else "it does not exist"
        return rich(capital(f"{where}, {said.whether}" if where else said.whether), f" could not be tested: {why}.")
    significant = tells_effects(probed)
    lead: Pieces = [capital(f"{subject} {said.was if significant else said.was_not}"), ", "]
    lead += [*_coefficient(study, probed, first), *written_pieces(test), "."]
    caveat = f" {read.caveat()}" if read.caveat() else ""
    if not significant:
        return rich(*lead, caveat)
    several, several_foci = len(probed.panels) > 1, len(probed.panels[0].foci) > 1
    told: Sequence[str | Rich]
    if several:
        told = _in_panels(study, probed)
    elif several_foci:
        told = _in_comparisons(read)
    else:
        told = [*_slopes(read), *_regions(read), *([_crossing(read)] if read.meets_inside else [])]
    pieces = [piece for text in told if text for piece in (" ", text)]
    return rich(*lead, *pieces, _held(read, several, says_rest), caveat)


@dataclass(frozen=True, slots=True)
class _Asked:
    """What a leading test asks: of what, what is said where it is significant and where not, and the question."""

    subject: str
    was: str
    was_not: str
    whether: str


def _asked(read: EffectReader, first: Tested) -> _Asked:
    p, study = read.probed, read.study
    if p.by_itself:
        name = f"the curvature of {read.focal_title}" if read.is_bent else f"the {_effect_name(read)}"
        name = read.focal_label if first.of is TestOf.EFFECTS else name
        return _Asked(name, "was significant", "was not significant", name)
    if first.of is TestOf.PRODUCT and first.term is not None:
        name = interaction_name(study, first.term)
        return _Asked(name, "was significant", "was not significant", name)
    subject = f"the {_effect_name(read, several=first.of is TestOf.EFFECTS)}"
    at = read.product_at()
    on = f"{read.moderator_label}{f' ({at})' if at else ''}"
    return _Asked(
        subject, f"depended on {on}", f"did not depend significantly on {on}", f"whether {subject} depended on {on}"
    )


def _effect_name(read: EffectReader, several: bool = False) -> str:
    """“slope of practice”, of what cases were assigned to “effect of practice”; “difference in control score (returner
    minus first season)”, of several “differences in control score between coaching groups”."""
    p = read.probed
    if isinstance(p.focal, NumberBasis):
        what = "effect" if p.probe.focal in read.study.report.assigned else "slope"
        return f"{what} of {read.focal_title}"
    outcome = read.study.variable(p.model.outcome or "").label
    if several:
        return f"differences in {outcome} between the groups of {read.focal_label}"
    return f"difference in {outcome} ({read.focus_name(0)})"


def _coefficient(study: Study, probed: Probed, tested: Tested) -> Pieces:
    """“b = −1.43, 95% CI [−1.95, −0.90], ” of the product that a test is of, where it is one column; its other
    partners stand where the test has them, not at their zero points."""
    names = {probed.probe.focal, probed.probe.moderator}
    steps = probed.model.steps[: probed.step + 1]
    if tested.of is TestOf.PRODUCT and tested.term is not None:
        return of_columns(study, probed.fit, probed.step, [tested.term], probed.level)
    terms = [t for block in steps for t in block.terms if t.is_product and set(t.variables) == names]
    step = probed.fit.steps[probed.step]
    columns = [j for term in terms for j in probed.fit.design.columns_of(term) if j < step.n_columns]
    changes = probed.panels[0].foci[0].changes
    if tested.of is not TestOf.EFFECT or len(columns) != 1 or len(changes) != 1 or not changes[0, columns[0] + 1]:
        return []
    found = step.inference.estimate(changes[0] / changes[0, columns[0] + 1], probed.level)
    return _b(study, found, probed.level) if found.exists and found.why is None else []


def _b(study: Study, found: ConditionalEffect, level: float) -> Pieces:
    decimals = estimate_decimals(found.se, found.effect, found.low, found.high, least=study.report.decimals)
    told: Pieces = [sym("b"), f" = {fixed(found.effect, decimals)}, "]
    if not math.isnan(found.low):
        told.append(f"{level_text(level)} CI {bracketed(found.low, found.high, decimals)}, ")
    return told


def of_columns(study: Study, fit: Fit, step: int, terms: list[Term], level: float) -> Pieces:
    """“b = −1.43, 95% CI [−1.95, −0.90], ” of terms that have one column between them; else nothing."""
    columns = [j for term in terms for j in fit.design.columns_of(term) if j < fit.steps[step].n_columns]
    return of_column(study, fit, step, columns[0], level) if len(columns) == 1 else []


def of_column(study: Study, fit: Fit, step: int, column: int, level: float) -> Pieces:
    """The same of one column; nothing where it has no estimate."""
    c = fit.steps[step].coefficient(column)
    if c.why is not None or math.isnan(c.b):
        return []
    return _b(study, ConditionalEffect(c.b, c.se, c.t, c.p, c.low, c.high, fit.steps[step].inference.df), level)


# ---- slopes


def _slopes(read: EffectReader, where: str = "") -> list[str]:
    """The simple effects, each with its interval; where: what is said before of the second moderator."""
    p, focus = read.probed, read.shown.foci[0]
    shown = [(at, e) for at, e in zip(p.places, focus.effects) if e.exists]
    least = read.study.report.decimals
    what = "effect" if p.probe.focal in read.study.report.assigned else "slope"
    it = f"the {what}" if isinstance(p.focal, NumberBasis) else "the difference"
    it += f" of {read.focal_title}" if where and isinstance(p.focal, NumberBasis) else ""
    it += f" ({read.focus_name(0)})" if where and not isinstance(p.focal, NumberBasis) else ""
    it = f"{where}{it}" if where else capital(it)
    if not shown or (p.by_itself and len(shown) > 1):
        return []
    if len(shown) > MOST_SLOPES:
        return [f"The table lists it at all {len(shown)} places."]
    most = most_decimals((effect for _, effect in shown), least)
    told = []
    for i, (at, effect) in enumerate(shown):
        value = _effect(effect, decimals_below(effect, most, least), level_text(p.level) if i == 0 else "")
        told.append(f"{value} {_at(read, at, is_first=i == 0)}".strip())
    return [f"{it}{_unit(p)} was {listed(told)}."]


def _effect(effect: ConditionalEffect, decimals: int, level: str) -> str:
    """“1.52 [0.83, 2.20]”, the first with its level; of one that the model fixes, that."""
    if effect.why is Why.FIXED:
        return "fixed at 0 by the model"
    text = fixed(effect.effect, decimals)
    if math.isnan(effect.low):
        return text
    ends = bracketed(effect.low, effect.high, decimals)
    return f"{text} ({level} CI {ends})" if level else f"{text} {ends}"


def _unit(probed: Probed) -> str:
    """In which units effects are, where they are not those of the model."""
    match probed.unit:
        case EffectUnit.TREATED:
            return ""
        case EffectUnit.RAW:
            return " in raw units"
        case EffectUnit.SD:
            return " in standard deviations"
        case _:
            assert_never(probed.unit)


LEVELS = {
    Point.SD_BELOW: ("low", "1 SD below the mean"),
    Point.MEAN: ("average", ""),
    Point.SD_ABOVE: ("high", "1 SD above the mean"),
}


def _at(read: EffectReader, at: Place, is_first: bool) -> str:
    """“when worry was low (2.41, 1 SD below the mean)”, “at worry 3.1 (median)”, “in “none””."""
    p = read.probed
    name = read.place_name(p.places.index(at))
    if not isinstance(at, NumberPlace) or not isinstance(p.moderator, NumberBasis):
        variable = read.study.variable(p.probe.moderator)
        if isinstance(at, LevelPlace) and is_only_code(variable.level(at.code)):
            return in_group(variable, at.code)
        return f"in “{name}”" if name else ""
    if at.point in (Point.OWN, Point.OBSERVED):
        return read.where(at)
    if at.point in LEVELS and read.along == read.moderator_label:
        said, how = LEVELS[at.point]
        value = place(at.value, p.moderator.sd)
        who = read.along if is_first else "it"
        return f"when {who} was {said} ({value}{f', {how}' if how else ''})"
    how = (LEVELS[at.point][1] or "the mean") if at.point in LEVELS else point_name(at.point)
    return f"{read.where(at)} ({how})"


# ---- regions


def _side(sign: int) -> str:
    return "significantly positive" if sign > 0 else "significantly negative"


def _regions(read: EffectReader) -> list[str]:
    """Where the effect was significant, with the cases there."""
    found = read.shown.foci[0].regions
    if found is None or not found.tells:
        return []
    told = [r for r in found.within if r.sign]
    if not told:
        return []
    of = f" of {read.probed.fit.y.size:,}" if isinstance(read.probed.focal, NumberBasis) else ""
    parts = []
    for i, region in enumerate(told[:MOST_REGIONS]):
        n = sum(near.cases for near in region.cases)
        cases = f"{n:,}{of} cases" if of and i == 0 else counted(n, "case")
        if _is_all(region):
            return [f"It was {_side(region.sign)} over the whole observed range of {read.along}."]
        where = f"for {read.along} {_bounds(read, region)}" if i == 0 else _bounds(read, region)
        parts.append(f"{_side(region.sign)} {where} ({cases})")
    return [f"It was {listed([*parts, *_further(told)])}."]


def _further(told: list[Region]) -> list[str]:
    """How many more regions the table lists."""
    more = len(told) - MOST_REGIONS
    return [f"significant in {counted(more, 'further range')}"] if more > 0 else []


def _is_all(region: Region) -> bool:
    return math.isinf(region.low) and math.isinf(region.high)


def _bounds(read: EffectReader, region: Region) -> str:
    """“below 4.26”, “from 2.1 to 3.4”."""
    text = read.bounds(region.low, region.high)
    return text if math.isinf(region.low) or math.isinf(region.high) else f"from {text}"


def _holds(read: EffectReader, focus: int) -> str:
    """Where one of several effects was significant, as the end of a sentence; empty where that cannot be told."""
    found = read.shown.foci[focus].regions
    if found is None:
        return ""
    told = [r for r in found.within if r.sign]
    if not told:
        return f"was not significant at any observed {read.along}"
    if _is_all(told[0]):
        return f"was {_side(told[0].sign)} over the whole observed range of {read.along}"
    parts = [
        f"{_side(r.sign)} {f'for {read.along} ' if i == 0 else ''}{_bounds(read, r)}"
        for i, r in enumerate(told[:MOST_REGIONS])
    ]
    return f"was {listed([*parts, *_further(told)])}"


def _in_comparisons(read: EffectReader) -> list[str]:
    """Where each comparison of several was significant."""
    told = []
    for k in range(min(len(read.shown.foci), MOST_SLOPES)):
        holds = _holds(read, k)
        told += [f"The difference {read.focus_quoted(k)} {holds}."] if holds else []
    if told and len(read.shown.foci) > MOST_SLOPES:
        told.append(f"The table lists all {len(read.shown.foci)} differences.")
    return told or ["All differences are listed in the table."]


def _in_panels(study: Study, probed: Probed) -> list[str | Rich]:
    """Where the effect was significant at each place of the second moderator; of groups, at which of them the two
    interacted."""
    told: list[str | Rich] = []
    for k in range(min(len(probed.panels), MOST_SLOPES)):
        read = EffectReader(study, probed, k)
        holds = _holds(read, 0)
        what = f"the {_effect_name(read)}" if not told else "it"
        told += [f"{capital(read.second_name())}, {what} {holds}."] if holds else []
    if told and len(probed.panels) > MOST_SLOPES:
        told.append(f"The table lists the effects in all {len(probed.panels)} panels.")
    return told or _simple_interactions(study, probed) or ["The table lists the effects in all panels."]


def _simple_interactions(study: Study, probed: Probed) -> list[str | Rich]:
    """At which places of the second moderator two predictors interacted, and the simple effects where they did."""
    readers = [EffectReader(study, probed, k) for k in range(len(probed.panels))]
    tests = [panel.test if len(panel.foci) > 1 else panel.foci[0].test for panel in probed.panels]
    if len(readers) > MOST_SLOPES or not all(test.exists for test in tests):
        return []
    held = [k for k, test in enumerate(tests) if test.p < 1 - probed.level]
    others = [k for k in range(len(tests)) if k not in held]
    first = (held or others)[0]
    names = [read.second_in_a_row(is_first=k == first) for k, read in enumerate(readers)]
    subject = capital(interaction_name(study, Term((probed.probe.focal, probed.probe.moderator))))
    pieces: Pieces = [f"{subject} was {'' if held else 'not '}significant "]
    pieces += in_a_row([[names[k], " (", *written_pieces(tests[k]), ")"] for k in held or others])
    if held and others:
        pieces += [", but not ", *in_a_row([[names[k], " (", *written_pieces(tests[k]), ")"] for k in others], "or")]
    said: list[str | Rich] = [rich(*pieces, ".")]
    if len(held) > MOST_REGIONS or len(probed.panels[0].foci) > 1:
        return said
    for k in held:
        for text in _slopes(readers[k], f"{capital(readers[k].second_in_a_row(is_first=False))}, "):
            said.append(text)
    return said


def in_a_row(rows: list[Pieces], word: str = "and") -> Pieces:
    """Several pieces as “a, b and c”."""
    found: Pieces = []
    for i, row in enumerate(rows):
        between = "" if i == 0 else f" {word} " if i == len(rows) - 1 else ", "
        found += [between, *row]
    return found


def _crossing(read: EffectReader) -> str:
    """Where the lines cross within the data."""
    shown, x = read.shown, read.probed.x
    if x is None or not shown.crossing:
        return ""
    found, ends = shown.crossing_set, ""
    if found is not None and found.kind is FiellerKind.BOUNDED:
        low, high = place(found.low, x.sd), place(found.high, x.sd)
        ends = f", {level_text(read.probed.level)} CI [{low}, {high}]"
    return f"The lines crossed {at_place(read.study, x, shown.crossing[0])}{ends}."


def _held(read: EffectReader, several: bool, says_rest: bool) -> str:
    """Where everything else stood; that other predictors were held constant is said once."""
    parts = read.held_parts(second=not several)
    if not parts or (not says_rest and len(parts) == 1 and parts[0].is_rest):
        return ""
    places = [one.said for one in parts if one.is_place]
    rules = [one.said for one in parts if not one.is_place and not one.is_rest]
    rest = any(one.is_rest for one in parts)
    if places or rules:
        told = [*places, *(f"with {rule}" for rule in rules)]
        said = f" Effects are given {listed(told)}"
        return f"{said}; all other predictors were held constant." if rest else f"{said}."
    return " All other predictors were held constant."


# ---- tests of products that no paragraph tells of


def verdict(test: FTest, level: float, are_several: bool = False) -> str:
    """Whether a product is significant; of one without a test, why."""
    was = "were" if are_several else "was"
    if not test.exists:
        return f"could not be tested: {reason(test.why) if test.why is not None else 'it does not exist'}"
    return f"{was} significant, " if test.p < 1 - level else f"{was} not significant, "
