"""The waypoint Data."""
