"""The profile document: its form, reading, editing and storing."""
