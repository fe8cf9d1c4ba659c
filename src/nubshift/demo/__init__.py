"""Demo profiles and simulated players, as data."""
