"""The waypoint Report."""
