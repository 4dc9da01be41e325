"""A group variable by itself: its comparisons, its means, its pairs."""
