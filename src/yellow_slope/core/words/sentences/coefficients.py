"""In words: one correct sentence for every coefficient, joint test and block, in the study's own terms."""

from __future__ import annotations

import math
from collections import Counter

import numpy as np

from yellow_slope.core.arrays import FloatArray
from yellow_slope.core.data.variable import Variable
from yellow_slope.core.fit.design.bases import GroupBasis, NumberBasis
from yellow_slope.core.fit.design.design import Atom, ModelColumn
from yellow_slope.core.fit.fitted.evaluate import Evaluation
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.fit.solve.why import Why
from yellow_slope.core.study.model import Model
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Term, variables_of
from yellow_slope.core.words.names.groups import (
    comparison_name,
    comparison_sides,
    difference_name,
    level_of,
    quoted,
    side_name,
)
from yellow_slope.core.words.names.numbers import at_place, transformed_name, unit_of
from yellow_slope.core.words.names.quoted import spoken
from yellow_slope.core.words.names.study import zero_point
from yellow_slope.core.words.names.terms import INTERCEPT, column_name, comparisons_of, label, some_labels
from yellow_slope.core.words.sentences.nointercept import no_intercept_row
from yellow_slope.core.words.spelling.letters import capital
from yellow_slope.core.words.spelling.numerals import (
    bounded,
    estimate_decimals,
    f2_text,
    fixed,
    level_text,
    listed,
    listed_some,
    number_or_place,
    percent,
    place,
)
from yellow_slope.core.words.spelling.reasons import reason
from yellow_slope.core.words.spelling.testtexts import written_or_why
from yellow_slope.values import dataclass, replace

MOST_NAMED = 12
"""Terms of a block that a sentence names; its table has all."""
MOST_ON = 3
"""Columns with which one depends; of more their number."""


@dataclass(frozen=True, slots=True)
class Reader:
    """Puts the numbers of one fit into words."""

    study: Study
    fit: Fit
    model: Model

    @property
    def spoken(self) -> Reader:
        """The same for sentences: labels that would be read as part of them are quoted."""
        return replace(self, study=spoken(self.study))

    # ---- coefficients

    def coefficient(self, step: int, column: int, after: str = "") -> str:
        """The sentence of a coefficient; column -1 is the constant. after: what the sentence begins with."""
        result = self.fit.steps[step]
        if column < 0:
            return after + self._constant(step, bool(after))
        model_column = self.fit.design.columns[column]
        why = result.why(column)
        if why is Why.LEFT_OUT:
            return after + self._left_out(column)
        if why is Why.NOT_ESTIMABLE:
            return after + self._not_estimable(step, column)
        start = after + (f"From step {step + 1} on: " if self.meaning_changed(step, model_column.term) else "")
        found = result.coefficient(column)
        missing = self.missing_parts(step, model_column.term)
        factor = 1.0 if missing else _repeats(model_column.term)
        b, low, high, se = (factor * v for v in (found.b, found.low, found.high, found.se))
        if missing:
            said = self._without_parts(model_column, found.b, found.low, found.high, found.se, missing)
        else:
            said = self._claim(step, model_column, b, low, high, se)
        return (
            start
            + _sentence(said, bool(start))
            + self._verdict(found.p, low, high, estimate_decimals(se, b, low, high), why)
            + self._beta(step, model_column)
        )

    def joint(self, step: int, term: Term) -> str:
        """The sentence of a term of several columns."""
        test = self.fit.steps[step].joint[term]
        title = label(self.study, term, self.model)
        missing = self.missing_parts(step, term)
        if missing:
            if not test.exists:
                return f"Whether the coefficients of {title} differ from 0 cannot be tested: {reason(test.why)}."
            verb = "differ" if test.p < 1 - self.model.level else "do not differ significantly"
            figures = written_or_why(test)
            said = f"Taken together, the coefficients of {title} {verb} from 0: {figures}."
            rest = "they are not differences of slopes but confound the interaction with what is missing"
            return f"{said} {capital(self.without(missing))} {rest}."
        means = [n for n in dict.fromkeys(term.variables) if self._has_means(n)]
        if means:
            what, tail, one = self._set_of_means(term, means[0]), "from 0", False
        elif term.is_product:
            what, tail, one = self._set_of_product(term)
        else:
            what, tail, one = f"the groups of {title}", f"in {self._outcome.label}", False
        shown = test.p < 1 - self.model.level
        verb = ("differs" if one else "differ") if shown else f"{'does' if one else 'do'} not differ significantly"
        said = f"{what} {verb} {tail}"
        places = [zero_point(self.study, self.fit.design.bases[name]) for name in self._partners(step, term)]
        said += "".join(f", {place}" for place in places)
        if not test.exists:
            return f"Whether {what} {'differs' if one else 'differ'} {tail} cannot be tested: {reason(test.why)}."
        return f"Taken together, {said}: {written_or_why(test)}."

    def _has_means(self, name: str) -> bool:
        """Whether a group has a column for every level: its test asks whether all of them are 0."""
        basis = self.fit.design.bases[name]
        return isinstance(basis, GroupBasis) and basis.zero_weights is None

    def _set_of_means(self, term: Term, group: str) -> str:
        """What is tested against 0 where a group has a column for every level."""
        among = f"in the groups of {self.study.variable(group).label}"
        others = [n for n in term.variables if n != group]
        if not others:
            return f"the means of {self._outcome.label} {among}"
        if len(others) == 1 and not self._is_group(others[0]):
            return f"the slopes of {self._title(others[0])} on {self._outcome.label} {among}"
        return f"the coefficients of {label(self.study, term, self.model)}"

    def _set_of_product(self, term: Term) -> tuple[str, str, bool]:
        """What the test of a product's columns asks of, among which groups, and whether that is one thing.

        It claims no more than the test: of two groups that the differences by the one differ among the other's groups.
        """
        groups = [self.study.variable(n).label for n in term.variables if self._is_group(n)]
        numbers = [self._title(n) for n in term.variables if not self._is_group(n)]
        if numbers:
            what = f"the slope of {numbers[0]} on {self._outcome.label}"
            if len(numbers) > 1:
                what = f"the change of {what} along {listed(numbers[1:])}"
            inner = groups[:-1]
        else:
            what, inner = f"the differences by {groups[0]} in {self._outcome.label}", groups[1:-1]
        for name in inner:
            what = f"the differences by {name} in {what}"
        return what, f"among the groups of {groups[-1]}", bool(numbers) and not inner

    def block(self, step: int) -> str:
        """The sentence of what a block adds."""
        result = self.fit.steps[step]
        change = result.change
        terms = self.model.steps[step].terms
        names = some_labels(self.study, terms, MOST_NAMED, self.model)
        share = percent(change.r2, 1)
        base = "" if step == 0 else f" beyond step {step}"
        f2 = f", f² = {f2_text(change.f2)}" if not math.isnan(change.f2) else ""
        about = "" if result.about_mean else " about zero (the model has no intercept)"
        verb, them = ("explains", "it") if len(terms) == 1 else ("explain", "them")
        whole = f" With {them} {self.r2_name(step)} = {bounded(result.r2)}." if step else ""
        return (
            f"{capital(names)} {verb} {share} of the variance of {self._outcome.label}{about}{base}: "
            f"{written_or_why(change.test)}{f2}.{whole}"
        )

    def r2_name(self, step: int) -> str:
        """“R²”, or “R² about zero” where the model has no constant to take the mean off."""
        return "R²" if self.fit.steps[step].about_mean else "R² about zero"

    def whole(self, step: int) -> str:
        """Figures of a step as a whole."""
        result = self.fit.steps[step]
        return (
            f"{self.r2_name(step)} = {bounded(result.r2)}    adjusted R² = {bounded(result.adjusted_r2)}    "
            f"{written_or_why(result.whole, between='    ')}"
        )

    def meaning_changed(self, step: int, term: Term) -> bool:
        """Whether the coefficient answers another question than one step before: a product holding it came in."""
        home = self.model.step_of(term)
        if home is None or step <= home:
            return False
        return any(other.contains(term) for other in self.model.steps[step].terms)

    def missing_parts(self, step: int, term: Term) -> list[Term]:
        """Parts of a product that are not in the step."""
        return self.model.missing_parts(term, self.entered(step))

    def without(self, missing: list[Term]) -> str:
        """What a product lacks, before what may therefore not be claimed of it. The one rule for it."""
        return f"without {listed_some([label(self.study, part, self.model) for part in missing], 4)} in the model,"

    def column_name(self, column: int) -> str:
        """A column's title."""
        return column_name(self.study, self.fit, column)

    def entered(self, step: int) -> list[Term]:
        """The terms of a step."""
        return [t for block in self.model.steps[: step + 1] for t in block.terms]

    @property
    def _outcome(self) -> Variable:
        assert self.model.outcome is not None
        return self.study.variable(self.model.outcome)

    def _title(self, name: str) -> str:
        """A number as it enters: “log of practice”."""
        return transformed_name(self.study.variable(name), self.fit.design.number(name).treatment)

    def _is_group(self, name: str) -> bool:
        return isinstance(self.fit.design.bases[name], GroupBasis)

    # ---- amounts

    def step_of(self, name: str) -> str:
        """“further hour of practice”, or “SD more of practice (2.1 hours)” where it is standardized."""
        variable, basis = self.study.variable(name), self.fit.design.number(name)
        title = transformed_name(variable, basis.treatment)
        if basis.is_per_sd:
            plain = basis.axis.is_identity and not basis.is_within
            size = with_units(place(basis.scale, basis.sd), variable) if plain else place(basis.scale, basis.axis_sd)
            return f"SD more of {title} ({size})"
        return f"further {unit_of(variable, basis)} of {title}"

    def per(self, name: str) -> str:
        """“per hour”, “per SD”."""
        return f"per {unit_of(self.study.variable(name), self.fit.design.number(name))}"

    def slope_of(self, title: str) -> str:
        """“the slope of practice on control score”."""
        return f"the slope of {title} on {self._outcome.label}"

    def _rate(self, per: str) -> str:
        """The unit of a slope after its figure, “points per hour”; empty where neither variable has one."""
        if not self._outcome.unit and per in ("", "per unit"):
            return ""
        return f"{self._outcome.many} {per}".strip()

    def amount(self, value: float, decimals: int, per: str = "") -> str:
        """A size in outcome units."""
        text = with_units(fixed(abs(value), decimals), self._outcome)
        return f"{text} {per}".strip()

    def bounds(self, low: float, high: float, decimals: int) -> str:
        """“(95% CI 0.2 to 0.6)”; empty where there is no interval."""
        if math.isnan(low):
            return ""
        return f" ({level_text(self.model.level)} CI {fixed(low, decimals)} to {fixed(high, decimals)})"

    # ---- claims

    def _claim(self, step: int, column: ModelColumn, b: float, low: float, high: float, se: float) -> str:
        d = estimate_decimals(se, b, low, high)
        bounds = self.bounds(low, high, d)
        rest, places = self._split(column)
        if len(rest) == 1 and not self.fit.design.constant and self._is_mean(column):
            where = self._where_it_is_1(column.atoms[0])
            said = f"{self._outcome.label} is {with_units(fixed(b, d), self._outcome)} {where}{bounds}"
        elif len(rest) > 1:
            said = self._product_claim(step, rest, places, b, d, bounds)
        elif not rest:
            signed = with_units(fixed(b, d), self._outcome)
            where = self._places(places) if len(places) > 1 else self._level(places[0])
            said = f"{self._outcome.label} is {signed} in {where}{bounds}"
        elif rest[0].comparison is not None:
            set_to_0 = "" if self.fit.last.about_mean else self._set_to_0(rest[0], b, d, bounds)
            said = set_to_0 or self.comparison_claim(rest[0].variable, rest[0].comparison, b, d) + bounds
        elif places:
            phrase, per = self._inner(rest)
            many = self._rate(per)
            said = f"{phrase} is {fixed(b, d)} {many}".rstrip() + bounds
        else:
            said = self.slope_claim(rest[0].variable, b, d) + bounds
        if rest and places:
            joint = " " if len(rest) == 1 and rest[0].comparison is None else ", "
            said += f"{joint}in {self._places(places)}"
        return ", ".join([said, *self._conditions(step, column)])

    def _is_mean(self, column: ModelColumn) -> bool:
        return self.fit.design.columns.index(column) in self.fit.means_columns()

    def _where_it_is_1(self, atom: Atom) -> str:
        """Where a column of 0 and 1 is 1."""
        basis = self.fit.design.bases[atom.variable]
        if isinstance(basis, GroupBasis):
            return f"in {level_of(self.study, basis, int(np.argmax(basis.codes[:, atom.comparison or 0])))}"
        return f"where {self._title(atom.variable)} is {number_or_place(basis.scale + basis.center)}"

    def _set_to_0(self, atom: Atom, b: float, decimals: int, bounds: str) -> str:
        """What a comparison is where no column makes the level that it starts from; empty for one of other weights."""
        basis = self.fit.design.group(atom.variable)
        both = comparison_sides(basis, atom.comparison or 0)
        if both is None:
            return ""
        level = with_units(fixed(b, decimals), self._outcome)
        one, other = (self._in(basis, side) for side in both)
        return f"{self._outcome.label} is {level} {one}{bounds}. Without an intercept, the model sets it to 0 {other}"

    def _split(self, column: ModelColumn) -> tuple[tuple[Atom, ...], tuple[Atom, ...]]:
        """What a column is the effect of, and the levels in which it is: those of groups with a column for every
        level."""
        places = tuple(
            atom
            for atom in column.atoms
            if atom.comparison is not None and self.fit.design.group(atom.variable).zero_weights is None
        )
        return tuple(atom for atom in column.atoms if atom not in places), places

    def _level(self, atom: Atom) -> str:
        return quoted(self.study, self.fit.design.group(atom.variable), atom.comparison or 0)

    def _places(self, places: tuple[Atom, ...]) -> str:
        return listed([level_of(self.study, self.fit.design.group(a.variable), a.comparison or 0) for a in places])

    def slope_claim(self, name: str, b: float, decimals: int) -> str:
        """“Per further hour of practice, control score is 0.52 points higher”."""
        way = "higher" if b >= 0 else "lower"
        return f"per {self.step_of(name)}, {self._outcome.label} is {self.amount(b, decimals)} {way}"

    def comparison_claim(self, name: str, index: int, b: float, decimals: int) -> str:
        """“Control score is 4.13 points higher in “video feedback” than in “none””."""
        basis = self.fit.design.group(name)
        outcome = self._outcome.label
        way = "higher" if b >= 0 else "lower"
        own, both = basis.comparisons[index].name, comparison_sides(basis, index)
        if both is None:
            signed = with_units(fixed(b, decimals), self._outcome)
            what = own or f"question {index + 1}"
            return f"the {what} of {outcome} over {self.study.variable(name).label} is {signed}"
        one, other = (self._in(basis, side) for side in both)
        said = f"{outcome} is {self.amount(b, decimals)} {way} {one} than {other}"
        return f"{own}: {said}" if own else said

    def _in(self, basis: GroupBasis, weights: FloatArray) -> str:
        return f"in {side_name(self.study, basis, weights)}"

    def _inner(self, atoms: tuple[Atom, ...]) -> tuple[str, str]:
        """What the inner factors of a product are called, and the unit of their effect after the outcome's."""
        first, rest = atoms[0], atoms[1:]
        if first.comparison is None:
            title = self._title(first.variable)
            phrase, per = self.slope_of(title), self.per(first.variable)
        else:
            basis = self.fit.design.group(first.variable)
            phrase = f"{difference_name(self.study, basis, first.comparison)} in {self._outcome.label}"
            per = ""
        for atom in rest:
            if atom.comparison is None:
                phrase = f"the change of {phrase} per {self.step_of(atom.variable)}"
            else:
                basis = self.fit.design.group(atom.variable)
                phrase = f"{difference_name(self.study, basis, atom.comparison)} in {phrase}"
        return phrase, per

    def _product_claim(
        self, step: int, rest: tuple[Atom, ...], places: tuple[Atom, ...], b: float, d: int, bounds: str
    ) -> str:
        """The product as what it changes, with the two values between which it changes."""
        *inner_atoms, last = rest
        phrase, per = self._inner(tuple(inner_atoms))
        inner = (*inner_atoms, *places)
        many = self._rate(per)
        if last.comparison is None:
            size = f"{fixed(b, d)} {many}".strip()
            change = f"by {size} per {self.step_of(last.variable)}{bounds}"
            there = self._value(step, inner, last)
            if there is not None and self._bends(step, inner, last):
                d = max(d, estimate_decimals(0.0, there))  # of what it is there, not of b
                zero = zero_point(self.study, self.fit.design.number(last.variable))
                return f"{phrase} is {fixed(there, d)} {zero} and changes there {change}"
            return f"{phrase} changes {change}{self._two_values(step, inner, last, d)}"
        basis = self.fit.design.group(last.variable)
        both = comparison_sides(basis, last.comparison)
        if both is None:
            name = comparison_name(self.study, basis, last.comparison)
            group = self.study.variable(last.variable).label
            size = f"{fixed(b, d)} {many}".strip()
            return f"the {name} over {group} in {phrase} is {size}{bounds}"
        one, other = both
        low, high = (self._value(step, inner, last, weights=w) for w in (other, one))
        way = "more" if b >= 0 else "less"
        change = f"{self.amount(b, d, per)} {way}{bounds}"
        if low is None or high is None:
            where = f"{self._in(basis, one)} than {self._in(basis, other)}"
            return f"{phrase} is {change} {where}"
        d = max(d, estimate_decimals(0.0, low, high))  # of the two values, not of b
        values = f"{fixed(low, d)} {self._in(basis, other)} and {fixed(high, d)} {self._in(basis, one)}"
        return f"{phrase} is {values}: {change}"

    def _bends(self, step: int, inner: tuple[Atom, ...], last: Atom) -> bool:
        """Whether the inner factors' effect is no straight line along the last one: a higher power of it is in the
        step."""
        want, names = Counter(inner), {atom.variable for atom in (*inner, last)}
        for column in self.fit.design.columns[: self.fit.steps[step].n_columns]:
            if not names.issubset(column.term.variables):
                continue
            have = Counter(column.atoms)
            extra = have - want
            if not want - have and not set(extra) - {last} and extra[last] > 1:
                return True
        return False

    def _two_values(self, step: int, inner: tuple[Atom, ...], last: Atom, d: int) -> str:
        """“: 1.52 at average worry (3.73), 0.09 one point above”; empty where the model does not give them."""
        basis = self.fit.design.number(last.variable)
        variable = self.study.variable(last.variable)
        if inner[0].comparison is not None and basis.axis.is_identity and not basis.is_within and basis.sd > 0:
            ends = (basis.mean - basis.sd, basis.mean + basis.sd)
            ts = [(e - basis.center) / basis.scale for e in ends]
            places = [at_place(self.study, basis, ends[0]), f"at {place(ends[1], basis.sd)}"]
        else:
            ts = [0.0, 1.0]
            unit = unit_of(variable, basis)
            above = f"one {unit} above" if unit[:1].isalpha() else f"{unit} above"
            places = [zero_point(self.study, basis), above]
        values = [self._value(step, inner, last, t=t) for t in ts]
        if values[0] is None or values[1] is None:
            return ""
        d = max(d, estimate_decimals(0.0, values[0], values[1]))
        return f": {fixed(values[0], d)} {places[0]}, {fixed(values[1], d)} {places[1]}"

    def _value(
        self, step: int, inner: tuple[Atom, ...], last: Atom, t: float = 0.0, weights: FloatArray | None = None
    ) -> float | None:
        """The inner factors' effect with the last partner at a treated value or at level weights, the rest at zero.

        None where no case tells of it.
        """
        result = self.fit.steps[step]
        g = np.zeros(result.n_columns + 1)
        want = Counter(inner)
        own = want[last] if last.comparison is None else 0
        factor = math.prod(math.factorial(n) for atom, n in want.items() if atom != last)
        names = {atom.variable for atom in inner}
        for j, column in enumerate(self.fit.design.columns[: result.n_columns]):
            if not names.issubset(column.term.variables):
                continue
            have = Counter(column.atoms)
            extra = have - want
            if want - have:
                continue
            if last.comparison is None:
                if set(extra) - {last}:
                    continue
                m = extra[last]
                g[j + 1] = factor * math.factorial(own + m) / math.factorial(m) * (t**m if m else 1.0)
            elif not extra:
                g[j + 1] = factor
            elif len(extra) == 1 and sum(extra.values()) == 1 and weights is not None:
                (atom,) = extra
                if atom.variable == last.variable and atom.comparison is not None:
                    codes = self.fit.design.group(last.variable).codes[:, atom.comparison]
                    g[j + 1] = factor * float(weights @ codes)
        if not result.inference.estimable(g)[0]:
            return None
        return float(g @ result.inference.solution)

    def _without_parts(
        self, column: ModelColumn, b: float, low: float, high: float, se: float, missing: list[Term]
    ) -> str:
        d = estimate_decimals(se, b, low, high)
        title = label(self.study, column.term, self.model)
        compared = comparisons_of(self.study, self.fit, column)
        if compared:
            title += f" ({', '.join(compared)})"
        said = f"the coefficient of {title} is {fixed(b, d)}{self.bounds(low, high, d)}"
        what = "is not a difference of slopes" if compared else "does not say how a slope changes"
        return f"{said}. {capital(self.without(missing))} it {what} but confounds the interaction with what is missing"

    def _conditions(self, step: int, column: ModelColumn) -> list[str]:
        """Where the partners of its products stand, and that the rest is held."""
        entered = self.entered(step)
        partners = self._partners(step, column.term)
        own = set(column.term.variables)
        rest, places = self._split(column)
        if len(rest) > 1:
            # The two values of a product stand where the partners of its inner factors have their zero points.
            inner = Term(tuple(atom.variable for atom in (*rest[:-1], *places)))
            partners = [n for n in dict.fromkeys([*partners, *self._partners(step, inner)]) if n not in own]
        parts = [zero_point(self.study, self.fit.design.bases[name]) for name in partners]
        if any(name not in own and name not in partners for name in variables_of(entered)):
            parts.append("other predictors held constant")
        return parts

    def _partners(self, step: int, term: Term) -> list[str]:
        """What the term is multiplied with in the step's products."""
        larger = [t for t in self.entered(step) if t.contains(term)]
        return list(dict.fromkeys(name for t in larger for name in _without(t.variables, term.variables)))

    def _beta(self, step: int, column: ModelColumn) -> str:
        """That β answers another question, where a partner's zero point is not its mean."""
        j = self.fit.design.columns.index(column)
        if math.isnan(self.fit.steps[step].betas.beta[j + 1]):
            return ""
        bases = [self.fit.design.bases[name] for name in self._partners(step, column.term)]
        far = [b for b in bases if isinstance(b, NumberBasis) and not b.is_at_mean]
        if not far:
            return ""
        labels = listed([self._title(b.variable) for b in far])
        return f" β does not correspond to b here: it refers to average {labels}."

    def _constant(self, step: int, continued: bool = False) -> str:
        result = self.fit.steps[step]
        if not self.fit.design.constant:
            return f"The model has {no_intercept_row(self.study, self.fit)}."
        entered = variables_of(self.entered(step))
        places = listed([zero_point(self.study, self.fit.design.bases[name]) for name in entered])
        why = result.why(-1)
        if why is Why.NOT_ESTIMABLE:
            return f"The intercept cannot be estimated because {self._dependence(step, -1)}."
        found = result.coefficient(-1)
        d = estimate_decimals(found.se, found.b, found.low, found.high)
        level = with_units(fixed(found.b, d), self._outcome)
        said = (
            f"{places if continued else capital(places)}, {self._outcome.label} is predicted to be "
            f"{level}{self.bounds(found.low, found.high, d)}."
        )
        return f"{said} That is the {INTERCEPT}." + (f" {capital(reason(why))}." if why else "")

    def _left_out(self, column: int) -> str:
        found = next(out for out in self.fit.left_out if out.column == column)
        title = capital(self.column_name(column))
        if not found.on:
            return f"{title} is omitted because {self._flat(column)}."
        others = listed_some([f"“{self.column_name(j)}”" for j, _ in found.on], MOST_ON)
        carry = "carries" if len(found.on) == 1 else "carry"
        return f"{title} is omitted because {others} already {carry} the same information."

    def _flat(self, column: int, who: str = "it") -> str:
        """Why a column is the same for all cases."""
        model_column = self.fit.design.columns[column]
        groups = [a for a in model_column.atoms if a.comparison is not None]
        if len(groups) > 1 and all(self.fit.design.group(a.variable).reference is not None for a in groups):
            cells = [self._compared_group(a) for a in groups]
            return f"no case is in {listed(cells)} at once"
        return f"{who} is the same for all {self.fit.y.size} cases of the model"

    def _compared_group(self, atom: Atom) -> str:
        """The group that a column of dummy codes is 1 in, as in “one-to-one”."""
        basis = self.fit.design.group(atom.variable)
        both = comparison_sides(basis, atom.comparison or 0)
        assert both is not None
        return side_name(self.study, basis, both[0])

    def _not_estimable(self, step: int, column: int) -> str:
        title = capital(self.column_name(column))
        return f"{title} cannot be estimated because {self._dependence(step, column)}."

    def _dependence(self, step: int, column: int) -> str:
        """Which columns a coefficient cannot be told apart from."""
        inference = self.fit.steps[step].inference
        g = np.zeros(inference.solution.size)
        g[column + 1] = 1.0
        involved = inference.nulls[inference.hangs_on(g[None, :])[0]]
        others = dict.fromkeys(int(j) for row in involved for j in np.flatnonzero(row) if int(j) != column)
        flat = [j for j in others if any(row[j] and np.count_nonzero(row) == 1 for row in involved)]
        if flat and len(others) == len(flat):
            return self._flat(flat[0], f"“{self.column_name(flat[0])}”")
        named = listed_some([f"“{self.column_name(j)}”" for j in others], MOST_ON)
        return f"it cannot be separated from {named} in these cases"

    def _verdict(self, p: float, low: float, high: float, decimals: int, why: Why | None) -> str:
        if why is not None:
            return f" {capital(reason(why))}."
        if math.isnan(p) or p < 1 - self.model.level:
            return ""
        return f" Not significant: values from {fixed(low, decimals)} to {fixed(high, decimals)} remain plausible."

    def verdict(self, p: float, low: float, high: float, decimals: int) -> str:
        """What an interval that holds 0 leaves open; empty for one that does not."""
        return self._verdict(p, low, high, decimals, None)


def reader(evaluation: Evaluation) -> Reader | None:
    """The reader of the current model; None while there is no fit."""
    return Reader(evaluation.study, evaluation.fit, evaluation.study.model) if evaluation.fit else None


def _repeats(term: Term) -> float:
    """How often b counts in a change of slope: 2 for a square, 6 for a cube, as derivatives have it."""
    return float(math.prod(math.factorial(term.variables.count(name)) for name in set(term.variables)))


def _without(names_: tuple[str, ...], taken: tuple[str, ...]) -> list[str]:
    rest = list(names_)
    for name in taken:
        rest.remove(name)
    return rest


def with_units(text: str, variable: Variable) -> str:
    """A number with the variable's unit behind it."""
    if not variable.unit:
        return text
    return f"{text} {variable.one if text in ('1', '−1') else variable.many}"


def _sentence(text: str, continued: bool = False) -> str:
    return (text if continued else capital(text)) + "."
