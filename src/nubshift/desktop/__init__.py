"""The session that we run in, as runner and window both see it: its compositor and its keymap. No Qt in here."""
