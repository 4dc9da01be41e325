"""Edits of probes."""

from __future__ import annotations

from dataclasses import replace

from yellow_slope.core.errors import StudyError
from yellow_slope.core.study.probe import LONGEST_NAME, MOST_PROBES, Probe
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.whole import edit


@edit
def put_probe(study: Study, probe: Probe) -> Study:
    """Add a probe, or replace the one that asks the same; it comes first. x by w and w by x are two probes."""
    others = tuple(p for p in study.probes if p.about != probe.about)
    if len(others) >= MOST_PROBES:
        raise StudyError(f"The study asks {MOST_PROBES:,} probes already; there is no room for another.")
    return replace(study, probes=(probe, *others))


@edit
def turn_probe(study: Study, before: Probe | None, probe: Probe) -> Study:
    """Let one probe become another, which comes first. One that is kept under a name stays when another question is
    asked."""
    if before is not None and before.name and _question(before) != _question(probe):
        probe, gone = replace(probe, name=""), set[object]()
    else:
        gone = {before.about} if before is not None else set()
    gone.add(probe.about)
    others = tuple(p for p in study.probes if p.about not in gone)
    if study.probes[:1] == (probe,) and len(others) + 1 == len(study.probes):
        return study
    if len(others) >= MOST_PROBES:
        raise StudyError(f"The study asks {MOST_PROBES:,} probes already; there is no room for another.")
    return replace(study, probes=(probe, *others))


@edit
def keep_probe(study: Study, probe: Probe, name: str) -> Study:
    """Keep a probe under a name, or under another one. StudyError for no name, or one that another probe has."""
    name = " ".join(name.split())
    if not name:
        raise StudyError("A probe is kept under a name; none was given.")
    if len(name) > LONGEST_NAME:
        raise StudyError(f"A name of a probe has at most {LONGEST_NAME} characters; this one has {len(name)}.")
    if any(p.name == name and p.about != probe.about for p in study.probes):
        raise StudyError(f"Another probe is kept as “{name}” already.")
    others = tuple(p for p in study.probes if p.about != probe.about)
    return replace(study, probes=(replace(probe, name=name), *others))


@edit
def drop_probe(study: Study, name: str) -> Study:
    """Keep a probe no longer. StudyError where none has that name."""
    if not any(p.name == name for p in study.probes):
        raise StudyError(f"No probe is kept as “{name}”.")
    return replace(study, probes=tuple(p for p in study.probes if p.name != name))


def _question(probe: Probe) -> tuple[object, ...]:
    """What a probe asks, whatever it is called."""
    return probe.about[:-1]
