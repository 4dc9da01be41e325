"""What has to be done before there is something to check, to probe or to report."""

from __future__ import annotations

from functools import partial

from yellow_slope.app.state.requests import Request, WriteLine
from yellow_slope.app.state.session import StudySession
from yellow_slope.app.widgets.nextsteps import NextStep
from yellow_slope.core.data.scanner import typed_name


def next_steps(session: StudySession, needs_product: bool = False) -> list[NextStep]:
    """The steps that are missing: an outcome, a model, and where it is needed a product; none where nothing is."""
    study = session.study
    type_it = partial(session.ask, WriteLine())
    typed = NextStep("Type a model", "Type the whole model in one line (Ctrl+L)", type_it)
    if not session.is_open:
        return []
    if study.model.outcome is None:
        choose = partial(session.ask, Request.CHOOSE_OUTCOME)
        return [NextStep("Choose an outcome", "Choose the variable that is to be explained", choose), typed]
    if not study.model.blocks:
        return [typed]
    products = [t for t in study.model.active_terms if t.is_product]
    if not needs_product or products:
        return []
    mains = [t for t in study.model.active_terms if len(t.variables) == 1]
    if len(mains) < 2:
        return [typed]
    one, other = (typed_name(study.variable(t.variables[0]), study.variables) for t in mains[-2:])
    line = partial(session.ask, WriteLine(f"{one} x {other}"))
    return [NextStep("Multiply two variables", f"Put “{one} x {other}” in the line, to be changed or entered", line)]
