"""Values to JSON and back, by their types alone: what can stand in a file is written down once, where a value is made.

A kind that stands where another one may as well gives its id in `is` (`stored_as`); enumerations stand there by their
values; a term is the list of its variables. Whatever else a type says (bounds, lengths, what may be left out) is held
when a file is read.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, TypeVar

import msgspec
import numpy as np

from yellow_slope.core.study.terms import Term
from yellow_slope.files.study.complaints import complaint

T = TypeVar("T")


def as_json(value: object) -> Any:
    """The value as objects, lists, texts and numbers."""
    return msgspec.to_builtins(value, enc_hook=_written)


def from_json(raw: object, kind: type[T], source: str) -> T:
    """The value that stands in a file. FileError says where it is none, and why."""
    try:
        return _converted(raw, kind)
    except msgspec.ValidationError as error:
        raise complaint(raw, kind, source, _converted) from error


def _converted(raw: object, kind: type[T]) -> T:
    return msgspec.convert(raw, kind, dec_hook=_read)


def _written(value: object) -> object:
    if isinstance(value, Term):
        return list(value.variables)
    if isinstance(value, Mapping):
        return dict(value)
    if isinstance(value, np.generic | np.ndarray):
        return value.tolist()
    raise NotImplementedError(f"{type(value).__name__} stands in no file")


def _read(kind: type, raw: object) -> object:
    if kind is Term and isinstance(raw, list) and raw and all(isinstance(one, str) for one in raw):
        return Term(tuple(raw))
    raise ValueError("a list of names is expected here")
