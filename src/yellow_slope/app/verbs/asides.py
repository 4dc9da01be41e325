"""Cases set aside with a reason, and taken back, wherever they were chosen."""

from __future__ import annotations

from collections.abc import Sequence

from yellow_slope.app.state.session import StudySession
from yellow_slope.app.widgets.dialogs import Dialogs
from yellow_slope.core.study.edits.samples import set_aside, take_back
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.spelling.numerals import counted


def aside_rows(study: Study) -> set[int]:
    """The rows that the current model's sample has set aside."""
    sample = study.sample_of(study.model) if study.model.sample in {s.name for s in study.samples} else None
    return {row for aside in (sample.aside if sample is not None else ()) for row in aside.rows}


def ask_to_set_aside(session: StudySession, dialogs: Dialogs, rows: Sequence[int]) -> bool:
    """Set rows aside; the reason is asked for. Whether any was."""
    study = session.study
    if not rows:
        return False
    already = aside_rows(study)
    rows = [row for row in rows if row not in already]
    if not rows:
        session.say("These cases are set aside already.")
        return False
    which = f"case {rows[0] + 1}" if len(rows) == 1 else counted(len(rows), "case")
    sample = study.sample_of(study.model) if already else None
    last = sample.aside[-1].reason if sample is not None and sample.aside else ""
    question = f"Why is {which} set aside?" if len(rows) == 1 else f"Why are {which} set aside?"
    reason = dialogs.text("Set aside", question, last)
    if reason is None:
        return False
    if not reason.strip():
        session.say("Nothing was set aside. A reason is needed for the report.")
        return False
    return session.edit(f"set {which} aside", lambda s: set_aside(s, rows, reason.strip()))


def let_back(session: StudySession, rows: Sequence[int]) -> bool:
    """Let rows take part again. Whether any was set aside."""
    if session.edit("include cases again", lambda s: take_back(s, rows)):
        return True
    session.say("None of the chosen cases is set aside.")
    return False
