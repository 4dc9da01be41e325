"""Probing: the focal predictor's effect along a moderator, at pick points, with regions and lines."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import combinations

import numpy as np

from yellow_slope.core.arrays import FloatArray, IntArray
from yellow_slope.core.data.variable import Kind
from yellow_slope.core.errors import StudyError
from yellow_slope.core.fit.asked.families import family_p, holm
from yellow_slope.core.fit.design.bases import Basis, GroupBasis, NumberBasis
from yellow_slope.core.fit.design.codes import Comparison
from yellow_slope.core.fit.design.design import Along, Profile
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.fit.fitted.inference import ConditionalEffect, FTest
from yellow_slope.core.fit.fitted.steps import StepResult
from yellow_slope.core.probe.curve import Curve, Region, Zero, curve
from yellow_slope.core.study.model import Model
from yellow_slope.core.study.probe import PickPoints, Probe
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Term, variables_of

NEAR = 0.25
"""Cases near a place: within a quarter of the moderator's SD on either side."""
MOST_COMPARED = 12
"""With more places than this, not every two are compared."""
MOST_LINES = 24
"""More lines than this are not drawn: nobody could tell them apart."""
EVERYWHERE = "everywhere"


@dataclass(frozen=True, slots=True)
class Place:
    """Where a moderator is looked at: a value of a number, or a level of a group."""

    name: str
    """Of a pick point; empty for a level, which is named by its label."""
    value: float
    """Of a group the position among the levels present."""
    near: int
    """Cases near that value, or in that group."""
    code: str | None = None
    """The level's code; None for a number."""


@dataclass(frozen=True, slots=True)
class Difference:
    """The focal effect at one place minus that at another, both by position."""

    of: int
    minus: int
    effect: ConditionalEffect
    p_holm: float
    """Holm's (1979) adjusted p where the differences are a family of tests; NaN where they are one and the same."""


@dataclass(frozen=True, slots=True, eq=False)
class Focus:
    """One focal effect: the slope of a number, or one comparison of a group."""

    comparison: Comparison | None
    """None for the slope of a number."""
    curve: Curve | None
    """None where the moderator is a group."""
    effects: tuple[ConditionalEffect, ...]
    """One per place."""
    regions: tuple[Region, ...]
    differences: tuple[Difference, ...]
    zero: Zero | None


@dataclass(frozen=True, slots=True, eq=False)
class Line:
    """Predicted outcome along a number: for a place of the moderator, or for a focal group."""

    place: int | None
    """Position of the moderator's place."""
    level: int | None
    """Position of the focal group's level."""
    curve: Curve


@dataclass(frozen=True, slots=True, eq=False)
class Panel:
    """What is seen at one place of the second moderator."""

    second: Place | None
    foci: tuple[Focus, ...]
    lines: tuple[Line, ...]
    """Along the focal number, or along the number moderator with one line per focal group; empty for two groups."""
    means: tuple[tuple[ConditionalEffect, ...], ...]
    """Two groups: predicted outcome, focal levels by places; otherwise empty."""
    crossing: tuple[float, ...]
    """Where the lines meet, on their x axis; empty unless all meet in one place."""
    crossing_set: Zero | None
    profile: Profile


@dataclass(frozen=True, slots=True)
class Across:
    """A difference of two focal effects at (panel, place) each."""

    of: tuple[int, int]
    minus: tuple[int, int]
    effect: ConditionalEffect
    p_holm: float


@dataclass(frozen=True, slots=True, eq=False)
class Probed:
    """Everything that is shown of one probe."""

    probe: Probe
    model: Model
    fit: Fit
    step: int
    focal: Basis
    moderator: Basis
    second: Basis | None
    places: tuple[Place, ...]
    panels: tuple[Panel, ...]
    across: tuple[Across, ...]
    """Three-way: differences between places of both moderators (Dawson & Richter 2006), of the first focus."""
    interaction: FTest
    """Joint test of all columns that hold both; of a predictor probed along itself those of its own curvature."""
    observed: FloatArray | IntArray
    """The moderator over the model's cases."""
    level: float

    @property
    def first(self) -> Panel:
        """The first panel; the only one without a second moderator."""
        return self.panels[0]

    @property
    def foci(self) -> tuple[Focus, ...]:
        """The focal effects of the first panel."""
        return self.first.foci

    @property
    def lines(self) -> tuple[Line, ...]:
        """The lines of the first panel."""
        return self.first.lines

    @property
    def means(self) -> tuple[tuple[ConditionalEffect, ...], ...]:
        """The cell means of the first panel."""
        return self.first.means

    @property
    def crossing(self) -> tuple[float, ...]:
        """Where the lines of the first panel meet."""
        return self.first.crossing

    @property
    def by_itself(self) -> bool:
        """Whether the predictor is probed along itself."""
        return self.probe.focal == self.probe.moderator

    @property
    def x(self) -> NumberBasis | None:
        """The number on the interaction plot's x axis; None for two groups."""
        if isinstance(self.focal, NumberBasis):
            return self.focal
        return self.moderator if isinstance(self.moderator, NumberBasis) else None

    def near(self, value: float) -> int:
        """Cases near a value of a number moderator."""
        assert isinstance(self.moderator, NumberBasis)
        return int(np.sum(np.abs(self.observed - value) <= NEAR * self.moderator.sd))

    def line_at(self, value: float, panel: int = 0) -> Line:
        """The interaction plot's line for any value of a number moderator (the handle's line)."""
        assert isinstance(self.focal, NumberBasis)
        along = along_of(self.focal)
        profile = self.panels[panel].profile.with_number(self.probe.moderator, value)
        rows = self.fit.design.rows(profile, along)
        return Line(None, None, curve(self.fit.steps[self.step].inference, rows, along, self.level))


def along_of(basis: NumberBasis) -> Along:
    """The observed range of a number, as -1 to 1 in its coordinates."""
    low, high = basis.axis.coordinate(basis.low), basis.axis.coordinate(basis.high)
    return Along(basis.variable, (low + high) / 2, abs(high - low) / 2 or 1.0, basis.axis)


def range_of(basis: NumberBasis) -> tuple[float, float]:
    """The places between which a bound counts as inside the data. The one rule for it."""
    return basis.low, basis.high


# ---- what can be probed


def probeable(study: Study, step: int | None = None, model: Model | None = None) -> tuple[tuple[str, str], ...]:
    """Pairs of variables that stand in one product, in block order up to a step; the last entered last."""
    blocks = (model or study.model).steps
    found: dict[tuple[str, str], None] = {}
    for block in blocks if step is None else blocks[: step + 1]:
        for term in block.terms:
            for a, b in combinations(dict.fromkeys(term.variables), 2):
                if (b, a) not in found:
                    found.setdefault((a, b))
    return tuple(found)


def default_probe(study: Study) -> Probe | None:
    """The study's first probe of the current model that can be asked, else the product entered last. The one rule."""
    pairs = probeable(study, study.model.reported_step) or probeable(study)
    names = set(variables_of(study.model.active_terms))
    for probe in study.probes:
        if probe.model not in (None, study.current):
            continue
        both = (probe.focal, probe.moderator)
        if both in pairs or both[::-1] in pairs or (both[0] == both[1] and both[0] in names):
            return probe
    return Probe(*pairs[-1]) if pairs else None


def asked_probes(study: Study) -> tuple[Probe, ...]:
    """All probes of the study, or without any the default one: what report and results answer."""
    first = default_probe(study)
    return study.probes or ((first,) if first is not None else ())


def first_step(study: Study, probe: Probe) -> int:
    """The first step that can answer the probe. StudyError if none can."""
    model = study.model_of(probe.model)
    for name in dict.fromkeys((probe.focal, probe.moderator, *([probe.second.variable] if probe.second else []))):
        study.variable(name)
        if name not in variables_of(model.active_terms):
            raise StudyError(f"{study.variable(name).label} is not in the model; it cannot be probed.")
    for index, block in enumerate(model.steps):
        if any(_answers(term, probe) for term in block.terms):
            return index
    labels = [study.variable(name).label for name in (probe.focal, probe.moderator)]
    raise StudyError(f"No term multiplies {labels[0]} and {labels[1]}, the two variables that were to be probed.")


def checked_step(study: Study, probe: Probe) -> int:
    """The step that a probe asks about. StudyError with the reason where the model cannot answer it."""
    model = study.model_of(probe.model)
    earliest = first_step(study, probe)
    index = model.step_index(probe.step)
    if index < 0:
        raise StudyError(f"There is no step “{probe.step}” in the model.")
    if probe.step is None:
        index = max(index, earliest)
    if index < earliest:
        raise StudyError(f"Step {index + 1} has no product of the two variables; step {earliest + 1} is the first.")
    if probe.pick.rule == "own values" and not probe.pick.values:
        raise StudyError("No pick points were given.")
    if probe.second is not None:
        if probe.second.variable in (probe.focal, probe.moderator):
            raise StudyError("A second moderator must be another variable than the focal predictor and the moderator.")
        entered = [t for block in model.steps[: index + 1] for t in block.terms]
        if not any(probe.focal in t.variables and probe.second.variable in t.variables for t in entered):
            label = study.variable(probe.second.variable).label
            raise StudyError(f"Step {index + 1} has no product of {study.variable(probe.focal).label} and {label}.")
    for name, _ in probe.held:
        study.variable(name)
        if name not in variables_of(model.active_terms):
            raise StudyError(f"{study.variable(name).label} is not in the model; it cannot be held at a place.")
    return index


def _answers(term: Term, probe: Probe) -> bool:
    return probe.focal in term.variables and probe.moderator in term.variables


def pick_points(basis: NumberBasis, observed: FloatArray, pick: PickPoints) -> tuple[tuple[str, float], ...]:
    """Names and values of the pick points over the model's cases; percentiles by interpolation at 1 + (n - 1)p."""
    if pick.rule == "own values":
        return tuple(("own value", value) for value in pick.values)
    if pick.rule == "percentiles":
        low, middle, high = np.quantile(observed, [0.16, 0.5, 0.84])
        return (("low, 16th percentile", low), ("median", middle), ("high, 84th percentile", high))
    if pick.rule == "quartiles":
        low, middle, high = np.quantile(observed, [0.25, 0.5, 0.75])
        return (("lower quartile", low), ("median", middle), ("upper quartile", high))
    if pick.rule == "extremes":
        return (("lowest", basis.low), ("mean", basis.mean), ("highest", basis.high))
    return (
        ("low, 1 SD below", basis.mean - basis.sd),
        ("mean", basis.mean),
        ("high, 1 SD above", basis.mean + basis.sd),
    )


# ---- probing


def probe_fit(study: Study, fit: Fit, probe: Probe) -> Probed:
    """Answer a probe. StudyError with the reason where the model cannot."""
    model = study.model_of(probe.model)
    index = checked_step(study, probe)
    step = fit.steps[index]
    focal, moderator = fit.design.bases[probe.focal], fit.design.bases[probe.moderator]
    for basis in (focal, moderator):
        if isinstance(basis, GroupBasis) and len(basis.levels) < 2:
            label = study.variable(basis.variable).label
            raise StudyError(f"All cases of the model are in one group of {label}: there is nothing to probe.")
    second = fit.design.bases[probe.second.variable] if probe.second else None
    work = _Work(fit, step, model.level, probe, focal, moderator)
    profile = _held(study, fit, probe)
    observed = fit.values[probe.moderator]
    places = work.places(observed)
    seconds: tuple[Place | None, ...] = (None,)
    if probe.second is not None and second is not None:
        seconds = _places(second, fit.values[probe.second.variable], probe.second.pick)
    panels = tuple(work.panel(_at(profile, second, place), place, places) for place in seconds)
    return Probed(
        probe, model, fit, index, focal, moderator, second, places, panels, work.across(panels, places),
        _joint(fit, step, probe), observed, model.level,
    )  # fmt: skip


def probe_all(study: Study, fits: dict[str, Fit]) -> tuple[Probed, ...]:
    """Every asked probe that can be answered by the fits, in order."""
    found: list[Probed] = []
    for probe in asked_probes(study):
        fit = fits.get(probe.model or study.current)
        if fit is None:
            continue
        try:
            found.append(probe_fit(study, fit, probe))
        except StudyError:
            continue
    return tuple(found)


def _held(study: Study, fit: Fit, probe: Probe) -> Profile:
    profile = fit.design.typical()
    for name, where in probe.held:
        variable = study.variable(name)
        basis = fit.design.bases[name]
        if isinstance(basis, GroupBasis):
            code = variable.named_level(str(where)).code
            if code not in basis.levels:
                raise StudyError(
                    f"No case of the model is in the group “{variable.level(code).label}” of {variable.label}."
                )
            profile = profile.with_level(name, basis.index(code))
        else:
            try:
                profile = profile.with_number(name, float(where))
            except ValueError:
                raise StudyError(f"{variable.label} is a number; it cannot be held at “{where}”.") from None
    return profile


def _at(profile: Profile, basis: Basis | None, place: Place | None) -> Profile:
    if basis is None or place is None or place.name == EVERYWHERE:
        return profile
    if isinstance(basis, GroupBasis):
        return profile.with_level(basis.variable, int(place.value))
    return profile.with_number(basis.variable, place.value)


def _places(basis: Basis, observed: FloatArray | IntArray, pick: PickPoints) -> tuple[Place, ...]:
    if isinstance(basis, GroupBasis):
        return tuple(
            Place("", float(i), int(count), code) for i, (code, count) in enumerate(zip(basis.levels, basis.counts))
        )
    values = np.asarray(observed, dtype=np.float64)
    return tuple(
        Place(name, float(value), int(np.sum(np.abs(values - value) <= NEAR * basis.sd)))
        for name, value in pick_points(basis, values, pick)
    )


@dataclass(frozen=True, slots=True, eq=False)
class _Work:
    fit: Fit
    step: StepResult
    level: float
    probe: Probe
    focal: Basis
    moderator: Basis

    def places(self, observed: FloatArray | IntArray) -> tuple[Place, ...]:
        """Where the moderator is looked at; one place where the effect is the same everywhere."""
        if self.probe.focal == self.probe.moderator:
            rows = self.rows(None, self.fit.design.typical(), self._along())
            if isinstance(self.focal, GroupBasis) or not np.any(rows[: self.step.n_columns + 1, 1:]):
                basis = self.focal
                value = 0.0 if isinstance(basis, GroupBasis) else basis.typical
                return (Place(EVERYWHERE, value, self.fit.y.size),)
        return _places(self.moderator, observed, self.probe.pick)

    def _along(self) -> Along | None:
        return along_of(self.moderator) if isinstance(self.moderator, NumberBasis) else None

    def contrasts(self) -> Sequence[Comparison | None]:
        """None for a number; for a group its comparisons."""
        return (None,) if isinstance(self.focal, NumberBasis) else self.focal.contrasts

    def rows(self, comparison: Comparison | None, profile: Profile, along: Along | None) -> FloatArray:
        """g: the derivative for a number, the weighted sum of the levels' rows for a comparison."""
        design = self.fit.design
        if isinstance(self.focal, NumberBasis):
            return design.rows(profile, along, derive=self.focal.variable)
        if comparison is None:
            comparison = self.focal.contrasts[0]
        return level_rows(self.fit, self.focal, comparison.weights, profile, along)

    def panel(self, profile: Profile, second: Place | None, places: tuple[Place, ...]) -> Panel:
        """Effects, lines and means at one place of the second moderator."""
        foci = tuple(self.focus(comparison, places, profile) for comparison in self.contrasts())
        lines = self.lines(places, profile)
        crossing, crossing_set = _crossing(lines)
        return Panel(second, foci, lines, self.means(places, profile), crossing, crossing_set, profile)

    def focus(self, comparison: Comparison | None, places: tuple[Place, ...], profile: Profile) -> Focus:
        """One focal effect."""
        inference = self.step.inference
        along = self._along()
        if along is not None and isinstance(self.moderator, NumberBasis):
            line = curve(inference, self.rows(comparison, profile, along), along, self.level)
            observed = np.asarray(self.fit.values[self.moderator.variable], dtype=np.float64)
            effects = tuple(line.at(place.value) for place in places)
            gs = [line.row(place.value) for place in places]
            regions = () if line.is_level else line.regions(observed, self.probe.band)
            return Focus(comparison, line, effects, regions, self.differences(gs), line.zero())
        gs = self._rows_at(comparison, places, profile)
        effects = tuple(inference.estimate(g, self.level) for g in gs)
        return Focus(comparison, None, effects, (), self.differences(gs), None)

    def _rows_at(self, comparison: Comparison | None, places: tuple[Place, ...], profile: Profile) -> list[FloatArray]:
        """g at every place of a moderator that is not along a curve."""
        size = self.step.inference.solution.size
        if self.probe.focal == self.probe.moderator:
            return [self.rows(comparison, profile, None)[:size, 0] for _ in places]
        if isinstance(self.focal, NumberBasis) and isinstance(self.moderator, GroupBasis):
            at = self.fit.design.rows_at_levels(profile, self.moderator.variable, derive=self.focal.variable)
            return [at[int(place.value), :size, 0] for place in places]
        return [self.rows(comparison, _at(profile, self.moderator, place), None)[:size, 0] for place in places]

    def differences(self, gs: list[FloatArray]) -> tuple[Difference, ...]:
        """Between every two places, unless they are too many."""
        if len(gs) > MOST_COMPARED:
            return ()
        pairs = [(j, i) for i, j in combinations(range(len(gs)), 2)]
        effects = [self.step.inference.estimate(_clean(gs[j], gs[i]), self.level) for j, i in pairs]
        adjusted = family_p(effects)
        return tuple(Difference(j, i, e, p) for (j, i), e, p in zip(pairs, effects, adjusted))

    def across(self, panels: tuple[Panel, ...], places: tuple[Place, ...]) -> tuple[Across, ...]:
        """Differences between the outer places of both moderators."""
        if len(panels) < 2:
            return ()
        outer = range(len(places)) if isinstance(self.moderator, GroupBasis) else sorted({0, len(places) - 1})
        number = panels[0].second is not None and panels[0].second.code is None
        sides = sorted({0, len(panels) - 1}) if number else range(len(panels))
        spots = [(k, i) for k in sides for i in outer]
        if len(spots) > MOST_COMPARED:
            return ()
        comparison = self.contrasts()[0]
        size = self.step.inference.solution.size
        gs = {
            (k, i): self.rows(comparison, _at(panels[k].profile, self.moderator, places[i]), None)[:size, 0]
            for k, i in spots
        }
        pairs = [(b, a) for a, b in combinations(spots, 2)]
        effects = [self.step.inference.estimate(_clean(gs[b], gs[a]), self.level) for b, a in pairs]
        return tuple(Across(b, a, e, p) for (b, a), e, p in zip(pairs, effects, holm([e.p for e in effects])))

    def lines(self, places: tuple[Place, ...], profile: Profile) -> tuple[Line, ...]:
        """The lines of the interaction plot that the cases tell of."""
        found: list[Line] = []
        inference, design = self.step.inference, self.fit.design
        if isinstance(self.focal, NumberBasis):
            along = along_of(self.focal)
            by_itself = self.probe.focal == self.probe.moderator
            some = places[: 1 if by_itself else MOST_LINES]
            if isinstance(self.moderator, GroupBasis) and not by_itself:
                at = design.rows_at_levels(profile, self.moderator.variable, along)
                rows = [at[int(place.value)] for place in some]
            else:
                rows = [design.rows(profile if by_itself else _at(profile, self.moderator, p), along) for p in some]
            found += [Line(i, None, curve(inference, row, along, self.level)) for i, row in enumerate(rows)]
        elif isinstance(self.moderator, NumberBasis):
            along = along_of(self.moderator)
            at = design.rows_at_levels(profile, self.focal.variable, along)[:MOST_LINES]
            found += [Line(None, i, curve(inference, row, along, self.level)) for i, row in enumerate(at)]
        return tuple(line for line in found if line.curve.is_estimable)

    def means(self, places: tuple[Place, ...], profile: Profile) -> tuple[tuple[ConditionalEffect, ...], ...]:
        """Predicted outcomes of groups by groups."""
        if isinstance(self.focal, NumberBasis) or isinstance(self.moderator, NumberBasis):
            return ()
        inference, design = self.step.inference, self.fit.design
        size = inference.solution.size
        by_itself = self.probe.focal == self.probe.moderator
        there = [profile] if by_itself else [_at(profile, self.moderator, place) for place in places]
        at = [design.rows_at_levels(p, self.focal.variable)[:, :size, 0] for p in there]
        return tuple(
            tuple(inference.estimate(rows[i], self.level) for rows in at) for i in range(len(self.focal.levels))
        )


def level_rows(
    fit: Fit, basis: GroupBasis, weights: FloatArray, profile: Profile, along: Along | None = None
) -> FloatArray:
    """Shape (1 + columns, degree + 1): the weighted sum of the rows of a group's levels."""
    here = np.flatnonzero(weights)
    whole = fit.design.rows_at_levels(profile, basis.variable, along)[here] * weights[here, None, None]
    total = whole.sum(axis=0)
    total[np.abs(total) <= 1e-14 * np.abs(whole).sum(axis=0)] = 0.0
    return np.asarray(total)


def _clean(a: FloatArray, b: FloatArray) -> FloatArray:
    """a - b, where what cancels is exactly 0."""
    out = a - b
    out[np.abs(out) <= 1e-13 * (np.abs(a) + np.abs(b))] = 0.0
    return out


def _joint(fit: Fit, step: StepResult, probe: Probe) -> FTest:
    """The test of all columns that hold both; along itself that of the predictor's own curvature, else of its columns."""
    columns = list(enumerate(fit.design.columns[: step.n_columns]))
    if probe.focal == probe.moderator:
        own = [j for j, c in columns if c.term.variables.count(probe.focal) > 1]
        chosen = own or [j for j, c in columns if c.term.variables == (probe.focal,)]
    else:
        both = {probe.focal, probe.moderator}
        chosen = [j for j, c in columns if both <= set(c.term.variables)]
    g = np.zeros((len(chosen), step.n_columns + 1))
    g[np.arange(len(chosen)), [j + 1 for j in chosen]] = 1.0
    return step.inference.test(g)


def _crossing(lines: tuple[Line, ...]) -> tuple[tuple[float, ...], Zero | None]:
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


def other_groups(study: Study, probed: Probed) -> tuple[str, ...]:
    """Group variables that stand in a product with the focal predictor and are neither moderator."""
    names = {
        n for t in probed.model.active_terms if t.is_product and probed.probe.focal in t.variables for n in t.variables
    }
    taken = {probed.probe.focal, probed.probe.moderator, probed.probe.second.variable if probed.probe.second else ""}
    return tuple(
        n for n in variables_of(probed.model.active_terms)
        if n in names - taken and study.variable(n).kind is Kind.GROUP
    )  # fmt: skip
