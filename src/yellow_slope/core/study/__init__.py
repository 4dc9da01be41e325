"""Choices: what the analyst decided. Every value is immutable; an edit makes a new study."""
