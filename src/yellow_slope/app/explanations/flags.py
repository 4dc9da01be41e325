"""A flag in the foot: what it costs, what can be done about it, and those that were put aside."""

from __future__ import annotations

from functools import partial

from yellow_slope.app.explanations.link import Explanation, Link
from yellow_slope.app.state.session import StudySession
from yellow_slope.core.flags import Flag
from yellow_slope.core.study.edits.dismissals import dismiss, raise_again
from yellow_slope.core.study.flagkeys import FlagKey
from yellow_slope.core.study.whole import Edit


def flag_explanation(session: StudySession, flag: Flag) -> Explanation:
    """A flag: its cost in numbers and its remedies, once they have been computed."""
    if not flag.is_told:
        return Explanation(flag.title, "", "computing what it costs …", (), in_words=False)

    def remedy(text: str, edit: Edit, then: FlagKey | None) -> Link:
        def run() -> None:
            if session.edit(text[:1].lower() + text[1:], edit):
                session.look(flag=then)

        return Link(text, f"{text}; can be undone", run)

    links = [remedy(r.label, r.edit, r.then) for r in flag.remedies]
    return Explanation(flag.title, "", flag.cost, tuple(links), in_words=False)


def put_aside(session: StudySession, key: FlagKey, why: str) -> None:
    """Dismiss a flag with a reason."""
    session.edit("dismiss a flag", lambda s: dismiss(s, key, why))
    session.look(flag=None)


def dismissed_links(session: StudySession) -> list[Link]:
    """The flags that were put aside; a click raises one again."""
    view = session.view
    if view is None:
        return []
    return [
        Link(f"{flag.title} ({why})", "Show this flag again", partial(_raise_again, session, flag.key))
        for flag, why in view.dismissed
    ]


def _raise_again(session: StudySession, key: FlagKey) -> None:
    session.edit("show a flag again", lambda s: raise_again(s, key))
