"""From variables to the columns of a model: axes, codes, bases, cases, the design."""
