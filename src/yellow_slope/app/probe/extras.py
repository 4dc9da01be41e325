"""What is laid over the effect, computed on the worker: without any one case, over resamples, in thirds."""

from __future__ import annotations

from math import isfinite
from typing import assert_never

from yellow_slope.app.state.asking import Question
from yellow_slope.app.state.desk import Overlay
from yellow_slope.app.state.lanes import Lane
from yellow_slope.app.state.worker import Job
from yellow_slope.core.fit.asked.assumptions import Third, in_thirds
from yellow_slope.core.fit.design.bases import GroupBasis, NumberBasis
from yellow_slope.core.fit.solve.why import Why
from yellow_slope.core.probe.probed import Probed
from yellow_slope.core.probe.seen import Seen, Sight
from yellow_slope.core.probe.stability import Moved, over_resamples, without_any_one
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.sentences.stability import moved_sentence
from yellow_slope.core.words.spelling.reasons import reason
from yellow_slope.plots.extras import NOTHING, Extras
from yellow_slope.values import dataclass, replace

NO_THIRDS = "There are no thirds here: the moderator has too few values, or the product is of more than two variables."
THIRDS = "Squares: the effect within thirds of the moderator, each at its median."
NO_ENDS = "They have no intervals with these standard errors."


@dataclass(frozen=True, slots=True, eq=False)
class Laid:
    """What is laid over, and what is said of it."""

    extras: Extras = NOTHING
    said: str = ""


@dataclass(frozen=True, slots=True)
class LaidOver(Question[Laid]):
    """What was asked for, or why there is none."""

    lane = Lane.PROBE_EXTRAS
    study: Study
    probed: Probed
    panel: int
    focus: int
    overlay: Overlay

    def answer(self, job: Job) -> Laid:
        study, sight = self.study, Sight.of(self.probed, Seen(self.panel, self.focus))
        match self.overlay:
            case Overlay.NOTHING:
                return Laid()
            case Overlay.LEFT_OUT:
                return _moved(study, sight, without_any_one(sight))
            case Overlay.RESAMPLED:
                return _moved(study, sight, over_resamples(sight, go_on=job.told))
            case Overlay.THIRDS:
                thirds = thirds_of(sight)
                if not thirds:
                    return Laid(said=NO_THIRDS)
                has_ends = any(isfinite(third.se) for third in thirds)
                return Laid(Extras(thirds=thirds), THIRDS if has_ends else f"{THIRDS} {NO_ENDS}")
            case _:
                assert_never(self.overlay)


def _moved(study: Study, sight: Sight, found: Moved | Why) -> Laid:
    if isinstance(found, Why):
        return Laid(said=f"No overlay: {reason(found)}.")
    return Laid(Extras(found.places, found.crossings), moved_sentence(study, sight, found))


def thirds_of(sight: Sight) -> tuple[Third, ...]:
    """The focal effect in thirds of the moderator, in the unit of the effects; empty where there are none."""
    probed, curve = sight.probed, sight.focus.curve
    if curve is None or not isinstance(probed.moderator, NumberBasis) or probed.by_itself:
        return ()
    if probed.second is not None or not curve.is_estimable:
        return ()
    if any(len(term.variables) != 2 for term in probed.products):
        return ()
    comparison = _coded(sight)
    if comparison is None:
        return ()
    by = probed.factor

    def row_at(value: float):  # type: ignore[no-untyped-def]
        return curve.row(value) / by

    found = in_thirds(
        probed.fit, probed.step, probed.probe.focal, probed.probe.moderator, comparison, row_at, probed.level
    )
    return tuple(replace(t, effect=t.effect * by, se=t.se * by, ends=(t.ends[0] * by, t.ends[1] * by)) for t in found)


def _coded(sight: Sight) -> int | None:
    """The position of the code column that asks for what is seen; None where no column does."""
    focal = sight.probed.focal
    if not isinstance(focal, GroupBasis):
        return 0
    return sight.seen.focus if focal.zero_weights is not None else None
