"""Whether report, screen and results say the same numbers."""

from __future__ import annotations

import json
import math
from collections.abc import Iterator
from typing import Any

from yellow_slope.app.blocks.figures import Figures
from yellow_slope.app.probe.tables import apart_rows, still_rows, text_of
from yellow_slope.app.state.desk import Density
from yellow_slope.core.fit.fitted.evaluate import Evaluation
from yellow_slope.core.fit.fitted.fit import Fit
from yellow_slope.core.probe.probed import Probed
from yellow_slope.core.probe.seen import Seen, Sight
from yellow_slope.core.study.edits.report import choose_set
from yellow_slope.core.study.report import PartKind, ReadySet
from yellow_slope.core.told.cells import Role
from yellow_slope.core.told.coefficients import CoefficientColumn
from yellow_slope.core.told.effects import EffectColumn
from yellow_slope.core.told.tables import Table
from yellow_slope.core.words.sentences.effects import EffectReader
from yellow_slope.core.words.spelling.numerals import DIGIT_SPACE
from yellow_slope.files.safely.jsontext import json_text
from yellow_slope.files.study.typed import as_json
from yellow_slope.files.written.results import results_document
from yellow_slope.report.document import Report
from yellow_slope.report.parts import build_report, probes_of
from yellow_slope.report.probetables import effects_table

COMPARED = (
    PartKind.VARIABLES,
    PartKind.STEPS,
    PartKind.COEFFICIENTS,
    PartKind.GROUPS,
    PartKind.MODELS,
    PartKind.PROBES,
    PartKind.REGIONS,
    PartKind.CROSSOVER,
)
"""Parts whose tables hold results."""
ON_SCREEN = {c.head(0.95): c for c in CoefficientColumn if c is not CoefficientColumn.INTERVAL}


def whole_report(evaluation: Evaluation) -> tuple[Evaluation, Report]:
    """The report of everything, with the evaluation that it is of."""
    from yellow_slope.core.fit.fitted.evaluate import evaluate

    everything = evaluate(choose_set(evaluation.study, ReadySet.EVERYTHING), evaluation)
    return everything, build_report(everything)


def disagreements(evaluation: Evaluation) -> list[str]:
    """What of the report no results file and no screen says."""
    found = unheard_of(evaluation)
    evaluation, report = whole_report(evaluation)
    if isinstance(evaluation.fit, Fit):
        found += _unlike_the_ladder(evaluation, evaluation.fit, report)
        found += [fault for probed in probes_of(evaluation) for fault in _unlike_the_probe(evaluation, probed)]
    return found


def unheard_of(evaluation: Evaluation) -> list[str]:
    """What of the report no results file says."""
    evaluation, report = whole_report(evaluation)
    document = json.loads(json_text(as_json(results_document(evaluation))))
    known = set(_numbers(document))
    found = []
    for section in report.sections:
        if section.kind in COMPARED:
            found += [
                f"{section.title}, {table.title}: {value!r} stands in no results file"
                for table in section.tables
                for value in _table_numbers(table)
                if value not in known
            ]
    return found


def _numbers(document: Any) -> Iterator[float]:
    match document:
        case dict():
            for value in document.values():
                yield from _numbers(value)
        case list():
            for value in document:
                yield from _numbers(value)
        case bool() | None:
            return
        case int() | float():
            yield float(document)


def _table_numbers(table: Table) -> Iterator[float]:
    for row in table.rows:
        for cell in row:
            if cell.role not in (Role.COUNT, Role.SHARE):
                yield from (float(n) for n in cell.numbers if math.isfinite(n))
            yield from (float(n) for name, n in cell.named if not name.startswith("df"))


def _bare(text: str) -> str:
    return text.replace(DIGIT_SPACE, "").rstrip("*")


def _unlike_the_ladder(evaluation: Evaluation, fit: Fit, report: Report) -> list[str]:
    """Coefficients of the reported step against what the ladder paints."""
    (table,) = (t for section in report.sections if section.kind is PartKind.COEFFICIENTS for t in section.tables)
    painted: dict[CoefficientColumn, list[str]] = {figure: [] for figure in CoefficientColumn}
    step = fit.steps[-1]
    for density in (Density.USUAL, Density.ERRORS):
        figures = Figures(fit, density)
        for column in range(-1 if fit.design.constant else 0, step.n_columns):
            for (figure, _), text in zip(figures.figures, figures.texts(step, column)):
                painted[figure].append(_bare(text))
    found = []
    last = max(i for i, row in enumerate(table.rows) if row[0].strong)
    for row in table.rows[last + 1 :]:
        if len(row) < len(table.head):
            continue
        for head, cell in zip(table.head, row):
            asked = CoefficientColumn.INTERVAL if head.endswith("CI") else ON_SCREEN.get(head)
            if asked is not None and cell.text and painted[asked] and _bare(cell.text) not in painted[asked]:
                found.append(f"{row[0].text}, {head}: “{cell.text}” is not on the screen")
    return found


def _unlike_the_probe(evaluation: Evaluation, probed: Probed) -> list[str]:
    """The effects of the first panel against what the table beside the plots says."""
    sight = Sight.of(probed, Seen())
    read = EffectReader(evaluation.study, probed, 0)
    rows = [*still_rows(sight, read), *apart_rows(sight, read)]
    wanted = (EffectColumn.EFFECT, EffectColumn.INTERVAL, EffectColumn.SE, EffectColumn.T, EffectColumn.P)
    shown = {_bare(text_of(column, row, 2)) for row in rows for column in wanted}
    table = effects_table(evaluation.study, probed)
    begin = next((i for i, row in enumerate(table.rows) if len(row) == len(table.head)), len(table.rows))
    found = []
    for row in table.rows[begin:]:
        if len(row) < len(table.head):
            break
        found += [
            f"{probed.probe.focal} by {probed.probe.moderator}, {row[0].text}: “{cell.text}” is not on the screen"
            for cell in row[1:6]
            if cell.text and _bare(cell.text) not in shown
        ]
    return found
