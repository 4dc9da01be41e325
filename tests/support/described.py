"""Random studies, all of a description drawn at once, and the same studies reckoned in 60 digits by other means.

Nothing here is shared with the program but the study itself: columns are made case by case, rank is found by
elimination from the first column on, covariances come from the inverse of X'X, tails from their integrals.
"""

from __future__ import annotations

import itertools
import random
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any, TypeAlias

import mpmath
from mpmath import mpf

from tests.support.worlds import study_of
from yellow_slope.core.data.conditions import AtLeast, Not, OneOf, Rule
from yellow_slope.core.data.table import TextColumn
from yellow_slope.core.data.variable import Kind
from yellow_slope.core.probe.places import LevelPlace, NumberPlace, Place
from yellow_slope.core.study.coding import (
    Adjacent,
    AgainstMean,
    Coding,
    Dummy,
    Effect,
    LevelMeans,
    Planned,
    Question,
    Trends,
    WeightedEffect,
)
from yellow_slope.core.study.edits.descriptions import change_variable
from yellow_slope.core.study.edits.entries import set_coding, treat
from yellow_slope.core.study.edits.models import set_constant, set_errors, set_level
from yellow_slope.core.study.edits.samples import set_rule
from yellow_slope.core.study.standarderrors import HC, Bootstrap, Classical, Cluster, Errors, IntervalWay
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.terms import Term
from yellow_slope.core.study.treatment import (
    At,
    Base,
    Given,
    Mean,
    Median,
    One,
    OneSD,
    Raw,
    Scale,
    Transform,
    Treatment,
    WithinGroups,
    Zero,
)
from yellow_slope.values import replace

Number: TypeAlias = Any
"""An mpmath number; the package has no types."""
Row = list[Number]
DIGITS = 60
TINY = mpf(10) ** -30
EPS = mpf(2) ** -52
LOST = 10**6
"""A column of which less than so many of its roundings is left says nothing in doubles."""
NUMBERS, GROUPS = ("x", "w", "z"), ("g", "h")
MODELS = """x, w; x*w | x, g; x*g | g, h; g*h | x, w, z; x*w, x*z, w*z; x*w*z | x, w, g; x*w, x*g, w*g; x*w*g
z; x, x*x; w | x, w; x*w, x*x; x*x*w | z, g; x, x*x, x*g | x, w, s; g | x, w, s; x*g, g | h; x, g; x*g, x*h
x*w; z | w; x*w | g; x*g | x*g; z | x, g, h; x*g, x*h, g*h; x*g*h | x; x*x; x*x*x | z"""


@dataclass(frozen=True, slots=True)
class Drawn:
    """A study, and its table as it was drawn."""

    study: Study
    said: str
    """What was drawn, for whoever looks at a failure."""


# ---- drawing


def drawn(seed: int, tens: int = 0) -> Drawn:
    """A study of that seed, every number in units 10^tens as large."""
    draw = random.Random(seed)
    n = draw.choice([14, 18, 24, 30, 40])
    units = {name: mpf(2) ** draw.choice([-30, -10, 0, 0, 0, 10, 30]) for name in (*NUMBERS, "y")}
    units = {name: unit * mpf(10) ** tens for name, unit in units.items()}
    far = {name: draw.choice([0, 0, 0, 50, 1000]) for name in NUMBERS}
    table: dict[str, list[Any]] = {}
    plain: dict[str, list[mpf]] = {}
    for name in NUMBERS:
        plain[name] = [mpf(draw.randint(1, 60)) / 8 + far[name] for _ in range(n)]
        table[name] = [float(v * units[name]) for v in plain[name]]
    if units["x"] == units["w"]:
        table["s"] = [float((a + b) * units["x"]) for a, b in zip(plain["x"], plain["w"])]  # ties stay ties in any unit
    else:
        table["s"] = [float(2 * v * units["x"]) for v in plain["x"]]
    levels = {"g": "abcd"[: draw.choice([2, 3, 4])], "h": "pqr"[: draw.choice([2, 3])]}
    for name, codes in levels.items():
        least = draw.choice([1, 1, 2, 3])
        table[name] = [*(list(codes) * least), *(draw.choice(codes) for _ in range(n - least * len(codes)))]
        draw.shuffle(table[name])
    table["id"] = [f"k{draw.randrange(draw.choice([3, 6, 9]))}" for _ in range(n)]
    noise = [mpf(draw.randint(1, 400)) / 8 + a / 2 for a in plain["x"]]
    if draw.random() < 0.6:  # something depends on something
        x, w, z = ([value - far[name] - 4 for value in plain[name]] for name in NUMBERS)
        parts = [
            [x, w],
            [x, [4 * (v == "b") for v in table["g"]]],
            [w, [4 * (v == "q") for v in table["h"]]],
            [x, w, z],
        ]
        for part in draw.sample(parts, draw.choice([1, 1, 2])):
            noise = [v + mpmath.fprod(row) * draw.choice([2, 8]) for v, *row in zip(noise, *part)]
    table["y"] = [float(v * units["y"]) for v in noise]
    for name in (*NUMBERS, *GROUPS):
        if draw.random() < 0.15:
            row = draw.randrange(n)
            table[name][row] = "" if name in GROUPS else float("nan")
    blocks = draw.choice([text.strip() for line in MODELS.splitlines() for text in line.split("|")])
    study = study_of(table, "y", blocks)
    used = {name for t in study.model.terms for name in t.variables}
    said = [
        f"seed {seed}: n = {n}, {blocks}, units {[mpmath.nstr(u, 3) for u in units.values()]}, far {list(far.values())}"
    ]
    for name in sorted(used & {*NUMBERS, "s"}):
        study = change_variable(study, replace(study.variable(name), limits=_limits(table[name])))
        treatment = _treatment(draw, units.get(name, units["x"]), far.get(name, 0))
        study = treat(study, [name], treatment)
        said.append(f"{name}: {treatment}")
    constant = draw.random() < 0.85
    for name in sorted(used & set(GROUPS)):
        coding = _coding(draw, levels[name])
        if isinstance(coding, LevelMeans) and (
            constant or any(isinstance(c, LevelMeans) for c in study.model.entries.values())
        ):
            coding = Dummy(draw.choice(levels[name]))
        if isinstance(coding, LevelMeans):
            study = set_constant(study, False)
        study = set_coding(study, name, coding)
        said.append(f"{name}: {coding}")
    if not constant:
        study = set_constant(study, False)
    level = draw.choice([0.9, 0.95, 0.99])
    draws, way, own = 2000 if level == 0.99 else 1000, draw.choice(list(IntervalWay)), draw.randint(0, 99)
    kinds: list[Errors] = [Classical(), Classical(), *(HC(k) for k in range(5)), Cluster("id")]
    kinds += [Bootstrap(way, draws, own), Bootstrap(way, draws, own), Bootstrap(way, draws, own, "id")]
    errors = draw.choice(kinds)
    study = set_errors(set_level(study, level), errors)
    if draw.random() < 0.3:
        lowest = float(mpf(20) / 8 * units["z"] + far["z"] * units["z"])
        rules: list[Rule] = [AtLeast("z", lowest), Not(OneOf("h", ("p",)))]
        study = set_rule(study, draw.choice(rules))
    said.append(f"{errors}, constant {study.model.constant}, level {study.model.level}, sample {study.model.sample}")
    return Drawn(study, "; ".join(said))


def cluster_of(errors: Errors) -> str | None:
    """The variable by which clusters are told; None where cases are."""
    return errors.id if isinstance(errors, Cluster) else errors.cluster if isinstance(errors, Bootstrap) else None


def _limits(values: Sequence[object]) -> tuple[float, float]:
    here = [float(v) for v in values if v == v]  # type: ignore[arg-type]
    return (min(here), max(here))


def _treatment(draw: random.Random, unit: Number, far: int) -> Treatment:
    log, root, back, ranks = Transform.LOG, Transform.ROOT, Transform.REVERSE, Transform.RANKS
    chains: list[tuple[Transform, ...]] = [(), (), (), (log,), (root,), (back,), (ranks,), (Transform.RECIPROCAL,)]
    chains += [(back, ranks), (Transform.LOG1P,), (ranks, log), (root, ranks)]
    zeros: list[Zero] = [Raw(), Mean(), Mean(), Median(), At(float(unit * (far + 3))), WithinGroups("g")]
    scales: list[Scale] = [One(), One(), OneSD(), Given(float(unit * 4))]
    return Treatment(
        draw.choice(chains), draw.choice(zeros), draw.choice(scales), draw.choice([Base.MODEL, Base.MODEL, Base.ALL])
    )


def _coding(draw: random.Random, levels: str) -> Coding:
    code = draw.choice([*levels, None])
    questions = tuple(Question("", tuple(levels[i + 1 :]), (levels[i],)) for i in range(len(levels) - 1))
    every: list[Coding] = [
        Dummy(code),
        Dummy(code),
        Effect(code),
        WeightedEffect(code),
        Adjacent(),
        AgainstMean(True),
        AgainstMean(False),
        Trends(),
        Planned(questions),
        LevelMeans(),
    ]
    return draw.choice(every)


# ---- reckoning: cases, columns


def mean(values: Sequence[Number]) -> Number:
    return mpmath.fsum(values) / len(values)


def sd(values: Sequence[Number]) -> Number:
    middle = mean(values)
    return (
        mpmath.sqrt(mpmath.fsum((v - middle) ** 2 for v in values) / (len(values) - 1)) if len(values) > 1 else mpf(0)
    )


def median(values: Sequence[Number]) -> Number:
    ordered, n = sorted(values), len(values)
    return (ordered[(n - 1) // 2] + ordered[n // 2]) / 2


def _between(known: list[tuple[Number, Number]], value: Number) -> Number:
    """The rank of a value; between two cases it lies as far between their ranks, beyond the last it is theirs."""
    for (a, low), (b, high) in itertools.pairwise(known):
        if a <= value < b:
            return low + (high - low) * (value - a) / (b - a)
    return known[0][1] if value < known[0][0] else known[-1][1]


PLAIN: dict[Transform, Callable[[Number], Number]] = {
    Transform.LOG: mpmath.log,
    Transform.LOG1P: lambda v: mpmath.log(1 + v),
    Transform.ROOT: mpmath.sqrt,
    Transform.RECIPROCAL: lambda v: 1 / v,
    Transform.SQUARE: lambda v: v * v,
}


class Reckoned:
    """The last step's columns of a study and everything before it, in 60 digits."""

    def __init__(self, study: Study) -> None:
        self.study, self.model = study, study.model
        self.used = list(dict.fromkeys(n for t in self.model.terms for n in t.variables))
        self.kinds = {n: study.variable(n).kind for n in self.used}
        self.rows = self._cases()
        self.y = [self._value("y", i) for i in self.rows]
        self.codes = {n: self._codes(n) for n in self.used if self.kinds[n] is Kind.GROUP}
        self.axes = {n: self._axis(n) for n in self.used if self.kinds[n] is Kind.NUMBER}
        self.names = [(t, atoms) for block in self.model.steps for t in block.terms for atoms in self._atoms(t)]
        self.ends = list(itertools.accumulate(sum(len(self._atoms(t)) for t in b.terms) for b in self.model.steps))

    def _value(self, name: str, row: int) -> Number:
        return mpf(float(self.study.columns.numbers(name)[row]))

    def _level(self, name: str, row: int) -> str | None:
        at = int(self.study.columns.levels(name)[row])
        return None if at < 0 else self.study.variable(name).levels[at].code

    def _cases(self) -> list[int]:
        needed = [*self.used, "y"]
        needed += [t.zero.of for n in self.used if isinstance((t := self.model.treatment(n)).zero, WithinGroups)]
        needed += [name for name in [cluster_of(self.model.errors)] if name is not None]
        sample = self.study.sample_of(self.model)
        found: list[int] = []
        for row in range(self.study.table.n_rows):
            there = all(bool(self.study.columns.present(n)[row]) for n in needed)
            if there and sample is not None and sample.rule is not None:
                there = self._holds(sample.rule, row)
            if there:
                found.append(row)
        return found

    def _holds(self, rule: object, row: int) -> bool:
        if isinstance(rule, AtLeast):
            return (
                bool(self.study.columns.present(rule.variable)[row]) and self._value(rule.variable, row) >= rule.value
            )
        assert isinstance(rule, Not)
        assert isinstance(rule.rule, OneOf)
        level = self._level(rule.rule.variable, row)
        return level is not None and level not in rule.rule.values

    def _chain(self, name: str, over: Sequence[int]) -> Callable[[Number], Number]:
        """The coordinate of a raw value; ranks are those among the cases given."""
        limits = self.study.variable(name).limits
        steps: list[Callable[[Number], Number]] = []

        def upto(value: Number) -> Number:
            for step in steps:
                value = step(value)
            return value

        for transform in self.model.treatment(name).transforms:
            if transform is Transform.RANKS:
                known = [upto(self._value(name, i)) for i in over]
                ranks = [(v, mpf(sum(k < v for k in known)) + mpf(known.count(v) + 1) / 2) for v in sorted(set(known))]
                steps.append(lambda v, ranks=ranks: _between(ranks, v))  # type: ignore[misc]
            elif transform is Transform.REVERSE:
                assert limits is not None
                steps.append(lambda v, ends=limits: mpf(ends[0]) + mpf(ends[1]) - v)  # type: ignore[misc]
            else:
                steps.append(PLAIN[transform])
        return upto

    def _axis(self, name: str) -> tuple[Callable[[Number], Number], Number, Number, list[Number], Number]:
        """Coordinate of a raw value, zero, unit, the treated values of the cases, and how far doubles round them."""
        treatment = self.model.treatment(name)
        every = [i for i in range(self.study.table.n_rows) if self.study.columns.present(name)[i]]
        base = every if treatment.base is Base.ALL else self.rows
        chain = self._chain(name, base)
        taken, here = [chain(self._value(name, i)) for i in base], [chain(self._value(name, i)) for i in self.rows]
        zero, scale = treatment.zero, treatment.scale
        if isinstance(zero, WithinGroups):
            groups = [self._level(zero.of, i) for i in base]
            means = {g: mean([v for v, k in zip(taken, groups) if k == g]) for g in set(groups) if g is not None}
            here = [v - means[self._level(zero.of, i) or ""] for v, i in zip(here, self.rows)]
            spread, center = sd(here), mpf(0)
        else:
            spread = sd(taken)
            center = (
                mean(taken)
                if isinstance(zero, Mean)
                else median(taken)
                if isinstance(zero, Median)
                else mpf(zero.value)
                if isinstance(zero, At)
                else mpf(0)
            )
        unit = (
            (spread or mpf(1)) if isinstance(scale, OneSD) else mpf(scale.value) if isinstance(scale, Given) else mpf(1)
        )
        reach = max((abs(v) for v in taken), default=mpf(0)) + abs(center)
        return chain, center, unit, [(v - center) / unit for v in here], EPS * reach / unit

    def _codes(self, name: str) -> tuple[list[str], list[Row], list[Row]]:
        """Levels present, for each its code on every column, and what each comparison asks; codes solve for that."""
        coding, order = self.model.coding(name), [level.code for level in self.study.variable(name).levels]
        here = [self._level(name, i) for i in self.rows]
        levels = [code for code in order if code in here]
        k = len(levels)
        counts = [here.count(code) for code in levels]
        unit = [[mpf(i == j) for j in range(k)] for i in range(k)]
        if isinstance(coding, LevelMeans):
            return levels, unit, [[a - b for a, b in zip(unit[i], unit[0])] for i in range(1, k)]
        if k < 2:
            return levels, [[] for _ in levels], []
        base = [mpf(1) / k] * k
        if isinstance(coding, Dummy):
            at = levels.index(coding.reference) if coding.reference in levels else 0
            base = unit[at]
            asked = [[a - b for a, b in zip(unit[i], base)] for i in range(k) if i != at]
        elif isinstance(coding, Effect | WeightedEffect):
            if isinstance(coding, WeightedEffect):
                base = [mpf(c) / sum(counts) for c in counts]
            out = levels.index(coding.without) if coding.without in levels else k - 1
            asked = [[a - b for a, b in zip(unit[i], base)] for i in range(k) if i != out]
        elif isinstance(coding, Adjacent):
            asked = [[a - b for a, b in zip(unit[i + 1], unit[i])] for i in range(k - 1)]
        elif isinstance(coding, AgainstMean):
            asked = []
            for i in range(k - 1):
                one, others = (i, range(i + 1, k)) if coding.later else (i + 1, range(i + 1))
                asked.append([unit[one][j] - (mpf(1) / len(others) if j in others else 0) for j in range(k)])
        elif isinstance(coding, Trends):
            powers: list[Row] = []
            for degree in range(k):
                row = [mpf(i) ** degree for i in range(k)]
                for known in powers:
                    share = mpmath.fdot(row, known) / mpmath.fdot(known, known)
                    row = [a - share * b for a, b in zip(row, known)]
                powers.append(row)
            asked = [[v / mpmath.sqrt(mpmath.fdot(row, row)) for v in row] for row in powers[1:]]
        else:
            assert isinstance(coding, Planned)
            asked = []
            for q in coding.questions:
                sides = [[c for c in side if c in levels] for side in (q.one, q.other)]
                if all(sides):
                    plus, minus = ([mpf(c in side) / len(side) for c in levels] for side in sides)
                    asked.append([a - b for a, b in zip(plus, minus)])
        square = mpmath.matrix([base, *asked])
        inverse = square**-1
        return levels, [[inverse[i, j] for j in range(1, k)] for i in range(k)], asked

    def _atoms(self, t: Term) -> list[tuple[tuple[str, int | None], ...]]:
        choices = [
            [(n, c) for c in range(len(self.codes[n][1][0]))] if n in self.codes else [(n, None)] for n in t.variables
        ]
        return list(itertools.product(*choices))

    # ---- rows

    def at(self, numbers: dict[str, Number], weights: dict[str, Row], derive: str | None = None) -> Row:
        """The row of columns, the constant first, at treated numbers and level weights; or its derivative."""
        out = [mpf(0) if derive or not self.model.constant else mpf(1)]
        for _, atoms in self.names:
            parts = [
                numbers[n] if c is None else mpmath.fdot(weights[n], [row[c] for row in self.codes[n][1]])
                for n, c in atoms
            ]
            if derive is None:
                out.append(mpmath.fprod(parts))
                continue
            out.append(
                mpmath.fsum(mpmath.fprod(parts[:i] + parts[i + 1 :]) for i, (n, _) in enumerate(atoms) if n == derive)
            )
        return out

    def matrix(self) -> list[Row]:
        """The rows of all cases."""
        rows: list[Row] = []
        for k, i in enumerate(self.rows):
            numbers = {n: axis[3][k] for n, axis in self.axes.items()}
            weights = {
                n: [mpf(code == self._level(n, i)) for code in levels] for n, (levels, _, _) in self.codes.items()
            }
            rows.append(self.at(numbers, weights))
        return rows

    def roundings(self, columns: list[Row]) -> Row:
        """The length of what doubles lose of each column, the constant first."""
        n = len(self.rows)
        found = [mpf(0)]
        for column, (_, atoms) in zip(columns[1:], self.names):
            most = [max(abs(v) for v in self.axes[a][3]) if c is None else mpf(1) for a, c in atoms]
            own = [self.axes[a][4] if c is None else EPS for a, c in atoms]
            parts = [own[i] * mpmath.fprod(most[:i] + most[i + 1 :]) for i in range(len(atoms))]
            found.append(mpmath.sqrt(n) * mpmath.fsum(parts) + EPS * _length(column))
        return found

    def treated(self, name: str, place: Number) -> Number:
        """The treated value at a place of a number, as probes name it."""
        chain, center, unit, _, _ = self.axes[name]
        if isinstance(self.model.treatment(name).zero, WithinGroups):
            return place / unit
        return (chain(place) - center) / unit

    def typical(self) -> tuple[dict[str, Number], dict[str, Row]]:
        """Numbers at the mean of their treated values, groups at their shares."""
        numbers = {n: mean(axis[3]) for n, axis in self.axes.items()}
        weights: dict[str, Row] = {}
        for n, (levels, _, _) in self.codes.items():
            here = [self._level(n, i) for i in self.rows]
            weights[n] = [mpf(here.count(code)) / len(here) for code in levels]
        return numbers, weights


def at_place(reckoned: Reckoned, focal: str, weights: Row | None, where: list[tuple[str, Place]]) -> Row:
    """The row of an effect, the others at their middle."""
    numbers, shares = reckoned.typical()
    for name, place in where:
        if isinstance(place, NumberPlace):
            numbers[name] = reckoned.treated(name, mpf(place.value))
        elif isinstance(place, LevelPlace):
            shares[name] = [mpf(code == place.code) for code in reckoned.codes[name][0]]
    if weights is None:
        return reckoned.at(numbers, shares, derive=focal)
    n, rows = len(reckoned.codes[focal][0]), []
    for i in range(n):
        rows.append(reckoned.at(numbers, {**shares, focal: [mpf(i == j) for j in range(n)]}))
    return [mpmath.fsum(w * row[j] for w, row in zip(weights, rows)) for j in range(len(rows[0]))]


def order_of(study: Study, errors: Bootstrap) -> list[str]:
    """The clusters in the order in which they are drawn: that of a group's levels, else of the texts in the table."""
    if errors.cluster is None:
        return []
    variable, column = study.variable(errors.cluster), study.table.column(errors.cluster)
    if variable.kind is Kind.GROUP:
        return [level.code for level in variable.levels]
    assert isinstance(column, TextColumn)
    return list(column.texts)


# ---- reckoning: a step


class Step:
    """A step by the normal equations. Columns that others already say are left out, the later ones."""

    def __init__(self, of: Reckoned, rows: list[Row], index: int) -> None:
        self.model, self.n = of.model, len(of.rows)
        width = of.ends[index] + 1
        self.columns = [[row[j] for row in rows] for j in range(width)]
        self.roundings = of.roundings(self.columns)
        self.lengths = [_length(column) or mpf(1) for column in self.columns]
        self.kept, self.nulls, rests, self.basis = _independent(self.columns, of.model.constant)
        self.is_lost = any(rest <= LOST * self.roundings[j] for j, rest in zip(self.kept, rests))
        """Whether doubles hold hardly anything of what one of the columns says beside the others."""
        x = mpmath.matrix([[self.columns[j][i] for j in self.kept] for i in range(self.n)])
        y = mpmath.matrix(of.y)
        scale = [mpmath.sqrt(mpmath.fdot(self.columns[j], self.columns[j])) for j in self.kept]
        unit = mpmath.matrix([[x[i, j] / scale[j] for j in range(len(scale))] for i in range(self.n)])
        inner = (unit.T * unit) ** -1
        beta = inner * (unit.T * y)
        self.inverse = mpmath.matrix(len(scale), len(scale))
        for a, b in itertools.product(range(len(scale)), repeat=2):
            self.inverse[a, b] = inner[a, b] / scale[a] / scale[b]
        self.b = [beta[j] / scale[j] for j in range(len(scale))]
        self.e = [of.y[i] - mpmath.fsum(unit[i, j] * beta[j] for j in range(len(scale))) for i in range(self.n)]
        self.sse = mpmath.fdot(self.e, self.e)
        self.df = self.n - len(self.kept)
        self.x, self.y = x, of.y
        self.clusters = self._clusters(of)
        self.is_perfect = self.sse <= TINY * mpmath.fdot(of.y, of.y)

    def _clusters(self, of: Reckoned) -> list[str] | None:
        name = cluster_of(of.model.errors)
        return [of.study.table.column(name).text(i) for i in of.rows] if name is not None else None

    def row(self, g: Row) -> Row:
        return [g[j] for j in self.kept]

    def is_told(self, g: Row) -> bool:
        for null in self.nulls:
            parts = [a * b for a, b in zip(null, g)]
            own = max(abs(a) * size for a, size in zip(null, self.lengths))
            asked = max(abs(b) / size for b, size in zip(g, self.lengths))
            if abs(mpmath.fsum(parts)) > mpf(10) ** -20 * max(mpmath.fsum(abs(v) for v in parts), own * asked):
                return False
        return True

    def effect(self, g: Row) -> Number:
        return mpmath.fdot(self.row(g), self.b)

    @property
    def test_df(self) -> int:
        return len(set(self.clusters)) - 1 if self.clusters is not None else self.df

    def variance(self, g: Row) -> Number | None:
        """g V g'; None where this kind of errors does not exist."""
        found = self.covariance([g])
        return None if found is None else found[0][0]

    def covariance(self, gs: list[Row]) -> list[Row] | None:
        """G V G'; None where this kind of errors does not exist."""
        parts: list[Row] = []
        for g in gs:
            h = mpmath.matrix(self.row(g)).T * self.inverse * self.x.T
            parts.append([h[i] for i in range(self.n)])
        errors, p = self.model.errors, len(self.kept)
        if isinstance(errors, Classical):
            s2 = self.sse / self.df
            return [[mpmath.fdot(a, b) * s2 for b in parts] for a in parts]
        if isinstance(errors, HC):
            leverage = [(self.x[i, :] * self.inverse * self.x[i, :].T)[0] for i in range(self.n)]
            if errors.kind >= 2 and any(1 - v < mpf(10) ** -10 for v in leverage):
                return None
            sizes = [self._weight(errors.kind, v, p) * e**2 for v, e in zip(leverage, self.e)]
            return [[mpmath.fsum(w * u * v for w, u, v in zip(sizes, a, b)) for b in parts] for a in parts]
        assert self.clusters is not None
        ids = sorted(set(self.clusters))
        if len(ids) < 2:
            return None
        k, scored = len(ids), [[(a * e, c) for a, e, c in zip(part, self.e, self.clusters)] for part in parts]
        sums = [[mpmath.fsum(v for v, c in score if c == one) for one in ids] for score in scored]
        factor = mpf(k) / (k - 1) * (self.n - 1) / (self.n - p)
        return [[mpmath.fdot(a, b) * factor for b in sums] for a in sums]

    def _weight(self, kind: int, leverage: Number, p: int) -> Number:
        """How much a squared residual counts under HC0 to HC4."""
        match kind:
            case 0:
                return mpf(1)
            case 1:
                return mpf(self.n) / (self.n - p)
            case 2:
                return 1 / (1 - leverage)
            case 3:
                return 1 / (1 - leverage) ** 2
            case _:
                return (1 - leverage) ** -min(mpf(4), self.n * leverage / p)

    @property
    def noise(self) -> Number:
        """How long the residuals may be by the rounding of columns and outcome to doubles alone."""
        reach = mpmath.fsum(abs(b) * self.roundings[j] for b, j in zip(self.b, self.kept)) + EPS * _length(self.y)
        return 32 * reach

    def rounding(self, g: Row) -> Number:
        """How far g·b may be off where every entry of the columns is rounded to a double."""
        return self.noise * mpmath.sqrt(self.bare(g))

    def bare(self, g: Row) -> Number:
        """The variance over s² if all errors were alike: what a variance of 0 is judged by."""
        row = mpmath.matrix(self.row(g))
        return (row.T * self.inverse * row)[0]


def _length(column: Row) -> Number:
    return mpmath.sqrt(mpmath.fdot(column, column))


def _independent(columns: list[Row], constant: bool) -> tuple[list[int], list[Row], Row, list[tuple[Row, Row]]]:
    """Which columns say something new, from the first on, how each of the others is a sum of them, how long what is
    new is, and a basis of them: each vector, and how it is a sum of the columns."""
    kept: list[int] = []
    basis: list[tuple[Row, Row]] = []
    nulls: list[Row] = []
    rests: Row = []
    for j, column in enumerate(columns):
        if j == 0 and not constant:
            continue
        rest, weights = list(column), [mpf(i == j) for i in range(len(columns))]
        for _ in range(2):
            for unit, made in basis:
                share = mpmath.fdot(rest, unit)
                rest = [a - share * b for a, b in zip(rest, unit)]
                weights = [a - share * b for a, b in zip(weights, made)]
        size = _length(rest)
        if size <= mpf(10) ** -25 * max(_length(column), TINY):
            nulls.append(weights)
            continue
        kept.append(j)
        rests.append(size)
        basis.append(([v / size for v in rest], [v / size for v in weights]))
    return kept, nulls, rests, basis
