"""In words: conditional effects, differences, regions, crossings, tests and captions of one panel of a probe."""

from __future__ import annotations

from collections.abc import Iterable
from typing import assert_never

from yellow_slope.core.data.variable import by_name, shortened
from yellow_slope.core.fit.design.bases import GroupBasis, NumberBasis
from yellow_slope.core.fit.fitted.inference import ConditionalEffect
from yellow_slope.core.fit.solve.why import Why
from yellow_slope.core.probe.curve import Crossover, FiellerKind
from yellow_slope.core.probe.places import Everywhere, LevelPlace, NumberPlace, Place, Point
from yellow_slope.core.probe.probed import AcrossPanels, Difference, Panel, Probed, Tested, TestOf
from yellow_slope.core.probe.probing import MOST_LINES
from yellow_slope.core.probe.support import Near
from yellow_slope.core.study.probe import EffectUnit
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Term, variables_of
from yellow_slope.core.words.names.groups import (
    comparison_sides,
    in_group,
    is_only_code,
    level_label,
    level_name,
    minus_name,
    plain_level,
    plain_side,
    quoted,
    side_name,
    sides,
)
from yellow_slope.core.words.names.numbers import at_place, at_typical, scale_name, transformed_name
from yellow_slope.core.words.names.places import place_name, point_name
from yellow_slope.core.words.names.quoted import spoken
from yellow_slope.core.words.names.terms import factor_name, label
from yellow_slope.core.words.sentences.coefficients import Reader
from yellow_slope.core.words.sentences.effectunits import amount, per_text, smallest_text, step_text
from yellow_slope.core.words.sentences.regions import bounds_text
from yellow_slope.core.words.spelling.letters import capital
from yellow_slope.core.words.spelling.numerals import (
    MINUS,
    counted,
    estimate_decimals,
    fixed,
    level_text,
    listed,
    listed_some,
    place,
)
from yellow_slope.core.words.spelling.reasons import reason
from yellow_slope.core.words.spelling.testtexts import written_or_why
from yellow_slope.values import dataclass, replace

MOST_NAMED = 6
"""How many lines or means that are not drawn are named one by one."""


@dataclass(frozen=True, slots=True)
class Held:
    """How another variable is held: at a place (“at average age”, “in “boat””), or by a rule for which it has none."""

    said: str
    is_place: bool = True
    is_rest: bool = False
    """Whether it is all the others, which are in no product with what is looked at."""


@dataclass(frozen=True, slots=True)
class EffectReader:
    """Puts the numbers of one panel of a probe into words."""

    study: Study
    probed: Probed
    panel: int
    """Position of the panel; without a second moderator there is one."""
    second: float | None = None
    """Where the handle of a map stands on a number second moderator, in place of the panel's place."""

    @property
    def spoken(self) -> EffectReader:
        """The same for sentences: labels that would be read as part of them are quoted."""
        return replace(self, study=spoken(self.study))

    @property
    def shown(self) -> Panel:
        """The panel."""
        return self.probed.panels[self.panel]

    @property
    def read(self) -> Reader:
        """The reader of the fit."""
        return Reader(self.study, self.probed.fit, self.probed.model)

    @property
    def focal_label(self) -> str:
        """The focal predictor's label."""
        return self.study.variable(self.probed.probe.focal).label

    @property
    def focal_title(self) -> str:
        """The focal predictor as it enters: “log of practice”, a group's label."""
        focal, variable = self.probed.focal, self.study.variable(self.probed.probe.focal)
        return transformed_name(variable, focal.treatment) if isinstance(focal, NumberBasis) else variable.label

    @property
    def moderator_label(self) -> str:
        """The moderator's label."""
        return self.study.variable(self.probed.probe.moderator).label

    @property
    def along(self) -> str:
        """Along what the effects are told: a group, or the scale on which places of the moderator are given."""
        basis = self.probed.moderator
        return scale_name(self.study, basis) if isinstance(basis, NumberBasis) else self.moderator_label

    # ---- names

    def place_name(self, index: int | None, short: bool = False) -> str:
        """The name of a pick point, or the label of a level; None: of the mean of all others."""
        if index is None:
            return "mean of the others"
        return place_name(self.study.variable(self.probed.probe.moderator), self.probed.places[index], short)

    def focus_name(self, focus: int, limit: int | None = None) -> str:
        """“returner minus first season”; empty for a slope."""
        focal = self.probed.focal
        return "" if isinstance(focal, NumberBasis) else minus_name(self.study, focal, focus, limit)

    def focus_quoted(self, focus: int) -> str:
        """The same in the middle of a sentence: a comparison with a name of its own stands in quotes."""
        focal, name = self.probed.focal, self.focus_name(focus)
        has_own = isinstance(focal, GroupBasis) and bool(focal.contrasts[focus].name)
        return f"“{name}”" if has_own else name

    def what(self, focus: int) -> str:
        """“slope of practice”, “returner minus first season”."""
        return f"slope of {self.focal_title}" if isinstance(self.probed.focal, NumberBasis) else self.focus_name(focus)

    def line_name(self, index: int, short: bool = True) -> str:
        """What a line of the interaction plot stands for."""
        line, p = self.shown.lines[index], self.probed
        if line.level is not None and isinstance(p.focal, GroupBasis):
            return plain_level(self.study.variable(p.focal.variable), p.focal.levels[line.level], short)
        assert line.place is not None
        where = p.places[line.place]
        if p.by_itself:
            return ""
        match where:
            case Everywhere():
                return ""
            case LevelPlace(_, code):
                return plain_level(self.study.variable(p.probe.moderator), code, short)
            case NumberPlace(value, point):
                assert isinstance(p.moderator, NumberBasis)
                if point in (Point.OWN, Point.OBSERVED):
                    return f"{self.study.variable(p.probe.moderator).short} {place_text(value, p.moderator.sd)}"
                return f"{point_name(point, short=True)} {place(value, p.moderator.sd * 8)}"
            case _:
                assert_never(where)

    def second_name(self) -> str:
        """Where the second moderator stands in the panel, as in “at worry 2.4”; empty without one."""
        p, where = self.probed, self.shown.second
        if where is None or p.second is None:
            return ""
        variable = self.study.variable(p.second.variable)
        if self.second is not None and isinstance(p.second, NumberBasis):
            return at_place(self.study, p.second, self.second)
        if isinstance(where, LevelPlace):
            return in_group(variable, where.code)
        assert isinstance(p.second, NumberBasis)
        return at_place(self.study, p.second, where.value)

    def second_in_a_row(self, is_first: bool) -> str:
        """The same where several stand one after the other: the variable is named with the first only."""
        p, where = self.probed, self.shown.second
        if p.second is None or not isinstance(where, LevelPlace):
            return self.second_name()
        variable = self.study.variable(p.second.variable)
        if is_first or is_only_code(variable.level(where.code)):
            return self.second_name()
        return f"in {level_name(variable, where.code)}"

    # ---- effects

    def where(self, at: Place) -> str:
        """Where a place is: “at worry 5.2”, “in “one-to-one””; empty where the effect is the same everywhere."""
        match at:
            case Everywhere():
                return ""
            case NumberPlace(value, _):
                assert isinstance(self.probed.moderator, NumberBasis)
                return at_place(self.study, self.probed.moderator, value)
            case LevelPlace(_, code):
                return f"in {level_name(self.study.variable(self.probed.probe.moderator), code)}"
            case _:
                assert_never(at)

    def at_value(self, value: float) -> str:
        """“at worry 5.2”."""
        return self.where(NumberPlace(value, Point.OWN))

    def effect(self, focus: int, effect: ConditionalEffect, at: Place, held: bool = True) -> str:
        """The sentence of a conditional effect at a place.

        Without `held` it does not say where the other variables stand.
        """
        where = self.where(at)
        if effect.why is Why.NOT_ESTIMABLE:
            return self._unknown(focus, at)
        d = effect_decimals(effect)
        read = self.read
        if effect.why is Why.FIXED:
            what = self._subject(focus)
            return capital(f"{where + ' ' if where else ''}{what} is fixed by the model at 0, not estimated.")
        if isinstance(self.probed.focal, NumberBasis):
            way = "higher" if effect.effect >= 0 else "lower"
            outcome = self.study.variable(self.probed.model.outcome or "").label
            claim = f"per {step_text(self.study, self.probed)}, {outcome} is {self.amount(effect.effect, d)} {way}"
        else:
            claim = self._difference_claim(focus, effect.effect, d)
        lead = f"{where}, {claim}" if where else claim
        parts = [lead + read.bounds(effect.low, effect.high, d), *(self.held() if held else ())]
        why = f" {capital(reason(effect.why))}." if effect.why is not None else ""
        said = capital(", ".join(parts)) + "." + (why or read.verdict(effect.p, effect.low, effect.high, d))
        return f"{said} {self.caveat() if held else ''}".strip()

    def _difference_claim(self, focus: int, b: float, decimals: int) -> str:
        assert isinstance(self.probed.focal, GroupBasis)
        read, basis = self.read, self.probed.focal
        both = comparison_sides(basis, focus)
        if both is not None and basis.zero_weights is None:
            both = sides(basis.contrasts[focus].weights)
        in_sd = self.probed.unit is EffectUnit.SD
        if (both is None or basis.zero_weights is not None) and not in_sd:
            return read.comparison_claim(self.probed.probe.focal, focus, b, decimals)
        outcome = self.study.variable(self.probed.model.outcome or "").label
        if both is None:
            sign = MINUS if b < 0 else ""
            return f"{self.focus_name(focus)} in {outcome} is {sign}{self.amount(b, decimals)}"
        one, other = (side_name(self.study, basis, side) for side in both)
        return f"{outcome} is {self.amount(b, decimals)} {'higher' if b >= 0 else 'lower'} in {one} than in {other}"

    def amount(self, value: float, decimals: int) -> str:
        """The size of an effect in the unit that was asked, without what it is per."""
        return amount(self.study, self.probed, value, decimals)

    def _unknown(self, focus: int, at: Place) -> str:
        where, what = self.where(at), self._subject(focus)
        cell = ""
        if isinstance(at, LevelPlace) and isinstance(self.probed.focal, GroupBasis):
            cell = f": no case is in one of its groups {where}"
        return capital(f"{where + ', ' if where else ''}{what} cannot be estimated from these cases{cell}.")

    def _subject(self, focus: int) -> str:
        """What differences between places are differences of."""
        if isinstance(self.probed.focal, NumberBasis):
            focal = self.study.variable(self.probed.probe.focal)
            return self.read.slope_of(transformed_name(focal, self.probed.focal.treatment))
        outcome = self.study.variable(self.probed.model.outcome or "").label
        return f"the difference {self.focus_name(focus)} in {outcome}"

    def difference(self, focus: int, found: Difference, held: bool = True) -> str:
        """The sentence of a difference between two places."""
        effects, places = self.shown.foci[focus].effects, self.probed.places
        one = self.where(places[found.of]), effects[found.of]
        if found.minus is None:
            return self._apart(focus, found.effect, one, ("on average in the others", None), held)
        other = self.where(places[found.minus]), effects[found.minus]
        return self._apart(focus, found.effect, one, other, held)

    def across(self, focus: int, found: AcrossPanels) -> str:
        """The sentence of a difference between places of both moderators."""
        return self._apart(focus, found.effect, self._spot(focus, found.of), self._spot(focus, found.minus), held=False)

    def spot_name(self, spot: tuple[int, int]) -> str:
        """Where both moderators stand: “at worry 2.4, in “none””."""
        panel, index = spot
        here = EffectReader(self.study, self.probed, panel)
        return ", ".join(text for text in (here.where(self.probed.places[index]), here.second_name()) if text)

    def spot_in_a_table(self, spot: tuple[int, int]) -> str:
        """The same below the names of both moderators: “(2.4, none)”."""
        panel, index = spot
        p, second = self.probed, self.probed.panels[panel].second
        bases = (p.moderator, None if p.second is None else p.second)
        names = (p.probe.moderator, "" if p.second is None else p.second.variable)
        told = []
        for at, basis, name in zip((p.places[index], second), bases, names):
            match at:
                case NumberPlace(value, _):
                    told.append(place(value, basis.sd) if isinstance(basis, NumberBasis) else str(value))
                case LevelPlace(_, code):
                    told.append(plain_level(self.study.variable(name), code))
                case Everywhere() | None:
                    pass
                case _:
                    assert_never(at)
        return f"({', '.join(told)})"

    def _spot(self, focus: int, spot: tuple[int, int]) -> tuple[str, ConditionalEffect]:
        return self.spot_name(spot), self.probed.panels[spot[0]].foci[focus].effects[spot[1]]

    def _apart(
        self,
        focus: int,
        effect: ConditionalEffect,
        one: tuple[str, ConditionalEffect],
        other: tuple[str, ConditionalEffect | None],
        held: bool,
    ) -> str:
        (of, its), (minus, theirs) = one, other
        what = self._subject(focus)
        if effect.why is Why.NOT_ESTIMABLE:
            return f"The difference between {what} {of} and {minus} cannot be estimated from these cases."
        if effect.why is Why.FIXED:
            return capital(f"{what} is the same {of} and {minus}: fixed by the model.")
        d = effect_decimals(effect)
        read = self.read
        per = per_text(self.study, self.probed.fit, self.probed.probe.focal, self.probed.unit)
        values = ""
        if theirs is not None and its.exists and theirs.exists:
            first, second = (fixed(e.effect, effect_decimals(e)) for e in (theirs, its))
            values = f"{first} {minus} and {second} {of}: "
        way = "more" if effect.effect >= 0 else "less"
        size = f"{self.amount(effect.effect, d)} {per}".strip()
        size = f"{size} {way}{read.bounds(effect.low, effect.high, d)}"
        said = f"{what} is {values}{size}" if values else f"{what} is {size} {of} than {minus}"
        parts = [said, *(self.held() if held else ())]
        why = f" {capital(reason(effect.why))}." if effect.why is not None else ""
        text = capital(", ".join(parts)) + "." + (why or read.verdict(effect.p, effect.low, effect.high, d))
        return f"{text} {self.caveat() if held else ''}".strip()

    def held(self, second: bool = True) -> list[str]:
        """Where the other variables of the step stand; without `second` all but the second moderator."""
        return [one.said for one in self.held_parts(second)]

    def held_parts(self, second: bool = True) -> list[Held]:
        """The same, each with whether it says a place."""
        p = self.probed
        bases, entered = p.fit.design.bases, self.read.entered(p.step)
        parts: list[Held] = []
        focal = p.focal
        squared = any(t.variables.count(focal.variable) > 1 for t in entered)
        if isinstance(focal, NumberBasis) and not p.by_itself and squared:
            parts.append(Held(at_typical(self.study, focal)))
        if second and self.second_name():
            parts.append(Held(self.second_name()))
        meeting = {n for t in entered if t.is_product and p.probe.focal in t.variables for n in t.variables}
        others = False
        for name in variables_of(entered):
            if name in (p.probe.focal, p.probe.moderator) or (p.second is not None and name == p.second.variable):
                continue
            if name in meeting:
                parts.append(self._held_at(bases[name]))
            else:
                others = True
        return [*parts, Held("other predictors held constant", False, True)] if others else parts

    def _held_at(self, basis: NumberBasis | GroupBasis) -> Held:
        """Where one other variable stands."""
        variable, chosen = self.study.variable(basis.variable), dict(self.probed.probe.held)
        if isinstance(basis, GroupBasis):
            if basis.variable in chosen:
                return Held(in_group(variable, str(chosen[basis.variable])))
            return Held(f"{variable.label} groups weighted by their share", False)
        if basis.variable in chosen:
            return Held(at_place(self.study, basis, float(chosen[basis.variable])))
        return Held(at_typical(self.study, basis))

    # ---- cases

    def near(self, near: tuple[Near, ...]) -> str:
        """How many cases, of each group that is compared: “12”, “10 of 14 in “instructor”, none of 28 in “member””."""
        if len(near) == 1 and not near[0].levels:
            return f"{near[0].cases:,}"
        return ", ".join(f"{near_count(one)} in {self._side(one)}" for one in near)

    def counted_sides(self, near: tuple[Near, ...]) -> str:
        """How many cases, of each side that is compared: “12 cases”, “4 in “returner” and 10 in “first season””."""
        if len(near) == 1:
            return counted(near[0].cases, "case")
        return listed([f"{one.cases:,} in {self._side(one)}" for one in near])

    def _side(self, near: Near) -> str:
        assert isinstance(self.probed.focal, GroupBasis)
        names = [quoted(self.study, self.probed.focal, i) for i in near.levels]
        return listed(names) if len(names) <= 3 else f"{len(names)} groups"

    # ---- tests

    def test_name(self, tested: Tested, focus: int) -> str:
        """What a test asks: “practice × worry in “none””, “all columns with practice and worry”."""
        p = self.probed
        match tested.of:
            case TestOf.EFFECT:
                if p.by_itself:
                    return f"the curvature of {self.focal_title}" if self.is_bent else self.what(focus)
                own = f"“{self.focus_name(focus)}”" if isinstance(p.focal, GroupBasis) else self._factor(p.probe.focal)
                alone = isinstance(p.focal, GroupBasis) and len(self.shown.foci) == 1
                return self._product(self.focal_label if alone else own)
            case TestOf.EFFECTS:
                return self.focal_label if p.by_itself else self._product(self.focal_label)
            case TestOf.COLUMNS:
                if p.by_itself:
                    return f"all powers of {self.focal_label}"
                return f"all columns with {self.focal_label} and {self.moderator_label}"
            case TestOf.PRODUCT:
                assert tested.term is not None
                return label(self.study, tested.term, p.model)
            case _:
                assert_never(tested.of)

    @property
    def is_bent(self) -> bool:
        """Whether a predictor that is looked at along itself has powers in the model."""
        return any(len(term.variables) > 1 for term in self.probed.products)

    def _factor(self, name: str) -> str:
        """A variable as a factor of the product: “practice”, “(log of practice)”."""
        p = self.probed
        return factor_name(self.study.variable(name), p.model.treatment(name), Term((p.probe.focal, p.probe.moderator)))

    def _product(self, focal: str) -> str:
        """The product of exactly these two, with its powers of the moderator, at the place of a focal number that
        bends, and of the others that stand in a product with both."""
        p = self.probed
        pair = (p.probe.focal, p.probe.moderator)
        powers = [t for t in p.products if set(t.variables) == set(pair) and t.variables.count(pair[0]) == 1]
        together = len(powers) > 1 and any(t.variables.count(pair[1]) > 1 for t in powers)
        if together:
            name = f"{listed([label(self.study, t, p.model) for t in powers])} together"
        else:
            name = f"{focal} × {self._factor(pair[1])}"
        return f"{name} {self.product_at()}".strip()

    def product_at(self) -> str:
        """Where the test of the product has a focal number that bends, and the others that stand in a product with
        both: “at average sleep (7.00)”; empty where it is the same everywhere."""
        p = self.probed
        pair = (p.probe.focal, p.probe.moderator)
        names = [n for n in variables_of(p.products) if n not in pair]
        second = p.second.variable if p.second is not None else ""
        at = [self.second_name() if n == second else self._held_at(p.fit.design.bases[n]).said for n in names]
        if isinstance(p.focal, NumberBasis) and any(t.variables.count(pair[0]) > 1 for t in p.products):
            at.insert(0, at_typical(self.study, p.focal))
        return ", ".join(at)

    def test_text(self, tested: Tested, focus: int) -> str:
        """A test with its name: “practice × worry: F(1, 206) = 28.70, p < .001”."""
        return f"{self.test_name(tested, focus)}: {written_or_why(tested.test)}"

    def tests(self, focus: int) -> list[str]:
        """All tests that belong to what is seen, the nearest first."""
        return [self.test_text(tested, focus) for tested in self.probed.tests(self.panel, focus)]

    def caveat(self) -> str:
        """What may not be claimed, for a product's parts are not all in the step; empty where they are."""
        missing: dict[Term, None] = {}
        for term in self.probed.products:
            missing |= dict.fromkeys(self.read.missing_parts(self.probed.step, term))
        if not missing:
            return ""
        effects = "these slopes" if isinstance(self.probed.focal, NumberBasis) else "these differences"
        return f"{capital(self.read.without(list(missing)))} {effects} confound the interaction with what is missing."

    # ---- regions

    def region(self, focus: int, sign: int) -> str:
        """What a region says, in a few words: “slope above 0”, “returner higher”, “not significant”."""
        name, said = self.region_parts(focus, sign)
        return f"{shortened(name)} {said}".strip()

    def region_parts(self, focus: int, sign: int) -> tuple[str, str]:
        """What is higher in a region, or above or below 0, with its whole name, which is empty for a slope; and
        that."""
        if sign == 0:
            return "", "not significant"
        if isinstance(self.probed.focal, NumberBasis):
            return "", "slope above 0" if sign > 0 else "slope below 0"
        both = sides(self.probed.focal.contrasts[focus].weights)
        if both is None:
            return self.focus_name(focus), "above 0" if sign > 0 else "below 0"
        side = both[0] if sign > 0 else both[1]
        return plain_side(self.study, self.probed.focal, side), "higher"

    def bounds(self, low: float, high: float, short: bool = False) -> str:
        """“below 5.38”, “47.75 to 59.70”, “the whole observed range”."""
        assert isinstance(self.probed.moderator, NumberBasis)
        return bounds_text(low, high, self.probed.moderator.sd, short)

    def outside(self, focus: int) -> str:
        """Boundaries outside the data, about which nothing is claimed; empty without one."""
        found = self.shown.foci[focus].regions
        if found is None or not found.outside or not isinstance(self.probed.moderator, NumberBasis):
            return ""
        sd = self.probed.moderator.sd
        return f"boundary outside the data: {', '.join(place(b, sd) for b in found.outside)}"

    def meeting(self) -> str:
        """Where the lines meet, with where they may; whether that can be told at all."""
        found, x, where = self.shown.crossing_set, self.probed.x, self.crossing()
        if not where or x is None:
            return ""
        if found is not None and found.kind is FiellerKind.WHOLE_LINE:
            return f"crossing point not determined ({self.crossing_set()})"
        beyond = found is not None and found.kind is FiellerKind.BOUNDED and (found.high < x.low or found.low > x.high)
        within = self.crossing_set() if not beyond else f"{level_text(self.probed.level)} CI also outside the data"
        return f"{where} ({within})" if within else where

    @property
    def meets_inside(self) -> bool:
        """Whether the lines meet within the observed range, at a place that can be told."""
        found, x = self.shown, self.probed.x
        if not found.crossing or x is None:
            return False
        told = found.crossing_set is None or found.crossing_set.kind is not FiellerKind.WHOLE_LINE
        return told and x.low <= found.crossing[0] <= x.high

    def crossing(self) -> str:
        """Whether and where the lines meet, with the set of places where they may."""
        found, x = self.shown, self.probed.x
        if not found.crossing or x is None:
            return ""
        at = found.crossing[0]
        where = "inside" if x.low <= at <= x.high else "outside"
        return f"lines meet {where} the data, {at_place(self.study, x, at)}"

    def crossing_set(self) -> str:
        """The places where the lines may meet; empty where there is no such set."""
        found, x = self.shown.crossing_set, self.probed.x
        if found is None and self.probed.fit.steps[self.probed.step].inference.draws is not None:
            return "resamples give no interval for it"
        return self.zero_set(found, x) if found is not None and x is not None else ""

    def zero_set(self, zero: Crossover, x: NumberBasis) -> str:
        """Fieller's set in words."""
        low, high = (place(v, x.sd) for v in (zero.low, zero.high))
        level = level_text(self.probed.level)
        match zero.kind:
            case FiellerKind.BOUNDED:
                return f"{level} CI {low} to {high}"
            case FiellerKind.TWO_RAYS:
                return f"{level} set: below {low} or above {high}"
            case FiellerKind.WHOLE_LINE:
                return f"{level} set: anywhere"
            case FiellerKind.FIXED:
                return "fixed by the model, which has no term that could move it"
            case _:
                assert_never(zero.kind)

    def not_drawn(self) -> str:
        """Which lines or means the interaction plot lacks because no case tells of them; empty where none."""
        p, shown = self.probed, self.shown
        if isinstance(p.focal, NumberBasis):
            places = {line.place for line in shown.lines}
            wanted = range(1 if p.by_itself else min(MOST_LINES, len(p.places)))
            lacking = [self.place_name(i) for i in wanted if i not in places]
        elif isinstance(p.moderator, NumberBasis):
            there = {line.level for line in shown.lines}
            levels = range(min(MOST_LINES, len(p.focal.levels)))
            lacking = [level_label(self.study, p.focal, i) for i in levels if i not in there]
        else:
            lacking = [
                level_label(self.study, p.focal, i) + ("" if p.by_itself else f" at {self.place_name(j)}")
                for i, means in enumerate(shown.means[:MOST_LINES])
                for j, mean in enumerate(means)
                if not mean.exists
            ]
        if not lacking:
            return ""
        return f"Not drawn, because it cannot be estimated: {listed_some(lacking, MOST_NAMED)}."

    # ---- titles

    def title(self) -> str:
        """“Practice by worry”."""
        text = self.focal_label if self.probed.by_itself else f"{self.focal_label} {by_name(self.moderator_label)}"
        if self.probed.second is not None:
            text = f"{text}, {by_name(self.study.variable(self.probed.second.variable).label)}"
        return capital(text)

    def picture_title(self, focus: int) -> str:
        """The title with what tells the panel and the comparison apart from the others."""
        compared = self.focus_name(focus) if len(self.shown.foci) > 1 else ""
        return ", ".join(text for text in (self.title(), compared) if text)

    def smallest_said(self, focus: int) -> str:
        """What dotted lines and strips stand for, where a smallest effect was said."""
        p, asked = self.probed, self.probed.probe.smallest
        if asked is None or self.shown.foci[focus].mattering is None:
            return ""
        text = smallest_text(self.study, p.fit, p.model, p.probe.focal, asked)
        strips = "strips: where it matters, is too small (hatched), or is undecided"
        return f"Dotted: the smallest effect that matters, {text}; {strips}."

    def second_label(self) -> str:
        """The label of the second moderator."""
        second = self.probed.second
        return self.study.variable(second.variable).label if second is not None else ""

    def panels_said(self, below: bool = True) -> str:
        """What the panels of the figure are, and whose band is drawn below them."""
        p = self.probed
        label_ = self.second_label()
        what = f"each level of {label_}" if isinstance(p.second, GroupBasis) else f"each place of {label_}"
        if not below:
            return f"A panel for {what}."
        if isinstance(p.moderator, NumberBasis):
            beneath = f"below them the effects of all; the band is that {self.second_name()}"
        else:
            beneath = f"below them the effects {self.second_name()}"
        return f"A panel for {what}, {beneath}."


def place_text(value: float, sd: float) -> str:
    """A place that somebody chose or that was observed: whole where it is whole."""
    return f"{value:,.0f}".replace(",", "").replace("-", MINUS) if value == round(value) else place(value, sd)


def effect_decimals(effect: ConditionalEffect, least: int = 2) -> int:
    """Decimals of an effect or a difference: the one rule for it, on screen, in plots, sentences and report."""
    return estimate_decimals(effect.se, effect.effect, effect.low, effect.high, least=least)


def most_decimals(effects: Iterable[ConditionalEffect], least: int = 2) -> int:
    """The decimals of the one of several effects that needs most."""
    return max((effect_decimals(e, least) for e in effects if e.exists), default=least)


def decimals_below(effect: ConditionalEffect, most: int, least: int = 2) -> int:
    """Decimals of an effect among others that it stands with: as many as the one that needs most, but for one that
    needs over two more than the least."""
    return max(effect_decimals(effect, least), min(most, least + 2))


def near_count(near: Near) -> str:
    """“10 of 14”, “none of 28”."""
    return f"{near.cases:,} of {near.of:,}" if near.cases else f"none of {near.of:,}"
