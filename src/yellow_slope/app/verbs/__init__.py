"""What can be done: every action with its key, and the questions it asks."""
