"""KWin's objects of input devices on a bus (its argument is the address), with two mice; says what is set."""

from __future__ import annotations

import sys

from jeepney import HeaderFields, MessageType, new_error, new_method_return
from jeepney.bus_messages import message_bus
from jeepney.io.blocking import open_dbus_connection

from nubshift.events import VIRTUAL_MOUSE
from nubshift.surroundings.kwin_mice import FLAT, ROOT, SERVICE


def main() -> None:
    connection = open_dbus_connection(sys.argv[1])
    connection.send_and_get_reply(message_bus.RequestName(SERVICE))
    names = {"event3": "Mouse", "event9": VIRTUAL_MOUSE}
    flat = dict.fromkeys(names, False)
    print("ready", flush=True)
    while True:
        asked = connection.receive()
        if asked.header.message_type != MessageType.method_call:
            continue
        path, member = (asked.header.fields.get(field) for field in (HeaderFields.path, HeaderFields.member))
        device = str(path).rpartition("/")[2]
        if member == "Get" and path == ROOT:
            answer = new_method_return(asked, "v", (("as", list(names)),))
        elif member == "Get" and device in names:
            known = {"name": ("s", names[device]), FLAT: ("b", flat[device])}
            answer = new_method_return(asked, "v", (known[asked.body[1]],))
        elif member == "Set" and device in names:
            flat[device] = asked.body[2][1]
            print(f"{device} {'flat' if flat[device] else 'bent'}", flush=True)
            answer = new_method_return(asked)
        else:
            answer = new_error(asked, "org.freedesktop.DBus.Error.UnknownMethod")
        connection.send(answer)


if __name__ == "__main__":
    main()
