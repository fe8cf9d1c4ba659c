"""A Wayland session: the connection, the protocols that no library has, its keyboard's keymap. No Qt in here."""
