"""What is done to a probe, as it is named where it can be undone."""

from __future__ import annotations

from yellow_slope.core.study.probe import EffectUnit, PickRule, Probe
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.names.places import pick_rule_name
from yellow_slope.core.words.spelling.numerals import exact

UNITS = {
    EffectUnit.TREATED: "effects per unit",
    EffectUnit.RAW: "effects per raw unit",
    EffectUnit.SD: "effects in SDs",
}


def turned(study: Study, before: Probe | None, probe: Probe) -> str:
    """What turns one probe into another: “probe practice along worry”, “pick points of worry: quartiles”."""
    if probe.name and (before is None or before.name != probe.name):
        return f"look at “{probe.name}”"
    focal, moderator = (study.variable(name).label for name in (probe.focal, probe.moderator))
    asked = f"probe {focal} along {moderator}" if probe.focal != probe.moderator else f"probe {focal} along itself"
    if before is None or before.about[:3] != probe.about[:3]:
        return asked
    if before.second != probe.second:
        second = probe.second
        if second is None:
            return "probe without a second moderator"
        label = study.variable(second.variable).label
        if before.second is not None and before.second.variable == second.variable:
            return f"pick points of {label}: {pick_rule_name(second.pick.rule)}"
        return f"{asked} and {label}"
    if before.step != probe.step:
        return "probe another step"
    if before.held != probe.held:
        where, was = dict(probe.held), dict(before.held)
        moved = next((name for name in {**was, **where} if where.get(name) != was.get(name)), None)
        return f"where {study.variable(moved).label} is held" if moved is not None else "what is held"
    if before.pick != probe.pick:
        own = probe.pick.rule is PickRule.OWN and bool(probe.pick.values)
        said = ", ".join(map(exact, probe.pick.values)) if own else pick_rule_name(probe.pick.rule)
        return f"pick points of {moderator}: {said}"
    if before.rule != probe.rule:
        return "how regions are bounded"
    if before.unit != probe.unit:
        return UNITS[probe.unit]
    if before.compared != probe.compared:
        return "which differences are given"
    if before.smallest != probe.smallest:
        return "the smallest effect that matters" if probe.smallest is not None else "no smallest effect that matters"
    return asked
