"""What is asked of a fit."""
