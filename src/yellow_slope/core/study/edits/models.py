"""Edits of a model as a whole, and of which models there are."""

from __future__ import annotations

from types import MappingProxyType

from yellow_slope.core.data.variable import Kind
from yellow_slope.core.errors import StudyError
from yellow_slope.core.study.coding import LevelMeans
from yellow_slope.core.study.model import Model, means_of
from yellow_slope.core.study.standarderrors import HC, Bootstrap, Errors, cluster_id
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.whole import edit
from yellow_slope.values import replace


@edit
def change_model(study: Study, /, **changes: object) -> Study:
    """The study with the current model changed."""
    return study.with_model(replace(study.model, **changes))  # type: ignore[arg-type]


@edit
def set_constant(study: Study, constant: bool) -> Study:
    """With or without a constant (intercept). Level means of a group that is not in the model go when it comes back."""
    model = study.model
    if constant == model.constant:
        return study
    if not constant:
        return change_model(study, constant=False)
    for name in means_of(model):
        label = study.variable(name).label
        raise StudyError(f"{label} has a column for every level, which would be redundant with an intercept.")
    entries = {name: entry for name, entry in model.entries.items() if not isinstance(entry, LevelMeans)}
    return change_model(study, constant=True, entries=MappingProxyType(entries))


@edit
def set_level(study: Study, level: float) -> Study:
    """Choose the confidence level, as .95."""
    if not 0.5 <= level < 1:
        raise StudyError("The confidence level must lie between .50 and 1.")
    errors = study.model.errors
    why = errors.why_not(level) if isinstance(errors, Bootstrap) else ""
    if why:
        raise StudyError(why)
    return change_model(study, level=level) if level != study.model.level else study


@edit
def set_reported(study: Study, block_id: str | None) -> Study:
    """Choose the step that equation, sentences and report speak of, by its block; None: the last."""
    if block_id is not None and study.model.step_index(block_id) < 0:
        raise StudyError("A block that is switched off has no step to report.")
    return change_model(study, reported=block_id) if block_id != study.model.reported else study


@edit
def set_by(study: Study, name: str | None) -> Study:
    """Fit the last step in every level of a group too; None: no longer."""
    if name is not None and study.variable(name).kind is not Kind.GROUP:
        raise StudyError(f"{study.variable(name).label} is not a group: one model per group needs its levels.")
    if name is not None and name == study.model.outcome:
        raise StudyError(f"{study.variable(name).label} is the outcome.")
    return change_model(study, by=name) if name != study.model.by else study


@edit
def set_errors(study: Study, errors: Errors) -> Study:
    """Choose the kind of standard errors."""
    if isinstance(errors, HC) and errors.kind not in range(5):
        raise StudyError("HC standard errors are numbered from 0 to 4.")
    clustered = cluster_id(errors)
    if clustered is not None:
        study.variable(clustered)
    why = errors.why_not(study.model.level) if isinstance(errors, Bootstrap) else ""
    if why:
        raise StudyError(why)
    return change_model(study, errors=errors) if errors != study.model.errors else study


@edit
def put_model(study: Study, model: Model) -> Study:
    """Add a model, or replace the one of its id, and make it the current one."""
    known = {m.id for m in study.models}
    models = study.models if model.id in known else (*study.models, model)
    return replace(replace(study, models=models).with_model(model), current=model.id)


@edit
def keep_model(study: Study, name: str) -> Study:
    """Keep the present model under a name; a copy of it goes on being worked on."""
    number = 1
    while f"m{number}" in {m.id for m in study.models}:
        number += 1
    name = name.strip() or study.model.name
    if not name:
        raise StudyError("A kept model needs a name.")
    kept = rename_model(study, study.current, name)
    return put_model(kept, replace(study.model, id=f"m{number}", name=""))


@edit
def rename_model(study: Study, model_id: str, name: str) -> Study:
    """Give a model a name. StudyError for one that another model has."""
    name = name.strip()
    if name and any(m.name == name and m.id != model_id for m in study.models):
        raise StudyError(f"There is a model “{name}” already.")
    model = study.model_of(model_id)
    return study if model.name == name else study.with_model(replace(model, name=name))


@edit
def throw_away_model(study: Study, model_id: str) -> Study:
    """Do without a model, and without the probes that ask it; of the current one the model before it becomes
    current."""
    if len(study.models) < 2:
        raise StudyError("It is the only model of the study.")
    index = [m.id for m in study.models].index(study.model_of(model_id).id)
    models = tuple(m for m in study.models if m.id != model_id)
    current = study.current if study.current != model_id else models[max(0, index - 1)].id
    return replace(study, models=models, current=current)


@edit
def make_current(study: Study, model_id: str) -> Study:
    """Work on another model of the study."""
    return replace(study, current=study.model_of(model_id).id)


@edit
def rename_study(study: Study, name: str) -> Study:
    """Give the study a name."""
    name = name.strip() or "Untitled study"
    return replace(study, name=name) if name != study.name else study
