"""What becomes of a whole analysis where other cases are in use."""
