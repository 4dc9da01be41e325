"""Does a product stand: what becomes of it where something is done otherwise."""
