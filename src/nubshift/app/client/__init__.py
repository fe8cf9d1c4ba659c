"""The window's end of the runner: the socket, a mirror of what it tells, and what it is sent."""
