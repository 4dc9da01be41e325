"""Delimited text: from bytes to columns."""
