"""In words: conditional effects, differences, regions, crossings, captions of a probe."""

from __future__ import annotations

import math
from dataclasses import dataclass

from yellow_slope.core.data.variable import shortened
from yellow_slope.core.fit.design.bases import GroupBasis, NumberBasis
from yellow_slope.core.fit.fitted.inference import ConditionalEffect
from yellow_slope.core.fit.solve.why import Why
from yellow_slope.core.probe.curve import FiellerKind, Zero
from yellow_slope.core.probe.probing import EVERYWHERE, MOST_LINES, Difference, Panel, Probed
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import variables_of
from yellow_slope.core.words.names.groups import comparison_sides, level_label, minus_name, side_name, sides
from yellow_slope.core.words.names.numbers import at_place
from yellow_slope.core.words.sentences.coefficients import Reader
from yellow_slope.core.words.spelling.letters import capital
from yellow_slope.core.words.spelling.numerals import estimate_decimals, fixed, level_text, listed, place
from yellow_slope.core.words.spelling.reasons import reason

MOST_NAMED = 6
"""How many lines or means that are not drawn are named one by one."""


@dataclass(frozen=True, slots=True)
class EffectReader:
    """Puts the numbers of one probe into words."""

    study: Study
    probed: Probed

    @property
    def read(self) -> Reader:
        """The reader of the fit."""
        return Reader(self.study, self.probed.fit, self.probed.model)

    @property
    def focal_label(self) -> str:
        """The focal predictor's label."""
        return self.study.variable(self.probed.probe.focal).label

    @property
    def moderator_label(self) -> str:
        """The moderator's label."""
        return self.study.variable(self.probed.probe.moderator).label

    # ---- names

    def place_name(self, index: int) -> str:
        """The name of a pick point, or the label of a level."""
        found = self.probed.places[index]
        if found.code is None:
            return found.name
        return self.study.variable(self.probed.probe.moderator).level(found.code).label

    def focus_name(self, focus: int, limit: int | None = None) -> str:
        """“returner minus first season”; empty for a slope."""
        focal = self.probed.focal
        return "" if isinstance(focal, NumberBasis) else minus_name(self.study, focal, focus, limit)

    def what(self, focus: int) -> str:
        """“slope of practice”, “returner minus first season”."""
        return f"slope of {self.focal_label}" if isinstance(self.probed.focal, NumberBasis) else self.focus_name(focus)

    def line_name(self, index: int, short: bool = True) -> str:
        """What a line of the interaction plot stands for."""
        line, p = self.probed.lines[index], self.probed
        if line.level is not None and isinstance(p.focal, GroupBasis):
            text = level_label(self.study, p.focal, line.level)
            return shortened(text) if short else text
        assert line.place is not None
        where = p.places[line.place]
        if where.name == EVERYWHERE or p.by_itself:
            return ""
        if where.code is not None:
            return shortened(self.place_name(line.place)) if short else self.place_name(line.place)
        assert isinstance(p.moderator, NumberBasis)
        return f"{where.name.split(',')[0]} {place(where.value, p.moderator.sd * 8)}"

    def second_name(self, panel: int) -> str:
        """Where the second moderator stands in a panel, as in “at worry 2.4”; empty without one."""
        p, where = self.probed, self.probed.panels[panel].second
        if where is None or p.second is None or p.probe.second is None:
            return ""
        variable = self.study.variable(p.probe.second.variable)
        if isinstance(p.second, GroupBasis):
            return f"in the group “{variable.level(where.code or '').label}” ({variable.label})"
        return at_place(self.study, p.second, where.value)

    # ---- effects

    def where(self, index: int) -> str:
        """Where a place is: “at worry 5.2”, “in “one-to-one””; empty where the effect is the same everywhere."""
        found, basis = self.probed.places[index], self.probed.moderator
        if found.name == EVERYWHERE:
            return ""
        if isinstance(basis, NumberBasis):
            return at_place(self.study, basis, found.value)
        return f"in “{self.place_name(index)}”"

    def at_value(self, value: float) -> str:
        """“at worry 5.2”."""
        assert isinstance(self.probed.moderator, NumberBasis)
        return at_place(self.study, self.probed.moderator, value)

    def effect(self, focus: int, effect: ConditionalEffect, where: str, held: bool = True) -> str:
        """The sentence of a conditional effect; `where` from `where` or `at_value`.

        Without `held` it does not say where the other variables stand.
        """
        if effect.why is Why.NOT_ESTIMABLE:
            return self._unknown(focus, where)
        d = estimate_decimals(effect.se, effect.effect, effect.low, effect.high)
        read = self.read
        if effect.why is Why.FIXED:
            what = self.what(focus)
            return capital(f"{where + ' ' if where else ''}the {what} is fixed by the model at 0, not estimated.")
        if isinstance(self.probed.focal, NumberBasis):
            claim = read.slope_claim(self.probed.probe.focal, effect.effect, d)
        else:
            claim = self._difference_claim(focus, effect.effect, d)
        lead = f"{where}, {claim}" if where else claim
        parts = [lead + read.bounds(effect.low, effect.high, d), *(self.held() if held else ())]
        why = f" {capital(reason(effect.why))}." if effect.why is not None else ""
        return capital(", ".join(parts)) + "." + (why or read.verdict(effect.p, effect.low, effect.high, effect.se))

    def _difference_claim(self, focus: int, b: float, decimals: int) -> str:
        assert isinstance(self.probed.focal, GroupBasis)
        read, basis = self.read, self.probed.focal
        both = comparison_sides(basis, focus)
        if both is not None and basis.zero_weights is None:
            both = sides(basis.contrasts[focus].weights)
        if both is None or basis.zero_weights is not None:
            return read.comparison_claim(self.probed.probe.focal, focus, b, decimals)
        one, other = (side_name(self.study, basis, side) for side in both)
        outcome = self.study.variable(self.probed.model.outcome or "").label
        return f"{outcome} is {read.amount(b, decimals)} {'higher' if b >= 0 else 'lower'} in {one} than in {other}"

    def _unknown(self, focus: int, where: str) -> str:
        what = self.what(focus)
        cell = ""
        if where.startswith("in ") and isinstance(self.probed.focal, GroupBasis):
            cell = f": no case is in {self._empty_cell(where)}"
        return capital(f"{where + ', ' if where else ''}these cases do not tell of the {what}{cell}.")

    def _empty_cell(self, where: str) -> str:
        return f"one of its groups {where}"

    def difference(self, focus: int, found: Difference, held: bool = True) -> str:
        """The sentence of a difference between two places."""
        effect = found.effect
        of, minus = self.place_name(found.of), self.place_name(found.minus)
        if isinstance(self.probed.moderator, NumberBasis):
            of, minus = (self.where(i) for i in (found.of, found.minus))
        else:
            of, minus = f"in “{of}”", f"in “{minus}”"
        what = f"the {'slope of ' + self.focal_label if isinstance(self.probed.focal, NumberBasis) else 'difference ' + self.focus_name(focus)}"
        if effect.why is Why.NOT_ESTIMABLE:
            return f"These cases do not tell the difference between {what} {of} and {minus}."
        if effect.why is Why.FIXED:
            return capital(f"{what} is the same {of} and {minus}: fixed by the model.")
        d = estimate_decimals(effect.se, effect.effect, effect.low, effect.high)
        read = self.read
        per = read.per(self.probed.probe.focal) if isinstance(self.probed.focal, NumberBasis) else ""
        effects = self.probed.foci[focus].effects
        values = ""
        if effects[found.of].exists and effects[found.minus].exists:
            values = f"{fixed(effects[found.minus].effect, d)} {minus} and {fixed(effects[found.of].effect, d)} {of}: "
        way = "more" if effect.effect >= 0 else "less"
        size = f"{read.amount(effect.effect, d, per)} {way}{read.bounds(effect.low, effect.high, d)}"
        said = f"{what} is {values}{size}" if values else f"{what} is {size} {of} than {minus}"
        parts = [said, *(self.held() if held else ())]
        why = f" {capital(reason(effect.why))}." if effect.why is not None else ""
        return capital(", ".join(parts)) + "." + (why or read.verdict(effect.p, effect.low, effect.high, effect.se))

    def held(self, panel: int = 0) -> list[str]:
        """Where the other variables of the step stand."""
        p = self.probed
        chosen = dict(p.probe.held)
        read, bases = self.read, p.fit.design.bases
        entered = read.entered(p.step)
        parts: list[str] = []
        others = False
        focal = p.focal
        squared = any(t.variables.count(focal.variable) > 1 for t in entered)
        if isinstance(focal, NumberBasis) and not p.by_itself and squared:
            parts.append(at_place(self.study, focal, focal.typical))
        second = self.second_name(panel)
        if second:
            parts.append(second)
        relevant = {n for t in entered if t.is_product and p.probe.focal in t.variables for n in t.variables}
        for name in variables_of(entered):
            if name in (p.probe.focal, p.probe.moderator) or (p.probe.second and name == p.probe.second.variable):
                continue
            basis, variable = bases[name], self.study.variable(name)
            if name not in relevant:
                others = True
            elif isinstance(basis, GroupBasis):
                if name in chosen:
                    parts.append(f"in the group “{variable.named_level(str(chosen[name])).label}” ({variable.label})")
                else:
                    parts.append(f"{variable.label} groups weighted by their share")
            elif name in chosen:
                parts.append(at_place(self.study, basis, float(chosen[name])))
            else:
                parts.append(f"at average {variable.label} ({place(basis.typical, basis.sd)})")
        return [*parts, "other predictors held constant"] if others else parts

    # ---- regions

    def region(self, focus: int, sign: int) -> str:
        """What a region says, in a few words: “slope above 0”, “returner higher”, “not significant”."""
        if sign == 0:
            return "not significant"
        if isinstance(self.probed.focal, NumberBasis):
            return "slope above 0" if sign > 0 else "slope below 0"
        both = sides(self.probed.focal.contrasts[focus].weights)
        if both is None:
            return f"{self.focus_name(focus)} {'above' if sign > 0 else 'below'} 0"
        side = both[0] if sign > 0 else both[1]
        return f"{shortened(side_name(self.study, self.probed.focal, side, quotes=False))} higher"

    def bounds(self, low: float, high: float) -> str:
        """“below 5.38”, “47.75 to 59.70”, “the whole observed range”."""
        assert isinstance(self.probed.moderator, NumberBasis)
        sd = self.probed.moderator.sd
        if math.isinf(low) and math.isinf(high):
            return "the whole observed range"
        if math.isinf(low):
            return f"below {place(high, sd)}"
        return f"above {place(low, sd)}" if math.isinf(high) else f"{place(low, sd)} to {place(high, sd)}"

    def crossing(self, panel: int = 0) -> str:
        """Whether and where the lines meet, with the set of places where they may."""
        found: Panel = self.probed.panels[panel]
        x = self.probed.x
        if not found.crossing or x is None:
            return ""
        at = found.crossing[0]
        where = "inside" if x.low <= at <= x.high else "outside"
        return f"lines meet {where} the data, {at_place(self.study, x, at)}"

    def crossing_set(self, panel: int = 0) -> str:
        """The places where the lines may meet; empty where there is no such set."""
        found, x = self.probed.panels[panel].crossing_set, self.probed.x
        return self.zero_set(found, x) if found is not None and x is not None else ""

    def zero_set(self, zero: Zero, x: NumberBasis) -> str:
        """Fieller's set in words."""
        low, high = (place(v, x.sd) for v in (zero.low, zero.high))
        level = level_text(self.probed.level)
        if zero.kind is FiellerKind.BOUNDED:
            return f"{level} CI {low} to {high}"
        if zero.kind is FiellerKind.TWO_RAYS:
            return f"{level} set: below {low} or above {high}"
        return f"{level} set: anywhere"

    def not_drawn(self, panel: int = 0) -> str:
        """Which lines or means the interaction plot lacks because no case tells of them; empty where none."""
        p, shown = self.probed, self.probed.panels[panel]
        if isinstance(p.focal, NumberBasis):
            there = {line.place for line in shown.lines}
            wanted = range(1 if p.by_itself else min(MOST_LINES, len(p.places)))
            lacking = [self.place_name(i) for i in wanted if i not in there]
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
        if len(lacking) > MOST_NAMED:
            lacking = [*lacking[:MOST_NAMED], f"{len(lacking) - MOST_NAMED} more"]
        return f"Not drawn, for no case tells of it: {listed(lacking)}."

    # ---- titles

    def title(self) -> str:
        """“Practice by worry”."""
        text = self.focal_label if self.probed.by_itself else f"{self.focal_label} by {self.moderator_label}"
        return capital(text)

    def caption(self, panel: int = 0) -> str:
        """The figure's caption: what is drawn, at which places, and where everything else stands."""
        p = self.probed
        outcome = self.study.variable(p.model.outcome or "").label
        by = self.focal_label if p.by_itself else f"{self.focal_label} and {self.moderator_label}"
        held = self.held()
        rest = f" {capital(', '.join(held))}." if held else ""
        wash = " Yellow: where the effect is significant." if any(r.sign for f in p.foci for r in f.regions) else ""
        band = "" if not wash else self._band()
        groups = p.focal if isinstance(p.focal, GroupBasis) else p.moderator
        if isinstance(groups, GroupBasis) and len(groups.levels) > MOST_LINES:
            band += f" Of {len(groups.levels)} groups the first {MOST_LINES} are drawn."
        lacking = self.not_drawn(panel)
        band += f" {lacking}" if lacking else ""
        return f"{outcome} by {by} in step {p.step + 1}, with {level_text(p.level)} intervals.{rest}{wash}{band}"

    def _band(self) -> str:
        from yellow_slope.core.study.probe import Pointwise, band_name

        band = self.probed.probe.band
        return "" if isinstance(band, Pointwise) else f" Region for {band_name(band)}."
