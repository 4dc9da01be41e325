"""How a product stands, and how it would stand after each of its rivals."""

from __future__ import annotations

from collections.abc import Callable, Hashable, Iterator
from typing import assert_never

import numpy as np

from yellow_slope.core.data.variable import Kind
from yellow_slope.core.errors import YellowSlopeError
from yellow_slope.core.fit.asked.covariatetrials import covariate_trials
from yellow_slope.core.fit.asked.diagnosis import diagnose
from yellow_slope.core.fit.asked.faraway import distances, far_by
from yellow_slope.core.fit.asked.leftout import LeftOutRange, left_out_range
from yellow_slope.core.fit.asked.matching import column_keys
from yellow_slope.core.fit.fitted.evaluate import evaluate_model
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.fit.fitted.inference import FTest
from yellow_slope.core.fit.fitted.steps import NOW, Coefficient, Resampling
from yellow_slope.core.fit.solve.resampling import QUICK, seconds_of
from yellow_slope.core.fit.solve.why import Why
from yellow_slope.core.probe.asking import default_probe
from yellow_slope.core.stand.rivals import (
    AnyOneOut,
    CovariateProducts,
    Form,
    OneLevel,
    OtherErrors,
    OutcomeAs,
    PutBack,
    Rival,
    Squares,
    WithoutFar,
    adopt,
)
from yellow_slope.core.study.checks import MOST_PARTS, FarBy
from yellow_slope.core.study.model import Model
from yellow_slope.core.study.standarderrors import HC, Bootstrap, Classical, Cluster, IntervalWay, analytic
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Term
from yellow_slope.values import dataclass, field, replace

NO_TEST = "it cannot be tested"
MOST_VALUES = 1_000_000
"""Cases times columns: of more, resamples are drawn only where they are the model's own errors."""
TOO_LARGE = "too large to be resampled here; choose a bootstrap among the standard errors"
MOST_SECONDS = 3.0
"""Of a resampled rival that would take longer nobody waits."""
DRAWS, SEED = 5000, 1
"""Of the resampled rival."""


@dataclass(frozen=True, slots=True)
class ProductAsked:
    """What is looked at: a product, or one column of it."""

    product: Term
    key: Hashable = None
    """What the column asks, as `column_keys` has it; None: the product as a whole."""


@dataclass(frozen=True, slots=True)
class Standing:
    """What a model says of the product. `why`: why it says nothing."""

    n: int
    columns: tuple[Coefficient, ...] = ()
    """Of one column, or of a set all that there are."""
    test: FTest | None = None
    """Of a set of columns."""
    why: str = ""
    is_waiting: bool = False
    """Its resamples are still to be drawn."""
    cause: Why | None = None
    """Why there is no test, where the fit says it."""

    @property
    def one(self) -> Coefficient | None:
        """The coefficient, where one is asked."""
        return self.columns[0] if self.test is None and len(self.columns) == 1 else None

    @property
    def p(self) -> float:
        """Of what is asked; NaN where there is none."""
        if self.test is not None:
            return self.test.p
        return self.one.p if self.one is not None else float("nan")


@dataclass(frozen=True, slots=True)
class Row:
    """A rival, and how the product stands with it."""

    rival: Rival
    standing: Standing
    has_units: bool = True
    """Whether b is in the units of the product as it stands."""
    range: LeftOutRange | None = None
    """Of any one case left out."""
    by_formula: bool = False
    """Whether it is not resampled although the model is: it would take too long."""

    @property
    def why(self) -> str:
        """Why nothing can be told."""
        return self.standing.why


@dataclass(frozen=True, slots=True)
class Stand:
    """A product as it stands in a step, and its rivals."""

    asked: ProductAsked
    step: int
    level: float
    base: Standing
    rows: tuple[Row, ...]
    fit: Fit = field(compare=False, repr=False)
    """The fit that it is of."""
    formula: Standing | None = None
    """The product as it stands with errors that have a formula: what rows that are not resampled are held against."""

    def index_of(self, rival: Rival | None) -> int:
        """The row of a rival; -1: the product as it stands, also where there is no such rival any more."""
        return next((i for i, row in enumerate(self.rows) if row.rival == rival), -1)

    @property
    def holds(self) -> bool:
        """Whether the product is significant as it stands."""
        return self.base.p < 1.0 - self.level

    def keeps_sign(self, row: Row) -> bool | None:
        """Whether b has the sign it has; None where there is no single b on both sides."""
        base = self.base.one
        if base is None or np.isnan(base.b):
            return None
        if row.range is not None:
            return bool(np.sign(row.range.low) == np.sign(base.b) == np.sign(row.range.high))
        one = row.standing.one
        return None if one is None or np.isnan(one.b) else bool(np.sign(one.b) == np.sign(base.b))

    def same_conclusion(self, row: Row) -> bool | None:
        """Whether p is on the same side of the study's level; None where there is no p on both sides."""
        if np.isnan(self.base.p):
            return None
        if row.range is not None:
            return None if np.isnan(row.range.p_high) else not row.range.turns
        base = self.formula if row.by_formula and self.formula is not None else self.base
        if np.isnan(row.standing.p) or np.isnan(base.p):
            return None
        alpha = 1.0 - self.level
        return bool((row.standing.p < alpha) == (base.p < alpha))


def probed_product(study: Study, fit: Fit | None) -> Term | None:
    """The product that is looked at where nobody has chosen one: that of the current probe, else the last of the model.
    The one rule for it. fit: of the current model."""
    products = [t for t in study.model.active_terms if t.is_product]
    probe = default_probe(study, fit)
    asked = set() if probe is None else {probe.focal, probe.moderator}
    about = [t for t in products if asked and asked <= set(t.variables)]
    if probe is not None and probe.second is not None:
        about = [t for t in about if probe.second.variable in t.variables] or about
    if about:
        return min(about, key=lambda t: len(t.variables))
    return products[-1] if products else None


def asked_in(study: Study, step: int, product: Term | None, key: Hashable = None) -> ProductAsked | None:
    """What is asked in a step: the product where it stands there, else the last that does; None without one."""
    there = [t for block in study.model.steps[: step + 1] for t in block.terms if t.is_product]
    if product is not None and product in there:
        return ProductAsked(product, key)
    return ProductAsked(there[-1]) if there else None


def default_split(study: Study, product: Term) -> str | None:
    """The group in whose levels the product is looked at alone: the chosen one, else that of one model per group, else
    the first group of the model that is not in the product; none of more levels than can be looked at. The one rule for
    it."""

    def can_be(name: str) -> bool:
        variable = study.variable(name)
        return variable.kind is Kind.GROUP and len(variable.levels) <= MOST_PARTS

    entered = [t.variables[0] for t in study.model.active_terms if not t.is_product]
    names = [study.checks.split, study.model.by, *(n for n in entered if n not in product.variables)]
    return next((name for name in names if name is not None and can_be(name)), None)


def standing(study: Study, fit: Fit, step: int, asked: ProductAsked) -> Standing:
    """What a fit says of what is asked."""
    n, result = fit.cases.n, fit.steps[step]
    columns = [j for j in fit.design.columns_of(asked.product) if j < result.n_columns]
    if asked.key is not None:
        keys = column_keys(fit)
        columns = [j for j in columns if keys[j] == asked.key]
    if not columns:
        return Standing(n, why="the coefficient does not exist in it")
    found = tuple(result.coefficient(j) for j in columns)
    waits = fit.is_waiting
    if len(found) == 1:
        if np.isnan(found[0].b):
            return Standing(
                n, found, why="in these cases it cannot be separated from the rest of the model", is_waiting=waits
            )
        why = found[0].why
        return Standing(n, found, is_waiting=waits, why="" if waits or why is None else NO_TEST, cause=why)
    test = result.joint.get(asked.product)
    if test is None:
        return Standing(n, found, why="the joint test does not exist in it")
    return Standing(n, found, test, "" if test.why is None else NO_TEST, waits, test.why)


def stand_of(
    study: Study, fit: Fit, step: int, asked: ProductAsked, go_on: Callable[[float], None] = lambda share: None
) -> Stand:
    """The product as it stands and every rival but the resampled one, whose row waits (`resampled_standing`).

    Rivals of a model with bootstrapped errors are resampled with its draws where nobody has to wait for them, else they
    use the errors that have a formula, and are held against the product with these.
    """
    block = study.model.steps[step].id
    rivals = list(rivals_of(study, fit, step, asked.product))
    rows: list[Row] = []
    for i, rival in enumerate(rivals):
        go_on(i / len(rivals))
        rows.append(_row(study, fit, step, block, asked, rival))
    worst = _worst_covariate(study, fit, step, asked)
    formula = None
    if any(row.by_formula for row in rows) or (worst is not None and worst.by_formula):
        formula = _after(study, block, asked, _bare(study))
    if worst is not None:
        at = next((i for i, row in enumerate(rows) if isinstance(row.rival, OneLevel | OutcomeAs)), len(rows))
        rows.insert(at, worst)
    return Stand(asked, step, study.model.level, standing(study, fit, step, asked), tuple(rows), fit, formula)


def rivals_of(study: Study, fit: Fit, step: int, product: Term) -> Iterator[Rival]:
    """The rivals of a product in their order, but for that of the covariates."""
    errors = study.model.errors
    yield OtherErrors(HC(3) if isinstance(errors, Classical) else Classical())
    if isinstance(errors, Cluster | Bootstrap):
        cluster = errors.id if isinstance(errors, Cluster) else errors.cluster
        if cluster is not None and isinstance(errors, Bootstrap):
            yield OtherErrors(Cluster(cluster))
    else:
        cluster = None
    resampled = Bootstrap(IntervalWay.PERCENTILE, DRAWS, SEED, cluster)
    if resampled != errors:
        yield OtherErrors(resampled)
    yield AnyOneOut()
    found, away = diagnose(fit, step), distances(fit, study.checks.cutoffs.groups)
    for by in FarBy:
        far = far_by(by, found, away, study.checks.cutoffs)
        if np.isfinite(far.cutoff):
            yield WithoutFar(by, far.cutoff, far.is_typed, tuple(int(row) for row in fit.cases.rows[far.cases]))
    sample = study.sample_of(study.model)
    aside = tuple(sorted({row for part in sample.aside for row in part.rows})) if sample is not None else ()
    if aside:
        yield PutBack(aside)
    squares = squares_of(study, fit, product)
    if squares is not None:
        yield squares
    split = default_split(study, product)
    if split is not None and split not in product.variables and split != study.model.outcome:
        for level in study.variable(split).levels:
            yield OneLevel(split, level.code)
    for form in Form:
        yield OutcomeAs(form)


def squares_of(study: Study, fit: Fit, product: Term) -> Squares | None:
    """The squares of a product's numbers that are not in the model; None where there are none."""
    here, factors = study.model.active_terms, dict.fromkeys(product.variables)
    numbers = [name for name in factors if study.variable(name).kind is Kind.NUMBER and _has_square(fit, name)]
    squares = tuple(term for name in numbers if (term := Term((name, name))) not in here and len(factors) > 1)
    return Squares(squares) if squares else None


def with_squares(study: Study, fit: Fit, step: int, product: Term) -> Row | None:
    """How a product stands once the squares of its numbers are entered before it (Lubinski & Humphreys 1990; Ganzach
    1997); None where there are none to enter."""
    squares, asked = squares_of(study, fit, product), ProductAsked(product)
    if squares is None:
        return None
    return _row(study, fit, step, study.model.steps[step].id, asked, squares)


def _has_square(fit: Fit, name: str) -> bool:
    """Whether the square of a number says more than the number: it has more than two values."""
    values = np.asarray(fit.values[name], dtype=np.float64)
    return bool(np.any((values > values.min()) & (values < values.max())))


def resampled_standing(
    study: Study, fit: Fit, step: int, asked: ProductAsked, rival: OtherErrors, resampling: Resampling
) -> Standing:
    """How the product stands with resampled errors, drawn now."""
    return _after(study, study.model.steps[step].id, asked, adopt(study, rival, asked.product, ""), resampling)


def is_large(fit: Fit, step: int) -> bool:
    """Whether resampling it, and drawing its rivals anew in a report, would keep somebody waiting."""
    return fit.cases.n * max(1, fit.steps[step].n_columns) > MOST_VALUES


def whole_stand(study: Study, fit: Fit, step: int, asked: ProductAsked) -> Stand:
    """The product with all its rivals, the resampled one drawn now."""
    stand = stand_of(study, fit, step, asked)
    rows = []
    for row in stand.rows:
        if row.standing.is_waiting and isinstance(row.rival, OtherErrors):
            row = replace(row, standing=resampled_standing(study, fit, step, asked, row.rival, NOW))
        rows.append(row)
    return replace(stand, rows=tuple(rows))


def _row(study: Study, fit: Fit, step: int, block: str, asked: ProductAsked, rival: Rival) -> Row:
    match rival:
        case AnyOneOut():
            found = left_out_range(fit, step, asked_columns(fit, step, asked), study.model.level)
            said = "" if found is not None else "leaving out one case at a time gives no figure"
            return Row(rival, Standing(fit.cases.n - 1, why=said), range=found)
        case OtherErrors(Bootstrap() as drawn):
            large = is_large(fit, step) or seconds_of(fit.factored, drawn, fit.clusters) > MOST_SECONDS
            why = drawn.why_not(study.model.level) or (TOO_LARGE if large else "")
            return Row(rival, Standing(fit.cases.n, why=why.rstrip("."), is_waiting=not why))
        case WithoutFar(rows=()):
            return Row(rival, Standing(fit.cases.n, why="no case is beyond it"))
        case OutcomeAs(form):
            why = _not_allowed(study, fit, form)
            if why:
                return Row(rival, Standing(fit.cases.n, why=why), has_units=False)
        case OtherErrors() | WithoutFar() | PutBack() | Squares() | CovariateProducts() | OneLevel():
            pass
        case _:
            assert_never(rival)
    errors = study.model.errors
    slow = isinstance(errors, Bootstrap) and (
        fit.resampled is None or seconds_of(fit.factored, errors, fit.clusters) > QUICK
    )
    slow = slow and not isinstance(rival, OtherErrors)
    try:
        changed = adopt(_bare(study) if slow else study, rival, asked.product, "")
    except YellowSlopeError as error:
        return Row(rival, Standing(fit.cases.n, why=str(error).rstrip(".")))
    told = _after(study, block, asked, changed)
    return Row(rival, told, has_units=not isinstance(rival, OutcomeAs), by_formula=slow)


def _bare(study: Study) -> Study:
    """The study with errors that have a formula."""
    return study.with_model(replace(study.model, errors=analytic(study.model.errors)))


def _after(
    study: Study, block: str, asked: ProductAsked, changed: Study, resampling: Resampling | None = None
) -> Standing:
    """How the product stands in a changed study, in the step of the same block."""
    model = changed.model
    found = evaluate_model(changed, model) if resampling is None else evaluate_model(changed, model, resampling)
    if not isinstance(found, Fit):
        return Standing(found.cases.n, why=found.said.rstrip("."))
    step = model.step_index(block)
    if step < 0 or asked.product not in model.terms:
        return Standing(found.cases.n, why="the product is not in the model then")
    return standing(changed, found, step, asked)


def asked_columns(fit: Fit, step: int, asked: ProductAsked) -> list[int]:
    """The columns of a step that are asked."""
    keys, width = column_keys(fit), fit.steps[step].n_columns
    return [
        j for j in fit.design.columns_of(asked.product) if j < width and (asked.key is None or keys[j] == asked.key)
    ]


def _not_allowed(study: Study, fit: Fit, form: Form) -> str:
    """Why the outcome cannot be taken so; empty if it can."""
    outcome = study.variable(study.model.outcome or "").label
    lowest = float(fit.y.min())
    if form is Form.LOG and lowest <= 0:
        return f"{outcome} is 0 or below in some case"
    if form is Form.ROOT and lowest < 0:
        return f"{outcome} is below 0 in some case"
    return ""


def upto(model: Model, step: int) -> Model:
    """The model with the blocks of its steps up to one."""
    return replace(model, blocks=model.steps[: step + 1])


def _worst_covariate(study: Study, fit: Fit, step: int, asked: ProductAsked) -> Row | None:
    """The covariate whose products harm most; None where the model has no covariate. Of a single column by its b."""
    trials = covariate_trials(study, upto(study.model, step), fit, asked.product, key=asked.key)
    told = [row for row in trials.rows if not row.why]
    if not told:
        return None
    worst = told[0]
    n = fit.cases.n
    if worst.coefficient is not None:
        found = Standing(n, (worst.coefficient,))
    else:
        found = Standing(n, worst.columns, worst.test)
    by_formula = isinstance(study.model.errors, Bootstrap)
    return Row(CovariateProducts(worst.covariate, worst.added, len(told), trials.n_left), found, by_formula=by_formula)
