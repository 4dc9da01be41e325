"""Sentences of constructed cases, read one by one and kept in a golden file: every kind of column, coding and zero."""

from __future__ import annotations

import os
from collections.abc import Iterator
from pathlib import Path

import numpy as np

from tests.support.worlds import blocks_of, fit_of, noise_world, study_of, term
from yellow_slope.core.data.variable import Kind
from yellow_slope.core.fit.fitted.evaluate import evaluate
from yellow_slope.core.flags import flags_of
from yellow_slope.core.probe.probing import probe_fit
from yellow_slope.core.probe.regions import Regions
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
from yellow_slope.core.study.edits.blocks import enter, set_blocks
from yellow_slope.core.study.edits.descriptions import change_variable, describe
from yellow_slope.core.study.edits.entries import set_coding, set_reference, treat
from yellow_slope.core.study.edits.kinds import set_kind
from yellow_slope.core.study.edits.levels import name_levels
from yellow_slope.core.study.edits.models import set_constant, set_errors, set_level
from yellow_slope.core.study.probe import PickPoints, PickRule, Probe, RegionRule, Second
from yellow_slope.core.study.standarderrors import HC, Bootstrap, Cluster, IntervalWay
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.treatment import (
    CENTERED,
    STANDARDIZED,
    At,
    Given,
    Mean,
    Median,
    OneSD,
    Transform,
    Treatment,
    WithinGroups,
)
from yellow_slope.core.words.sentences.coefficients import Reader
from yellow_slope.core.words.sentences.effects import EffectReader
from yellow_slope.core.words.sentences.figures import probe_caption
from yellow_slope.core.words.sentences.samples import sample_sentence
from yellow_slope.values import replace

GOLDEN = Path(__file__).parent / "golden" / "sentences.txt"


def world(blocks: str, seed: int = 11) -> Study:
    """Practice, worry, coaching and returner in the made-up world, with units."""
    raw = noise_world(seed)
    columns = {
        "practice": raw["x"],
        "worry": raw["w"],
        "sleep": raw["z"] + 7,
        "coaching": raw["g"],
        "returner": raw["d"],
        "control": raw["y"],
    }
    study = study_of(columns, "control", "practice")
    study = describe(study, "practice", unit="hour")
    study = describe(study, "worry", unit="point")
    study = describe(study, "control", label="control score", unit="point")
    study = name_levels(study, "coaching", ["none", "group lesson", "video feedback"])
    study = name_levels(study, "returner", ["first season", "returner"])
    study = set_reference(study, "coaching", "low")
    study = set_reference(study, "returner", "no")
    return set_blocks(study, blocks_of(blocks))


def read(study: Study) -> Reader:
    return Reader(study, fit_of(study), study.model)


def last(study: Study, name: str, position: int = 0) -> str:
    """The sentence of a term's column in the last step."""
    reader = read(study)
    return reader.coefficient(len(reader.fit.steps) - 1, reader.fit.design.columns_of(term(name))[position])


def coded(blocks: str, coding: Coding, name: str = "coaching") -> Study:
    return set_coding(world(blocks), name, coding)


def treated(blocks: str, *pairs: tuple[str, Treatment]) -> Study:
    study = world(blocks)
    for name, treatment in pairs:
        study = treat(study, [name], treatment)
    return study


def numbers() -> Iterator[tuple[str, str]]:
    yield "a number alone", last(world("practice"), "practice")
    yield "a number beside others", last(world("practice, worry"), "practice")
    yield "standardized", last(treated("practice", ("practice", STANDARDIZED)), "practice")
    yield "in units of 10", last(treated("practice", ("practice", Treatment(scale=Given(10.0)))), "practice")
    yield "log", last(treated("practice", ("practice", Treatment((Transform.LOG,), Mean()))), "practice")
    yield (
        "square root in SDs",
        last(treated("practice", ("practice", Treatment((Transform.ROOT,), Mean(), OneSD()))), "practice"),
    )
    yield "ranks", last(treated("practice", ("practice", Treatment((Transform.RANKS,)))), "practice")
    yield (
        "within groups",
        last(treated("practice, coaching", ("practice", Treatment(zero=WithinGroups("coaching")))), "practice"),
    )
    yield "not significant", last(world("sleep"), "sleep")
    small = study_of({"x": noise_world(1)["x"] * 1e4, "y": noise_world(1)["y"]}, "y", "x")
    yield "a tiny slope", last(small, "x")


def groups() -> Iterator[tuple[str, str]]:
    yield "a group alone", last(world("coaching"), "coaching", 1)
    yield "a group beside a number in no product", last(world("coaching, practice"), "coaching")
    yield (
        "a group beside its product",
        last(treated("coaching, practice; coaching*practice", ("practice", CENTERED)), "coaching"),
    )
    for name, coding in (
        ("effect", Effect()),
        ("weighted effect", WeightedEffect()),
        ("adjacent", Adjacent()),
        ("against later", AgainstMean(True)),
        ("against earlier", AgainstMean(False)),
        ("trends", Trends()),
        ("planned, named", Planned((Question("any coaching", ("mid", "top"), ("low",)),))),
        ("planned, unnamed", Planned((Question("", ("mid", "top"), ("low",)), Question("", ("top",), ("mid",))))),
        ("own weights", Planned((Question("slow rise", weights=(("low", -2.0), ("mid", 0.5), ("top", 1.5))),))),
    ):
        yield f"{name}, first", last(coded("coaching", coding), "coaching", 0)
        yield f"{name}, second", last(coded("coaching", coding), "coaching", 1)
        yield f"{name} in a slope", last(coded("practice, coaching; practice*coaching", coding), "practice*coaching", 0)
        yield f"{name}, a slope at its zero", last(coded("practice, coaching; practice*coaching", coding), "practice")
    means = set_coding(set_constant(world("coaching"), False), "coaching", LevelMeans())
    yield "level means", last(means, "coaching", 2)
    slopes = enter(means, [term("practice*coaching")])
    yield "a slope in each level", last(slopes, "practice*coaching", 1)
    yield "no intercept", read(means).coefficient(0, -1)


def products() -> Iterator[tuple[str, str]]:
    both = ("practice", CENTERED), ("worry", CENTERED)
    yield "number by number", last(treated("practice, worry; practice*worry", *both), "practice*worry")
    yield "number by number, raw", last(world("practice, worry; practice*worry"), "practice*worry")
    yield "a part of a raw product", last(world("practice, worry; practice*worry"), "practice")
    yield "a part of a centered product", last(treated("practice, worry; practice*worry", *both), "practice")
    yield (
        "centered at a value",
        last(treated("practice, worry; practice*worry", ("worry", Treatment(zero=At(3.0)))), "practice"),
    )
    yield (
        "centered at the median",
        last(treated("practice, worry; practice*worry", ("worry", Treatment(zero=Median()))), "practice"),
    )
    yield (
        "standardized by standardized",
        last(
            treated("practice, worry; practice*worry", ("practice", STANDARDIZED), ("worry", STANDARDIZED)),
            "practice*worry",
        ),
    )
    yield "number by group", last(world("practice, coaching; practice*coaching"), "practice*coaching", 1)
    yield "group by number", last(world("practice, returner; returner*practice"), "returner*practice")
    yield "group by group", last(world("coaching, returner; coaching*returner"), "coaching*returner", 0)
    yield (
        "three numbers",
        last(
            treated(
                "practice, worry, sleep; practice*worry, practice*sleep, worry*sleep; practice*worry*sleep",
                *both,
                ("sleep", CENTERED),
            ),
            "practice*worry*sleep",
        ),
    )
    three = "practice, worry, returner; practice*worry, practice*returner, worry*returner; practice*worry*returner"
    yield "two numbers and a group", last(treated(three, *both), "practice*worry*returner")
    yield (
        "number by two groups",
        last(
            world(
                "practice, coaching, returner; practice*coaching, practice*returner, coaching*returner; "
                "practice*coaching*returner"
            ),
            "practice*coaching*returner",
        ),
    )
    yield "a square", last(treated("practice; practice*practice", ("practice", CENTERED)), "practice*practice")
    yield "beside its square", last(treated("practice; practice*practice", ("practice", CENTERED)), "practice")
    yield "a square, raw", last(world("practice; practice*practice"), "practice")
    yield (
        "a number by a square",
        last(
            treated("practice, worry; practice*worry, worry*worry; practice*worry*worry", *both), "practice*worry*worry"
        ),
    )
    yield "a product without a part", last(world("practice; practice*worry"), "practice*worry")
    yield "a product without both parts", last(world("practice*coaching"), "practice*coaching")
    yield "a part absent, group fixed", last(world("coaching; practice*coaching"), "practice*coaching")


THREE = (
    "practice, coaching, returner; practice*coaching, practice*returner, coaching*returner; practice*coaching*returner"
)
CODINGS: tuple[tuple[str, Coding], ...] = (
    ("effect", Effect()),
    ("weighted effect", WeightedEffect()),
    ("adjacent", Adjacent()),
    ("against later", AgainstMean(True)),
    ("trends", Trends()),
    ("planned", Planned((Question("any coaching", ("mid", "top"), ("low",)), Question("", ("top",), ("mid",))))),
    ("own weights", Planned((Question("slow rise", weights=(("low", -2.0), ("mid", 0.5), ("top", 1.5))),))),
)


def deeper() -> Iterator[tuple[str, str]]:
    """Three-way, squared, standardized, without an intercept: by every coding."""
    for name, coding in CODINGS:
        yield (
            f"{name}, group by group",
            last(coded("coaching, returner; coaching*returner", coding), "coaching*returner"),
        )
        yield f"{name}, number by two groups", last(coded(THREE, coding), "practice*coaching*returner")
        yield (
            f"{name}, a square in it",
            last(
                coded("practice, coaching; practice*practice, practice*coaching; practice*practice*coaching", coding),
                "practice*practice*coaching",
            ),
        )
    both = set_coding(coded(THREE, Effect()), "returner", WeightedEffect())
    yield "effect by weighted effect", last(both, "coaching*returner")
    yield "effect by weighted effect in a slope", last(both, "practice*coaching*returner")
    yield "a slope beside both", last(both, "practice")
    three = "practice, worry, sleep; practice*worry, practice*sleep, worry*sleep; practice*worry*sleep"
    in_sds = [(name, STANDARDIZED) for name in ("practice", "worry", "sleep")]
    yield "three standardized", last(treated(three, *in_sds), "practice*worry*sleep")
    yield "a part of three standardized", last(treated(three, *in_sds), "practice*worry")
    squared = treated("practice; practice*practice", ("practice", STANDARDIZED))
    yield "a square, standardized", last(squared, "practice*practice")
    yield (
        "a cube",
        last(
            treated("practice; practice*practice; practice*practice*practice", ("practice", CENTERED)),
            "practice*practice*practice",
        ),
    )
    yield (
        "a square below its cube",
        last(
            treated("practice; practice*practice; practice*practice*practice", ("practice", CENTERED)),
            "practice*practice",
        ),
    )
    by_group = treated("practice, coaching; practice*coaching", ("practice", STANDARDIZED))
    curved = treated("practice, worry; practice*worry, worry*worry; practice*worry*worry", ("practice", CENTERED))
    yield "a product below its square", last(curved, "practice*worry")
    yield "standardized by group", last(by_group, "practice*coaching", 1)
    within = treated("practice, worry; practice*worry", ("practice", Treatment((), Mean(), OneSD())))
    yield "standardized beside raw", last(within, "practice*worry")
    bare = set_constant(world("practice, worry; practice*worry"), False)
    yield "no intercept, a slope", last(bare, "practice")
    yield "no intercept, a product", last(bare, "practice*worry")
    group = set_constant(world("coaching, practice; coaching*practice"), False)
    yield "no intercept, a group", last(group, "coaching", 1)
    yield "no intercept, a slope among groups", last(group, "practice")
    means = set_coding(set_constant(world("coaching, returner; coaching*returner"), False), "coaching", LevelMeans())
    yield "level means beside a group", last(means, "coaching")
    yield "level means beside their product", last(means, "coaching*returner", 2)
    for name, blocks in (
        ("by a number", "coaching; coaching*practice"),
        ("by a group", "coaching; coaching*returner"),
        ("by a product", "coaching; coaching*practice, coaching*worry; coaching*practice*worry"),
        ("by a number and a group", "coaching; coaching*practice, returner*coaching; practice*coaching*returner"),
    ):
        bare = set_coding(set_constant(world(blocks), False), "coaching", LevelMeans())
        yield f"level means {name}", last(bare, blocks.rsplit("; ", 1)[1], 2)
    for way in IntervalWay:
        drawn = set_errors(world("practice, coaching; practice*coaching"), Bootstrap(way, 1000, 5))
        yield f"bootstrap, {way}", last(drawn, "practice*coaching", 1)


def absences() -> Iterator[tuple[str, str]]:
    raw = noise_world(12)
    raw["twice"] = 2 * raw["x"]
    raw["sum"] = raw["x"] + raw["w"]
    raw["same"] = np.full(80, 3.0)
    study = study_of(raw, "y", "x; twice")
    yield "left out", last(study, "twice")
    yield "cannot be told apart", last(study, "x")
    yield "a sum", last(study_of(raw, "y", "x, w, sum"), "w")
    yield "constant", last(study_of(raw, "y", "x, same"), "same")
    yield "intercept beside a constant", read(study_of(raw, "y", "x, same")).coefficient(0, -1)
    cells = study_of({"s": list("mmmmff"), "t": list("xxzzxx"), "y": [1, 2, 5, 7, 4, 6]}, "y", "s, t; s*t")
    cells = set_reference(set_reference(cells, "s", "m"), "t", "x")
    yield "an empty cell", last(cells, "s*t")
    yield "beside an empty cell", last(cells, "s")
    perfect = study_of({"x": [1.0, 2, 3, 4, 5], "y": [3.0, 5, 7, 9, 11]}, "y", "x")
    yield "a perfect fit", last(perfect, "x")
    yield "intercept of a perfect fit", read(perfect).coefficient(0, -1)
    yield "block of a perfect fit", read(perfect).block(0)


def whole() -> Iterator[tuple[str, str]]:
    study = treated("practice, coaching; practice*coaching", ("practice", CENTERED))
    reader = read(study)
    yield "intercept", reader.coefficient(1, -1)
    yield "joint test of a group", reader.joint(0, term("coaching"))
    yield "joint test of a product", reader.joint(1, term("practice*coaching"))
    yield "first block", reader.block(0)
    yield "second block", reader.block(1)
    yield "HC3", last(set_errors(study, HC(3)), "practice")
    yield "clustered", last(set_errors(study, Cluster("returner")), "practice")
    yield "block without a constant", read(set_constant(world("practice"), False)).block(0)
    yield "99.9%", last(set_level(study, 0.999), "practice")
    raw = noise_world(13)
    raw["x"][[0, 1, 2]] = np.nan
    yield "cases", sample_sentence(evaluate(study_of(raw, "y", "x, w")))
    binary = study_of({"x": raw["w"], "y": (raw["w"] > 3) * 1.0}, "y", "x")
    yield "two-valued outcome", next(f.cost for f in flags_of(evaluate(binary)) if f.variable == "y")
    code = set_kind(study_of({**raw, "k": [1.0, 2.0] * 40}, "y", "w"), "k", Kind.NUMBER)
    code = enter(code, [term("k")])
    yield "a code", next(f.cost for f in flags_of(evaluate(code)) if f.variable == "k")


NO_REGIONS = Regions(RegionRule.POINTWISE, 0.0)


def effects() -> Iterator[tuple[str, str]]:
    def of(study: Study, probe: Probe) -> EffectReader:
        return EffectReader(study, probe_fit(study, fit_of(study), probe), 0)

    study = treated("practice, worry, coaching; practice*worry, practice*coaching", ("practice", CENTERED))
    along = of(study, Probe("practice", "worry"))
    yield "slope at a place", along.effect(0, along.probed.panels[0].foci[0].effects[0], along.probed.places[0])
    yield "crossing", along.crossing()
    yield "crossing set", along.crossing_set()
    yield "caption", probe_caption(along, 0)
    by = of(study, Probe("practice", "coaching"))
    yield "slope in a group", by.effect(0, by.probed.panels[0].foci[0].effects[2], by.probed.places[2])
    yield "difference of slopes", by.difference(0, by.probed.panels[0].foci[0].differences[0])
    swapped = of(study, Probe("coaching", "practice", pick=PickPoints(PickRule.QUARTILES)))
    yield (
        "difference at a place",
        swapped.effect(1, swapped.probed.panels[0].foci[1].effects[0], swapped.probed.places[0]),
    )
    held = of(study, Probe("practice", "worry", held=(("coaching", "top"),)))
    yield "held at a level", held.effect(0, held.probed.panels[0].foci[0].effects[1], held.probed.places[1])
    effect_coded = set_coding(world("coaching, practice; coaching*practice"), "coaching", Effect())
    coded_probe = of(effect_coded, Probe("coaching", "practice"))
    yield (
        "effect-coded difference",
        coded_probe.effect(0, coded_probe.probed.panels[0].foci[0].effects[1], coded_probe.probed.places[1]),
    )
    alone = of(world("practice, coaching"), Probe("practice", "practice"))
    yield "no product", alone.effect(0, alone.probed.panels[0].foci[0].effects[0], alone.probed.places[0])
    group_alone = of(world("practice, coaching"), Probe("coaching", "coaching"))
    yield (
        "a group without a product",
        group_alone.effect(1, group_alone.probed.panels[0].foci[1].effects[0], group_alone.probed.places[0]),
    )
    square = of(treated("practice; practice*practice", ("practice", CENTERED)), Probe("practice", "practice"))
    yield "a square probed", square.effect(0, square.probed.panels[0].foci[0].effects[2], square.probed.places[2])
    three = "practice, worry, returner; practice*worry, practice*returner, worry*returner; practice*worry*returner"
    second = of(world(three), Probe("practice", "worry", second=Second("returner")))
    yield "second moderator", second.effect(0, second.probed.panels[0].foci[0].effects[0], second.probed.places[0])
    fixed = of(world("coaching; practice*coaching"), Probe("practice", "coaching"))
    yield "fixed by the model", fixed.effect(0, fixed.probed.panels[0].foci[0].effects[0], fixed.probed.places[0])
    lone = study_of(
        {"g": list("aaaabbbbc"), "x": [1, 2, 3, 4] * 2 + [3], "y": [2, 3, 5, 4, 5, 5, 4, 3, 9]}, "y", "x, g; x*g"
    )
    lonely = of(set_coding(lone, "g", Dummy("a")), Probe("x", "g"))
    yield "one case in a group", lonely.effect(0, lonely.probed.panels[0].foci[0].effects[2], lonely.probed.places[2])
    yield "difference with one case in a group", lonely.difference(0, lonely.probed.panels[0].foci[0].differences[1])
    yield from panels(three)


def panels(three: str) -> Iterator[tuple[str, str]]:
    """What stands beside each panel is about it: its tests, its places, the cases of the groups that are compared."""

    def readers(study: Study, probe: Probe) -> list[EffectReader]:
        probed = probe_fit(study, fit_of(study), probe)
        return [EffectReader(study, probed, k) for k in range(len(probed.panels))]

    for read in readers(world(three), Probe("practice", "worry", second=Second("returner"))):
        yield f"tests of panel {read.panel + 1}", "; ".join(read.tests(0))
        yield f"caption of panel {read.panel + 1}", probe_caption(read, 0)
        yield f"title of panel {read.panel + 1}", read.picture_title(0)
    (apart, *_) = read.probed.across[0]
    yield "across both moderators", read.across(0, apart)
    held = world(
        "practice, worry, coaching; practice*worry, practice*coaching, worry*coaching; practice*worry*coaching"
    )
    (read,) = readers(held, Probe("practice", "worry", held=(("coaching", "low"),)))
    yield "tests held at a level", "; ".join(read.tests(0))
    (read,) = readers(held, Probe("coaching", "practice"))
    yield "tests of one comparison of several", "; ".join(read.tests(1))
    near = read.shown.foci[1].near
    yield "cases near of both groups", read.near(near[0])
    yield "cases of a region", "; ".join(read.near(r.cases) for r in (read.shown.foci[1].regions or NO_REGIONS).within)
    planned = Planned((Question("any", ("mid", "top"), ("low",)), Question("", ("top",), ("mid",))))
    (read,) = readers(set_coding(held, "coaching", planned), Probe("coaching", "practice"))
    yield "tests of planned questions", "; ".join(read.tests(0))
    (read,) = readers(world("practice; practice*practice"), Probe("practice", "practice"))
    yield "tests along itself", "; ".join(read.tests(0))
    both = world(
        "practice, coaching, returner; practice*coaching, practice*returner, coaching*returner; "
        "practice*coaching*returner"
    )
    fit = Reader(both, fit_of(both), both.model)
    yield "a set of two groups and a number", fit.joint(2, term("practice*coaching*returner"))


def of_codes(blocks: str) -> Study:
    """A table without a description: codes for groups, a sum of two columns, a mean far from zero."""
    raw, rng = noise_world(21), np.random.default_rng(21)
    columns = {
        "hours": raw["x"],
        "warm": raw["w"] * 10 + 1000,
        "total": raw["x"] + raw["w"] * 10 + 1000,
        "night": [str(v) for v in rng.integers(0, 2, 80)],
        "crew": [str(v) for v in rng.integers(1, 5, 80)],
        "calm": raw["y"],
    }
    return set_blocks(study_of(columns, "calm", "hours"), blocks_of(blocks))


def told(study: Study, *probes: Probe) -> Iterator[tuple[str, str]]:
    """All that is said of the last step and of the probes."""
    reader = read(study)
    at = len(reader.fit.steps) - 1
    for k, block in enumerate(study.model.steps):
        yield f"block {k + 1}", reader.block(k)
        for t in block.terms:
            for column in reader.fit.design.columns_of(t):
                yield "*".join(t.variables), reader.coefficient(at, column)
    for t in reader.fit.last.joint:
        yield f"{'*'.join(t.variables)} together", reader.joint(at, t)
    yield "constant", reader.coefficient(at, -1) if study.model.constant else "none"
    for probe in probes:
        probed = probe_fit(study, reader.fit, probe)
        found, by = EffectReader(study, probed, 0), f"{probe.focal} by {probe.moderator}"
        yield f"{by}, tests", "; ".join([*found.tests(0), found.caveat()])
        for k, focus in enumerate(probed.panels[0].foci[:2]):
            for effect, place in zip(focus.effects, probed.places):
                yield f"{by} {k + 1}", found.effect(k, effect, place)
            for difference in focus.differences[:2]:
                yield f"{by} {k + 1}, apart", found.difference(k, difference)
            yield f"{by} {k + 1}, crossing", f"{found.crossing()} {found.crossing_set()}".strip() or "none"


def combinations() -> Iterator[tuple[str, str]]:
    """Codes for names, tables without a part, level means, no intercept, dependent columns, ranks of a reversal."""
    both = Probe("hours", "night"), Probe("night", "hours")
    yield from told(of_codes("hours, night; hours*night"), *both)
    yield from told(of_codes("night; hours*night"), *both)
    yield from told(of_codes("hours, crew; hours*crew"), Probe("hours", "crew"))
    yield from told(set_coding(of_codes("crew"), "crew", AgainstMean(True)))
    yield from told(set_coding(set_constant(of_codes("crew; crew*hours"), False), "crew", LevelMeans()))
    yield from told(set_constant(of_codes("hours, warm; hours*warm"), False), Probe("hours", "warm"))
    yield from told(of_codes("hours, warm, total; hours*warm"), Probe("hours", "warm"))
    plain = of_codes("hours, night; hours*night")
    ranked = change_variable(plain, replace(plain.variable("hours"), limits=(-20.0, 40.0)))
    turned = Treatment((Transform.REVERSE, Transform.RANKS), Mean())
    yield from told(treat(ranked, ["hours"], turned), *both)
    three = of_codes("hours, warm, night; hours*warm, hours*night, warm*night; hours*warm*night")
    yield from told(three, Probe("hours", "warm", held=(("night", "1"),)))


def sentences() -> str:
    parts = (numbers, groups, products, deeper, absences, whole, effects, combinations)
    return "".join(f"{part.__name__}: {name}\n    {said}\n" for part in parts for name, said in part())


def test_sentences_are_those_that_were_read() -> None:
    now = sentences()
    if os.environ.get("YELLOW_SLOPE_WRITE"):
        GOLDEN.write_text(now)
    assert now == GOLDEN.read_text()
    assert now.count("\n") // 2 >= 280
    for line in now.splitlines():
        assert "nan" not in line.split()
        assert "−0.00 " not in line
