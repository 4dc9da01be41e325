"""Results of a probe: conditional effects, regions, lines."""
