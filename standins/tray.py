"""A stand-in for the tray of a desktop on a real bus: takes an item, and works its menu as a panel does.

Run as a program with the address of a bus: it says ``ready``, and ``item`` when one has come. A line of input ``tell`` has
it print the labels of the item's menu as JSON; any other line chooses the entry with that label.
"""

from __future__ import annotations

import json
import select
import sys
from typing import Any

from jeepney import DBusAddress, HeaderFields, Message, MessageType, new_method_call, new_method_return
from jeepney.bus_messages import message_bus
from jeepney.io.blocking import open_dbus_connection
from jeepney.wrappers import unwrap_msg

NAME = "org.kde.StatusNotifierWatcher"
MENU = "com.canonical.dbusmenu"
VALUES = {"IsStatusNotifierHostRegistered": ("b", True), "ProtocolVersion": ("i", 0)}


class Panel:
    """The watcher and the host in one."""

    def __init__(self, address: str) -> None:
        self._bus = open_dbus_connection(address)
        self._bus.send_and_get_reply(message_bus.RequestName(NAME))
        self._item = ""

    def serve(self) -> None:
        """Answer, and do what the input says, until that ends."""
        print("ready", flush=True)
        while True:
            ready, _unused, _unused = select.select([self._bus.sock, sys.stdin], [], [], 0.05)
            try:
                while True:
                    self._take(self._bus.receive(timeout=0))
            except TimeoutError:
                pass
            if sys.stdin in ready:
                line = sys.stdin.readline()
                if not line:
                    return
                self._do(line.strip())

    def _take(self, message: Message) -> None:
        if message.header.message_type is not MessageType.method_call:
            return
        member, body = message.header.fields.get(HeaderFields.member), message.body
        match member:
            case "Get":
                self._bus.send(new_method_return(message, "v", (VALUES[body[1]],)))
            case "GetAll":
                self._bus.send(new_method_return(message, "a{sv}", (VALUES,)))
            case "RegisterStatusNotifierItem":
                self._item = (
                    body[0] if body[0].startswith((":", "org.")) else message.header.fields[HeaderFields.sender]
                )
                self._bus.send(new_method_return(message))
                print("item", flush=True)
            case _:
                self._bus.send(new_method_return(message))

    def _menu(self, member: str, signature: str, body: tuple[object, ...]) -> Any:
        address = DBusAddress("/MenuBar", self._item, MENU)
        return unwrap_msg(self._bus.send_and_get_reply(new_method_call(address, member, signature, body), timeout=20))

    def _entries(self) -> list[tuple[int, str]]:
        self._menu("AboutToShow", "i", (0,))
        _revision, (_number, _values, children) = self._menu("GetLayout", "iias", (0, 1, ["label"]))
        return [(entry[1][0], entry[1][1].get("label", ("s", ""))[1].replace("_", "")) for entry in children]

    def _do(self, word: str) -> None:
        entries = self._entries()
        if word == "tell":
            print(json.dumps([label for _number, label in entries if label]), flush=True)
            return
        number = next(number for number, label in entries if label == word)
        self._menu("Event", "isvu", (number, "clicked", ("i", 0), 0))


if __name__ == "__main__":
    Panel(sys.argv[1]).serve()
