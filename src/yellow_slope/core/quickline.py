"""The quick line: a model in one line of the product's own small notation.

    control = age, balance; practice centered, coaching from none; practice x coaching

A comma lists, a semicolon ends a block, `x` multiplies; treatments and references are said after the name;
`and their parts` adds what a product is made of; `item01 ... item30` runs through names. Without an outcome the line
adds blocks to the model; `without a, b` takes terms out.
"""

from __future__ import annotations

import re
from dataclasses import dataclass, field

from yellow_slope.core.data.scanner import Mistake, Scanner, Stop
from yellow_slope.core.data.variable import Kind, Variable
from yellow_slope.core.errors import YellowSlopeError
from yellow_slope.core.study import edits
from yellow_slope.core.study.coding import LevelMeans
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import MANY_FACTORS, Block, Term
from yellow_slope.core.study.treatment import AS_IS, CENTERED, STANDARDIZED, Treatment
from yellow_slope.core.words.names import label, treatment_name
from yellow_slope.core.words.numerals import counted, listed

TREATMENTS = {"as it is": AS_IS, "centered": CENTERED, "standardized": STANDARDIZED}
PARTS = "and their parts"
MOST_TERMS = 3000
_WORD_END = re.compile(r"[\s,;=×()]|$")


@dataclass(slots=True)
class Reading:
    """What a line says: outcome, blocks, treatments, references; or the first mistake in it."""

    line: str
    outcome: str | None = None
    blocks: list[Block] = field(default_factory=list)
    without: list[Term] = field(default_factory=list)
    treatments: dict[str, Treatment] = field(default_factory=dict)
    references: dict[str, str] = field(default_factory=dict)
    adds: bool = False
    stays: list[Term] = field(default_factory=list)
    """Terms of the model that are only named to say something about them."""
    mistake: Mistake | None = None

    def apply(self, study: Study) -> Study:
        """The study that the line describes; the line must be free of mistakes."""
        for name, treatment in self.treatments.items():
            study = edits.treat(study, [name], treatment)
        for name, code in self.references.items():
            study = edits.set_reference(study, name, code)
        if self.outcome is not None:
            study = edits.set_outcome(study, self.outcome)
        if self.without:
            study = edits.take_out(study, self.without)
        if self.adds:
            for block in self.blocks:
                terms = [t for t in block.terms if t not in self.stays]
                study = edits.enter(study, terms, None, block.name) if terms else study
            return study
        return edits.set_blocks(study, _named(self.blocks, study.model.blocks)) if self.blocks else study

    def echo(self, study: Study) -> str:
        """The line read back: terms by block and the number of columns."""
        if self.mistake:
            return self.mistake.message
        parts: list[str] = []
        index = len(study.model.blocks) if self.adds else 0
        n = 0
        for block in self.blocks:
            terms = [t for t in block.terms if t not in self.stays]
            if not terms:
                parts.append(", ".join(self._said(study, t) for t in block.terms))
                continue
            index += 1
            shown = [self._said(study, t) for t in terms[:40]]
            more = [f"and {len(terms) - 40:,} more"] if len(terms) > 40 else []
            parts.append(f"block {index}: " + ", ".join([*shown, *more]))
            n += sum(self._columns(study, t) for t in terms)
        if self.without:
            parts.append("without " + listed([label(study, t) for t in self.without]))
        head = f"{study.variable(self.outcome).label} by " if self.outcome else ("adds " if self.adds and n else "")
        tail = f"  ({counted(n, 'column')})" if n else ""
        return head + "; ".join(parts) + tail

    def _said(self, study: Study, term: Term) -> str:
        text = label(study, term)
        if len(term.variables) == 1:
            name = term.variables[0]
            if name in self.treatments:
                text += f" {treatment_name(study, self.treatments[name])}"
            if name in self.references:
                text += f" from {study.variable(name).level(self.references[name]).label}"
        return text

    def _columns(self, study: Study, term: Term) -> int:
        n = 1
        for name in term.variables:
            variable = study.variable(name)
            if variable.kind is Kind.GROUP:
                means = isinstance(study.model.coding(name), LevelMeans)
                n *= max(1, len(variable.levels) - (0 if means else 1))
        return n


def _named(blocks: list[Block], before: tuple[Block, ...]) -> list[Block]:
    """The blocks with the names of those before, where they share a term; each name serves once."""
    left = list(before)
    named: list[Block] = []
    for block in blocks:
        same = next((old for old in left if set(old.terms) & set(block.terms)), None)
        if same is not None:
            left.remove(same)
        named.append(Block(block.terms, same.name, same.on, same.id) if same is not None else Block(block.terms))
    return named


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


class _LineReader(Scanner):
    def __init__(self, study: Study, line: str, reading: Reading) -> None:
        super().__init__(line, study.variables)
        self.study, self.reading = study, reading

    def read(self) -> None:
        if not self.line.strip():
            raise Stop(0, 1, "Type an outcome, =, and terms.")
        equals = self.line.find("=")
        if equals >= 0:
            outcome = self.variable()
            self.skip()
            if self.at != equals:
                raise Stop(self.at, equals - self.at, "One outcome stands before the =.")
            why = edits.why_no_outcome(self.study, outcome)
            if why:
                raise Stop(0, equals, why)
            self.reading.outcome = outcome.name
            self.at += 1
        else:
            self.reading.adds = True
        self._blocks()

    def _blocks(self) -> None:
        terms: list[Term] = []
        while True:
            self.skip()
            if self.take_phrase("without"):
                self._taken_out()
            else:
                terms.extend(self._item())
            self.skip()
            mark = self.line[self.at : self.at + 1]
            if mark in (";", ""):
                if terms:
                    self.reading.blocks.append(Block(tuple(dict.fromkeys(terms))))
                terms = []
                self.at += 1
                if mark == "" or not self.line[self.at :].strip():
                    return
            elif mark == ",":
                self.at += 1
            else:
                rest = re.match(r"[^,;]*", self.line[self.at :])
                length = len(rest.group().rstrip()) if rest else 1
                raise Stop(self.at, length, f"“{self.line[self.at : self.at + length]}” is not understood here.")

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

    def _item(self) -> list[Term]:
        begin = self.at
        factors = [self._factor()]
        while True:
            self.skip()
            if self.take("×") or self.take_phrase("x"):
                factors.append(self._factor())
            else:
                break
        n = 1
        for factor in factors:
            n *= len(factor)
        if n > MOST_TERMS:
            raise Stop(begin, self.at - begin, f"These would be {n:,} terms; {MOST_TERMS:,} is the most.")
        found = [Term(())]
        for factor in factors:
            found = [Term((*a.variables, b)) for a in found for b in factor]
        if len(found) == 1 and len(found[0].variables) == 1 and self.reading.adds:
            said = found[0].variables[0] in {**self.reading.treatments, **self.reading.references}
            if said and found[0] in self.study.model.terms:
                self.reading.stays.append(found[0])
        self.skip()
        if self.take_phrase(PARTS):
            if any(len(term.variables) > MANY_FACTORS for term in found):
                raise Stop(begin, self.at - begin, f"A product of more than {MANY_FACTORS} factors has too many parts.")
            known = self.study.model.terms if self.reading.adds else ()
            parts = [part for term in found for part in term.parts() if part not in known]
            found = list(dict.fromkeys([*parts, *found]))
            found.sort(key=lambda term: len(term.variables))
        for term in found:
            start = self.at
            try:
                if self.reading.outcome in term.variables:
                    title = self.study.variable(self.reading.outcome or "").label
                    raise Stop(start - 1, 1, f"{title} is the outcome; it cannot be a predictor as well.")
                for name in term.variables:
                    variable = self.study.variable(name)
                    if variable.kind is Kind.GROUP and term.variables.count(name) > 1:
                        raise Stop(start - 1, 1, f"{variable.label} is a group; it cannot be multiplied with itself.")
            except YellowSlopeError as error:
                raise Stop(start, 1, str(error)) from None
        return found

    def _factor(self) -> list[str]:
        """One name with what is said about it, a run of names, or a list in parentheses."""
        self.skip()
        if self.take("("):
            names = self._factor()
            while True:
                self.skip()
                if not self.take(","):
                    break
                names += self._factor()
            self.skip()
            if not self.take(")"):
                raise Stop(self.at, 1, "A closing parenthesis is missing here.")
            return names
        first = self.variable()
        self.skip()
        if self.take("...") or self.take("…"):
            return self._run(first, self.variable())
        while self._said_about(first):
            self.skip()
        return [first.name]

    def _said_about(self, variable: Variable) -> bool:
        start = self.at
        for phrase, treatment in TREATMENTS.items():
            if self.take_phrase(phrase):
                if variable.kind is not Kind.NUMBER:
                    message = f"{variable.label} is a {variable.kind}; only numbers are centered or standardized."
                    raise Stop(start, len(phrase), message)
                self.reading.treatments[variable.name] = treatment
                return True
        if self.take_phrase("from"):
            self._level(variable)
            return True
        return False

    def _level(self, variable: Variable) -> None:
        self.skip()
        if variable.kind is not Kind.GROUP:
            raise Stop(self.at, 1, f"{variable.label} is a {variable.kind}; only groups have a reference.")
        rest = self.line[self.at :].casefold()
        for level in sorted(variable.levels, key=lambda x: -len(x.label)):
            for text in (level.label.casefold(), level.code.casefold()):
                if rest.startswith(text) and _WORD_END.match(rest[len(text) :]):
                    self.reading.references[variable.name] = level.code
                    self.at += len(text)
                    return
        word = re.match(r"[^,;=]*", self.line[self.at :])
        length = len(word.group().rstrip()) if word else 1
        known = listed([level.label for level in variable.levels[:6]])
        raise Stop(self.at, length, f"{variable.label} has no such group; it has {known}.")

    def _run(self, first: Variable, last: Variable) -> list[str]:
        names = [v.name for v in self.study.variables]
        a, b = names.index(first.name), names.index(last.name)
        if a > b:
            raise Stop(self.at - 1, 1, f"{last.label} stands before {first.label} in the table.")
        return [v.name for v in self.study.variables[a : b + 1] if v.kind.enters and v.name != self.reading.outcome]


def complete(study: Study, line: str, cursor: int) -> tuple[int, list[str]]:
    """Where the word under the cursor begins, and the labels that would finish it."""
    start = max((line.rfind(mark, 0, cursor) for mark in ",;=×("), default=-1) + 1
    typed = line[start:cursor]
    spaced = re.split(r"\sx\s|\s×\s", typed)
    if len(spaced) > 1:
        start = cursor - len(spaced[-1])
        typed = spaced[-1]
    start += len(typed) - len(typed.lstrip())
    typed = typed.strip().casefold()
    if not typed:
        return start, []
    labels = [v.label for v in study.variables if v.kind.enters and v.label.casefold().startswith(typed)]
    return start, [label for label in labels if label.casefold() != typed]


def write_line(study: Study) -> str:
    """The study's model as a quick line that reads back as the same model."""
    said: set[str] = set()
    model = study.model

    def term_text(term: Term) -> str:
        words: list[str] = []
        for name in term.variables:
            variable = study.variable(name)
            text = variable.label
            if name not in said:
                treatment = model.treatment(name)
                if variable.kind is Kind.NUMBER and treatment in (CENTERED, STANDARDIZED):
                    text += f" {treatment_name(study, treatment)}"
                reference = model.reference(name)
                if variable.kind is Kind.GROUP and reference is not None:
                    text += f" from {variable.level(reference).label}"
                said.add(name)
            words.append(text)
        return " x ".join(words)

    outcome = f"{study.variable(model.outcome).label} = " if model.outcome else ""
    return outcome + "; ".join(", ".join(term_text(t) for t in block.terms) for block in model.blocks)
