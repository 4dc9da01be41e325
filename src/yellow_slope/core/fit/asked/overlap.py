"""How much predictors overlap, with and without centering."""

from __future__ import annotations

from yellow_slope.core.data.variable import Kind
from yellow_slope.core.errors import YellowSlopeError
from yellow_slope.core.fit.asked.collinearity import generalized_vif, largest_index
from yellow_slope.core.fit.fitted.evaluate import fitted
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.study.model import Model
from yellow_slope.core.study.standarderrors import Classical
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Term, variables_of
from yellow_slope.core.study.treatment import Mean, Raw, Zero
from yellow_slope.values import dataclass, replace

MOST_TERMS = 60
"""Terms that are looked at one by one."""
NAN = float("nan")


@dataclass(frozen=True, slots=True)
class TermOverlap:
    """A term's variance inflation, of a set its generalized one to the power 1/columns, so that all are of one kind;
    NaN where its columns are left out."""

    term: Term
    columns: int
    now: float
    raw: float
    """With every number's zero where the file has it."""
    centered: float
    """With every number centered at its mean."""


@dataclass(frozen=True, slots=True)
class Overlap:
    """Of a step."""

    terms: tuple[TermOverlap, ...]
    n_left: int
    """Terms that are not listed for their number."""
    index: float
    """The largest condition index of the columns as they are, the constant among them."""
    raw_index: float
    centered_index: float

    @property
    def largest(self) -> float:
        """The largest variance inflation as the columns are; NaN where there is none."""
        return max((t.now for t in self.terms if t.now == t.now), default=NAN)


def overlap_of(study: Study, fit: Fit, step: int) -> Overlap:
    """Variance inflation of every term (Fox & Monette 1992) and the largest condition index (Belsley, Kuh & Welsch
    1980)."""
    width = fit.steps[step].n_columns
    terms = list(dict.fromkeys(column.term for column in fit.design.columns[:width]))
    raw, centered = (_with_zeros(study, study.model, fit, zero) for zero in (Raw(), Mean()))
    found = tuple(
        TermOverlap(t, len(fit.design.columns_of(t)), _vif(fit, step, t), _vif(raw, step, t), _vif(centered, step, t))
        for t in terms[:MOST_TERMS]
    )
    left = max(0, len(terms) - MOST_TERMS)
    return Overlap(found, left, _index(fit, step), _index(raw, step), _index(centered, step))


def _vif(fit: Fit | None, step: int, term: Term) -> float:
    if fit is None:
        return NAN
    found = generalized_vif(fit, step, term)
    return float(found ** (1.0 / max(1, len(fit.design.columns_of(term))))) if found == found else NAN


def _index(fit: Fit | None, step: int) -> float:
    if fit is None or not fit.factored.size(fit.steps[step].n_columns):
        return NAN
    return largest_index(fit, step)


def _with_zeros(study: Study, model: Model, fit: Fit, zero: Zero) -> Fit | None:
    """The fit with the zero of every number there; None where that model cannot be."""
    entries = dict(model.entries)
    for name in variables_of(model.active_terms):
        if study.variable(name).kind is Kind.NUMBER:
            entries[name] = replace(model.treatment(name), zero=zero)
    try:
        found = fitted(study, replace(model, entries=entries, errors=Classical()), fit.cases)
    except YellowSlopeError:
        return None
    return found if isinstance(found, Fit) else None
