"""Results of a model: cases, design, factorization, steps. Computed from facts and choices, never stored."""
