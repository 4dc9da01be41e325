"""What the residuals look like."""

from __future__ import annotations

from yellow_slope.app.explanations.link import Explanation, instruction
from yellow_slope.app.state.session import StudySession


def checks_explanation(session: StudySession) -> Explanation:
    """What the residuals look like in words, once they have been computed."""
    view = session.view
    read = view.reader if view else None
    if read is None:
        return instruction("Nothing to check yet", "Enter a model at the waypoint Blocks.")
    step = session.desk.step(read.model)
    return Explanation(f"Residuals of step {step + 1}", read.whole(step), session.residuals)
