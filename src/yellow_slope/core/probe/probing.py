"""Probing: the focal predictor's effect along a moderator, at pick points, with regions and lines."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import combinations
from typing import assert_never

import numpy as np

from yellow_slope.core.arrays import BoolArray, FloatArray
from yellow_slope.core.errors import StudyError
from yellow_slope.core.fit.asked.families import family_p, holm
from yellow_slope.core.fit.design.bases import Basis, GroupBasis, NumberBasis
from yellow_slope.core.fit.design.codes import Comparison
from yellow_slope.core.fit.design.design import Along, Profile
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.fit.fitted.inference import ConditionalEffect, FTest
from yellow_slope.core.fit.fitted.steps import StepResult
from yellow_slope.core.probe.asking import asked_probes, asked_step
from yellow_slope.core.probe.curve import Crossover, curve
from yellow_slope.core.probe.mattering import mattering_of
from yellow_slope.core.probe.places import Everywhere, LevelPlace, Place, places_of, profile_at
from yellow_slope.core.probe.probed import AcrossPanels, Difference, Focus, Panel, PredictedLine, Probed, along_of
from yellow_slope.core.probe.regions import regions_of
from yellow_slope.core.probe.rows import focal_rows, weighted
from yellow_slope.core.probe.support import Near, Support, near_width, sides_of
from yellow_slope.core.probe.together import TogetherRegions, together_of
from yellow_slope.core.probe.units import factor, in_unit
from yellow_slope.core.study.probe import Compared, EffectUnit, Probe
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Term, variables_of
from yellow_slope.values import dataclass, field

MOST_COMPARED = 12
"""With more places than this, not every two are compared."""
MOST_LINES = 24
"""More lines than this are not drawn: nobody could tell them apart."""


def probe_fit(study: Study, fit: Fit, probe: Probe) -> Probed:
    """Answer a probe. StudyError with the reason where the model cannot."""
    model = study.model_of(probe.model)
    index = asked_step(study, probe)
    step = fit.steps[index]
    focal, moderator = fit.design.bases[probe.focal], fit.design.bases[probe.moderator]
    for basis in (focal, moderator):
        if isinstance(basis, GroupBasis) and len(basis.levels) < 2:
            label = study.variable(basis.variable).label
            raise StudyError(f"All cases of the model are in one group of {label}: there is nothing to probe.")
    second = fit.design.bases[probe.second.variable] if probe.second else None
    terms = [term for block in model.steps[: index + 1] for term in block.terms]
    profile, held = _held(study, fit, probe, terms)
    by = factor(fit, focal, probe.unit)
    unit = EffectUnit.TREATED if by is None else probe.unit
    by = 1.0 if by is None else by
    smallest = None if probe.smallest is None else in_unit(fit, focal, probe.smallest, unit)
    work = _Work(fit, step, model.level, probe, focal, moderator, held, by, smallest)
    seconds: tuple[Place | None, ...] = (None,)
    if probe.second is not None and second is not None:
        seconds = places_of(second, _numbers(fit, second), probe.second.pick)
    profiles = [profile_at(profile, second, place) for place in seconds]
    places = work.places(profiles)
    panels = tuple(work.panel(there, second, place, places) for there, place in zip(profiles, seconds))
    products = _products(terms, probe)
    top = [term for term in products if not any(other.contains(term) for other in products)]
    highest = tuple((term, _joint(fit, step, (term,))) for term in top)
    return Probed(
        probe,
        model,
        fit,
        index,
        focal,
        moderator,
        second,
        places,
        panels,
        work.across(panels, places),
        _joint(fit, step, products),
        products,
        highest,
        fit.values[probe.moderator],
        model.level,
        held,
        unit,
        by,
        smallest,
    )


def probe_all(study: Study, fits: dict[str, Fit], most: int | None = None) -> tuple[Probed, ...]:
    """Every asked probe (of the first `most`) that can be answered by the fits, in order."""
    found: list[Probed] = []
    for probe in asked_probes(study, fits.get(study.current))[:most]:
        fit = fits.get(probe.model or study.current)
        if fit is None:
            continue
        try:
            found.append(probe_fit(study, fit, probe))
        except StudyError:
            continue
    return tuple(found)


def _numbers(fit: Fit, basis: Basis) -> FloatArray:
    return np.asarray(fit.values[basis.variable], dtype=np.float64)


def _held(study: Study, fit: Fit, probe: Probe, terms: Sequence[Term]) -> tuple[Profile, BoolArray]:
    """The profile with what the probe holds, and the cases of the groups that are held at one of their levels.

    What does not stand in the step is not held: it may come back. StudyError for a level that no case is in.
    """
    profile, there = fit.design.typical(), np.ones(fit.y.size, dtype=bool)
    entered = set(variables_of(terms))
    looked_along = {probe.focal, probe.moderator, probe.second.variable if probe.second else probe.focal}
    meeting = {name for term in terms if probe.focal in term.variables for name in term.variables}
    for name, where in probe.held:
        if name not in entered or name in looked_along:
            continue
        variable, basis = study.variable(name), fit.design.bases[name]
        if isinstance(basis, NumberBasis):
            profile = profile.with_number(name, float(where))
            continue
        level = variable.level(str(where))
        if level.code not in basis.levels:
            raise StudyError(f"No case of the model is in the group “{level.label}” of {variable.label}.")
        profile = profile.with_level(name, basis.index(level.code))
        if name in meeting:
            there &= fit.values[name] == basis.index(level.code)
    return profile, there


def _products(terms: Sequence[Term], probe: Probe) -> tuple[Term, ...]:
    """The terms that hold both; along itself the predictor's own powers, else the predictor."""
    if probe.focal == probe.moderator:
        own = tuple(term for term in terms if term.variables.count(probe.focal) > 1)
        return own or tuple(term for term in terms if term.variables == (probe.focal,))
    both = {probe.focal, probe.moderator}
    return tuple(term for term in terms if both <= set(term.variables))


def _joint(fit: Fit, step: StepResult, products: Sequence[Term]) -> FTest:
    """The test of all columns of these terms."""
    chosen = [j for term in products for j in fit.design.columns_of(term) if j < step.n_columns]
    g = np.zeros((len(chosen), step.n_columns + 1))
    g[np.arange(len(chosen)), [j + 1 for j in chosen]] = 1.0
    return step.inference.test(g)


@dataclass(frozen=True, slots=True, eq=False)
class _Work:
    fit: Fit
    step: StepResult
    level: float
    probe: Probe
    focal: Basis
    moderator: Basis
    held: BoolArray
    """Shape (n,): the cases of the groups that are held at a level."""
    by: float
    """What turns an effect of the treated focal predictor into the unit of the effects."""
    smallest: float | None
    """The smallest effect that matters, in that unit."""
    at_levels: dict[object, tuple[Profile, FloatArray]] = field(default_factory=dict)
    """What was asked of the levels of a focal group: by profile and place, the profile and the rows."""

    @property
    def by_itself(self) -> bool:
        """Whether the predictor is probed along itself."""
        return self.probe.focal == self.probe.moderator

    def places(self, profiles: Sequence[Profile]) -> tuple[Place, ...]:
        """Where the moderator is looked at; one place where the effect is the same everywhere in all panels."""
        if self.by_itself:
            if isinstance(self.focal, GroupBasis):
                return (Everywhere(0.0),)
            size = self.step.n_columns + 1
            rows = [self.rows(None, profile, self._along())[:size] for profile in profiles]
            if not any(np.any(row[:, 1:]) for row in rows):
                return (Everywhere(self.focal.typical),)
        return places_of(self.moderator, _numbers(self.fit, self.moderator), self.probe.pick)

    def _along(self) -> Along | None:
        return along_of(self.moderator) if isinstance(self.moderator, NumberBasis) else None

    def contrasts(self) -> Sequence[Comparison | None]:
        """None for a number; for a group its comparisons."""
        return (None,) if isinstance(self.focal, NumberBasis) else self.focal.contrasts

    def rows(
        self, comparison: Comparison | None, profile: Profile, along: Along | None, place: Place | None = None
    ) -> FloatArray:
        """g of the focal effect, the moderator at a place. The rows of a group's levels are made once for all of its
        comparisons."""
        if isinstance(self.focal, NumberBasis):
            there = profile_at(profile, self.moderator, place)
            return focal_rows(self.fit, self.focal, comparison, self.by, there, along)
        key = (id(profile), place, along is None)
        if key not in self.at_levels:
            there = profile_at(profile, self.moderator, place)
            at = self.fit.design.rows_at_levels(there, self.focal.variable, along)
            self.at_levels[key] = (profile, at)
        weights = (self.focal.contrasts[0] if comparison is None else comparison).weights
        found = weighted(self.at_levels[key][1], weights)
        return found if self.by == 1.0 else found * self.by

    def panel(self, profile: Profile, second: Basis | None, at: Place | None, places: tuple[Place, ...]) -> Panel:
        """Effects, lines and means at one place of the second moderator."""
        here = self.held
        if second is not None and at is not None:
            away = np.abs(np.asarray(self.fit.values[second.variable], dtype=np.float64) - _value(at))
            here = here & (away <= near_width(second))
        found = [self.focus(comparison, places, profile, here) for comparison in self.contrasts()]
        lines = self.lines(places, profile)
        crossing, crossing_set = _crossing(lines)
        foci = tuple(found)
        together = self.step.inference.test(np.vstack([focus.changes for focus in foci]))
        means = self.means(places, profile)
        passing = self.together(foci, here)
        return Panel(at, foci, lines, means, crossing, crossing_set, profile, together, passing)

    def together(self, foci: tuple[Focus, ...], here: BoolArray) -> tuple[TogetherRegions, ...]:
        """Where several comparisons along a number pass together."""
        curves = [focus.curve for focus in foci if focus.curve is not None]
        regions = [focus.regions for focus in foci if focus.regions is not None]
        if len(curves) < 2 or len(regions) != len(foci):
            return ()
        support = Support(self.fit.values[self.moderator.variable], (((), here),), near_width(self.moderator))
        return together_of(curves, regions, self.probe.rule, _numbers(self.fit, self.moderator), support)

    def focus(
        self, comparison: Comparison | None, places: tuple[Place, ...], profile: Profile, here: BoolArray
    ) -> Focus:
        """One focal effect."""
        inference = self.step.inference
        support = self.support(comparison, here)
        near = tuple(self._near(support, place) for place in places)
        along = self._along()
        if along is not None and isinstance(self.moderator, NumberBasis):
            line = curve(inference, self.rows(comparison, profile, along), along, self.level)
            gs = [line.row(_value(place)) for place in places]
            effects = inference.estimate_all(gs, self.level)
            found = regions_of(line, self.probe.rule, _numbers(self.fit, self.moderator), support)
            changes = line.g[:, :1].T if line.is_level else line.g[:, 1:].T
            differences = self.differences(gs)
            test, zero = inference.test(changes), line.zero()
            sized = None
            if self.smallest is not None:
                sized = mattering_of(line, self.smallest, self.probe.rule, _numbers(self.fit, self.moderator), support)
            return Focus(comparison, line, effects, near, differences, test, found, zero, support, changes, sized)
        gs = self._rows_at(comparison, places, profile)
        effects = inference.estimate_all(gs, self.level)
        changes = np.vstack([_clean(g, gs[0]) for g in gs[1:]] if len(gs) > 1 else gs)
        test = inference.test(changes)
        return Focus(comparison, None, effects, near, self.differences(gs), test, None, None, support, changes)

    def support(self, comparison: Comparison | None, here: BoolArray) -> Support:
        """The cases of each side that is compared."""
        weights = None if comparison is None else comparison.weights
        values = self.fit.values[self.focal.variable]
        sides = sides_of(self.focal, weights, values, here)
        return Support(self.fit.values[self.moderator.variable], sides, near_width(self.moderator))

    def _near(self, support: Support, place: Place) -> tuple[Near, ...]:
        return support.everywhere() if isinstance(place, Everywhere) else support.near(_value(place))

    def _rows_at(self, comparison: Comparison | None, places: tuple[Place, ...], profile: Profile) -> list[FloatArray]:
        """g at every place of a moderator that is not along a curve."""
        size = self.step.inference.solution.size
        if self.by_itself:
            return [self.rows(comparison, profile, None)[:size, 0] for _ in places]
        if isinstance(self.focal, NumberBasis) and isinstance(self.moderator, GroupBasis):
            at = self.fit.design.rows_at_levels(profile, self.moderator.variable, derive=self.focal.variable)
            return [at[place.index, :size, 0] * self.by for place in places if isinstance(place, LevelPlace)]
        return [self.rows(comparison, profile, None, place)[:size, 0] for place in places]

    def differences(self, gs: list[FloatArray]) -> tuple[Difference, ...]:
        """Between the places as the probe asks; between every two only where they are not too many.

        The reference of a group's coding is the one that is taken from the others; of numbers the lower place is.
        """
        if len(gs) < 2:  # of a group along itself there is one place
            return ()
        pairs: list[tuple[int, int | None]]
        first = 0
        asked = Compared.PAIRS
        if isinstance(self.moderator, GroupBasis):
            first, asked = reference_of(self.moderator), self.probe.compared
        order = [first, *(i for i in range(len(gs)) if i != first)]
        match asked:
            case Compared.PAIRS:
                pairs = [(j, i) for i, j in combinations(order, 2)] if len(gs) <= MOST_COMPARED else []
            case Compared.REFERENCE:
                pairs = [(j, first) for j in order[1:]]
            case Compared.MEAN:
                pairs = [(i, None) for i in range(len(gs))] if len(gs) > 1 else []
            case _:
                assert_never(asked)
        rows = []
        for j, i in pairs:
            other = gs[i] if i is not None else _mean([g for k, g in enumerate(gs) if k != j])
            rows.append(_clean(gs[j], other))
        effects = self.step.inference.estimate_all(rows, self.level)
        adjusted = family_p(effects)
        return tuple(Difference(j, i, e, p) for (j, i), e, p in zip(pairs, effects, adjusted))

    def across(self, panels: tuple[Panel, ...], places: tuple[Place, ...]) -> tuple[tuple[AcrossPanels, ...], ...]:
        """Of each focal effect the differences between the outer places of both moderators."""
        if len(panels) < 2:
            return ()
        outer = range(len(places)) if isinstance(self.moderator, GroupBasis) else sorted({0, len(places) - 1})
        groups = isinstance(panels[0].second, LevelPlace)
        sides = range(len(panels)) if groups else sorted({0, len(panels) - 1})
        spots = [(k, i) for k in sides for i in outer]
        if len(spots) > MOST_COMPARED:
            return ()
        return tuple(self._across(panels, places, spots, comparison) for comparison in self.contrasts())

    def _across(
        self,
        panels: tuple[Panel, ...],
        places: tuple[Place, ...],
        spots: list[tuple[int, int]],
        comparison: Comparison | None,
    ) -> tuple[AcrossPanels, ...]:
        size = self.step.inference.solution.size
        gs = {(k, i): self.rows(comparison, panels[k].profile, None, places[i])[:size, 0] for k, i in spots}
        pairs = [(b, a) for a, b in combinations(spots, 2)]
        effects = self.step.inference.estimate_all([_clean(gs[b], gs[a]) for b, a in pairs], self.level)
        return tuple(AcrossPanels(b, a, e, p) for (b, a), e, p in zip(pairs, effects, holm([e.p for e in effects])))

    def lines(self, places: tuple[Place, ...], profile: Profile) -> tuple[PredictedLine, ...]:
        """The lines of the interaction plot that the cases tell of."""
        found: list[PredictedLine] = []
        inference, design = self.step.inference, self.fit.design
        if isinstance(self.focal, NumberBasis):
            along = along_of(self.focal)
            by_itself = self.by_itself
            some = places[: 1 if by_itself else MOST_LINES]
            if isinstance(self.moderator, GroupBasis) and not by_itself:
                at = design.rows_at_levels(profile, self.moderator.variable, along)
                rows = [at[place.index] for place in some if isinstance(place, LevelPlace)]
            else:
                rows = [
                    design.rows(profile if by_itself else profile_at(profile, self.moderator, p), along) for p in some
                ]
            found += [PredictedLine(i, None, curve(inference, row, along, self.level)) for i, row in enumerate(rows)]
        elif isinstance(self.moderator, NumberBasis):
            along = along_of(self.moderator)
            at = design.rows_at_levels(profile, self.focal.variable, along)[:MOST_LINES]
            found += [PredictedLine(None, i, curve(inference, row, along, self.level)) for i, row in enumerate(at)]
        return tuple(line for line in found if line.curve.is_estimable)

    def means(self, places: tuple[Place, ...], profile: Profile) -> tuple[tuple[ConditionalEffect, ...], ...]:
        """Predicted outcomes of groups by groups."""
        if isinstance(self.focal, NumberBasis) or isinstance(self.moderator, NumberBasis):
            return ()
        inference, design = self.step.inference, self.fit.design
        size = inference.solution.size
        by_itself = self.probe.focal == self.probe.moderator
        there = [profile] if by_itself else [profile_at(profile, self.moderator, place) for place in places]
        at = [design.rows_at_levels(p, self.focal.variable)[:, :size, 0] for p in there]
        each = [inference.estimate_all(rows, self.level) for rows in at]
        return tuple(tuple(found[i] for found in each) for i in range(len(self.focal.levels)))


def _value(place: Place) -> float:
    """Where a place stands along the moderator; of a level its position."""
    return float(place.index) if isinstance(place, LevelPlace) else place.value


def reference_of(group: GroupBasis) -> int:
    """The position of the level that is taken from the others: that of the coding, else the first."""
    return 0 if group.reference is None else group.reference


def _mean(gs: list[FloatArray]) -> FloatArray:
    return np.asarray(np.mean(gs, axis=0))


def _clean(a: FloatArray, b: FloatArray) -> FloatArray:
    """a - b, where what cancels is exactly 0."""
    out = a - b
    out[np.abs(out) <= 1e-13 * (np.abs(a) + np.abs(b))] = 0.0
    return out


def _crossing(lines: tuple[PredictedLine, ...]) -> tuple[tuple[float, ...], Crossover | None]:
    """Where all lines meet: the zero of the difference of the first two, if every other passes there as well."""
    if len(lines) < 2:
        return (), None
    apart = lines[1].curve.minus(lines[0].curve)
    if apart.is_level:
        return (), None
    zeros = apart.zeros()
    if len(zeros) != 1:
        return (), None
    at = np.array([*zeros, *apart.ends()])
    for line in lines[2:]:
        gaps = np.abs(line.curve.minus(lines[0].curve).effect(at))
        if gaps[0] > 1e-7 * gaps.max():
            return (), None
    return zeros, apart.zero()
