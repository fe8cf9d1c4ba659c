"""What goes on around play on this desktop: programs that run, and the window in front."""
