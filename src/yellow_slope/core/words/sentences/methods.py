"""Methods with their sources, of what was used alone, and how an analysis is repeated."""

from __future__ import annotations

import math
from collections.abc import Iterable
from typing import assert_never

from yellow_slope.core.fit.asked.r2intervals import r2_interval
from yellow_slope.core.fit.design.bases import GroupBasis, NumberBasis
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.probe.probed import Probed
from yellow_slope.core.study.checks import Check
from yellow_slope.core.study.coding import Planned
from yellow_slope.core.study.standarderrors import HC, Bootstrap, Classical, Cluster, IntervalWay
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.names.study import errors_name, model_name
from yellow_slope.core.words.sentences.coefficients import Reader
from yellow_slope.core.words.sentences.regions import rule_method
from yellow_slope.core.words.sentences.works import Method, Work, method
from yellow_slope.core.words.spelling.letters import capital
from yellow_slope.core.words.spelling.numerals import counted, level_text, listed


def methods_used(study: Study, fit: Fit, probes: Iterable[Probed], checks: Iterable[Check] = ()) -> list[Method]:
    """A sentence for each method that this study used, with its source; checks: the questions that are answered."""
    probes = list(probes)
    said = [
        method(
            "Coefficients were estimated by least squares. Blocks were entered one after the other, all with the cases "
            "that are complete on every variable of the last step. Intervals are {} intervals.",
            level_text(study.model.level),
        )
    ]
    errors = study.model.errors
    match errors:
        case HC(kind):
            source = Work.CRIBARI_NETO if kind == 4 else Work.WHITE if kind == 0 else Work.MACKINNON_WHITE
            said.append(method("Standard errors are heteroscedasticity-consistent, HC{} ({}).", str(kind), source))
        case Cluster(variable):
            label = study.variable(variable).label
            said.append(method("Standard errors are clustered by {} ({}).", label, Work.CAMERON_MILLER))
        case Bootstrap():
            drawn = f"{counted(errors.draws, 'draw')}, seed {errors.seed}"
            come = "Standard errors, intervals, p and regions come from resamples"
            is_bca = errors.way is IntervalWay.BCA
            said.append(
                method(f"{come} ({{}}; {{}}).", drawn, Work.EFRON) if is_bca else method(f"{come} ({{}}).", drawn)
            )
            joint = "Joint tests of several coefficients come from the distance of the resamples to the estimates ({})."
            said.append(method(joint, Work.DAVISON_HINKLEY))
        case Classical():
            pass
        case _:
            assert_never(errors)
    bases = fit.design.bases.values()
    if any(isinstance(b, GroupBasis) and isinstance(b.coding, Planned) for b in bases):
        said.append(
            method(
                "The codes of planned comparisons were derived from their weights ({}).", Work.SCHAD_VASISHTH_HOHENSTEIN
            )
        )
    if any(isinstance(p.moderator, NumberBasis) for p in probes):
        said += list(dict.fromkeys(rule_method(p.probe.rule) for p in probes if isinstance(p.moderator, NumberBasis)))
    if any(panel.crossing_set is not None for p in probes for panel in p.panels):
        said.append(method("Intervals of crossing points are {:owner}.", Work.FIELLER))
    if any(isinstance(p.moderator, GroupBasis) and len(p.places) > 2 for p in probes):
        adjusted = "Where stated, the p values of several differences are adjusted by {:owner} method."
        said.append(method(adjusted, Work.HOLM))
    if any(p.smallest is not None for p in probes):
        two = level_text(2 * study.model.level - 1)
        said.append(
            method(
                "An effect is called too small to matter where its {} interval lies within the smallest effect that "
                "matters (two one-sided tests; {}).",
                two,
                Work.SCHUIRMANN,
            )
        )
    return said + [CHECKED[check] for check in checks if check in CHECKED]


def steps_methods(read: Reader) -> list[Method]:
    """What the tables of steps and coefficients give beside b, with its source."""
    fit, model = read.fit, read.model
    said = []
    if fit.steps and not all(math.isnan(step.change.f2) for step in fit.steps):
        said.append(
            method("The effect size f² and the smallest change that a test detects follow {:named}.", Work.COHEN)
        )
    known = any(r2_interval(fit, model, step.index).why is None for step in fit.steps)
    if known and isinstance(model.errors, Classical):
        said.append(method("Intervals of R² treat the predictors as fixed ({}).", Work.STEIGER_FOULADI))
    if any(len(column.atoms) > 1 for column in fit.design.columns):
        product = "β of a product is computed from its standardized parts ({}; {})."
        said.append(method(product, Work.FRIEDRICH, Work.AIKEN_WEST))
    return said


CHECKED = {
    Check.SPREAD: method("Equal variance is tested by the Breusch-Pagan test in {:owner} form.", Work.KOENKER),
    Check.NORMAL: method("The weights and p of the Shapiro-Wilk test follow {:named}.", Work.ROYSTON),
    Check.STRAIGHT: method(
        "Linearity of the interaction is examined within thirds of the moderator ({}). Linearity of the "
        "model is tested by RESET with squares and cubes of the predicted values ({}).",
        Work.HAINMUELLER_MUMMOLO_XU,
        Work.RAMSEY,
    ),
    Check.PULL: method(
        "Influential cases are identified by {:owner} distance and externally studentized residuals.", Work.COOK
    ),
    Check.MOVES: method("The change of a coefficient without each case is DFBETAS ({}).", Work.BELSLEY_KUH_WELSCH),
    Check.ORDER: method(
        "Independence in the order of the rows is examined by the d statistic ({}).", Work.DURBIN_WATSON
    ),
    Check.OVERLAP: method(
        "Collinearity is described by variance inflation, generalized for sets of columns ({}), and by "
        "condition indices ({}).",
        Work.FOX_MONETTE,
        Work.BELSLEY_KUH_WELSCH,
    ),
}
"""How a question is answered, where there is a source to name."""


def how_to_repeat(study: Study, line: str = "", version: str = "") -> list[str]:
    """What somebody needs to get the same numbers: program, table with checksum, model as a typed line, choices."""
    source, model = study.source, study.model
    said = [f"Yellow Slope {version}".strip() + "."]
    if source.path:
        said.append(f"Table: {source.path}, {counted(study.table.n_rows, 'row')}.")
    if source.checksum:
        said.append(f"SHA-256 of the table file: {source.checksum}.")
    if line:
        which = f"The model “{model_name(study, model)}”" if len(study.models) > 1 or model.name else "The model"
        said.append(f"{which} as a quick line: {line}")
    errors = model.errors
    seed = f", seed {errors.seed}" if isinstance(errors, Bootstrap) else ""
    said.append(f"Confidence level {level_text(model.level)}; {errors_name(study, errors)}{seed}.")
    sample = study.sample_of(model)
    if sample is not None:
        aside = sorted({row + 1 for part in sample.aside for row in part.rows})
        said.append(f"Sample “{sample.name}”." if sample.rule is not None else "")
        if aside:
            said.append(f"Cases set aside, by row: {listed([str(row) for row in aside])}.")
    return [capital(text) for text in said if text]
