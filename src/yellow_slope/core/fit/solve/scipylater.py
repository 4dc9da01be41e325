"""The parts of SciPy that the fit needs, loaded with the first number: they take longer than the rest of a start."""

from __future__ import annotations

import importlib
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from scipy import linalg, optimize, special
    from scipy.optimize import elementwise
else:

    class _Later:
        """Stands for a module until something of it is used."""

        def __init__(self, module: str) -> None:
            self._module = module

        def __getattr__(self, name: str) -> Any:
            found = getattr(importlib.import_module(self._module), name)
            setattr(self, name, found)
            return found

    linalg, special = _Later("scipy.linalg"), _Later("scipy.special")
    optimize, elementwise = _Later("scipy.optimize"), _Later("scipy.optimize.elementwise")

__all__ = ["elementwise", "linalg", "optimize", "special"]
