"""A profile compiled into tables, and what it sends for what it receives."""
