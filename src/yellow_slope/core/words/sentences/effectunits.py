"""In words: the unit in which the effects of a probe are given, in sentences, on axes and beside fields."""

from __future__ import annotations

from typing import assert_never

from yellow_slope.core.fit.design.bases import NumberBasis
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.probe.probed import Probed
from yellow_slope.core.study.model import Model
from yellow_slope.core.study.probe import EffectUnit, Smallest
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.names.numbers import transformed_name, unit_of
from yellow_slope.core.words.sentences.coefficients import Reader, with_units
from yellow_slope.core.words.spelling.numerals import fixed, number_or_place, place


def per_text(study: Study, fit: Fit, focal: str, unit: EffectUnit) -> str:
    """“per hour”, “per SD”; empty for a group."""
    basis = fit.design.bases[focal]
    if not isinstance(basis, NumberBasis):
        return ""
    match unit:
        case EffectUnit.TREATED:
            return f"per {unit_of(study.variable(focal), basis)}"
        case EffectUnit.RAW:
            return f"per {study.variable(focal).one}"
        case EffectUnit.SD:
            return "per SD"
        case _:
            assert_never(unit)


def unit_title(study: Study, probed: Probed, unit: EffectUnit) -> str:
    """The unit as it stands in a menu: “points per hour”, “SD per SD”."""
    outcome = study.variable(probed.model.outcome or "")
    per = per_text(study, probed.fit, probed.probe.focal, unit)
    if unit is not EffectUnit.SD and not outcome.unit and per in ("", "per unit"):
        return "raw units"
    many = "SD" if unit is EffectUnit.SD else outcome.many
    return f"{many} {per}".strip()


def axis_unit(study: Study, probed: Probed) -> str:
    """The unit as it stands in an axis title: “(points per hour)”, “(SD per SD)”; empty where there is none."""
    outcome = study.variable(probed.model.outcome or "")
    per = per_text(study, probed.fit, probed.probe.focal, probed.unit)
    if probed.unit is EffectUnit.SD:
        return f"(SD {per})" if per else "(SD)"
    if isinstance(probed.focal, NumberBasis):
        own = bool(study.variable(probed.probe.focal).unit) or per != "per unit"
        return f"({outcome.many} {per})" if outcome.unit or own else ""
    return f"({outcome.many})" if outcome.unit else ""


def amount(study: Study, probed: Probed, value: float, decimals: int) -> str:
    """The size of an effect with its outcome's unit, without what it is per: “2.31 points”, “0.24 SD”."""
    text = fixed(abs(value), decimals)
    if probed.unit is EffectUnit.SD:
        return f"{text} SD"
    return with_units(text, study.variable(probed.model.outcome or ""))


def step_text(study: Study, probed: Probed) -> str:
    """What an effect of a number is for: “further hour of practice”, “SD more of practice (2.1 hours)”."""
    name, basis = probed.probe.focal, probed.focal
    assert isinstance(basis, NumberBasis)
    variable = study.variable(name)
    match probed.unit:
        case EffectUnit.TREATED:
            return Reader(study, probed.fit, probed.model).step_of(name)
        case EffectUnit.RAW:
            return f"further {variable.one} of {variable.label}"
        case EffectUnit.SD:
            plain = basis.axis.is_identity and not basis.is_within
            size = with_units(place(basis.sd, basis.sd), variable) if plain else place(basis.axis_sd, basis.axis_sd)
            return f"SD more of {transformed_name(variable, basis.treatment)} ({size})"
        case _:
            assert_never(probed.unit)


def smallest_text(study: Study, fit: Fit, model: Model, focal: str, smallest: Smallest) -> str:
    """“1.5 points per hour”, “0.2 SD per SD”, “3 points”."""
    size = number_or_place(smallest.size)
    per = per_text(study, fit, focal, smallest.unit)
    if smallest.unit is EffectUnit.SD:
        return f"{size} SD {per}".strip()
    outcome = study.variable(model.outcome or "")
    if not outcome.unit and per in ("", "per unit"):
        return size
    return f"{with_units(size, outcome)} {per}".strip()
