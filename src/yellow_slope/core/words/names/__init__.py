"""Names that a person reads: of terms, groups, numbers, and of the study's parts."""
