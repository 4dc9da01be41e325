"""Explanations: what the foot says of the thing that is looked at, and what can be done about it."""

from __future__ import annotations

from typing import assert_never

from yellow_slope.app.explanations.checks import checks_explanation
from yellow_slope.app.explanations.data import variable_explanation
from yellow_slope.app.explanations.figures import figure_explanation
from yellow_slope.app.explanations.flags import flag_explanation
from yellow_slope.app.explanations.ladder import ladder_explanation
from yellow_slope.app.explanations.link import Explanation
from yellow_slope.app.explanations.prepare import prepare_explanation
from yellow_slope.app.explanations.probe import probe_explanation
from yellow_slope.app.state.desk import Waypoint
from yellow_slope.app.state.session import StudySession
from yellow_slope.core.words.sentences.samples import sample_sentence


def explanation(session: StudySession) -> Explanation:
    """The explanation of what is looked at."""
    if session.view is None:
        return Explanation("")
    flag = session.flag(session.desk.flag)
    if flag is not None:
        return flag_explanation(session, flag)
    match session.desk.waypoint:
        case Waypoint.DATA:
            return variable_explanation(session)
        case Waypoint.PREPARE:
            return prepare_explanation(session)
        case Waypoint.BLOCKS:
            return ladder_explanation(session)
        case Waypoint.CHECKS:
            return checks_explanation(session)
        case Waypoint.PROBE:
            return probe_explanation(session)
        case Waypoint.REPORT if session.desk.figure is not None:
            return figure_explanation(session)
        case Waypoint.REPORT:
            return Explanation("Report", "", sample_sentence(session.view.evaluation), (), in_words=False)
        case _:
            assert_never(session.desk.waypoint)
