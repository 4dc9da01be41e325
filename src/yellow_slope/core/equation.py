"""The equation of a step, as a line of text that can be computed by hand from raw values."""

from __future__ import annotations

from yellow_slope.core.design import Atom, GroupBasis
from yellow_slope.core.evaluate import Fit
from yellow_slope.core.numerals import MINUS, estimate_decimals, fixed, number_or_place
from yellow_slope.core.study import Study


def equation(study: Study, fit: Fit, step: int) -> str:
    """“control score = 48.62 − 0.15·(age − 34.2) + …”, with two decimals or more."""
    assert study.outcome is not None
    result = fit.steps[step]
    text = (
        f"{study.variable(study.outcome).label} = {fixed(float(result.b[0]), estimate_decimals(float(result.se[0])))}"
    )
    for j, column in enumerate(fit.design.columns[: result.n_columns]):
        if result.is_left_out(j):
            continue
        b = float(result.b[j + 1])
        size = fixed(abs(b), estimate_decimals(float(result.se[j + 1])))
        factors = "·".join(_factor(study, fit, atom) for atom in column.atoms)
        text += f" {'+' if b >= 0 else MINUS} {size}·{factors}"
    return text


def _factor(study: Study, fit: Fit, atom: Atom) -> str:
    variable, basis = study.variable(atom.variable), fit.design.bases[atom.variable]
    if isinstance(basis, GroupBasis):
        assert atom.comparison is not None
        return f"[{variable.label}: {basis.compared[atom.comparison].label}]"
    if basis.center == 0 and basis.scale == 1:
        return variable.label
    sign = "+" if basis.center < 0 else MINUS
    shifted = f"({variable.label} {sign} {number_or_place(abs(basis.center))})"
    return shifted if basis.scale == 1 else f"({shifted}/{number_or_place(basis.scale)})"
