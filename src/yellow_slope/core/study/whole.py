"""A study is always whole: what it names exists in it.

`whole` is the one place that knows where a study names a variable, a level, a block, a sample, a model or a case. What
only points at something gone falls back to its default; what rests on it goes. Every edit and every reader ends with
it.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from functools import update_wrapper
from types import MappingProxyType
from typing import Concatenate, ParamSpec, TypeVar, assert_never

from yellow_slope.core.data.conditions import can_hold
from yellow_slope.core.data.derived import can_be_computed, sources_of
from yellow_slope.core.data.variable import Kind, Variable
from yellow_slope.core.study.coding import (
    Adjacent,
    AgainstMean,
    Coding,
    Dummy,
    Effect,
    LevelMeans,
    Planned,
    Question,
    Trends,
    WeightedEffect,
)
from yellow_slope.core.study.figures import (
    Figure,
    LineKey,
    LineOf,
    ShowsCheck,
    ShowsGroup,
    ShowsProbe,
    ShowsSteps,
    TextKey,
    TextTuning,
)
from yellow_slope.core.study.flagkeys import FlagKey, RestsOn
from yellow_slope.core.study.gone import Gone, What
from yellow_slope.core.study.model import Entry, Model
from yellow_slope.core.study.probe import PickPoints, PickRule, Probe, Second
from yellow_slope.core.study.rules import Sample, SetAside
from yellow_slope.core.study.standarderrors import Bootstrap, Classical, Errors, cluster_id
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import MOST_FACTORS, Block, Term, variables_of
from yellow_slope.core.study.treatment import Transform, Treatment, WithinGroups
from yellow_slope.values import dataclass, field, replace

P = ParamSpec("P")
T = TypeVar("T")
Edit = Callable[[Study], Study]
EDITS: dict[str, Callable[..., Study]] = {}
"""Every edit there is, by the name of its module and its own."""


def edit(change: Callable[Concatenate[Study, P], Study]) -> Callable[Concatenate[Study, P], Study]:
    """An edit: what it gives back is whole, and carries what could not stay (`Study.went`)."""

    def whole_again(study: Study, /, *args: P.args, **kwargs: P.kwargs) -> Study:
        new = change(study, *args, **kwargs)
        return new if new is study else made_whole(new)

    EDITS[f"{change.__module__.rpartition('.')[2]}.{change.__name__}"] = whole_again
    update_wrapper(whole_again, change)
    return whole_again


def made_whole(study: Study) -> Study:
    """The study without what cannot stay; what went stands in `went`, after what went before."""
    new, went = whole(study)
    return replace(new, went=(*study.went, *went)) if went else new


def whole(study: Study) -> tuple[Study, tuple[Gone, ...]]:
    """The study with nothing in it that names something gone, and what went. A whole study comes back as it is."""
    went: list[Gone] = []
    study = _with_own_kinds(study, went)
    study = _with_computed(study, went)
    samples = _samples(study, went)
    if samples is not study.samples:
        study = replace(study, samples=samples)
    known = _Known.of(study)
    models = _each(study.models, lambda model: _model(study, known, model, went))
    current = study.current if any(m.id == study.current for m in models) else models[0].id
    if models is not study.models or current != study.current:
        study = replace(study, models=models, current=current)
        known = _Known.of(study)
    probes = _each(study.probes, lambda probe: _probe(study, known, probe, went))
    if study.checks.split is not None and known.kind(study.checks.split) is not Kind.GROUP:
        went.append(Gone(What.SPLIT, (study.checks.split,)))
        study = replace(study, checks=replace(study.checks, split=None))
    figures = _each(study.figures, lambda figure: _figure(known, figure, went))
    if figures is not study.figures:
        study = replace(study, figures=figures)
    assigned = tuple(name for name in study.report.assigned if name in known.variables)
    if assigned != study.report.assigned:  # that the variable went is said of the variable
        study = replace(study, report=replace(study.report, assigned=assigned))
    dismissals = _each(study.dismissals, lambda d: d if _stands(study, known, d.flag, went) else None)
    pinned = _each(study.pinned, lambda key: key if _stands(study, known, key) else None)
    if probes is not study.probes or dismissals is not study.dismissals or pinned is not study.pinned:
        study = replace(study, probes=probes, dismissals=dismissals, pinned=pinned)
    return study, tuple(dict.fromkeys(went))


def _each(things: tuple[T, ...], kept: Callable[[T], T | None]) -> tuple[T, ...]:
    """Each thing as it can stay; the same tuple where nothing changes."""
    found = tuple(new for thing in things if (new := kept(thing)) is not None)
    return things if len(found) == len(things) and all(a is b for a, b in zip(found, things)) else found


@dataclass(frozen=True, slots=True)
class _Known:
    """What there is to be named."""

    variables: Mapping[str, Variable]
    used: frozenset[str]
    """Variables in a term of any model."""
    terms: Mapping[str, frozenset[tuple[str, ...]]]
    """The keys of each model's terms, by its id."""
    models: Mapping[str, Model] = field(default_factory=dict)

    @classmethod
    def of(cls, study: Study) -> _Known:
        return cls(
            {v.name: v for v in study.variables},
            frozenset(name for model in study.models for name in variables_of(model.terms)),
            {model.id: frozenset(term.key for term in model.terms) for model in study.models},
            {model.id: model for model in study.models},
        )

    def kind(self, name: str | None) -> Kind | None:
        variable = self.variables.get(name) if name is not None else None
        return variable.kind if variable is not None else None

    def terms_of(self, model_id: str | None) -> frozenset[tuple[str, ...]]:
        """The keys of a model's terms; None: of all models, for any may become the current one."""
        return self.terms[model_id] if model_id is not None else frozenset().union(*self.terms.values())


# ---- kinds, computed variables and samples


def _with_own_kinds(study: Study, went: list[Gone]) -> Study:
    """What was a number only as an outcome is again what it was, once no model explains it."""
    outcomes = {model.outcome for model in study.models}
    lent = {v.name for v in study.variables if v.otherwise is not None and v.name not in outcomes}
    if not lent:
        return study
    went += [Gone(What.LENT, (name,)) for name in lent]
    return replace(study, variables=tuple(v.by_itself() if v.name in lent else v for v in study.variables))


def _with_computed(study: Study, went: list[Gone]) -> Study:
    """Without computed variables that cannot be computed any longer."""
    if not study.derived:
        return study
    gone: set[str] = set()
    later = {one.name for one in study.derived}
    for before, one in zip(("", *(d.name for d in study.derived)), study.derived):
        later.discard(before)
        sources = set(sources_of(one.expression))
        if sources & (gone | later) or not can_be_computed(one.expression, study.columns):
            gone.add(one.name)
    if not gone:
        return study
    went += [Gone(What.COMPUTED, (one.name,)) for one in study.derived if one.name in gone]
    return replace(
        study,
        derived=tuple(one for one in study.derived if one.name not in gone),
        variables=tuple(v for v in study.variables if v.name not in gone),
    )


def _samples(study: Study, went: list[Gone]) -> tuple[Sample, ...]:
    """Without rules that cannot be asked and cases that the table does not have."""

    def kept(sample: Sample) -> Sample | None:
        rows = range(study.table.n_rows)
        if any(row not in rows for aside in sample.aside for row in aside.rows):
            there = (SetAside(tuple(row for row in a.rows if row in rows), a.reason) for a in sample.aside)
            sample = replace(sample, aside=tuple(aside for aside in there if aside.rows))
            went.append(Gone(What.CASES, (sample.name,)))
        if sample.rule is None or can_hold(sample.rule, study.columns):
            return sample
        # A rule is what a sample is; without it only the cases set aside by hand are left of it.
        went.append(Gone(What.RULE if sample.aside else What.SAMPLE, (sample.name,)))
        return replace(sample, rule=None) if sample.aside else None

    return _each(study.samples, kept)


# ---- models


def _model(study: Study, known: _Known, model: Model, went: list[Gone]) -> Model:
    def lost(what: What, *names: str, code: str = "") -> None:
        went.append(Gone(what, names, code, model.id))

    changes: dict[str, object] = {}
    outcome = model.outcome if known.kind(model.outcome) is Kind.NUMBER else None
    if outcome != model.outcome:
        lost(What.OUTCOME, model.outcome or "")
        changes["outcome"] = outcome
    blocks = _blocks(known, model, outcome, lost)
    if blocks is not model.blocks:
        changes["blocks"] = blocks
    terms = {term for block in blocks for term in block.terms}
    entries = _entries(known, model, variables_of(terms), lost)
    if entries is not model.entries:
        changes["entries"] = entries
    if model.sample is not None and model.sample not in {sample.name for sample in study.samples}:
        changes["sample"] = None  # that the sample went is said of the sample
        if not any(gone.what is What.SAMPLE and gone.names == (model.sample,) for gone in went):
            lost(What.SAMPLE, model.sample)
    errors = _errors(known, model.errors)
    if errors != model.errors:
        lost(What.CLUSTERS, cluster_id(model.errors) or "")
        changes["errors"] = errors
    if model.by is not None and (known.kind(model.by) is not Kind.GROUP or model.by == outcome):
        lost(What.BY, model.by)
        changes["by"] = None
    if model.reported is not None and model.reported not in {block.id for block in blocks}:
        lost(What.REPORTED)
        changes["reported"] = None
    first = tuple(term for term in model.leave_out_first if term in terms)
    if first != model.leave_out_first:
        changes["leave_out_first"] = first  # the term itself is what went
    return replace(model, **changes) if changes else model  # type: ignore[arg-type]


Lost = Callable[..., None]


def _blocks(known: _Known, model: Model, outcome: str | None, lost: Lost) -> tuple[Block, ...]:
    """Without terms that cannot stand, and without blocks that hold none."""
    seen: set[Term] = set()

    enter = {name for name, v in known.variables.items() if v.kind.enters and name != outcome}

    def stands(term: Term) -> bool:
        names = term.variables
        fits = 0 < len(names) <= MOST_FACTORS and enter.issuperset(names)
        if fits and len(set(names)) < len(names):
            fits = all(known.kind(name) is Kind.NUMBER or names.count(name) == 1 for name in names)
        if not fits:
            lost(What.TERM, *names[:MOST_FACTORS])
            return False
        twice = term in seen
        seen.add(term)
        return not twice

    def kept(block: Block) -> Block | None:
        terms = tuple(term for term in block.terms if stands(term))
        if not terms:
            return None
        return block if terms == block.terms else replace(block, terms=terms)

    return _each(model.blocks, kept)


def _errors(known: _Known, errors: Errors) -> Errors:
    """Errors by cases where the id they were clustered by is gone."""
    clustered = cluster_id(errors)
    if clustered is None or clustered in known.variables:
        return errors
    return replace(errors, cluster=None) if isinstance(errors, Bootstrap) else Classical()


def _entries(known: _Known, model: Model, used: Iterable[str], lost: Lost) -> Mapping[str, Entry]:
    """Treatments of numbers and codings of groups that name what is there; of a variable in no term nothing is said."""
    kept: dict[str, Entry] = {}
    for name, entry in model.entries.items():
        variable = known.variables.get(name)
        found = None if variable is None else _entry(known, variable, entry, lost)
        if found is not None:
            kept[name] = found
        elif variable is not None and name in used:
            lost(What.ENTRY, name)
    same = len(kept) == len(model.entries) and all(kept[name] is entry for name, entry in model.entries.items())
    return model.entries if same else MappingProxyType(kept)


def _entry(known: _Known, variable: Variable, entry: Entry, lost: Lost) -> Entry | None:
    if not isinstance(entry, Treatment):
        return _coding(variable, entry, lost) if variable.kind is Kind.GROUP else None
    if variable.kind is not Kind.NUMBER or (Transform.REVERSE in entry.transforms and variable.limits is None):
        return None
    zero = entry.zero
    return entry if not isinstance(zero, WithinGroups) or known.kind(zero.of) is Kind.GROUP else None


def _coding(variable: Variable, coding: Coding, lost: Lost) -> Coding:
    """The coding with levels that there are; a level that was merged is known by its first code."""
    now = {code: level.code for level in variable.levels for code in level.codes}

    def code_of(code: str | None) -> str | None:
        if code is not None and code not in now:
            lost(What.REFERENCE, variable.name, code=code)
        return now.get(code) if code is not None else None

    match coding:
        case Dummy(reference):
            to = code_of(reference)
            coding = coding if to == reference else replace(coding, reference=to)
        case Effect(without) | WeightedEffect(without):
            to = code_of(without)
            coding = coding if to == without else replace(coding, without=to)
        case Trends(spacing):
            if spacing and {code for code, _ in spacing} != {level.code for level in variable.levels}:
                lost(What.SPACING, variable.name)
                coding = replace(coding, spacing=())
        case Planned(questions):
            asked = tuple(_question(variable, now, question, lost) for question in questions)
            if any(a is not b for a, b in zip(asked, questions)):
                coding = Planned(tuple(question for question in asked if question is not None))
        case Adjacent() | AgainstMean() | LevelMeans():
            pass
        case _:
            assert_never(coding)
    return coding


def _question(variable: Variable, now: Mapping[str, str], question: Question, lost: Lost) -> Question | None:
    """A planned question of levels that there are; None where a side has none left, or weights would no longer sum to
    0."""
    named = (*question.one, *question.other, *(code for code, _ in question.weights))
    if all(now.get(code) == code for code in named):
        return question
    gone = [code for code in named if code not in now]
    one, other = (tuple(dict.fromkeys(now[c] for c in side if c in now)) for side in (question.one, question.other))
    weights: dict[str, float] = {}
    for code, weight in question.weights:
        weights[now.get(code, "")] = weights.get(now.get(code, ""), 0.0) + weight
    emptied = (question.one and not one) or (question.other and not other) or set(one) & set(other)
    if emptied or weights.pop("", 0.0):
        lost(What.QUESTION, variable.name)
        return None
    for code in gone:
        lost(What.SIDE, variable.name, code=code)
    return replace(question, one=one, other=other, weights=tuple((c, w) for c, w in weights.items() if w))


# ---- figures


def _figure(known: _Known, figure: Figure, went: list[Gone]) -> Figure | None:
    """None for a figure of a variable or a model that is gone; what was said of a level that is gone is remembered as
    lost. A figure whose product has left the model stays: it may come back."""
    shows = figure.shows
    match shows:
        case ShowsProbe(focal, moderator, second):
            named = [focal, moderator, *([second] if second is not None else [])]
        case ShowsCheck(by=by):
            named = []
            if by is not None and by not in known.variables:
                shows = replace(shows, by=None)
        case ShowsGroup(variable):
            named = [variable]
        case ShowsSteps():
            named = []
        case _:
            assert_never(shows)
    there = all(name in known.variables for name in named)
    if isinstance(shows, ShowsGroup) and known.kind(shows.variable) is not Kind.GROUP:
        there = False
    if not there or (shows.model is not None and shows.model not in known.models):
        went.append(Gone(What.FIGURE, (figure.name,)))
        return None
    if isinstance(shows, ShowsCheck) and shows.step is not None:
        its = [known.models[shows.model]] if shows.model is not None else list(known.models.values())
        if not any(block.id == shows.step for model in its for block in model.blocks):
            shows = replace(shows, step=None)
    if shows is not figure.shows:
        figure = replace(figure, shows=shows)
    return _with_known_lines(known, figure, went)


def _with_known_lines(known: _Known, figure: Figure, went: list[Gone]) -> Figure:
    """Without what is said of levels and variables that are gone; a merged level is known by its first code."""
    lost: list[Gone] = []

    def kept(key: LineKey) -> LineKey | None:
        variable = known.variables.get(key.variable)
        if variable is None:
            lost.append(Gone(What.TUNED, (key.variable,), key.of if key.kind is LineOf.LEVEL else ""))
            return None
        if key.kind is not LineOf.LEVEL:
            return key
        level = variable.find_code(key.of) if variable.kind is Kind.GROUP else None
        if level is None:
            lost.append(Gone(What.TUNED, (key.variable,), key.of))
            return None
        return key if level.code == key.of else replace(key, of=level.code)

    lines = {new: tuning for key, tuning in figure.lines if (new := kept(key)) is not None}
    texts: dict[TextKey, TextTuning] = {}
    for key, tuning in figure.texts:
        line = kept(key.line) if key.line is not None else None
        if key.line is None or line is not None:
            texts[key if line == key.line else replace(key, line=line)] = tuning
    changed = tuple(lines.items()) != figure.lines or tuple(texts.items()) != figure.texts
    if not changed:
        return figure
    went += lost
    all_lost = tuple(dict.fromkeys((*figure.lost, *lost)))
    return replace(figure, lines=tuple(lines.items()), texts=tuple(texts.items()), lost=all_lost)


# ---- probes and flags


def _probe(study: Study, known: _Known, probe: Probe, went: list[Gone]) -> Probe | None:
    """None for a probe of what stands in no model; choices that point at something gone fall back."""
    asked = (probe.focal, probe.moderator)
    models = known.models
    if not set(asked) <= known.used or (probe.model is not None and probe.model not in models):
        went.append(Gone(What.PROBE, asked))
        return None
    changes: dict[str, object] = {}
    its = [models[probe.model]] if probe.model is not None else list(models.values())
    if probe.step is not None and not any(block.id == probe.step for model in its for block in model.blocks):
        changes["step"] = None
        went.append(Gone(What.STEP, asked))
    second = _second(known, probe)
    if second != probe.second:
        changes["second"] = second
        went.append(Gone(What.SECOND, (probe.second.variable if probe.second is not None else "",)))
    held = tuple(place for name, where in probe.held if (place := _held(known, name, where, went)) is not None)
    if held != probe.held:
        changes["held"] = held
    if probe.pick.rule is PickRule.OWN and not probe.pick.values:
        changes["pick"] = PickPoints()
        went.append(Gone(What.PICK, asked))
    return replace(probe, **changes) if changes else probe  # type: ignore[arg-type]


def _second(known: _Known, probe: Probe) -> Second | None:
    """The second moderator, while a term multiplies it with the focal predictor."""
    second = probe.second
    if second is None or second.variable in (probe.focal, probe.moderator):
        return None
    both = {probe.focal, second.variable}
    return second if any(both <= set(key) for key in known.terms_of(probe.model)) else None


def _held(known: _Known, name: str, where: str | float, went: list[Gone]) -> tuple[str, str | float] | None:
    """The place where a probe holds a variable, while it stands in a model and has that place."""
    variable = known.variables.get(name)
    if variable is not None and name in known.used:
        if variable.kind is Kind.GROUP:
            level = variable.find_code(where) if isinstance(where, str) else None
            if level is not None:
                return name, level.code
        elif not isinstance(where, str):
            return name, where
    went.append(Gone(What.HELD, (name,)))
    return None


def _stands(study: Study, known: _Known, key: FlagKey, went: list[Gone] | None = None) -> bool:
    """Whether what a flag rests on is there."""
    about = set(key.about)
    match key.kind.rests_on:
        case RestsOn.STUDY:
            there = True
        case RestsOn.A_COLUMN:
            there = any(name in study.table for name in about)
        case RestsOn.COLUMNS:
            there = all(name in study.table for name in about)
        case RestsOn.A_VARIABLE:
            there = bool(about & known.used)
        case RestsOn.VARIABLES:
            there = about <= known.used
        case RestsOn.OUTCOME:
            there = about <= {model.outcome for model in study.models}
        case RestsOn.TERM:
            there = about <= known.used and (len(key.about) < 2 or key.about in known.terms_of(None))
        case never:
            assert_never(never)
    if not there and went is not None:
        went.append(Gone(What.ASIDE, key.about))
    return there
