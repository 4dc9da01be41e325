"""Widgets of no waypoint in particular, and their looks."""
