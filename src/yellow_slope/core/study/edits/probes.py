"""Edits of probes."""

from __future__ import annotations

from yellow_slope.core.errors import StudyError
from yellow_slope.core.study.figures import Figure, ShowsProbe
from yellow_slope.core.study.probe import LONGEST_NAME, MOST_PROBES, Probe
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.whole import edit
from yellow_slope.values import replace


@edit
def put_probe(study: Study, probe: Probe) -> Study:
    """Add a probe, or replace the one that asks the same; it comes first. x by w and w by x are two probes."""
    others = tuple(p for p in study.probes if p.about != probe.about)
    if len(others) >= MOST_PROBES:
        raise StudyError(f"The study has {MOST_PROBES:,} probes already; there is no room for another.")
    return replace(study, probes=(probe, *others))


@edit
def turn_probe(study: Study, before: Probe | None, probe: Probe) -> Study:
    """Let one probe become another, which comes first. One that is kept under a name or that a figure shows stays when
    another question is asked."""
    stays = before is not None and (bool(before.name) or is_drawn(study, before))
    if before is not None and stays and _question(before) != _question(probe):
        probe, gone = replace(probe, name=""), set[object]()
    else:
        gone = {before.about} if before is not None else set()
    gone.add(probe.about)
    others = tuple(p for p in study.probes if p.about not in gone)
    if study.probes[:1] == (probe,) and len(others) + 1 == len(study.probes):
        return study
    if len(others) >= MOST_PROBES:
        raise StudyError(f"The study has {MOST_PROBES:,} probes already; there is no room for another.")
    return replace(study, probes=(probe, *others))


@edit
def keep_probe(study: Study, probe: Probe, name: str) -> Study:
    """Keep a probe under a name, or under another one. StudyError for no name, or one that another probe has."""
    name = " ".join(name.split())
    if not name:
        raise StudyError("A kept probe needs a name; none was given.")
    if len(name) > LONGEST_NAME:
        raise StudyError(f"A name of a probe has at most {LONGEST_NAME} characters; this one has {len(name)}.")
    if any(p.name == name and p.about != probe.about for p in study.probes):
        raise StudyError(f"Another probe is kept as “{name}” already.")
    others = tuple(p for p in study.probes if p.about != probe.about)
    return _renamed(replace(study, probes=(probe, *others)), probe, name)


@edit
def drop_probe(study: Study, name: str) -> Study:
    """Keep a probe no longer; one that a figure shows stays without its name. StudyError where none has that name."""
    dropped = next((p for p in study.probes if p.name == name), None)
    if dropped is None:
        raise StudyError(f"No probe is kept as “{name}”.")
    asked = any(p.about == replace(dropped, name="").about for p in study.probes)
    if is_drawn(study, dropped) and not asked:
        return _renamed(study, dropped, "")
    study = _renamed(study, dropped, "") if asked else study
    return replace(study, probes=tuple(p for p in study.probes if p is not dropped and p.name != name))


def is_drawn(study: Study, probe: Probe) -> bool:
    """Whether a figure shows a probe."""
    return any(isinstance(f.shows, ShowsProbe) and f.shows.shows(probe) for f in study.figures)


def _renamed(study: Study, probe: Probe, name: str) -> Study:
    """A probe under another name, for the figures that show it too."""

    def shown(figure: Figure) -> Figure:
        shows = figure.shows
        if not isinstance(shows, ShowsProbe) or not shows.shows(probe):
            return figure
        return replace(figure, shows=replace(shows, kept=name))

    probes = tuple(replace(p, name=name) if p.about == probe.about else p for p in study.probes)
    return replace(study, probes=tuple({p.about: p for p in probes}.values()), figures=tuple(map(shown, study.figures)))


def _question(probe: Probe) -> tuple[object, ...]:
    """What a probe asks, whatever it is called."""
    return probe.about[:-1]
