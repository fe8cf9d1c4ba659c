"""A stand-in for the desktop's global shortcuts on a real bus (org.freedesktop.portal.GlobalShortcuts).

Run as a program with the address of a bus: it says ``ready``, then ``bound TRIGGER`` for each key asked for; each line of
input presses it.
"""

from __future__ import annotations

import select
import sys

from jeepney import DBusAddress, HeaderFields, Message, MessageType, new_error, new_method_return, new_signal
from jeepney.bus_messages import message_bus
from jeepney.io.blocking import open_dbus_connection

NAME, PATH = "org.freedesktop.portal.Desktop", "/org/freedesktop/portal/desktop"
SHORTCUTS = DBusAddress(PATH, NAME, "org.freedesktop.portal.GlobalShortcuts")
SESSION = f"{PATH}/session/stand_in"


def main() -> None:
    bus = open_dbus_connection(sys.argv[1])
    bus.send_and_get_reply(message_bus.RequestName(NAME))
    print("ready", flush=True)
    while True:
        ready, _unused, _unused = select.select((bus.sock, sys.stdin), (), ())
        if sys.stdin in ready:
            if not sys.stdin.readline():
                return
            bus.send(new_signal(SHORTCUTS, "Activated", "osta{sv}", (SESSION, "pause", 7, {})))
        if bus.sock in ready:
            message = bus.receive()
            if message.header.message_type is MessageType.method_call:
                for answer in answers(message):
                    bus.send(answer)


def answers(message: Message) -> list[Message]:
    """What the portal says to a call."""
    fields = message.header.fields
    sender = str(fields[HeaderFields.sender]).lstrip(":").replace(".", "_")
    match fields.get(HeaderFields.member):
        case "CreateSession":
            request = f"{PATH}/request/{sender}/{message.body[0]['handle_token'][1]}"
            granted = DBusAddress(request, NAME, "org.freedesktop.portal.Request")
            return [
                new_method_return(message, "o", (request,)),
                new_signal(granted, "Response", "ua{sv}", (0, {"session_handle": ("s", SESSION)})),
            ]
        case "BindShortcuts":
            session, wishes, _parent, _options = message.body
            assert session == SESSION
            print(f"bound {wishes[0][1]['preferred_trigger'][1]}", flush=True)
            return [new_method_return(message, "o", (f"{PATH}/request/{sender}/bind",))]
    return [new_error(message, "org.freedesktop.DBus.Error.UnknownMethod")]


if __name__ == "__main__":
    main()
