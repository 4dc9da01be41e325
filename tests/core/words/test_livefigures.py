"""Live figures in somebody's own words: each is the figure that the report prints; what is gone is said."""

from __future__ import annotations

from tests.support.worlds import fit_of
from yellow_slope.core.fit.fitted.evaluate import evaluate
from yellow_slope.core.study.edits.blocks import take_out
from yellow_slope.core.study.edits.models import set_reported
from yellow_slope.core.study.edits.report import set_decimals
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Term
from yellow_slope.core.words.sentences.livefigures import gone_figures, live_figures, with_figures
from yellow_slope.core.words.spelling.numerals import bounded, fixed, interval, p_value


def test_figures_are_those_of_the_reported_step(demo: Study) -> None:
    evaluation, fit = evaluate(demo), fit_of(demo)
    j = next(j for j, c in enumerate(fit.design.columns) if c.term.key == ("practice", "worry"))
    c = fit.last.coefficient(j)
    told = with_figures(evaluation, "b = {b practice x worry}, {ci practice × worry}, p {P  practice X worry}; n = {n}")
    assert told == f"b = {fixed(c.b, 2)}, {interval(c.low, c.high, 2)}, p {p_value(c.p)}; n = 221"
    assert with_figures(evaluation, "{R2 of step 3} {change of step 2}") == (
        f"{bounded(fit.steps[2].r2, 2)} {bounded(fit.steps[1].change.r2, 2)}"
    )
    assert with_figures(evaluation, "{mean practice}") == f"{fit.values['practice'].mean():.2f}"
    joint = fit.last.joint[Term(("practice", "coaching"))]
    assert with_figures(evaluation, "F({df practice x coaching}) = {F practice x coaching}") == (
        f"F(3, 206) = {fixed(joint.f, 2)}"
    )
    first = evaluate(set_reported(demo, demo.model.steps[0].id))
    assert with_figures(first, "{b age}") == fixed(fit.steps[0].coefficient(0).b, 2)
    fine = evaluate(set_decimals(demo, 4))
    assert with_figures(fine, "{b age}") == fixed(fit.last.coefficient(0).b, 4)


def test_a_figure_that_is_gone_is_said_and_other_braces_stay(demo: Study) -> None:
    text = "{b practice x worry} and {once} and {"
    assert with_figures(evaluate(demo), "{once} and {") == "{once} and {"
    without = evaluate(take_out(demo, [Term(("practice", "worry"))]))
    assert with_figures(without, text) == "(there is no “b practice x worry”) and {once} and {"
    assert gone_figures(without, text) == ["b practice x worry"]
    assert gone_figures(evaluate(demo), text) == []
    nothing = evaluate(take_out(demo, demo.model.terms))
    assert gone_figures(nothing, text) == ["b practice x worry"]
    assert with_figures(nothing, "{n}").isdigit()


def test_every_figure_that_is_offered_can_be_asked_for(demo: Study) -> None:
    evaluation = evaluate(demo)
    offered = live_figures(evaluation)
    assert len(offered) > 100
    for name, value in offered.items():
        assert with_figures(evaluation, f"{{{name}}}") == value
