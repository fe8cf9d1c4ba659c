"""Doing everything that can be done on a controller of the laboratory."""

from __future__ import annotations

from collections.abc import Callable

from nubshift.events import Change
from standins.laboratory.describing import Kind, acts


def play(kind: Kind, events: Callable[..., dict[str, Change]]) -> None:
    """Do everything that can be done on a kind, one after the other.

    `events` takes the number of a node and its events, and gives what the controller says of them.
    """
    for act in acts(kind):
        said = events(act.node, *act.events)
        if act.control == "motion":
            assert said["motion"][1] > 0, act  # to the right
        else:
            assert said[act.control] == (act.control, act.x, act.y), (act, said)
        rest = events(act.node, *act.back)
        assert all(abs(value) < 0.02 for value in rest[act.control][1:]), (act, rest)
