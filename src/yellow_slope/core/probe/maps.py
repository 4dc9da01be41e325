"""What is seen over two numbers: the effect over two moderators, the predicted outcome over two predictors."""

from __future__ import annotations

from collections.abc import Callable
from weakref import WeakKeyDictionary

import numpy as np

from yellow_slope.core.arrays import FloatArray
from yellow_slope.core.fit.design.bases import NumberBasis
from yellow_slope.core.fit.design.design import Along, Profile
from yellow_slope.core.probe.curve import Curve
from yellow_slope.core.probe.probed import Probed, along_of
from yellow_slope.core.probe.rows import focal_rows
from yellow_slope.core.probe.surface import Map, Surface, curve_at, map_of, surface_of

# What is kept of a probe goes with it: its fit holds all cases.
_KEPT: WeakKeyDictionary[Probed, dict[int, Surface]] = WeakKeyDictionary()
_CURVES: WeakKeyDictionary[Probed, tuple[tuple[int, float], Curve]] = WeakKeyDictionary()


def has_map(probed: Probed) -> bool:
    """Whether the effect is looked at over two numbers."""
    return isinstance(probed.moderator, NumberBasis) and isinstance(probed.second, NumberBasis)


def effect_curve(probed: Probed, focus: int, second: float) -> Curve:
    """The focal effect along the moderator with a number second moderator at any value; the last one of a probe is
    kept, for several ask for it while a handle is moved."""
    known = _CURVES.get(probed)
    if known is not None and known[0] == (focus, second):
        return known[1]
    moderator, other = probed.moderator, probed.second
    assert isinstance(moderator, NumberBasis)
    assert isinstance(other, NumberBasis)
    profile, along = probed.panels[0].profile, along_of(moderator)
    inference = probed.fit.steps[probed.step].inference
    found = curve_at(_rows(probed, focus), profile, along, other, second, inference, probed.level)
    _CURVES[probed] = (focus, second), found
    return found


def effect_map(probed: Probed, focus: int) -> Map:
    """The focal effect over both number moderators, with where it is told apart from 0."""
    moderator, other = probed.moderator, probed.second
    assert isinstance(moderator, NumberBasis)
    assert isinstance(other, NumberBasis)
    surface = _surface(probed, _rows(probed, focus), probed.panels[0].profile, moderator, other)
    x, y = _values(probed, moderator), _values(probed, other)
    here = probed.everyone(focus).anyone
    return map_of(surface, moderator, other, x[here], y[here], probed.probe.rule)


def outcome_surface(probed: Probed, panel: int) -> Surface:
    """The predicted outcome over a number focal predictor and a number moderator, in a panel; made once."""
    known = _KEPT.setdefault(probed, {})
    if panel not in known:
        focal, moderator = probed.focal, probed.moderator
        assert isinstance(focal, NumberBasis)
        assert isinstance(moderator, NumberBasis)

        def rows(profile: Profile, along: Along) -> FloatArray:
            return probed.fit.design.rows(profile, along)

        known[panel] = _surface(probed, rows, probed.panels[panel].profile, focal, moderator)
    return known[panel]


def line_at(probed: Probed, value: float, panel: int) -> Curve:
    """The interaction plot's line of a panel for any value of a number moderator (the handle's line)."""
    return outcome_surface(probed, panel).curve(value)


def outcome_map(probed: Probed, panel: int) -> Map:
    """The predicted outcome as a map, in a panel."""
    focal, moderator = probed.focal, probed.moderator
    assert isinstance(focal, NumberBasis)
    assert isinstance(moderator, NumberBasis)
    surface = outcome_surface(probed, panel)
    here = probed.panels[panel].foci[0].support.anyone
    x, y = _values(probed, focal), _values(probed, moderator)
    return map_of(surface, focal, moderator, x[here], y[here], None)


def has_outcome_map(probed: Probed) -> bool:
    """Whether the outcome is predicted over two numbers."""
    return isinstance(probed.focal, NumberBasis) and isinstance(probed.moderator, NumberBasis) and not probed.by_itself


Rows = Callable[[Profile, Along], FloatArray]


def _rows(probed: Probed, focus: int) -> Rows:
    comparison = probed.panels[0].foci[focus].comparison

    def rows(profile: Profile, along: Along) -> FloatArray:
        return focal_rows(probed.fit, probed.focal, comparison, probed.factor, profile, along)

    return rows


def _surface(probed: Probed, rows: Rows, profile: Profile, first: NumberBasis, second: NumberBasis) -> Surface:
    step = probed.fit.steps[probed.step]
    columns = probed.fit.design.columns[: step.n_columns]
    degree = max((sum(a.variable == second.variable for a in c.atoms) for c in columns), default=0)
    return surface_of(rows, profile, along_of(first), second, degree, step.inference, probed.level)


def _values(probed: Probed, basis: NumberBasis) -> FloatArray:
    return np.asarray(probed.fit.values[basis.variable], dtype=np.float64)
