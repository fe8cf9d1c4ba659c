"""What turns the view while one whole turn is counted: chosen from whatever the controller has (N45)."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence

from nubshift.model.controls import Kind, kind_of
from nubshift.model.profile import BASE, Binding, Game, Layer, Profile, new_profile
from nubshift.model.roles import KeysRole
from nubshift.model.sends import Send, SendMotion, Turbo
from nubshift.texts import _

FAST, SLOW = 60, 10
"""Counts of one nudge while a control for turning fast, or slowly, is held."""
HAIR = 2
"""Counts of one tap for the last bit."""
NUDGES = 50.0
"""Nudges a second while held."""

Press = tuple[str, str]
"""A control, and its side (``right``, ``left``) where it is moved instead of pressed."""
_WISHES: tuple[tuple[str, Send | None, Sequence[str]], ...] = (
    ("hair right", SendMotion(HAIR, 0), ("dpad_right",)),
    ("hair left", SendMotion(-HAIR, 0), ("dpad_left",)),
    ("keep", None, ("south",)),
    ("fast right", Turbo((SendMotion(FAST, 0),), rate=NUDGES), ("right_bumper",)),
    ("fast left", Turbo((SendMotion(-FAST, 0),), rate=NUDGES), ("left_bumper",)),
    ("slow right", Turbo((SendMotion(SLOW, 0),), rate=NUDGES), ("right_trigger",)),
    ("slow left", Turbo((SendMotion(-SLOW, 0),), rate=NUDGES), ("left_trigger",)),
)
"""What there is to do, what does it, and where it lies on a pad."""
NEEDED = ("hair right", "keep", "fast right")
"""Without these nothing can be counted; they take any control that is free."""


_PAIRS = (("fast right", "fast left"), ("hair right", "hair left"))
"""What one thing that goes both ways does best."""


def turning(controls: Collection[str], two_sided: Collection[str] = ()) -> dict[str, Press]:
    """Which press does what; empty if there are too few of them to count a turn."""
    found = {wish: (name, "") for wish, _unused, names in _WISHES for name in names if name in controls}
    ways = [name for name in controls if kind_of(name) is Kind.STICK or name in two_sided]
    for pair in _PAIRS:
        if ways and not any(wish in found for wish in pair):
            way = ways.pop(0)
            found |= {wish: (way, side) for wish, side in zip(pair, ("right", "left"), strict=True)}
    free = [(name, "") for name in controls if kind_of(name) in (Kind.BUTTON, Kind.TRIGGER)]
    free += [(name, "right") for name in controls if kind_of(name) is Kind.AXIS and name not in two_sided]
    free = [press for press in free if press not in found.values()]
    for wish in (*NEEDED, "hair left", "fast left"):
        if wish not in found and free:
            found[wish] = free.pop(0)
    return found if all(wish in found for wish in NEEDED) else {}


def turning_profile(profile: Profile, found: Mapping[str, Press], seat: str) -> Profile:
    """What the controller does while a turn is counted; keeping is seen to by the window."""
    sides: dict[str, dict[str, Send]] = {}
    for wish, send, _unused in _WISHES:
        if wish in found and send is not None:
            control, side = found[wish]
            sides.setdefault(control, {})[side] = send
    bindings = []
    for control, by_side in sides.items():
        if "" in by_side:
            bindings.append(Binding(control, press=(by_side[""],), seat=seat))
            continue
        right, left = (tuple(send for way, send in by_side.items() if way == side) for side in ("right", "left"))
        bindings.append(Binding(control, role=KeysRole(right=right, left=left), seat=seat))
    made = new_profile(_("turn gauge"))
    layers = (Layer(BASE, _("Base"), bindings=tuple(bindings)),)
    return Profile(made.format, made.version, Game(_("turn gauge")), layers=layers, seats=profile.seats)
