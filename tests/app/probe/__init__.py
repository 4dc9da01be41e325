"""The waypoint Probe."""
