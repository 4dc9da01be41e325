"""A raw variable in a product whose zero lies outside its range."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

from yellow_slope.core.fit.design.bases import NumberBasis
from yellow_slope.core.fit.fitted.evaluate import Evaluation
from yellow_slope.core.flags.flag import Flag, Remedy
from yellow_slope.core.study.edits.entries import treat
from yellow_slope.core.study.flagkeys import FlagKey, FlagKind
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Term
from yellow_slope.core.study.treatment import CENTERED, Raw
from yellow_slope.core.words.names.numbers import transformed_name
from yellow_slope.core.words.spelling.numerals import listed, place
from yellow_slope.values import replace


def far_zeros(evaluation: Evaluation) -> Iterator[Flag]:
    """A number that is multiplied with its zero left where it is, though it is never near 0."""
    study, fit = evaluation.study, evaluation.fit
    if fit is None:
        return
    active = [t for t in study.model.active_terms if t.is_product]
    for name, basis in fit.design.bases.items():
        if not isinstance(basis, NumberBasis) or not isinstance(basis.treatment.zero, Raw):
            continue
        products = [t for t in active if name in t.variables and fit.design.columns_of(t)]
        names = dict.fromkeys(n for t in products for n in t.variables if n != name)
        partners = [n for n in names if fit.design.columns_of(Term((n,)))]  # others have no coefficient of their own
        ends = [basis.axis.coordinate(basis.low), basis.axis.coordinate(basis.high)]
        if min(ends) <= 0 <= max(ends) or not partners:
            continue
        title = f"{study.variable(name).label} is multiplied without centering, but is never near 0"
        key = FlagKey(FlagKind.ZERO, (name,))
        yield Flag(key, title, partial(_told, study, basis, tuple(partners)), variable=name)


def _told(study: Study, basis: NumberBasis, partners: tuple[str, ...]) -> tuple[str, tuple[Remedy, ...]]:
    variable = study.variable(basis.variable)
    labels = listed([study.variable(n).label for n in partners])
    name = transformed_name(variable, basis.treatment)
    ends = sorted([basis.axis.coordinate(basis.low), basis.axis.coordinate(basis.high)])
    reach = f"{place(ends[0], basis.axis_sd)} to {place(ends[1], basis.axis_sd)}"
    cost = (
        f"The coefficient of {labels} is its effect at {name} = 0, while {name} runs "
        f"from {reach}. Centered, it is the effect at the mean "
        f"({place(basis.axis_mean, basis.axis_sd)}); the test of the product does not "
        "change."
    )
    treatment = basis.treatment.transforms
    centered = replace(CENTERED, transforms=treatment, scale=basis.treatment.scale)
    remedy = partial(treat, names=[basis.variable], treatment=centered)
    return cost, (Remedy(f"Center {variable.label}", remedy),)
