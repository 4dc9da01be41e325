"""The errors a user can cause and act on."""

from __future__ import annotations

import re

MOST_QUOTED = 200
_QUOTED = re.compile(rf"“([^“”]{{{MOST_QUOTED}}})[^“”]+”")


class YellowSlopeError(Exception):
    """Something the user can put right; the message says what, where, and how. Of what is quoted at length it says the
    beginning."""

    def __init__(self, said: str = "", *more: object) -> None:
        super().__init__(_QUOTED.sub(r"“\1 …”", said), *more)


class StudyError(YellowSlopeError):
    """The study asks for something that cannot be: an unknown variable, a group as outcome, and the like."""


class FileError(YellowSlopeError):
    """A file cannot be read or written as asked."""
