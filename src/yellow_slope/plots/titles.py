"""Titles of axes, in the study's words: a name, the name where there is less room, and the unit."""

from __future__ import annotations

from yellow_slope.core.data.variable import Variable
from yellow_slope.core.fit.design.bases import NumberBasis
from yellow_slope.core.probe.places import Everywhere
from yellow_slope.core.probe.seen import Sight
from yellow_slope.core.study.model import Model
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.names.numbers import scale_name, transformed_name
from yellow_slope.core.words.sentences.effects import EffectReader
from yellow_slope.core.words.sentences.effectunits import axis_unit
from yellow_slope.plots.scales import AxisTitle
from yellow_slope.values import replace


def number_title(study: Study, basis: NumberBasis) -> AxisTitle:
    """“practice (hours)”, “practice centered within site (hours)”."""
    variable = study.variable(basis.variable)
    has_unit = variable.unit and (basis.axis.is_identity or not basis.is_within)
    unit = f"({variable.many})" if has_unit else ""
    return AxisTitle(scale_name(study, basis), scale_name(study, basis, short=True), unit)


def outcome_title(study: Study, model: Model) -> AxisTitle:
    """“control score”, of lines and of cases."""
    outcome = study.variable(model.outcome or "")
    return AxisTitle(outcome.label, outcome.short)


def slope_title(variable: Variable, basis: NumberBasis, unit: str = "") -> AxisTitle:
    """“slope of log of practice”."""
    long, short = (f"slope of {transformed_name(variable, basis.treatment, brief)}" for brief in (False, True))
    return AxisTitle(long, short, unit)


def effect_title(study: Study, sight: Sight, panel: str = "") -> AxisTitle:
    """“slope of practice (points per hour)”, “returner minus first season (points)”; panel: of which place of a second
    moderator, as in “slope of practice, early”."""
    found = _effect_title(study, sight)
    return replace(found, name=f"{found.name}, {panel}", short=f"{found.short}, {panel}") if panel else found


def _effect_title(study: Study, sight: Sight) -> AxisTitle:
    probed = sight.probed
    outcome, unit = study.variable(probed.model.outcome or ""), axis_unit(study, probed)
    if isinstance(probed.focal, NumberBasis):
        variable = study.variable(probed.focal.variable)
        return slope_title(variable, probed.focal, unit)
    if isinstance(probed.places[0], Everywhere):
        return AxisTitle(f"difference in {outcome.label}", f"difference in {outcome.short}", unit)
    read = EffectReader(study, probed, sight.seen.panel)
    return AxisTitle(read.focus_name(sight.seen.focus), read.focus_name(sight.seen.focus, 16), unit)
