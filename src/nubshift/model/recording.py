"""Keys pressed by hand become the steps of a macro (need N31)."""

from __future__ import annotations

from collections.abc import Sequence

from nubshift.model.profile import MacroPress, MacroRelease, MacroStep, MacroTap, MacroWait
from nubshift.model.sends import SendKey

LEAST_WAIT = 20
"""Pauses shorter than this, in ms, are the player's hands and not meant."""

Stroke = tuple[int, str, bool]
"""When (ms), which key, and whether it went down."""


def steps_of(strokes: Sequence[Stroke]) -> tuple[MacroStep, ...]:
    """The steps that do the same: a key alone becomes a tap, keys held over others a press and a release.

    What is still down at the end is let go of; releases of keys that went down before the recording are left out.
    """
    down: set[str] = set()
    steps: list[MacroStep] = []
    last = strokes[0][0] if strokes else 0
    index = 0
    while index < len(strokes):
        t, key, pressed = strokes[index]
        if pressed == (key in down):
            index += 1
            continue
        if steps and t - last >= LEAST_WAIT:
            steps.append(MacroWait(round(t - last)))
        last = t
        following = strokes[index + 1] if index + 1 < len(strokes) else None
        if pressed and following is not None and following[1:] == (key, False):
            steps.append(MacroTap((SendKey(key),), min(60_000, max(10, round(following[0] - t)))))
            last = following[0]
            index += 2
            continue
        (down.add if pressed else down.discard)(key)
        steps.append(MacroPress((SendKey(key),)) if pressed else MacroRelease((SendKey(key),)))
        index += 1
    steps += [MacroRelease((SendKey(key),)) for key in sorted(down)]
    return tuple(steps)
