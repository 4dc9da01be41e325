"""Facts: what the file says, and what each column is. No choice of the analyst stands here."""
