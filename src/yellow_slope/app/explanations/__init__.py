"""What the foot says of the thing that is looked at, a file for each waypoint."""
