"""Whether the player is away: the machine about to sleep, the session locked or another user's turn, the screen saver.

Told by the system's login service (org.freedesktop.login1) and by screen savers, over their public D-Bus interfaces.
"""

from __future__ import annotations

import os
from typing import Literal, TypeAlias

from jeepney import DBusAddress, HeaderFields, MatchRule, Message, Properties, new_method_call

from nubshift.surroundings.bus import Bus
from nubshift.texts import _

Reason: TypeAlias = Literal["sleep", "locked", "inactive", "screen saver"]

LOGIN = "org.freedesktop.login1"
MANAGER = DBusAddress("/org/freedesktop/login1", LOGIN, "org.freedesktop.login1.Manager")
SESSION = "org.freedesktop.login1.Session"
PROPERTIES = "org.freedesktop.DBus.Properties"
SAVERS = ("org.freedesktop.ScreenSaver", "org.gnome.ScreenSaver")


class Absence:
    """Follows all of them. Raises OSError where nobody can be asked.

    While awake it holds an inhibitor: the system waits with its sleep until `released`, for a few seconds at most.
    """

    def __init__(self) -> None:
        self.reasons: frozenset[Reason] = frozenset()
        self._buses: list[Bus] = []
        self._inhibitor: int | None = None
        session = self._open("SESSION")
        if session is not None:
            for saver in SAVERS:
                session.listen(MatchRule(type="signal", interface=saver, member="ActiveChanged"))
        self._system = self._open("SYSTEM")
        if self._system is not None:
            self._follow_login(self._system)
            self._inhibit()  # last: what is told from now on is heard
        if not self._buses:
            raise OSError("no bus answers")

    def _open(self, which: Literal["SYSTEM", "SESSION"]) -> Bus | None:
        try:
            found = Bus(which, descriptors=which == "SYSTEM")
        except OSError:
            return None
        self._buses.append(found)
        return found

    def _follow_login(self, bus: Bus) -> None:
        bus.listen(MatchRule(type="signal", interface=MANAGER.interface, member="PrepareForSleep"))
        path = self._session_path(bus)
        if not path:
            return
        bus.listen(MatchRule(type="signal", interface=SESSION, path=path))
        bus.listen(MatchRule(type="signal", interface=PROPERTIES, member="PropertiesChanged", path=path))
        about = Properties(DBusAddress(path, LOGIN, SESSION))
        for name, reason, when in (("LockedHint", "locked", True), ("Active", "inactive", False)):
            told = bus.ask(about.get(name))
            if told is not None:
                self._set(reason, told[0][1] is when)  # type: ignore[arg-type]

    def _session_path(self, bus: Bus) -> str:
        """That of our own session; of the user's graphical one for a service of theirs."""
        for message in (
            new_method_call(MANAGER, "GetSession", "s", (os.environ.get("XDG_SESSION_ID", ""),)),
            new_method_call(MANAGER, "GetSessionByPID", "u", (os.getpid(),)),
        ):
            told = bus.ask(message)
            if told is not None:
                return str(told[0])
        user = DBusAddress("/org/freedesktop/login1/user/self", LOGIN, "org.freedesktop.login1.User")
        told = bus.ask(Properties(user).get("Display"))
        return str(told[0][1][1]) if told is not None else ""

    def _inhibit(self) -> None:
        if self._system is None or self._inhibitor is not None:
            return
        words = ("sleep", "Nub Shift", _("Releases all keys before the machine sleeps"), "delay")
        told = self._system.ask(new_method_call(MANAGER, "Inhibit", "ssss", words))
        if told is not None:
            self._inhibitor = told[0].to_raw_fd()

    def released(self) -> None:
        """Everything is released: the machine may sleep."""
        if self._inhibitor is not None and "sleep" in self.reasons:
            os.close(self._inhibitor)
            self._inhibitor = None

    def filenos(self) -> tuple[int, ...]:
        """Readable when something was said."""
        return tuple(bus.fileno() for bus in self._buses)

    def take(self) -> frozenset[Reason]:
        """Take in what was said; why the player is away, nothing while they are not."""
        for bus in list(self._buses):
            try:
                for message in bus.take():
                    self._understand(message)
            except OSError:
                self._buses.remove(bus)
                bus.close()
        return self.reasons

    def _understand(self, message: Message) -> None:
        member = message.header.fields.get(HeaderFields.member)
        body = message.body
        match member:
            case "PrepareForSleep":
                self._set("sleep", bool(body[0]))
                if not body[0]:
                    self._inhibit()
            case "Lock" | "Unlock":
                self._set("locked", member == "Lock")
            case "ActiveChanged":
                self._set("screen saver", bool(body[0]))
            case "PropertiesChanged" if body[0] == SESSION:
                values = {name: value[1] for name, value in body[1].items()}
                if "LockedHint" in values:
                    self._set("locked", bool(values["LockedHint"]))
                if "Active" in values:
                    self._set("inactive", not values["Active"])

    def _set(self, reason: Reason, on: bool) -> None:
        self.reasons = self.reasons | {reason} if on else self.reasons - {reason}

    def close(self) -> None:
        """Listen no more."""
        if self._inhibitor is not None:
            os.close(self._inhibitor)
        for bus in self._buses:
            bus.close()
