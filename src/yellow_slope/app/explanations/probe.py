"""The handle, the chosen effect, or the whole set."""

from __future__ import annotations

from math import isnan

from yellow_slope.app.explanations.link import Explanation, instruction
from yellow_slope.app.state.session import StudySession
from yellow_slope.core.data.variable import by_name
from yellow_slope.core.fit.design.bases import NumberBasis
from yellow_slope.core.probe.places import Everywhere, NumberPlace, Point
from yellow_slope.core.probe.probed import Difference
from yellow_slope.core.probe.seen import Across, Apart, AtPlace, Sight
from yellow_slope.core.words.sentences.comparisons import effect_text
from yellow_slope.core.words.sentences.effects import EffectReader
from yellow_slope.core.words.sentences.probecard import few_boundaries
from yellow_slope.core.words.spelling.letters import capital
from yellow_slope.core.words.spelling.numerals import counted, p_equals, place

MOST_GROUPS = 12
"""Of more groups the joint test is said, the others when they are chosen."""


def probe_explanation(session: StudySession) -> Explanation:
    """The handle, or the chosen row of the table; for a group moderator without a choice the whole set."""
    sight, read = session.sight(), session.effects()
    if sight is None or read is None:
        text = session.view.refusal if session.view is not None else ""
        return instruction(
            "Nothing to probe yet", text or "Enter a product at the waypoint Blocks; its slopes appear here at once."
        )
    if isinstance(sight.probed.moderator, NumberBasis):
        return _along(sight, read)
    focus, found = sight.seen.focus, sight.focus
    what = read.spoken.what(focus)
    match sight.seen.place:
        case AtPlace(index):
            effect, at = found.effects[index], sight.probed.places[index]
            title = what if isinstance(at, Everywhere) else f"{what}: {read.place_name(index)}"
            return Explanation(
                title, effect_text(effect), read.spoken.effect(focus, effect, at), more=_cases(sight, read, index)
            )
        case Apart(index):
            difference = found.differences[index]
            title = f"{what}: {read.place_name(difference.of)} minus {read.place_name(difference.minus)}"
            more = adjusted_p(difference, len(found.differences))
            return Explanation(
                title, effect_text(difference.effect), read.spoken.difference(focus, difference), more=more
            )
        case Across(index):
            return _across(sight, read, index)
    return _whole(sight, read)


def _along(sight: Sight, read: EffectReader) -> Explanation:
    """The effect at the handle, or at the chosen pick point."""
    focus, found = sight.seen.focus, sight.focus
    assert found.curve is not None
    assert isinstance(sight.probed.moderator, NumberBasis)
    if isinstance(sight.seen.place, Across):
        return _across(sight, read, sight.seen.place.index)
    curve = sight.curve or found.curve
    what, effect = read.spoken.what(focus), curve.at(sight.value)
    if curve.is_level:
        return Explanation(what, effect_text(effect), read.spoken.effect(focus, effect, Everywhere(sight.value)))
    at = place(sight.value, sight.probed.moderator.sd)
    notes = [few_boundaries(sight), read.spoken.outside(focus)]
    near = " ".join([f"Cases near: {read.near(sight.near())}.", *(f"{capital(note)}." for note in notes if note)])
    return Explanation(
        ", ".join(text for text in (f"{what} at {read.spoken.along} {at}", read.second_name()) if text),
        effect_text(effect),
        read.spoken.effect(focus, effect, NumberPlace(sight.value, Point.OWN)),
        more=near,
    )


def _across(sight: Sight, read: EffectReader, index: int) -> Explanation:
    """A difference between places of both moderators."""
    focus, family = sight.seen.focus, sight.probed.across[sight.seen.focus]
    found = family[index]
    title = f"{read.spoken.what(focus)}: {read.spot_name(found.of)} minus {read.spot_name(found.minus)}"
    adjusted = f"Adjusted for {counted(len(family), 'difference')} by Holm: {p_equals(found.p_holm)}."
    return Explanation(title, effect_text(found.effect), read.spoken.across(focus, found), more=adjusted)


def _cases(sight: Sight, read: EffectReader, index: int) -> str:
    return f"Cases: {read.near(sight.focus.near[index])}."


def adjusted_p(found: Difference, n: int) -> str:
    """Holm's p of a difference that is one of several; empty where they are one and the same test."""
    return "" if isnan(found.p_holm) else f"Adjusted for {counted(n, 'difference')} by Holm: {p_equals(found.p_holm)}."


def _whole(sight: Sight, read: EffectReader) -> Explanation:
    """The test of what is seen first, then differences before single slopes."""
    probed, focus, found = sight.probed, sight.seen.focus, sight.focus
    nearest, *others = probed.tests(sight.seen.panel, focus)
    figures = read.test_text(nearest, focus)
    more = "; ".join(read.test_text(tested, focus) for tested in others)
    what = read.spoken.what(focus)
    title = what if probed.by_itself else f"{what} {by_name(read.spoken.moderator_label)}"
    if len(found.effects) > MOST_GROUPS:
        text = f"{counted(len(found.effects), 'group')}: choose a row to read one of them."
        return Explanation(title, figures, text, (), in_words=False, more=more)
    if len(found.differences) > 1:
        known = [d for d in found.differences if d.effect.p == d.effect.p]
        said = []
        if known:
            clearest, n = min(known, key=lambda d: d.effect.p), counted(len(found.differences), "difference")
            said = [read.spoken.difference(focus, clearest, held=False), f"Of {n} this one has the smallest p."]
            said.append(adjusted_p(clearest, len(found.differences)))
        said.append("Choose a row to read the others.")
    else:
        said = [read.spoken.difference(focus, d, held=False) for d in found.differences]
        said += [read.spoken.effect(focus, e, at, held=False) for at, e in zip(probed.places, found.effects)]
    held = ", ".join(read.spoken.held())
    said += [f"All {held}." if held else "", read.spoken.caveat()]
    return Explanation(title, figures, " ".join(text for text in said if text), more=f"{more}." if more else "")
