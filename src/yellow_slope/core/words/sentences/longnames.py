"""Long names in the paragraphs of a report: in full where they stand first, in their short form after it."""

from __future__ import annotations

import re

from yellow_slope.core.data.variable import Variable
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.spelling.letters import CAPITAL, MOST_SIGNS, capital, sign_of
from yellow_slope.core.words.spelling.rich import Rich
from yellow_slope.values import replace

_SIGNS = re.compile(f"({CAPITAL})?([{sign_of(0)}-{sign_of(MOST_SIGNS - 1)}])")
BRIEF = 18
"""Letters of a name that stands often."""
LINKING = " a about after an and at before by during for from in of on or per that the to was were with "
"""Words that no short name ends with, each between spaces."""


class LongNames:
    """The labels of a study as they stand in the paragraphs of a report. Sentences are made of `study`, in which a sign
    stands for each long label; what is printed has the label in full the first time and its short name after it."""

    def __init__(self, study: Study, are_known: bool = False) -> None:
        """are_known: whether all of them were told before."""
        long = [v for v in study.variables if v.label != v.short][:MOST_SIGNS]
        long = [] if _SIGNS.search("".join(v.label for v in study.variables)) else long
        self._labels = {sign_of(i): v.label for i, v in enumerate(long)}
        self._brief = {sign_of(i): _brief(study, v) for i, v in enumerate(long)}
        self._known = set(self._labels) if are_known else set[str]()
        signs = {v.name: sign for v, sign in zip(long, self._labels)}
        variables = (replace(v, label=signs[v.name]) if v.name in signs else v for v in study.variables)
        self.study = replace(study, variables=tuple(variables)) if long else study

    def printed(self, text: Rich) -> Rich:
        """A paragraph with the labels in place of their signs."""
        return Rich(tuple(replace(run, text=self.printed_text(run.text)) for run in text.runs))

    def printed_text(self, text: str) -> str:
        """A text with the labels in place of their signs."""
        return _SIGNS.sub(self._one, text) if self._labels else text

    def _one(self, match: re.Match[str]) -> str:
        begins, sign = match.groups()
        if sign not in self._labels:
            return match.group()
        label = self._brief[sign] if sign in self._known else self._labels[sign]
        self._known.add(sign)
        return capital(label) if begins else label


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
