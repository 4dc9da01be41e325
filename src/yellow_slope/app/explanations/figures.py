"""The figure that is tuned, or the chosen part of it: what it is and what can be done with it."""

from __future__ import annotations

from typing import assert_never

from yellow_slope.app.explanations.link import Explanation, instruction
from yellow_slope.app.state.figured import Figured
from yellow_slope.app.state.session import StudySession
from yellow_slope.core.study.figures import AxisKey, LineKey, Role, TextKey
from yellow_slope.core.study.figuretext import size_name
from yellow_slope.core.words.spelling.letters import capital
from yellow_slope.plots.parts import PartRef, Thing


def figure_explanation(session: StudySession) -> Explanation:
    """The chosen part of the figure, else the figure."""
    found, desk = session.figured, session.desk
    if found is None or found.figure.name != desk.figure:
        return instruction("Figure", "The figure is drawn …")
    if found.parts is None or found.subject is None or desk.part is None:
        return _whole(found)
    name = found.parts.name(desk.part)
    return Explanation(capital(name), _size(found, desk.part), _help(found, desk.part), (), in_words=False)


def _whole(found: Figured) -> Explanation:
    figure = found.figure
    figures = f"{figure.look.name}, {size_name(figure.size)}"
    title = f"Figure “{figure.name}”"
    if found.subject is None or found.page is None:
        said = f"It cannot be drawn now: {found.refusal} Its tuning is kept; it is drawn again when it can be."
        return Explanation(title, figures, said, (), in_words=False)
    said = "Click on a part, or go from part to part with Tab, and change it in place; every change can be undone."
    return Explanation(title, figures, said, (), in_words=False, is_instruction=True)


def _size(found: Figured, part: PartRef) -> str:
    if not isinstance(part, TextKey) or found.parts is None:
        return ""
    text = found.parts.text(part)
    return (
        ""
        if text is None
        else f"{text.size:.1f}".removesuffix(".0") + f" pt, at {found.figure.size.width:.4g} cm width"
    )


def _help(found: Figured, part: PartRef) -> str:
    """What can be done with a part."""
    match part:
        case TextKey(role, line=line):
            said = "Type to change the words; drag it or use the arrow keys to move it; a double click puts it back."
            if role in (Role.LINE, Role.PANEL) and line is not None:
                code = "This is a code. " if line in found.codes else ""
                return f"{code}{said} The group itself keeps its name; with Ctrl+Enter it changes everywhere."
            return said
        case LineKey():
            return "Its name, hue, pattern, width and points; the same in every plot of this figure."
        case AxisKey():
            return (
                "Type where the axis begins, ends and has its ticks; an empty field "
                "is automatic. Cases beyond the ends are counted below."
            )
        case Thing.BANDS:
            return "The bands of the intervals: how strong they are, or none."
        case Thing.CASES:
            return "Cases as points, styled as the nearest line, or not at all."
        case Thing.REGION:
            return (
                "Where the effect is significant: shaded, hatched, a bar on the axis, or boundaries with values alone."
            )
        case Thing.KEY:
            return "The box of names: drag it, or put names at the ends of lines again."
        case Thing.GROUND:
            return "What belongs to the whole figure: a title, its background, where names are placed."
        case _:
            assert_never(part)
