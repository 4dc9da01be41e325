"""In words: one correct sentence for every coefficient and every conditional effect, in the study's own terms."""

from __future__ import annotations

import math
from dataclasses import dataclass

from yellow_slope.core.curve import ConditionalEffect
from yellow_slope.core.design import Atom, GroupBasis, ModelColumn, NumberBasis
from yellow_slope.core.evaluate import Evaluation, Fit
from yellow_slope.core.numerals import counted, fixed, level_text, listed, p_equals, place, spoken_decimals
from yellow_slope.core.probe import Probed
from yellow_slope.core.study import Study
from yellow_slope.core.terms import Term, variables_of
from yellow_slope.core.variable import Treatment, Variable


@dataclass(frozen=True, slots=True)
class Reader:
    """Puts the numbers of one evaluation into words."""

    study: Study
    fit: Fit

    # ---- coefficients

    def coefficient(self, step: int, column: int) -> str:
        """The sentence of a coefficient; column -1 is the constant."""
        result = self.fit.steps[step]
        if column < 0:
            return self._constant(step)
        model_column = self.fit.design.columns[column]
        if result.is_left_out(column):
            return self._left_out(column)
        found = result.coefficient(column)
        start = f"From step {step + 1} on: " if self.meaning_changed(step, model_column.term) else ""
        factor = _repeats(model_column.term)
        said = self._claim(model_column, factor * found.b, factor * found.se)
        bounds = self._bounds(factor * found.low, factor * found.high, factor * found.se)
        parts = [said + " " + bounds, *self._conditions(step, model_column)]
        return (
            start + _sentence(", ".join(parts), bool(start)) + self._verdict(found.p) + self._beta(step, model_column)
        )

    def joint(self, step: int, term: Term) -> str:
        """The sentence of a term of several columns."""
        test = self.fit.steps[step].joint[term]
        label = self.study.label(term)
        figures = f"F({test.df1}, {test.df2}) = {fixed(test.f, 2)}, {p_equals(test.p)}"
        if term.is_product:
            groups = [v for n in term.variables if (v := self.study.variable(n)).levels and self._is_group(n)]
            others = [self.study.variable(n).label for n in term.variables if not self._is_group(n)]
            what = f"the slope of {listed(others)}" if others else f"the differences by {groups[0].label}"
            rest = groups if others else groups[1:]
            verb = "differs" if others else "differ"
            said = f"{what} {verb} among the groups of {listed([g.label for g in rest])}"
        else:
            said = f"the groups of {label} differ in {self._outcome.label}"
        places = [self.zero_point(name) for name in self._partners(step, term)]
        said += "".join(f", {place}" for place in places)
        shown = test.p < 1 - self.study.level
        return f"Taken together, {said if shown else 'these cases do not show that ' + said}: {figures}."

    def block(self, step: int) -> str:
        """The sentence of what a block adds."""
        result = self.fit.steps[step]
        change, test = result.change, result.change.test
        labels = [self.study.label(t) for t in self.study.blocks[step].terms]
        share = fixed(100 * change.r2, 1)
        base = "" if step == 0 else f" beyond step {step}"
        return (
            f"{_capital(listed(labels))} {'explains' if len(labels) == 1 else 'explain'} {share} percent of the variance "
            f"of {self._outcome.label}{base}: F({test.df1}, {test.df2}) = {fixed(test.f, 2)}, {p_equals(test.p)}, "
            f"f² = {fixed(change.f2, 3)}. R² is then {fixed(100 * result.r2, 1)} percent."
        )

    def meaning_changed(self, step: int, term: Term) -> bool:
        """Whether the coefficient answers another question than one step before: a product holding it came in."""
        home = self.study.block_of(term)
        if home is None or step <= home:
            return False
        return any(other.contains(term) for other in self.study.blocks[step].terms)

    def term_name(self, column: int) -> str:
        """A column's title, as in “practice × coaching: one-to-one vs none”."""
        if column < 0:
            return "level at the zero points (constant)"
        model_column = self.fit.design.columns[column]
        title = self.study.label(model_column.term)
        compared = [self._comparison(atom) for atom in model_column.atoms if atom.comparison is not None]
        return f"{title}: {', '.join(f'{a} vs {b}' for a, b in compared)}" if compared else title

    def comparison_name(self, column: int, short: bool = False) -> str:
        """The groups a column compares, as in “one-to-one”, or the short term where it compares none."""
        model_column = self.fit.design.columns[column]
        compared = [
            level.short if short else level.label
            for atom in model_column.atoms
            if atom.comparison is not None
            for level in [self.fit.design.group(atom.variable).compared[atom.comparison]]
        ]
        return ", ".join(compared) or self.study.label(model_column.term)

    @property
    def _outcome(self) -> Variable:
        assert self.study.outcome is not None
        return self.study.variable(self.study.outcome)

    def _is_group(self, name: str) -> bool:
        return isinstance(self.fit.design.bases[name], GroupBasis)

    def _comparison(self, atom: Atom) -> tuple[str, str]:
        basis = self.fit.design.group(atom.variable)
        assert atom.comparison is not None
        return basis.compared[atom.comparison].label, basis.levels[basis.reference].label

    def _is_square(self, column: ModelColumn) -> bool:
        return len(column.term.variables) == 2 and len(set(column.term.variables)) == 1

    def _step_of(self, name: str) -> str:
        """“further hour of practice”, or “SD more of practice (2.1 hours)” where it is standardized."""
        variable, basis = self.study.variable(name), self.fit.design.number(name)
        if variable.treatment is Treatment.STANDARDIZED:
            return f"SD more of {variable.label} ({_with_units(place(basis.sd, basis.sd), variable)})"
        return f"further {variable.one} of {variable.label}"

    def _per(self, name: str) -> str:
        variable = self.study.variable(name)
        return f"per SD of {variable.label}" if variable.treatment is Treatment.STANDARDIZED else f"per {variable.one}"

    def _amount(self, value: float, se: float, per: str = "") -> str:
        text = _with_units(fixed(abs(value), spoken_decimals(se)), self._outcome)
        return f"{text} {per}".strip()

    def _claim(self, column: ModelColumn, b: float, se: float) -> str:
        outcome = self._outcome.label
        if len(column.atoms) == 1:
            atom = column.atoms[0]
            if atom.comparison is not None:
                one, other = self._comparison(atom)
                group = self.study.variable(atom.variable).label
                way = "higher" if b >= 0 else "lower"
                return (
                    f"In the group “{one}” ({group}) {outcome} is {self._amount(b, se)} {way} "
                    f"than in the reference group “{other}”"
                )
            return self._slope_claim(atom.variable, b, se)
        if self._is_square(column):
            name = column.term.variables[0]
            way = "larger" if b >= 0 else "smaller"
            return (
                f"The slope of {self.study.variable(name).label} on {outcome} becomes {way} by "
                f"{self._amount(b, se, self._per(name))} for each {self._step_of(name)}"
            )
        return self._product_claim(column, b, se)

    def _slope_claim(self, name: str, b: float, se: float) -> str:
        way = "higher" if b >= 0 else "lower"
        return f"Each {self._step_of(name)} goes with {self._outcome.label} {self._amount(b, se)} {way}"

    def _product_claim(self, column: ModelColumn, b: float, se: float) -> str:
        """“The slope of A on Y is larger by ... for each further ... of M”, to any depth."""
        atoms = sorted(column.atoms, key=lambda a: a.comparison is not None)
        first, middle, last = atoms[0], atoms[1:-1], atoms[-1]
        if first.comparison is None:
            phrase = f"the slope of {self.study.variable(first.variable).label} on {self._outcome.label}"
            amount = self._amount(b, se, self._per(first.variable))
        else:
            one, other = self._comparison(first)
            group = self.study.variable(first.variable).label
            phrase = f"the difference in {self._outcome.label} between “{one}” and “{other}” ({group})"
            amount = self._amount(b, se)
        for atom in middle:
            if atom.comparison is None:
                phrase = f"the change in {phrase} for each {self._step_of(atom.variable)}"
            else:
                one, other = self._comparison(atom)
                phrase = f"the difference between “{one}” and “{other}” in {phrase}"
        way = "larger" if b >= 0 else "smaller"
        if last.comparison is None:
            return _capital(f"{phrase} is {way} by {amount} for each {self._step_of(last.variable)}")
        one, other = self._comparison(last)
        group = self.study.variable(last.variable).label
        return _capital(f"{phrase} is {way} by {amount} in the group “{one}” ({group}) than in the reference “{other}”")

    def _bounds(self, low: float, high: float, se: float) -> str:
        decimals = spoken_decimals(se)
        return f"({level_text(self.study.level)} CI {fixed(low, decimals)} to {fixed(high, decimals)})"

    def _conditions(self, step: int, column: ModelColumn) -> list[str]:
        """Where the partners of its products stand, and that the rest is held."""
        entered = self._entered(step)
        partners = self._partners(step, column.term)
        own = set(column.term.variables)
        parts = [self.zero_point(name) for name in partners]
        if any(name not in own and name not in partners for name in variables_of(entered)):
            parts.append("other predictors held constant")
        return parts

    def _entered(self, step: int) -> list[Term]:
        return [t for block in self.study.blocks[: step + 1] for t in block.terms]

    def _partners(self, step: int, term: Term) -> list[str]:
        """What the term is multiplied with in the step's products."""
        larger = [t for t in self._entered(step) if t.contains(term)]
        return list(dict.fromkeys(name for t in larger for name in _without(t.variables, term.variables)))

    def _beta(self, step: int, column: ModelColumn) -> str:
        """That β answers another question, where a partner's zero point is not its mean."""
        bases = [self.fit.design.bases[name] for name in self._partners(step, column.term)]
        far = [b for b in bases if isinstance(b, NumberBasis) and b.center != b.mean]
        if not far:
            return ""
        labels = listed([self.study.variable(b.variable).label for b in far])
        return f" β answers another question: it stands at average {labels}."

    def zero_point(self, name: str) -> str:
        """Where the variable stands when its treated value is 0, as in “at average worry (3.6)”."""
        variable, basis = self.study.variable(name), self.fit.design.bases[name]
        if isinstance(basis, GroupBasis):
            return f"for {variable.label}: {basis.levels[basis.reference].label}"
        if variable.treatment is not Treatment.AS_IS:
            return f"at average {variable.label} ({place(basis.mean, basis.sd)})"
        inside = basis.low <= 0 <= basis.high
        reach = f"{place(basis.low, basis.sd)} to {place(basis.high, basis.sd)}"
        return f"at {variable.label} 0" + ("" if inside else f" (outside its observed range, {reach})")

    def _constant(self, step: int) -> str:
        result = self.fit.steps[step]
        found = result.coefficient(-1)
        names = variables_of(t for block in self.study.blocks[: step + 1] for t in block.terms)
        places = listed([self.zero_point(name) for name in names])
        decimals = spoken_decimals(found.se)
        level = _with_units(fixed(found.b, decimals), self._outcome)
        return f"{_capital(places)}, {self._outcome.label} is predicted to be {level} {self._bounds(found.low, found.high, found.se)}."

    def _left_out(self, column: int) -> str:
        found = next(out for out in self.fit.left_out if out.column == column)
        title = self.term_name(column)
        if not found.on:
            return f"{_capital(title)} is left out: it is the same for all {self.fit.y.size} cases of the model."
        others = listed([f"“{self.term_name(j)}”" for j, _ in found.on])
        return f"{_capital(title)} is left out: {others} already {'says' if len(found.on) == 1 else 'say'} all that it says."

    def _verdict(self, p: float) -> str:
        if p < 1 - self.study.level:
            return ""
        return " The interval includes 0: these cases do not tell the direction."

    # ---- conditional effects

    def effect(self, probed: Probed, focus: int, effect: ConditionalEffect, where: str, held: bool = True) -> str:
        """The sentence of a conditional effect; `where` from `at_value` or `at_level`.

        Without `held` it does not say where the other variables stand.
        """
        bounds = self._bounds(effect.low, effect.high, effect.se)
        if isinstance(probed.focal, NumberBasis):
            claim = self._slope_claim(probed.focal.variable, effect.effect, effect.se)
            claim = claim[0].lower() + claim[1:]
        else:
            claim = self._difference_claim(probed, focus, effect)
        parts = [f"{where} {claim} {bounds}", *(self.held(probed) if held else ())]
        return _sentence(", ".join(parts)) + self._verdict(effect.p)

    def _difference_claim(self, probed: Probed, focus: int, effect: ConditionalEffect) -> str:
        assert isinstance(probed.focal, GroupBasis)
        one = probed.foci[focus].name
        other = probed.focal.levels[probed.focal.reference].label
        way = "higher" if effect.effect >= 0 else "lower"
        amount = self._amount(effect.effect, effect.se)
        group = self.study.variable(probed.focal.variable).label
        return f"{self._outcome.label} is {amount} {way} in the group “{one}” than in “{other}” ({group})"

    def slope_difference(self, probed: Probed, focus: int, index: int, held: bool = True) -> str:
        """The sentence of a difference between two levels of a group moderator."""
        found = probed.foci[focus].differences[index]
        effect = found.effect
        way = "larger" if effect.effect >= 0 else "smaller"
        group = self.study.variable(probed.moderator.variable).label
        if isinstance(probed.focal, NumberBasis):
            name = probed.focal.variable
            what = f"the slope of {self.study.variable(name).label} on {self._outcome.label}"
            amount = self._amount(effect.effect, effect.se, self._per(name))
        else:
            other = probed.focal.levels[probed.focal.reference].label
            what = f"the difference between “{probed.foci[focus].name}” and “{other}”"
            amount = self._amount(effect.effect, effect.se)
        bounds = self._bounds(effect.low, effect.high, effect.se)
        said = f"{what} is {way} by {amount} in the group “{found.of}” than in “{found.minus}” ({group}) {bounds}"
        return _sentence(", ".join([said, *(self.held(probed) if held else ())])) + self._verdict(effect.p)

    def at_value(self, probed: Probed, value: float) -> str:
        """“At worry 5.2”."""
        assert isinstance(probed.moderator, NumberBasis)
        variable = self.study.variable(probed.moderator.variable)
        return f"at {variable.label} {place(value, probed.moderator.sd)}"

    def at_level(self, probed: Probed, index: int) -> str:
        """“In the group one-to-one (coaching)”."""
        assert isinstance(probed.moderator, GroupBasis)
        variable = self.study.variable(probed.moderator.variable)
        return f"in the group “{probed.moderator.levels[index].label}” ({variable.label})"

    def held(self, probed: Probed) -> list[str]:
        """Where the other variables of the step stand."""
        chosen = dict(probed.probe.held)
        parts: list[str] = []
        others = False
        entered = self._entered(probed.step)
        focal = probed.focal
        if isinstance(focal, NumberBasis) and any(t.variables.count(focal.variable) > 1 for t in entered):
            label = self.study.variable(focal.variable).label
            parts.append(f"at average {label} ({place(focal.mean, focal.sd)})")
        relevant = {
            name
            for t in entered
            if t.is_product and (probed.focal.variable in t.variables)
            for name in t.variables
        }  # fmt: skip
        for name in variables_of(entered):
            if name in (probed.focal.variable, probed.moderator.variable):
                continue
            if name not in relevant:
                others = True
            elif self._is_group(name):
                label = self.study.variable(name).label
                if name in chosen:
                    parts.append(f"for {label}: {self.study.variable(name).level(chosen[name]).label}")
                else:
                    parts.append(f"{label} groups weighted by their share")
            else:
                basis = self.fit.design.number(name)
                parts.append(f"at average {self.study.variable(name).label} ({place(basis.mean, basis.sd)})")
        return [*parts, "other predictors held constant"] if others else parts

    def region(self, probed: Probed, focus: int, sign: int) -> str:
        """What a region says, in a few words: “slope above 0”, “returner higher”, “not told apart”."""
        if isinstance(probed.focal, NumberBasis):
            return {1: "slope above 0", -1: "slope below 0"}.get(sign, "not told apart from 0")
        other = probed.focal.levels[probed.focal.reference]
        one = next(x for x in probed.focal.levels if x.label == probed.foci[focus].name)
        return {1: f"{one.short} higher", -1: f"{other.short} higher"}.get(sign, "not told apart")

    def region_bounds(self, probed: Probed, low: float, high: float) -> str:
        """“below 5.38”, “47.75 to 59.70”, “the whole observed range”."""
        assert isinstance(probed.moderator, NumberBasis)
        sd = probed.moderator.sd
        if low == float("-inf") and high == float("inf"):
            return "the whole observed range"
        if low == float("-inf"):
            return f"below {place(high, sd)}"
        return f"above {place(low, sd)}" if high == float("inf") else f"{place(low, sd)} to {place(high, sd)}"

    def crossing(self, probed: Probed) -> str:
        """Whether and where the lines meet."""
        if not probed.crossing or probed.x is None:
            return ""
        where, x = probed.crossing[0], probed.x
        variable = self.study.variable(x.variable)
        if x.low <= where <= x.high:
            return f"lines meet inside the data, at {variable.label} {place(where, x.sd)}"
        return f"lines meet outside the data, at {variable.label} {place(where, x.sd)}"


def sample_sentence(evaluation: Evaluation) -> str:
    """Cases used against cases in the table, and which variables cost them."""
    sample, study = evaluation.sample, evaluation.study
    if study.outcome is None and not study.blocks:
        return f"The table has {counted(sample.n_table, 'case')}; which of them count depends on the model to come."
    if sample.n_lost == 0:
        return f"All {sample.n} cases of the table are complete on the model's variables."
    costs = [f"{x.any}" if x.only == x.any else f"{x.any}, {x.only} only there" for x in sample.lost]
    by = listed([f"{study.variable(x.variable).label} ({cost})" for x, cost in zip(sample.lost, costs)])
    return (
        f"{sample.n} of {counted(sample.n_table, 'case')} are complete on the model's variables; "
        f"{counted(sample.n_lost, 'case')} {'is' if sample.n_lost == 1 else 'are'} left out for missing values: {by}."
    )


def reader(evaluation: Evaluation) -> Reader | None:
    """The reader of an evaluation; None while there is no fit."""
    return Reader(evaluation.study, evaluation.fit) if evaluation.fit else None


def _repeats(term: Term) -> float:
    """How often b counts in a change of slope: 2 for a square, 6 for a cube, as derivatives have it."""
    return float(math.prod(math.factorial(term.variables.count(name)) for name in set(term.variables)))


def _without(names: tuple[str, ...], taken: tuple[str, ...]) -> list[str]:
    rest = list(names)
    for name in taken:
        rest.remove(name)
    return rest


def _with_units(text: str, variable: Variable) -> str:
    if not variable.unit:
        return text
    return f"{text} {variable.one if text in ('1', '1.0') and text == '1' else variable.many}"


def _capital(text: str) -> str:
    return text[:1].upper() + text[1:]


def _sentence(text: str, continued: bool = False) -> str:
    return (text[:1].lower() + text[1:] if continued else _capital(text)) + "."
