"""Table Schema, the open standard for describing the columns of a table: kinds, labels, levels, missing codes."""

from __future__ import annotations

import math
import os
from collections.abc import Mapping
from pathlib import Path
from typing import Any

import numpy as np

from yellow_slope.core.data.guessing import guessed_variable
from yellow_slope.core.data.table import (
    Column,
    DateColumn,
    NumberColumn,
    Stray,
    Table,
    TextColumn,
    number_text,
    text_column,
)
from yellow_slope.core.data.variable import Kind, Level, Variable, as_group, as_number
from yellow_slope.core.errors import FileError
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.spelling.numerals import listed
from yellow_slope.files.safely.jsontext import json_object
from yellow_slope.files.safely.regular import read_bytes
from yellow_slope.values import replace

SUFFIX = ".schema.json"


def schema_of(study: Study) -> dict[str, Any]:
    """The study's columns as a Table Schema."""
    return {
        "fields": [field_of(study.table, v) for v in study.variables if v.name in study.table],
        "missingValues": [""],
    }


def field_of(table: Table, variable: Variable) -> dict[str, Any]:
    """A column as a field of a Table Schema."""
    column = table.column(variable.name)
    field: dict[str, Any] = {"name": variable.name, "type": _type_of(column)}
    field["title"] = variable.label
    if variable.short_label:
        field["shortTitle"] = variable.short_label
    if variable.unit:
        field["unit"] = variable.unit
    if variable.units:
        field["units"] = variable.units
    if variable.limits:
        field["constraints"] = {"minimum": variable.limits[0], "maximum": variable.limits[1]}
    if variable.reliability is not None:
        field["reliability"] = variable.reliability
    if variable.missing:
        field["missingValues"] = ["", *variable.missing]
    if variable.given:
        field["given"] = dict(variable.given)
    if variable.levels:
        values: list[Any] = []
        for level in variable.levels:
            value: Any = level.code
            if isinstance(column, NumberColumn):
                number = float(level.code)
                value = int(number) if number == int(number) else number
            entry: dict[str, Any] = {"value": value, "label": level.label}
            if len(level.codes) > 1:
                entry["also"] = list(level.codes[1:])
            values.append(entry)
        field["categories"] = values
        if variable.ordered:
            field["categoriesOrdered"] = True
    field["kind"] = str(variable.kind)
    return field


def _type_of(column: Column) -> str:
    if isinstance(column, NumberColumn):
        return "number"
    if isinstance(column, DateColumn):
        return "time" if column.form == "times" else "date"
    return "string"


def described_variables(table: Table, schema: Mapping[str, Any], source: str) -> tuple[Variable, ...]:
    """Variables of a table as a schema describes them; columns that it does not name are guessed. FileError if
    unfit."""
    fields = schema.get("fields")
    if not isinstance(fields, list) or not all(isinstance(f, dict) and isinstance(f.get("name"), str) for f in fields):
        raise FileError(f"{source} is not a Table Schema: it has no list of named fields.")
    by_name = {field["name"]: field for field in fields}
    return tuple(
        _variable(table, guessed_variable(column), by_name[column.name], source)
        if column.name in by_name
        else guessed_variable(column)
        for column in table.columns
    )


def fitting(table: Table, schema: Mapping[str, Any]) -> dict[str, Any]:
    """The schema with only those fields that fit a table's columns: for a table that is not the one it was written
    for."""
    fits = []
    for field in schema.get("fields", ()):
        if field.get("name") not in table:
            continue
        try:
            described_variables(table, {"fields": [field]}, "")
        except FileError:
            continue
        fits.append(field)
    return {**schema, "fields": fits}


def _variable(table: Table, variable: Variable, field: Mapping[str, Any], source: str) -> Variable:
    column = table.column(variable.name)
    try:
        missing = tuple(str(code) for code in field.get("missingValues", ()) if str(code) != "")
        variable = replace(
            variable,
            label=str(field.get("title") or variable.label),
            short_label=str(field.get("shortTitle", "")),
            unit=str(field.get("unit", "")),
            units=str(field.get("units", "")),
            missing=missing,
            given=tuple((str(text), _finite(value)) for text, value in (field.get("given") or {}).items()),
        )
        limits = field.get("constraints") or {}
        if "minimum" in limits and "maximum" in limits:
            variable = replace(variable, limits=(_finite(limits["minimum"]), _finite(limits["maximum"])))
        if field.get("reliability") is not None:
            variable = replace(variable, reliability=_share(field["reliability"]))
        categories = field.get("categories")
        if categories:
            variable = replace(
                variable,
                levels=tuple(_level(entry, column) for entry in categories),
                ordered=field.get("categoriesOrdered") is True,
            )
        kind = _kind(field["kind"]) if "kind" in field else (Kind.GROUP if categories else variable.kind)
    except (ValueError, TypeError, KeyError, AttributeError, OverflowError) as error:
        raise FileError(f"{source}: the description of “{variable.name}” cannot be understood ({error}).") from error
    if kind is Kind.GROUP:
        if not categories:
            there = tuple(level for level in variable.levels if level.code not in variable.missing)
            return replace(variable, kind=kind, levels=there) if variable.levels else as_group(variable, column)
        return as_group(variable, column)
    if kind is Kind.NUMBER and not column.is_numeric:
        raise FileError(f"{source}: “{variable.name}” is described as a number, but holds texts.")
    if kind is Kind.NUMBER and variable.kind is Kind.GROUP:
        variable = as_number(variable if categories else replace(variable, levels=()), column)
    return replace(variable, kind=kind)


def _kind(value: Any) -> Kind:
    """A kind by its name; ValueError where there is none of that name."""
    found = next((kind for kind in Kind if kind == value), None)
    if found is None:
        raise ValueError(f"“{str(value)[:40]}” is not a kind: {listed([str(kind) for kind in Kind], 'or')}")
    return found


def _share(value: Any) -> float:
    """A reliability; ValueError where it is none."""
    found = _finite(value)
    if not 0 < found <= 1:
        raise ValueError(f"a reliability of {found:g}")
    return found


def strings(schema: Mapping[str, Any]) -> frozenset[str]:
    """The names of the columns that a schema declares as texts."""
    fields = schema.get("fields")
    found = (field for field in (fields if isinstance(fields, list) else ()) if isinstance(field, dict))
    return frozenset(str(field.get("name")) for field in found if field.get("type") == "string")


def declared(table: Table, schema: Mapping[str, Any]) -> Table:
    """The table with its columns of the types that a schema declares, where they can be: a number column keeps
    strays."""
    fields = schema.get("fields")
    known = {
        field["name"]: field
        for field in (fields if isinstance(fields, list) else ())
        if isinstance(field, dict) and isinstance(field.get("name"), str)
    }
    columns = tuple(_declared(column, known.get(column.name, {})) for column in table.columns)
    return table if columns == table.columns else Table(columns)


def _declared(column: Column, field: Mapping[str, Any]) -> Column:
    """A column of texts alone becomes one of numbers, all of them strays, only where kind and type both say so: as
    the program writes a column of numbers whose only filled cells are strays."""
    type_ = field.get("type")
    if type_ == "string" and isinstance(column, NumberColumn):
        strays = {stray.row: stray.text for stray in column.stray}
        return text_column(column.name, [strays.get(i, column.text(i)) for i in range(len(column))])
    if type_ in ("number", "integer") and isinstance(column, TextColumn) and len(column.texts) < len(column) + 1:
        values = [_number(text) for text in column.texts]
        if values and all(value is None for value in values) and field.get("kind") != Kind.NUMBER:
            return column
        lookup = np.array([*(math.nan if value is None else value for value in values), math.nan])
        numbers = lookup[column.codes]
        numbers.setflags(write=False)
        strays_at = np.flatnonzero(np.isin(column.codes, [i for i, value in enumerate(values) if value is None]))
        stray = tuple(Stray(int(row), column.text(int(row))) for row in strays_at)
        return NumberColumn(column.name, numbers, stray)
    if type_ in ("date", "time") and isinstance(column, TextColumn) and not column.texts:
        numbers = np.full(len(column), math.nan)
        numbers.setflags(write=False)
        return DateColumn(column.name, numbers, form="times") if type_ == "time" else DateColumn(column.name, numbers)
    return column


def _number(text: str) -> float | None:
    try:
        return _finite(text)
    except ValueError:
        return None


def _level(entry: Any, column: Column) -> Level:
    if isinstance(entry, dict) and entry.get("value") is None:
        raise ValueError("a category without a value")
    code = _level_code(entry["value"] if isinstance(entry, dict) else entry, column)
    if not isinstance(entry, dict):
        return Level((code,), code)
    also = (_level_code(other, column) for other in entry.get("also", ()))
    return Level((code, *also), str(entry.get("label", code)))


def _level_code(value: Any, column: Column) -> str:
    """The code of a level as the column writes it; ValueError where it has none of that kind."""
    text = number_text(_finite(value)) if isinstance(value, float) and column.is_numeric else str(value)
    code = column.level_code(text)
    if code is None:
        raise ValueError(f"“{text[:40]}” is not a number")
    return code


def _finite(value: Any) -> float:
    try:
        number = float(value)
    except (TypeError, ValueError, OverflowError):
        number = math.nan
    if not math.isfinite(number):
        raise ValueError(f"“{str(value)[:40]}” is not a number")
    return number


def schema_beside(path: Path) -> Path | None:
    """The schema file that stands beside a table file (`learners.csv`, `learners.schema.json`), if there is one."""
    beside = path.with_name(path.stem + SUFFIX)
    return beside if os.path.isfile(beside) else None


def read_schema(path: Path) -> dict[str, Any]:
    """A schema file's content; FileError where it is no JSON object."""
    return json_object(read_bytes(path), path.name)
