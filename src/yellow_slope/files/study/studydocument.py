"""study.json: the study's own part, as its types describe it. The table and its columns stand beside it."""

from __future__ import annotations

import logging
from collections.abc import Mapping
from typing import Annotated, Any, Literal

from msgspec import Meta

from yellow_slope.core.data.derived import MOST_COMPUTED, Derived, sources_of
from yellow_slope.core.data.formula import expression_text, read_expression
from yellow_slope.core.data.source import Source
from yellow_slope.core.data.table import Table
from yellow_slope.core.data.variable import Kind, Variable
from yellow_slope.core.errors import FileError, StudyError, YellowSlopeError
from yellow_slope.core.study.checks import Check, Checks
from yellow_slope.core.study.figures import LEAST_LETTERS, MOST_FIGURES, MOST_LETTERS, Figure
from yellow_slope.core.study.flagkeys import Dismissal, FlagKey
from yellow_slope.core.study.gone import Gone, What
from yellow_slope.core.study.model import Model
from yellow_slope.core.study.probe import MOST_PROBES, Probe
from yellow_slope.core.study.report import CoefficientFigure, ReportChoice
from yellow_slope.core.study.rules import Sample
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.whole import made_whole
from yellow_slope.files.safely.checksums import checksum_of
from yellow_slope.files.study.migrations import NEWEST, newest
from yellow_slope.files.study.typed import as_json, from_json
from yellow_slope.values import dataclass, replace

log = logging.getLogger(__name__)
MOST_REMARKS = 20_000
"""Of more remarks of one kind nobody made them."""
MOST_MODELS = 1000


@dataclass(frozen=True, slots=True)
class Computed:
    """A computed variable."""

    expression: str
    """How it is computed, with the columns' own names in brackets."""
    variable: Variable
    """What it is."""


@dataclass(frozen=True, slots=True)
class StudyDocument:
    """The analysis: everything of a study but its table and what the table's columns are."""

    format: Literal["yellow-slope-study"]
    """What this document is."""
    version: Literal[10]
    """Version of the format."""
    name: str
    """Name of the study."""
    source: Source
    """Where the table came from."""
    computed: Annotated[tuple[Computed, ...], Meta(max_length=MOST_COMPUTED)]
    """Computed variables, each after those it rests on."""
    otherwise: Mapping[str, Kind]
    """Columns that are numbers only as outcomes, and what they are otherwise."""
    samples: Annotated[tuple[Sample, ...], Meta(max_length=MOST_MODELS)]
    """Samples that models may rest on."""
    models: Annotated[tuple[Model, ...], Meta(min_length=1, max_length=MOST_MODELS)]
    """The models."""
    current: str
    """Id of the model that is worked on."""
    probes: Annotated[tuple[Probe, ...], Meta(max_length=MOST_PROBES)]
    """Questions to the models."""
    checks: Checks
    """What was decided about checks."""
    figure_letters: Annotated[float, Meta(ge=LEAST_LETTERS, le=MOST_LETTERS)]
    """Size of the letters of figures that were not made one's own, in points."""
    figures: Annotated[tuple[Figure, ...], Meta(max_length=MOST_FIGURES)]
    """Figures that were made one's own."""
    report: ReportChoice
    """What the report prints."""
    dismissals: tuple[Dismissal, ...]
    """Flags put aside."""
    pinned: tuple[FlagKey, ...]
    """Flags that stand until they are put aside."""


def study_document(study: Study) -> dict[str, Any]:
    """The study's own part as it stands in a file."""
    by_name = {v.name: v for v in study.variables}
    source = study.source
    document = StudyDocument(
        format="yellow-slope-study",
        version=NEWEST,
        name=study.name,
        source=source if source.checksum else replace(source, checksum=checksum_of(study.table)),
        computed=tuple(Computed(expression_text(d.expression, by_name), by_name[d.name]) for d in study.derived),
        otherwise={v.name: v.otherwise for v in study.variables if v.otherwise is not None and v.name in study.table},
        samples=study.samples,
        models=study.models,
        current=study.current,
        probes=study.probes,
        checks=study.checks,
        figure_letters=study.figure_letters,
        figures=study.figures,
        report=study.report,
        dismissals=study.dismissals,
        pinned=study.pinned,
    )
    found: dict[str, Any] = as_json(document)
    return found


def read_document(raw: dict[str, Any], name: str) -> StudyDocument:
    """The study's own part, of whatever version. FileError says what is wrong."""
    if raw.get("format") == "yellow-slope-study" and isinstance(raw.get("version"), int) and raw["version"] > NEWEST:
        raise FileError(
            f"{name} was written by a newer Yellow Slope (study version {raw['version']}; this one reads {NEWEST})."
        )
    try:
        now = newest(raw)
    except FileError as error:
        raise FileError(f"{name}: {error}") from error
    except (KeyError, TypeError, AttributeError, IndexError) as error:
        raise FileError(f"{name}: study.json of version {raw.get('version')} lacks {error}.") from error
    try:
        return from_json(now, StudyDocument, f"{name}: study.json")
    except StudyError as error:
        raise FileError(f"{name}: {error}") from error


def study_of(document: StudyDocument, table: Table, variables: tuple[Variable, ...]) -> Study:
    """The study of a document. What it names but does not hold is let go, and stands in `Study.went`."""
    for what, n in (
        ("dismissed flags", len(document.dismissals)),
        ("flags that are kept in view", len(document.pinned)),
        ("sets of cases set aside", sum(len(sample.aside) for sample in document.samples)),
    ):
        if n > MOST_REMARKS:
            raise StudyError(f"it holds {n:,} {what}; more than {MOST_REMARKS:,} are not read.")
    for what, names in (
        ("samples", [s.name for s in document.samples]),
        ("models", [m.id for m in document.models]),
        ("figures", [f.name for f in document.figures]),
    ):
        if len(set(names)) < len(names):
            raise StudyError(f"two {what} have one name.")
    went: list[Gone] = []
    computed = _computed(document, variables, went)
    lent = {v.name: document.otherwise[v.name] for v in variables if v.name in document.otherwise}
    study = Study(
        table,
        (
            *(replace(v, otherwise=lent[v.name]) if v.name in lent and v.kind is Kind.NUMBER else v for v in variables),
            *(variable for _, variable in computed),
        ),
        name=document.name,
        source=document.source,
        derived=tuple(derived for derived, _ in computed),
        samples=document.samples,
        models=document.models,
        current=document.current,
        probes=document.probes,
        checks=_checks(document.checks),
        figure_letters=document.figure_letters,
        figures=tuple(_figure(figure) for figure in document.figures),
        report=_report(document.report),
        dismissals=document.dismissals,
        pinned=tuple(key for key in document.pinned if key.about),
        went=tuple(went),
    )
    return made_whole(study)


def _computed(
    document: StudyDocument, variables: tuple[Variable, ...], went: list[Gone]
) -> list[tuple[Derived, Variable]]:
    """The computed variables that can be read and rest on what comes before them."""
    seen = {v.name for v in variables}
    every = (*variables, *(one.variable for one in document.computed))  # what may be named is looked up once
    kept: list[tuple[Derived, Variable]] = []
    for one in document.computed:
        name = one.variable.name
        if name in seen:
            raise StudyError(f"two variables are named “{name}”.")
        try:
            expression = read_expression(one.expression, every, stored=True)
        except YellowSlopeError:
            log.info("a computed variable that cannot be read", exc_info=True)
            went.append(Gone(What.COMPUTED, (name,)))
            continue
        if not seen.issuperset(sources_of(expression)):  # what it rests on is gone, or comes after it
            went.append(Gone(What.COMPUTED, (name,)))
            continue
        seen.add(name)
        kept.append((Derived(name, expression), one.variable))
    return kept


# ---- what may stand in a file in another order, or twice


def _checks(said: Checks) -> Checks:
    return replace(said, printed=tuple(check for check in Check if check in said.printed))


def _report(said: ReportChoice) -> ReportChoice:
    return replace(
        said,
        parts=tuple({part.kind: part for part in said.parts}.values()),
        assigned=tuple(dict.fromkeys(said.assigned)),
        beside=tuple(figure for figure in CoefficientFigure if figure in said.beside),
    ).whole()


def _figure(said: Figure) -> Figure:
    axes = tuple((k, a) for k, a in said.axes if a.low is None or a.high is None or a.low < a.high)
    return said if axes == said.axes else replace(said, axes=axes)
