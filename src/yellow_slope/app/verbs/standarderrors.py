"""Level and kind of standard errors: chosen once for the model, and what they change is seen everywhere."""

from __future__ import annotations

from yellow_slope.app.state.session import StudySession
from yellow_slope.app.verbs.actions import Menu, action
from yellow_slope.app.widgets.dialogs import Dialogs
from yellow_slope.app.widgets.numberdialog import Wanted
from yellow_slope.core.data.table import TextColumn
from yellow_slope.core.data.variable import Kind
from yellow_slope.core.study.edits.models import set_errors, set_level
from yellow_slope.core.study.standarderrors import HC, Bootstrap, Classical, Cluster, Errors, analytic, cluster_id
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.names.study import errors_name
from yellow_slope.core.words.spelling.numerals import level_text
from yellow_slope.values import replace

LEVELS = (0.90, 0.95, 0.99, 0.999)
KINDS: tuple[Errors, ...] = (Classical(), *(HC(k) for k in range(5)))
MOST_CLUSTERED = 40
"""More variables than this are not offered as ids in a menu."""


class StandardErrors:
    """What every interval and p rests on."""

    def __init__(self, session: StudySession, dialogs: Dialogs) -> None:
        self.session, self.dialogs = session, dialogs

    def choose_level(self, level: float) -> None:
        """Use this confidence level."""
        self.session.edit(f"{level_text(level)} intervals", lambda s: set_level(s, round(level, 6)))

    @action(
        "change the confidence level",
        "Change the level of all intervals and tests",
        menu=Menu.STUDY,
        available="session.is_open",
    )
    def ask_level(self) -> None:
        """Ask for a level in percent."""
        study = self.session.study
        value = self.dialogs.number("Confidence level", "In percent:", 100 * study.model.level, Wanted(50, 99.99))
        if value is not None:
            self.choose_level(value / 100)

    def choose_errors(self, errors: Errors) -> None:
        """Use this kind of standard errors; b, R² and its change stay as they are."""
        study = self.session.study
        if self.session.is_open:
            self.session.edit(errors_name(study, errors), lambda s: set_errors(s, errors))

    @action(
        "classical standard errors",
        "Standard errors from one residual variance for all cases",
        available="session.is_open",
    )
    def classical(self) -> None:
        """Classical standard errors."""
        self.choose_errors(Classical())

    @action("HC0 standard errors", "Heteroscedasticity-consistent, without a correction", available="session.is_open")
    def hc0(self) -> None:
        """HC0."""
        self.choose_errors(HC(0))

    @action(
        "HC1 standard errors",
        "Heteroscedasticity-consistent, corrected by degrees of freedom",
        available="session.is_open",
    )
    def hc1(self) -> None:
        """HC1."""
        self.choose_errors(HC(1))

    @action("HC2 standard errors", "Heteroscedasticity-consistent, corrected by leverage", available="session.is_open")
    def hc2(self) -> None:
        """HC2."""
        self.choose_errors(HC(2))

    @action(
        "HC3 standard errors",
        "Heteroscedasticity-consistent, for samples that are not large",
        available="session.is_open",
    )
    def hc3(self) -> None:
        """HC3."""
        self.choose_errors(HC(3))

    @action(
        "HC4 standard errors", "Heteroscedasticity-consistent, for cases of high leverage", available="session.is_open"
    )
    def hc4(self) -> None:
        """HC4."""
        self.choose_errors(HC(4))

    @action(
        "cluster the standard errors", "Cases that share a value of an id form a cluster", available="session.is_open"
    )
    def cluster(self) -> None:
        """Ask for the id."""
        study = self.session.study
        ids = clustering(study)
        if not ids:
            self.session.say("No variable holds ids that several cases share.")
            return
        labels = [study.variable(name).label for name in ids]
        said = self.dialogs.one_of("Clusters", "Cases form a cluster if they share a value of:", labels)
        if said is not None:
            self.choose_errors(Cluster(ids[said]))

    @action("bootstrap", "Standard errors, intervals, p and regions from resamples", available="session.is_open")
    def bootstrap(self) -> None:
        """Ask for the way, the number of resamples, the seed and whether clusters are drawn."""
        study = self.session.study
        now = study.model.errors
        begin = now if isinstance(now, Bootstrap) else Bootstrap(cluster=cluster_id(now))
        wanted = self.dialogs.bootstrap(begin, [(n, study.variable(n).label) for n in clustering(study)])
        if wanted is not None:
            self.choose_errors(wanted)

    def quick_bootstrap(self, errors: Bootstrap) -> None:
        """The same bootstrap, its intervals read off another way."""
        study = self.session.study
        now = study.model.errors
        self.choose_errors(replace(now, way=errors.way) if isinstance(now, Bootstrap) else errors)

    def give_up(self) -> None:
        """Resample no longer: the errors are those that have a formula again."""
        study = self.session.study
        if not isinstance(study.model.errors, Bootstrap):
            return
        self.session.edit(
            "cancel the bootstrap",
            lambda s: set_errors(s, analytic(s.model.errors)),
            say="Canceled: standard errors are computed by formula again.",
        )


def clustering(study: Study) -> list[str]:
    """Variables that can be an id of clusters: values that several cases share; the outcome is none."""
    found = []
    for variable in study.variables:
        if variable.name == study.model.outcome or variable.kind is Kind.DATE:
            continue
        if variable.kind is Kind.NUMBER and variable.name in {v for t in study.model.terms for v in t.variables}:
            continue
        if _shares_values(study, variable.name):
            found.append(variable.name)
    return found[:MOST_CLUSTERED]


def _shares_values(study: Study, name: str) -> bool:
    variable = study.variable(name)
    if variable.kind is Kind.GROUP:
        return len(variable.levels) > 1
    if not study.columns.is_numeric(name):
        column = study.table.column(name)
        texts = column.texts if isinstance(column, TextColumn) else ()
        return 1 < len(texts) < len(column)
    import numpy as np

    values = study.columns.numbers(name)
    values = values[np.isfinite(values)]
    different = np.unique(values).size
    return bool(1 < different <= values.size / 2 and np.all(values == np.round(values)))
