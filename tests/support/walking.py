"""Random walks of edits: every edit of a study, found by itself, with arguments that somebody could give it."""

from __future__ import annotations

import importlib
import inspect
import pkgutil
import random
from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from functools import lru_cache
from types import MappingProxyType
from typing import Any, TypeVar

import numpy as np

from tests.support.drawnfigures import drawn_figure, drawn_shown, tuned
from yellow_slope.core.data.byhand import made_by_hand
from yellow_slope.core.data.conditions import All, AtLeast, Between, Is, Missing, Not, OneOf, Rule
from yellow_slope.core.data.derived import Arithmetic, Constant, Derived, Named
from yellow_slope.core.data.source import Source
from yellow_slope.core.data.table import Column, NumberColumn, Stray, Table, number_column, text_column
from yellow_slope.core.data.variable import Kind, Variable
from yellow_slope.core.stand.rivals import (
    AnyOneOut,
    CovariateProducts,
    Form,
    OneLevel,
    OtherErrors,
    OutcomeAs,
    PutBack,
    Rival,
    Squares,
    WithoutFar,
)
from yellow_slope.core.study import edits
from yellow_slope.core.study.checks import Check, FarBy
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
from yellow_slope.core.study.edits.levels import next_order
from yellow_slope.core.study.edits.retabling import with_table
from yellow_slope.core.study.figures import Figure
from yellow_slope.core.study.flagkeys import FlagKey, FlagKind
from yellow_slope.core.study.model import Model
from yellow_slope.core.study.probe import (
    Compared,
    EffectUnit,
    PickPoints,
    PickRule,
    Probe,
    RegionRule,
    Second,
    Smallest,
)
from yellow_slope.core.study.report import (
    FEWEST_DECIMALS,
    MOST_CHOSEN,
    BesideCorrelation,
    CoefficientFigure,
    PartKind,
    ReadySet,
)
from yellow_slope.core.study.rules import Sample, SetAside
from yellow_slope.core.study.standarderrors import HC, Bootstrap, Classical, Cluster, Errors, IntervalWay
from yellow_slope.core.study.study import Study, new_study
from yellow_slope.core.study.terms import Block, Term
from yellow_slope.core.study.treatment import (
    READY,
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
from yellow_slope.core.study.whole import EDITS
from yellow_slope.values import replace

ROWS = 26

T = TypeVar("T")


def every_edit() -> dict[str, Callable[..., Study]]:
    """All edits, by name; reading another table and the next order of levels are edits that also tell something."""
    for module in pkgutil.iter_modules(edits.__path__):
        importlib.import_module(f"{edits.__name__}.{module.name}")
    return {
        **EDITS,
        "retabling.with_table": lambda study, table: with_table(study, table, Source("again.csv", checksum="again"))[0],
        "levels.next_order": lambda study, name: next_order(study, name)[0],
    }


@lru_cache(maxsize=64)
def start(seed: int) -> Study:
    """A study of an awkward table, about which nothing has been said."""
    noise = np.random.default_rng(seed)
    g = [("none", "some", "much")[i % 3] for i in range(ROWS)]
    x = np.round(noise.normal(20, 6, ROWS), 1)
    item = noise.integers(1, 6, ROWS).astype(np.float64)
    w = noise.normal(0, 1, ROWS)
    w[[3, 8]] = np.nan
    score = np.where(np.arange(ROWS) == 7, 999.0, np.round(noise.normal(50, 9, ROWS)))
    score[2] = np.nan
    columns: list[Column] = [
        number_column("y", np.round(3 + 0.4 * x + item + noise.normal(0, 2, ROWS), 2)),
        number_column("x", x),
        number_column("w", w),
        replace(number_column("score", score), stray=(Stray(2, "ill"),)),
        number_column("item", item),
        number_column("night", [float(i % 2) for i in range(ROWS)]),
        text_column("g", g),
        text_column("site", [("north", "south")[(i // 3) % 2] if i != 5 else "" for i in range(ROWS)]),
        number_column("x centered", x - x.mean()),
        *(number_column(f"g {name}", [float(v == name) for v in g]) for name in ("none", "some", "much")),
    ]
    return new_study(Table(tuple(columns)), "A walk")


@dataclass(slots=True)
class Walk:
    """One walk: a seed, and what was done."""

    seed: int
    done: list[str] = field(default_factory=list)
    rng: random.Random = field(init=False)

    def __post_init__(self) -> None:
        self.rng = random.Random(self.seed)

    def edit(self, study: Study, name: str, function: Callable[..., Study]) -> Callable[[Study], Study]:
        """An edit with arguments drawn for the study."""
        signature = inspect.signature(function)
        given: list[Any] = []
        named: dict[str, Any] = {}
        for parameter in list(signature.parameters.values())[1:]:
            if parameter.kind is inspect.Parameter.VAR_KEYWORD:
                named.update(self.model_changes(study))
                continue
            drawn = self.argument(study, name, parameter.name)
            if parameter.kind is inspect.Parameter.KEYWORD_ONLY:
                named[parameter.name] = drawn
            else:
                given.append(drawn)
        self.done.append(f"{name}({', '.join([*map(repr, given), *(f'{k}={v!r}' for k, v in named.items())])})")
        return lambda now: function(now, *given, **named)

    # ---- arguments

    def argument(self, study: Study, edit: str, name: str) -> Any:
        """An argument of that name; one that is not known here is an edit that nobody walks."""
        draw = getattr(self, f"a_{edit.replace('.', '_')}_{name}", None) or getattr(self, f"a_{name}", None)
        assert draw is not None, f"{edit} takes “{name}”, for which no value is drawn: say here what it may be"
        return draw(study)

    def chance(self, p: float) -> bool:
        return self.rng.random() < p

    def pick(self, things: Iterable[T]) -> T:
        return self.rng.choice(list(things))

    def a_checks_set_cutoff_by(self, study: Study) -> FarBy:
        return self.pick(FarBy)

    def a_checks_set_cutoff_value(self, study: Study) -> float | None:
        return self.pick([None, 2.0, 0.05, 13.8, -1.0])

    def a_checks_set_distance_exact(self, study: Study) -> bool:
        return self.chance(0.5)

    def a_checks_set_distance_groups(self, study: Study) -> bool:
        return self.chance(0.5)

    def a_checks_set_split_name(self, study: Study) -> str | None:
        return self.pick([None, self.group(study), self.group(study)])

    def a_check(self, study: Study) -> Check:
        return self.pick(Check)

    def a_printed(self, study: Study) -> bool:
        return self.chance(0.5)

    def a_rival(self, study: Study) -> Rival:
        x = self.number(study)
        rows = tuple(self.pick(range(study.table.n_rows)) for _ in range(2))
        group = study.variable(self.group(study))
        rivals: list[Rival] = [
            OtherErrors(HC(3)),
            AnyOneOut(),
            WithoutFar(FarBy.COOK, 0.1, False, rows),
            PutBack(rows),
            Squares((Term((x, x)),)),
            CovariateProducts(x, (Term((x, self.a_name(study))),), 1),
            *(OutcomeAs(form) for form in Form if study.model.outcome is not None),
            *(OneLevel(group.name, level.code) for level in group.levels[:2]),
        ]
        return self.pick(rivals)

    def a_rivals_adopt_product(self, study: Study) -> Term:
        return self.pick([t for t in study.model.terms if t.is_product] or [Term(("x", "w"))])

    def a_name(self, study: Study) -> str:
        return self.pick(v.name for v in study.variables)

    def a_names(self, study: Study) -> list[str]:
        return [self.a_name(study) for _ in range(self.rng.randint(1, 3))]

    def number(self, study: Study) -> str:
        return self.pick([v.name for v in study.variables if v.kind is Kind.NUMBER] or [study.variables[0].name])

    def group(self, study: Study) -> str:
        return self.pick([v.name for v in study.variables if v.kind is Kind.GROUP] or [study.variables[0].name])

    def code_of(self, study: Study, name: str) -> str:
        return self.pick([level.code for level in study.variable(name).levels] or ["0"])

    def a_code(self, study: Study) -> str:
        return self.code_of(study, self.group(study)) if self.chance(0.8) else self.pick(["0", "1", "3", "999", "ill"])

    def a_term(self, study: Study) -> Term:
        if study.model.terms and self.chance(0.5):
            return self.pick(study.model.terms)
        return Term(tuple(self.a_name(study) for _ in range(self.rng.choice([1, 1, 2, 2, 3]))))

    def a_terms(self, study: Study) -> list[Term]:
        return [self.a_term(study) for _ in range(self.rng.randint(1, 3))]

    def a_blocks(self, study: Study) -> list[Block]:
        return [Block(tuple(self.a_terms(study)), on=self.chance(0.9)) for _ in range(self.rng.randint(1, 3))]

    def a_block(self, study: Study) -> int | None:
        places: list[int | None] = [None, *range(len(study.model.blocks) + 1)]
        return self.pick(places)

    def a_index(self, study: Study) -> int:
        return self.rng.randrange(max(1, len(study.model.blocks)))

    def a_on(self, study: Study) -> bool:
        return self.chance(0.4)

    def a_by(self, study: Study) -> int:
        return self.pick([-1, 1])

    def a_constant(self, study: Study) -> bool:
        return self.chance(0.6)

    def a_treatment(self, study: Study) -> Treatment:
        if self.chance(0.5):
            return self.pick(READY)
        zeros: list[Zero] = [Raw(), Mean(), Median(), At(self.pick([0.0, 3.0, -1.5])), WithinGroups(self.group(study))]
        units: list[Scale] = [One(), OneSD(), Given(2.5)]
        transforms = self.pick([(), (), (self.pick(Transform),), (Transform.REVERSE, Transform.RANKS)])
        return Treatment(transforms, self.pick(zeros), self.pick(units), self.pick(Base))

    def a_question(self, study: Study, name: str) -> Question:
        codes = [level.code for level in study.variable(name).levels]
        self.rng.shuffle(codes)
        cut = self.rng.randint(1, max(1, len(codes) - 1))
        if len(codes) > 1 and self.chance(0.2):
            return Question(weights=((codes[0], 1.0), (codes[1], -1.0)))
        return Question(self.pick(["", "mine"]), tuple(codes[:cut]), tuple(codes[cut : cut + 2]))

    def coding_of(self, study: Study, name: str) -> Coding:
        codes = [level.code for level in study.variable(name).levels]
        code = self.pick([*codes, None])
        names = self.pick([(), ((codes[0], "mine"),)]) if codes else ()
        spacing = tuple((c, float(2**i)) for i, c in enumerate(codes))
        every: list[Coding] = [
            Dummy(code, names=names),
            Effect(code, names=names),
            WeightedEffect(code),
            Adjacent(),
            AgainstMean(self.chance(0.5)),
            Trends(self.pick([(), spacing])),
            Planned(tuple(self.a_question(study, name) for _ in range(2))),
            LevelMeans(),
        ]
        return self.pick(every)

    def a_coding(self, study: Study) -> Coding:
        return self.coding_of(study, self.group(study))

    def a_questions(self, study: Study) -> list[Question]:
        name = self.group(study)
        return [self.a_question(study, name) for _ in range(self.rng.randint(0, 3))]

    def a_place(self, study: Study) -> int:
        return self.rng.randrange(3)

    def a_side(self, study: Study) -> int:
        return self.pick([-1, 0, 1])

    def a_key(self, study: Study) -> str:
        return self.pick([self.a_code(study), "1", "0"])

    def a_level(self, study: Study) -> float:
        return self.pick([0.9, 0.95, 0.99])

    def a_block_id(self, study: Study) -> str | None:
        return self.pick([None, *(block.id for block in study.model.blocks)])

    def a_errors(self, study: Study) -> Errors:
        drawn = Bootstrap(self.pick(IntervalWay), 1000, 3, self.pick([None, None, self.a_name(study)]))
        every: list[Errors] = [Classical(), HC(self.rng.randrange(5)), Cluster(self.a_name(study)), drawn]
        return self.pick(every)

    def a_rule(self, study: Study) -> Rule:
        name = self.a_name(study)
        plain: list[Rule] = [AtLeast(name, 1.0), Between(name, 0.0, 40.0), Missing(name), Is(name, self.a_code(study))]
        rule = self.pick(plain)
        if self.chance(0.3):
            group = self.group(study)
            rule = OneOf(group, (self.code_of(study, group), self.code_of(study, group)))
        made: list[Rule] = [rule, rule, Not(rule), All((rule, AtLeast(self.number(study), 0.0)))]
        return self.pick(made)

    def a_rows(self, study: Study) -> list[int]:
        return [self.rng.randrange(study.table.n_rows) for _ in range(self.rng.randint(1, 3))]

    def a_sample_name(self, study: Study) -> str:
        return self.pick([*(s.name for s in study.samples), "sample 1", "some"])

    a_old = a_new = a_sample_name

    def a_samples_set_sample_name(self, study: Study) -> str | None:
        return self.pick([None, self.a_sample_name(study)])

    a_samples_new_sample_name = a_samples_remove_sample_name = a_sample_name

    def a_sample(self, study: Study) -> Sample:
        aside = (SetAside(tuple(sorted(set(self.a_rows(study)))), "wet"),)
        return Sample(self.a_sample_name(study), self.pick([None, self.a_rule(study)]), self.pick([(), aside]))

    def a_reason(self, study: Study) -> str:
        return self.pick(["wet", "left early"])

    def a_models_set_by_name(self, study: Study) -> str | None:
        return self.pick([None, self.group(study)])

    def a_blocks_set_outcome_name(self, study: Study) -> str | None:
        return self.pick([None, "y", "y", self.number(study)])

    def a_model_id(self, study: Study) -> str:
        return self.pick(m.id for m in study.models)

    def a_model(self, study: Study) -> Model:
        changes = {k: v for k, v in self.model_changes(study).items() if k != "id"}
        return replace(self.pick(study.models), id=self.pick(["m1", "m2", "m7"]), **changes)

    def model_changes(self, study: Study) -> dict[str, Any]:
        group = self.group(study)
        every = {
            "outcome": self.a_blocks_set_outcome_name(study),
            "blocks": tuple(self.a_blocks(study)),
            "entries": MappingProxyType(
                {group: self.coding_of(study, group), self.number(study): self.a_treatment(study)}
            ),
            "constant": self.chance(0.7),
            "level": self.a_level(study),
            "errors": self.a_errors(study),
            "leave_out_first": (self.a_term(study),),
            "by": self.pick([None, group]),
            "reported": self.a_block_id(study),
            "sample": self.pick([None, *(s.name for s in study.samples)]),
        }
        return dict(self.rng.sample(sorted(every.items()), 2))

    def a_probe(self, study: Study) -> Probe:
        pairs = [t.variables for t in study.model.terms if t.is_product] or [("x", "g")]
        names = self.pick(pairs)
        focal, moderator = names[0], names[-1]
        third = self.pick([n for n in names if n not in (focal, moderator)] or [self.a_name(study)])
        held: list[tuple[str, str | float]] = []
        for name in dict.fromkeys((self.a_name(study), self.a_name(study))):
            group = study.variable(name).kind is Kind.GROUP
            held.append((name, self.code_of(study, name) if group else 2.0))
        pick = PickPoints(self.pick(PickRule), self.pick([(), (1.0, 3.0)]))
        return Probe(
            focal,
            moderator,
            self.a_block_id(study),
            pick,
            tuple(held) if self.chance(0.5) else (),
            self.pick([None, None, Second(third)]),
            self.pick(RegionRule),
            self.pick([None, None, self.a_model_id(study)]),
            self.pick(EffectUnit),
            self.pick([None, None, Smallest(0.3, self.pick(EffectUnit))]),
            self.pick(Compared),
            self.pick(["", "", "first look", "another"]),
        )

    def a_figure(self, study: Study) -> Figure:
        if study.figures and self.chance(0.5):
            return tuned(self.rng, study, self.pick(study.figures))
        shows = drawn_shown(self.rng, study, self.a_probe(study))
        return drawn_figure(self.rng, study, shows, self.pick(["first", "second", "a probe by lot"]))

    def a_figures_tune_figure_name(self, study: Study) -> str:
        return self.pick([*(f.name for f in study.figures), "first"])

    a_figures_drop_figure_name = a_figures_move_figure_name = a_figures_tune_figure_name

    def a_figures_add_figure_probe(self, study: Study) -> Probe | None:
        return self.pick([None, self.a_probe(study)])

    def a_part(self, study: Study) -> PartKind:
        return self.pick(PartKind)

    def a_ready(self, study: Study) -> ReadySet:
        return self.pick(ReadySet)

    def a_decimals(self, study: Study) -> int:
        return self.pick(range(FEWEST_DECIMALS, MOST_CHOSEN + 1))

    def a_beside(self, study: Study) -> BesideCorrelation:
        return self.pick(BesideCorrelation)

    def a_report_set_beside_figure(self, study: Study) -> CoefficientFigure:
        return self.pick(CoefficientFigure)

    def a_above(self, study: Study) -> str:
        return self.pick(["", "As we thought.", "In short:\nnothing."])

    a_below = a_above

    def a_points(self, study: Study) -> float:
        return self.pick([9.0, 11.0, 2.0])

    def a_probes_drop_probe_name(self, study: Study) -> str:
        return self.pick([*(p.name for p in study.probes), "first look"])

    def a_before(self, study: Study) -> Probe | None:
        return self.pick([None, *study.probes])

    def a_flag(self, study: Study) -> FlagKey:
        kind = self.pick(FlagKind)
        about = tuple(sorted(self.a_term(study).variables))
        return FlagKey(kind, about, "999" if kind is FlagKind.MISSING_CODE else "")

    def a_kind(self, study: Study) -> Kind:
        return self.pick(Kind)

    def a_label(self, study: Study) -> str | None:
        return self.pick(["night school", "none", "some", "how long a name may be before nobody reads it"])

    def a_labels(self, study: Study) -> list[str]:
        return [self.pick(["a", "b", "none", "d"]) for _ in range(self.rng.choice([2, 3, 3, 5]))]

    a_wanted = a_labels

    def a_unit(self, study: Study) -> str | None:
        return self.pick([None, "hour", "point"])

    def a_value(self, study: Study) -> float | None:
        return self.pick([None, 0.8, 3.0])

    def a_text(self, study: Study) -> str:
        name = self.number(study)
        return self.pick(
            ["ill", f"[{name}] * 2", f"mean of [{name}] and [x]", f"1 if [{name}] is at least 3 else 0", "new"]
        )

    def a_computed_derive_name(self, study: Study) -> str:
        return self.pick(["twice", "third", "fourth"])

    def a_computed_remove_derived_name(self, study: Study) -> str:
        return self.pick([d.name for d in study.derived] or [self.a_name(study)])

    a_computed_redefine_name = a_computed_remove_derived_name

    def a_derived(self, study: Study) -> Derived:
        return Derived("added", Arithmetic("+", Named(self.number(study)), Constant(1.0)))

    def a_variable(self, study: Study) -> Variable:
        return Variable("added", Kind.NUMBER, "added")

    def a_descriptions_change_variable_new(self, study: Study) -> Variable:
        variable = study.variable(self.a_name(study))
        limits = self.pick([None, (0.0, 60.0)])
        if variable.kind is Kind.GROUP and len(variable.levels) > 2 and self.chance(0.3):
            return replace(variable, levels=variable.levels[1:])
        return replace(variable, label=self.a_label(study) or "", limits=limits)

    def a_found(self, study: Study) -> Any:
        found = made_by_hand(study.table).indicators
        return self.pick(found) if found else None

    def a_shifted(self, study: Study) -> Any:
        return made_by_hand(study.table).shifted

    def a_multiplied(self, study: Study) -> Any:
        return made_by_hand(study.table).multiplied

    def a_instead(self, study: Study) -> dict[str, tuple[str, ...]]:
        return {self.a_name(study): (self.a_name(study), self.a_name(study))}

    def a_table(self, study: Study) -> Table:
        columns = list(study.table.columns)
        if len(columns) > 5 and self.chance(0.5):
            columns.pop(self.rng.randrange(1, len(columns)))
        at = self.rng.randrange(len(columns))
        if isinstance(columns[at], NumberColumn) and columns[at].name != "y" and self.chance(0.4):
            columns[at] = text_column(columns[at].name, [("few", "many")[i % 2] for i in range(len(columns[at]))])
        if self.chance(0.3):
            n = max(12, study.table.n_rows - 4)
            columns = [_first(column, n) for column in columns]
        return Table(tuple(columns))


def _first(column: Column, n: int) -> Column:
    if isinstance(column, NumberColumn):
        short = number_column(column.name, column.numbers[:n])
        return replace(short, stray=tuple(s for s in column.stray if s.row < n))
    return text_column(column.name, [column.text(i) for i in range(n)])
