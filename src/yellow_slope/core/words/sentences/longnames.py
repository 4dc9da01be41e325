"""Long names in the paragraphs of a report: in full where they stand first, in their short form after it."""

from __future__ import annotations

import re

from yellow_slope.core.data.variable import Variable
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.spelling.letters import capital
from yellow_slope.core.words.spelling.rich import Rich
from yellow_slope.values import replace

BRIEF = 18
"""Letters of a name that stands often."""
LINKING = " a about after an and at before by during for from in of on or per that the to was were with "
"""Words that no short name ends with, each between spaces."""


def long_names_once(study: Study, paragraphs: list[Rich]) -> list[Rich]:
    """A long label in full where it stands first, the short name after it."""
    names = _LongNames(study)
    return [Rich(tuple(replace(run, text=names.shortened(run.text)) for run in one.runs)) for one in paragraphs]


def with_short_names(study: Study, text: str) -> str:
    """A text that follows the findings: every long name by its short one."""
    return _LongNames(study, are_known=True).shortened(text)


class _LongNames:
    """The long labels of a study, those that were told already among them. Of labels that stand in each other the
    longest is meant."""

    def __init__(self, study: Study, are_known: bool = False) -> None:
        long = sorted((v for v in study.variables if v.label != v.short), key=lambda v: len(v.label))
        self._brief = {v.label.casefold(): _brief(study, v) for v in long}
        self._labels = {v.label.casefold(): v.label for v in long}
        self._known = set(self._brief) if are_known else set[str]()
        every = "|".join(re.escape(v.label) for v in reversed(long))
        self._pattern = re.compile(rf"(?<!\w)(?:{every})(?!\w)", re.IGNORECASE) if long else None

    def shortened(self, text: str) -> str:
        """The text with each label by its short name, but for the first where it is not known yet."""
        return self._pattern.sub(self._one, text) if self._pattern is not None else text

    def _one(self, match: re.Match[str]) -> str:
        key = match.group().casefold()
        if key not in self._known:
            self._known.add(key)
            return match.group()
        short = self._brief.get(key, match.group())
        begins = match.group()[:1].isupper() and not self._labels.get(key, "A")[:1].isupper()
        return capital(short) if begins else short


def _brief(study: Study, variable: Variable) -> str:
    """A variable's own short name; without one the first words of its label, where these are of no other."""
    if variable.short_label:
        return variable.short
    in_quotes = variable.label.startswith("“") and variable.label.endswith("”")
    words = variable.label.strip("“”").split() if in_quotes else variable.label.split()
    while words and (len(_joined(words)) > BRIEF or f" {words[-1].lower()} " in LINKING or _is_open(words)):
        words.pop()
    found = f"“{_joined(words)}”" if in_quotes and words else _joined(words)
    others = [v.label for v in study.variables if v.name != variable.name]
    begins = found.rstrip("”").lower()
    return found if found and not any(other.lower().startswith(begins) for other in others) else variable.short


def _joined(words: list[str]) -> str:
    """The words without what separates them from what followed."""
    return " ".join(words).rstrip(",;:–—- ")


def _is_open(words: list[str]) -> bool:
    """Whether a bracket is opened and not closed, or nothing but a sign would stand at the end."""
    text = " ".join(words)
    return any(text.count(a) != text.count(b) for a, b in ("()", "[]", "“”")) or not any(c.isalnum() for c in words[-1])
