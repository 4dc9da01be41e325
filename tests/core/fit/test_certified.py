"""Certified reference data: as many correct digits as the condition of each problem allows."""

from __future__ import annotations

import numpy as np
import pytest

from tests.support.certified import CERTIFIED, Certified
from yellow_slope.core.fit.solve.factor import factor


def digits(found: float, certified: float) -> float:
    """Correct significant digits; absolute ones where the certified value is 0."""
    error = abs(found - certified) / (abs(certified) or 1.0)
    return 16.0 if error == 0 else float(-np.log10(error))


@pytest.mark.parametrize("data", CERTIFIED, ids=lambda d: d.name)
def test_coefficients(data: Certified) -> None:
    fitted = factor(np.array(data.columns).T, np.array(data.y), data.constant)
    m = fitted.kept.size
    assert m == len(data.columns), "no column may be left out"
    b = fitted.coefficients(m)[0 if data.constant else 1 :]
    assert min(digits(x, c) for x, c in zip(b, data.b)) >= data.digits - 0.05


@pytest.mark.parametrize("data", [d for d in CERTIFIED if d.residual_sd > 0], ids=lambda d: d.name)
def test_residual_sd_standard_errors_and_r2(data: Certified) -> None:
    fitted = factor(np.array(data.columns).T, np.array(data.y), data.constant)
    m = fitted.kept.size
    df = len(data.y) - m - int(data.constant)
    s2 = fitted.sse(m) / df
    allowed = min(10.0, data.digits)
    assert digits(np.sqrt(s2), data.residual_sd) >= allowed
    assert digits(1 - fitted.sse(m) / fitted.total, data.r2) >= allowed
    root = fitted.root(m)
    se = np.sqrt(s2 * np.einsum("ij,ij->i", root, root))[0 if data.constant else 1 :]
    for found, certified in zip(se, data.se):
        assert digits(found, certified) >= min(10.0, max(data.digits, 8))
