"""The waypoint Blocks."""
