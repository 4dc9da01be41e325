"""The findings of constructed situations, read one by one and kept in a golden file."""

from __future__ import annotations

import os
import re
from collections.abc import Iterator
from pathlib import Path

import numpy as np

from tests.support.worlds import study_of
from yellow_slope.core.data.variable import Kind
from yellow_slope.core.fit.fitted.evaluate import evaluate
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.probe.probed import Probed
from yellow_slope.core.probe.probing import probe_fit
from yellow_slope.core.study.coding import Effect, LevelMeans, Planned, Question, Trends
from yellow_slope.core.study.edits.descriptions import describe
from yellow_slope.core.study.edits.entries import set_coding, treat
from yellow_slope.core.study.edits.kinds import set_kind
from yellow_slope.core.study.edits.models import set_constant, set_errors, set_level, set_reported
from yellow_slope.core.study.edits.report import set_assigned
from yellow_slope.core.study.edits.samples import set_aside
from yellow_slope.core.study.probe import EffectUnit, PickPoints, PickRule, Probe, RegionRule, Second
from yellow_slope.core.study.standarderrors import HC, Bootstrap, Cluster, IntervalWay
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.treatment import CENTERED, STANDARDIZED
from yellow_slope.core.words.sentences.findings import findings
from yellow_slope.values import replace

GOLDEN = Path(__file__).parent / "golden" / "findings.txt"


def world(
    blocks: str, product: float = 1.2, noise: float = 2.0, n: int = 180, seed: int = 3, shift: float = 0.0
) -> Study:
    """Practice, worry, sleep, coaching and returner, with names and units."""
    rng = np.random.default_rng(seed)
    practice, worry = rng.normal(4 + shift, 1.5, n), rng.normal(3.7, 1.2, n)
    sleep = rng.normal(7, 0.9, n)
    coaching = [("none", "group", "one-to-one")[i] for i in rng.integers(0, 3, n)]
    returner = [("no", "yes")[i] for i in rng.integers(0, 2, n)]
    slope = np.array([{"none": 0.2, "group": 1.0, "one-to-one": 2.2}[c] for c in coaching])
    back = np.array([r == "yes" for r in returner])
    both = (practice - 4 - shift) * (worry - 3.7)
    control = 40 + slope * (practice - shift) - product * both + 1.2 * back * (worry - 3.7)
    control = control + 0.8 * back * both * product + noise * rng.normal(size=n)
    columns = {"practice": practice, "worry": worry, "sleep": sleep, "coaching": coaching, "returner": returner}
    study = study_of({**columns, "control": control}, "control", blocks)
    study = describe(study, "control", label="control score", unit="point, points")
    return describe(study, "practice", label="practice", unit="hour, hours")


TWO = "practice, worry, sleep; practice*worry"
GROUPED = "practice, coaching; practice*coaching"
THREE = "practice, worry, returner; practice*worry, practice*returner, worry*returner; practice*worry*returner"


def situations() -> Iterator[tuple[str, Study, list[Probe]]]:
    """A name, a study and what is asked of it."""
    line = Probe("practice", "worry")
    both = treat(world(TWO), ["practice", "worry"], CENTERED)
    yield "two numbers, significant", both, [line]
    yield "the other way round", both, [Probe("worry", "practice")]
    yield "not significant", treat(world(TWO, product=0.0, seed=5), ["practice", "worry"], CENTERED), [line]
    yield "as it is, nothing centered", world(TWO), [line]
    yield "standardized", treat(world(TWO), ["practice", "worry", "sleep"], STANDARDIZED), [line]
    yield "quartiles as places", both, [replace(line, pick=PickPoints(PickRule.QUARTILES))]
    yield "places of one's own", both, [replace(line, pick=PickPoints(PickRule.OWN, (2.0, 5.0)))]
    yield "all points at once", both, [replace(line, rule=RegionRule.SIMULTANEOUS)]
    yield "the false discovery rate", both, [replace(line, rule=RegionRule.FALSE_DISCOVERY)]
    yield "effects in SD", both, [replace(line, unit=EffectUnit.SD)]
    yield "held at a value", both, [replace(line, held=(("sleep", 6.0),))]
    yield "level .99", set_level(both, 0.99), [line]
    yield "robust errors", set_errors(both, HC(3)), [line]
    yield "clusters", set_errors(world(TWO + ", coaching"), Cluster("returner")), [line]
    yield "resamples", set_errors(both, Bootstrap(IntervalWay.BCA, 1000, 5, None)), [line]
    yield "cases set aside", set_aside(both, [3, 9], "wrong boots"), [line]
    rng = np.random.default_rng(6)
    x, w = rng.normal(size=60), rng.normal(size=60)
    exact = study_of({"practice": x, "worry": w, "sleep": rng.normal(size=60), "y": 2 + x + x * w}, "y", TWO)
    yield "a perfect fit", exact, [line]
    yield "a huge mean", world(TWO, shift=1e6), [line]
    yield "the first step is reported", set_reported(both, both.model.steps[0].id), []
    yield "without an intercept", set_constant(world(TWO), False), [line]
    yield "one block", world("practice, worry, practice*worry"), [line]
    rng = np.random.default_rng(4)
    noise = {f"extra {k}": rng.normal(size=60) for k in range(9)}
    y = x + 0.8 * x * w + rng.normal(size=60)
    many = study_of(
        {"practice": x, "worry": w, **noise, "y": y}, "y", "; ".join(("practice", *noise, "worry, practice*worry"))
    )
    yield "eleven blocks", many, [line]
    yield "no product", world("practice, worry"), []
    yield "one predictor alone", world("practice"), [Probe("practice", "practice")]
    yield "a square", world("practice; practice*practice"), [Probe("practice", "practice")]
    yield "number by group", world(GROUPED), [Probe("practice", "coaching")]
    yield "group by number", world(GROUPED), [Probe("coaching", "practice")]
    yield "two groups by number", world("worry, returner; worry*returner"), [Probe("returner", "worry")]
    yield "number by two groups", world("worry, returner; worry*returner"), [Probe("worry", "returner")]
    yield "group by group", world("coaching, returner; coaching*returner"), [Probe("coaching", "returner")]
    yield (
        "group by group, not significant",
        world("coaching, returner; coaching*returner", seed=9),
        [Probe("returner", "coaching")],
    )
    planned = Planned((Question("any", ("group", "one-to-one"), ("none",)),))
    yield "planned comparisons", set_coding(world(GROUPED), "coaching", planned), [Probe("coaching", "practice")]
    yield "effect coding", set_coding(world(GROUPED), "coaching", Effect()), [Probe("practice", "coaching")]
    yield "trends", set_coding(world(GROUPED), "coaching", Trends()), [Probe("practice", "coaching")]
    means = set_coding(set_constant(world("coaching; practice"), False), "coaching", LevelMeans())
    yield "level means", means, []
    yield (
        "three factors, a group second",
        world(THREE, product=2.0),
        [Probe("practice", "worry", second=Second("returner"))],
    )
    yield (
        "three factors, not significant",
        world(THREE, product=0.0, seed=6),
        [Probe("practice", "worry", second=Second("returner"))],
    )
    numbers = world(
        "practice, worry, sleep; practice*worry, practice*sleep, worry*sleep; practice*worry*sleep", product=1.0
    )
    yield "three numbers", numbers, [Probe("practice", "worry", second=Second("sleep"))]
    yield (
        "two probes",
        world("practice, worry, coaching; practice*worry, practice*coaching"),
        [line, Probe("practice", "coaching")],
    )
    several = world("practice, worry, sleep, coaching; practice*worry, practice*coaching, worry*sleep")
    yield "three products, one of them asked", several, [line]
    yield "two products, one of them asked", world("practice, worry, sleep; practice*worry, worry*sleep"), [line]
    yield "three products, none asked", several, []
    long = describe(both, "worry", label="worry about falling on the long blue slope in the last week")
    yield "a long name", long, [line]
    codes = set_kind(
        study_of(
            {
                "dose": np.arange(90.0) % 7,
                "night": [float(i % 2) for i in range(90)],
                "y": np.arange(90.0) % 7 * (1 + np.arange(90) % 2) + np.random.default_rng(1).normal(size=90),
            },
            "y",
            "dose, night; dose*night",
        ),
        "night",
        Kind.GROUP,
    )
    yield "codes without names", codes, [Probe("dose", "night")]
    yield "parts are missing", world("worry; practice*worry"), [line]
    yield "cases were assigned", set_assigned(world(GROUPED), "coaching", True), [Probe("coaching", "practice")]
    double = study_of(
        {"x": np.arange(40.0), "w": 2 * np.arange(40.0) + 1, "y": np.random.default_rng(2).normal(size=40)},
        "y",
        "x, w; x*w",
    )
    yield "two predictors that say the same", double, [Probe("x", "w")]


def told() -> str:
    """Every situation with its paragraphs."""
    lines = []
    for name, study, probes in situations():
        evaluation = evaluate(study)
        fit = evaluation.fit
        assert isinstance(fit, Fit), name
        answers: list[Probed] = [probe_fit(study, fit, probe) for probe in probes]
        lines.append(f"# {name}")
        lines += [f"    {found.text}" for found in findings(evaluation, fit, answers)]
        lines.append("")
    return "\n".join(lines)


def test_findings_are_as_they_were_read() -> None:
    found = told()
    if os.environ.get("YELLOW_SLOPE_WRITE"):
        GOLDEN.write_text(found, encoding="utf-8")
    assert found == GOLDEN.read_text(encoding="utf-8")


def test_there_are_forty_situations_and_none_says_what_is_not() -> None:
    found = told()
    assert sum(line.startswith("# ") for line in found.splitlines()) >= 40
    for wrong in (r"\bnan\b", r"\binf\b", r"\(\)", r" [,;:]", r" \.(?!\d)", "no effect", "causes"):
        assert not [line for line in found.splitlines() if re.search(wrong, line)], wrong
