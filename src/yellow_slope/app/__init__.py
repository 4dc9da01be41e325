"""What is seen: the window, its waypoints, actions and looks."""
