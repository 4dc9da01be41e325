"""Faults of the system, injected into its calls."""

from __future__ import annotations

import os
from collections.abc import Callable
from typing import Any


def failing(call: Callable[..., Any], code: int, at: int) -> Failing:
    """The call, which fails the `at`-th time with that error of the system."""
    return Failing(call, code, at)


class Failing:
    """A call of the system that fails once."""

    def __init__(self, call: Callable[..., Any], code: int, at: int) -> None:
        self.call, self.code, self.left = call, code, at

    @property
    def has_failed(self) -> bool:
        """Whether it was called so often that it failed."""
        return self.left <= 0

    def __call__(self, *given: Any, **named: Any) -> Any:
        """Call it, or fail."""
        self.left -= 1
        if self.left == 0:
            raise OSError(self.code, os.strerror(self.code))
        return self.call(*given, **named)
