"""What is asked at Checks, in words: the chosen rival, or the question that is shown."""

from __future__ import annotations

from functools import partial

from yellow_slope.app.explanations.adopting import adopt_rival
from yellow_slope.app.explanations.link import Explanation, Link, instruction
from yellow_slope.app.state.session import StudySession
from yellow_slope.core.stand.checked import Checked
from yellow_slope.core.stand.rivals import AnyOneOut, can_be_adopted
from yellow_slope.core.stand.standing import Stand
from yellow_slope.core.study.checks import Check
from yellow_slope.core.study.edits.checks import set_printed
from yellow_slope.core.study.edits.entries import treat
from yellow_slope.core.study.edits.models import set_errors
from yellow_slope.core.study.standarderrors import HC, Bootstrap, Classical, IntervalWay
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.treatment import AS_IS, CENTERED
from yellow_slope.core.words.sentences.checks import left_bounds_sentence, question, remark
from yellow_slope.core.words.sentences.rivals import asked_name, base_story, figures_of, rival_name, rival_story


def checks_explanation(session: StudySession) -> Explanation:
    """The chosen rival's story, or what the question's figures say."""
    view = session.view
    if view is None or view.fit is None:
        return instruction("Nothing to check yet", "Enter a model at the waypoint Blocks.")
    found, stand, check = session.checked, session.stand, session.shown_check()
    if found is None or found.fit is not view.fit:
        return Explanation("Checking …", in_words=False)
    if session.desk.before_and_after:
        return Explanation("Before and after", "", session.before_and_after)
    if check is Check.STAND:
        return _stand(session, found, stand)
    links = (*_remedies(session, check, found), _print_link(session, check, found.study))
    return Explanation(question(check), "", remark(check, found, stand), links)


def _stand(session: StudySession, found: Checked, stand: Stand | None) -> Explanation:
    if stand is None:
        return instruction("No product yet", "Enter a product at the waypoint Blocks, and its rivals are asked here.")
    if stand.fit is not found.fit:
        return Explanation("Checking …", in_words=False)
    index, study = stand.index_of(session.desk.rival), found.study
    if index < 0:
        name = f"{asked_name(study, found.fit, stand.asked)}, as it stands"
        return Explanation(name, figures_of(stand, stand.base), base_story(study, stand))
    row = stand.rows[index]
    links: tuple[Link, ...] = ()
    if can_be_adopted(row.rival) and not row.why:
        now, beside = (partial(adopt_rival, session, stand, row, keep) for keep in (False, True))
        links = (
            Link("Adopt", "Take it in place of what is (Enter); one step takes it back", now),
            Link("Keep as a model", "A second model beside this one (Ctrl+Enter)", beside),
        )
    said = rival_story(study, found.fit, stand, row)
    if isinstance(row.rival, AnyOneOut):
        said = f"{said} {left_bounds_sentence(found)}".strip()
    return Explanation(rival_name(study, row.rival), figures_of(stand, row.standing), said, links)


def _print_link(session: StudySession, check: Check, study: Study) -> Link:
    """Print the plot in the report, or no longer."""
    printed = check in study.checks.printed

    def change() -> None:
        session.edit("print a question", lambda s: set_printed(s, check, not printed))

    if printed:
        return Link("Not into the report", "The report no longer prints this plot; its sentence stays", change)
    return Link("Into the report", "Print this plot in the report", change)


def _remedies(session: StudySession, check: Check, found: Checked) -> tuple[Link, ...]:
    """What helps, with one click."""
    study = found.study
    errors = study.model.errors
    if check is Check.SPREAD and isinstance(errors, Classical):
        run = lambda: session.edit("robust errors", lambda s: set_errors(s, HC(3)))  # noqa: E731
        return (Link("Robust errors", "HC3 standard errors, which hold where the spread is not even", run),)
    if check is Check.NORMAL and not isinstance(errors, Bootstrap):
        way = Bootstrap(IntervalWay.PERCENTILE)
        run = lambda: session.edit("resampled errors", lambda s: set_errors(s, way))  # noqa: E731
        return (Link("Resample", "Intervals from resampled cases, which do not assume normal residuals", run),)
    if check is Check.OVERLAP:
        names = uncentered(study)
        if names:
            run = lambda: session.edit("center", lambda s: treat(s, names, CENTERED))  # noqa: E731
            return (Link("Center", "Put zero of the numbers in products at their mean", run),)
    return ()


def uncentered(study: Study) -> list[str]:
    """The numbers in products whose zero is where the file has it."""
    names: dict[str, None] = {}
    for term in study.model.active_terms:
        if term.is_product:
            for name in term.variables:
                if study.variable(name).kind.name == "NUMBER" and study.model.treatment(name) == AS_IS:
                    names[name] = None
    return list(names)
