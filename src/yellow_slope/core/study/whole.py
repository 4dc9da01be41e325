"""A study is always whole: what it names exists in it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from yellow_slope.core.data.variable import Kind
from yellow_slope.core.study.flagkeys import FlagKind
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import variables_of


def tidied(study: Study) -> Study:
    """Without probes, dismissals and choices about what no model holds any longer."""
    used = {name for model in study.models for name in variables_of(model.terms)}
    terms = {term.key for model in study.models for term in model.terms}
    probes = tuple(
        p for p in study.probes if {p.focal, p.moderator} | ({p.second.variable} if p.second else set()) <= used
    )
    dismissals = tuple(
        d for d in study.dismissals
        if d.flag.kind in (FlagKind.MISSING_CODE, FlagKind.STRAY, FlagKind.INDICATORS)
        or (d.flag.kind is FlagKind.BY_HAND and set(d.flag.about) <= used)
        or (d.flag.kind is FlagKind.CODE and set(d.flag.about) & used)
        or (set(d.flag.about) <= {*used, *(m.outcome for m in study.models)}
        and (len(d.flag.about) < 2 or d.flag.about in terms))
    )  # fmt: skip
    groups = {v.name for v in study.variables if v.kind is Kind.GROUP}
    if any(model.by is not None and model.by not in groups for model in study.models):
        models = tuple(m if m.by in groups else replace(m, by=None) for m in study.models)
        study = replace(study, models=models)
    first = tuple(t for t in study.model.leave_out_first if t in set(study.model.terms))
    pinned = tuple(flag for flag in study.pinned if set(flag.about) <= used)
    return replace(
        study.with_model(replace(study.model, leave_out_first=first)),
        probes=probes,
        dismissals=dismissals,
        pinned=pinned,
    )


Edit = Callable[[Study], Study]
