"""In words: what standard errors, intervals and p of a model rest on."""

from __future__ import annotations

from typing import assert_never

from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.study.model import Model
from yellow_slope.core.study.standarderrors import HC, Bootstrap, Classical, Cluster, IntervalWay
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.names.study import errors_name
from yellow_slope.core.words.spelling.numerals import counted
from yellow_slope.core.words.spelling.reasons import reason


def errors_note(study: Study, model: Model, fit: Fit | None) -> str:
    """What everything with a standard error rests on, as the note of a table."""
    errors = model.errors
    name = errors_name(study, errors)
    if isinstance(errors, Bootstrap):
        return f"{name[:1].upper()}{name[1:]} (seed {errors.seed}). {_of_draws(study, errors, fit)}"
    why = fit.last.inference.why if fit is not None else None
    if why is not None:
        return f"{name[:1].upper()}{name[1:]}: {reason(why)}."
    if isinstance(errors, Cluster) and fit is not None and fit.n_clusters is not None:
        df = counted(fit.n_clusters - 1, "degree")
        return f"{name}: {counted(fit.n_clusters, 'cluster')}, tests on {df} of freedom."
    return f"{name[:1].upper()}{name[1:]}."


def errors_sentence(study: Study, model: Model, fit: Fit) -> str:
    """The same as a sentence of a results section; of classical errors nothing has to be said."""
    errors, why = model.errors, fit.last.inference.why
    if why is not None and not isinstance(errors, Bootstrap):
        return f"There are no tests with {errors_name(study, errors)}: {reason(why)}."
    match errors:
        case Classical():
            return ""
        case HC(kind):
            return f"Standard errors are heteroscedasticity-consistent (HC{kind})."
        case Cluster(name):
            clusters = counted(fit.n_clusters or 0, "cluster")
            return f"Standard errors are clustered by {study.variable(name).label} ({clusters})."
        case Bootstrap():
            return errors_note(study, model, fit)
        case _:
            assert_never(errors)


def _of_draws(study: Study, errors: Bootstrap, fit: Fit | None) -> str:
    """What came of drawing."""
    if fit is None:
        return ""
    if fit.resampled is None:
        why = fit.last.inference.awaits or fit.last.inference.why
        return f"No resamples: {reason(why)}." if why is not None else ""
    unit = "case" if errors.cluster is None else "cluster"
    parts = [
        f"Standard errors, intervals, p and regions come from resampled {unit}s.",
        "The p of one estimate inverts its interval; that of several is the share of resamples as far from them as 0.",
    ]
    if fit.resampled.redrawn:
        parts.append(
            f"{counted(fit.resampled.redrawn, 'resample')} lost a column of the model, so others were drawn instead."
        )
    if errors.way is IntervalWay.BCA and fit.resampled.unit_missing:
        parts.append(f"Intervals are percentiles because one {unit} cannot be left out.")
    return " ".join(parts)
