"""The workspace Profiles: the shelf, what each profile starts with, its history, and the order of the rules."""
