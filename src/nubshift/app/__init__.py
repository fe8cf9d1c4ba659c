"""The window (PyQt6): shows and edits profiles; reaches the runner only over its socket."""
