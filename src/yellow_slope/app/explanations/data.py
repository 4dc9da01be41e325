"""The current variable."""

from __future__ import annotations

from yellow_slope.app.explanations.link import Explanation, instruction
from yellow_slope.app.state.session import StudySession
from yellow_slope.app.state.view import View
from yellow_slope.core.data.variable import Kind
from yellow_slope.core.words.names.quoted import spoken
from yellow_slope.core.words.sentences.samples import summary_sentence
from yellow_slope.core.words.sentences.zeros import MOST_TOGETHER, together_sentence, treated_sentence
from yellow_slope.core.words.spelling.numerals import listed_some


def variable_explanation(session: StudySession) -> Explanation:
    """The current variable, or all that are chosen."""
    name, view = session.desk.variable, session.view
    together = chosen_together(session)
    if view is not None and len(together) > 1:
        return _together(view, together)
    if name is None or view is None or name not in {v.name for v in view.study.variables}:
        return instruction("Choose a variable to read about it", "")
    variable = view.study.variable(name)
    study, treated = spoken(view.study), ""
    if variable.kind is Kind.NUMBER and name != study.model.outcome:
        treated = treated_sentence(study, view.fit, name)
    text = f"{treated} {summary_sentence(study, view.evaluation, name, says_use=not treated)}".strip()
    return Explanation(variable.label, str(variable.kind), text)


def chosen_together(session: StudySession) -> list[str]:
    """The variables that are chosen, where several are."""
    view = session.view
    known = {v.name for v in view.study.variables} if view is not None else set()
    names = [term.variables[0] for term in session.desk.chosen if len(term.variables) == 1]
    return names if len(names) > 1 and known.issuperset(names) else []


def _together(view: View, names: list[str]) -> Explanation:
    study = view.study
    numbers = [n for n in names if study.variable(n).kind is Kind.NUMBER and n != study.model.outcome]
    others = [n for n in names if n not in numbers]
    said = [together_sentence(study, view.fit, numbers)] if numbers else []
    if others:
        labels = [study.variable(n).label for n in others]
        said.append(f"{listed_some(labels, MOST_TOGETHER)} {'is' if len(others) == 1 else 'are'} chosen with them.")
    return Explanation(f"{len(names)} variables are chosen", "", " ".join(said), in_words=False)
