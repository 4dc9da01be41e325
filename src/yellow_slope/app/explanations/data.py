"""The current variable."""

from __future__ import annotations

from yellow_slope.app.explanations.link import Explanation, instruction
from yellow_slope.app.state.session import StudySession
from yellow_slope.core.data.variable import Kind
from yellow_slope.core.words.sentences.samples import summary_sentence
from yellow_slope.core.words.sentences.zeros import treated_sentence


def variable_explanation(session: StudySession) -> Explanation:
    """The current variable."""
    name, view = session.desk.variable, session.view
    if name is None or view is None or name not in {v.name for v in view.study.variables}:
        return instruction("Choose a variable to read about it", "")
    variable = view.study.variable(name)
    text = summary_sentence(view.study, view.evaluation, name)
    if variable.kind is Kind.NUMBER and name != view.study.model.outcome:
        text = f"{treated_sentence(view.study, view.fit, name)} {text}".strip()
    return Explanation(variable.label, str(variable.kind), text)
