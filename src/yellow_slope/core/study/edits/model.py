"""Edits of the model: functions from a study to a study. They check what they are given and leave everything else."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from dataclasses import replace
from types import MappingProxyType

from yellow_slope.core.data.conditions import Rule, holds, variables_in
from yellow_slope.core.data.variable import Kind, Variable
from yellow_slope.core.errors import StudyError
from yellow_slope.core.study.coding import Coding, Dummy, Effect, LevelMeans, Planned, Trends, WeightedEffect
from yellow_slope.core.study.model import Entry, Model
from yellow_slope.core.study.probe import Probe
from yellow_slope.core.study.rules import Sample, SetAside
from yellow_slope.core.study.standarderrors import HC, Bootstrap, Errors, cluster_id
from yellow_slope.core.study.study import Dismissal, FlagKey, FlagKind, Study
from yellow_slope.core.study.terms import Block, Term, variables_of
from yellow_slope.core.study.treatment import Given, Transform, Treatment, WithinGroups

MOST_QUESTIONS = 60
"""More planned questions than this nobody reads; a group of more levels is completed by the program."""


def change_model(study: Study, **changes: object) -> Study:
    """The study with the current model changed."""
    return study.with_model(replace(study.model, **changes))  # type: ignore[arg-type]


def _label(study: Study, term: Term) -> str:
    return term.text(lambda name: study.variable(name).label)


# ---- terms and blocks


HOLDS = {
    Kind.GROUP: "is a group",
    Kind.TEXT: "holds free texts",
    Kind.DATE: "holds dates",
    Kind.IDENTIFIER: "tells cases apart",
}
"""What a column that is no number does."""


def why_no_outcome(study: Study, variable: Variable) -> str:
    """Why a variable cannot be the outcome; empty if it can: a number, or numbers that were taken for two groups or for a count."""
    if variable.kind is Kind.NUMBER:
        return ""
    numeric = study.columns.is_numeric(variable.name)
    if numeric and (variable.kind is Kind.IDENTIFIER or (variable.kind is Kind.GROUP and len(variable.levels) == 2)):
        return ""
    return f"{variable.label} {HOLDS[variable.kind]}; the outcome must be a number."


def set_outcome(study: Study, name: str | None) -> Study:
    """Make a number the outcome; it leaves the terms if it stood there. Two-valued groups of numbers count as numbers."""
    if name == study.model.outcome:
        return study
    if name is not None:
        why = why_no_outcome(study, study.variable(name))
        if why:
            raise StudyError(why)
        study = replace(
            study, variables=tuple(replace(v, kind=Kind.NUMBER) if v.name == name else v for v in study.variables)
        )
        blocks = (replace(b, terms=tuple(t for t in b.terms if name not in t.variables)) for b in study.model.blocks)
        study = change_model(study, blocks=_without_empty(blocks))
    return tidied(change_model(study, outcome=name))


def check_term(study: Study, term: Term) -> None:
    """StudyError if the term cannot stand in the current model."""
    if not term.variables:
        raise StudyError("A term needs at least one variable.")
    for name in term.variables:
        variable = study.variable(name)
        if name == study.model.outcome:
            raise StudyError(f"{variable.label} is the outcome; it cannot be a predictor as well.")
        if not variable.kind.enters:
            raise StudyError(f"{variable.label} {HOLDS[variable.kind]}; only numbers and groups can enter a model.")
        if variable.kind is Kind.GROUP and term.variables.count(name) > 1:
            raise StudyError(f"{variable.label} is a group; it cannot be multiplied with itself.")


def enter(study: Study, terms: Iterable[Term], block: int | None = None, name: str = "") -> Study:
    """Enter terms in a block (None or one past the last: begin a new block). Terms already there are moved."""
    wanted = tuple(dict.fromkeys(terms))
    for term in wanted:
        check_term(study, term)
    old = study.model.blocks
    if block is not None and block < len(old) and set(wanted) <= set(old[block].terms):
        return study
    blocks = [replace(b, terms=tuple(t for t in b.terms if t not in wanted)) for b in old]
    if block is None or block >= len(blocks):
        blocks.append(Block(wanted, name))
    else:
        blocks[block] = replace(blocks[block], terms=blocks[block].terms + wanted)
    new = _without_empty(blocks)
    if [b.terms for b in new] == [b.terms for b in old]:
        return study
    return change_model(study, blocks=new)


def enter_product(study: Study, term: Term) -> Study:
    """Enter a product: in the last block if that is later than all its parts, else in a new one. One that is there stays."""
    if term in study.model.terms:
        return study
    last = len(study.model.blocks) - 1
    homes = [study.model.block_of(part) for part in term.parts()]
    latest = max((home for home in homes if home is not None), default=-1)
    return enter(study, [term], last if last > latest else None)


def take_out(study: Study, terms: Iterable[Term]) -> Study:
    """Take terms out of the model."""
    gone = set(terms)
    if not gone & set(study.model.terms):
        return study
    blocks = (replace(b, terms=tuple(t for t in b.terms if t not in gone)) for b in study.model.blocks)
    return tidied(change_model(study, blocks=_without_empty(blocks)))


def leave_out_first(study: Study, term: Term) -> Study:
    """Where columns depend on each other, leave out this term's rather than the last entered."""
    if term not in study.model.terms:
        raise StudyError(f"{_label(study, term)} is not in the model.")
    return change_model(study, leave_out_first=(term,))


def move(study: Study, term: Term, by: int) -> Study:
    """Move a term to an earlier (-1) or later (+1) block; past the last begins a new one.

    A move that changes nothing gives back the same study.
    """
    home = study.model.block_of(term)
    if home is None:
        raise StudyError(f"{_label(study, term)} is not in the model.")
    target = home + by
    if target < 0:
        if study.model.blocks[0].terms == (term,):
            return study
        rest = (replace(b, terms=tuple(t for t in b.terms if t != term)) for b in study.model.blocks)
        return change_model(study, blocks=_without_empty([Block((term,)), *rest]))
    return enter(study, [term], target)


def set_blocks(study: Study, blocks: Iterable[Block]) -> Study:
    """Replace the whole model."""
    seen: set[Term] = set()
    kept: list[Block] = []
    for block in blocks:
        terms = tuple(t for t in dict.fromkeys(block.terms) if t not in seen)
        seen.update(terms)
        for term in terms:
            check_term(study, term)
        kept.append(replace(block, terms=terms))
    return tidied(change_model(study, blocks=_without_empty(kept)))


def name_block(study: Study, index: int, name: str) -> Study:
    """Give a block a name."""
    return _with_block(study, index, name=name.strip())


def switch_block(study: Study, index: int, on: bool) -> Study:
    """Switch a block off for the moment, or on again."""
    return _with_block(study, index, on=on)


def _with_block(study: Study, index: int, **changes: object) -> Study:
    blocks = list(study.model.blocks)
    new = replace(blocks[index], **changes)  # type: ignore[arg-type]
    if (new.name, new.on) == (blocks[index].name, blocks[index].on):
        return study
    blocks[index] = new
    return change_model(study, blocks=tuple(blocks))


def _without_empty(blocks: Iterable[Block]) -> tuple[Block, ...]:
    return tuple(block for block in blocks if block.terms)


# ---- how variables enter


def _entries(study: Study, new: Mapping[str, Entry]) -> Study:
    model = study.model
    merged = {**model.entries, **new}
    if merged == dict(model.entries):
        return study
    return change_model(study, entries=MappingProxyType(merged))


def treat(study: Study, names: Iterable[str], treatment: Treatment) -> Study:
    """Give several numbers one treatment."""
    names = list(names)
    for name in names:
        variable = study.variable(name)
        if variable.kind is not Kind.NUMBER:
            raise StudyError(f"{variable.label} is a {variable.kind}; only numbers are centered or standardized.")
        if Transform.REVERSE in treatment.transforms and variable.limits is None:
            raise StudyError(f"{variable.label} has no declared limits; without them its scale cannot be reversed.")
        if isinstance(treatment.scale, Given) and not treatment.scale.value > 0:
            raise StudyError(f"The scale of {variable.label} must be larger than 0.")
        if isinstance(treatment.zero, WithinGroups):
            by = study.variable(treatment.zero.of)
            if by.kind is not Kind.GROUP:
                raise StudyError(f"{by.label} is a {by.kind}; a number is centered within the levels of a group.")
    return _entries(study, dict.fromkeys(names, treatment))


def set_coding(study: Study, name: str, coding: Coding) -> Study:
    """Choose what a group variable's comparisons ask."""
    variable = study.variable(name)
    if variable.kind is not Kind.GROUP:
        raise StudyError(f"{variable.label} is a {variable.kind}; only groups have comparisons.")
    codes: list[str] = []
    if isinstance(coding, Dummy) and coding.reference is not None:
        codes = [coding.reference]
    elif isinstance(coding, Effect | WeightedEffect) and coding.without is not None:
        codes = [coding.without]
    elif isinstance(coding, Trends):
        codes = [code for code, _ in coding.spacing]
    elif isinstance(coding, Planned):
        codes = [c for q in coding.questions for c in (*q.one, *q.other, *(code for code, _ in q.weights))]
        if len(coding.questions) > MOST_QUESTIONS:
            raise StudyError(f"{MOST_QUESTIONS} questions are the most that can be planned for one group.")
        for question in coding.questions:
            if question.why_not():
                raise StudyError(f"A question about {variable.label} {question.why_not()}.")
    elif isinstance(coding, LevelMeans) and study.model.constant:
        raise StudyError(
            f"A column for every level of {variable.label} and a constant say the same twice; "
            "take the constant out first, or choose comparisons."
        )
    for code in codes:
        variable.level(code)
    return _entries(study, {name: coding})


def set_reference(study: Study, name: str, code: str) -> Study:
    """Choose the reference group of a group variable."""
    variable = study.variable(name)
    if variable.kind is not Kind.GROUP:
        raise StudyError(f"{variable.label} is a {variable.kind}; only groups have a reference.")
    return set_coding(study, name, Dummy(variable.level(code).code))


# ---- the model as a whole


def set_constant(study: Study, constant: bool) -> Study:
    """With or without a constant (intercept)."""
    if constant:
        for name, entry in study.model.entries.items():
            if isinstance(entry, LevelMeans):
                label = study.variable(name).label
                raise StudyError(f"{label} has a column for every level; with a constant that says the same twice.")
    return change_model(study, constant=constant) if constant != study.model.constant else study


def set_level(study: Study, level: float) -> Study:
    """Choose the confidence level, as .95."""
    if not 0.5 <= level < 1:
        raise StudyError("The confidence level must lie between .50 and 1.")
    errors = study.model.errors
    why = errors.why_not(level) if isinstance(errors, Bootstrap) else ""
    if why:
        raise StudyError(why)
    return change_model(study, level=level) if level != study.model.level else study


def set_reported(study: Study, block_id: str | None) -> Study:
    """Choose the step that equation, sentences and report speak of, by its block; None: the last."""
    if block_id is not None and study.model.step_index(block_id) < 0:
        raise StudyError("A block that is switched off has no step to report.")
    return change_model(study, reported=block_id) if block_id != study.model.reported else study


def set_by(study: Study, name: str | None) -> Study:
    """Fit the last step in every level of a group too; None: no longer."""
    if name is not None and study.variable(name).kind is not Kind.GROUP:
        raise StudyError(f"{study.variable(name).label} is no group: one model per group needs its levels.")
    if name is not None and name == study.model.outcome:
        raise StudyError(f"{study.variable(name).label} is the outcome.")
    return change_model(study, by=name) if name != study.model.by else study


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


def put_sample(study: Study, sample: Sample) -> Study:
    """Add a sample, or replace the one of that name; StudyError if its rule or cases cannot be."""
    if not sample.name.strip():
        raise StudyError("A sample needs a name.")
    if sample.rule is not None:
        for name in variables_in(sample.rule):
            study.variable(name)
        holds(sample.rule, study.columns)
    for aside in sample.aside:
        wrong = [row for row in aside.rows if not 0 <= row < study.table.n_rows]
        if wrong:
            raise StudyError(f"The table has no row {wrong[0] + 1}; it has {study.table.n_rows}.")
    if sample.name in {s.name for s in study.samples}:
        return replace(study, samples=tuple(sample if s.name == sample.name else s for s in study.samples))
    return replace(study, samples=(*study.samples, sample))


def set_sample(study: Study, name: str | None) -> Study:
    """Let the current model rest on that sample; None: on all cases."""
    new = change_model(study, sample=name)
    new.sample_of(new.model)
    return new


def set_aside(study: Study, rows: Iterable[int], reason: str) -> Study:
    """Set cases aside in the current model's sample; without one a sample is made for it."""
    sample = study.sample_of(study.model) or Sample(f"sample of {study.model.name or study.model.id}")
    new = replace(sample, aside=(*sample.aside, SetAside(tuple(sorted(set(rows))), reason)))
    return set_sample(put_sample(study, new), new.name)


def take_back(study: Study, rows: Iterable[int]) -> Study:
    """Let cases of the current model's sample take part again that were set aside."""
    sample = study.sample_of(study.model)
    back = set(rows)
    if sample is None or not any(back & set(aside.rows) for aside in sample.aside):
        return study
    left = (replace(aside, rows=tuple(row for row in aside.rows if row not in back)) for aside in sample.aside)
    return put_sample(study, replace(sample, aside=tuple(aside for aside in left if aside.rows)))


def set_rule(study: Study, rule: Rule | None) -> Study:
    """Give the current model's sample a rule, or none; a model of all cases gets a sample of its own."""
    sample = study.sample_of(study.model)
    if sample is None:
        return study if rule is None else new_sample(study, free_sample_name(study), rule)
    return study if sample.rule == rule else put_sample(study, replace(sample, rule=rule))


def free_sample_name(study: Study) -> str:
    """A name that no sample has."""
    number = 1
    while any(sample.name == f"sample {number}" for sample in study.samples):
        number += 1
    return f"sample {number}"


def new_sample(study: Study, name: str, rule: Rule | None = None) -> Study:
    """A further sample, which the current model then rests on. StudyError for a name that is taken."""
    name = name.strip()
    if any(sample.name == name for sample in study.samples):
        raise StudyError(f"There is a sample “{name}” already.")
    return set_sample(put_sample(study, Sample(name, rule)), name)


def rename_sample(study: Study, old: str, new: str) -> Study:
    """Give a sample another name, in every model that rests on it."""
    new = new.strip()
    if new == old:
        return study
    if not new or any(sample.name == new for sample in study.samples):
        raise StudyError(f"There is a sample “{new}” already." if new else "A sample needs a name.")
    samples = tuple(replace(s, name=new) if s.name == old else s for s in study.samples)
    models = tuple(replace(m, sample=new) if m.sample == old else m for m in study.models)
    return replace(study, samples=samples, models=models)


def remove_sample(study: Study, name: str) -> Study:
    """Take a sample away; models that rested on it rest on all cases."""
    models = tuple(replace(m, sample=None) if m.sample == name else m for m in study.models)
    return replace(study, samples=tuple(s for s in study.samples if s.name != name), models=models)


def put_model(study: Study, model: Model) -> Study:
    """Add a model, or replace the one of its id, and make it the current one."""
    known = {m.id for m in study.models}
    models = study.models if model.id in known else (*study.models, model)
    return replace(replace(study, models=models).with_model(model), current=model.id)


def keep_model(study: Study, name: str) -> Study:
    """Keep the present model under a name; a copy of it goes on being worked on."""
    number = 1
    while f"m{number}" in {m.id for m in study.models}:
        number += 1
    name = name.strip() or study.model.name
    if not name:
        raise StudyError("A model is kept under a name.")
    kept = rename_model(study, study.current, name)
    return put_model(kept, replace(study.model, id=f"m{number}", name=""))


def rename_model(study: Study, model_id: str, name: str) -> Study:
    """Give a model a name. StudyError for one that another model has."""
    name = name.strip()
    if name and any(m.name == name and m.id != model_id for m in study.models):
        raise StudyError(f"There is a model “{name}” already.")
    model = study.model_of(model_id)
    return study if model.name == name else study.with_model(replace(model, name=name))


def throw_away_model(study: Study, model_id: str) -> Study:
    """Do without a model, and without the probes that ask it; of the current one the model before it becomes current."""
    if len(study.models) < 2:
        raise StudyError("It is the only model of the study.")
    index = [m.id for m in study.models].index(study.model_of(model_id).id)
    models = tuple(m for m in study.models if m.id != model_id)
    current = study.current if study.current != model_id else models[max(0, index - 1)].id
    probes = tuple(p for p in study.probes if p.model != model_id)
    return tidied(replace(study, models=models, current=current, probes=probes))


def make_current(study: Study, model_id: str) -> Study:
    """Work on another model of the study."""
    return replace(study, current=study.model_of(model_id).id)


# ---- probes, flags, the study


def put_probe(study: Study, probe: Probe) -> Study:
    """Add a probe, or replace the one that asks the same. x by w and w by x are two probes."""
    others = tuple(p for p in study.probes if p.about != probe.about)
    return replace(study, probes=(probe, *others))


def turn_probe(study: Study, before: Probe | None, probe: Probe) -> Study:
    """Let one probe become another; it comes first."""
    gone = {probe.about, before.about} if before is not None else {probe.about}
    others = tuple(p for p in study.probes if p.about not in gone)
    if study.probes[:1] == (probe,) and len(others) + 1 == len(study.probes):
        return study
    return replace(study, probes=(probe, *others))


def dismiss(study: Study, flag: FlagKey, reason: str) -> Study:
    """Put a flag aside with a reason."""
    others = tuple(d for d in study.dismissals if d.flag != flag)
    return replace(study, dismissals=(*others, Dismissal(flag, reason)))


def pin(study: Study, flag: FlagKey) -> Study:
    """Let a flag stand until it is put aside."""
    return study if flag in study.pinned else replace(raise_again(study, flag), pinned=(*study.pinned, flag))


def raise_again(study: Study, flag: FlagKey) -> Study:
    """Raise a flag again that was put aside."""
    return replace(study, dismissals=tuple(d for d in study.dismissals if d.flag != flag))


def rename(study: Study, name: str) -> Study:
    """Give the study a name."""
    name = name.strip() or "Untitled study"
    return replace(study, name=name) if name != study.name else study


def tidied(study: Study) -> Study:
    """Without probes, dismissals and choices about what no model holds any longer."""
    used = {name for model in study.models for name in variables_of(model.terms)}
    terms = {term.key for model in study.models for term in model.terms}
    probes = tuple(
        p for p in study.probes if {p.focal, p.moderator} | ({p.second.variable} if p.second else set()) <= used
    )
    dismissals = tuple(
        d for d in study.dismissals
        if d.flag.kind in (FlagKind.MISSING_CODE, FlagKind.STRAY, FlagKind.INDICATORS)
        or (d.flag.kind is FlagKind.BY_HAND and set(d.flag.about) <= used)
        or (d.flag.kind is FlagKind.CODE and set(d.flag.about) & used)
        or (set(d.flag.about) <= {*used, *(m.outcome for m in study.models)}
        and (len(d.flag.about) < 2 or d.flag.about in terms))
    )  # fmt: skip
    groups = {v.name for v in study.variables if v.kind is Kind.GROUP}
    if any(model.by is not None and model.by not in groups for model in study.models):
        models = tuple(m if m.by in groups else replace(m, by=None) for m in study.models)
        study = replace(study, models=models)
    first = tuple(t for t in study.model.leave_out_first if t in set(study.model.terms))
    pinned = tuple(flag for flag in study.pinned if set(flag.about) <= used)
    return replace(change_model(study, leave_out_first=first), probes=probes, dismissals=dismissals, pinned=pinned)


Edit = Callable[[Study], Study]
