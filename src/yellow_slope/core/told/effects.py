"""A conditional effect in numbers: a row below Probe's plots, in a printed table and in a file of it."""

from __future__ import annotations

from enum import Enum, auto
from typing import assert_never

from yellow_slope.core.fit.design.bases import NumberBasis
from yellow_slope.core.fit.fitted.inference import ConditionalEffect
from yellow_slope.core.probe.probed import Probed
from yellow_slope.core.probe.support import Near
from yellow_slope.core.study.report import ReportChoice
from yellow_slope.core.told.cells import BLANK, NOTHING, PLAIN, Cell, between, count, estimate, p_cell, statistic
from yellow_slope.core.words.sentences.effects import decimals_below
from yellow_slope.core.words.spelling.numerals import level_text
from yellow_slope.values import dataclass


@dataclass(frozen=True, slots=True)
class ToldEffect:
    """An effect with what stands beside it."""

    effect: ConditionalEffect
    near: tuple[int, ...] = ()
    """The cases there, of each side that is compared; nothing where they are not counted."""
    p_holm: float | None = None
    """Adjusted by Holm in its family, NaN where it has none; None of what belongs to no family."""


class EffectColumn(Enum):
    """What is told of an effect, from left to right."""

    EFFECT = auto()
    INTERVAL = auto()
    SE = auto()
    T = auto()
    P = auto()
    HOLM = auto()
    CASES = auto()

    def head(self, probed: Probed, is_tight: bool = False) -> str:
        """What stands above it; is_tight: in one word."""
        match self:
            case EffectColumn.EFFECT:
                return "slope" if isinstance(probed.focal, NumberBasis) else "difference"
            case EffectColumn.INTERVAL:
                return f"{level_text(probed.level)} CI"
            case EffectColumn.SE:
                return "SE"
            case EffectColumn.T:
                return f"t({probed.fit.steps[probed.step].inference.df})"
            case EffectColumn.P:
                return "p"
            case EffectColumn.HOLM:
                return "Holm p"
            case EffectColumn.CASES:
                near = "near" if is_tight else "cases near"
                return near if isinstance(probed.moderator, NumberBasis) else "cases"
            case _:
                assert_never(self)

    def cell(self, told: ToldEffect, most: int, choice: ReportChoice = PLAIN) -> Cell:
        """Its number; a dash where there is none. most: the decimals of the column; choice: how many decimals there are
        at the least, and whether estimates are marked by their p."""
        e = told.effect
        if self is EffectColumn.CASES:
            return count(*told.near) if told.near else BLANK
        if self is EffectColumn.HOLM:
            return BLANK if told.p_holm is None else p_cell(told.p_holm)
        if not e.exists or (e.why is not None and self is not EffectColumn.EFFECT):
            return NOTHING
        decimals = decimals_below(e, most, choice.decimals)
        match self:
            case EffectColumn.EFFECT:
                return estimate(e.effect, decimals, e.p, choice)
            case EffectColumn.INTERVAL:
                return between(e.low, e.high, decimals)
            case EffectColumn.SE:
                return estimate(e.se, decimals)
            case EffectColumn.T:
                return statistic(e.t)
            case EffectColumn.P:
                return p_cell(e.p)
            case _:
                assert_never(self)


def cases_of(near: tuple[Near, ...]) -> tuple[int, ...]:
    """How many cases are near, of each side that is compared."""
    return tuple(one.cases for one in near)
