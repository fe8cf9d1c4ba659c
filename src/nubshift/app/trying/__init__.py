"""The workspace Try: the range, where settings are tried without a game (N50, N51)."""
