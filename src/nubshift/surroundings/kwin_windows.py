"""The windows of a session of KWin, told by a script that it runs for us, through its public interface for scripts."""

from __future__ import annotations

import contextlib
import os
from importlib.resources import files
from itertools import count
from pathlib import Path

import msgspec
from jeepney import DBusAddress, HeaderFields, MatchRule, MessageType, new_method_call

from nubshift.protocol.paths import runtime_folder
from nubshift.surroundings.bus import PATIENCE, Bus
from nubshift.surroundings.port import SeenWindow
from nubshift.texts import _

SERVICE = "org.kde.KWin"
SCRIPTING = DBusAddress("/Scripting", SERVICE, "org.kde.kwin.Scripting")
SCRIPT = "org.kde.kwin.Script"
PLACES = ("/Scripting/Script{number}", "/{number}")
"""Where KWin 6 and KWin 5 have a script that was loaded."""
BUS = DBusAddress("/org/freedesktop/DBus", "org.freedesktop.DBus", "org.freedesktop.DBus")
PATH, INTERFACE = "/windows", "io.github.nubshift.Windows"


class Told(msgspec.Struct, frozen=True):
    """A window as the script tells of it."""

    handle: str
    pid: int = 0
    group: str = ""
    title: str = ""
    full_screen: bool = False
    front: bool = False


class KWinWindows:
    """Hears of the windows of the KWin of this session. Raises OSError where there is none, or it runs no script."""

    how, sees_all, names_processes = _("KWin"), True, True

    def __init__(self) -> None:
        self._bus = Bus("SESSION")
        owner = self._bus.ask(new_method_call(BUS, "GetNameOwner", "s", (SERVICE,)))
        self._owner = owner[0] if owner else ""
        self._name = f"nubshift-{os.getpid()}-{self._bus.name.lstrip(':')}"
        self._numbers = count(1)
        self._handles: dict[str, int] = {}
        self._windows: tuple[SeenWindow, ...] = ()
        self._front: SeenWindow | None = None
        self._told = False
        try:
            if not self._owner:
                raise OSError("there is no KWin here")
            self._bus.hear_calls(MatchRule(type="method_call", interface=INTERFACE, path=PATH))
            gone = MatchRule(type="signal", interface=BUS.interface, member="NameOwnerChanged")
            gone.add_arg_condition(0, SERVICE)
            self._bus.listen(gone)
            self._run_script()
        except OSError:
            self.close()
            raise

    def _run_script(self) -> None:
        text = (files("nubshift") / "data" / "windows.kwin.js").read_text()
        for mark, name in {"@SERVICE@": self.name, "@PATH@": PATH, "@INTERFACE@": INTERFACE}.items():
            text = text.replace(mark, name)
        folder = runtime_folder()
        folder.mkdir(mode=0o700, parents=True, exist_ok=True)
        script = Path(folder) / f"{self._name}.js"
        script.write_text(text)
        try:
            told = self._bus.ask(new_method_call(SCRIPTING, "loadScript", "ss", (str(script), self._name)))
            if told is None or told[0] < 0:
                raise OSError("KWin loads no script")
            for place in PLACES:
                self._bus.ask(new_method_call(DBusAddress(place.format(number=told[0]), SERVICE, SCRIPT), "run"))
            if not self._told:
                self._take(PATIENCE)
            if not self._told:
                raise OSError("KWin's script tells nothing")
        finally:
            script.unlink(missing_ok=True)

    @property
    def name(self) -> str:
        """What the bus calls whom the script tells."""
        return self._bus.name

    def filenos(self) -> tuple[int, ...]:
        """Readable when something may have changed."""
        return (self._bus.fileno(),)

    def changed(self) -> bool:
        """Take in what came; whether it was another list. Raises OSError when KWin, or the bus, is gone."""
        before = self._windows, self._front
        self._take()
        return (self._windows, self._front) != before

    def _take(self, seconds: float = 0.0) -> None:
        for message in self._bus.take(seconds):
            fields = message.header.fields
            if message.header.message_type is MessageType.signal:
                if message.body[:1] == (SERVICE,):
                    raise OSError("KWin is gone")
            elif fields.get(HeaderFields.sender) == self._owner:
                self._bus.answer(message)
                with contextlib.suppress(msgspec.MsgspecError, IndexError):
                    self._hear(msgspec.json.decode(message.body[0], type=list[Told]))

    def _hear(self, told: list[Told]) -> None:
        self._told = True
        self._handles = {one.handle: self._handles.get(one.handle) or next(self._numbers) for one in told}
        seen = [
            SeenWindow(self._handles[one.handle], max(0, one.pid), one.group, one.title[:200], one.full_screen)
            for one in told
        ]
        self._windows = tuple(seen)
        self._front = next((window for window, one in zip(seen, told, strict=True) if one.front), None)

    def windows(self) -> tuple[SeenWindow, ...]:
        """All of them."""
        return self._windows

    def front(self) -> SeenWindow | None:
        """The one with the focus."""
        return self._front

    def close(self) -> None:
        """Have the script ended, and hang up."""
        if self._owner:
            self._bus.ask(new_method_call(SCRIPTING, "unloadScript", "s", (self._name,)))
        self._bus.close()
