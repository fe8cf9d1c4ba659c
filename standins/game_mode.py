"""A stand-in for GameMode on a real bus.

Run as a program with the address of a bus: it says ``ready``. ``+PID`` and ``-PID`` register a game and end it.
"""

from __future__ import annotations

import select
import sys

from jeepney import DBusAddress, HeaderFields, MessageType, new_error, new_method_return, new_signal
from jeepney.bus_messages import message_bus
from jeepney.io.blocking import open_dbus_connection

NAME = "com.feralinteractive.GameMode"
GAME_MODE = DBusAddress("/com/feralinteractive/GameMode", NAME, NAME)


def main() -> None:
    bus = open_dbus_connection(sys.argv[1])
    bus.send_and_get_reply(message_bus.RequestName(NAME))
    games: list[int] = []
    print("ready", flush=True)
    while True:
        ready, _unused, _unused = select.select((bus.sock, sys.stdin), (), ())
        if sys.stdin in ready:
            line = sys.stdin.readline().strip()
            if not line:
                return
            pid, came = int(line[1:]), line.startswith("+")
            (games.append if came else games.remove)(pid)
            word = "GameRegistered" if came else "GameUnregistered"
            bus.send(new_signal(GAME_MODE, word, "io", (pid, f"{GAME_MODE.object_path}/Games/{pid}")))
            print("told", flush=True)
        if bus.sock in ready:
            message = bus.receive()
            if message.header.message_type is not MessageType.method_call:
                continue
            if message.header.fields.get(HeaderFields.member) == "ListGames":
                rows = [(pid, f"{GAME_MODE.object_path}/Games/{pid}") for pid in games]
                bus.send(new_method_return(message, "a(io)", (rows,)))
            else:
                bus.send(new_error(message, "org.freedesktop.DBus.Error.UnknownMethod"))


if __name__ == "__main__":
    main()
