"""How desktops take the motion of a mouse."""

from __future__ import annotations

from typing import Literal, TypeAlias

MouseProfile: TypeAlias = Literal["flat", "bent", "none"]
"""As it is, bent by its speed, or there is no such mouse or setting."""
