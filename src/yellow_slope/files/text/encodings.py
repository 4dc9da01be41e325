"""The encoding of a text file: by its mark, else by its content."""

from __future__ import annotations

import codecs
import re

from yellow_slope.core.errors import FileError

MARKS = (
    (codecs.BOM_UTF32_LE, "utf-32"),
    (codecs.BOM_UTF32_BE, "utf-32"),
    (codecs.BOM_UTF8, "utf-8-sig"),
    (codecs.BOM_UTF16_LE, "utf-16"),
    (codecs.BOM_UTF16_BE, "utf-16"),
)
WESTERN, MACINTOSH = "cp1252", "mac_roman"
CHOICES = {
    "utf-8": "UTF-8",
    "utf-8-sig": "UTF-8 with a mark",
    "utf-16": "UTF-16",
    "utf-32": "UTF-32",
    WESTERN: "Western European",
    MACINTOSH: "Western European of old Macintoshes",
    "cp1250": "Central European",
    "cp1251": "Cyrillic",
    "cp1253": "Greek",
    "cp1254": "Turkish",
    "shift_jis": "Japanese",
    "gb18030": "Chinese",
}
"""Encodings that can be chosen, by the words for them."""
_PIECE = 1 << 20


def recoded(content: bytes, name: str, encoding: str = "") -> tuple[bytes, str]:
    """The content in UTF-8 without a mark, and the encoding it came in. FileError where it is no text in that
    encoding."""
    chosen = encoding or _guessed(content, name)
    if chosen in ("utf-8", "utf-8-sig"):
        at = _first_wrong(content)
        if at is None:
            return content.removeprefix(codecs.BOM_UTF8), chosen
        if encoding:
            raise FileError(f"{name} is not in UTF-8: line {_line(content, at)} holds something else.")
        chosen = MACINTOSH if _is_macintosh(content) else WESTERN
    try:
        return codecs.decode(content, chosen).encode("utf-8"), chosen
    except UnicodeDecodeError as error:
        if chosen == WESTERN and not encoding:
            return content.decode(WESTERN, errors="replace").encode("utf-8"), chosen
        line = _line(content, error.start)
        raise FileError(f"{name} is not in {CHOICES.get(chosen, chosen)}: line {line} holds something else.") from error
    except (LookupError, UnicodeEncodeError) as error:
        raise FileError(f"{name} cannot be read in “{chosen}”.") from error


def _guessed(content: bytes, name: str) -> str:
    for mark, encoding in MARKS:
        if content.startswith(mark):
            return encoding
    head = content[:4096]
    if b"\x00" not in head:
        return "utf-8"
    found = {place: head[place::4].count(0) * 4 / len(head) for place in range(4)}
    if found[1] > 0.9 and found[2] > 0.9 and found[3] > 0.9 and found[0] < 0.1:
        return "utf-32-le"
    if found[0] > 0.9 and found[1] > 0.9 and found[2] > 0.9 and found[3] < 0.1:
        return "utf-32-be"
    if min(found[1], found[3]) > 0.5 and max(found[0], found[2]) < 0.1:
        return "utf-16-le"
    if min(found[0], found[2]) > 0.5 and max(found[1], found[3]) < 0.1:
        return "utf-16-be"
    raise FileError(f"{name} is not a text file, whatever its name says.")


_IN_MAC_WORDS = re.compile(rb"[A-Za-z][\x81\x83\x84\x86-\x89\x8b\x8d\x8f\x90\x98\x9b\x9d\x9f\xa7][a-z]")
_IN_WESTERN_WORDS = re.compile(rb"[A-Za-z][\xc0-\xff][a-z]")


def _is_macintosh(content: bytes) -> bool:
    """Whether letters stand within words where the Western encoding has signs that stand in no word."""
    head = content[:_PIECE]
    return len(_IN_MAC_WORDS.findall(head)) > len(_IN_WESTERN_WORDS.findall(head))


def _first_wrong(content: bytes) -> int | None:
    """Where the content stops being UTF-8; looked at piece by piece, so that no second copy is made."""
    if content.isascii():
        return None
    decoder = codecs.getincrementaldecoder("utf-8")()
    for start in range(0, len(content), _PIECE):
        piece = content[start : start + _PIECE]
        try:
            decoder.decode(piece, final=start + _PIECE >= len(content))
        except UnicodeDecodeError as error:
            return start + error.start
    return None


def _line(content: bytes, at: int) -> int:
    return content.count(b"\n", 0, at) + 1
