"""KWin's objects on a bus (its first argument is the address): two mice, and scripts, which run as in KWin, by Qt's own
engine, before a workspace of version 5 or 6 (its second argument).

Told a line, it does that in the workspace: ``show(...)``, ``hide(...)``, ``focus(...)``, ``rename(...)``, or ``leave`` to give its
name away. Tells what is set and loaded.
"""

from __future__ import annotations

import os
import select
import sys
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from jeepney import DBusAddress, HeaderFields, Message, MessageType, new_error, new_method_call, new_method_return
from jeepney.bus_messages import message_bus
from jeepney.io.blocking import DBusConnection, open_dbus_connection
from PyQt6.QtCore import QCoreApplication
from PyQt6.QtQml import QJSEngine, QJSValue

from nubshift.events import VIRTUAL_MOUSE
from nubshift.surroundings.kwin_mice import FLAT, ROOT, SERVICE

WORKSPACE = """
var version = VERSION, calls = [], all = [];
var front = null;
function signal() {
    const heard = [];
    return { connect: (hear) => heard.push(hear), emit: (what) => heard.forEach((hear) => hear(what)) };
}
var workspace = version === 6
    ? { windowAdded: signal(), windowRemoved: signal(), windowActivated: signal(), windowList: () => all,
        get activeWindow() { return front; } }
    : { clientAdded: signal(), clientRemoved: signal(), clientActivated: signal(), clientList: () => all,
        get activeClient() { return front; } };
var [added, removed, activated] = version === 6
    ? [workspace.windowAdded, workspace.windowRemoved, workspace.windowActivated]
    : [workspace.clientAdded, workspace.clientRemoved, workspace.clientActivated];
function callDBus(service, path, face, member, text, answered) {
    calls.push({ service: service, path: path, face: face, member: member, text: text, answered: answered });
}
function show(group, pid, title, skipped) {
    const window = { internalId: `{${all.length}-${group}}`, pid: pid, resourceClass: group, desktopFileName: "",
                     caption: title, fullScreen: false, skipTaskbar: !!skipped,
                     captionChanged: signal(), fullScreenChanged: signal() };
    all.push(window);
    added.emit(window);
    focus(group);
}
function named(group) { return all.find((window) => window.resourceClass === group) || null; }
function focus(group) { front = named(group); activated.emit(front); }
function rename(group, title) { named(group).caption = title; named(group).captionChanged.emit(); }
function hide(group) {
    const window = named(group);
    all.splice(all.indexOf(window), 1);
    removed.emit(window);
    focus("");
}
"""


def tell(line: str) -> None:
    print(line, flush=True)


class Scripts:
    """What was loaded, and the calls that it makes."""

    def __init__(self, connection: DBusConnection, version: str) -> None:
        self._connection = connection
        self._engine = QJSEngine()
        self._texts: dict[str, str] = {}
        self._asked: dict[int, QJSValue] = {}
        self.do(WORKSPACE.replace("VERSION", version))
        self._place = "/Scripting/Script0" if version == "6" else "/0"

    def do(self, text: str) -> QJSValue:
        """Evaluate it, and make the calls that came of it."""
        found = self._engine.evaluate(text)
        if found.isError():
            tell(f"error: {found.toString()}")
        calls = self._engine.evaluate("typeof calls === 'undefined' ? [] : calls.splice(0)")
        for number in range(calls.property("length").toInt()):
            call = calls.property(number)
            service, path, face, member, words = (
                call.property(name).toString() for name in ("service", "path", "face", "member", "text")
            )
            message = new_method_call(DBusAddress(path, service, face), member, "s", (words,))
            serial = next(self._connection.outgoing_serial)
            self._asked[serial] = call.property("answered")
            self._connection.send(message, serial=serial)
        return found

    def answered(self, message: Message) -> None:
        callback = self._asked.pop(message.header.fields.get(HeaderFields.reply_serial, 0), None)
        if callback is not None and message.header.message_type is MessageType.method_return:
            callback.call([])

    def asked(self, path: str, member: str, body: tuple[Any, ...]) -> tuple[str, tuple[Any, ...]] | None:
        """What it answers to a call, None where it has no such method there."""
        match path, member:
            case "/Scripting", "loadScript":
                self._texts[body[1]] = Path(body[0]).read_text()
                return "i", (0,)
            case "/Scripting", "unloadScript":
                tell("unloaded" if self._texts.pop(body[0], None) is not None else "not loaded")
                return "b", (True,)
            case self._place, "run":
                for text in self._texts.values():
                    self.do(f"(function () {{ {text} }})()")
                return "", ()
        return None


def main() -> None:
    application = QCoreApplication([])
    connection = open_dbus_connection(sys.argv[1])
    connection.send_and_get_reply(message_bus.RequestName(SERVICE))
    scripts = Scripts(connection, sys.argv[2] if len(sys.argv) > 2 else "6")
    names = {"event3": "Mouse", "event9": VIRTUAL_MOUSE}
    flat = dict.fromkeys(names, False)
    tell("ready")
    while application:
        ready, _, _ = select.select([connection.sock, 0], [], [])
        told = os.read(0, 10_000).decode() if 0 in ready else ""
        if 0 in ready and not told:
            return
        for line in told.splitlines():
            if line == "leave":
                connection.send_and_get_reply(message_bus.ReleaseName(SERVICE))
            else:
                scripts.do(line)
        for asked in received(connection) if connection.sock in ready else ():
            if asked.header.message_type == MessageType.method_call:
                connection.send(answer(asked, scripts, names, flat))
            else:
                scripts.answered(asked)


def received(connection: DBusConnection) -> Iterator[Message]:
    """All that has come: several messages may have been read from the socket at once."""
    while True:
        try:
            yield connection.receive(timeout=0)
        except TimeoutError:
            return


def answer(asked: Message, scripts: Scripts, names: dict[str, str], flat: dict[str, bool]) -> Message:
    path, member = (asked.header.fields.get(field) for field in (HeaderFields.path, HeaderFields.member))
    device = str(path).rpartition("/")[2]
    known = scripts.asked(str(path), str(member), asked.body)
    if known is not None:
        return new_method_return(asked, *known)
    if member == "Get" and path == ROOT:
        return new_method_return(asked, "v", (("as", list(names)),))
    if member == "Get" and device in names:
        properties = {"name": ("s", names[device]), FLAT: ("b", flat[device])}
        return new_method_return(asked, "v", (properties[asked.body[1]],))
    if member == "Set" and device in names:
        flat[device] = asked.body[2][1]
        tell(f"{device} {'flat' if flat[device] else 'bent'}")
        return new_method_return(asked)
    return new_error(asked, "org.freedesktop.DBus.Error.UnknownMethod")


if __name__ == "__main__":
    main()
