"""Editors for each kind of binding: live pictures that are handled, and the rows beside them."""
