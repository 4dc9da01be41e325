"""A study is always whole: what an edit leaves without a footing falls back or goes, is said, and the file opens
again."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
import pytest

from tests.support.worlds import noise_world, study_of, term
from yellow_slope.core.data.conditions import Is
from yellow_slope.core.data.variable import Kind
from yellow_slope.core.fit.fitted.evaluate import evaluate
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.flags import raised_flags
from yellow_slope.core.probe.asking import asked_probes
from yellow_slope.core.study.coding import Dummy, Planned, Question
from yellow_slope.core.study.edits.blocks import enter, set_outcome, switch_block, take_out
from yellow_slope.core.study.edits.computed import derive, remove_derived
from yellow_slope.core.study.edits.descriptions import declare_missing
from yellow_slope.core.study.edits.dismissals import dismiss
from yellow_slope.core.study.edits.entries import set_coding
from yellow_slope.core.study.edits.kinds import set_kind
from yellow_slope.core.study.edits.models import keep_model, make_current, set_errors, throw_away_model
from yellow_slope.core.study.edits.probes import put_probe
from yellow_slope.core.study.edits.samples import new_sample, remove_sample, set_sample
from yellow_slope.core.study.flagkeys import FlagKey, FlagKind
from yellow_slope.core.study.probe import Probe, Second
from yellow_slope.core.study.standarderrors import Bootstrap, Classical, Cluster
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.whole import whole
from yellow_slope.core.words.sentences.effects import EffectReader
from yellow_slope.core.words.sentences.figures import probe_caption
from yellow_slope.core.words.sentences.gone import gone_sentence
from yellow_slope.files.study.studyfile import packed, unpacked
from yellow_slope.report.parts import build_report, probes_of
from yellow_slope.values import replace

Change = Callable[[Study], Study]


def world() -> Study:
    """Two numbers, groups of three and two, ids, and all products of the first."""
    columns = noise_world(31)
    n = len(columns["y"])
    return study_of(
        {**columns, "x2": np.arange(float(n)) % 7, "team": [f"t{i % 9}" for i in range(n)]},
        "y",
        "x, w, g, d; x*g, x*w; x*w*g",
    )


def holds(study: Study) -> Study:
    """The study, evaluated, flagged, probed, reported, and opened again equal."""
    assert whole(study) == (study, ())
    evaluation = evaluate(study)
    raised_flags(evaluation)
    if isinstance(evaluation.fit, Fit):
        for probed in probes_of(evaluation):
            probe_caption(EffectReader(evaluation.study, probed, 0), 0)
    build_report(evaluation)
    again = unpacked(packed(replace(study, went=())), "again")
    assert again.went == ()
    for part in ("models", "samples", "probes", "dismissals", "pinned", "derived", "variables"):
        assert getattr(again, part) == getattr(study, part), part
    return study


def as_text(study: Study) -> Study:
    return set_kind(study, "w", Kind.TEXT)


def kept_then(change: Change) -> Change:
    """Keep the model, take what it holds out of the current one, then change."""

    def made(study: Study) -> Study:
        study = keep_model(study, "with all")
        return change(take_out(study, [t for t in study.model.terms if "w" in t.variables]))

    return made


def squared_then_groups(study: Study) -> Study:
    columns = noise_world(31)
    rng = np.random.default_rng(2)
    study = study_of({**columns, "s": rng.integers(1, 5, len(columns["y"])).astype(float)}, "y", "x, s, s*s")
    study = take_out(keep_model(study, "squares"), [term("s"), term("s*s")])
    return set_kind(study, "s", Kind.GROUP)


def clusters_of_computed(study: Study) -> Study:
    study = derive(study, "half", "x + w")
    return remove_derived(set_errors(study, Cluster("half")), "half")


@pytest.mark.parametrize(
    ("change", "said"),
    [
        (
            kept_then(as_text),
            "This also removed w (in “with all”), x × w (in “with all”) and x × w × g (in “with all”).",
        ),
        (
            lambda s: declare_missing(set_coding(s, "g", Dummy("low")), ["g"], "low"),
            "This also removed the choice of “low” in g.",
        ),
        (
            lambda s: declare_missing(put_probe(s, Probe("x", "w", held=(("g", "mid"),))), ["g"], "mid"),
            "This also removed the place where a probe held g.",
        ),
        (
            lambda s: declare_missing(
                set_coding(s, "g", Planned((Question("", ("low",), ("mid", "top")),))), ["g"], "top"
            ),
            "This also removed “top” in a question about g.",
        ),
        (
            lambda s: declare_missing(set_coding(s, "g", Planned((Question("", ("low",), ("mid",)),))), ["g"], "mid"),
            "This also removed a question about g.",
        ),
        (squared_then_groups, "This also removed s² (in “squares”)."),
        (clusters_of_computed, "This also removed errors clustered by half."),
        (kept_then(lambda s: set_kind(set_outcome(s, "x2"), "y", Kind.TEXT)), "the outcome y (in “with all”)"),
        (
            lambda s: take_out(put_probe(s, Probe("x", "g", second=Second("w"))), [term("x*w"), term("x*w*g")]),
            "This also removed w as a second moderator.",
        ),
        (
            lambda s: take_out(put_probe(s, Probe("w", "g")), [t for t in s.model.terms if "w" in t.variables]),
            "This also removed the probe of w along g.",
        ),
        (lambda s: set_kind(set_sample(new_sample(s, "low ones", Is("g", "low")), "low ones"), "g", Kind.TEXT), ""),
        (
            lambda s: take_out(dismiss(s, FlagKey.of(FlagKind.ZERO, ("x",)), "known"), list(s.model.terms)),
            "This also removed a remark that was dismissed about x.",
        ),
    ],
)
def test_what_has_no_footing_left_goes_and_is_said(change: Change, said: str) -> None:
    study = change(world())
    holds(study)
    heard = gone_sentence(study, study.went)
    if said:
        assert said in heard
    else:
        assert heard.startswith("This also removed ")


def test_a_step_that_is_switched_off_gives_way_and_comes_back() -> None:
    study = world()
    study = put_probe(study, Probe("x", "w", step=study.model.blocks[2].id))
    off = holds(switch_block(study, 2, False))
    (probe,) = asked_probes(off, None)
    assert evaluate(off).fit is not None
    assert probe.step == study.model.blocks[2].id, "a choice of a block that is only switched off is kept"
    on = holds(switch_block(off, 2, True))
    assert on.probes == study.probes


def test_a_held_variable_that_leaves_the_model_is_held_no_longer() -> None:
    study = put_probe(world(), Probe("x", "w", held=(("g", "mid"),)))
    without = holds(take_out(study, [t for t in study.model.terms if "g" in t.variables]))
    assert without.probes[0].held == ()
    assert isinstance(evaluate(without).fit, Fit)


def test_errors_by_resampled_clusters_fall_back_to_cases() -> None:
    study = derive(world(), "half", "x + w")
    study = set_errors(study, Bootstrap(cluster="half"))
    assert holds(remove_derived(study, "half")).model.errors == Bootstrap()
    clustered = set_errors(derive(world(), "half", "x + w"), Cluster("half"))
    assert holds(remove_derived(clustered, "half")).model.errors == Classical()


def test_what_names_a_model_goes_with_it() -> None:
    study = keep_model(world(), "first")
    kept = next(m for m in study.models if m.id != study.current)
    study = put_probe(study, Probe("x", "w", model=kept.id))
    gone = holds(throw_away_model(study, kept.id))
    assert all(probe.model is None for probe in gone.probes)
    assert "the probe of x along w" in gone_sentence(gone, gone.went)


def test_what_names_a_sample_falls_back_to_all_cases() -> None:
    study = set_sample(new_sample(world(), "low ones", Is("g", "low")), "low ones")
    study = keep_model(study, "of the low")
    back = holds(remove_sample(study, "low ones"))
    assert all(model.sample is None for model in back.models)


def test_a_whole_study_is_not_touched() -> None:
    study = put_probe(world(), Probe("x", "g"))
    same, went = whole(study)
    assert same is study
    assert went == ()
    assert make_current(study, study.current).went == ()
    assert enter(study, [term("team")]).went == ()


def test_a_group_is_a_number_only_as_long_as_it_is_an_outcome() -> None:
    """In one model or several, kept or thrown away, saved or not, until somebody says that it is a number."""
    n = 40
    columns = {"night": np.arange(n) % 2, "mood": np.arange(float(n)) * 1.5 % 11, "hours": np.arange(float(n)) % 7}
    study = study_of(columns, "mood", "hours")
    assert study.variable("night").kind is Kind.GROUP
    explained = set_outcome(study, "night")
    assert explained.variable("night").kind is Kind.NUMBER
    again = unpacked(packed(explained), "s.yslope")
    assert (again.variables, again.models) == (explained.variables, explained.models)
    for one in (explained, again):
        back = set_outcome(one, "mood")
        assert back.variable("night") == study.variable("night")
        assert gone_sentence(back, back.went) == "night is a group again."
        holds(replace(back, went=()))
    two = keep_model(explained, "two")
    other = set_outcome(two, "mood")
    assert other.variable("night").kind is Kind.NUMBER, "another model explains it"
    holds(replace(other, went=()))
    kept = next(model.id for model in other.models if model.outcome == "night")
    assert throw_away_model(other, kept).variable("night").kind is Kind.GROUP
    chosen = set_outcome(set_kind(set_kind(explained, "night", Kind.NUMBER), "night", Kind.NUMBER), "mood")
    assert chosen.variable("night").kind is Kind.NUMBER
    made = set_outcome(set_outcome(set_kind(study, "night", Kind.NUMBER), "night"), "mood")
    assert made.variable("night").kind is Kind.NUMBER, "it was a number before"
