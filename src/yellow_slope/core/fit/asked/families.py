"""Several tests at once: p adjusted for their number."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from yellow_slope.core.fit.fitted.inference import ConditionalEffect


def holm(p: Sequence[float]) -> list[float]:
    """Holm's (1979) adjusted p; those that do not exist stay NaN and do not count."""
    values = np.asarray(p, dtype=np.float64)
    known = np.flatnonzero(~np.isnan(values))
    out = np.full(values.size, np.nan)
    order = known[np.argsort(values[known], kind="stable")]
    largest = 0.0
    for rank, i in enumerate(order):
        largest = max(largest, min(1.0, float(values[i]) * (order.size - rank)))
        out[i] = largest
    return [float(v) for v in out]


def family_p(effects: Sequence[ConditionalEffect]) -> list[float]:
    """Holm's adjusted p of several tests; all NaN where they are one and the same test."""
    # Errors from draws have no t; there equal p tell the same.
    told = np.abs([e.p if np.isnan(e.t) else e.t for e in effects if not np.isnan(e.p)])
    if told.size < 2 or np.ptp(told) <= 1e-9 * told.max():
        return [float("nan")] * len(effects)
    return holm([e.p for e in effects])
