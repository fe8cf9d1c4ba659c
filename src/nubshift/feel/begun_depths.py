"""How many of some depths have begun (contract R15, and R4 for a trigger that is a button)."""

from __future__ import annotations

from collections.abc import Sequence


class BegunDepths:
    """`edges` are the depths, rising, each with the one below which it ends; `begun` is how many have begun."""

    def __init__(self, edges: Sequence[tuple[float, float]]) -> None:
        self.edges = edges
        self.begun = 0

    def step(self, depth: float) -> int:
        """A new depth, 0 to 1; returns how many have begun."""
        edges = self.edges
        while self.begun and depth < edges[self.begun - 1][1]:
            self.begun -= 1
        while self.begun < len(edges) and depth >= edges[self.begun][0]:
            self.begun += 1
        return self.begun
