"""Sentences: what numbers mean, in the words of the study."""
