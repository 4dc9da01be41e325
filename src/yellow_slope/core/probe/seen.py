"""What is seen of a probe: which panel, which focal effect, and which place. One value says it for all that show it."""

from __future__ import annotations

from dataclasses import dataclass

from yellow_slope.core.fit.design.bases import NumberBasis
from yellow_slope.core.probe.places import NumberPlace
from yellow_slope.core.probe.probed import Focus, Panel, Probed


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


Spot = Handle | AtPlace | Apart | Whole


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

    def of(self, probed: Probed) -> Seen:
        """The nearest of what the probe has: the one rule by which a choice follows its probe."""
        panel = min(max(self.panel, 0), len(probed.panels) - 1)
        focus = min(max(self.focus, 0), len(probed.panels[panel].foci) - 1)
        found = probed.panels[panel].foci[focus]
        handle = None
        if self.handle is not None and isinstance(probed.moderator, NumberBasis):
            handle = inside(probed, self.handle)
        return Seen(panel, focus, self._spot(probed, found), handle)

    def _spot(self, probed: Probed, found: Focus) -> Spot:
        number = isinstance(probed.moderator, NumberBasis)
        match self.place:
            case AtPlace(index) if index < len(probed.places):
                return self.place
            case Apart(index) if index < len(found.differences) and not number:
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
