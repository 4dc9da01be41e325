"""Does a covariate's product with the focal predictor or the moderator take an interaction away?"""

from __future__ import annotations

from collections.abc import Hashable

from yellow_slope.core.errors import YellowSlopeError
from yellow_slope.core.fit.asked.matching import column_keys
from yellow_slope.core.fit.fitted.evaluate import fitted
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.fit.fitted.inference import FTest
from yellow_slope.core.fit.fitted.steps import Coefficient, Resampling
from yellow_slope.core.fit.solve.why import Why
from yellow_slope.core.study.model import Model
from yellow_slope.core.study.standarderrors import analytic
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Block, Term
from yellow_slope.values import dataclass, replace

MOST_TRIED = 60
MOST_WORK = 4e10
"""Cases times columns squared, of all trials together."""


@dataclass(frozen=True, slots=True)
class Trial:
    """The product with one covariate's products beside it."""

    covariate: str
    added: tuple[Term, ...]
    """The covariate's products with the product's factors that were let in."""
    coefficient: Coefficient | None
    """Of a product of one column; None of a set, or where nothing can be told."""
    test: FTest | None
    """Of a set of columns its joint test."""
    why: str = ""
    """Why nothing can be told."""
    columns: tuple[Coefficient, ...] = ()
    """Of a set the coefficients of its columns."""

    @property
    def p(self) -> float:
        """Of the product with the covariate's products in."""
        if self.coefficient is not None:
            return self.coefficient.p
        return self.test.p if self.test is not None else float("nan")


@dataclass(frozen=True, slots=True, eq=False)
class Trials:
    """A product as it stands, and each covariate tried in turn, sorted by harm."""

    term: Term
    now: Trial
    rows: tuple[Trial, ...]
    n_left: int
    """Covariates that were not tried for their number."""


def covariate_trials(
    study: Study, model: Model, fit: Fit, term: Term, stop: Resampling | None = None, key: Hashable = None
) -> Trials:
    """Let each covariate's products with the factors of a term in, one covariate at a time (Yzerbyt, Muller & Judd
    2004).

    Covariates are the model's other single variables. All on the same cases, in one step of the last step's terms.
    Errors are those that have a formula. `key`: of the term's columns the one that asks this.
    """
    terms = model.active_terms
    if term not in terms:
        return Trials(term, Trial("", (), None, None, "the product is not in the last step"), (), 0)
    factors = tuple(dict.fromkeys(term.variables))
    covariates = [t.variables[0] for t in terms if not t.is_product and t.variables[0] not in factors]
    plain = replace(
        model, errors=analytic(model.errors), blocks=(Block(terms),), leave_out_first=(), reported=None, by=None
    )
    now = _trial(study, plain, fit, term, "", (), key)
    rows: list[Trial] = []
    most = _most_tried(fit)
    for name in covariates[:most]:
        if stop is not None:
            stop.go_on(len(rows) / len(covariates))
        added = tuple(t for t in (Term((name, factor)) for factor in factors) if t not in terms)
        if not added:
            continue
        wider = replace(plain, blocks=(Block((*terms, *added)),))
        rows.append(_trial(study, wider, fit, term, name, added, key))
    rows.sort(key=lambda row: (row.why != "", -row.p if row.p == row.p else 0.0))
    return Trials(term, now, tuple(rows), max(0, len(covariates) - most))


def _most_tried(fit: Fit) -> int:
    """How many covariates are tried: so many as can be within the work that one waits for, one in any case."""
    work = fit.cases.n * float(len(fit.design.columns) + 2) ** 2
    return int(max(1, min(MOST_TRIED, MOST_WORK / work)))


def _trial(
    study: Study, model: Model, fit: Fit, term: Term, name: str, added: tuple[Term, ...], key: Hashable
) -> Trial:
    try:
        found = fitted(study, model, fit.cases)
    except YellowSlopeError as error:
        return Trial(name, added, None, None, str(error))
    if not isinstance(found, Fit):
        return Trial(name, added, None, None, found.said)
    columns = found.design.columns_of(term)
    if key is not None:
        keys = column_keys(found)
        columns = tuple(j for j in columns if keys[j] == key)
    if len(columns) == 1:
        coefficient = found.last.coefficient(columns[0])
        if coefficient.why is Why.LEFT_OUT or coefficient.why is Why.NOT_ESTIMABLE:
            return Trial(name, added, None, None, "in these cases the product cannot be separated from it")
        return Trial(name, added, coefficient, None)
    if not columns:
        return Trial(name, added, None, None, "the product has no column")
    all_of_them = tuple(found.last.coefficient(j) for j in columns)
    return Trial(name, added, None, found.last.joint[term], columns=all_of_them)
