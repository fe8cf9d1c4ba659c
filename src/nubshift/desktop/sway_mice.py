"""How sway takes the motion of a mouse, and asking it for another way (sway-input(5), accel_profile)."""

from __future__ import annotations

from typing import Any

from nubshift.desktop.mice import MouseProfile
from nubshift.desktop.sway import GET_INPUTS, RUN_COMMAND, SwaySocket


class SwayMice:
    """The mice of the sway that listens at `path`. Raises OSError where none does."""

    def __init__(self, path: str) -> None:
        self._sway = SwaySocket(path)

    def _mouse(self, name: str) -> dict[str, Any] | None:
        try:
            inputs = self._sway.ask(GET_INPUTS)
        except OSError:
            return None
        return next((one for one in inputs if one.get("name") == name and one.get("type") == "pointer"), None)

    def profile_of(self, name: str) -> MouseProfile:
        """How it takes the mouse with this name."""
        profile = ((self._mouse(name) or {}).get("libinput") or {}).get("accel_profile")
        return "none" if profile in (None, "none") else "flat" if profile == "flat" else "bent"

    def flatten(self, name: str) -> MouseProfile:
        """Ask for it to be taken as it is; how it is taken then."""
        found = self.profile_of(name)
        if found != "bent":
            return found
        try:
            self._sway.ask(RUN_COMMAND, self._setting(name).encode())
        except OSError:
            return "none"
        return self.profile_of(name)

    def _setting(self, name: str) -> str:
        mouse = self._mouse(name) or {}
        return f'input "{mouse.get("identifier", "type:pointer")}" accel_profile flat'

    def command(self, name: str) -> str:
        """What a player can type for the same."""
        return f"swaymsg '{self._setting(name)}'"

    def close(self) -> None:
        """Ask no more."""
        self._sway.close()
