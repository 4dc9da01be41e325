"""What probes find, as parts of results.json."""

from __future__ import annotations

from typing import Literal, TypedDict, assert_never

import numpy as np

from yellow_slope.core.fit.design.bases import GroupBasis, NumberBasis
from yellow_slope.core.fit.fitted.inference import ConditionalEffect
from yellow_slope.core.probe.curve import Crossover
from yellow_slope.core.probe.maps import effect_map, has_map
from yellow_slope.core.probe.mattering import Size
from yellow_slope.core.probe.places import Everywhere, LevelPlace, NumberPlace, Place
from yellow_slope.core.probe.probed import Focus, Probed
from yellow_slope.core.probe.regions import Regions, regions_of
from yellow_slope.core.probe.share import own_share
from yellow_slope.core.probe.support import Near
from yellow_slope.core.probe.together import Together
from yellow_slope.core.study.probe import RegionRule
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.sentences.effects import EffectReader
from yellow_slope.files.written.asdescribed import probe_document
from yellow_slope.files.written.checkparts import Number
from yellow_slope.files.written.nullable import number, reason, test_part
from yellow_slope.files.written.probeparts import (
    DifferencePart,
    EffectPart,
    FocusPart,
    MapPart,
    MatteringPart,
    NamedTestPart,
    NearPart,
    PanelPart,
    ProbePart,
    RegionPart,
    RegionsPart,
    SizedPart,
    TogetherPart,
    ZeroPart,
)

SIZES: dict[Size, Literal["above", "below", "small", "open"]] = {
    Size.ABOVE: "above",
    Size.BELOW: "below",
    Size.SMALL: "small",
    Size.OPEN: "open",
}
TOGETHER: dict[Together, Literal["joint", "any", "every"]] = {
    Together.JOINT: "joint",
    Together.ANY: "any",
    Together.EVERY: "every",
}


def probe_part(study: Study, probed: Probed) -> ProbePart:
    """A probe and its answer."""
    readers = [EffectReader(study, probed, k) for k in range(len(probed.panels))]
    return ProbePart(
        asked=probe_document(probed.probe),
        model=probed.model.id,
        step=probed.step + 1,
        unit=probed.unit,
        joint=test_part(probed.joint),
        share=number(own_share(probed.fit, probed.step, [term for term, _ in probed.highest])),
        panels=[_panel(probed, read) for read in readers],
        across=[
            [
                DifferencePart(
                    of=_where(probed.places[x.of[1]]),
                    minus=_where(probed.places[x.minus[1]]),
                    of_second=_second(probed, x.of[0]),
                    minus_second=_second(probed, x.minus[0]),
                    p_holm=number(x.p_holm),
                    **_figures(x.effect),
                    words=readers[0].across(focus, x),
                )
                for x in found
            ]
            for focus, found in enumerate(probed.across)
        ],
        maps=[_map(probed, focus) for focus in range(len(probed.panels[0].foci))] if has_map(probed) else [],
    )


def _map(probed: Probed, focus: int) -> MapPart:
    found = effect_map(probed, focus)
    return MapPart(
        critical=number(found.critical),
        dimension=found.surface.dimension,
        bounds=[line.points.tolist() for line in found.bounds],
        share=found.share,
    )


def _where(place: Place) -> str | float | None:
    """A value, a level's code, or null where the effect is the same everywhere."""
    match place:
        case NumberPlace(value, _):
            return value
        case LevelPlace(_, code):
            return code
        case Everywhere():
            return None
        case _:
            assert_never(place)


def _second(probed: Probed, panel: int) -> str | float | None:
    place = probed.panels[panel].second
    return None if place is None else _where(place)


def _panel(probed: Probed, read: EffectReader) -> PanelPart:
    panel = read.shown
    inside = (probed.x.low, probed.x.high) if probed.x is not None else (0.0, 0.0)
    return PanelPart(
        second=_second(probed, read.panel),
        foci=[_focus(probed, read, focus, k) for k, focus in enumerate(panel.foci)],
        lines_meet_at=[float(x) for x in panel.crossing],
        crossover=_zero(panel.crossing_set, inside),
        together=[
            TogetherPart(
                of=TOGETHER[found.of],
                critical=number(found.critical),
                df1=found.df1,
                regions=[
                    RegionPart(
                        low=number(r.low),
                        high=number(r.high),
                        sign=1 if r.sign else 0,
                        words="passes" if r.sign else "does not pass",
                        cases=_near(probed, r.cases),
                        share=r.share,
                    )
                    for r in found.within
                ],
            )
            for found in panel.together
        ],
    )


def _focus(probed: Probed, read: EffectReader, focus: Focus, k: int) -> FocusPart:
    inside = (0.0, 0.0)
    by_rule: list[Regions] = []
    if focus.curve is not None and isinstance(probed.moderator, NumberBasis):
        inside = (probed.moderator.low, probed.moderator.high)
        observed = np.asarray(probed.observed, dtype=np.float64)
        by_rule = [regions_of(focus.curve, rule, observed, focus.support) for rule in RegionRule]
    weights = None
    if focus.comparison is not None and isinstance(probed.focal, GroupBasis):
        weights = dict(zip(probed.focal.levels, focus.comparison.weights.tolist()))
    return FocusPart(
        compared=read.focus_name(k) or None,
        weights=weights,
        effects=[
            EffectPart(
                at=_where(place),
                name=read.place_name(i) if isinstance(place, NumberPlace) else "",
                near=_near(probed, near),
                **_figures(effect),
                words=read.effect(k, effect, place),
            )
            for i, (place, effect, near) in enumerate(zip(probed.places, focus.effects, focus.near))
        ],
        differences=[
            DifferencePart(
                of=_where(probed.places[d.of]),
                minus="the mean of the others" if d.minus is None else _where(probed.places[d.minus]),
                p_holm=number(d.p_holm),
                **_figures(d.effect),
                words=read.difference(k, d),
            )
            for d in focus.differences
        ],
        regions=_regions(probed, read, k, focus.regions) if focus.regions is not None else None,
        by_rule=[_regions(probed, read, k, found) for found in by_rule],
        tests=[
            NamedTestPart(name=read.test_name(tested, k), test=test_part(tested.test))
            for tested in probed.tests(read.panel, k)
        ],
        zero=_zero(focus.zero, inside),
        mattering=_mattering(probed, focus),
    )


def _mattering(probed: Probed, focus: Focus) -> MatteringPart | None:
    found = focus.mattering
    if found is None:
        return None
    return MatteringPart(
        smallest=found.smallest,
        critical=number(found.critical),
        critical_small=number(found.critical_small),
        stretches=[
            SizedPart(low=number(s.low), high=number(s.high), size=SIZES[s.size], cases=_near(probed, s.cases))
            for s in found.within
        ],
        outside=list(found.outside),
    )


class Figures(TypedDict):
    """What is given of an effect and of a difference alike."""

    effect: Number
    se: Number
    t: Number
    p: Number
    low: Number
    high: Number
    df: int
    why: str | None


def _figures(e: ConditionalEffect) -> Figures:
    return Figures(
        effect=number(e.effect),
        se=number(e.se),
        t=number(e.t),
        p=number(e.p),
        low=number(e.low),
        high=number(e.high),
        df=e.df,
        why=reason(e.why),
    )


def _near(probed: Probed, near: tuple[Near, ...]) -> list[NearPart]:
    codes = probed.focal.levels if isinstance(probed.focal, GroupBasis) else ()
    return [NearPart(levels=[codes[i] for i in one.levels], cases=one.cases, of=one.of) for one in near]


def _regions(probed: Probed, read: EffectReader, focus: int, found: Regions) -> RegionsPart:
    return RegionsPart(
        rule=found.rule,
        critical=number(found.critical),
        regions=[
            RegionPart(
                low=number(r.low),
                high=number(r.high),
                sign=r.sign,
                words=read.region(focus, r.sign),
                cases=_near(probed, r.cases),
                share=r.share,
            )
            for r in found.within
        ],
        outside=list(found.outside),
    )


def _zero(zero: Crossover | None, inside: tuple[float, float]) -> ZeroPart | None:
    if zero is None:
        return None
    return ZeroPart(
        at=zero.at,
        inside=inside[0] <= zero.at <= inside[1],
        set=zero.kind.value,
        low=number(zero.low),
        high=number(zero.high),
    )
