"""Attacks on what has been built: mutated files, hostile messages, kills at any moment. Short in the tests, long by hand."""
