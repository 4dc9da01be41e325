"""A fitted model: its steps, their inference, and the evaluation of a study."""
