"""The handle, the chosen effect, or the whole set."""

from __future__ import annotations

from yellow_slope.app.explanations.link import Explanation, instruction
from yellow_slope.app.state.session import StudySession
from yellow_slope.core.fit.design.bases import GroupBasis, NumberBasis
from yellow_slope.core.probe.probing import Probed
from yellow_slope.core.words.sentences.coefficients import Reader
from yellow_slope.core.words.sentences.comparisons import effect_text
from yellow_slope.core.words.spelling.letters import capital
from yellow_slope.core.words.spelling.numerals import counted, place

MOST_GROUPS = 12
"""Of more groups the joint test is said, the others when they are chosen."""


def probe_explanation(session: StudySession) -> Explanation:
    """The handle, or the chosen row of the table; for a group moderator without a choice the whole set."""
    view, probed = session.view, session.probed()
    read = view.effects if view else None
    if probed is None or read is None or view is None:
        text = view.refusal if view and view.refusal else ""
        return instruction(
            "Nothing to probe yet", text or "Enter a product at the waypoint Blocks; its slopes appear here at once."
        )
    panel = probed.panels[min(session.desk.panel, len(probed.panels) - 1)]
    focus = min(session.desk.focus, len(panel.foci) - 1)
    found = panel.foci[focus]
    chosen = session.desk.place
    what = read.what(focus)
    if isinstance(probed.moderator, GroupBasis):
        n = len(found.effects)
        if chosen is None or chosen >= n + len(found.differences):
            return _set_of_effects(view.reader, session, what)
        if chosen < n:
            effect = found.effects[chosen]
            where = read.where(chosen)
            title = f"{what}: {read.place_name(chosen)}" if where else what
            return Explanation(title, effect_text(effect), read.effect(focus, effect, where))
        difference = found.differences[chosen - n]
        of, minus = read.place_name(difference.of), read.place_name(difference.minus)
        return Explanation(
            f"{what}: {of} minus {minus}", effect_text(difference.effect), read.difference(focus, difference)
        )
    assert found.curve is not None
    value = handle_value(session, probed)
    if chosen is not None and chosen < len(probed.places):
        value = probed.places[chosen].value
    effect = found.curve.at(value)
    at = place(value, probed.moderator.sd)
    level = found.curve.is_level
    title = what if level else f"{what} at {read.moderator_label} {at}"
    where = "" if level else read.at_value(value)
    return Explanation(title, effect_text(effect), read.effect(focus, effect, where))


def _set_of_effects(reader: Reader | None, session: StudySession, what: str) -> Explanation:
    """The interaction's test first, then differences before single slopes."""
    view, probed = session.view, session.probed()
    assert view is not None
    assert probed is not None
    read = view.effects
    assert read is not None
    assert reader is not None
    focus = min(session.desk.focus, len(probed.foci) - 1)
    found = probed.foci[focus]
    figures = f"interaction {reader.test_figures(probed.interaction).replace(', p', '    p')}"
    if len(found.effects) > MOST_GROUPS:
        text = f"{counted(len(found.effects), 'group')}: choose a row to read one of them."
        return Explanation(f"{what} by {read.moderator_label}", figures, text, (), in_words=False)
    if len(found.differences) > 1:
        known = [d for d in found.differences if d.effect.p == d.effect.p]
        largest = [min(known, key=lambda d: d.effect.p)] if known else []
        said = [f"{capital(what)} by {read.moderator_label}: {reader.test_figures(probed.interaction)}."]
        said += [read.difference(focus, d, held=False) for d in largest]
        said.append("Choose a row to read the others; p is not adjusted.")
    else:
        said = [read.difference(focus, d, held=False) for d in found.differences]
        said += [read.effect(focus, e, read.where(i), held=False) for i, e in enumerate(found.effects)]
    held = ", ".join(read.held())
    said.append(f"All {held}." if held else "")
    title = what if probed.by_itself else f"{what} by {read.moderator_label}"
    return Explanation(title, figures, " ".join(said).strip())


def handle_value(session: StudySession, probed: Probed) -> float:
    """Where the handle stands: where it was put, else at the mean."""
    assert isinstance(probed.moderator, NumberBasis)
    value = session.desk.handle
    if value is None:
        return probed.moderator.typical
    return min(probed.moderator.high, max(probed.moderator.low, value))
