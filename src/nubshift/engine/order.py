"""The order of what one step sends (contract R1), so that a game hears the new kind of input last."""

from __future__ import annotations

from nubshift.engine.holders import HOLE
from nubshift.engine.owner import Owner
from nubshift.events import Button, Key, Output, Pad


def arrange(out: list[Output], causes: dict[int, Owner], start: int, early: set[int]) -> None:
    """Put what stands in `out` from `start` on in order: what is at the places `early` comes before the first down.

    Events of one key stay in their order. Holes are taken out. `causes` follow what they are the causes of.
    """
    first: list[int] = []
    later: list[int] = []
    down: set[tuple[type[Output], str]] = set()
    for place in range(start, len(out)):
        output = out[place]
        if output is HOLE:
            continue
        if not isinstance(output, Key | Button | Pad):
            (later if down else first).append(place)
            continue
        if place in early and (type(output), output.code) not in down:
            first.append(place)
        elif down or (output.value == 1 and place not in early):
            down.add((type(output), output.code))
            later.append(place)
        else:
            first.append(place)
    order = first + later
    found = [(out[place], causes.get(place)) for place in order]
    for place in range(start, len(out)):
        causes.pop(place, None)
    del out[start:]
    for output, by in found:
        if by is not None:
            causes[len(out)] = by
        out.append(output)
