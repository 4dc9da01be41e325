"""The findings in the form that a results section has: sample, how variables enter, what blocks add, the interaction
with its simple slopes and regions, and whether it stands."""

from __future__ import annotations

import math
import re
from collections.abc import Sequence
from enum import Enum, auto
from itertools import groupby
from typing import assert_never

from yellow_slope.core.data.variable import Variable
from yellow_slope.core.fit.design.bases import GroupBasis, NumberBasis
from yellow_slope.core.fit.fitted.evaluate import Evaluation
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.fit.fitted.inference import ConditionalEffect, FTest
from yellow_slope.core.fit.fitted.steps import StepResult
from yellow_slope.core.fit.solve.why import Why
from yellow_slope.core.probe.asking import ProductTests
from yellow_slope.core.probe.places import LevelPlace, NumberPlace, Place, Point
from yellow_slope.core.probe.probed import Probed, Tested, TestOf
from yellow_slope.core.probe.regions import Region
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
from yellow_slope.core.study.probe import EffectUnit
from yellow_slope.core.study.standarderrors import Classical
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Term
from yellow_slope.core.words.names.groups import in_group, is_only_code
from yellow_slope.core.words.names.numbers import entered_as
from yellow_slope.core.words.names.places import point_name
from yellow_slope.core.words.names.study import model_name
from yellow_slope.core.words.names.terms import label, some_labels
from yellow_slope.core.words.sentences.effects import (
    EffectReader,
    decimals_below,
    effect_decimals,
    most_decimals,
    near_figures,
)
from yellow_slope.core.words.sentences.errors import errors_note
from yellow_slope.core.words.sentences.samples import sample_sentence
from yellow_slope.core.words.spelling.letters import capital
from yellow_slope.core.words.spelling.numerals import (
    bounded,
    counted,
    estimate_decimals,
    fixed,
    interval,
    level_text,
    listed,
    listed_some,
    p_relation,
)
from yellow_slope.core.words.spelling.reasons import reason
from yellow_slope.core.words.spelling.rich import Rich, Run, rich, sym, trimmed
from yellow_slope.core.words.spelling.testtexts import written_pieces
from yellow_slope.values import dataclass, replace

MOST_NAMED = 8
MOST_SLOPES = 6
"""Of more places or groups the table tells."""
MOST_REGIONS = 3
SILENT_STEPS = 3
"""So many steps that add nothing, one after the other, are told together."""
BRIEF = 18
"""Letters of a name that stands often."""
LINKING = " a about after an and at before by during for from in of on or per that the to was were with "
"""Words that no short name ends with, each between spaces."""

Pieces = list[str | Run | Rich]


class FindingOf(Enum):
    """What a paragraph of the findings is about."""

    SAMPLE = auto()
    BLOCKS = auto()
    PROBE = auto()


@dataclass(frozen=True, slots=True)
class Finding:
    """A paragraph; of a probe with it."""

    of: FindingOf
    text: Rich
    probed: Probed | None = None


def findings(evaluation: Evaluation, fit: Fit, probes: list[Probed]) -> list[Finding]:
    """Paragraphs: sample and variables, blocks, then one for each probe, and the tests of all other products."""
    study = evaluation.study
    found = [
        Finding(FindingOf.SAMPLE, rich(sample_sentence(evaluation), " ", _entered(study, fit))),
        Finding(FindingOf.BLOCKS, _blocks(study, fit)),
        *(Finding(FindingOf.PROBE, _interaction(study, probed), probed) for probed in probes),
        Finding(FindingOf.BLOCKS, _others(study, fit, probes)),
    ]
    found = [replace(one, text=trimmed(one.text)) for one in found if str(one.text).strip()]
    texts = _long_names_once(study, [one.text for one in found])
    return [replace(one, text=text) for one, text in zip(found, texts)]


def _long_names_once(study: Study, paragraphs: list[Rich]) -> list[Rich]:
    """A long label in full where it stands first, the short name after it."""
    names = _LongNames(study)
    return [Rich(tuple(replace(run, text=names.shortened(run.text)) for run in one.runs)) for one in paragraphs]


def with_short_names(study: Study, text: str) -> str:
    """A text that follows the findings: every long name by its short one."""
    return _LongNames(study, are_known=True).shortened(text)


class _LongNames:
    """The long labels of a study, those that were told already among them. Of labels that stand in each other the
    longest is meant."""

    def __init__(self, study: Study, are_known: bool = False) -> None:
        long = sorted((v for v in study.variables if v.label != v.short), key=lambda v: len(v.label))
        self._brief = {v.label.casefold(): _brief(study, v) for v in long}
        self._labels = {v.label.casefold(): v.label for v in long}
        self._known = set(self._brief) if are_known else set[str]()
        every = "|".join(re.escape(v.label) for v in reversed(long))
        self._pattern = re.compile(rf"(?<!\w)(?:{every})(?!\w)", re.IGNORECASE) if long else None

    def shortened(self, text: str) -> str:
        """The text with each label by its short name, but for the first where it is not known yet."""
        return self._pattern.sub(self._one, text) if self._pattern is not None else text

    def _one(self, match: re.Match[str]) -> str:
        key = match.group().casefold()
        if key not in self._known:
            self._known.add(key)
            return match.group()
        short = self._brief.get(key, match.group())
        begins = match.group()[:1].isupper() and not self._labels.get(key, "A")[:1].isupper()
        return capital(short) if begins else short


def _brief(study: Study, variable: Variable) -> str:
    """A variable's own short name; without one the first words of its label, where these are of no other."""
    if variable.short_label:
        return variable.short
    words = variable.label.split()
    while words and (len(_joined(words)) > BRIEF or f" {words[-1].lower()} " in LINKING or _is_open(words)):
        words.pop()
    found = _joined(words)
    others = [v.label for v in study.variables if v.name != variable.name]
    return found if found and not any(other.lower().startswith(found.lower()) for other in others) else variable.short


def _joined(words: list[str]) -> str:
    """The words without what separates them from what followed."""
    return " ".join(words).rstrip(",;:–—- ")


def _is_open(words: list[str]) -> bool:
    """Whether a bracket is opened and not closed, or nothing but a sign would stand at the end."""
    text = " ".join(words)
    return any(text.count(a) != text.count(b) for a, b in ("()", "[]", "“”")) or not any(c.isalnum() for c in words[-1])


# ---- sample and variables


def _entered(study: Study, fit: Fit) -> str:
    """How variables enter: numbers by treatment, groups by coding; those that enter as they are are not named."""
    ways: dict[str, list[str]] = {}
    groups: list[str] = []
    means = fit.means_columns() if not fit.design.constant else frozenset()
    own = dict.fromkeys(a.variable for j in sorted(means) for a in fit.design.columns[j].atoms)
    for name, basis in fit.design.bases.items():
        variable = study.variable(name)
        if name in own and not isinstance(_coding_of(basis), LevelMeans):
            continue
        if isinstance(basis, GroupBasis):
            if basis.reference is not None:
                level = variable.level(basis.levels[basis.reference]).label
                groups.append(f"{variable.label} was compared with “{level}”")
            else:
                groups.append(f"{variable.label} was {_coded(basis.coding)}")
            continue
        said = entered_as(study, basis.treatment)
        if said:
            ways.setdefault(said, []).append(variable.label)
    numbers = [
        f"{listed_some(names, MOST_NAMED)} {'was' if len(names) == 1 else 'were'} {way}" for way, names in ways.items()
    ]
    alone = [study.variable(n).label for n in own if not isinstance(_coding_of(fit.design.bases[n]), LevelMeans)]
    if alone:
        groups.append(f"{listed_some(alone, MOST_NAMED)} entered as level means, without an intercept")
    said_of = [*numbers, *groups]
    return f"{capital('; '.join(said_of))}." if said_of else ""


def _coding_of(basis: GroupBasis | NumberBasis) -> Coding | None:
    return basis.coding if isinstance(basis, GroupBasis) else None


def _coded(coding: Coding) -> str:
    """How a group was coded, as a participle."""
    match coding:
        case Dummy():
            return "dummy-coded"
        case Effect():
            return "effect-coded"
        case WeightedEffect():
            return "coded by weighted effects"
        case Adjacent():
            return "coded by differences of adjacent levels"
        case AgainstMean(later):
            return f"coded against the mean of {'later' if later else 'earlier'} levels"
        case Trends():
            return "coded by orthogonal polynomials"
        case Planned():
            return "coded by planned questions"
        case LevelMeans():
            return "entered by level means, without an intercept"
        case _:
            assert_never(coding)


# ---- blocks


def _blocks(study: Study, fit: Fit) -> Rich:
    """What each block adds; a reason why nothing is tested is said once, by the note of the standard errors."""
    untested = _has_other_errors(study) and fit.last.inference.why is not None
    outcome = study.variable(study.model.outcome or "").label
    pieces: Pieces = []
    for run in _runs(fit.steps[: study.model.reported_step + 1], 1 - study.model.level):
        if len(run) > 1:
            pieces += _nothing_added(run)
            continue
        step, block = run[0], study.model.steps[run[0].index]
        names = some_labels(study, block.terms, MOST_NAMED)
        first = step.index == 0
        if first:
            about = "" if step.about_mean else " about zero"
            pieces += [f"{capital(outcome)} was regressed on {names} (", sym("R"), f"²{about} = {_share(step.r2)}"]
        else:
            pieces += [f"; step {step.index + 1} added {names} (Δ", sym("R"), f"² = {_share(step.change.r2)}"]
        test = step.change.test
        pieces += [")"] if untested and not test.exists else [", ", *written_pieces(test), ")"]
    last = fit.steps[study.model.reported_step]
    if len(pieces) and last.index:
        pieces += ["; in all, ", sym("R"), f"² = {_share(last.r2)}"]
        if not math.isnan(last.adjusted_r2):
            pieces += [", adjusted ", sym("R"), f"² = {_share(last.adjusted_r2)}"]
    note = errors_note(study, study.model, fit) if _has_other_errors(study) else ""
    return rich(*pieces, ". ", note) if pieces else rich("")


def _runs(steps: Sequence[StepResult], alpha: float) -> list[list[StepResult]]:
    """The steps, each by itself; many that add nothing significant one after the other together."""
    found: list[list[StepResult]] = []
    for is_silent, run in groupby(steps, key=lambda step: step.index > 0 and step.change.test.p >= alpha):
        together = list(run)
        found += [together] if is_silent and len(together) >= SILENT_STEPS else [[step] for step in together]
    return found


def _nothing_added(run: list[StepResult]) -> Pieces:
    """“; steps 2 to 9 added nothing significant (together ΔR² = .05, smallest p = .086)”."""
    share, p = sum(step.change.r2 for step in run), min(step.change.test.p for step in run)
    said = f"; steps {run[0].index + 1} to {run[-1].index + 1} added nothing significant (together Δ"
    return [said, sym("R"), f"² = {_share(share)}, smallest ", sym("p"), f" {p_relation(p)})"]


def _share(value: float) -> str:
    """A share with two decimals, three where two would say nothing."""
    return bounded(value, 3) if 0 < abs(value) < 0.005 else bounded(value, 2)


def _has_other_errors(study: Study) -> bool:
    return not isinstance(study.model.errors, Classical)


# ---- the interaction


def _leading(probed: Probed) -> Tested | None:
    """The test that a paragraph begins with: of several panels that of the highest product, of several comparisons
    that of all together, else that of the effect; None where there is none."""
    several = len(probed.panels[0].foci) > 1
    of = {TestOf.PRODUCT} if len(probed.panels) > 1 else {TestOf.EFFECTS, TestOf.PRODUCT} if several else set()
    tested = probed.tests(0, 0)
    return next((one for one in tested if one.of in of), tested[0] if tested else None)


def _told_by(probed: Probed) -> frozenset[str]:
    """Of which variables' product the leading test is."""
    first = _leading(probed)
    if first is not None and first.of is TestOf.PRODUCT and first.term is not None:
        return frozenset(first.term.variables)
    return frozenset((probed.probe.focal, probed.probe.moderator))


def _where(study: Study, probed: Probed) -> str:
    """In which model and step a probe stands, where these are not the ones that the paragraph before reports."""
    model = f"in the model “{model_name(study, probed.model)}”" if probed.model.id != study.current else ""
    step = f"in step {probed.step + 1}" if model or probed.step != probed.model.reported_step else ""
    return ", ".join(text for text in (model, step) if text)


def _interaction(study: Study, probed: Probed) -> Rich:
    """The product's test with its coefficient, then slopes and regions; of one that is not told apart from 0 what its
    interval leaves open, and no slopes as news."""
    read = EffectReader(study, probed, 0)
    first, where = _leading(probed), _where(study, probed)
    if first is None:
        return rich("")
    several, several_foci = len(probed.panels) > 1, len(probed.panels[0].foci) > 1
    name, test = read.test_name(first, 0), first.test
    if probed.by_itself and isinstance(probed.focal, NumberBasis) and not read.is_bent:
        name = f"the {name}"
    lead: Pieces = [capital(f"{where}, {name} " if where else f"{name} "), _verdict(test, probed.level)]
    if not test.exists:
        return rich(*lead, ".")
    significant = test.p < 1 - probed.level
    lead += [*_coefficient(study, probed, first), *written_pieces(test)]
    lead.append(_depends(study, probed, first) if significant else ".")
    caveat = f" {read.caveat()}" if read.caveat() else ""
    if not significant:
        return rich(*lead, caveat)
    if several:
        middle = _in_panels(study, probed)
    elif several_foci:
        middle = _in_comparisons(read)
    else:
        middle = " ".join(text for text in (_slopes(read), _regions(read)) if text)
    meeting = read.meeting() if not several and not several_foci else ""
    inside = f" {capital(meeting)}." if meeting and read.meets_inside else ""
    return rich(*lead, f" {middle}" if middle else "", inside, _held(read, several), caveat)


def _verdict(test: FTest, level: float, are_several: bool = False) -> str:
    """Whether a product is told apart from 0; of one without a test, why."""
    if not test.exists:
        return f"could not be tested: {reason(test.why) if test.why is not None else 'it does not exist'}"
    verb = "were" if are_several else "was"
    return f"{verb} significant, " if test.p < 1 - level else f"{verb} not significant, "


def _others(study: Study, fit: Fit, probes: list[Probed]) -> Rich:
    """The tests of the products of the reported step that no paragraph before tells of and that are part of no higher
    one; terms of the same variables, a product and its squares, are tested together and named together."""
    step = study.model.reported_step
    products = [t for block in study.model.steps[: step + 1] for t in block.terms if t.is_product]
    highest = [t for t in products if not any(set(t.variables) < set(o.variables) for o in products)]
    each = {frozenset(t.variables): t for t in highest}
    asked = [p for p in probes if p.model.id == study.current]
    known = {_told_by(p) for p in asked if p.step == step}
    left = [term for names, term in each.items() if names not in known]
    tests = ProductTests(study, fit)
    tested = [(term, test) for term in left if (test := tests.test(term)) is not None]
    if not tested:
        return rich("")
    pieces: Pieces = []
    for term, test in tested[:MOST_NAMED]:
        same = [t for t in products if set(t.variables) == set(term.variables)]
        column = [*_of_columns(study, fit, step, same, study.model.level), *written_pieces(test)] if test.exists else []
        comma = "," if asked and len(tested) == 1 else ""
        lead = "" if pieces else _lead(len(tested)) if asked else ""
        name = listed([label(study, t) for t in same])
        name = name if pieces or asked else capital(name)
        together = " together" if len(same) > 1 else ""
        verdict = _verdict(test, study.model.level, len(same) > 1)
        pieces += ["; " if pieces else lead, f"{name}{together}{comma} {verdict}", *column]
    more = len(tested) - MOST_NAMED
    return rich(*pieces, f"; {counted(more, 'further product')} in the table" if more > 0 else "", ".")


def _lead(products: int) -> str:
    return "The other product, " if products == 1 else "Of the other products, "


def _depends(study: Study, probed: Probed, first: Tested) -> str:
    """What a significant product says, with no causal verb but of what cases were assigned to: on whom the effect
    depends by the test that was made."""
    if probed.by_itself:
        return "."
    focal, outcome = study.variable(probed.probe.focal).label, study.variable(probed.model.outcome or "").label
    verb = "affects" if probed.probe.focal in study.report.assigned else "is associated with"
    names = _told_by(probed) - {probed.probe.focal}
    order = [probed.probe.moderator, *([] if probed.second is None else [probed.second.variable])]
    on = [study.variable(name).label for name in [*order, *sorted(names - set(order))] if name in names]
    return f": how {focal} {verb} {outcome} depends on {listed(on)}."


def _held(read: EffectReader, several: bool) -> str:
    """Where everything else stands."""
    told = [one.said if one.is_place else f"with {one.said}" for one in read.held_parts(second=not several)]
    return f" Effects are given {', '.join(told)}." if told else ""


def _in_comparisons(read: EffectReader) -> str:
    """Where each comparison of several is told apart from 0."""
    told = []
    for k, focus in enumerate(read.shown.foci[:MOST_SLOPES]):
        passing = [_bounds(read, r) for r in focus.regions.within if r.sign] if focus.regions else []
        if focus.regions is not None:
            told.append(f"{read.focus_name(k)} {listed(passing) if passing else 'nowhere'}")
    if not told:
        return "The table gives every difference."
    return f"Differences were told apart from 0, along {read.along}: {'; '.join(told)}."


def _coefficient(study: Study, probed: Probed, tested: Tested) -> Pieces:
    """“b = −1.43, 95% CI −1.95 to −0.90, ” of the product that a test is of, where it is one column; its other
    partners stand where the test has them, not at their zero points."""
    names = {probed.probe.focal, probed.probe.moderator}
    steps = probed.model.steps[: probed.step + 1]
    if tested.of is TestOf.PRODUCT and tested.term is not None:
        return _of_columns(study, probed.fit, probed.step, [tested.term], probed.level)
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
        told.append(f"{level_text(level)} CI {interval(found.low, found.high, decimals)}, ")
    return told


def _of_columns(study: Study, fit: Fit, step: int, terms: list[Term], level: float) -> Pieces:
    """“b = −1.43, 95% CI −1.95 to −0.90, ” of terms that have one column between them; else nothing."""
    columns = [j for term in terms for j in fit.design.columns_of(term) if j < fit.steps[step].n_columns]
    if len(columns) != 1:
        return []
    c = fit.steps[step].coefficient(columns[0])
    if c.why is not None or math.isnan(c.b):
        return []
    found = ConditionalEffect(c.b, c.se, c.t, c.p, c.low, c.high, fit.steps[step].inference.df)
    return _b(study, found, level)


def _effect(effect: ConditionalEffect, decimals: int) -> str:
    """“1.52 (0.83 to 2.20)”; of one that has no interval for the model leaves it no choice, that."""
    if effect.why is Why.FIXED:
        return "fixed at 0 by the model"
    text = fixed(effect.effect, decimals)
    return text if math.isnan(effect.low) else f"{text} ({interval(effect.low, effect.high, decimals)})"


def _slopes(read: EffectReader) -> str:
    """The simple effects, each with its interval."""
    p, focus = read.probed, read.shown.foci[0]
    shown = [(at, e) for at, e in zip(p.places, focus.effects) if e.exists]
    level, least = level_text(p.level), read.study.report.decimals
    if len(shown) == 1 and p.by_itself:
        one = _effect(shown[0][1], effect_decimals(shown[0][1], least))
        return f"The {_effect_name(read)} was {one} ({level} CI in parentheses{_unit(p)})."
    if not shown or p.by_itself:
        return ""
    if len(shown) > MOST_SLOPES:
        return f"The table gives the effects of all {len(shown)}."
    told = []
    most = most_decimals((effect for _, effect in shown), least)
    for at, effect in shown:
        told.append(f"{_effect(effect, decimals_below(effect, most, least))} {_at(read, at)}")
    return f"The {_effect_name(read)} was {listed(told)} ({level} CI in parentheses{_unit(p)})."


def _unit(probed: Probed) -> str:
    """In which units effects are, where they are not those of the model."""
    match probed.unit:
        case EffectUnit.TREATED:
            return ""
        case EffectUnit.RAW:
            return "; effects in raw units"
        case EffectUnit.SD:
            return "; effects in standard deviations"
        case _:
            assert_never(probed.unit)


def _effect_name(read: EffectReader) -> str:
    """“slope of practice”, “difference returner minus first season”."""
    if isinstance(read.probed.focal, NumberBasis):
        return f"slope of {read.focal_title}"
    name = read.focus_name(0)
    return f"difference {name}" if " minus " in name else f"difference “{name}”"


def _at(read: EffectReader, at: Place) -> str:
    """“at worry 2.41 (1 SD below the mean)”, “in “none””."""
    name = read.place_name(read.probed.places.index(at))
    if not isinstance(at, NumberPlace) or not isinstance(read.probed.moderator, NumberBasis):
        variable = read.study.variable(read.probed.probe.moderator)
        if isinstance(at, LevelPlace) and is_only_code(variable.level(at.code)):
            return in_group(variable, at.code)
        return f"in “{name}”"
    where = read.where(at)
    if at.point in (Point.OWN, Point.OBSERVED):
        return where
    said = {Point.SD_BELOW: "1 SD below the mean", Point.SD_ABOVE: "1 SD above the mean", Point.MEAN: "the mean"}
    return f"{where} ({said.get(at.point) or point_name(at.point)})"


def _regions(read: EffectReader) -> str:
    """Where the effect is significant, with the cases there."""
    found = read.shown.foci[0].regions
    if found is None or not found.tells:
        return ""
    told = [r for r in found.within if r.sign]
    parts = []
    for region in told[:MOST_REGIONS]:
        n = sum(near.cases for near in region.cases)
        cases = counted(n, "case") if len(region.cases) == 1 else f"{near_figures(region.cases)} cases"
        side = read.region(0, region.sign)
        if math.isinf(region.low) and math.isinf(region.high):
            return f"It was told apart from 0 over the whole observed range of {read.along} ({side}, {cases})."
        parts.append(f"{read.bounds(region.low, region.high)} ({side}, {cases})")
    return f"It was told apart from 0 where {read.along} is {listed(parts)}."


def _bounds(read: EffectReader, region: Region) -> str:
    text = read.bounds(region.low, region.high)
    return f"over {text}" if math.isinf(region.low) and math.isinf(region.high) else text


def _in_panels(study: Study, probed: Probed) -> str:
    """Where the effect is significant at each place of the second moderator."""
    told = []
    for k in range(min(len(probed.panels), MOST_SLOPES)):
        read = EffectReader(study, probed, k)
        found = read.shown.foci[0].regions
        where = read.second_name()
        if found is not None:
            passing = [_bounds(read, r) for r in found.within if r.sign]
            told.append(f"{where} {listed(passing) if passing else 'nowhere'}")
    if not told:
        return "The table gives the effects in each panel."
    return f"The {_effect_name(EffectReader(study, probed, 0))} was told apart from 0 {'; '.join(told)}."
