"""The equation of a step, as a line of text that can be computed by hand from raw values."""

from __future__ import annotations

from yellow_slope.core.fit.evaluate import Fit
from yellow_slope.core.study.model import Model
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.names import atom_name
from yellow_slope.core.words.numerals import MINUS, estimate_decimals, fixed


def equation(study: Study, fit: Fit, step: int, model: Model | None = None) -> str:
    """“control score = 48.62 − 0.15·(age − 34.2) + …”, with two decimals or more."""
    model = model or study.model
    assert model.outcome is not None
    result = fit.steps[step]
    b, se = result.inference.solution, result.se
    text = f"{study.variable(model.outcome).label} ="
    if fit.design.constant:
        text += f" {fixed(float(b[0]), estimate_decimals(float(se[0]), float(b[0])))}"
    for j, column in enumerate(fit.design.columns[: result.n_columns]):
        if result.is_left_out(j):
            continue
        value = float(b[j + 1])
        size = fixed(abs(value), estimate_decimals(float(se[j + 1]), value))
        factors = "·".join(atom_name(study, fit, atom) for atom in column.atoms)
        sign = "+" if value >= 0 else MINUS
        text += f" {size}·{factors}" if text.endswith("=") and value >= 0 else f" {sign} {size}·{factors}"
    return text
