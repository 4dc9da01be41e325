"""The equation of a step, to be computed by hand from raw values: as a line of text, and in LaTeX."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Sequence

import numpy as np

from yellow_slope.core.arrays import FloatArray
from yellow_slope.core.fit.design.bases import GroupBasis
from yellow_slope.core.fit.design.design import Atom
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.study.model import Model
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.names.terms import atom_name, shift_texts
from yellow_slope.core.words.spelling.numerals import MINUS, estimate_decimals, with_decimals, written_value
from yellow_slope.values import dataclass


@dataclass(frozen=True, slots=True)
class Summand:
    """One summand of an equation: its sign, its size, and the factors it is multiplied with, each with its power."""

    is_negative: bool
    size: str
    factors: tuple[tuple[str, int], ...]


ENOUGH = 0.01
"""Share of the outcome's SD by which the equation, reckoned with its own digits, may miss a predicted value."""
MOST_LOOKED_AT = 16_384
"""Of more cases the first so many tell how large a column is."""
MOST_MORE = 14
"""Decimals beyond the usual ones."""


def summands(study: Study, fit: Fit, step: int) -> list[Summand]:
    """The summands of a step, the constant first; without columns that are left out.

    With two decimals or more: so many that whoever reckons with what is written gets the predicted values.
    """
    result = fit.steps[step]
    b, se = result.inference.solution, result.se
    used = [j for j in range(-1 if fit.design.constant else 0, result.n_columns) if j < 0 or not result.is_left_out(j)]
    ends = [(float(b[j + 1]), float(result.low[j + 1]), float(result.high[j + 1])) for j in used]
    decimals = [estimate_decimals(float(se[j + 1]), *values) for j, values in zip(used, ends)]
    more = _more_decimals(
        fit, [fit.design.columns[j].atoms if j >= 0 else () for j in used], b[[j + 1 for j in used]], decimals
    )
    found: list[Summand] = []
    for j, (value, _, _), d in zip(used, ends, decimals):
        atoms = fit.design.columns[j].atoms if j >= 0 else ()
        powers = Counter(atom_name(study, fit, atom, more) for atom in atoms)
        found.append(Summand(value < 0, with_decimals(abs(value), d), tuple(powers.items())))
    return found


def _more_decimals(fit: Fit, products: Sequence[tuple[Atom, ...]], b: FloatArray, decimals: list[int]) -> int:
    """Decimals of zero points and scales beyond the usual ones; those of the coefficients are added to in place."""
    here = slice(0, MOST_LOOKED_AT)
    allowed = ENOUGH * float(fit.y[here].std())
    bare = _columns(fit, products, here, None)
    predicted, more = bare @ b, 0
    while more < MOST_MORE:
        columns = _columns(fit, products, here, more)
        if not allowed > 0 or float(np.abs(columns @ b - predicted).max()) <= allowed / 2:
            break
        more += 1
    columns, reach = _columns(fit, products, here, more), np.abs(bare).max(axis=0)
    for _ in range(MOST_MORE):
        written = np.array([written_value(with_decimals(float(v), d)) for v, d in zip(b, decimals)])
        if not allowed > 0 or float(np.abs(columns @ written - predicted).max()) <= allowed:
            break
        off = np.abs(written - b) * reach
        for k in np.flatnonzero(off >= max(off.max() / 10, allowed / (2 * b.size))):
            decimals[int(k)] += 1
    return more


def _columns(fit: Fit, products: Sequence[tuple[Atom, ...]], here: slice, more: int | None) -> FloatArray:
    """Shape (n, k): columns of some cases; with zero points and scales as they are written, or as they are."""
    n = fit.y[here].size
    found = np.ones((n, len(products)))
    for k, atoms in enumerate(products):
        for atom in atoms:
            found[:, k] *= _factor(fit, atom, here, more)
    return found


def _factor(fit: Fit, atom: Atom, here: slice, more: int | None) -> FloatArray:
    basis, values = fit.design.bases[atom.variable], fit.values[atom.variable][here]
    if isinstance(basis, GroupBasis):
        return np.asarray(basis.codes[values, atom.comparison or 0])
    places = np.asarray(values, dtype=np.float64)
    if more is None:
        return basis.treated(places)
    center, scale = (written_value(text) for text in shift_texts(basis, more))
    return np.asarray((basis.axis.forward(places) - center) / scale if scale else basis.treated(places))


def equation(study: Study, fit: Fit, step: int, model: Model | None = None) -> str:
    """“control score = 48.62 − 0.15·(age − 34.2) + …”."""
    model = model or study.model
    assert model.outcome is not None
    return _joined(f"{study.variable(model.outcome).label} =", summands(study, fit, step), MINUS, "·", _powered)


def latex(study: Study, fit: Fit, step: int, model: Model | None = None) -> str:
    r"""“\widehat{\text{control score}} = 48.62 - 0.15 \cdot (\text{age} - 34.2) + …”, to stand in mathematics."""
    model = model or study.model
    assert model.outcome is not None
    outcome = rf"\widehat{{{_in_latex(study.variable(model.outcome).label)}}} ="
    return _joined(outcome, summands(study, fit, step), "-", r" \cdot ", _powered_in_latex)


def _joined(begin: str, parts: list[Summand], minus: str, times: str, written: Callable[[str, int], str]) -> str:
    text = begin
    for part in parts:
        factors = [part.size, *(written(*factor) for factor in part.factors)]
        if text == begin:
            sign = f" {minus}" if part.is_negative else " "
        else:
            sign = f" {minus} " if part.is_negative else " + "
        text += sign + times.join(factors)
    return text


_RAISED = str.maketrans("0123456789", "⁰¹²³⁴⁵⁶⁷⁸⁹")


def _powered(factor: str, power: int) -> str:
    return factor + (str(power).translate(_RAISED) if power > 1 else "")


def _powered_in_latex(factor: str, power: int) -> str:
    return _in_latex(factor) + (f"^{{{power}}}" if power > 1 else "")


_LATEX = {
    "\\": r"\textbackslash{}",
    "{": r"\{",
    "}": r"\}",
    "$": r"\$",
    "&": r"\&",
    "#": r"\#",
    "%": r"\%",
    "_": r"\_",
    "~": r"\textasciitilde{}",
    "^": r"\textasciicircum{}",
    "²": r"\textsuperscript{2}",
    "³": r"\textsuperscript{3}",
    MINUS: "$-$",
    "·": r"$\cdot$",
    "×": r"$\times$",
}


def _in_latex(text: str) -> str:
    """A factor as text that stands in mathematics, with what LaTeX would read otherwise escaped."""
    return r"\text{" + "".join(_LATEX.get(mark, mark) for mark in text) + "}"
