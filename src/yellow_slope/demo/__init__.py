"""The made-up world of the dry-slope learners."""
