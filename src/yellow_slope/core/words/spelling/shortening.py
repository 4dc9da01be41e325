"""Names that have too little room, shortened so that they can still be told apart."""

from __future__ import annotations

from collections.abc import Callable, Sequence

ELLIPSIS = "…"
Fits = Callable[[str], bool]
"""Whether a text has room."""


def told_apart(texts: Sequence[str], fits: Sequence[Fits]) -> list[str]:
    """Each text as it is where it has room, else its beginning; where several would begin alike, with what sets them
    apart.

    fits: for each text whether a form of it has room.
    """
    shown = [text if fit(text) else begun(text, fit) for text, fit in zip(texts, fits)]
    alike: dict[str, list[int]] = {}
    for i, form in enumerate(shown):
        if form != texts[i]:
            alike.setdefault(form, []).append(i)
    for group in alike.values():
        distinct = {texts[i] for i in group}
        if len(distinct) < 2:
            continue
        first, last = min(distinct), max(distinct)  # what these share, all between them share
        common = next((k for k, (a, b) in enumerate(zip(first, last)) if a != b), min(len(first), len(last)))
        for i in group:
            shown[i] = _with_core(texts[i], common, fits[i])
    return shown


def begun(text: str, fits: Fits) -> str:
    """As much of the beginning as has room."""
    low, high = 0, len(text)
    while low < high:
        middle = (low + high + 1) // 2
        if fits(text[:middle].rstrip() + ELLIPSIS):
            low = middle
        else:
            high = middle - 1
    return text[:low].rstrip() + ELLIPSIS


def _with_core(text: str, differs: int, fits: Fits) -> str:
    """Beginning, ellipsis, and what follows from the word on in which the text differs from the others."""
    start = text.rfind(" ", 0, differs + 1) + 1
    tail = text[start:]
    # At least a third of the room for the beginning, the rest for what sets it apart.
    low, high = 0, len(tail)
    heads = [text[: max(1, min(start, n))].rstrip() for n in (6, 3, 1)]
    head = next((h for h in heads if fits(h + ELLIPSIS + tail[:3])), heads[0])
    while low < high:
        middle = (low + high + 1) // 2
        end = "" if middle == len(tail) else ELLIPSIS
        if fits(head + ELLIPSIS + tail[:middle].rstrip() + end):
            low = middle
        else:
            high = middle - 1
    core = tail[:low].rstrip() + ("" if low == len(tail) else ELLIPSIS)
    if low < len(tail):
        return head + ELLIPSIS + core if low else begun(text, fits)
    low, high = len(head), start
    while low < high:
        middle = (low + high + 1) // 2
        if fits(text[:middle].rstrip() + ELLIPSIS + core):
            low = middle
        else:
            high = middle - 1
    return text[:low].rstrip() + ELLIPSIS + core
