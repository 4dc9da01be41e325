"""Faults of the system, injected into its calls."""

from __future__ import annotations

import os
from collections.abc import Callable
from typing import Any


def failing(call: Callable[..., Any], code: int, at: int) -> Callable[..., Any]:
    """The call, which fails the `at`-th time with that error of the system."""
    left = [at]

    def fail(*given: Any, **named: Any) -> Any:
        left[0] -= 1
        if left[0] == 0:
            raise OSError(code, os.strerror(code))
        return call(*given, **named)

    return fail
