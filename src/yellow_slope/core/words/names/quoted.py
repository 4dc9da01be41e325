"""Labels that would be read as part of a sentence stand in quotation marks there."""

from __future__ import annotations

from functools import lru_cache

from yellow_slope.core.study.study import Study
from yellow_slope.core.words.spelling.letters import is_sign
from yellow_slope.values import replace

_LEADING = (
    "a about after all among an and any are at because been before below between by can did do does during "
    "each else every for from had has have i if in into is it less more my never no not of off on only or "
    "other others over per since so some than that the their then they this to under until up was we were "
    "what when where which while who why with within without you your"
)
LEADING = frozenset(_LEADING.split())
"""First words after which a label is read on: “by car”, “with the bus”, “which lift”."""
_WITHIN = (
    "am and are because by can could did do does from had has have i if is me my not or should than that was "
    "we were when which while who will with would you your"
)
WITHIN = frozenset(_WITHIN.split())
"""Words inside a label that make a clause or a phrase of it: “to fall and get hurt”, “distance by car”."""
_SUMMARIES = "change difference log mean median number proportion rank ratio sd share sum"
SUMMARIES = frozenset(_SUMMARIES.split())
"""First words that, before “of”, “in” or “between”, read as a figure of the analysis: “mean of tests”."""
SIGNS = frozenset("+-−*/×=<>≥≤%&|~^")


@lru_cache(maxsize=4096)
def quoted(label: str) -> str:
    """The label as it stands in a sentence: in quotation marks where it would be read as part of it."""
    return f"“{label}”" if _reads_on(label) else label


def spoken(study: Study) -> Study:
    """The study whose labels are those that sentences take."""
    changed = [(v, quoted(v.label)) for v in study.variables]
    if all(v.label == said for v, said in changed):
        return study
    return replace(study, variables=tuple(v if v.label == said else replace(v, label=said) for v, said in changed))


def _reads_on(label: str) -> bool:
    if is_sign(label):  # it stands for a label that was looked at already
        return False
    if any(mark in label for mark in '“”"'):
        return False
    words = [word.strip(".,;:!?()[]").casefold() for word in label.split()]
    if not words:
        return False
    if len(words) == 1:
        return words[0] in LEADING or not any(c.isalnum() for c in label)
    return (
        words[0] in LEADING
        or (words[0] in SUMMARIES and words[1] in ("of", "in", "between"))
        or any(word in WITHIN for word in words[1:])
        or any(sign in label.split() for sign in SIGNS)
        or label.rstrip().endswith(("?", "!", "."))
    )
