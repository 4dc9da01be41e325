"""In words: one model per group, and whether the groups' coefficients differ."""

from __future__ import annotations

from yellow_slope.core.fit.asked.bygroup import ByGroup, GroupFit
from yellow_slope.core.fit.design.design import ModelColumn
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.fit.fitted.inference import FTest
from yellow_slope.core.study.standarderrors import Classical
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Term
from yellow_slope.core.words.names.groups import level_name
from yellow_slope.core.words.names.study import zero_point
from yellow_slope.core.words.names.terms import label
from yellow_slope.core.words.sentences.coefficients import Reader
from yellow_slope.core.words.spelling.numerals import counted, listed
from yellow_slope.core.words.spelling.testtexts import written_or_why
from yellow_slope.values import dataclass

INTERCEPT = -1


@dataclass(frozen=True, slots=True)
class GroupReader:
    """Puts the models of the groups into words."""

    study: Study
    fit: Fit
    """The model of all groups together."""
    found: ByGroup

    @property
    def group_label(self) -> str:
        """The group's name."""
        return self.study.variable(self.found.variable).label

    def level_label(self, group: GroupFit) -> str:
        """A level's name."""
        return self.study.variable(self.found.variable).level(group.code).label

    def said(self, group: GroupFit) -> str:
        """A level as it stands in a sentence."""
        return level_name(self.study.variable(self.found.variable), group.code)

    def reader(self, group: GroupFit) -> Reader | None:
        """Puts the model of one group into words."""
        return Reader(self.study, group.fit, self.found.model) if group.fit is not None else None

    def headline(self) -> str:
        """Whether the coefficients differ between the groups, taken together."""
        return f"{self._verdict(self.found.test.p, 'the coefficients', True)}: {self._figures()}"

    def _verdict(self, p: float, what: str, plural: bool) -> str:
        if p != p:
            return (
                f"Whether {what} {'differ' if plural else 'differs'} between the groups of {self.group_label} cannot "
                "be tested"
            )
        shown = p < 1 - self.found.model.level
        verb = (
            ("differ" if plural else "differs") if shown else f"{'do' if plural else 'does'} not differ significantly"
        )
        said = f"{what} {verb} between the groups of {self.group_label}"
        return f"Taken together, {said}" if plural else said[:1].upper() + said[1:]

    def _figures(self) -> str:
        products = f"the products with {self.group_label} in one model of all groups"
        spread = (
            ", which takes the spread of the residuals to be the same in each"
            if isinstance(self.found.model.errors, Classical)
            else ""
        )
        return f"{written_or_why(self.found.test)} ({products}{spread})."

    def about_term(self, j: int) -> str:
        """Whether the coefficients of a column's term differ between the groups."""
        term = self.fit_column_term(j)
        test = self.found.joint.get(term)
        if test is None:
            return ""
        numbers = label(self.study, term)
        return f"{self._verdict(test.p, f'the coefficient of {numbers}', False)}: {written_or_why(test)}, unadjusted."

    def test_of(self, j: int) -> FTest | None:
        """The test that a column's coefficients differ between the groups: that of its term."""
        return self.found.joint.get(self.fit_column_term(j))

    def cell(self, row: int, group: int | None) -> str:
        """The sentence of a coefficient in one group, of R² there, or of the test that the groups differ."""
        if group is None or group >= len(self.found.groups):
            return self.about_term(row) if row >= 0 else self.headline()
        shown = self.found.groups[group]
        where = f"Among the {counted(shown.n, 'case')} of {self.said(shown)}"
        read = self.reader(shown)
        if read is None or shown.fit is None:
            return f"{where} there is no model: {shown.said}."
        if row == -2:
            return f"{where}: {read.whole(0)}"
        return read.coefficient(0, row, f"{where}: ")

    def fit_column_term(self, j: int) -> Term:
        """The term of a column of the groups' models."""
        return self.inner_columns[j].term

    @property
    def inner_columns(self) -> tuple[ModelColumn, ...]:
        """The columns of the model that stand in every group's."""
        return tuple(c for c in self.fit.design.columns if self.found.variable not in c.term.variables)

    def zeros(self, row: int | None = None) -> str:
        """Where zero is: that of all cases, in every group. Of one row the zero points that its number is asked at: the
        intercept at all of them, a coefficient at those of its partners in products, R² at none."""
        names: dict[str, None] = dict.fromkeys(v for c in self.inner_columns for v in c.term.variables)
        if row is not None and row != INTERCEPT:
            names = dict.fromkeys(self._partners(row)) if row >= 0 else {}
        places = [zero_point(self.study, self.fit.design.bases[name]) for name in names]
        n = self.fit.cases.n
        return (
            f"The zero points are those of all {counted(n, 'case')} of the model in every group: {listed(places)}."
            if places
            else ""
        )

    def _partners(self, row: int) -> list[str]:
        """What multiplies a column's term in the groups' models."""
        own = self.fit_column_term(row)
        terms = dict.fromkeys(c.term for c in self.inner_columns)
        found: dict[str, None] = {}
        for larger in (t for t in terms if t.contains(own)):
            rest = list(larger.variables)
            for name in own.variables:
                rest.remove(name)
            found |= dict.fromkeys(rest)
        return list(found)

    @property
    def has_products(self) -> bool:
        """Whether a zero point matters to a coefficient of the groups' models."""
        return any(c.term.is_product for c in self.inner_columns)

    def left(self) -> str:
        """What does not stand in the groups' models, and which cases are in none."""
        said = []
        if self.found.dropped:
            verb = "stands" if len(self.found.dropped) == 1 else "stand"
            said.append(
                f"{listed([label(self.study, t) for t in self.found.dropped])} {verb} in "
                "no group's model, because "
                f"{'it contains' if len(self.found.dropped) == 1 else 'they contain'} "
                f"{self.group_label} itself."
            )
        if self.found.n_without:
            verb = "has" if self.found.n_without == 1 else "have"
            said.append(f"{counted(self.found.n_without, 'case')} {verb} no value on {self.group_label}.")
        return " ".join(said)
