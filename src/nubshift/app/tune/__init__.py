"""The workspace Tune: one control large, as it is and as the game gets it (docs/architecture.md)."""
