"""Bytes in and out: whole or not at all, within bounds, with their checksum."""
