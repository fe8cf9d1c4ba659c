"""How KWin takes the motion of a mouse, and asking it for another way, by its public D-Bus objects of input devices."""

from __future__ import annotations

from jeepney import DBusAddress, Properties

from nubshift.desktop.mice import MouseProfile
from nubshift.surroundings.bus import Bus

SERVICE, ROOT = "org.kde.KWin", "/org/kde/KWin/InputDevice"
DEVICE, MANAGER = "org.kde.KWin.InputDevice", "org.kde.KWin.InputDeviceManager"
FLAT = "pointerAccelerationProfileFlat"


class KWinMice:
    """The mice of the KWin of this session. Raises OSError where there is none."""

    def __init__(self) -> None:
        self._bus = Bus("SESSION")
        if self._devices() is None:
            self._bus.close()
            raise OSError("there is no KWin here")

    def _get(self, path: str, interface: str, name: str) -> object:
        told = self._bus.ask(Properties(DBusAddress(path, SERVICE, interface)).get(name))
        return told[0][1] if told else None

    def _devices(self) -> list[str] | None:
        found = self._get(ROOT, MANAGER, "devicesSysNames")
        return [f"{ROOT}/{name}" for name in found] if isinstance(found, list) else None

    def _mouse(self, name: str) -> str | None:
        return next((path for path in self._devices() or () if self._get(path, DEVICE, "name") == name), None)

    def profile_of(self, name: str) -> MouseProfile:
        """How it takes the mouse with this name."""
        path = self._mouse(name)
        flat = self._get(path, DEVICE, FLAT) if path is not None else None
        return "none" if flat is None else "flat" if flat else "bent"

    def flatten(self, name: str) -> MouseProfile:
        """Ask for it to be taken as it is; how it is taken then."""
        path = self._mouse(name)
        if path is not None and self.profile_of(name) == "bent":
            self._bus.ask(Properties(DBusAddress(path, SERVICE, DEVICE)).set(FLAT, "b", True))
        return self.profile_of(name)

    def command(self, name: str) -> str:
        """What a player can type for the same."""
        path = self._mouse(name) or f"{ROOT}/eventN"
        return f"busctl --user set-property {SERVICE} {path} {DEVICE} {FLAT} b true"

    def close(self) -> None:
        """Hang up."""
        self._bus.close()
