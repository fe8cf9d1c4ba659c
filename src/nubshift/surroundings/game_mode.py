"""Which processes are games, as GameMode tells where it runs, over its public D-Bus interface."""

from __future__ import annotations

from jeepney import DBusAddress, HeaderFields, MatchRule, new_method_call

from nubshift.surroundings.bus import Bus

GAME_MODE = DBusAddress(
    "/com/feralinteractive/GameMode", "com.feralinteractive.GameMode", "com.feralinteractive.GameMode"
)


class GameMode:
    """`games` are the processes registered as games. Raises OSError where there is no session bus."""

    def __init__(self) -> None:
        self._bus = Bus("SESSION")
        for member in ("GameRegistered", "GameUnregistered"):
            self._bus.listen(MatchRule(type="signal", interface=GAME_MODE.interface, member=member))
        told = self._bus.ask(new_method_call(GAME_MODE, "ListGames")) if self._runs() else None
        self.games: frozenset[int] = frozenset(pid for pid, _path in (told[0] if told else ()))

    def _runs(self) -> bool:
        """Whether it runs already: to ask it would start it."""
        bus = DBusAddress("/org/freedesktop/DBus", "org.freedesktop.DBus", "org.freedesktop.DBus")
        told = self._bus.ask(new_method_call(bus, "NameHasOwner", "s", (GAME_MODE.bus_name,)))
        return bool(told and told[0])

    def fileno(self) -> int:
        """Readable when it may have told something."""
        return self._bus.fileno()

    def changed(self) -> bool:
        """Take in what was told; whether other processes are games now. Raises OSError when the bus is gone."""
        before = self.games
        for message in self._bus.take():
            pid = message.body[0]
            came = message.header.fields.get(HeaderFields.member) == "GameRegistered"
            self.games = self.games | {pid} if came else self.games - {pid}
        return self.games != before

    def close(self) -> None:
        """Hear no more."""
        self._bus.close()
