"""What is sent, in the order in which a game is to hear it (contract R1): the new kind of input last."""

from __future__ import annotations

from typing import Final

from nubshift.engine.owner import Caused, Owner
from nubshift.events import Button, Key, Motion, Output, Pad

HOLE: Final = Motion(0, 0, 0)
"""Stands in the list of what is sent where a key may go down or up, until it is known whether it does."""


class Outbox:
    """`sent` is what was sent since the list was begun; of that, the present step sent what stands from `start` on.

    A step is over when `start` is put at the end.
    """

    def __init__(self) -> None:
        self.sent: list[Caused] = []
        self.early: set[int] = set()
        """Places in `sent` of what comes before the step's first down."""
        self.loose = False
        """Whether what the present step sent has yet to be arranged: there are holes, or early places."""
        self.start = 0

    def begin(self) -> list[Caused]:
        """What is sent from now on goes to a new list, which is returned."""
        self.sent = []
        self.start = 0
        return self.sent

    def add(self, output: Output, by: Owner | None) -> None:
        """Send something, for the sake of `by`."""
        self.sent.append((output, by))

    def add_early(self, outputs: list[Output]) -> None:
        """Send this before the step's first down."""
        self.early.update(range(len(self.sent), len(self.sent) + len(outputs)))
        self.loose = True
        self.sent += [(output, None) for output in outputs]

    def hole(self) -> int:
        """Keep a place for something that may be sent; returns it."""
        self.loose = True
        self.sent.append((HOLE, None))
        return len(self.sent) - 1

    def fill(self, place: int, output: Output, by: Owner | None, *, early: bool = False) -> None:
        """Send something in a place that was kept."""
        self.sent[place] = output, by
        if early:
            self.early.add(place)

    def arrange(self) -> None:
        """Put what the present step sent in order, and take the holes out."""
        if self.loose:
            arrange(self.sent, self.start, self.early)
            self.early.clear()
            self.loose = False


def arrange(sent: list[Caused], start: int, early: set[int]) -> None:
    """Put what stands in `sent` from `start` on in order: what is at the places `early` comes before the first down.

    Events of one key stay in their order. Holes are taken out.
    """
    first: list[Caused] = []
    later: list[Caused] = []
    down: set[tuple[type[Output], str]] = set()
    for place in range(start, len(sent)):
        caused = sent[place]
        output = caused[0]
        if output is HOLE:
            continue
        if not isinstance(output, Key | Button | Pad):
            (later if down else first).append(caused)
            continue
        if place in early and (type(output), output.code) not in down:
            first.append(caused)
        elif down or (output.value == 1 and place not in early):
            down.add((type(output), output.code))
            later.append(caused)
        else:
            first.append(caused)
    sent[start:] = first + later
