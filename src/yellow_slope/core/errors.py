"""The errors a user can cause and act on."""

from __future__ import annotations


class YellowSlopeError(Exception):
    """Something the user can put right; the message says what, where, and how."""


class StudyError(YellowSlopeError):
    """The study asks for something that cannot be: an unknown variable, a group as outcome, and the like."""


class FileError(YellowSlopeError):
    """A file cannot be read or written as asked."""
