"""Studies of version 1 open for ever; what a description can say comes back out of a study file as it went in."""

from __future__ import annotations

import csv
import io
import json
import os
import stat
from pathlib import Path

import jsonschema
import numpy as np
import pytest

from tests.files.study.test_labels import with_everything
from tests.support import drawnfigures
from tests.support.places import SCHEMAS
from tests.support.worlds import fit_of
from yellow_slope import cli
from yellow_slope.core.errors import FileError
from yellow_slope.core.fit.fitted.evaluate import evaluate
from yellow_slope.core.study.coding import Planned, Trends
from yellow_slope.core.study.edits.dismissals import pin_flag
from yellow_slope.core.study.edits.models import set_errors
from yellow_slope.core.study.edits.questions import name_comparison
from yellow_slope.core.study.figures import ProbeShown
from yellow_slope.core.study.flagkeys import FlagKey, FlagKind
from yellow_slope.core.study.probe import Probe, RegionRule, Second
from yellow_slope.core.study.report import PartKind
from yellow_slope.core.study.standarderrors import HC, Bootstrap, Classical, Cluster, IntervalWay
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.treatment import CENTERED, STANDARDIZED
from yellow_slope.demo.learners import TABLE
from yellow_slope.files.opening import open_anything
from yellow_slope.files.safely.atomically import write_whole
from yellow_slope.files.safely.regular import read_bytes
from yellow_slope.files.schemas import schema_of
from yellow_slope.files.study.migrations import newest
from yellow_slope.files.study.studydocument import read_document, study_document
from yellow_slope.files.study.studyfile import packed, unpacked
from yellow_slope.files.written.resultparts import ResultsDocument
from yellow_slope.files.written.results import results_document
from yellow_slope.values import replace

OLD = Path(__file__).parent / "old" / "demo-1.yslope"


def test_the_demo_of_version_1_opens_to_the_same_numbers(demo: Study) -> None:
    old = open_anything(OLD)
    assert old.model.treatment("practice") == CENTERED
    assert old.model.treatment("balance") == STANDARDIZED
    assert old.model.reference("coaching") == "0"
    assert [p.focal for p in old.probes] == ["practice", "returner", "practice"]
    for mine, its in zip(fit_of(old).steps, fit_of(demo).steps):
        np.testing.assert_array_equal(mine.b, its.b)
        np.testing.assert_array_equal(mine.se, its.se)
    again = unpacked(packed(old), "again.yslope")
    assert again.models == old.models


def test_the_demo_of_version_2_opens_to_the_same_study(demo: Study) -> None:
    old = open_anything(OLD.with_name("demo-2.yslope"))
    assert (old.models, old.probes) == (demo.models, demo.probes)
    assert old.source.read_as.names
    for mine, its in zip(fit_of(old).steps, fit_of(demo).steps):
        np.testing.assert_array_equal(mine.b, its.b)


def test_the_demo_of_version_3_opens_with_its_computed_variables(demo: Study) -> None:
    old = open_anything(OLD.with_name("demo-3.yslope"))
    assert old.models == demo.models
    assert [old.variable(d.name).label for d in old.derived] == ["short sleep", "typical", "both"]
    np.testing.assert_array_equal(old.columns.numbers("short_sleep"), 8.0 - old.columns.numbers("sleep"))
    again = unpacked(packed(old), "again.yslope")
    assert (again.derived, again.variables) == (old.derived, old.variables)


def test_the_demo_of_version_4_opens_with_its_questions(demo: Study) -> None:
    old = open_anything(OLD.with_name("demo-4.yslope"))
    coding = old.model.coding("coaching")
    assert isinstance(coding, Planned)
    assert [q.name for q in coding.questions] == ["any coaching", "", ""]
    assert old.model.coding("site") == Trends()
    assert fit_of(old).last.sse == pytest.approx(fit_of(demo).last.sse, rel=1e-10), "another coding, the same fit"
    assert unpacked(packed(old), "again.yslope").models == old.models


def test_the_demo_of_version_5_opens_with_its_models(demo: Study) -> None:
    old = open_anything(OLD.with_name("demo-5.yslope"))
    assert [(m.id, m.name, m.errors) for m in old.models] == [("m1", "as published", Classical()), ("m2", "", HC(3))]
    assert old.current == "m2"
    assert dict(old.model.coding("coaching").names) == {"2": "feedback"}  # type: ignore[union-attr]
    assert old.pinned == (FlagKey(FlagKind.ONE_SLOPE, ("coaching",)),)
    np.testing.assert_array_equal(fit_of(old).last.b, fit_of(demo).last.b)
    assert unpacked(packed(old), "again.yslope").models == old.models


def test_a_study_of_version_9_with_everything_opens_to_the_same_study(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(drawnfigures, "VIEWS", [view for view in ProbeShown if view is not ProbeShown.EVERY])
    old, now = open_anything(OLD.with_name("everything-9.yslope")), with_everything()
    assert len(old.figures) > 40
    assert not old.went
    assert [part.kind for part in old.report.parts][:3] == [PartKind.FINDINGS, PartKind.SAMPLE, PartKind.EXCLUSIONS]
    usual = tuple(now.report.part(part.kind) for part in old.report.parts)
    assert len(usual) == len(now.report.parts), "the order of parts that was usual then stays that of the study"
    assert study_document(old) == study_document(replace(now, report=replace(now.report, parts=usual)))


@pytest.mark.parametrize(
    ("sample", "said"),
    [
        (
            {"name": "s", "rule": {"variable": "age", "at least": 3, "at most": 9}},
            "s: A rule says one thing; one of this",
        ),
        ({"name": "s", "rule": {"variable": "age"}}, "says 0"),
        ({"name": "s", "rule": "age at least 3"}, "The rule of the sample “s” is typed"),
        ({"rule": None}, "“name” is missing"),
        ({"name": "s", "rule": {"variable": "age", "between": [1]}}, "s: study.json of version 9 lacks"),
    ],
)
def test_what_is_wrong_in_a_study_of_version_9_is_told(sample: dict[str, object], said: str) -> None:
    old = {"format": "yellow-slope-study", "version": 9, "name": "s", "models": [], "current": "m1"}
    with pytest.raises(FileError, match=said):
        read_document({**old, "samples": [sample]}, "s")


@pytest.mark.parametrize("errors", [Bootstrap(), Bootstrap(IntervalWay.PERCENTILE, 2000, 7, "site")])
def test_a_bootstrap_is_kept_and_written(demo: Study, errors: Bootstrap) -> None:
    study = set_errors(demo, errors)
    assert unpacked(packed(study), "again.yslope").model.errors == errors
    document = results_document(evaluate(study))
    step = document.models[0].steps[-1]
    assert document.models[0].resampled is not None
    assert document.models[0].resampled.draws == errors.draws
    assert step.coefficients[1].t is None
    assert step.coefficients[1].p is not None
    assert step.r2_low is not None
    assert step.r2_high is not None
    assert step.r2_low < step.r2 < step.r2_high  # type: ignore[operator]
    assert (step.change.p is not None) == (errors.cluster is None), "three sites are too few for a joint test"


def test_names_of_comparisons_and_pinned_flags_are_kept(demo: Study) -> None:
    study = name_comparison(demo, "coaching", "2", "feedback")
    study = pin_flag(study, FlagKey(FlagKind.ONE_SLOPE, ("coaching",)))
    again = unpacked(packed(study), "again.yslope")
    assert again.models == study.models
    assert again.pinned == study.pinned
    assert fit_of(again).design.group("coaching").comparisons[1].name == "feedback"


def test_every_part_of_version_1_comes_along() -> None:
    old = {
        "format": "yellow-slope-study",
        "version": 1,
        "name": "Old",
        "outcome": "y",
        "level": 0.9,
        "variables": {
            "x": {"treatment": "standardized", "reference": None},
            "g": {"treatment": "as it is", "reference": "b"},
            "w": {"treatment": "as it is", "reference": None},
        },
        "blocks": [{"name": "", "terms": [["x"], ["g"]]}, {"name": "both", "terms": [["x", "g"]]}],
        "probes": [{"focal": "x", "moderator": "g", "step": 2, "pick": "mean and SD", "values": [], "held": {}}],
        "dismissals": [
            {"flag": "parts of w x x", "reason": "meant so"},
            {"flag": "lost cases", "reason": "few"},
            {"flag": "code site code", "reason": "a scale"},
        ],
        "first_out": [["x"]],
        "read_as": ["separated by tabs", "decimal comma", "no names", "3 rows", "described by t.schema.json"],
    }
    new = newest(old)
    (model,) = new["models"]
    assert model["entries"] == {
        "x": {"is": "treatment", "zero": {"is": "mean"}, "scale": {"is": "sd"}},
        "g": {"is": "dummy", "reference": "b", "names": []},
    }
    assert [b["id"] for b in model["blocks"]] == ["b1", "b2"]
    assert new["probes"][0]["step"] == "b2"
    assert (model["level"], model["leave_out_first"]) == (0.9, [["x"]])
    assert new["dismissals"] == [
        {"flag": {"kind": "parts of", "about": ["w", "x"]}, "reason": "meant so"},
        {"flag": {"kind": "lost cases", "about": []}, "reason": "few"},
        {"flag": {"kind": "code", "about": ["site code"]}, "reason": "a scale"},
    ]
    assert new["source"]["read_as"] == {"separator": "\t", "decimal": ",", "names": False}
    assert new["source"]["description"] == "t.schema.json"
    assert newest(new) is new


SPEC = {
    "name": "All that can be said",
    "derived": {"effort": "(practice + sleep) / 2", "usual": "group mean of practice by coaching"},
    "variables": {
        "practice": {"treatment": {"transforms": ["log1p"], "zero": "mean", "scale": "sd", "base": "all cases"}},
        "worry": {"limits": [1, 7], "treatment": {"transforms": ["reverse"], "zero": {"at": 3}, "scale": {"by": 2}}},
        "sleep": {"treatment": {"zero": {"within": "coaching"}}},
        "coaching": {
            "kind": "group",
            "levels": {"0": "none", "1": "group lesson", "2": "video feedback", "3": "one-to-one"},
            "coding": {
                "coding": "planned",
                "questions": [
                    {"name": "any", "one": ["group lesson", "video feedback", "3"], "other": ["none"]},
                    {"weights": {"1": -1, "2": 0.5, "3": 0.5}},
                ],
            },
        },
        "site": {"kind": "group", "coding": {"coding": "trends", "spacing": {"1": 0, "2": 1, "3": 4}}},
        "returner": {"reference": "1"},
    },
    "samples": [
        {
            "name": "some",
            "rule": {
                "all": [
                    {"variable": "age", "between": [18, 60]},
                    {"not": {"variable": "coaching", "is": "one-to-one"}},
                    {
                        "any": [
                            {"variable": "site", "one of": [1, 2]},
                            {"variable": "worry", "at most": 6},
                            {"variable": "balance", "at least": 20},
                            {"variable": "sleep", "missing": True},
                        ]
                    },
                ]
            },
            "aside": [{"rows": [3, 8], "reason": "a broken timer"}],
        }
    ],
    "outcome": "control",
    "level": 0.9,
    "sample": "some",
    "errors": "HC3",
    "blocks": [
        [["age"], ["practice"], ["worry"]],
        {"name": "groups", "terms": [["coaching"], ["returner"]]},
        {"name": "off", "on": False, "terms": [["site"]]},
        [["practice", "worry"], ["practice", "returner"], ["practice", "worry", "returner"], ["worry", "returner"]],
    ],
    "models": [
        {
            "name": "plain",
            "blocks": [[["site"], ["sleep"], ["effort"]]],
            "errors": {"cluster": "learner"},
            "constant": True,
            "variables": {"practice": {"treatment": "centered"}},
        }
    ],
    "probes": [
        {
            "focal": "practice",
            "moderator": "worry",
            "step": 3,
            "pick": "own values",
            "values": [2, 4],
            "held": {"age": 30, "coaching": "none"},
            "second": {"variable": "returner"},
            "band": "all points at once",
        },
        {"focal": "effort", "moderator": "effort", "model": "plain"},
    ],
}


@pytest.fixture
def table(tmp_path: Path) -> Path:
    """The demo's table without a description beside it."""
    path = tmp_path / "plain.csv"
    path.write_text(TABLE.read_text())
    return path


@pytest.fixture
def study(table: Path, tmp_path: Path) -> Path:
    spec, target = tmp_path / "spec.json", tmp_path / "all.yslope"
    spec.write_text(json.dumps(SPEC))
    jsonschema.validate(SPEC, json.loads((SCHEMAS / "spec.schema.json").read_text()))
    assert cli.main(["new", str(table), "--spec", str(spec), "--to", str(target)]) == 0
    return target


def test_all_that_can_be_said_is_kept(study: Path) -> None:
    found = open_anything(study)
    first, plain = found.models
    assert isinstance(first.coding("coaching"), Planned)
    assert isinstance(first.coding("site"), Trends)
    assert (first.errors, plain.errors) == (HC(3), Cluster("learner"))
    assert (first.sample, plain.sample, plain.level) == ("some", "some", 0.9)
    assert [b.on for b in first.blocks] == [True, True, False, True]
    probe = found.probes[0]
    assert isinstance(probe, Probe)
    assert probe.second == Second("returner")
    assert probe.rule is RegionRule.SIMULTANEOUS
    assert dict(probe.held) == {"age": 30.0, "coaching": "0"}
    assert found.probes[1].model == plain.id
    again = unpacked(packed(found), "again.yslope")
    for name in ("models", "samples", "derived", "probes", "variables", "source", "current"):
        assert getattr(again, name) == getattr(found, name), name
    np.testing.assert_array_equal(fit_of(again).last.b, fit_of(found).last.b)
    fit = fit_of(found)
    assert fit.cases.n_outside > 0
    assert fit.cases.n_aside == 2
    assert not {2, 7} & set(fit.cases.rows.tolist())


def test_results_of_all_that_can_be_said(study: Path, tmp_path: Path) -> None:
    target, cases = tmp_path / "r.json", tmp_path / "c.csv"
    assert cli.main(["evaluate", str(study), "--to", str(target), "--cases", str(cases)]) == 0
    results = json.loads(target.read_text())
    jsonschema.validate(results, json.loads((SCHEMAS / "results.schema.json").read_text()))
    assert [m["name"] for m in results["models"]] == ["", "plain"]
    assert results["models"][0]["errors"] == "HC3"
    assert results["models"][1]["clusters"] == results["models"][1]["cases"]["used"]
    asked = results["probes"][0]["asked"]
    assert asked["held"] == {"age": 30.0, "coaching": "0"}
    assert asked["band"] == "all points at once"
    assert [p["second"] for p in results["probes"][0]["panels"]] == ["0", "1"]
    coaching = results["models"][0]["bases"]["coaching"]
    assert len(coaching["comparisons"]) == len(coaching["codes"][0]) == 2
    with cases.open() as file:
        rows = list(csv.DictReader(file))
    fit = fit_of(open_anything(study))
    assert [int(row["row"]) for row in rows] == (fit.cases.rows + 1).tolist() == results["models"][0]["cases"]["rows"]
    assert float(rows[0]["predicted"]) + float(rows[0]["residual"]) == pytest.approx(fit.y[0])
    assert sum(float(row["leverage"]) for row in rows) == pytest.approx(fit.last.rank)
    assert set(rows[0]) >= {"cook", "dffits", "mahalanobis", "externally studentized residual"}


def test_every_field_of_the_results_is_described() -> None:
    for part in schema_of(ResultsDocument)["$defs"].values():
        for name, field in part.get("properties", {}).items():
            assert field.get("description"), f"{part.get('title')}.{name}"


@pytest.mark.parametrize(
    ("change", "said"),
    [
        ({"probes": [{"focal": "nobody", "moderator": "worry"}]}, "no variable named “nobody”"),
        ({"probes": [{"focal": "age", "moderator": "worry"}]}, "No term multiplies age and worry"),
        ({"probes": [{"focal": "practice", "moderator": "worry", "step": 9}]}, "no step 9; the model has 3"),
        ({"probes": [{"focal": "practice", "moderator": "worry", "step": 1}]}, "step 3 is the first"),
        ({"probes": [{"focal": "practice", "moderator": "worry", "model": "third"}]}, "no model “third”"),
        (
            {"probes": [{"focal": "practice", "moderator": "worry", "held": {"coaching": "nowhere"}}]},
            "no level “nowhere”",
        ),
        ({"sample": "nobody"}, "no sample named “nobody”"),
        ({"samples": [{"name": "s", "rule": {"variable": "age", "at least": 3, "at most": 9}}]}, "says one thing"),
        ({"samples": [{"name": "s", "rule": {"at least": 3}}]}, "names no variable"),
        ({"samples": [{"name": "s", "aside": [{"rows": [999], "reason": "x"}]}]}, "no row 999"),
        ({"derived": {"age": "practice"}}, "has a variable “age” already"),
        ({"errors": {"cluster": "nobody"}}, "no variable named “nobody”"),
        ({"level": 2}, "level: a number below 1 is expected here, not 2."),
    ],
)
def test_what_cannot_be_is_refused_with_exit_code_1(
    change: dict[str, object], said: str, table: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    spec = tmp_path / "spec.json"
    spec.write_text(json.dumps({**SPEC, **change}))
    assert cli.main(["new", str(table), "--spec", str(spec), "--to", str(tmp_path / "s.yslope")]) == 1
    assert said in capsys.readouterr().err
    assert not (tmp_path / "s.yslope").exists()


def test_a_description_that_says_nothing_of_0_1_columns_takes_them_for_groups(table: Path, tmp_path: Path) -> None:
    spec = tmp_path / "s.json"
    for said, kind in (
        ({}, "group"),
        ({"returner": {"kind": "number"}}, "number"),
        ({"returner": {"treatment": "centered"}}, "number"),
    ):
        spec.write_text(json.dumps({"outcome": "control", "blocks": [[["returner"]]], "variables": said}))
        assert cli.main(["new", str(table), "--spec", str(spec), "--to", str(tmp_path / "s.yslope")]) == 0
        assert open_anything(tmp_path / "s.yslope").variable("returner").kind == kind


def test_what_does_not_exist_is_null_with_its_reason(tmp_path: Path) -> None:
    table = tmp_path / "t.csv"
    table.write_text("g,x,y\na,1,2\na,2,3\na,3,5\na,4,4\nb,1,5\nb,2,5\nb,3,4\nb,4,3\nc,3,9\n")
    spec = tmp_path / "s.json"
    spec.write_text(
        json.dumps(
            {"outcome": "y", "blocks": [[["x"], ["g"]], [["x", "g"]]], "probes": [{"focal": "x", "moderator": "g"}]}
        )
    )
    assert cli.main(["new", str(table), "--spec", str(spec), "--to", str(tmp_path / "s.yslope")]) == 0
    document = results_document(evaluate(open_anything(tmp_path / "s.yslope")))
    lone = document.probes[0].panels[0].foci[0].effects[2]
    assert (lone.effect, lone.p, lone.why) == (None, None, "not estimable")
    assert "cannot be estimated from these cases" in lone.words
    last = document.models[0].steps[-1]
    out = next(c for c in last.coefficients if c.left_out)
    assert out.why == "left out"
    assert out.b is None
    row = [c.left_out for c in last.coefficients].index(True)
    assert all(v is None for v in last.covariance[row])
    assert all(line[row] is None for line in last.covariance)
    perfect = tmp_path / "p.csv"
    perfect.write_text("x,y\n" + "".join(f"{x},{2 * x + 1}\n" for x in range(1, 12)))
    spec.write_text(json.dumps({"outcome": "y", "blocks": [[["x"]]]}))
    assert cli.main(["new", str(perfect), "--spec", str(spec), "--to", str(tmp_path / "s.yslope")]) == 0
    step = results_document(evaluate(open_anything(tmp_path / "s.yslope"))).models[0].steps[0]
    assert step.perfect
    assert (step.change.f, step.change.p, step.change.why) == (None, None, "perfect fit")
    assert (step.coefficients[1].b, step.coefficients[1].se, step.coefficients[1].p) == (pytest.approx(2.0), None, None)


# ---- saving


def test_saving_keeps_permissions_and_follows_links(tmp_path: Path) -> None:
    target, link = tmp_path / "s.yslope", tmp_path / "link.yslope"
    write_whole(target, b"one")
    os.chmod(target, 0o600)
    link.symlink_to(target)
    write_whole(link, b"two")
    assert link.is_symlink()
    assert target.read_bytes() == b"two"
    assert stat.S_IMODE(target.stat().st_mode) == 0o600


def test_what_is_no_regular_file_is_refused(tmp_path: Path) -> None:
    pipe = tmp_path / "pipe"
    os.mkfifo(pipe)
    for act in (lambda: write_whole(pipe, b"x"), lambda: read_bytes(pipe)):
        with pytest.raises(FileError, match="not a regular file"):
            act()


def test_parts_of_a_killed_save_are_cleared(tmp_path: Path) -> None:
    dead = tmp_path / ".s.yslope.999999999.abc.part"
    alive = tmp_path / f".s.yslope.{os.getppid()}.abc.part"
    other = tmp_path / ".t.yslope.999999999.abc.part"
    for path in (dead, alive, other):
        path.write_bytes(b"half")
    write_whole(tmp_path / "s.yslope", b"whole")
    assert not dead.exists()
    assert alive.exists()
    assert other.exists()


def test_flags_put_aside_are_known_by_kind_and_variables(demo: Study) -> None:
    key = FlagKey(FlagKind.PARTS, ("practice", "worry"))
    assert key.text == "parts of practice x worry"
    assert io.BytesIO(packed(demo)).read(2) == b"PK"
