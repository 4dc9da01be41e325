"""Descriptions of tables and of models: what they say is what the study then holds."""

from __future__ import annotations

import json
from pathlib import Path

import pytest

from yellow_slope.core.data.variable import Kind
from yellow_slope.core.errors import FileError
from yellow_slope.core.study.edits.descriptions import describe
from yellow_slope.core.study.edits.kinds import set_kind
from yellow_slope.core.study.edits.levels import name_level
from yellow_slope.core.study.probe import PickPoints, PickRule, Probe
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.treatment import STANDARDIZED
from yellow_slope.files.opening import open_anything
from yellow_slope.files.spec import read_spec, study_from
from yellow_slope.files.specdocument import SpecDocument
from yellow_slope.files.specvalues import block_of
from yellow_slope.files.study.typed import from_json
from yellow_slope.files.tables.tableschema import described_variables, read_schema, schema_of

TABLE = "code,x,y\n3,1.5,2\n1,2.5,3\n2,3.5,5\n1,4.0,7\n-9,1.0,4\n2,2.0,6\n3,3.0,1\n"


@pytest.fixture
def table(tmp_path: Path) -> Path:
    path = tmp_path / "t.csv"
    path.write_text(TABLE)
    return path


def spec(**changes: object) -> SpecDocument:
    plain = {"outcome": "y", "blocks": [[["x"]], {"name": "codes", "terms": [["code"], ["x", "code"]]}]}
    return from_json({**plain, **changes}, SpecDocument, "model.json")


def test_a_description_of_a_model_makes_the_study_it_describes(table: Path) -> None:
    said = {
        "code": {
            "kind": "group",
            "label": "coaching",
            "levels": {"2": "video", "1": "none", "3": "both"},
            "reference": "none",
            "missing": ["-9"],
        },
        "x": {"unit": "hour", "units": "hours a week", "short": "prac", "treatment": "standardized"},
    }
    probes = [{"focal": "x", "moderator": "code"}]
    study = study_from(table, spec(variables=said, probes=probes, level=0.9, name="A study"))
    code, x = study.variable("code"), study.variable("x")
    assert (code.kind, code.label, study.model.reference("code"), code.missing) == (
        Kind.GROUP,
        "coaching",
        "1",
        ("-9",),
    )
    assert [(v.code, v.label) for v in code.levels] == [("2", "video"), ("1", "none"), ("3", "both")]
    assert (study.model.treatment("x"), x.one, x.many, x.short) == (STANDARDIZED, "hour", "hours a week", "prac")
    assert [b.name for b in study.model.blocks] == ["", "codes"]
    assert study.probes == (Probe("x", "code"),)
    assert (study.model.level, study.name) == (0.9, "A study")


def test_probes_keep_their_order_and_count_steps_from_one(table: Path) -> None:
    probes = [
        {"focal": "x", "moderator": "code", "step": 2, "pick": "own values", "values": [1.5], "held": {"code": "1"}},
        {"focal": "code", "moderator": "y"},
    ]
    study = study_from(table, spec(variables={"code": {"kind": "group"}}, probes=probes[:1]))
    assert study.probes == (Probe("x", "code", "b2", PickPoints(PickRule.OWN, (1.5,)), (("code", "1"),)),)


def test_a_description_that_is_no_json_is_placed(tmp_path: Path) -> None:
    path = tmp_path / "model.json"
    path.write_text('{"outcome": "y",')
    with pytest.raises(FileError, match=r"model\.json is not readable JSON"):
        read_spec(path)


def test_a_schema_reads_back_what_it_was_written_from(table: Path) -> None:
    study = open_anything(table)
    study = name_level(set_kind(study, "code", Kind.GROUP), "code", "1", "none")
    study = describe(study, "x", label="practice", unit="hour")
    again = described_variables(study.table, json.loads(json.dumps(schema_of(study))), "t.schema.json")
    plain = [(v.name, v.kind, v.label, v.unit, v.levels) for v in study.variables]
    assert [(v.name, v.kind, v.label, v.unit, v.levels) for v in again] == plain


@pytest.mark.parametrize(
    ("schema", "said"),
    [
        ("[]", "is not a JSON object"),
        ("{", "not readable JSON"),
        ('{"fields": 3}', "no list of named fields"),
        ('{"fields": [{"name": "x", "kind": "thing"}]}', "the description of “x” cannot be understood"),
        (
            '{"fields": [{"name": "code", "categories": [{"value": "a"}]}]}',
            "the description of “code” cannot be understood",
        ),
    ],
)
def test_schemas_that_cannot_be_understood(table: Path, schema: str, said: str) -> None:
    path = table.with_name("t.schema.json")
    path.write_text(schema)
    with pytest.raises(FileError, match=said):
        described_variables(open_anything_without_schema(table).table, read_schema(path), path.name)


def open_anything_without_schema(table: Path) -> Study:
    other = table.with_name("other.csv")
    other.write_text(table.read_text())
    return open_anything(other)


def test_plain_categories_and_fields_of_other_columns_are_fine(table: Path) -> None:
    schema = {"fields": [{"name": "code", "categories": [1, 2, 3]}, {"name": "elsewhere", "type": "string"}]}
    code, x, _ = described_variables(open_anything(table).table, schema, "t.schema.json")
    assert [v.code for v in code.levels] == ["1", "2", "3"]
    assert code.kind is Kind.GROUP
    assert x.kind is Kind.NUMBER


BASE = {"outcome": "y", "blocks": [["x"], [["x", "w"]]]}
COMPLAINTS = [
    ({"blocks": ["x", "w"]}, 'block 1: an object in braces or a list in brackets is expected here, not "x".'),
    ({"blocks": [[1]]}, "block 1, term 1: a list in brackets or a text in quotes is expected here, not 1."),
    ({"blocks": [{"term": ["x"]}]}, "block 1: “term” is not known here; did you mean “terms”?"),
    (
        {"errors": {"bootstrap": "BCa", "draws": 10}},
        "errors, draws: a number of at least 1000 is expected here, not 10.",
    ),
    ({"errors": {"cluster": 3}}, "errors, cluster: a text in quotes is expected here, not 3."),
    ({"variables": {"x": {"labels": "a"}}}, "variables, x: “labels” is not known here; did you mean “label”?"),
    (
        {"samples": [{"name": "s", "rule": {"at lest": 3}}]},
        "sample 1, rule: “at lest” is not known here; did you mean “at least”?",
    ),
    ({"probes": [{"focal": "x"}]}, "probe 1: “moderator” is missing."),
    ({"models": [{"name": "m", "level": 7}]}, "model 1, level: a number below 1 is expected here, not 7."),
    ({"errors": {"draws": 2000}}, "errors: “draws” and “seed” belong to a bootstrap; “bootstrap” is missing."),
    ({"errors": {}}, "errors: “cluster” or “bootstrap” is expected here."),
    (
        {"variables": {"x": {"treatment": {"zero": {"at": 1, "within": "g"}}}}},
        "variables, x, treatment, zero: either “at” or “within” is expected here.",
    ),
    ({"probes": [{"focal": "x", "moderator": "w", "name": "a" * 99}]}, "a text of at most 80 letters is allowed here"),
    ({"constant": "yes please"}, 'constant: true or false is expected here, not "yes please".'),
    ({"variables": {"x": {"treatment": {"zero": "avg"}}}}, "“as it is”, “mean” or “median” or an object in braces"),
]


@pytest.mark.parametrize(("change", "said"), COMPLAINTS)
def test_what_is_wrong_with_a_description_is_said_as_a_person_would(change: dict[str, object], said: str) -> None:
    with pytest.raises(FileError) as error:
        from_json({**BASE, **change}, SpecDocument, "model.json")
    text = str(error.value)
    assert said in text
    assert text.startswith("model.json: ")
    assert "Document" not in text


def test_a_term_of_one_variable_may_be_its_name() -> None:
    plain = spec(blocks=[["x", ["x", "w"]], {"terms": ["w"]}])
    long = spec(blocks=[[["x"], ["x", "w"]], {"terms": [["w"]]}])
    assert [block_of(block) for block in plain.blocks] == [block_of(block) for block in long.blocks]


@pytest.mark.parametrize(
    ("field", "said"),
    [
        ({"kind": "nombre"}, "is not a kind: number,"),
        ({"categories": [{"label": "none"}]}, "a category without a value"),
        ({"categories": [{"value": "zero", "label": "none"}]}, "“zero” is not a number"),
        ({"categories": [{"value": "inf", "label": "none"}]}, "“inf” is not a number"),
        ({"constraints": {"minimum": None, "maximum": 3}}, "“None” is not a number"),
    ],
)
def test_what_a_schema_says_wrongly_is_said_in_our_words(tmp_path: Path, field: dict[str, object], said: str) -> None:
    (tmp_path / "t.csv").write_text("a,b\n1,2\n0,3\n1,5\n0,2\n")
    (tmp_path / "t.schema.json").write_text(json.dumps({"fields": [{"name": "a", **field}]}))
    with pytest.raises(FileError) as refused:
        open_anything(tmp_path / "t.csv")
    assert said in str(refused.value)
