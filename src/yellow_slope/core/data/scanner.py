"""Reading typed lines: names, numbers, words and quoted texts, with the place of a mistake."""

from __future__ import annotations

import difflib
import re
from collections import deque
from collections.abc import Callable, Iterable
from datetime import date
from functools import lru_cache

from yellow_slope.core.data.variable import Kind, Variable
from yellow_slope.core.errors import StudyError
from yellow_slope.values import dataclass

QUOTES = {"“": "”", '"': '"', "'": "'", "„": "“", "«": "»"}
_NUMBER = re.compile(r"[-−+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+−]?\d+)?")
_WORDS = re.compile(r"[^\s,;=×()+*/<>\[\]“”\"²³.…]+(?:\s+[^\s,;=×()+*/<>\[\]“”\"²³.…]+)+")
_DATE = re.compile(r"(\d{4})-(\d\d)-(\d\d)(?:[ T](\d\d):(\d\d)(?::(\d\d))?)?")
_WORD = re.compile(r"[^\s,;=×()+*/<>\[\]“”\"²³]*")
ENDS = " \t,;=×().…+-*/−<>²³"
"""What may stand right after a name."""


@dataclass(frozen=True, slots=True)
class Mistake:
    """What is wrong with a typed line, and at which character."""

    position: int
    length: int
    message: str


SHOWN, REPEATED = 120, 40
"""Characters of a line in a refusal, and of the part that is refused."""
MOST_COMPARED = 2000
"""Names among which the nearest is looked for; it is done at every key."""


def repeated(typed: str) -> str:
    """What was typed, in quotes; of much its beginning."""
    return f"“{typed}”" if len(typed) <= REPEATED else f"“{typed[:REPEATED]} …”"


DEEPEST = 40
"""So deep parentheses may stand in each other; typed lines, stored ones and the JSON of study files share the bound."""


class Stop(Exception):
    """Reading ends here, for a reason."""

    def __init__(self, position: int, length: int, message: str) -> None:
        self.mistake = Mistake(position, max(1, length), message)

    def as_error(self, line: str) -> StudyError:
        """The mistake as a refusal that names line and place; of a long line what stands around it."""
        at = self.mistake.position
        begin, end = max(0, at - SHOWN // 2), at + SHOWN // 2
        shown = (
            f"{'…' if begin else ''}{line[begin:end]}{'…' if end < len(line) else ''}" if len(line) > SHOWN else line
        )
        return StudyError(f"“{shown}”, character {at + 1}: {self.mistake.message}")


IsNumeric = Callable[[str], bool]


@dataclass(frozen=True, slots=True, eq=False)
class _Names:
    """What variables may be called. It is made once for a table: a line is read at every key."""

    variables: tuple[Variable, ...]
    longest_first: list[tuple[str, Variable]]
    owners: dict[str, set[str]]
    """By what may be typed, the columns that it may be."""
    columns: dict[str, Variable]
    """By the column's own name."""
    longest: int
    """Letters of the longest column's name."""

    @classmethod
    def of(cls, variables: Iterable[Variable]) -> _Names:
        """Those of these variables; of those that were asked for lately they are known."""
        here = variables if isinstance(variables, tuple) else tuple(variables)
        known = next((one for one in tuple(_KNOWN) if _are_same(one.variables, here)), None)
        if known is not None:
            return known
        names: list[tuple[str, Variable]] = []
        owners: dict[str, set[str]] = {}
        for variable in here:
            for text in dict.fromkeys((variable.name, variable.label, variable.short_label)):
                if text:
                    names.append((text.casefold(), variable))
                    owners.setdefault(text.casefold(), set()).add(variable.name)
        names.sort(key=lambda pair: -len(pair[0]))
        columns = {variable.name: variable for variable in here}
        found = cls(here, names, owners, columns, max(map(len, columns), default=0))
        _KNOWN.append(found)
        return found


def _are_same(one: tuple[Variable, ...], other: tuple[Variable, ...]) -> bool:
    """Whether they hold the very same variables."""
    return one is other or (len(one) == len(other) and all(a is b for a, b in zip(one, other)))


_KNOWN: deque[_Names] = deque(maxlen=4)
MOST_AHEAD = 256
"""Letters beyond the longest name in which a phrase, or what ends a name, is looked for."""
_BLANK = re.compile(r"\s*")


@lru_cache(maxsize=4096)
def _phrase(phrase: str) -> tuple[str, re.Pattern[str]]:
    """The first word of a phrase, and how the whole is looked for: in whole words, with any blanks between them."""
    words = phrase.casefold().split()
    return words[0], re.compile(r"\s+".join(re.escape(word) for word in words) + r"(?=[\s,;=×()+*/<>“\"-]|$)")


class Scanner:
    """A line and a place in it."""

    def __init__(
        self, line: str, variables: Iterable[Variable], stored: bool = False, is_numeric: IsNumeric | None = None
    ) -> None:
        """stored: the line was written by the program and was right when it was; kinds and levels may have changed
        since.

        is_numeric: whether the column of a variable holds numbers; without it the kind tells.
        """
        self.line, self.at, self.stored, self._is_numeric = line, 0, stored, is_numeric
        self.operations = 0
        """How many operations an expression has so far."""
        known = _Names.of(variables)
        self.variables, self.names = known.variables, known.longest_first
        self.columns, self.longest = known.columns, known.longest

    def holds_texts(self, variable: Variable) -> bool:
        """Whether a variable has no numbers that could be computed with or compared."""
        if self._is_numeric is not None:
            return not self._is_numeric(variable.name)
        if variable.kind is not Kind.GROUP:
            return variable.kind is Kind.TEXT
        try:
            return not all(float(code) == float(code) for level in variable.levels for code in level.codes)
        except ValueError:
            return True

    # ---- marks and words

    def skip(self) -> None:
        """Past what is blank."""
        while self.at < len(self.line) and self.line[self.at].isspace():
            self.at += 1

    def _ahead(self, letters: int) -> str:
        """The next letters, in the form in which names are compared: no more of a long line than can matter."""
        return self.line[self.at : self.at + letters].casefold()

    @property
    def is_done(self) -> bool:
        """Whether nothing is left."""
        at = _BLANK.match(self.line, self.at)
        return at is not None and at.end() == len(self.line)

    def take(self, *marks: str) -> str:
        """The first of the marks that stands here, taken; else nothing."""
        self.skip()
        for mark in marks:
            if self.line.startswith(mark, self.at):
                self.at += len(mark)
                return mark
        return ""

    def take_phrase(self, *phrases: str) -> str:
        """The first of the phrases that stands here in whole words, taken; else nothing."""
        self.skip()
        rest = self._ahead(MOST_AHEAD)
        for phrase in phrases:
            first, pattern = _phrase(phrase)
            found = pattern.match(rest) if rest.startswith(first) else None
            if found:
                self.at += found.end()
                return phrase
        return ""

    def sees_phrase(self, *phrases: str) -> bool:
        """Whether one of the phrases stands here; nothing is taken."""
        before = self.at
        found = bool(self.take_phrase(*phrases))
        self.at = before
        return found

    def word(self) -> str:
        """What stands here up to the next blank or mark; nothing is taken."""
        self.skip()
        found = _WORD.match(self.line, self.at)
        return found.group() if found else ""

    def stop(self, message: str, at: int | None = None, length: int | None = None) -> Stop:
        """A mistake here, or at that place."""
        place = self.at if at is None else at
        return Stop(place, length if length is not None else len(self.word()) if at is None else 1, message)

    # ---- values

    def number(self, what: str = "A number is missing here.") -> float:
        """The number that stands here."""
        self.skip()
        found = _NUMBER.match(self.line, self.at)
        if not found:
            raise self.stop(what)
        end = found.end()
        if re.match(r",\d", self.line[end : end + 2]):
            raise self.stop("Decimals are written with a point, as in 5.5.", end, 2)
        if re.match(r"\w", self.line[end : end + 1]):
            raise self.stop(what)
        self.at = end
        value = float(found.group().replace("−", "-"))
        if abs(value) == float("inf"):
            raise Stop(found.start(), end - found.start(), "That number is too large.")
        return value

    def date(self) -> float | None:
        """The date that stands here as days since 1970-01-01, with its time; None where there is none."""
        self.skip()
        found = _DATE.match(self.line, self.at)
        if not found:
            return None
        year, month, day, *clock = (int(part or 0) for part in found.groups())
        try:
            days = date(year, month, day).toordinal() - date(1970, 1, 1).toordinal()
        except ValueError:
            raise Stop(self.at, found.end() - self.at, "There is no such date.") from None
        self.at = found.end()
        return days + (clock[0] * 3600 + clock[1] * 60 + clock[2]) / 86400

    def quoted(self) -> str | None:
        """The text in quotes that stands here, a closing mark doubled standing for itself; None where there is none."""
        self.skip()
        closing = QUOTES.get(self.line[self.at : self.at + 1])
        if closing is None:
            return None
        text, at = "", self.at + 1
        while at < len(self.line):
            if self.line.startswith(closing, at):
                if not self.line.startswith(closing * 2, at):
                    self.at = at + 1
                    return text
                at += 1
            text += self.line[at]
            at += 1
        raise Stop(self.at, len(self.line) - self.at, f"The closing {closing} is missing.")

    # ---- names

    def variable(self) -> Variable:
        """The longest name that stands here; a beginning is enough where only one variable has it.

        In square brackets stands the column's own name and nothing else.
        """
        self.skip()
        if self.line.startswith("[", self.at):
            return self._bracketed()
        rest = self._ahead(len(self.names[0][0]) + MOST_AHEAD if self.names else MOST_AHEAD)
        ends, begun = self._begun(rest)
        for text, variable in self.names:
            if rest.startswith(text) and (len(rest) == len(text) or rest[len(text)] in ENDS):
                # “hours of pr” is more of “hours of practice” than of “hours”.
                longer = len(begun) == 1 and ends > len(text)
                self.at += ends if longer else len(text)
                return next(iter(begun.values())) if longer else variable
        typed = self.word().casefold()
        if not typed:
            raise self.stop("A variable is missing here.")
        if "..." in typed:
            typed = typed[: typed.index("...")]
        if begun:
            typed = rest[:ends]
        else:
            begun = {v.name: v for text, v in self.names if text.startswith(typed)}
        if len(begun) == 1:
            self.at += len(typed)
            return next(iter(begun.values()))
        if begun:
            labels = [v.label for v in list(begun.values())[:4]]
            some = f"{', '.join(labels[:-1])} or {labels[-1]}"
            raise Stop(self.at, len(typed), f"{repeated(typed)} could be {some}.")
        raise Stop(self.at, len(typed), f"There is no variable {repeated(typed)}{self._nearest(typed)}")

    def _nearest(self, typed: str) -> str:
        """How the message about an unknown name ends: with the name that is nearest, where one is near."""
        known = {text: v.label for text, v in self.names[:MOST_COMPARED]}
        near = difflib.get_close_matches(typed.casefold(), known, 1, 0.7)
        return f"; did you mean “{known[near[0]]}”?" if near else "."

    def _begun(self, rest: str) -> tuple[int, dict[str, Variable]]:
        """The variables whose names begin with the most words that stand here, two or more, and where these end."""
        found = _WORDS.match(rest)
        end, begun = 0, dict[str, Variable]()
        for blank in re.finditer(r"\s+[^\s]+", found.group()) if found is not None else ():
            typed = " ".join(rest[: blank.end()].split())
            fits = {v.name: v for text, v in self.names if text.startswith(typed)}
            if not fits:
                break
            end, begun = blank.end(), fits
        return end, begun

    def _bracketed(self) -> Variable:
        begin, best = self.at, None
        end = self.line.find("]", begin)
        while 0 < end <= begin + self.longest + 1:  # a name may hold a bracket: the longest counts
            found = self.columns.get(self.line[begin + 1 : end])
            if found is not None:
                self.at = end + 1
                best = found
            end = self.line.find("]", end + 1)
        if best is not None:
            return best
        end = self.line.find("]", begin)
        name = self.line[begin + 1 : end if end > 0 else len(self.line)]
        raise Stop(begin, len(name) + 2, f"There is no variable {repeated(name)}.")

    def run(self) -> list[Variable]:
        """A name, or all from one name through another: “item01 ... item30”."""
        first = self.variable()
        if not self.take("...", "…"):
            return [first]
        place = self.at
        last = self.variable()
        names = [v.name for v in self.variables]
        a, b = names.index(first.name), names.index(last.name)
        if a > b:
            raise Stop(place, self.at - place, f"{last.label} comes before {first.label} in the table.")
        return list(self.variables[a : b + 1])


def typed_name(variable: Variable, variables: Iterable[Variable]) -> str:
    """How a variable is typed so that it is read back as itself: its label, else its name in brackets."""
    label = variable.label
    if label.isascii() and label == label.strip() and "[" not in label:
        # Nothing longer can stand in a line that is the label, so that only a second bearer could be meant.
        own = _Names.of(variables).owners.get(label.casefold())
        return label if own == {variable.name} else f"[{variable.name}]"
    scanner = Scanner(variable.label, variables)
    try:
        if scanner.variable().name == variable.name and scanner.is_done and "[" not in variable.label:
            twins = [v for text, v in scanner.names if text == variable.label.casefold() and v.name != variable.name]
            if not twins:
                return variable.label
    except Stop:
        pass
    return f"[{variable.name}]"


def quote(text: str, opening: str = "“") -> str:
    """A text in quotes that reads back as itself."""
    closing = QUOTES[opening]
    return opening + text.replace(closing, closing * 2) + closing
