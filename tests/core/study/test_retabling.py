"""The same study on another reading of its table: what stays, what goes, and that it is said."""

from __future__ import annotations

import numpy as np

from tests.support.worlds import noise_world, study_of
from yellow_slope.core.data.conditions import AtLeast
from yellow_slope.core.data.source import Source
from yellow_slope.core.data.table import Column, Table, number_column, text_column
from yellow_slope.core.data.variable import Kind
from yellow_slope.core.fit.fitted.evaluate import evaluate
from yellow_slope.core.study.edits.computed import derive
from yellow_slope.core.study.edits.descriptions import describe
from yellow_slope.core.study.edits.entries import treat
from yellow_slope.core.study.edits.models import set_errors
from yellow_slope.core.study.edits.probes import put_probe
from yellow_slope.core.study.edits.retabling import with_table
from yellow_slope.core.study.edits.samples import put_sample, set_rule, set_sample
from yellow_slope.core.study.probe import Probe
from yellow_slope.core.study.rules import Sample, SetAside
from yellow_slope.core.study.standarderrors import Classical, Cluster
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.treatment import CENTERED
from yellow_slope.core.words.sentences.gone import gone_names
from yellow_slope.core.words.sentences.sources import change_sentence


def made() -> Study:
    study = study_of(noise_world(31), "y", "x, g; x*g; w, x*w")
    study = treat(set_errors(study, Cluster("d")), ["x"], CENTERED)
    study = describe(study, "x", label="practice", unit="hour")
    return put_probe(study, Probe("x", "g", study.model.steps[1].id))


def columns(study: Study, without: str = "", **other: Column) -> Table:
    kept = [other.pop(c.name, c) for c in study.table.columns if c.name != without]
    return Table((*kept, *other.values()))


def test_the_same_table_changes_nothing_but_the_source() -> None:
    study = made()
    again, change = with_table(study, columns(study), Source("t.csv"))
    assert (again.models, again.variables, again.probes) == (study.models, study.variables, study.probes)
    assert again.source == Source("t.csv")
    assert change_sentence(study, change) == "Read again: nothing is different."


def test_what_goes_is_said_and_the_rest_stays() -> None:
    study = made()
    other, change = with_table(study, columns(study, "d", z2=number_column("z2", np.arange(80.0))), Source())
    assert other.model.errors == Classical()
    assert other.model.blocks == study.model.blocks
    assert other.variable("x").label == "practice"
    assert change_sentence(study, change) == (
        "Read again: 1 column new (“z2”); 1 column gone (“d”). These could not be kept: errors clustered by d."
    )
    fewer, change = with_table(study, columns(study, "g"), Source())
    assert [t.variables for t in fewer.model.terms] == [("x",), ("w",), ("x", "w")]
    assert fewer.probes == ()
    assert gone_names(fewer, change.dropped) == ["g", "practice × g", "the probe of practice along g"]
    assert evaluate(fewer).fit is not None


def test_a_number_that_became_texts_leaves_its_treatment_and_a_group_takes_new_levels() -> None:
    study = made()
    other, change = with_table(study, columns(study, x=text_column("x", ["many", "few"] * 40)), Source())
    assert other.variable("x").kind is Kind.GROUP
    assert other.variable("x").label == "practice"
    assert "x" not in other.model.entries
    assert change.different == ("x",)
    levels = text_column("g", ["low", "mid", "top", "beyond"] * 20)
    other, _ = with_table(study, columns(study, g=levels), Source())
    assert [level.code for level in other.variable("g").levels] == ["low", "mid", "top", "beyond"]


def test_cases_set_aside_are_others_where_the_number_of_rows_differs() -> None:
    study = set_sample(put_sample(made(), Sample("some", None, (SetAside((3,), "wet"),))), "some")
    world = {name: values[:70] for name, values in noise_world(31).items()}
    short = study_of(world, "y", "x").table
    other, change = with_table(study, short, Source())
    assert other.samples[0].aside == ()
    assert "cases set aside in “some”" in gone_names(study, change.dropped)
    assert change_sentence(study, change).startswith("Read again: 10 rows fewer.")
    same, _ = with_table(study, columns(study), Source())
    assert same.samples == study.samples


def test_another_kind_and_another_length_at_once_are_different() -> None:
    study = made()
    short = tuple(
        text_column("x", ["many"] * 40)
        if c.name == "x"
        else text_column(c.name, [c.text(i) for i in range(40)])
        if not c.is_numeric
        else number_column(c.name, c.numbers[:40])  # type: ignore[union-attr]
        for c in study.table.columns
    )
    _, change = with_table(study, Table(short), Source())
    assert change.different == ("x",)
    assert change.rows == -40


def test_a_computed_variable_gives_way_to_a_column_of_its_name_and_it_is_said() -> None:
    study = derive(made(), "twice", "x * 2")
    other, change = with_table(study, columns(study, twice=number_column("twice", np.arange(80.0))), Source())
    assert other.derived == ()
    assert gone_names(other, change.dropped) == ["the computed twice, of which the file has a column now"]
    stays, change = with_table(study, columns(study), Source())
    assert [d.name for d in stays.derived] == ["twice"]
    small = study_of({"x": [1.0, 2, 3, 4], "y": [1.0, 3, 2, 5]}, "y", "x")
    all_used = derive(small, "both", "x + y")
    assert [d.name for d in with_table(all_used, columns(all_used), Source())[0].derived] == ["both"]
    gone, change = with_table(study, columns(study, "x"), Source())
    assert "the computed twice" in gone_names(study, change.dropped)
    assert gone.derived == ()


def test_what_asks_for_numbers_of_a_column_that_became_texts_goes_and_is_said() -> None:
    study = derive(made(), "twice", "z * 2")
    study = set_rule(study, AtLeast("z", 0.0))
    other, change = with_table(study, columns(study, z=text_column("z", ["many", "few"] * 40)), Source())
    assert (other.derived, other.samples, other.model.sample) == ((), (), None)
    assert {"the computed twice", "the sample “sample 1”"} <= set(gone_names(study, change.dropped))
    assert evaluate(other).fit is not None
