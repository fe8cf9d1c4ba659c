"""Who plays with which part of which controller: halves, joined ones, and what a seat has of them all (need N05)."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from typing import Final, Literal, TypeAlias

from msgspec.structs import replace

from nubshift.model.controller_info import ControllerInfo
from nubshift.model.controls import CONTROLS, Finger
from nubshift.model.stored_controllers import PartOf

Side: TypeAlias = Literal["all", "left", "right"]
_HANDS: Final[Mapping[str, frozenset[Finger]]] = {
    "left": frozenset({Finger.LEFT_INDEX, Finger.LEFT_THUMB, Finger.LEFT_GRIP}),
    "right": frozenset({Finger.RIGHT_INDEX, Finger.RIGHT_THUMB, Finger.RIGHT_GRIP}),
}


def half(info: ControllerInfo, side: Side) -> tuple[str, ...] | None:
    """The controls of a half of a controller, by the hand that reaches them; None for all."""
    hands = _HANDS.get(side)
    if hands is None:
        return None
    return tuple(name for name in info.controls if CONTROLS[name].reach in hands)


def has_halves(info: ControllerInfo) -> bool:
    """Whether both hands have something to do on it, so that two players could share it."""
    return bool(half(info, "left")) and bool(half(info, "right"))


def side_of(info: ControllerInfo, part: PartOf) -> Side:
    """Which half of a controller a part is."""
    sides: tuple[Side, ...] = ("left", "right")
    counting = set(part.controls) if part.controls is not None else None
    return next((side for side in sides if counting == set(half(info, side) or ())), "all")


def taken(info: ControllerInfo, part: PartOf, side: Side) -> PartOf:
    """`part` with another half of its controller. Of two halves the right one has the motion."""
    return replace(part, controls=half(info, side), motion=side != "left")


def joined(parts: Sequence[PartOf], infos: Mapping[str, ControllerInfo], more: ControllerInfo) -> tuple[PartOf, ...]:
    """`parts` with another controller beside them; of two that have the same controls each gives a half.

    `infos` are the controllers by what the parts call them. The motion of exactly one of them counts.
    """
    fresh = PartOf(more.key, motion=False)
    first = infos.get(parts[0].controller) if len(parts) == 1 else None
    if first is not None and parts[0].controls is None and _alike(first, more):
        parts = (replace(parts[0], controls=half(first, "left"), motion=False),)
        fresh = PartOf(more.key, half(more, "right"))
    elif len(parts) == 1 and first is not None and side_of(first, parts[0]) in ("left", "right"):
        other: Side = "right" if side_of(first, parts[0]) == "left" else "left"
        fresh = replace(fresh, controls=half(more, other) if has_halves(more) else None)
    return with_one_motion((*parts, fresh), {**infos, more.key: more})


def other_half(info: ControllerInfo, infos: Iterable[ControllerInfo]) -> ControllerInfo | None:
    """The half that makes a pair with this one, if it is a half and another is there."""
    wanted = {"left": "right", "right": "left"}.get(info.half)
    return next((other for other in infos if wanted and other.half == wanted), None)


def paired(one: ControllerInfo, other: ControllerInfo) -> tuple[PartOf, ...]:
    """Two halves as one controller, the left one first; the right one has the motion."""
    first, second = sorted((one, other), key=lambda info: info.half)
    return PartOf(first.key, motion=False), PartOf(second.key)


def with_one_motion(
    parts: Sequence[PartOf], infos: Mapping[str, ControllerInfo], chosen: str = ""
) -> tuple[PartOf, ...]:
    """`parts` of which one gives the motion: the one chosen, else the one that did, else the first that has motion."""
    moving = chosen or next((part.controller for part in parts if part.motion and _moves(infos, part)), "")
    moving = moving or next((part.controller for part in parts if _moves(infos, part)), parts[0].controller)
    return tuple(replace(part, motion=part.controller == moving) for part in parts)


def _moves(infos: Mapping[str, ControllerInfo], part: PartOf) -> bool:
    info = infos.get(part.controller)
    return info is not None and "motion" in info.controls


def _alike(one: ControllerInfo, other: ControllerInfo) -> bool:
    """Whether two controllers have mostly the same controls, so that joining them whole would be no use."""
    both = set(one.controls) & set(other.controls)
    return has_halves(one) and has_halves(other) and len(both) * 2 > min(len(one.controls), len(other.controls))


def seat_info(parts: Iterable[PartOf], infos: Mapping[str, ControllerInfo]) -> ControllerInfo | None:
    """All that a seat has, as one controller: the first part's, with what the others bring. None if none is here."""
    present = [(part, infos[part.controller]) for part in parts if part.controller in infos]
    if not present:
        return None
    controls = dict.fromkeys(name for part, info in present for name in part.seen_of(info.controls))
    two_sided = dict.fromkeys(name for part, info in present for name in part.seen_of(info.two_sided))
    return replace(present[0][1], controls=tuple(controls), two_sided=tuple(two_sided))


def owner_of(control: str, parts: Iterable[PartOf], infos: Mapping[str, ControllerInfo]) -> ControllerInfo | None:
    """The controller that a control of a seat is on."""
    for part in parts:
        info = infos.get(part.controller)
        if info is not None and control in part.seen_of(info.controls):
            return info
    return None
