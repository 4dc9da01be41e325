"""A fit is taken over exactly where its numbers stay: every field of model, variable and sample is changed in turn."""

from __future__ import annotations

from collections.abc import Callable
from types import MappingProxyType

import numpy as np
import pytest

from tests.support.worlds import noise_world, study_of, term
from yellow_slope.core.data.conditions import AtLeast
from yellow_slope.core.data.table import Stray, Table, number_column
from yellow_slope.core.data.variable import Kind, Level, Variable
from yellow_slope.core.fit.fitted.evaluate import Evaluation, evaluate
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.study.coding import Dummy, Effect, Planned, Question
from yellow_slope.core.study.edits.computed import derive
from yellow_slope.core.study.edits.entries import set_coding, treat
from yellow_slope.core.study.edits.samples import put_sample, set_sample
from yellow_slope.core.study.model import Model
from yellow_slope.core.study.rules import Sample, SetAside
from yellow_slope.core.study.standarderrors import HC
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Block
from yellow_slope.core.study.treatment import CENTERED, STANDARDIZED, Transform, Treatment
from yellow_slope.values import names_of, replace


def world() -> Study:
    """Groups with a reference and names, a turned scale, a stray cell, a sample with a rule, a column that depends on
    others."""
    columns = noise_world(5, 60)
    item = np.arange(60) % 5 + 1.0
    study = study_of({**columns, "item": item, "sum": columns["x"] + columns["w"]}, "y", "x, w, g; x*g; item; sum")
    spoilt = np.where(np.arange(60) == 4, np.nan, np.asarray(columns["w"], dtype=np.float64))
    stray = replace(number_column("w", spoilt), stray=(Stray(4, "many"),))
    table = Table(tuple(stray if c.name == "w" else c for c in study.table.columns))
    study = replace(study, table=table)
    study = replace(
        study, variables=tuple(replace(v, limits=(1.0, 5.0)) if v.name == "item" else v for v in study.variables)
    )
    study = treat(study, ["item"], Treatment((Transform.REVERSE,)))
    study = set_coding(study, "g", Dummy("mid", names=(("low", "mine"),)))
    study = put_sample(study, Sample("some", AtLeast("z", -2.0), (SetAside((2,), "wet"),)))
    return set_sample(study, "some")


def figures(found: Fit) -> list[np.ndarray]:
    """Every number of every step, its intervals among them."""
    arrays = [found.cases.rows.astype(np.float64), found.x.ravel()]
    for step in found.steps:
        arrays += [step.b, step.se, step.p, step.beta, step.inference.estimates(None, step.level).low]
    return arrays


def check(before: Study, after: Study, name: str, *, moves: bool) -> None:
    one = evaluate(before)
    other = evaluate(after, one)
    mine, its, anew = (_fit(e) for e in (one, other, evaluate(after)))
    same = all(
        a.shape == b.shape and np.array_equal(a, b, equal_nan=True) for a, b in zip(figures(mine), figures(anew))
    )
    assert same is not moves, f"{name} was thought to {'change' if moves else 'leave'} the numbers"
    assert (its.factored is mine.factored) is same, f"the fit is {'made anew' if same else 'taken over'} after {name}"
    for a, b in zip(figures(its), figures(anew), strict=True):
        np.testing.assert_array_equal(a, b, err_msg=name)


def _fit(evaluation: Evaluation) -> Fit:
    assert evaluation.fit is not None, evaluation.problem
    return evaluation.fit


def changed(**changes: object) -> Callable[[Study], Study]:
    return lambda study: study.with_model(replace(study.model, **changes))  # type: ignore[arg-type]


def entry(name: str, value: object) -> Callable[[Study], Study]:
    return lambda study: changed(entries=MappingProxyType({**study.model.entries, name: value}))(study)


MODEL: dict[str, list[tuple[Callable[[Study], Study], bool]]] = {
    "id": [(lambda s: replace(s, models=(replace(s.model, id="m9"),), current="m9"), True)],
    "name": [(changed(name="a model"), False)],
    "outcome": [(changed(outcome="z"), True)],
    "blocks": [
        (lambda s: changed(blocks=s.model.blocks[:-1])(s), True),
        (lambda s: changed(blocks=(replace(s.model.blocks[0], on=False), *s.model.blocks[1:]))(s), True),
        (lambda s: changed(blocks=(replace(s.model.blocks[0], name="first"), *s.model.blocks[1:]))(s), False),
        (lambda s: changed(blocks=(*s.model.blocks, Block((term("z"),), on=False)))(s), False),
        (lambda s: changed(blocks=(replace(s.model.blocks[0], id="b9"), *s.model.blocks[1:]))(s), False),
    ],
    "entries": [
        (entry("x", CENTERED), True),
        (entry("z", STANDARDIZED), False),  # it stands in no term
        (entry("g", Dummy("low")), True),
        (entry("g", Dummy("mid", names=(("low", "another"),))), False),
        (entry("g", Effect("mid")), True),
    ],
    "constant": [(changed(constant=False), True)],
    "sample": [(changed(sample=None), True)],
    "level": [(changed(level=0.9), True)],
    "errors": [(changed(errors=HC(3)), True)],
    "leave_out_first": [(changed(leave_out_first=(term("x"),)), True)],
    "by": [(changed(by="d"), False)],
    "reported": [(changed(reported="b2"), False)],
}


@pytest.mark.parametrize("field", names_of(Model))
def test_each_field_of_the_model(field: str) -> None:
    study = world()
    for change, moves in MODEL[field]:
        if field == "id":  # a fit belongs to its model
            assert evaluate(change(study), evaluate(study)).fit is not evaluate(study).fit
            continue
        check(study, change(study), field, moves=moves)


def variable(name: str, **changes: object) -> Callable[[Study], Study]:
    def change(study: Study) -> Study:
        new = replace(study.variable(name), **changes)  # type: ignore[arg-type]
        return replace(study, variables=tuple(new if v.name == name else v for v in study.variables))

    return change


LEVELS = (Level(("low",), "low"), Level(("mid",), "mid"), Level(("top",), "top"))
VARIABLE: dict[str, list[tuple[Callable[[Study], Study], bool]]] = {
    "kind": [(variable("item", kind=Kind.GROUP, levels=tuple(Level((c,), c) for c in "12345")), True)],
    "label": [(variable("x", label="practice"), False), (variable("g", label="coaching"), False)],
    "short_label": [(variable("x", short_label="pr"), False)],
    "unit": [(variable("x", unit="hour"), False)],
    "units": [(variable("x", units="hours"), False)],
    "levels": [
        (variable("g", levels=(Level(("low",), "LOW"), *LEVELS[1:])), False),
        (variable("g", levels=LEVELS[::-1]), True),
        (variable("g", levels=(Level(("low", "top"), "low"), LEVELS[1])), True),
        (variable("x", levels=(Level(("1",), "one"),)), False),  # a number has none that count
    ],
    "limits": [(variable("item", limits=(1.0, 7.0)), True), (variable("x", limits=(0.0, 20.0)), False)],
    "missing": [(variable("item", missing=("5",)), True), (variable("d", missing=("no",)), False)],
    "given": [(variable("w", given=(("many", 9.0),)), True)],
    "ordered": [(variable("g", ordered=True), False)],
    "reliability": [(variable("x", reliability=0.8), False)],
    "otherwise": [(variable("y", otherwise=Kind.GROUP), False)],
}


@pytest.mark.parametrize("field", [name for name in names_of(Variable) if name != "name"])
def test_each_field_of_a_variable(field: str) -> None:
    study = world()
    for change, moves in VARIABLE[field]:
        check(study, change(study), field, moves=moves)


def sample(**changes: object) -> Callable[[Study], Study]:
    def change(study: Study) -> Study:
        new = replace(study.samples[0], **changes)  # type: ignore[arg-type]
        models = tuple(replace(m, sample=new.name) for m in study.models)
        return replace(study, samples=(new,), models=models)

    return change


SAMPLE: dict[str, list[tuple[Callable[[Study], Study], bool]]] = {
    "name": [(sample(name="others"), False)],
    "rule": [(sample(rule=AtLeast("z", 0.0)), True), (sample(rule=None), True)],
    "aside": [
        (sample(aside=()), True),
        (sample(aside=(SetAside((2,), "another reason"),)), False),
        (sample(aside=(SetAside((2, 7), "wet"),)), True),
    ],
}


@pytest.mark.parametrize("field", names_of(Sample))
def test_each_field_of_the_sample(field: str) -> None:
    study = world()
    for change, moves in SAMPLE[field]:
        check(study, change(study), field, moves=moves)


def test_what_a_computed_variable_is_made_of_counts_too() -> None:
    study = derive(world(), "twice", "reversed item + 2 * z")
    study = study.with_model(replace(study.model, blocks=(*study.model.blocks, Block((term("twice"),)))))
    check(study, variable("item", limits=(0.0, 9.0))(study), "limits of a source", moves=True)
    check(study, variable("z", unit="point")(study), "unit of a source", moves=False)


def test_names_of_questions_are_taken_over_without_a_fit() -> None:
    study = set_coding(world(), "g", Planned((Question("first", ("low",), ("mid",)), Question("", ("top",), ("mid",)))))
    renamed = set_coding(study, "g", Planned((Question("other", ("low",), ("mid",)), Question("", ("top",), ("mid",)))))
    before = evaluate(study)
    after = evaluate(renamed, before)
    assert _fit(after).factored is _fit(before).factored
    assert [c.name for c in _fit(after).design.group("g").comparisons] == ["other", ""]
    assert [c.name for c in _fit(before).design.group("g").comparisons] == ["first", ""]
