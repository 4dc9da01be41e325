"""How numbers, lists and reasons are spelled."""
