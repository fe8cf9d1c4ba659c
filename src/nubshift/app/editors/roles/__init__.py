"""Panels of what acts by its position: what it is used as, and the rows for each use."""
