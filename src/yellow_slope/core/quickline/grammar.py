"""The grammar: a line read against a study's names, with the place of the first mistake."""

from __future__ import annotations

import re

from yellow_slope.core.data.scanner import DEEPEST, ENDS, Mistake, Scanner, Stop, repeated
from yellow_slope.core.data.variable import Kind, Variable
from yellow_slope.core.errors import StudyError, YellowSlopeError
from yellow_slope.core.quickline.phrases import coding_said, treatment_before, treatment_said
from yellow_slope.core.quickline.reading import Reading, SaidBlock
from yellow_slope.core.study.edits.blocks import why_no_outcome
from yellow_slope.core.study.edits.composing import MOST_TERMS, each_with_each, up_to_order, with_their_parts
from yellow_slope.core.study.edits.entries import treat
from yellow_slope.core.study.edits.kinds import MOST_GROUPS, levels_to_be, set_kind
from yellow_slope.core.study.edits.levels import name_levels
from yellow_slope.core.study.edits.questions import choose_coding
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import MANY_FACTORS, Term, variables_of
from yellow_slope.core.study.treatment import Treatment
from yellow_slope.core.words.names.terms import label
from yellow_slope.values import replace

PARTS = ("and their parts", "and its parts")
WITHOUT, NO_INTERCEPT = "without", ("no intercept", "without intercept", "without an intercept")
INTERCEPT = ("with intercept", "with an intercept")
HINTS = {
    "+&": "terms are set apart by commas",
    "*:": "a product is written with x",
    "~": "= separates the outcome from its predictors",
    "^": "powers are written with ², ³ or “to the power 4”",
}
"""What stands in the place of a mark that is not used here."""
UP_TO = "up to"
POWERS = {"²": 2, "³": 3}
SAID_POWERS = {"squared": 2, "cubed": 3}
TO_THE = "to the power"
AS_GROUPS = "as groups"
LIKE_GROUPS = (AS_GROUPS, "groups", "as a group", "as a factor", "as categories", "as codes", "categorical")
TIMES = ("x", "times", "by")
WORD_HINTS = {
    "and": "terms are set apart by commas",
    "with": "terms are set apart by commas",
    "as": "a column of codes becomes groups with “as groups”",
    "dummy": "a column of codes becomes groups with “as groups”",
    **dict.fromkeys(("log", "ln", "log1p", "sqrt", "root", "ranks"), "say “after log”, “after root”, “after ranks”"),
}
"""What stands in the place of a word that is not used here."""
ORDERS = {
    "two": 2,
    "three": 3,
    "four": 4,
    "five": 5,
    "six": 6,
    "second": 2,
    "third": 3,
    "fourth": 4,
    "fifth": 5,
    "sixth": 6,
}
_ORDER = re.compile(
    r"(?:(two|three|four|five|six)-way|(second|third|fourth|fifth|sixth) order|order (\d{1,2}))(?=[\s,;)]|$)", re.I
)
_LEVEL = re.compile(r"[^,()]+")
_HEAD = re.compile(r"\s*(?:block\s+(\d+)\s*)?", re.I)
_PATTERN = re.compile(r"([^\s,;=×().…]*)(?:\.\.\.|…)([^\s,;=×().…]*)")
DOTS = ("...", "…")
LARGEST_POWER = 9


def read_line(study: Study, line: str) -> Reading:
    """Read a quick line against a study's names. Never raises: a mistake stands in the reading."""
    reading = Reading(line)
    try:
        _LineReader(study, line, reading).read()
        reading.apply(study)
    except Stop as stop:
        reading.mistake = stop.mistake
    except YellowSlopeError as error:
        reading.mistake = Mistake(0, len(line.rstrip()) or 1, str(error))
    return reading


def said_by(study: Study, line: str) -> Study:
    """The study after a line; a mistake is refused with the line and the character."""
    reading = read_line(study, line)
    if reading.mistake is not None:
        found = reading.mistake
        raise Stop(found.position, found.length, found.message).as_error(line)
    return reading.apply(study)


class _LineReader(Scanner):
    def __init__(self, study: Study, line: str, reading: Reading) -> None:
        super().__init__(line, study.variables)
        self.study, self.reading, self._depth = study, reading, 0

    def read(self) -> None:
        """The whole line."""
        if not self.line.strip():
            raise Stop(0, 1, "Type an outcome, =, and terms.")
        equals = self.line.find("=")
        if equals >= 0:
            self._outcome(equals)
        else:
            self.reading.adds = True
        self._blocks()
        if self.reading.says_nothing:
            raise Stop(0, len(self.line.rstrip()) or 1, "Type an outcome, =, and terms.")

    def _outcome(self, equals: int) -> None:
        outcome = self.variable()
        self.skip()
        if self.at != equals:
            raise Stop(self.at, equals - self.at, "Type one outcome before the =.")
        why = why_no_outcome(self.study, outcome)
        if why:
            raise Stop(0, equals, why)
        self.reading.outcome = outcome.name
        self.at += 1

    # ---- blocks

    def _blocks(self) -> None:
        head = self._head()
        terms: list[Term] = []
        while True:
            self.skip()
            if self.take_phrase(*NO_INTERCEPT):
                self.reading.constant = False
            elif self.take_phrase(*INTERCEPT):
                self.reading.constant = True
            elif self.take_phrase(WITHOUT):
                self._taken_out()
            else:
                terms.extend(self._item())
            self.skip()
            mark = self.line[self.at : self.at + 1]
            if mark in (";", ""):
                if terms:
                    self.reading.blocks.append(replace(head, terms=tuple(dict.fromkeys(terms))))
                self.at += 1
                if mark == "" or self.is_done:
                    return
                head, terms = self._head(), []
            elif mark == ",":
                self.at += 1
            else:
                rest = re.match(r"[^,;]*", self.line[self.at :])
                length = len(rest.group().rstrip()) if rest else 1
                raise Stop(self.at, length, self._not_understood(self.line[self.at : self.at + length]))

    def _not_understood(self, text: str) -> str:
        """What is not understood, and what stands in its place here."""
        hint = next((hint for marks, hint in HINTS.items() if text[:1] in marks), "")
        hint = hint or WORD_HINTS.get(text.split()[0].casefold() if text.split() else "", "")
        return f"{repeated(text)} is not understood here{f': {hint}' if hint else ''}."

    def _nearest(self, typed: str) -> str:
        marked = next((hint for marks, hint in HINTS.items() if any(mark in typed for mark in marks)), "")
        return f": {marked}." if marked else super()._nearest(typed)

    def _head(self) -> SaidBlock:
        """What may stand before a block's terms: “block 2:”, “the course”:, off:."""
        start = self.at
        self.skip()
        begin = self.at
        found = _HEAD.match(self.line, self.at)
        assert found is not None
        number = found.group(1)
        self.at = found.end()
        name = self.quoted() or ""
        on = not self.take_phrase("off", "off:")
        if self.line[self.at - 1 : self.at] != ":" and not self.take(":"):
            if number is None and not name and on:
                self.at = start
                return SaidBlock(())
            if name:
                raise Stop(self.at, 1, "A colon is expected after the name of a block.")
            self.at = start
            return SaidBlock(())
        place = None
        if number is not None:
            place = int(number) - 1
            self._check_place(place, begin)
        return SaidBlock((), name.strip(), place if self.reading.adds else None, on)

    def _check_place(self, place: int, begin: int) -> None:
        n = len(self.study.model.blocks)
        if not self.reading.adds:
            if place != len(self.reading.blocks):
                message = f"The line describes the whole model: this is block {len(self.reading.blocks) + 1}."
                raise Stop(begin, self.at - begin, message)
        elif not 0 <= place <= n:
            raise Stop(begin, self.at - begin, f"The model has {n} blocks; block {n + 1} would be the next.")

    def _taken_out(self) -> None:
        while True:
            self.skip()
            start = self.at
            for term in self._item():
                if term not in self.study.model.terms:
                    raise Stop(start, self.at - start, f"{label(self.study, term)} is not in the model.")
                self.reading.without.append(term)
            self.skip()
            if self.line[self.at : self.at + 1] != ",":
                return
            self.at += 1

    # ---- terms

    def _item(self) -> list[Term]:
        """A product with or without its parts, checked."""
        begin = self.at
        found = self._product()
        if self.reading.adds and len(found) == 1 and len(found[0].variables) == 1:
            said = found[0].variables[0] in {**self.reading.treatments, **self.reading.codings}
            if said and found[0] in self.study.model.terms:
                self.reading.stays.append(found[0])
        self.skip()
        if self.take_phrase(*PARTS):
            if any(len(term.variables) > MANY_FACTORS for term in found):
                raise Stop(begin, self.at - begin, f"A product of more than {MANY_FACTORS} factors has too many parts.")
            known = self.study.model.terms if self.reading.adds else ()
            found = list(with_their_parts(found, known))
        for term in found:
            self._check(term, begin)
        return found

    def _check(self, term: Term, begin: int) -> None:
        if self.reading.outcome in term.variables:
            title = self.study.variable(self.reading.outcome or "").label
            raise Stop(begin, self.at - begin, f"{title} is the outcome; it cannot be a predictor as well.")
        for name in dict.fromkeys(term.variables):
            variable = self.study.variable(name)
            if variable.kind is Kind.GROUP and term.variables.count(name) > 1:
                raise Stop(begin, self.at - begin, f"{variable.label} is a group; it cannot be multiplied with itself.")

    def _product(self) -> list[Term]:
        """Factors with `x` between them: each of the one with each of the other."""
        begin = self.at
        found = self._factor()
        while True:
            self.skip()
            if not (self.take("×") or self.take_phrase(*TIMES)):
                return found
            try:
                found = list(each_with_each(found, self._factor()))
            except StudyError as error:
                raise Stop(begin, self.at - begin, str(error)) from None

    def _factor(self) -> list[Term]:
        """One name with what is said about it, a run or pattern of names, or a list in parentheses."""
        self.skip()
        before = self._said_before()
        if before is not None:
            return before
        if self.take("("):
            return self._said_of_all(self._list())
        pattern = _PATTERN.match(self.line, self.at)
        if pattern is not None and not self._is_run(pattern):
            return self._said_of_all(self._matching(pattern))
        first = self.variable()
        self.skip()
        if self.take(*DOTS):
            return self._said_of_all([Term((name,)) for name in self._run(first, self.variable())])
        power = 1
        while True:
            self.skip()
            more = self._power(first)
            if more:
                power *= more
            elif not self._said_about(first):
                break
        return [Term((first.name,) * power)]

    def _said_before(self) -> list[Term] | None:
        """What is said before one name, or before a list in parentheses: “center light”, “log(light)”; None where no
        name follows, or where it is the beginning of a name."""
        start = self.at
        rest = self._ahead(len(self.names[0][0]) + 1 if self.names else 1)
        if any(rest.startswith(text) and (len(rest) == len(text) or rest[len(text)] in ENDS) for text, _ in self.names):
            return None
        change = treatment_before(self)
        if change is None:
            return None
        try:
            terms = self._list() if (listed := self.take("(")) else [Term((self.variable().name,))]
        except Stop:
            if listed:
                raise
            self.at = start
            return None
        for name in variables_of(terms):
            variable = self.study.variable(name)
            if variable.kind is not Kind.NUMBER:
                what = f"{variable.label} is {variable.kind.one}"
                message = f"{what}; only numbers are centered, standardized or transformed."
                raise Stop(start, max(1, self.at - start), message)
            treatment = change(self.reading.treatments.get(name, Treatment()))
            self._try(start, lambda n=name, t=treatment: treat(self.study, [n], t))
            self.reading.treatments[name] = treatment
        return self._said_of_all(terms)

    def _said_of_all(self, terms: list[Term]) -> list[Term]:
        """The terms, when what stands behind them has been said about every variable in them."""
        while True:
            self.skip()
            start, ends = self.at, set[int]()
            for name in variables_of(terms):
                self.at = start
                if self._said_about(self.study.variable(name)):
                    ends.add(self.at)
            self.at = max(ends, default=start)
            if not ends:
                return terms

    def _list(self) -> list[Term]:
        begin = self.at - 1
        self._depth += 1
        if self._depth > DEEPEST:
            raise Stop(begin, 1, "Parentheses are nested too deeply.")
        terms = self._product()
        while self.take(","):
            terms += self._product()
        if not self.take(")"):
            raise Stop(self.at, 1, "A closing parenthesis is missing here.")
        self._depth -= 1
        terms = list(dict.fromkeys(terms))
        if self.take_phrase(UP_TO):
            self.skip()
            order = _ORDER.match(self.line, self.at)
            if order is None:
                raise Stop(self.at, max(1, len(self.word())), "Up to two-way, three-way, third order, order 4?")
            self.at = order.end()
            words = order.group(1) or order.group(2)
            largest = ORDERS[words.casefold()] if words else int(order.group(3))
            try:
                return list(up_to_order(variables_of(terms), largest))
            except StudyError as error:
                raise Stop(begin, self.at - begin, str(error)) from None
        return terms

    def _power(self, variable: Variable) -> int:
        """A power that stands here; 0 where none does."""
        start = self.at
        mark = self.take(*POWERS)
        word = "" if mark else self.take_phrase(*SAID_POWERS)
        power = POWERS.get(mark, 0) or SAID_POWERS.get(word, 0)
        if not power and self.take_phrase(TO_THE):
            value = self.number("A whole number is expected here.")
            if value != int(value) or not 1 <= value <= LARGEST_POWER:
                raise Stop(start, self.at - start, f"Powers are whole numbers, {LARGEST_POWER} at most.")
            power = int(value)
        if power and variable.kind is not Kind.NUMBER:
            raise Stop(
                start, max(1, self.at - start), f"{variable.label} is {variable.kind.one}; only numbers have powers."
            )
        return power

    # ---- what is said of a variable

    def _said_about(self, variable: Variable) -> bool:
        start, name = self.at, variable.name
        if self.take_phrase(*LIKE_GROUPS):
            self._as_groups(variable, start)
            self._level_names(name)
            return True
        variable = self.study.variable(name)
        treatment = treatment_said(self, variable, self.reading.treatments.get(name))
        if treatment is not None:
            self._try(start, lambda: treat(self.study, [name], treatment))
            self.reading.treatments[name] = treatment
            return True
        coding = coding_said(self, variable)
        if coding is not None:
            self._try(start, lambda: choose_coding(self.study, name, coding))
            self.reading.codings[name] = coding
            return True
        return False

    def _as_groups(self, variable: Variable, start: int) -> None:
        """The column is a code: from here on the line reads it as groups."""
        if variable.kind is Kind.GROUP:
            return
        n = levels_to_be(self.study, variable.name)
        if n > MOST_GROUPS:
            message = f"{variable.label} has {n:,} different values: too many groups to be made in passing."
            raise Stop(start, max(1, self.at - start), message)
        made: list[Study] = []
        self._try(start, lambda: made.append(set_kind(self.study, variable.name, Kind.GROUP)))
        self.study = made[0]
        self.reading.groups.append(variable.name)

    def _level_names(self, name: str) -> None:
        """Names of the levels in parentheses, in the order of the codes: “as groups (none, lesson, video)”."""
        self.skip()
        start = self.at
        if not self.take("("):
            return
        labels: list[str] = []
        while True:
            self.skip()
            label = self.quoted()
            if label is None:
                found = _LEVEL.match(self.line, self.at)
                label = found.group().strip() if found is not None else ""
                self.at += len(found.group()) if found is not None else 0
            if not label:
                raise Stop(self.at, 1, "The name of a level is missing here.")
            labels.append(label)
            if self.take(")"):
                break
            if not self.take(","):
                raise Stop(self.at, 1, "A closing parenthesis is missing here.")
        made: list[Study] = []
        self._try(start, lambda: made.append(name_levels(self.study, name, labels)))
        self.study = made[0]
        self.reading.names[name] = tuple(labels)

    def _try(self, start: int, edit) -> None:  # type: ignore[no-untyped-def]
        """What cannot be is a mistake where it is said."""
        try:
            edit()
        except YellowSlopeError as error:
            raise Stop(start, max(1, self.at - start), str(error)) from None

    # ---- several names at once

    def _is_run(self, pattern: re.Match[str]) -> bool:
        """Whether both sides of dots without blanks are names: a run through the table, no pattern."""
        first, last = (part.casefold() for part in pattern.groups())
        names = {text for text, _ in self.names}
        return first in names and last in names

    def _run(self, first: Variable, last: Variable) -> list[str]:
        names = [v.name for v in self.study.variables]
        a, b = names.index(first.name), names.index(last.name)
        if a > b:
            raise Stop(self.at - 1, 1, f"{last.label} comes before {first.label} in the table.")
        return self._entering(self.study.variables[a : b + 1])

    def _matching(self, pattern: re.Match[str]) -> list[Term]:
        """“item...”: every variable whose name begins so; “...score”: every one whose name ends so."""
        begin, end = (part.casefold() for part in pattern.groups())
        # “item01 ... item30”: a run with blanks around its dots is no pattern.
        if begin and not end and self._names_a_run(pattern):
            return [Term((name,)) for name in self._blank_run()]
        if not begin and not end:
            raise Stop(pattern.start(), 3, "Dots stand for the rest of a name: item..., ...score.")
        size = len(begin) + len(end)
        fits = [
            v
            for v in self.study.variables
            if any(
                len(t) >= size and t.startswith(begin) and t.endswith(end)
                for t in (v.name.casefold(), v.label.casefold())
            )
        ]
        names = self._entering(tuple(fits))
        if not names:
            raise Stop(pattern.start(), len(pattern.group()), "No variable that can enter has such a name.")
        if len(names) > MOST_TERMS:
            raise Stop(
                pattern.start(),
                len(pattern.group()),
                f"These would be {len(names):,} terms; at most {MOST_TERMS:,} are possible.",
            )
        self.at = pattern.end()
        return [Term((name,)) for name in names]

    def _names_a_run(self, pattern: re.Match[str]) -> bool:
        """Whether after dots and a blank another name goes on: “item01... item30”."""
        before = self.at
        self.at = pattern.end()
        try:
            if not self.line[self.at : self.at + 1].isspace() or self.is_done:
                return False
            known = {text for text, _ in self.names}
            return pattern.group(1).casefold() in known and bool(self.word()) and self._is_variable()
        finally:
            self.at = before

    def _is_variable(self) -> bool:
        try:
            self.variable()
        except Stop:
            return False
        return True

    def _blank_run(self) -> list[str]:
        first = self.variable()
        self.take(*DOTS)
        return self._run(first, self.variable())

    def _entering(self, variables: tuple[Variable, ...]) -> list[str]:
        return [v.name for v in variables if v.kind.enters and v.name != self.reading.outcome]
