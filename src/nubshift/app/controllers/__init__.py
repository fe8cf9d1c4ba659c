"""The workspace Controllers: what is plugged in, how it is understood, who plays with it."""
