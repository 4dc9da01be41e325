"""What is seen of a probe: which panel, which focal effect, and which place. One value says it for all that show it."""

from __future__ import annotations

import numpy as np

from yellow_slope.core.fit.design.bases import NumberBasis
from yellow_slope.core.probe.curve import Curve
from yellow_slope.core.probe.maps import effect_curve, has_map
from yellow_slope.core.probe.places import NumberPlace
from yellow_slope.core.probe.probed import Focus, Panel, Probed
from yellow_slope.core.probe.support import Near, near_width
from yellow_slope.values import dataclass


@dataclass(frozen=True, slots=True)
class Handle:
    """The place along a number moderator that can be moved."""


@dataclass(frozen=True, slots=True)
class AtPlace:
    """One of the probe's places, by position."""

    index: int


@dataclass(frozen=True, slots=True)
class Apart:
    """One of the differences between two places, by position."""

    index: int


@dataclass(frozen=True, slots=True)
class Whole:
    """No place in particular: all of a group moderator's levels together."""


@dataclass(frozen=True, slots=True)
class InPanel:
    """The handle's place in another panel, by position."""

    panel: int


@dataclass(frozen=True, slots=True)
class Across:
    """One of the differences between places of both moderators, by position."""

    index: int


Spot = Handle | AtPlace | Apart | Whole | InPanel | Across


@dataclass(frozen=True, slots=True)
class Seen:
    """Panel, focus and place; positions count from 0."""

    panel: int = 0
    """Which place of a second moderator."""
    focus: int = 0
    """Which comparison of a group focal predictor."""
    place: Spot = Handle()
    handle: float | None = None
    """Where the handle stands on a number moderator; None: at the typical value."""
    second: float | None = None
    """Where the handle of a map stands on a number second moderator; None: at the panel's place."""

    def of(self, probed: Probed) -> Seen:
        """The nearest of what the probe has: the one rule by which a choice follows its probe."""
        panel = min(max(self.panel, 0), len(probed.panels) - 1)
        focus = min(max(self.focus, 0), len(probed.panels[panel].foci) - 1)
        found = probed.panels[panel].foci[focus]
        handle = None
        if self.handle is not None and isinstance(probed.moderator, NumberBasis):
            handle = inside(probed, self.handle)
        second = None
        if self.second is not None and isinstance(probed.second, NumberBasis):
            second = min(probed.second.high, max(probed.second.low, self.second))
        return Seen(panel, focus, self._spot(probed, found, focus), handle, second)

    def _spot(self, probed: Probed, found: Focus, focus: int) -> Spot:
        number = isinstance(probed.moderator, NumberBasis)
        match self.place:
            case AtPlace(index) if index < len(probed.places):
                return self.place
            case Apart(index) if index < len(found.differences) and not number:
                return self.place
            case Across(index) if focus < len(probed.across) and index < len(probed.across[focus]):
                return self.place
        return Handle() if number else Whole()


def inside(probed: Probed, value: float) -> float:
    """A value of a number moderator, kept within the observed range."""
    assert isinstance(probed.moderator, NumberBasis)
    return min(probed.moderator.high, max(probed.moderator.low, value))


@dataclass(frozen=True, slots=True, eq=False)
class Sight:
    """What is seen, together with the probe that it is seen of."""

    probed: Probed
    seen: Seen

    @classmethod
    def of(cls, probed: Probed, wanted: Seen) -> Sight:
        """The sight nearest to what is wanted."""
        return cls(probed, wanted.of(probed))

    @property
    def panel(self) -> Panel:
        """The panel that is seen."""
        return self.probed.panels[self.seen.panel]

    @property
    def focus(self) -> Focus:
        """The focal effect that is seen."""
        return self.panel.foci[self.seen.focus]

    @property
    def second(self) -> float | None:
        """Where the handle of a map stands on a number second moderator, while the handle is what is seen; None: at the
        panel's place."""
        return self.seen.second if isinstance(self.seen.place, Handle) else None

    @property
    def curve(self) -> Curve | None:
        """The effect along the moderator, where the second moderator stands."""
        if self.second is None or not has_map(self.probed):
            return self.focus.curve
        return effect_curve(self.probed, self.seen.focus, self.second)

    def near(self) -> tuple[Near, ...]:
        """The cases near the handle, in both numbers of a map."""
        found, probed = self.focus.support, self.probed
        if self.second is None or not isinstance(probed.second, NumberBasis):
            return found.near(self.value)
        values = np.asarray(probed.fit.values[probed.second.variable], dtype=np.float64)
        there = np.abs(values - self.second) <= near_width(probed.second)
        whole = probed.everyone(self.seen.focus)
        return whole.within(there).near(self.value)

    @property
    def value(self) -> float:
        """Where the handle stands on a number moderator, or the chosen pick point."""
        assert isinstance(self.probed.moderator, NumberBasis)
        if isinstance(self.seen.place, AtPlace):
            place = self.probed.places[self.seen.place.index]
            if isinstance(place, NumberPlace):
                return place.value
        return self.handle

    @property
    def handle(self) -> float:
        """Where the handle stands, whatever place is chosen."""
        assert isinstance(self.probed.moderator, NumberBasis)
        return self.probed.moderator.typical if self.seen.handle is None else self.seen.handle
