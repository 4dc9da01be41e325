"""In words: what a probe says as a whole: the card beside its table, and the report."""

from __future__ import annotations

from collections.abc import Sequence
from math import isnan, nan

from yellow_slope.core.fit.design.bases import NumberBasis
from yellow_slope.core.probe.places import NumberPlace, few_values
from yellow_slope.core.probe.probed import Probed, TestOf
from yellow_slope.core.probe.seen import Sight
from yellow_slope.core.probe.share import own_share
from yellow_slope.core.stand.rivals import Squares
from yellow_slope.core.stand.standing import Row, Standing
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Term
from yellow_slope.core.words.names.terms import label
from yellow_slope.core.words.sentences.effects import EffectReader
from yellow_slope.core.words.sentences.effectunits import smallest_text
from yellow_slope.core.words.sentences.regions import band_note
from yellow_slope.core.words.sentences.sizes import mattering_note, size_name, together_name
from yellow_slope.core.words.spelling.numerals import bounded, listed, number_or_place, p_equals, percent, place

FEW = 5
"""A boundary with fewer cases near it rests on the model more than on cases."""


def card_notes(study: Study, sight: Sight, read: EffectReader) -> list[str]:
    """The tests by their names, what the product explains, where the lines meet, what lies outside the data."""
    probed, focus = sight.probed, sight.seen.focus
    tests = told_tests(study, probed, [(read.panel, focus)])
    said = [read.caveat(), far_points(study, sight, read), few_boundaries(sight), *tests]
    said += size_notes(study, sight, read)
    said += together_notes(study, sight, read)
    if sight.focus.regions is not None:
        said.append(band_note(sight.focus.regions, probed.level))
    said += [read.meeting(), read.not_drawn(), read.outside(focus)]
    return [text for text in said if text]


def told_tests(study: Study, probed: Probed, seen: Sequence[tuple[int, int]]) -> list[str]:
    """The tests of panels and focal effects, none twice, of several panels that of the highest product first; beside
    the test of a product what it explains beyond all else in the step: “practice × worry: F(1, 206) = 28.72, p < .001,
    ΔR² = .078”."""
    terms = [term for term, _ in probed.highest]
    share = own_share(probed.fit, probed.step, terms) if terms and not probed.by_itself else nan
    found: dict[str, bool] = {}
    of_all = TestOf.EFFECTS if len(probed.panels[0].foci) > 1 else TestOf.EFFECT
    is_told = isnan(share)
    for panel, focus in seen:
        read = EffectReader(study, probed, panel)
        for tested in probed.tests(panel, focus):
            text = read.test_text(tested, focus)
            if len(terms) == 1 and not isnan(share):
                of_it = tested.of is (TestOf.PRODUCT if len(probed.products) > 1 else of_all)
                text, is_told = (f"{text}, ΔR² = {bounded(share)}", True) if of_it else (text, is_told)
            found[text] = found.get(text, False) or (len(probed.panels) > 1 and tested.of is TestOf.PRODUCT)
    said = sorted(found, key=lambda text: not found[text])
    if not is_told:
        said.append(f"ΔR² of {listed([label(study, term) for term in terms])}: {bounded(share)}")
    return said


def curvature_text(study: Study, product: Term, now: Standing, row: Row) -> str:
    """“with the squares of practice and worry practice × worry has p = .012 (without them p < .001)”."""
    if not isinstance(row.rival, Squares):
        return ""
    names = listed([study.variable(term.variables[0]).label for term in row.rival.terms])
    many = "square" if len(row.rival.terms) == 1 else "squares"
    after = row.standing.why or p_equals(row.standing.p)
    before = "" if now.why else f" ({p_equals(now.p)} without)"
    lead = f"with the {many} of {names}"
    if row.standing.why:
        return f"{lead}: {row.standing.why}"
    return f"{lead}, {label(study, product)} has {after}{before}"


def few_boundaries(sight: Sight) -> str:
    """Boundaries with hardly a case near; empty where every one has some."""
    moderator, regions = sight.probed.moderator, sight.focus.regions
    if regions is None or not isinstance(moderator, NumberBasis):
        return ""
    few = [(b, sum(near.cases for near in sight.focus.support.near(b))) for b in regions.boundaries]
    said = [f"{place(b, moderator.sd)} ({n or 'none'} near)" for b, n in few if n < FEW]
    return f"few cases at the boundary {listed(said)}" if said else ""


def far_points(study: Study, sight: Sight, read: EffectReader) -> str:
    """Which pick points lie outside the data or have no case near, and what would; empty where none does."""
    probed = sight.probed
    moderator = probed.moderator
    if not isinstance(moderator, NumberBasis):
        return ""
    beyond, lonely = [], []
    for i, where in enumerate(probed.places):
        if not isinstance(where, NumberPlace):
            continue
        said = place(where.value, moderator.sd)
        if not moderator.low <= where.value <= moderator.high:
            beyond.append(said)
        elif not any(near.cases for near in sight.focus.near[i]):
            lonely.append(said)
    if not beyond and not lonely:
        return ""
    parts = [f"{listed(beyond)} outside the data"] if beyond else []
    parts += [f"no case near {listed(lonely)}"] if lonely else []
    rule = "observed values" if few_values(probed.observed) else "percentiles"
    return f"pick points: {'; '.join(parts)} ({rule} have cases)"


def size_notes(study: Study, sight: Sight, read: EffectReader) -> list[str]:
    """Where the effect matters, is too small, or leaves it open, and by which tests."""
    probed, found, smallest = sight.probed, sight.focus.mattering, sight.probed.probe.smallest
    if smallest is None:
        return []
    text = smallest_text(study, probed.fit, probed.model, probed.probe.focal, smallest)
    if found is None:
        return [] if not isinstance(probed.moderator, NumberBasis) else [f"There are no tests against {text} here."]
    parts = [f"{read.bounds(s.low, s.high)} {size_name(s.size)}" for s in found.within]
    return [f"against {text}: {'; '.join(parts)}", mattering_note(found, probed.level, probed.probe.rule, text)]


def together_notes(study: Study, sight: Sight, read: EffectReader) -> list[str]:
    """Where several comparisons pass together."""
    said: list[str] = []
    for found in sight.panel.together:
        passing = [read.bounds(r.low, r.high) for r in found.within if r.sign]
        name = together_name(found.of, read.focal_label)
        n = sum(r.n for r in found.within if r.sign)
        share = n / (sum(r.n for r in found.within) or 1)
        where = f"{listed(passing)} ({percent(share)} of the cases)" if passing else "nowhere"
        said.append(f"{name}: {where}")
    return said


def values_text(sight: Sight, low: float, high: float) -> str:
    """“at 1, 2 and 3”: the observed values in a stretch, of a moderator that has but few; else empty."""
    values = few_values(sight.probed.observed)
    if not values:
        return ""
    inside = [value for value in values if low <= value < high or (value == high)]
    return f"at {listed([number_or_place(v) for v in inside])}" if inside else "at no observed value"
