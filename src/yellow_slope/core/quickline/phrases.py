"""What is said about a variable after its name: treatments and codings in words, read and written by the same table."""

from __future__ import annotations

import re
from collections.abc import Callable
from typing import assert_never

from yellow_slope.core.data.scanner import Scanner, Stop, quote
from yellow_slope.core.data.variable import Kind, Variable
from yellow_slope.core.study.coding import (
    Adjacent,
    AgainstMean,
    Coding,
    Dummy,
    Effect,
    LevelMeans,
    Planned,
    Trends,
    WeightedEffect,
)
from yellow_slope.core.study.questiontext import question_text, read_questions
from yellow_slope.core.study.treatment import (
    At,
    Base,
    Given,
    Mean,
    Median,
    One,
    OneSD,
    Raw,
    Transform,
    Treatment,
    WithinGroups,
)
from yellow_slope.core.words.spelling.numerals import MINUS, listed, number_or_place
from yellow_slope.values import replace

AS_IT_IS = "as it is"
CENTERED = ("centered", "centred", "mean-centered", "mean-centred")
STANDARDIZED = ("standardized", "standardised")
CENTER = ("center", "centre", "mean-center", "mean-centre", *CENTERED)
STANDARDIZE = ("standardize", "standardise", *STANDARDIZED)
TRANSFORMED: dict[str, Transform] = {
    "log of": Transform.LOG,
    "ln of": Transform.LOG,
    "log": Transform.LOG,
    "ln": Transform.LOG,
    "log1p": Transform.LOG1P,
    "square root of": Transform.ROOT,
    "root of": Transform.ROOT,
    "root": Transform.ROOT,
    "sqrt": Transform.ROOT,
    "reciprocal of": Transform.RECIPROCAL,
    "ranks of": Transform.RANKS,
    "rank of": Transform.RANKS,
    "ranks": Transform.RANKS,
    "reversed": Transform.REVERSE,
}
"""What may be said before a name as well: “log of light”, “log(light)”."""
MEANS: dict[str, Coding] = {
    "the mean of all levels": Effect(),
    "the mean of all cases": WeightedEffect(),
    "the one before": Adjacent(),
    "the mean of the later ones": AgainstMean(True),
    "the mean of the earlier ones": AgainstMean(False),
}
"""What each level can be set against, besides a reference."""
EACH = ("each against", "each level against")
WITHOUT_ONE = "leaving out"
TRENDS = ("as trends over the levels", "as trends")
LEVEL_MEANS = ("as level means",)
ASKING = "asking"
OVER_ALL = "over all cases"
_END = re.compile(r"[\s,;=×()]|$")


# ---- numbers


def treatment_said(scanner: Scanner, variable: Variable, before: Treatment | None) -> Treatment | None:
    """The treatment with what stands here about a number; None where nothing about one stands here.

    before: what was said of it already in this line.
    """
    start = scanner.at
    now = before or Treatment()
    found: Treatment | None = None
    if scanner.take_phrase(AS_IT_IS):
        found = Treatment()
    elif scanner.take_phrase(*STANDARDIZED):
        found = replace(now, zero=Mean(), scale=OneSD())
    elif scanner.take_phrase(*CENTERED):
        found = replace(now, zero=_zero(scanner))
    elif scanner.take_phrase("in SDs", "in SD"):
        found = replace(now, scale=OneSD())
    elif scanner.take_phrase("in units of"):
        size = scanner.number("A number is expected here: the size of a unit.")
        found = replace(now, scale=Given(size))
    elif scanner.take_phrase("after"):
        found = replace(now, transforms=_transforms(scanner))
    elif scanner.take_phrase(OVER_ALL):
        found = replace(now, base=Base.ALL)
    if found is not None and variable.kind is not Kind.NUMBER:
        message = f"{variable.label} is {variable.kind.one}; only numbers are centered or standardized."
        raise Stop(start, max(1, scanner.at - start), message)
    return found


def treatment_before(scanner: Scanner) -> Callable[[Treatment], Treatment] | None:
    """What stands here of a number whose name follows, as in “center light”, “log(light)”; None where nothing does."""
    if scanner.take_phrase(*STANDARDIZE):
        return lambda now: replace(now, zero=Mean(), scale=OneSD())
    if scanner.take_phrase(*CENTER):
        return lambda now: replace(now, zero=Mean())
    said = scanner.take_phrase(*TRANSFORMED)
    return (lambda now: replace(now, transforms=(TRANSFORMED[said], *now.transforms))) if said else None


def _zero(scanner: Scanner) -> Mean | Median | At | WithinGroups:
    if scanner.take_phrase("at the mean"):
        return Mean()
    if scanner.take_phrase("at the median"):
        return Median()
    if scanner.take_phrase("within"):
        scanner.skip()
        start = scanner.at
        by = scanner.variable()
        if by.kind is not Kind.GROUP:
            raise Stop(start, scanner.at - start, f"{by.label} is {by.kind.one}; a number is centered within groups.")
        return WithinGroups(by.name)
    if scanner.take_phrase("at"):
        return At(scanner.number("A number is expected here, “the mean” or “the median”."))
    return Mean()


def _transforms(scanner: Scanner) -> tuple[Transform, ...]:
    found: list[Transform] = []
    while True:
        scanner.skip()
        word = scanner.word().casefold()
        if word not in {str(t) for t in Transform}:
            known = listed([str(t) for t in Transform])
            raise Stop(scanner.at, max(1, len(word)), f"There is no such transformation; there is {known}.")
        scanner.at += len(word)
        found.append(Transform(word))
        before = scanner.at
        if not scanner.take_phrase("and"):
            return tuple(found)
        scanner.skip()
        if scanner.word().casefold() not in {str(t) for t in Transform}:  # “and their parts”
            scanner.at = before
            return tuple(found)


def treatment_text(treatment: Treatment, label_of: dict[str, str]) -> str:
    """A treatment as it stands after a name; empty for one that leaves the number as it is. label_of: typed names."""
    parts: list[str] = []
    zero, scale = treatment.zero, treatment.scale
    match zero:
        case Raw():
            pass
        case Mean():
            parts.append(STANDARDIZED[0] if isinstance(scale, OneSD) else CENTERED[0])
        case Median():
            parts.append("centered at the median")
        case At(value):
            parts.append(f"centered at {_exact(value)}")
        case WithinGroups(of):
            parts.append(f"centered within {label_of.get(of, of)}")
        case _:
            assert_never(zero)
    match scale:
        case One():
            pass
        case OneSD():
            if not isinstance(zero, Mean):
                parts.append("in SDs")
        case Given(size):
            parts.append(f"in units of {_exact(size)}")
        case _:
            assert_never(scale)
    if treatment.transforms:
        parts.append("after " + " and ".join(str(t) for t in treatment.transforms))
    if treatment.base is Base.ALL and (not isinstance(zero, Raw | At) or isinstance(scale, OneSD)):
        parts.append(OVER_ALL)
    return " ".join(parts)


def _exact(value: float) -> str:
    """A number with all the digits it needs."""
    short = number_or_place(value)
    return short if float(short.replace(MINUS, "-")) == value else repr(value).replace("-", MINUS)


# ---- groups


def coding_said(scanner: Scanner, variable: Variable) -> Coding | None:
    """The coding that stands here about a group; None where none stands here."""
    start = scanner.at
    if scanner.take_phrase("from"):
        return Dummy(_level(scanner, variable, start))
    if scanner.take_phrase(*EACH):
        _of_groups(variable, start, scanner.at)
        for words, coding in MEANS.items():
            if scanner.take_phrase(words):
                return _leaving_out(scanner, variable, coding)
        return Dummy(_level(scanner, variable, start))
    if scanner.take_phrase(*TRENDS):
        _of_groups(variable, start, scanner.at)
        return Trends(_spacing(scanner, variable))
    if scanner.take_phrase(*LEVEL_MEANS):
        _of_groups(variable, start, scanner.at)
        return LevelMeans()
    if scanner.take_phrase(ASKING):
        _of_groups(variable, start, scanner.at)
        return _questions(scanner, variable)
    return None


def _of_groups(variable: Variable, start: int, end: int) -> None:
    if variable.kind is not Kind.GROUP:
        message = f"{variable.label} is {variable.kind.one}; only groups have comparisons."
        raise Stop(start, max(1, end - start), message)


def _level(scanner: Scanner, variable: Variable, start: int) -> str:
    scanner.skip()
    if variable.kind is not Kind.GROUP:
        raise Stop(scanner.at, 1, f"{variable.label} is {variable.kind.one}; only groups have a reference.")
    quoted_at = scanner.at
    text = scanner.quoted()
    if text is not None:
        level = variable.find_level(text)
        if level is not None:
            return level.code
        raise Stop(quoted_at, scanner.at - quoted_at, _no_level(variable))
    rest = scanner.line[scanner.at :].casefold()
    names = sorted(
        ((text.casefold(), level.code) for level in variable.levels for text in (level.label, *level.codes)),
        key=lambda pair: -len(pair[0]),
    )
    for name, code in names:
        if rest.startswith(name) and _END.match(rest[len(name) :]):
            scanner.at += len(name)
            return code
    word = re.match(r"[^,;=()]*", scanner.line[scanner.at :])
    typed = word.group().split(" x ")[0].rstrip() if word else ""
    fits = [level for level in variable.levels if typed and level.label.casefold().startswith(typed.casefold())]
    if len(fits) == 1:
        scanner.at += len(typed)
        return fits[0].code
    raise Stop(scanner.at, max(1, len(typed)), _no_level(variable))


def _no_level(variable: Variable) -> str:
    known = listed([level.label for level in variable.levels[:6]])
    return f"{variable.label} has no such group; it has {known}."


def _leaving_out(scanner: Scanner, variable: Variable, coding: Coding) -> Coding:
    if isinstance(coding, Effect | WeightedEffect) and scanner.take_phrase(WITHOUT_ONE):
        return replace(coding, without=_level(scanner, variable, scanner.at))
    return coding


def _spacing(scanner: Scanner, variable: Variable) -> tuple[tuple[str, float], ...]:
    if not scanner.take_phrase("at"):
        return ()
    places: list[float] = []
    scanner.skip()
    start = scanner.at
    while re.match(r"\s*[-−+]?[\d.]", scanner.line[scanner.at :]):
        places.append(scanner.number())
    if len(places) != len(variable.levels) or len(set(places)) < len(places):
        message = (
            f"{variable.label} has {len(variable.levels)} levels; type as many different places, with spaces between."
        )
        raise Stop(start, max(1, scanner.at - start), message)
    return tuple((level.code, place) for level, place in zip(variable.levels, places))


def _questions(scanner: Scanner, variable: Variable) -> Planned:
    scanner.skip()
    if not scanner.take("("):
        raise scanner.stop("Write questions in parentheses: asking (none against the rest).", scanner.at)
    begin, depth, end = scanner.at, 1, scanner.at
    while end < len(scanner.line) and depth:
        depth += {"(": 1, ")": -1}.get(scanner.line[end], 0)
        end += 1
    if depth:
        raise Stop(begin - 1, 1, "A closing parenthesis is missing here.")
    inner = scanner.line[begin : end - 1]
    found = read_questions(variable, inner)
    if not isinstance(found, tuple):
        message = found.message[:1].upper() + found.message[1:]
        raise Stop(begin + found.position, found.length, message if message.endswith(".") else f"{message}.")
    scanner.at = end
    return Planned(found)


def coding_text(variable: Variable, coding: Coding) -> str:
    """A coding as it stands after a name; empty for a reference that nobody chose."""
    match coding:
        case Dummy(reference):
            return "" if reference is None else f"from {_typed_level(variable, reference)}"
        case Trends(spacing):
            places = dict(spacing)
            if not places or set(places) != {level.code for level in variable.levels}:
                return TRENDS[1]
            return f"{TRENDS[1]} at {' '.join(_exact(places[level.code]) for level in variable.levels)}"
        case LevelMeans():
            return LEVEL_MEANS[0]
        case Planned(questions):
            said = "; ".join(question_text(variable, q) for q in questions if not q.weights and not q.is_empty)
            return f"{ASKING} ({said})" if said else ""
        case Effect(without) | WeightedEffect(without):
            text = _each(coding)
            return text if without is None else f"{text} {WITHOUT_ONE} {_typed_level(variable, without)}"
        case Adjacent() | AgainstMean():
            return _each(coding)
        case _:
            assert_never(coding)


def _each(coding: Effect | WeightedEffect | Adjacent | AgainstMean) -> str:
    """“each vs …”: the words that are read as this coding."""
    match coding:
        case Effect() | WeightedEffect():
            plain: Coding = replace(coding, without=None, names=())
        case Adjacent() | AgainstMean():
            plain = replace(coding, names=())
        case _:
            assert_never(coding)
    return f"{EACH[0]} {next(words for words, meant in MEANS.items() if meant == plain)}"


def _typed_level(variable: Variable, code: str) -> str:
    """A level as it is typed: its label, in quotes where that alone would be read otherwise."""
    label = variable.level(code).label
    plain = re.fullmatch(r"[^\s,;=×()“”\"'„«»]+(?: [^\s,;=×()“”\"'„«»]+)*", label)
    longer = [x for x in variable.levels if x.label.casefold().startswith(label.casefold()) and x.label != label]
    is_phrase = any(word in label.casefold().split() for word in ("x", "and"))
    return label if plain and not longer and not is_phrase else quote(label)
