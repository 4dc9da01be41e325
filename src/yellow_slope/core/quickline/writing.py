"""A model written as a line that reads back as the same model, and what a line cannot say of it."""

from __future__ import annotations

from yellow_slope.core.data.scanner import quote, typed_name
from yellow_slope.core.data.variable import Kind, Level, Variable
from yellow_slope.core.quickline.grammar import AS_GROUPS
from yellow_slope.core.quickline.phrases import coding_text, treatment_text
from yellow_slope.core.study.coding import Planned
from yellow_slope.core.study.model import Model
from yellow_slope.core.study.standarderrors import Classical
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Term, variables_of
from yellow_slope.values import replace


def write_line(study: Study, model: Model | None = None, *, portable: bool = False) -> str:
    """A model of the study as a quick line.

    portable: by the columns' own names and codes, and with what is a group said, so that it means the same beside a
    table that nobody described yet.
    """
    model = model or study.model
    coded = {v.name for v in study.variables if portable and _is_coded(study, v)}
    study = _undescribed(study) if portable else study
    names = {v.name: typed_name(v, study.variables) for v in study.variables}
    said: set[str] = set()

    def factor(name: str, power: int) -> str:
        text = names[name]
        if name not in said:
            said.add(name)
            variable = study.variable(name)
            if variable.kind is Kind.NUMBER:
                more = treatment_text(model.treatment(name), names)
            else:
                said_first = f"{AS_GROUPS} " if name in coded else ""
                more = (said_first + coding_text(variable, model.coding(name))).rstrip()
            text = f"{text} {more}" if more else text
        marks = {1: "", 2: "²", 3: "³"}
        if power in marks and text == names[name]:
            return text + marks[power]
        return f"{text} {'squared' if power == 2 else f'to the power {power}'}" if power > 1 else text

    def term_text(term: Term) -> str:
        return " x ".join(factor(name, term.variables.count(name)) for name in dict.fromkeys(term.variables))

    parts: list[str] = []
    for block in model.blocks:
        head = " ".join(x for x in (quote(block.name) if block.name else "", "" if block.on else "off") if x)
        parts.append((f"{head}: " if head else "") + ", ".join(term_text(t) for t in block.terms))
    if not model.constant and parts:
        parts[-1] += ", no intercept"
    outcome = f"{names[model.outcome]} = " if model.outcome else ""
    return outcome + "; ".join(parts)


def _is_coded(study: Study, variable: Variable) -> bool:
    """Whether a group stands in its column as numbers, so that without a word it would be read as one."""
    return variable.kind is Kind.GROUP and study.columns.is_numeric(variable.name)


def _undescribed(study: Study) -> Study:
    """The study with the names of the table's columns and the codes of its groups for labels."""
    bare = (
        replace(v, label=v.name, short_label="", levels=tuple(Level(x.codes, x.code) for x in v.levels))
        for v in study.variables
    )
    return replace(study, variables=tuple(bare))


def unsaid(study: Study, model: Model | None = None) -> list[str]:
    """What a line does not say of a model, in words: it does not go with it into another study."""
    model = model or study.model
    found: list[str] = []
    groups = [n for n in variables_of(model.terms) if study.variable(n).kind is Kind.GROUP]
    codings = [model.coding(name) for name in groups]
    if any(not isinstance(coding, Planned) and coding.names for coding in codings):
        found.append("names of comparisons")
    planned = [q for coding in codings if isinstance(coding, Planned) for q in coding.questions]
    if any(q.weights or q.is_empty for q in planned):
        found.append("questions with weights of their own")
    if model.sample is not None:
        found.append("the sample")
    if not isinstance(model.errors, Classical):
        found.append("the kind of standard errors")
    if model.level != 0.95:
        found.append("the confidence level")
    if model.by is not None:
        found.append("one model per group")
    used = {model.outcome, *variables_of(model.terms)}
    if any(derived.name in used for derived in study.derived):
        found.append("how variables are computed")
    if any(len(level.codes) > 1 for name in groups for level in study.variable(name).levels):
        found.append("merged levels")
    return found
