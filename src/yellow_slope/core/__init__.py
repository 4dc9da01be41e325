"""What is true: tables, terms, estimation, steps, probing, flags and wording, without any interface."""
