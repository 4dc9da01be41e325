"""Probing a product: the focal predictor's effect along a moderator, at pick points, with regions."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from yellow_slope.core.curve import ConditionalEffect, Curve, Region, combination, curve
from yellow_slope.core.design import Along, GroupBasis, NumberBasis, Profile
from yellow_slope.core.errors import StudyError
from yellow_slope.core.evaluate import Fit
from yellow_slope.core.steps import FTest, StepResult, wald
from yellow_slope.core.study import PickPoints, Probe, Study
from yellow_slope.core.table import FloatArray, IntArray

NEAR = 0.25
"""Cases near a place: within a quarter of the moderator's SD on either side."""
REGION_RULES = ("each point", "all points at once")


@dataclass(frozen=True, slots=True)
class Place:
    """Where the moderator is looked at: a value of a number, or a level (by position) of a group."""

    name: str
    value: float
    near: int
    """Cases near that value, or in that group."""


@dataclass(frozen=True, slots=True)
class Difference:
    """The focal effect at one level of a group moderator minus that at another."""

    of: str
    minus: str
    effect: ConditionalEffect


@dataclass(frozen=True, slots=True, eq=False)
class Focus:
    """One focal effect: the slope of a number, or one group minus the reference group."""

    name: str
    """Empty for a number, else the group compared."""
    curve: Curve | None
    """None where the moderator is a group."""
    effects: tuple[ConditionalEffect, ...]
    """One per place."""
    regions: tuple[Region, ...]
    differences: tuple[Difference, ...]


@dataclass(frozen=True, slots=True, eq=False)
class Line:
    """Predicted outcome along a number, for one place of the other variable."""

    name: str
    curve: Curve


@dataclass(frozen=True, slots=True, eq=False)
class Probed:
    """Everything that the waypoint Probe shows of one product."""

    probe: Probe
    step: int
    focal: NumberBasis | GroupBasis
    moderator: NumberBasis | GroupBasis
    places: tuple[Place, ...]
    foci: tuple[Focus, ...]
    lines: tuple[Line, ...]
    """Along the focal number, or along the number moderator with one line per focal group; empty for two groups."""
    means: tuple[tuple[ConditionalEffect, ...], ...]
    """Two groups: predicted outcome, focal levels by moderator levels; otherwise empty."""
    interaction: FTest
    """Joint test of all columns that hold both."""
    observed: FloatArray | IntArray
    """The moderator over the model's cases."""
    crossing: tuple[float, ...]
    """Where the lines meet, on their x axis; empty unless all meet in one place."""
    line_of: LineMaker

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


@dataclass(frozen=True, slots=True, eq=False)
class LineMaker:
    """Makes the interaction plot's line for any value of a number moderator (the handle's line)."""

    fit: Fit
    step: StepResult
    level: float
    profile: Profile
    focal: str
    moderator: str

    def at(self, value: float) -> Line:
        """Predicted outcome along the focal number, with the moderator at that value."""
        profile = self.profile.with_number(self.moderator, value)
        along = range_of(self.fit.design.number(self.focal))
        rows = self.fit.design.rows(profile, along)
        return Line("", curve(self.step, rows, along, self.level))


def range_of(basis: NumberBasis) -> Along:
    """The observed range of a number, as -1 to 1."""
    return Along(basis.variable, (basis.low + basis.high) / 2, (basis.high - basis.low) / 2 or 1.0)


def probeable(study: Study, step: int | None = None) -> tuple[tuple[str, str], ...]:
    """Pairs of variables that stand in one product, in block order up to a step; the last entered last."""
    blocks = study.blocks if step is None else study.blocks[: step + 1]
    found: dict[tuple[str, str], None] = {}
    for block in blocks:
        for term in block.terms:
            names = list(dict.fromkeys(term.variables))
            for i, a in enumerate(names):
                for b in names[i + 1 :]:
                    if (b, a) not in found:
                        found.setdefault((a, b))
    return tuple(found)


def default_probe(study: Study) -> Probe | None:
    """The study's first probe that still stands on a product, else the product entered last."""
    pairs = probeable(study)
    for probe in study.probes:
        if (probe.focal, probe.moderator) in pairs or (probe.moderator, probe.focal) in pairs:
            return probe
    return Probe(*pairs[-1]) if pairs else None


def first_step(study: Study, probe: Probe) -> int:
    """The first step that holds a product of both variables."""
    for index, block in enumerate(study.blocks):
        if any(probe.focal in t.variables and probe.moderator in t.variables for t in block.terms):
            return index
    raise StudyError("No term multiplies the two variables that were to be probed.")


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


def probe_fit(study: Study, fit: Fit, probe: Probe, rule: str = "each point") -> Probed:
    """Probe a product. StudyError if the two variables stand in no common term of the step."""
    earliest = first_step(study, probe)
    index = len(fit.steps) - 1 if probe.step is None else min(probe.step, len(fit.steps) - 1)
    if index < earliest:
        raise StudyError(f"Step {index + 1} has no product of the two variables; step {earliest + 1} is the first.")
    step = fit.steps[index]
    focal, moderator = fit.design.bases[probe.focal], fit.design.bases[probe.moderator]
    for basis in (focal, moderator):
        if isinstance(basis, GroupBasis) and len(basis.levels) < 2:
            label = study.variable(basis.variable).label
            raise StudyError(f"All cases of the model are in one group of {label}: there is nothing to probe.")
    profile = _held(fit, probe)
    observed = fit.values[probe.moderator]
    places = _places(moderator, observed, probe.pick)
    foci = tuple(
        _focus(fit, step, study.level, focus, places, profile, (focal, moderator), rule) for focus in _contrasts(focal)
    )
    maker = LineMaker(fit, step, study.level, profile, probe.focal, probe.moderator)
    lines = _lines(fit, step, study.level, profile, focal, moderator, places)
    return Probed(
        probe, index, focal, moderator, places, foci, lines,
        _cell_means(fit, step, study.level, profile, focal, moderator),
        _joint(fit, step, probe), observed, _crossing(lines), maker,
    )  # fmt: skip


def _held(fit: Fit, probe: Probe) -> Profile:
    profile = fit.design.typical()
    for name, code in probe.held:
        basis = fit.design.bases.get(name)
        if isinstance(basis, GroupBasis) and any(level.code == code for level in basis.levels):
            profile = profile.with_level(name, basis.index(code))
    return profile


def _places(
    moderator: NumberBasis | GroupBasis, observed: FloatArray | IntArray, pick: PickPoints
) -> tuple[Place, ...]:
    if isinstance(moderator, GroupBasis):
        named = zip(moderator.levels, moderator.counts)
        return tuple(Place(level.label, float(i), int(count)) for i, (level, count) in enumerate(named))
    values = np.asarray(observed, dtype=np.float64)
    return tuple(
        Place(name, float(value), int(np.sum(np.abs(values - value) <= NEAR * moderator.sd)))
        for name, value in pick_points(moderator, values, pick)
    )


def _contrasts(focal: NumberBasis | GroupBasis) -> Sequence[int | None]:
    """None for a number; for a group the position of each level that is compared with the reference."""
    if isinstance(focal, NumberBasis):
        return [None]
    return [i for i in range(len(focal.levels)) if i != focal.reference]


def _effect_rows(
    fit: Fit, focal: NumberBasis | GroupBasis, contrast: int | None, profile: Profile, along: Along | None
) -> FloatArray:
    """g: the derivative for a number, the difference of two rows for groups."""
    if isinstance(focal, NumberBasis):
        return fit.design.rows(profile, along, derive=focal.variable)
    assert contrast is not None
    one = fit.design.rows(profile.with_level(focal.variable, contrast), along)
    other = fit.design.rows(profile.with_level(focal.variable, focal.reference), along)
    return one - other


def _focus(
    fit: Fit, step: StepResult, level: float, contrast: int | None, places: tuple[Place, ...], profile: Profile,
    bases: tuple[NumberBasis | GroupBasis, NumberBasis | GroupBasis], rule: str,
) -> Focus:  # fmt: skip
    focal, moderator = bases
    name = focal.levels[contrast].label if isinstance(focal, GroupBasis) and contrast is not None else ""
    if isinstance(moderator, NumberBasis):
        along = range_of(moderator)
        line = curve(step, _effect_rows(fit, focal, contrast, profile, along), along, level)
        observed = np.asarray(fit.values[moderator.variable], dtype=np.float64)
        effects = tuple(line.at(place.value) for place in places)
        return Focus(name, line, effects, line.regions(observed, rule), ())
    rows = [
        _effect_rows(fit, focal, contrast, profile.with_level(moderator.variable, i), None)[:, 0]
        for i in range(len(moderator.levels))
    ]
    effects = tuple(combination(step, g, level) for g in rows)
    differences = tuple(
        Difference(places[j].name, places[i].name, combination(step, rows[j] - rows[i], level))
        for i in range(len(rows))
        for j in range(i + 1, len(rows))
    )
    return Focus(name, None, effects, (), differences)


def _lines(
    fit: Fit, step: StepResult, level: float, profile: Profile,
    focal: NumberBasis | GroupBasis, moderator: NumberBasis | GroupBasis, places: tuple[Place, ...],
) -> tuple[Line, ...]:  # fmt: skip
    found: list[Line] = []
    if isinstance(focal, NumberBasis):
        along = range_of(focal)
        for i, place in enumerate(places):
            here = (
                profile.with_level(moderator.variable, i)
                if isinstance(moderator, GroupBasis)
                else profile.with_number(moderator.variable, place.value)
            )
            found.append(Line(place.name, curve(step, fit.design.rows(here, along), along, level)))
    elif isinstance(moderator, NumberBasis):
        along = range_of(moderator)
        for i, group in enumerate(focal.levels):
            rows = fit.design.rows(profile.with_level(focal.variable, i), along)
            found.append(Line(group.label, curve(step, rows, along, level)))
    return tuple(found)


def _cell_means(
    fit: Fit, step: StepResult, level: float, profile: Profile,
    focal: NumberBasis | GroupBasis, moderator: NumberBasis | GroupBasis,
) -> tuple[tuple[ConditionalEffect, ...], ...]:  # fmt: skip
    if isinstance(focal, NumberBasis) or isinstance(moderator, NumberBasis):
        return ()
    out: list[tuple[ConditionalEffect, ...]] = []
    for i in range(len(focal.levels)):
        at = profile.with_level(focal.variable, i)
        out.append(
            tuple(
                combination(step, fit.design.rows(at.with_level(moderator.variable, j))[:, 0], level)
                for j in range(len(moderator.levels))
            )
        )
    return tuple(out)


def _joint(fit: Fit, step: StepResult, probe: Probe) -> FTest:
    columns = enumerate(fit.design.columns[: step.n_columns])
    both = {probe.focal, probe.moderator}
    rows = np.array([j + 1 for j, column in columns if both <= set(column.term.variables)], dtype=np.int64)
    return wald(step.b[rows], step.root[rows], step.s2, step.df)


def _crossing(lines: tuple[Line, ...]) -> tuple[float, ...]:
    """Where all lines meet: the zero of the difference of the first two, if every other passes there as well."""
    if len(lines) < 2:
        return ()
    first = lines[0].curve
    apart = replace(first, g=_padded(lines[1].curve.g, first.g) - _padded(first.g, lines[1].curve.g))
    zeros = apart.zeros()
    if len(zeros) != 1:
        return ()
    here = np.array(zeros)
    heights = np.array([float(line.curve.effect(here)[0]) for line in lines])
    scale = float(np.abs(heights).max()) or 1.0
    return zeros if np.ptp(heights) <= 1e-7 * scale else ()


def _padded(a: FloatArray, like: FloatArray) -> FloatArray:
    width = max(a.shape[1], like.shape[1])
    return np.pad(a, ((0, 0), (0, width - a.shape[1])))
