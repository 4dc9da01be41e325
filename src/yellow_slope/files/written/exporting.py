"""The table written out: with or without what was computed, as text, spreadsheet, Parquet or data package, with its
code book."""

from __future__ import annotations

import io
import json
import re
import zipfile
from collections.abc import Callable, Iterator, Sequence
from pathlib import Path
from typing import Any

import numpy as np

from yellow_slope.core.arrays import FloatArray, IntArray
from yellow_slope.core.data.formula import expression_text
from yellow_slope.core.data.table import (
    Column,
    DateColumn,
    NumberColumn,
    Stray,
    Table,
    TextColumn,
    number_column,
    text_column,
)
from yellow_slope.core.data.variable import Kind, Level, Variable
from yellow_slope.core.errors import FileError
from yellow_slope.core.fit.fitted.evaluate import Evaluation
from yellow_slope.core.letters import shown
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.treatment import AS_IS
from yellow_slope.core.words.names.numbers import treatment_name
from yellow_slope.core.words.names.terms import column_name
from yellow_slope.files.safely.atomically import write_together
from yellow_slope.files.study.packedtable import written
from yellow_slope.files.tables.codebook import book_text, code_book_rows
from yellow_slope.files.tables.tableschema import SUFFIX, field_of
from yellow_slope.files.text.delimited import unique_names
from yellow_slope.values import dataclass, replace

SUFFIXES = (".csv", ".tsv", ".xlsx", ".ods", ".parquet", ".zip")
DANGEROUS = ("=", "+", "-", "@", "\t", "\r")
"""A text that begins so is taken for a formula by some programs."""
_UNWRITABLE = re.compile("[\x00-\x08\x0b-\x1f\ufffe\uffff\ud800-\udfff]")
"""Marks that spreadsheets have no way to write."""
MOST_SHEET_ROWS = 1_048_575


@dataclass(frozen=True, slots=True)
class ExportChoices:
    """What is written out."""

    labels: bool = False
    """Groups by the names of their levels instead of their codes."""
    computed: bool = True
    """Derived variables."""
    model_columns: bool = False
    """What the current model is made of: treated numbers, codes, products; empty for cases that it does not use."""
    used_only: bool = False
    """Only the cases that the current model uses."""
    as_text: bool = False
    """Texts that begin with = + - @ get an apostrophe before them."""
    code_book: bool = True
    """A description beside it, as Table Schema and as two columns of text."""


@dataclass(frozen=True, slots=True)
class Exported:
    """What is to be written: a table and the description of its columns."""

    table: Table
    variables: tuple[Variable, ...]
    formulas: dict[str, str]
    """How computed columns came about, in words."""
    n_guarded: int = 0

    @property
    def schema(self) -> dict[str, Any]:
        """The columns as a Table Schema."""
        fields = []
        for variable in self.variables:
            field = field_of(self.table, variable)
            if variable.name in self.formulas:
                field["description"] = self.formulas[variable.name]
            fields.append(field)
        return {"fields": fields, "missingValues": [""]}


def exported(evaluation: Evaluation, choices: ExportChoices) -> Exported:
    """The columns and rows that are asked for. FileError where the model has nothing to give."""
    study, fit = evaluation.study, evaluation.fit
    if (choices.model_columns or choices.used_only) and fit is None:
        raise FileError(f"The model gives no columns and uses no cases: {evaluation.problem}")
    made: list[tuple[Column, Variable, str]] = []
    for variable in (v.by_itself() for v in study.variables):
        if variable.name in study.table:
            column = study.table.column(variable.name)
            made.append((*_of_file(study, column, variable, choices.labels), ""))
        elif choices.computed:
            known = {v.name: v for v in study.variables}
            derived = next(d for d in study.derived if d.name == variable.name)
            said = f"= {expression_text(derived.expression, known, stored=False)}"
            column = number_column(variable.name, study.columns.numbers(variable.name))
            made.append((*_of_file(study, column, variable, choices.labels), said))
    if choices.model_columns:
        made += _model_columns(evaluation)
    names = unique_names([_safe(column.name) if choices.as_text else column.name for column, _, _ in made])
    rows = fit.cases.rows if choices.used_only and fit is not None else None
    columns, variables, formulas, n_guarded = [], [], {}, 0
    for name, (column, variable, said) in zip(names, made):
        column = replace(column, name=name)
        if rows is not None:
            column = _at(column, rows)
        if choices.as_text:
            column, n = _guarded(column)
            n_guarded += n
        columns.append(column)
        variables.append(replace(variable, name=name))
        if said:
            formulas[name] = said
    return Exported(Table(tuple(columns)), tuple(variables), formulas, n_guarded)


def _safe(text: str) -> str:
    """The text with an apostrophe before it where it could be taken for a formula."""
    return f"'{text}" if text.startswith(DANGEROUS) else text


def _book_rows(made: Exported, choices: ExportChoices) -> list[list[str]]:
    """The code book as rows of cells that any program reads as texts."""
    rows = code_book_rows(made.variables, made.formulas)
    return [[_safe(shown(cell)) if choices.as_text else shown(cell) for cell in row] for row in rows]


def _of_file(study: Study, column: Column, variable: Variable, labels: bool) -> tuple[Column, Variable]:
    """A column as it was read, or with the names of its levels. Cells of no level stand as they were."""
    if not labels or variable.kind is not Kind.GROUP:
        return column, variable
    places = study.columns.levels(variable.name)
    texts = [level.label for level in variable.levels]
    strays = {stray.row: stray.text for stray in column.stray} if isinstance(column, NumberColumn) else {}
    cells = [
        texts[place] if place >= 0 else strays.get(row, column.text(row)) for row, place in enumerate(places.tolist())
    ]
    levels = tuple(Level((text,), text) for text in texts)
    return text_column(variable.name, cells), replace(variable, levels=levels, given=())


def _model_columns(evaluation: Evaluation) -> list[tuple[Column, Variable, str]]:
    study, fit = evaluation.study, evaluation.fit
    assert fit is not None
    made = []
    for j, column in enumerate(fit.design.columns):
        name = column.term.variables[0]
        single = len(column.term.variables) == 1
        number = single and study.variable(name).kind is Kind.NUMBER
        treatment = study.model.treatment(name)
        if number and treatment == AS_IS:
            continue
        title = column_name(study, fit, j)
        if number:
            title += f" {treatment_name(study, treatment)}"
        values: FloatArray = np.full(study.table.n_rows, np.nan)
        values[fit.cases.rows] = fit.design.column(fit.values, j)
        made.append((number_column(title, values), Variable(title, Kind.NUMBER, title), "a column of the model"))
    return made  # type: ignore[return-value]


def _at(column: Column, rows: IntArray) -> Column:
    """The column at some of its rows."""
    if isinstance(column, TextColumn):
        return replace(column, codes=column.codes[rows])
    numbers = column.numbers[rows]
    if isinstance(column, DateColumn):
        return replace(column, numbers=numbers)
    new = {int(row): place for place, row in enumerate(rows.tolist())}
    stray = tuple(Stray(new[s.row], s.text) for s in column.stray if s.row in new)
    return replace(column, numbers=numbers, stray=stray)


def _guarded(column: Column) -> tuple[Column, int]:
    """The column with an apostrophe before texts that could be taken for formulas, and how many there were."""
    if isinstance(column, TextColumn):
        risky = [text.startswith(DANGEROUS) for text in column.texts]
        n = int(np.isin(column.codes, np.flatnonzero(risky)).sum())
        return replace(column, texts=tuple(f"'{t}" if r else t for t, r in zip(column.texts, risky))), n
    if isinstance(column, NumberColumn) and column.stray:
        guarded = tuple(Stray(s.row, f"'{s.text}") if s.text.startswith(DANGEROUS) else s for s in column.stray)
        return replace(column, stray=guarded), sum(a != b for a, b in zip(guarded, column.stray))
    return column, 0


# ---- writing


@dataclass(frozen=True, slots=True)
class Written:
    """What was written, and what is said of it."""

    files: tuple[Path, ...]
    remarks: tuple[str, ...]
    n_guarded: int
    """Cells that got an apostrophe."""


def write_export(
    evaluation: Evaluation,
    paths: Sequence[Path],
    choices: ExportChoices,
    progress: Callable[[float], None] = lambda share: None,
) -> Written:
    """Write the table to each of the paths, and what describes it beside them: all or none. FileError for a kind that
    is not written, and where one cannot be."""
    wanted = [_files(path, choices) for path in paths]
    made = exported(evaluation, choices)
    schema = (json.dumps(made.schema, indent=1, ensure_ascii=False) + "\n").encode("utf-8")
    beside = (schema, book_text(_book_rows(made, choices)))
    contents: dict[Path, bytes] = {}
    for files in wanted:
        table = _content(made, files[0].suffix.lower(), evaluation.study.name, choices, progress)
        contents |= dict(zip(files, (table, *beside), strict=False))
    return Written(tuple(contents), write_together(contents.items()), made.n_guarded)


def written_files(paths: Sequence[Path], choices: ExportChoices) -> list[Path]:
    """All that is written for tables at these paths: themselves, and what describes them, which two of them may share.
    FileError for a kind that is not written."""
    return [*paths, *dict.fromkeys(file for path in paths for file in _files(path, choices)[1:])]


def _files(path: Path, choices: ExportChoices) -> tuple[Path, ...]:
    """A table, its schema and its code book."""
    suffix = path.suffix.lower()
    if suffix not in SUFFIXES:
        raise FileError(
            f"{path.name}: a table is written as {', '.join(SUFFIXES[:-1])} or {SUFFIXES[-1]} (data package)."
        )
    if not choices.code_book or suffix == ".zip":
        return (path,)
    schema, book = path.with_name(path.stem + SUFFIX), path.with_name(path.stem + ".codebook.csv")
    return (path, schema) if suffix in (".xlsx", ".ods") else (path, schema, book)


def _content(
    made: Exported, suffix: str, title: str, choices: ExportChoices, progress: Callable[[float], None]
) -> bytes:
    if suffix == ".parquet":
        return _parquet(made)
    if suffix in (".xlsx", ".ods"):
        if made.table.n_rows > MOST_SHEET_ROWS:
            raise FileError(
                f"A spreadsheet holds {MOST_SHEET_ROWS:,} rows; the table has {made.table.n_rows:,}. Write it as text."
            )
        _refuse_marks(made)
        return (_workbook if suffix == ".xlsx" else _open_document)(made, choices, progress)
    if suffix == ".zip":
        return _package(made, title)
    return written(made.table, "\t" if suffix == ".tsv" else ",")


def _refuse_marks(made: Exported) -> None:
    """FileError for a text that no spreadsheet can hold."""
    for column in made.table.columns:
        strays = column.stray if isinstance(column, NumberColumn) else ()
        texts = column.texts if isinstance(column, TextColumn) else [s.text for s in strays]
        for text in (column.name, *texts):
            if _UNWRITABLE.search(text):
                raise FileError(f"A spreadsheet cannot hold {text[:40]!r} in “{column.name}”: write the table as text.")


def _parquet(made: Exported) -> bytes:
    import pyarrow as pa
    from pyarrow import parquet

    from yellow_slope.files.study.packedtable import arrow_cells

    arrays = []
    for column in made.table.columns:
        if isinstance(column, DateColumn):
            some = column.numbers * 86400e6
            stamps = pa.array(np.round(np.nan_to_num(some)).astype(np.int64), mask=np.isnan(some))
            arrays.append(stamps.cast(pa.time64("us") if column.form == "times" else pa.timestamp("us")))
        else:
            arrays.append(arrow_cells(column))
    out = io.BytesIO()
    parquet.write_table(pa.Table.from_arrays(arrays, names=list(made.table.names)), out)
    return out.getvalue()


def _package(made: Exported, title: str) -> bytes:
    slug = "".join(c if c.isalnum() and c.isascii() else "-" for c in title.lower()).strip("-") or "table"
    package = {
        "profile": "tabular-data-package",
        "name": slug,
        "title": title,
        "resources": [
            {
                "name": "data",
                "path": "data.csv",
                "format": "csv",
                "mediatype": "text/csv",
                "encoding": "utf-8",
                "profile": "tabular-data-resource",
                "dialect": {"delimiter": ",", "quoteChar": '"', "header": True},
                "schema": made.schema,
            }
        ],
    }
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        still = (1980, 1, 1, 0, 0, 0)
        text = json.dumps(package, indent=1, ensure_ascii=False) + "\n"
        archive.writestr(zipfile.ZipInfo("datapackage.json", still), text, zipfile.ZIP_DEFLATED)
        archive.writestr(zipfile.ZipInfo("data.csv", still), written(made.table), zipfile.ZIP_DEFLATED)
    return out.getvalue()


def _cell(column: Column, row: int, strays: dict[int, str]) -> object:
    """A cell by its own type: a number, a text, a date, a time, or nothing."""
    if isinstance(column, TextColumn):
        return column.text(row) or None
    value = float(column.numbers[row])
    if np.isnan(value):
        return strays.get(row)
    if isinstance(column, NumberColumn):
        return int(value) if value == int(value) and abs(value) < 2**53 else value
    from datetime import datetime, timedelta

    moment = datetime(1970, 1, 1) + timedelta(seconds=round(value * 86400))
    if column.form == "times":
        return moment.time()
    return moment if moment.time() != datetime.min.time() else moment.date()


def _rows(made: Exported, progress: Callable[[float], None]) -> Iterator[list[object]]:
    """The rows of the table, each a list of cells."""
    strays = [{s.row: s.text for s in c.stray} if isinstance(c, NumberColumn) else {} for c in made.table.columns]
    for row in range(made.table.n_rows):
        if row % 2000 == 0:
            progress(row / made.table.n_rows)
        yield [_cell(column, row, stray) for column, stray in zip(made.table.columns, strays)]


def _workbook(made: Exported, choices: ExportChoices, progress: Callable[[float], None]) -> bytes:
    import openpyxl
    from openpyxl.cell import WriteOnlyCell

    from yellow_slope.workbooks import no_remains

    def typed(sheet: Any, value: object) -> object:
        if isinstance(value, float):
            cell = WriteOnlyCell(sheet, 0.0)
            cell._value = repr(value)  # every digit: the writer itself keeps sixteen
            return cell
        if not isinstance(value, str):
            return value
        cell = WriteOnlyCell(sheet, value)
        cell.data_type = "s"  # a text stays one, also where it begins like a formula
        return cell

    out = io.BytesIO()
    book = openpyxl.Workbook(write_only=True)
    with no_remains(book):
        sheet = book.create_sheet("data")
        sheet.append([typed(sheet, name) for name in made.table.names])
        for row in _rows(made, progress):
            sheet.append([typed(sheet, value) for value in row])
        if choices.code_book:
            words = book.create_sheet("code book")
            for line in _book_rows(made, choices):
                words.append([typed(words, value) for value in line])
        book.save(out)
    return out.getvalue()


def _open_document(made: Exported, choices: ExportChoices, progress: Callable[[float], None]) -> bytes:
    from odf.opendocument import OpenDocumentSpreadsheet

    book = OpenDocumentSpreadsheet()
    _ods_sheet(book, "data", [list(made.table.names)], _rows(made, progress))
    if choices.code_book:
        _ods_sheet(book, "code book", _book_rows(made, choices), [])
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def _ods_sheet(book: Any, name: str, head: list[list[str]], rows: Any) -> None:
    from datetime import date, time

    from odf.table import Table as Sheet
    from odf.table import TableCell, TableRow
    from odf.text import P

    sheet = Sheet(name=name)
    for line in (*head, *rows):
        row = TableRow()
        for value in line:
            if value is None or value == "":
                cell = TableCell()
            elif isinstance(value, str):
                cell = TableCell(valuetype="string")
                cell.addElement(P(text=value))
            elif isinstance(value, time):
                cell = TableCell(valuetype="time", timevalue=f"PT{value.hour:02}H{value.minute:02}M{value.second:02}S")
                cell.addElement(P(text=value.isoformat()))
            elif isinstance(value, date):
                cell = TableCell(valuetype="date", datevalue=value.isoformat())
                cell.addElement(P(text=value.isoformat()))
            else:
                cell = TableCell(valuetype="float", value=repr(value))
                cell.addElement(P(text=str(value)))
            row.addElement(cell)
        sheet.addElement(row)
    book.spreadsheet.addElement(sheet)
