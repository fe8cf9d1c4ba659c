"""What all parts of a profile share, and the kinds of text that stand in many of them."""

from __future__ import annotations

from typing import Annotated, Literal, TypeAlias

import msgspec

Id = Annotated[
    str, msgspec.Meta(pattern=r"^[a-z0-9][a-z0-9_-]{0,63}$", description="lower-case name used inside the file")
]
Text = Annotated[str, msgspec.Meta(max_length=200)]
Note = Annotated[str, msgspec.Meta(max_length=5000)]
Share = Annotated[float, msgspec.Meta(ge=0, le=1)]
Signed = Annotated[float, msgspec.Meta(ge=-1, le=1)]

Direction = Literal["up", "up_right", "right", "down_right", "down", "down_left", "left", "up_left"]
DIRECTIONS: tuple[Direction, ...] = ("up", "up_right", "right", "down_right", "down", "down_left", "left", "up_left")
"""Clockwise from up, as the sectors of a stick are numbered."""

Form: TypeAlias = Literal["keys", "pad"]
"""Which form of a command is sent: its keys, or its buttons of the virtual pad."""


class Part(msgspec.Struct, frozen=True, forbid_unknown_fields=True, omit_defaults=True):
    """Immutable, strict, and short when written. Subclasses must say `forbid_unknown_fields` again."""
