"""What an explanation is: title, figures, text, links."""

from __future__ import annotations

from collections.abc import Callable

from yellow_slope.values import dataclass


@dataclass(frozen=True, slots=True)
class Link:
    """Something to click in the foot."""

    text: str
    help: str
    run: Callable[[], object]


@dataclass(frozen=True, slots=True)
class Explanation:
    """Title, figures at the right, text, and links. `in_words`: whether the text puts a number into words."""

    title: str
    figures: str = ""
    text: str = ""
    links: tuple[Link, ...] = ()
    in_words: bool = True
    is_instruction: bool = False
    """Whether it only says what to do next: there is nothing to copy."""
    more: str = ""
    """What stands below the sentence, in softer ink: why it changed, what the model beside says."""


def instruction(title: str, text: str) -> Explanation:
    """What to do next; it puts no number into words."""
    return Explanation(title, "", text, (), in_words=False, is_instruction=True)
