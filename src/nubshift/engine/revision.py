"""What makes positions look their bindings up again, counted in one place for all that may do it."""

from __future__ import annotations


class Revision:
    """`count` goes up with every entry of a layer that came, went or moved, and with changes of the feel."""

    def __init__(self) -> None:
        self.count = 0
