"""What is told in rows: each cell prints the number that it holds, and nothing where there is none."""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np
import pytest

from tests.support.worlds import fit_of, noise_world, study_of
from yellow_slope.core.fit.asked.describe import described
from yellow_slope.core.fit.fitted.steps import Coefficient
from yellow_slope.core.fit.solve.why import Why
from yellow_slope.core.probe.probing import probe_fit
from yellow_slope.core.study.edits.models import set_errors
from yellow_slope.core.study.probe import Probe
from yellow_slope.core.study.report import BesideCorrelation, CoefficientFigure, ReportChoice
from yellow_slope.core.study.standarderrors import HC
from yellow_slope.core.told.cells import Cell, Role
from yellow_slope.core.told.coefficients import CHOSEN, CoefficientColumn
from yellow_slope.core.told.descriptives import correlations, described_names, moment_cells
from yellow_slope.core.told.effects import EffectColumn, ToldEffect
from yellow_slope.core.told.models import ModelFigure
from yellow_slope.core.told.steps import StepFigure, step_line
from yellow_slope.core.words.sentences.coefficients import Reader
from yellow_slope.core.words.spelling.numerals import MINUS
from yellow_slope.values import replace

NUMBER: dict[CoefficientColumn, Callable[[Coefficient], tuple[float, ...]]] = {
    CoefficientColumn.B: lambda c: (c.b,),
    CoefficientColumn.SE: lambda c: (c.se,),
    CoefficientColumn.INTERVAL: lambda c: (c.low, c.high),
    CoefficientColumn.BETA: lambda c: (c.beta,),
    CoefficientColumn.T: lambda c: (c.t,),
    CoefficientColumn.P: lambda c: (c.p,),
    CoefficientColumn.SR2: lambda c: (c.sr2,),
    CoefficientColumn.VIF: lambda c: (c.vif,),
    CoefficientColumn.TOLERANCE: lambda c: (1 / c.vif,),
    CoefficientColumn.ZERO_ORDER: lambda c: (c.r,),
    CoefficientColumn.PARTIAL: lambda c: (c.partial_r,),
    CoefficientColumn.SEMIPARTIAL: lambda c: (math.copysign(math.sqrt(c.sr2), c.partial_r),),
}


def prints(cell: Cell) -> bool:
    """Whether each part of the text is its number, rounded to as many decimals as it is written with."""
    parts = cell.text.rstrip("*").split(" to ")
    if cell.role is Role.P and parts[0][0] in "<>":
        return (cell.numbers[0] < 0.001) if parts[0][0] == "<" else (cell.numbers[0] > 0.999)
    read = [text.replace(MINUS, "-").replace(",", "") for text in parts]
    off = [0.5000001 * 10.0 ** -len(text.partition(".")[2]) for text in read]
    return all(abs(float(text) - number) <= most for text, number, most in zip(read, cell.numbers, off, strict=True))


@pytest.mark.parametrize("seed", range(4))
def test_a_cell_of_a_coefficient_prints_its_own_number(seed: int) -> None:
    fit = fit_of(study_of(noise_world(seed), "y", "x, w, g; x*w, x*g"))
    for step in fit.steps:
        for j in range(-1, step.n_columns):
            c = step.coefficient(j)
            for column, number in NUMBER.items():
                cell = column.cell(c, 3)
                if not cell.text:
                    assert j == -1, "only the intercept has no such number"
                    continue
                assert cell.numbers == number(c)
                assert prints(cell), (column, cell)
    assert set(NUMBER) == set(CoefficientColumn)
    assert list(CHOSEN) == list(CoefficientFigure)


def test_what_does_not_exist_is_a_dash_or_nothing() -> None:
    known = fit_of(study_of(noise_world(1), "y", "x, w")).last.coefficient(0)
    gone = replace(known, b=math.nan, why=Why.LEFT_OUT)
    cells = [column.cell(gone, 2) for column in CoefficientColumn]
    assert [cell.text for cell in cells] == ["–"] + [""] * (len(cells) - 1)
    assert not any(cell.numbers for cell in cells)


@pytest.mark.parametrize("seed", range(4))
def test_a_cell_of_an_effect_prints_its_own_number(seed: int) -> None:
    study = study_of(noise_world(seed), "y", "x, w, g; x*w, x*g")
    fit = fit_of(study)
    probed = probe_fit(study, fit, Probe("x", "w"))
    for focus in probed.panels[0].foci:
        for e, near in zip(focus.effects, focus.near):
            told = ToldEffect(e, tuple(one.cases for one in near), 0.04)
            numbers = {
                EffectColumn.EFFECT: (e.effect,),
                EffectColumn.INTERVAL: (e.low, e.high),
                EffectColumn.SE: (e.se,),
                EffectColumn.T: (e.t,),
                EffectColumn.P: (e.p,),
                EffectColumn.HOLM: (0.04,),
                EffectColumn.CASES: told.near,
            }
            for column in EffectColumn:
                cell = column.cell(told, 2)
                assert cell.numbers == numbers[column]
                assert prints(cell), (column, cell)
            assert EffectColumn.HOLM.cell(ToldEffect(e), 2).text == ""
            assert EffectColumn.HOLM.cell(ToldEffect(e, p_holm=float("nan")), 2).text == "–"


def test_a_step_and_a_model_print_their_own_numbers() -> None:
    study = study_of(noise_world(3), "y", "x, w; x*w")
    fit = fit_of(study)
    for step in range(2):
        line = step_line(Reader(study, fit, study.model), step)
        assert all(prints(line.cells[figure]) for figure in StepFigure), line
        test = fit.steps[step].change.test
        assert line.text(StepFigure.F).endswith(f"({test.df1}, {test.df2})")
    assert all(prints(figure.cell(fit)) for figure in ModelFigure)
    robust = set_errors(study, HC(3))
    line = step_line(Reader(robust, fit_of(robust), robust.model), 1)
    assert line.text(StepFigure.CHANGE_INTERVAL) == "–"
    assert StepFigure.CHANGE_INTERVAL in line.notes


def test_correlations_and_moments_print_their_own_numbers() -> None:
    study = study_of(noise_world(5), "y", "x, w, g")
    found = described(fit_of(study), study.model)
    assert found is not None
    names, told = described_names(study, found), correlations(found, study.model.level)
    assert len(names) == len(told) == len(found.columns)
    marked = ReportChoice(stars=True)
    for i in range(len(names)):
        assert [cell.numbers[0] for cell in moment_cells(found, i)] == [
            found.mean[i], found.sd[i], found.low[i], found.high[i],
        ]  # fmt: skip
        assert all(prints(cell) for cell in moment_cells(found, i))
        for j, one in enumerate(told[i]):
            assert np.isclose(one.r, found.r[j, i])
            assert prints(one.cell())
            assert prints(one.cell(choice=marked))
            assert one.cell(choice=marked).text.endswith("*") == (one.p < 0.05)
            assert one.cell(BesideCorrelation.INTERVAL).numbers == (one.r, one.low, one.high)
            assert one.interval.text in one.cell(BesideCorrelation.INTERVAL).text
            assert one.cell(BesideCorrelation.P).numbers == (one.r, one.p)
