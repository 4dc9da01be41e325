"""The waypoint Checks."""
