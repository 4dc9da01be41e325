"""The waypoint Prepare."""
