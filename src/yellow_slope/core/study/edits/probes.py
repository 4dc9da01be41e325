"""Edits of probes."""

from __future__ import annotations

from dataclasses import replace

from yellow_slope.core.errors import StudyError
from yellow_slope.core.study.probe import MOST_PROBES, Probe
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.whole import edit


@edit
def put_probe(study: Study, probe: Probe) -> Study:
    """Add a probe, or replace the one that asks the same. x by w and w by x are two probes."""
    others = tuple(p for p in study.probes if p.about != probe.about)
    if len(others) >= MOST_PROBES:
        raise StudyError(f"The study asks {MOST_PROBES:,} probes already; there is no room for another.")
    return replace(study, probes=(probe, *others))


@edit
def turn_probe(study: Study, before: Probe | None, probe: Probe) -> Study:
    """Let one probe become another; it comes first."""
    gone = {probe.about, before.about} if before is not None else {probe.about}
    others = tuple(p for p in study.probes if p.about not in gone)
    if study.probes[:1] == (probe,) and len(others) + 1 == len(study.probes):
        return study
    return replace(study, probes=(probe, *others))
