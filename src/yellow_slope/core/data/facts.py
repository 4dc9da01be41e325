"""What is a fact of a column is asked once for each column, however often the model is evaluated."""

from __future__ import annotations

from collections.abc import Callable
from functools import wraps
from typing import TypeVar
from weakref import WeakKeyDictionary

Of = TypeVar("Of")
Fact = TypeVar("Fact")


def asked_once(ask: Callable[[Of], Fact]) -> Callable[[Of], Fact]:
    """The question with a memory: of values that never change, and that are the same as themselves alone."""
    known: WeakKeyDictionary[Of, Fact] = WeakKeyDictionary()

    @wraps(ask)
    def remembered(of: Of) -> Fact:
        if of not in known:
            known[of] = ask(of)
        return known[of]

    return remembered
