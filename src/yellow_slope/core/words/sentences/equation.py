"""The equation of a step, to be computed by hand from raw values: as a line of text, and in LaTeX."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass

from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.study.model import Model
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.names.terms import atom_name
from yellow_slope.core.words.spelling.numerals import MINUS, estimate_decimals, fixed


@dataclass(frozen=True, slots=True)
class Summand:
    """One summand of an equation: its sign, its size, and the factors it is multiplied with, each with its power."""

    is_negative: bool
    size: str
    factors: tuple[tuple[str, int], ...]


def summands(study: Study, fit: Fit, step: int) -> list[Summand]:
    """The summands of a step, the constant first, with two decimals or more; without columns that are left out."""
    result = fit.steps[step]
    b, se = result.inference.solution, result.se
    found: list[Summand] = []
    for j in range(-1 if fit.design.constant else 0, result.n_columns):
        if j >= 0 and result.is_left_out(j):
            continue
        value = float(b[j + 1])
        bounds = (float(result.low[j + 1]), float(result.high[j + 1]))
        size = fixed(abs(value), estimate_decimals(float(se[j + 1]), value, *bounds))
        atoms = fit.design.columns[j].atoms if j >= 0 else ()
        powers = Counter(atom_name(study, fit, atom) for atom in atoms)
        found.append(Summand(value < 0, size, tuple(powers.items())))
    return found


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
