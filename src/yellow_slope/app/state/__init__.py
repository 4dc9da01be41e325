"""What the window knows: the session, the desk, the newest view, and the worker that makes it. No widget."""
