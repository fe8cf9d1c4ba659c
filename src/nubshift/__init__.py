"""Nub Shift: per-game profiles that turn a gamepad into keyboard keys and mouse motion."""

__version__ = "0.1.0"
