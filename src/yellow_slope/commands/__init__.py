"""What the program does without a window: a function for each command, which refuses with a sentence."""
