"""Nub Shift: per-game profiles that turn a gamepad into keyboard keys and mouse motion."""

__version__ = "0.1.0"
"""The one place where it stands; `tools/release` holds all others to it."""
