"""Code books of two columns: a name and what it means; “coaching = 0” and what that code means."""

from __future__ import annotations

import csv
import io
import os
from collections.abc import Iterable, Mapping, Sequence
from pathlib import Path

from yellow_slope.core.data.table import Table, number_text
from yellow_slope.core.data.variable import Kind, Level, Variable, as_group, found_levels
from yellow_slope.core.errors import FileError
from yellow_slope.core.letters import UNKNOWN
from yellow_slope.files.safely.regular import read_bytes
from yellow_slope.values import replace

HEAD = ["name", "meaning"]
MISSING = "missing"
NAMES = ("{stem}.codebook.csv", "{stem}_codebook.csv", "{stem}-codebook.csv", "{stem}.codes.csv", "codebook.csv")
"""How a code book beside a table file is called, the likeliest first."""
MOST_BYTES = 16 << 20
_SPLITS = ("=", ":")


def code_book_rows(variables: Iterable[Variable], formulas: Mapping[str, str]) -> list[list[str]]:
    """The code book, with its head."""
    rows = [HEAD]
    for variable in variables:
        unit = f" ({variable.many})" if variable.unit else ""
        made = f" {formulas[variable.name]}" if variable.name in formulas else ""
        rows.append([variable.name, f"{variable.label}{unit}{made}"])
        for level in variable.levels if variable.kind is Kind.GROUP else ():
            rows += [[f"{variable.name} = {code}", level.label] for code in level.codes]
        rows += [[f"{variable.name} = {code}", MISSING] for code in variable.missing]
        rows += [[f"{variable.name} = {text}", number_text(value)] for text, value in variable.given]
    return rows


def book_text(rows: Iterable[Sequence[str]]) -> bytes:
    """The rows of a code book as comma-separated text."""
    out = io.StringIO()
    csv.writer(out, lineterminator="\n").writerows(rows)
    return out.getvalue().encode("utf-8")


def code_book_beside(path: Path) -> Path | None:
    """The code book that stands beside a table file, if there is one."""
    for pattern in NAMES:
        beside = path.with_name(pattern.format(stem=path.stem))
        if beside != path and os.path.isfile(beside):
            return beside
    return None


def described_by_code_book(table: Table, variables: tuple[Variable, ...], path: Path) -> tuple[Variable, ...]:
    """The variables with the labels of a code book: of columns, of codes, and of codes for missing.

    Lines about names that the table has not are passed over. FileError where nothing in it is about the table.
    """
    lines = _lines(path)
    labels: dict[str, str] = {}
    codes: dict[str, dict[str, str]] = {}
    names = set(table.names)
    for name, meaning in lines:
        if name in names:
            labels[name] = meaning
            continue
        for mark in _SPLITS:
            head, found, code = name.rpartition(mark) if mark == ":" else name.partition(mark)
            if found and head.strip() in names and code.strip():
                codes.setdefault(head.strip(), {})[_code(table, head.strip(), code.strip())] = meaning
                break
    if not labels and not codes:
        raise FileError(f"{path.name} says nothing about the columns of the table.")
    return tuple(_described(table, v, labels.get(v.name, ""), codes.get(v.name, {})) for v in variables)


def _lines(path: Path) -> list[tuple[str, str]]:
    try:
        text = read_bytes(path, MOST_BYTES).decode("utf-8-sig").replace("\0", UNKNOWN)
        separator = "\t" if "\t" in text.split("\n", 1)[0] else ";" if ";" in text.split("\n", 1)[0] else ","
        rows: list[Sequence[str]] = list(csv.reader(io.StringIO(text), delimiter=separator))
    except (UnicodeDecodeError, csv.Error) as error:
        raise FileError(f"{path.name} cannot be read as a code book of two columns.") from error
    return [(row[0].strip(), row[1].strip()) for row in rows if len(row) >= 2 and row[0].strip() and row[1].strip()]


def _code(table: Table, name: str, code: str) -> str:
    """A code as it stands in the table: 1.0 is 1 in a column of numbers."""
    return table.column(name).level_code(code) or code


def _described(table: Table, variable: Variable, label: str, codes: Mapping[str, str]) -> Variable:
    unit = ""
    if label.endswith(")") and " (" in label:
        label, _, unit = label[:-1].rpartition(" (")
    if label:
        variable = replace(variable, label=label)
    if unit and not variable.unit:
        variable = replace(variable, unit=unit, units=unit)
    column = table.column(variable.name)
    missing = tuple(code for code, meaning in codes.items() if meaning.casefold() == MISSING)
    if missing:
        variable = replace(variable, missing=tuple(dict.fromkeys((*variable.missing, *missing))))
    named = {
        code: meaning for code, meaning in codes.items() if code not in missing and column.level_code(code) is not None
    }
    here = {level.code for level in found_levels(column, variable.missing)}
    if not named or not here <= set(named):
        # A code without a name: a scale of which only the ends are named stays a number.
        return as_group(replace(variable, levels=()), column) if variable.kind is Kind.GROUP and missing else variable
    by_label: dict[str, list[str]] = {}
    for code, meaning in named.items():
        by_label.setdefault(meaning, []).append(code)
    levels = tuple(Level(tuple(codes), meaning) for meaning, codes in by_label.items() if set(codes) & here)
    return as_group(replace(variable, levels=levels), column)
