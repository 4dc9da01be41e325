"""Edits of flags: put aside, raised again, asked to stand."""

from __future__ import annotations

from yellow_slope.core.study.flagkeys import Dismissal, FlagKey
from yellow_slope.core.study.study import Study
from yellow_slope.core.study.whole import edit
from yellow_slope.values import replace


@edit
def dismiss(study: Study, flag: FlagKey, reason: str) -> Study:
    """Put a flag aside with a reason."""
    others = tuple(d for d in study.dismissals if d.flag != flag)
    return replace(study, dismissals=(*others, Dismissal(flag, reason)))


@edit
def pin_flag(study: Study, flag: FlagKey) -> Study:
    """Let a flag stand until it is put aside."""
    return study if flag in study.pinned else replace(raise_again(study, flag), pinned=(*study.pinned, flag))


@edit
def raise_again(study: Study, flag: FlagKey) -> Study:
    """Raise a flag again that was put aside."""
    return replace(study, dismissals=tuple(d for d in study.dismissals if d.flag != flag))
