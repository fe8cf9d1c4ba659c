"""The signal stages of a stick, one a file: pure arithmetic on single values."""
