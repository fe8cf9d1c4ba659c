"""Sinks: where output goes, each of which knows what it holds."""
