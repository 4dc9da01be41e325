"""Which fonts write a text: the bundled one, then one that comes with matplotlib, then those of the system, as far as
letters are left that none of them has."""

from __future__ import annotations

import logging
from collections.abc import Iterable
from contextlib import suppress
from functools import lru_cache
from typing import TYPE_CHECKING

from yellow_slope import looks
from yellow_slope.core.letters import NO_LETTER
from yellow_slope.core.study.study import Study
from yellow_slope.core.words.spelling.numerals import listed
from yellow_slope.plots.marks import Page, Text
from yellow_slope.plots.measuring import has_letter

if TYPE_CHECKING:
    from matplotlib.font_manager import FontEntry

SECOND = "DejaVu Sans"
LAST_RESORT = "Last Resort"
"""Of boxes that only tell from which script a letter is."""
MOST_NAMED, MOST_LEVELS = 8, 100


def letters_of(page: Page) -> frozenset[str]:
    """The letters on a page that the bundled font has not."""
    return _elsewhere(mark.text for mark in page.marks if isinstance(mark, Text))


def _elsewhere(texts: Iterable[str]) -> frozenset[str]:
    return frozenset(
        letter
        for text in texts
        if not text.isascii()
        for letter in text
        if not letter.isspace() and not has_letter(letter) and NO_LETTER.match(letter) is None
    )


@lru_cache(maxsize=64)
def chain(letters: frozenset[str]) -> tuple[tuple[str, ...], str]:
    """The families that write these letters and the bundled font's, in order; and the letters that none has."""
    left = set(letters)
    families = [looks.FONT_FAMILY]
    for entry in _upright():
        if not left:
            break
        here = {letter for letter in left if ord(letter) in _letters(entry.fname, entry.index)}
        if here:
            families.append(entry.name)
            left -= here
    return tuple(families), "".join(sorted(left))


def remark(page: Page) -> str:
    """What is said of a figure where no font has a letter of it; empty where every letter has one."""
    missing = _missing(letters_of(page))
    return f"{missing}: the figure shows boxes in their place." if missing else ""


def remark_on_names(study: Study) -> str:
    """What is said of a study where no font has a letter of its names; empty where every letter has one."""
    names = [v.label for v in study.variables]
    names += [level.label for v in study.variables if len(v.levels) < MOST_LEVELS for level in v.levels]
    missing = _missing(_elsewhere(names))
    return f"{missing}: names show boxes in their place." if missing else ""


def _missing(letters: frozenset[str]) -> str:
    missing = chain(letters)[1] if letters else ""
    if not missing:
        return ""
    named = listed([f"“{letter}”" for letter in missing[:MOST_NAMED]])
    return f"No font on this machine has {named}{' and others' if len(missing) > MOST_NAMED else ''}"


def _upright() -> list[FontEntry]:
    """One upright font of each family, that of matplotlib first."""
    from matplotlib.font_manager import fontManager  # it looks through the system's fonts when it is first loaded

    found: dict[str, FontEntry] = {}
    for entry in fontManager.ttflist:
        if entry.style == "normal" and not entry.name.startswith(LAST_RESORT) and entry.name != looks.FONT_FAMILY:
            known = found.get(entry.name)
            if known is None or str(known.weight) not in ("400", "normal", "regular"):
                found[entry.name] = entry
    return sorted(found.values(), key=lambda entry: (entry.name != SECOND, entry.name))


@lru_cache(maxsize=512)
def _letters(path: str, index: int) -> frozenset[int]:
    """The letters that a font file has."""
    from matplotlib.ft2font import FT2Font

    with suppress(Exception):  # a font of the system may be broken in any way
        return frozenset(FT2Font(path, face_index=index).get_charmap())
    logging.getLogger(__name__).info("a font of the system cannot be read")
    return frozenset()
