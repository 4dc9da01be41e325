"""What a mark of a probe's plots says of itself when the mouse rests on it."""

from __future__ import annotations

from typing import assert_never

from yellow_slope.core.data.table import number_text
from yellow_slope.core.fit.design.bases import GroupBasis, NumberBasis
from yellow_slope.core.probe.places import NumberPlace
from yellow_slope.core.probe.probed import Panel
from yellow_slope.core.probe.seen import Sight
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.names.groups import level_label
from yellow_slope.core.words.sentences.effects import EffectReader
from yellow_slope.core.words.sentences.effectunits import smallest_text
from yellow_slope.core.words.sentences.sizes import size_name, together_help
from yellow_slope.core.words.spelling.letters import capital
from yellow_slope.core.words.spelling.numerals import MINUS, counted, percent, place
from yellow_slope.plots.interaction import line_cases
from yellow_slope.plots.marks import (
    Hit,
    OfBoundary,
    OfCases,
    OfCoefficient,
    OfDifference,
    OfEffect,
    OfFocus,
    OfGroup,
    OfLine,
    OfPanel,
    OfPlace,
    OfRegion,
    OfRival,
    OfSize,
    OfStep,
    OfTogether,
    OnMap,
    Part,
    Text,
)


def mark_words(study: Study, sight: Sight, hit: Hit | None) -> str:
    """A sentence about what is hit; empty where there is nothing to say."""
    if hit is None:
        return ""
    said = _said(study, sight, hit)
    if isinstance(hit.mark, Text) and hit.mark.whole and hit.mark.whole not in said:
        return f"{hit.mark.whole}\n{said}".strip()
    return said


def _said(study: Study, sight: Sight, hit: Hit) -> str:
    read = EffectReader(study, sight.probed, sight.seen.panel)
    focus, found, panel = sight.seen.focus, sight.focus, sight.panel
    match hit.about:
        case OfPlace(i):
            return read.effect(focus, found.effects[i], sight.probed.places[i], held=False)
        case OfFocus(k):
            return read.effect(k, panel.foci[k].effects[0], sight.probed.places[0], held=False)
        case OfDifference(i):
            return read.difference(focus, found.differences[i], held=False)
        case OfLine(i):
            return _line(sight, read, i)
        case OfGroup(group, at):
            return _group(study, sight, read, group, at)
        case OfBoundary(value):
            near = sum(one.cases for one in found.support.near(value))
            return f"Boundary {read.at_value(value)}: {counted(near, 'case')} near."
        case OfRegion(i):
            return _region(sight, read, i)
        case OfCases():
            return case_words(study, sight, hit.case)
        case OfPanel(k):
            return _curve(EffectReader(study, sight.probed, k), focus)
        case OfTogether(k):
            return _together(read, panel, k)
        case OfSize(k):
            return _size(study, sight, read, k)
        case OnMap.EMPTY:
            return "No case is within half an SD of here in both numbers."
        case OnMap.BOUND:
            return "Where the effect stops being significant."
        case OfEffect() | OfRival() | OfCoefficient() | OfStep() | Part() | OnMap():
            return ""
        case _:
            assert_never(hit.about)


def _line(sight: Sight, read: EffectReader, index: int) -> str:
    """What a line stands for, and how many of the cases are of its kind."""
    line, n = sight.panel.lines[index], sight.probed.fit.y.size
    name = capital(read.line_name(index, short=False))
    there = line_cases(sight, line)
    if there is None:
        return name
    is_near = line.place is not None and isinstance(sight.probed.places[line.place], NumberPlace)
    kind = "cases near" if is_near else "cases"
    said = f"{there:,} of {n:,} {kind} ({percent(there / n)})"
    return f"{name}: {said}." if name else f"{said}."


def _curve(read: EffectReader, focus: int) -> str:
    """Where the effect of a panel is told apart from 0."""
    regions = read.shown.foci[focus].regions
    said = [read.second_name()]
    if regions is not None:
        said += [f"{read.bounds(r.low, r.high)} {read.region(focus, r.sign)}" for r in regions.within]
    return capital("; ".join(text for text in said if text)) + "."


def _together(read: EffectReader, panel: Panel, index: int) -> str:
    found = panel.together[index]
    passing = [read.bounds(r.low, r.high) for r in found.within if r.sign]
    return f"{together_help(found)} {capital(', '.join(passing) if passing else 'nowhere')}."


def _size(study: Study, sight: Sight, read: EffectReader, index: int) -> str:
    found, smallest = sight.focus.mattering, sight.probed.probe.smallest
    if found is None or smallest is None:
        return ""
    if index < 0:
        said = smallest_text(study, sight.probed.fit, sight.probed.model, sight.probed.probe.focal, smallest)
        return f"The smallest effect that matters: {said}."
    stretch = found.within[index]
    return capital(f"{size_name(stretch.size)}: {read.bounds(stretch.low, stretch.high)}.")


def _group(study: Study, sight: Sight, read: EffectReader, group: int, at: int) -> str:
    focal, mean = sight.probed.focal, sight.panel.means[group][at]
    if not isinstance(focal, GroupBasis) or not mean.exists:
        return ""
    where = read.where(sight.probed.places[at])
    said = ", ".join(text for text in (f"“{level_label(study, focal, group)}”", where) if text)
    return f"{said}: {read.read.amount(mean.effect, 2)}{read.read.bounds(mean.low, mean.high, 2)}"


def _region(sight: Sight, read: EffectReader, index: int) -> str:
    regions = sight.focus.regions
    if regions is None:
        return ""
    region = regions.within[index]
    return capital(f"{read.region(sight.seen.focus, region.sign)}: {read.bounds(region.low, region.high)}.")


def case_words(study: Study, sight: Sight, case: int | None) -> str:
    """“Row 12: practice 3.2, coaching none, control score 45”."""
    if case is None:
        return ""
    fit, probe = sight.probed.fit, sight.probed.probe
    named = dict.fromkeys(n for n in (probe.focal, probe.moderator) if n in fit.values)
    values = []
    for name in named:
        basis, value = fit.design.bases.get(name), fit.values[name][case]
        if isinstance(basis, GroupBasis):
            text = level_label(study, basis, int(value))
        elif isinstance(basis, NumberBasis):
            text = place(float(value), basis.sd)
        else:
            text = number_text(float(value)).replace("-", MINUS)
        values.append(f"{study.variable(name).label} {text}")
    outcome = study.variable(sight.probed.model.outcome or "").label
    y = number_text(float(fit.y[case])).replace("-", MINUS)
    return f"Row {int(fit.cases.rows[case]) + 1}: {', '.join(values)}, {outcome} {y}"
