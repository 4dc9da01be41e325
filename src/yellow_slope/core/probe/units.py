"""In which units effects are given: by what an effect of the treated numbers is multiplied."""

from __future__ import annotations

from typing import assert_never

from yellow_slope.core.data.numbers import mean_and_sd
from yellow_slope.core.fit.design.bases import Basis, GroupBasis
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.study.probe import EffectUnit, Smallest


def factor(fit: Fit, focal: Basis, unit: EffectUnit) -> float | None:
    """What turns an effect of the treated focal predictor into a unit; None where there is no such unit.

    Raw: of a transformed number one raw unit is not the same everywhere. SD: of a number its own SD over the model's
    cases (of a transformed one that of the transformed values), over the outcome's.
    """
    match unit:
        case EffectUnit.TREATED:
            return 1.0
        case EffectUnit.RAW:
            if isinstance(focal, GroupBasis):
                return 1.0
            return 1.0 / focal.scale if focal.axis.is_identity else None
        case EffectUnit.SD:
            _, sd = mean_and_sd(fit.y)
            if not sd > 0:
                return None
            if isinstance(focal, GroupBasis):
                return 1.0 / sd
            return focal.axis_sd / focal.scale / sd if focal.axis_sd > 0 else None
        case _:
            assert_never(unit)


def offered(fit: Fit, focal: Basis) -> tuple[EffectUnit, ...]:
    """The units that differ from each other; as treated first."""
    found: dict[float, EffectUnit] = {}
    for unit in EffectUnit:
        by = factor(fit, focal, unit)
        if by is not None:
            found.setdefault(by, unit)
    return tuple(found.values())


def in_unit(fit: Fit, focal: Basis, smallest: Smallest, unit: EffectUnit) -> float | None:
    """The smallest effect that matters in another unit; None where one of the two does not exist."""
    own, shown = factor(fit, focal, smallest.unit), factor(fit, focal, unit)
    return None if own is None or shown is None else smallest.size * shown / own
