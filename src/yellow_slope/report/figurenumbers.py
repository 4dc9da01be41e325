"""The numbers behind a figure, as CSV at full precision: a row for each place that is drawn."""

from __future__ import annotations

import csv
import io
import math
from collections.abc import Iterator
from typing import assert_never

import numpy as np

from yellow_slope.core.figured.subjects import CheckSubject, GroupSubject, ProbeSubject, StepsSubject, Subject
from yellow_slope.core.fit.asked.lowtohigh import low_to_high
from yellow_slope.core.fit.design.bases import GroupBasis, NumberBasis
from yellow_slope.core.probe.maps import effect_map, outcome_map
from yellow_slope.core.study.checks import Check
from yellow_slope.core.study.figures import ProbeShown
from yellow_slope.core.told.tables import csv_cell
from yellow_slope.core.words.names.groups import level_label
from yellow_slope.core.words.names.numbers import scale_name
from yellow_slope.core.words.names.terms import column_name, label
from yellow_slope.core.words.sentences.effects import EffectReader
from yellow_slope.core.words.sentences.rivals import rival_name
from yellow_slope.plots.checks import scatter_of
from yellow_slope.plots.interaction import GRID

HEAD = ("plot", "panel", "line", "x", "at", "y", "value", "low", "high")
Row = tuple[str, str, str, str, float | str, str, float, float, float]
NAN = math.nan


def numbers_csv(subject: Subject) -> bytes:
    """The numbers as CSV in UTF-8: plot, panel, line; what lies along x and where; what is told, its value and the ends
    of its interval, empty where there are none. Texts that a spreadsheet would take for a formula get an apostrophe."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(HEAD)
    for row in _rows(subject):
        writer.writerow([csv_cell(value) for value in row])
    return out.getvalue().encode("utf-8")


def _rows(subject: Subject) -> Iterator[Row]:
    match subject:
        case ProbeSubject():
            yield from _probe_rows(subject)
        case CheckSubject():
            yield from _check_rows(subject)
        case StepsSubject(study, fit):
            scale = low_to_high(fit)
            outcome = study.variable(study.model.outcome or "").label
            for step in fit.steps:
                for j in range(step.n_columns):
                    b, low, high = (float(v[j + 1] * scale[j]) for v in (step.b, step.low, step.high))
                    told = f"change in {outcome} from low to high"
                    name = column_name(study, fit, j)
                    yield ("coefficients", "", f"step {step.index + 1}", "", name, told, b, low, high)
        case GroupSubject(study, overview):
            group, outcome = study.variable(overview.variable).label, study.variable(study.model.outcome or "").label
            for i, mean in enumerate(overview.means):
                level = level_label(study, overview.basis, i)
                yield ("means", "", "", group, level, f"mean {outcome}", mean.effect, mean.low, mean.high)
            positions = np.asarray(overview.fit.values[overview.variable], dtype=np.int64)
            for position, y in zip(positions, overview.fit.y):
                yield ("cases", "", "", group, level_label(study, overview.basis, int(position)), outcome, y, NAN, NAN)
        case _:
            assert_never(subject)


def _probe_rows(subject: ProbeSubject) -> Iterator[Row]:
    study, sight, view = subject.study, subject.sight, subject.shows.view
    if view is ProbeShown.ABOVE or view is ProbeShown.MAP:
        yield from _map_rows(subject)
        return
    for k in range(len(sight.probed.panels)):
        read = EffectReader(study, sight.probed, k)
        if view in (ProbeShown.BOTH, ProbeShown.LINES):
            yield from _line_rows(read)
        if view is not ProbeShown.LINES:
            yield from _effect_rows(read)


def _line_rows(read: EffectReader) -> Iterator[Row]:
    p, panel = read.probed, read.second_name()
    outcome = f"predicted {read.study.variable(p.model.outcome or '').label}"
    if read.shown.lines and p.x is not None:
        label = scale_name(read.study, p.x)
        grid = np.linspace(p.x.low, p.x.high, GRID)
        for i, line in enumerate(read.shown.lines):
            values = line.curve.effect(grid)
            low, high = line.curve.band(grid) if line.curve.has_errors else (np.full(GRID, NAN), np.full(GRID, NAN))
            for at, value, a, b in zip(grid, values, low, high):
                yield ("lines", panel, read.line_name(i, short=False), label, at, outcome, value, a, b)
        return
    if not isinstance(p.focal, GroupBasis):
        return
    for i, means in enumerate(read.shown.means):
        name = level_label(read.study, p.focal, i)
        for j, mean in enumerate(means):
            if mean.exists:
                at = "" if p.by_itself else read.place_name(j)
                row = (read.along, at, outcome, mean.effect, mean.low, mean.high)
                yield ("lines", panel, name, *row)


def _effect_rows(read: EffectReader) -> Iterator[Row]:
    p, panel = read.probed, read.second_name()
    for index, focus in enumerate(read.shown.foci):
        name = read.focus_name(index)
        if isinstance(p.moderator, NumberBasis) and focus.curve is not None and focus.curve.is_estimable:
            grid = np.linspace(p.moderator.low, p.moderator.high, GRID)
            low, high = focus.band(grid) if focus.curve.has_errors else (np.full(GRID, NAN), np.full(GRID, NAN))
            for at, value, a, b in zip(grid, focus.curve.effect(grid), low, high):
                yield ("effect", panel, name, read.along, at, name, value, a, b)
            for bound in focus.regions.boundaries if focus.regions is not None else ():
                yield ("boundary", panel, name, read.along, bound, name, NAN, NAN, NAN)
            continue
        for at, effect in zip(p.places, focus.effects):
            if effect.exists:
                place = read.place_name(p.places.index(at)) if not p.by_itself else ""
                yield ("effect", panel, name, read.along, place, name, effect.effect, effect.low, effect.high)
        for difference in focus.differences:
            d = difference.effect
            pair = f"{read.place_name(difference.of)} - {read.place_name(difference.minus)}"
            yield ("difference", panel, name, read.along, pair, name, d.effect, d.low, d.high)


def _map_rows(subject: ProbeSubject) -> Iterator[Row]:
    study, sight = subject.study, subject.sight
    p = sight.probed
    if subject.shows.view is ProbeShown.MAP:
        found, first, second = effect_map(p, sight.seen.focus), p.moderator, p.second
        told = EffectReader(study, p, sight.seen.panel).focus_name(sight.seen.focus)
    else:
        found, first, second = outcome_map(p, sight.seen.panel), p.focal, p.moderator
        told = f"predicted {study.variable(p.model.outcome or '').label}"
    assert isinstance(first, NumberBasis)
    assert isinstance(second, NumberBasis)
    below, beside = scale_name(study, first), scale_name(study, second)
    for j, b in enumerate(found.b):
        for i, a in enumerate(found.a):
            yield ("map", "", f"{beside} {float(b)!r}", below, float(a), told, float(found.effect[j, i]), NAN, NAN)


def _check_rows(subject: CheckSubject) -> Iterator[Row]:
    found, check = subject.found, subject.shows.check
    if check is Check.STAND and subject.stand is not None:
        stand = subject.stand
        others = ((rival_name(found.study, row.rival), row.standing) for row in stand.rows)
        for name, one in [("as it is", stand.base), *others]:
            if one.one is not None:
                yield ("rivals", "", name, "", "", "b", one.one.b, one.one.low, one.one.high)
            elif one.test is not None:
                if one.test.has_f:
                    yield ("rivals", "", name, "", "", "F", one.test.f, NAN, NAN)
                yield ("rivals", "", name, "", "", "p", one.p, NAN, NAN)
        return
    scatter = scatter_of(check, found, subject.shows.by)
    if scatter is not None:
        x, y = scatter.x_title.whole, scatter.y_title.whole
        for row, at, value in zip(found.fit.cases.rows, scatter.x, scatter.y):
            yield ("cases", "", f"row {int(row) + 1}", x, float(at), y, float(value), NAN, NAN)
        return
    if found.straight is not None and check is Check.STRAIGHT:
        for third in found.straight.thirds:
            yield ("thirds", "", "", "", float(third.at), "effect", third.effect, *third.ends)
    if check is Check.OVERLAP:
        for of in found.overlap.terms:
            yield ("overlap", "", label(found.study, of.term), "", "", "variance inflation", of.now, NAN, NAN)
