"""What is asked at Checks, in words: the chosen rival, or the question that is shown."""

from __future__ import annotations

from functools import partial
from typing import assert_never

from yellow_slope.app.explanations.adopting import adopt_rival, adopted
from yellow_slope.app.explanations.link import Explanation, Link, instruction
from yellow_slope.app.state.session import StudySession
from yellow_slope.core.data.variable import Kind
from yellow_slope.core.stand.checked import Checked
from yellow_slope.core.stand.rivals import AnyOneOut, Form, OutcomeAs, can_be_adopted
from yellow_slope.core.stand.standing import Stand
from yellow_slope.core.study.checks import Check, FarBy
from yellow_slope.core.study.edits.checks import set_printed
from yellow_slope.core.study.edits.entries import treat
from yellow_slope.core.study.edits.models import set_errors
from yellow_slope.core.study.standarderrors import HC, Bootstrap, Classical, IntervalWay
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.treatment import AS_IS, CENTERED
from yellow_slope.core.study.whole import Edit
from yellow_slope.core.words.sentences.checks import as_spoken, check_title, left_bounds_sentence, remark
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
    return Explanation(check_title(check), "", remark(check, as_spoken(found), stand), links)


def _stand(session: StudySession, found: Checked, stand: Stand | None) -> Explanation:
    if stand is None:
        return instruction(
            "No product yet", "Enter a product at the waypoint Blocks, and its robustness checks appear here."
        )
    if stand.fit is not found.fit:
        return Explanation("Checking …", in_words=False)
    index, study = stand.index_of(session.desk.rival), found.study
    if index < 0:
        name = f"{asked_name(study, found.fit, stand.asked)}, in the model"
        return Explanation(name, figures_of(stand, stand.base), base_story(as_spoken(found).study, stand))
    row = stand.rows[index]
    links: tuple[Link, ...] = ()
    if can_be_adopted(row.rival) and not row.why:
        now, beside = (partial(adopt_rival, session, stand, row, keep) for keep in (False, True))
        links = (
            Link("Adopt", "Adopt it for the current model (Enter); undo reverts it", now),
            Link("Keep as a model", "A second model beside this one (Ctrl+Enter)", beside),
        )
    said = rival_story(as_spoken(found).study, found.fit, stand, row)
    if isinstance(row.rival, AnyOneOut):
        said = f"{said} {left_bounds_sentence(as_spoken(found))}".strip()
    return Explanation(rival_name(study, row.rival), figures_of(stand, row.standing), said, links)


def _print_link(session: StudySession, check: Check, study: Study) -> Link:
    """Print the plot in the report, or no longer."""
    printed = check in study.checks.printed

    def change() -> None:
        session.edit("print a check", lambda s: set_printed(s, check, not printed))

    if printed:
        return Link("Not into the report", "The report no longer prints this plot; its sentence stays", change)
    return Link("Into the report", "Print this plot in the report", change)


def _remedies(session: StudySession, check: Check, found: Checked) -> tuple[Link, ...]:
    """What helps, with one click: an edit, or a look at the cases."""
    study, errors = found.study, found.study.model.errors
    match check:
        case Check.SPREAD:
            help = "HC3 standard errors, which do not assume equal variance"
            if not isinstance(errors, Classical):
                return ()
            return (_link(session, "Robust errors", help, lambda s: set_errors(s, HC(3))),)
        case Check.NORMAL:
            links = []
            if not isinstance(errors, Bootstrap):
                way = Bootstrap(IntervalWay.PERCENTILE)
                help = "Intervals from resampled cases, which do not assume normal residuals"
                links.append(_link(session, "Resample", help, lambda s: set_errors(s, way)))
            if float(found.fit.y.min()) > 0 and found.asked is not None:
                product = found.asked.product
                help = "Model the log of the outcome, a computed variable; undo reverts it"
                links.append(_link(session, "Take the log", help, lambda s: adopted(s, OutcomeAs(Form.LOG), product)))
            return tuple(links)
        case Check.OVERLAP:
            help, names = "Center the numbers in products at their mean", uncentered(study)
            if not names:
                return ()
            return (_link(session, "Center", help, lambda s: treat(s, names, CENTERED)),)
        case Check.PULL | Check.FAR:
            far = found.far[FarBy.COOK if check is Check.PULL else FarBy.DISTANCE].cases
            rows = tuple(found.fit.cases.rows[far].tolist())
            look = partial(session.look, lit=rows)
            return (
                (Link("Look at them", "Select the cases beyond the cut-off and list them (B)", look),) if rows else ()
            )
        case Check.STAND | Check.STRAIGHT | Check.MOVES | Check.ORDER | Check.OWN:
            return ()
        case _:
            assert_never(check)


def _link(session: StudySession, text: str, help: str, edit: Edit) -> Link:
    return Link(text, help, partial(session.edit, text.lower(), edit))


def uncentered(study: Study) -> list[str]:
    """The numbers in products whose zero is where the file has it."""
    names: dict[str, None] = {}
    for term in study.model.active_terms:
        if term.is_product:
            for name in term.variables:
                if study.variable(name).kind is Kind.NUMBER and study.model.treatment(name) == AS_IS:
                    names[name] = None
    return list(names)
