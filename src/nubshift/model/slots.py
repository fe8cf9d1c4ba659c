"""Slots: the places of a profile that can be given something to send, and the way to them through its structs.

A slot says whose it is and which `part` of that, as a path through the fields: ``press``, ``role.up``,
``role.cells[4]``, ``bands[1].what``, ``entries[0].what``.
"""

from __future__ import annotations

import re
from typing import Any, cast

import msgspec
from msgspec import Struct
from msgspec.structs import replace

from nubshift.model.part import DIRECTIONS, Direction
from nubshift.model.sends import Sends
from nubshift.texts import _

TOGETHER = "+"
"""Between the names of controls that are pressed together."""
BELT, MACRO = "belt:", "macro:"
"""Before the id, in place of a control, for the entries of a belt and the steps of a macro."""


class Slot(Struct, frozen=True):
    """A place that sends: `part` of what `control` does in `layer`.

    `control` is one control or several joined with ``+``; for a belt or macro it is ``belt:ID``, and `layer` is empty.
    """

    layer: str
    control: str
    part: str = "press"
    seat: str = "1"

    @property
    def direction(self) -> Direction | None:
        """The direction of a stick used as keys, if it is that."""
        return direction_of(self.part)


def side(direction: Direction) -> str:
    """The part of a control that one of its directions is."""
    return f"role.{direction}"


def direction_of(part: str) -> Direction | None:
    """The direction that a part is, or None."""
    name = part.removeprefix("role.")
    return next((d for d in DIRECTIONS if d == name), None) if part.startswith("role.") else None


def sends_at(value: object, part: str) -> Sends:
    """What stands in a part of a struct; nothing where there is no such part."""
    for step in _steps(part):
        try:
            value = value[step] if isinstance(step, int) else getattr(value, step)  # type: ignore[index]
        except (AttributeError, IndexError, TypeError):
            return ()
    return cast("Sends", value)


def put_at(value: Any, part: str, sends: Sends) -> Any:
    """`value` with `sends` in a part of it, which must be there. Raises LookupError."""
    return _put(value, _steps(part), sends)


def _put(value: Any, steps: list[str | int], sends: Sends) -> Any:
    if not steps:
        return sends
    step, rest = steps[0], steps[1:]
    if isinstance(step, int):
        if not isinstance(value, tuple) or step >= len(value):
            raise LookupError(_("there is no entry {step}").format(step=step + 1))
        return (*value[:step], _put(value[step], rest, sends), *value[step + 1 :])
    if not isinstance(value, msgspec.Struct) or step not in value.__struct_fields__:
        raise LookupError(_("there is no {step}").format(step=step))
    return replace(value, **{step: _put(getattr(value, step), rest, sends)})


def _steps(part: str) -> list[str | int]:
    found = re.findall(r"([a-z_]+)|\[(\d+)\]", part)
    return [name or int(number) for name, number in found]


def index_of(part: str) -> int:
    """The number in a part: 4 for ``role.cells[4]``; -1 where there is none."""
    found = re.search(r"\[(\d+)\]", part)
    return int(found[1]) if found else -1
