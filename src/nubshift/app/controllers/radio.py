"""Wireless controllers through BlueZ's public D-Bus interface: who is near, who is paired, and pairing (need N09).

See org.bluez.Adapter1 and org.bluez.Device1 in BlueZ's documentation. Only calls whose answers QtDBus can take apart
are used; what is there is asked again while somebody looks.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any
from xml.etree import ElementTree

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtDBus import (
    QDBusConnection,
    QDBusMessage,
    QDBusObjectPath,
    QDBusPendingCallWatcher,
    QDBusPendingReply,
    QDBusVariant,
)

from nubshift.app.painting.timing import every
from nubshift.records import Record
from nubshift.texts import _

SERVICE, ROOT = "org.bluez", "/org/bluez"
ADAPTER, DEVICE = "org.bluez.Adapter1", "org.bluez.Device1"
PROPERTIES, INTROSPECT = "org.freedesktop.DBus.Properties", "org.freedesktop.DBus.Introspectable"
LOOK_MS = 800
ASK_MS = 400
PAIR_MS = 40_000
"""Pairing waits for a person who holds buttons."""
Failure = tuple[str, str]
"""The name of an error of the bus and what it says; both empty where there is none."""
NONE: Failure = ("", "")
GAMING = "input-gaming"
"""The icon by which the desktop knows a controller."""
_CONTROLLER_CLASS = (0x500, {0x01 << 2, 0x02 << 2})
"""Of the class of device: peripherals, joysticks and gamepads."""


class Near(Record, frozen=True):
    """A device of the radio: where it is on the bus, its name and address, and how it stands."""

    path: str
    name: str
    address: str
    paired: bool = False
    connected: bool = False
    is_controller: bool = False


class Radio(QObject):
    """The first adapter and what it knows. `changed` comes with every change; `trouble` is a sentence, or empty."""

    changed = pyqtSignal()

    def __init__(self, bus: QDBusConnection | None = None, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._given = bus
        self.adapter = ""
        self.powered = False
        self.devices: list[Near] = []
        self.doing: dict[str, str] = {}
        self.trouble = ""
        self._watchers: set[QDBusPendingCallWatcher] = set()
        self._ticker = every(self, LOOK_MS, self.look)

    @property
    def _bus(self) -> QDBusConnection:
        return self._given if self._given is not None else QDBusConnection.systemBus()

    # Looking

    def begin(self) -> None:
        """Somebody looks: search for devices that can be paired."""
        self.look()
        if self.adapter and self.powered:
            self._call(self.adapter, ADAPTER, "StartDiscovery", lambda _: None)
        self._ticker.start()

    def end(self) -> None:
        """Nobody looks any more."""
        self._ticker.stop()
        if self.adapter and self.powered:
            self._call(self.adapter, ADAPTER, "StopDiscovery", lambda _: None)

    def look(self) -> None:
        """Ask what there is."""
        before = (self.adapter, self.powered, self.devices, self.trouble)
        adapters = self._children(ROOT)
        self.adapter = f"{ROOT}/{adapters[0]}" if adapters else ""
        self.powered = bool(self._properties(self.adapter, ADAPTER).get("Powered")) if self.adapter else False
        self.devices = (
            [self._near(f"{self.adapter}/{name}") for name in self._children(self.adapter)] if adapters else []
        )
        self.trouble = self._what_is_wrong()
        if before != (self.adapter, self.powered, self.devices, self.trouble):
            self.changed.emit()

    def _what_is_wrong(self) -> str:
        if not self._bus.isConnected():
            return _("There is no system bus here, so the desktop's Bluetooth service can't be asked.")
        if not self.adapter:
            return _(
                "The desktop's Bluetooth service is not running, or this machine has no radio. Controllers "
                "with a cable or their own receiver work."
            )
        if not self.powered:
            return _("Bluetooth is off. Turn it on in the desktop's settings, then open this page again.")
        return ""

    def _ask(self, path: str, interface: str, method: str, *arguments: object) -> list[Any]:
        message = QDBusMessage.createMethodCall(SERVICE, path, interface, method)
        message.setArguments(list(arguments))
        reply = self._bus.call(message, timeout=ASK_MS)
        return reply.arguments() if reply.type() == QDBusMessage.MessageType.ReplyMessage else []

    def _children(self, path: str) -> list[str]:
        answer = self._ask(path, INTROSPECT, "Introspect")
        return _children_in(str(answer[0])) if answer else []

    def _properties(self, path: str, interface: str) -> dict[str, Any]:
        answer = self._ask(path, PROPERTIES, "GetAll", interface)
        return dict(answer[0]) if answer and isinstance(answer[0], dict) else {}

    def _near(self, path: str) -> Near:
        found = self._properties(path, DEVICE)
        major, minors = _CONTROLLER_CLASS
        kind = int(found.get("Class") or 0)
        gaming = found.get("Icon") == GAMING or (kind & 0x1F00 == major and kind & 0x3C in minors)
        address = str(found.get("Address") or "")
        return Near(
            path,
            str(found.get("Alias") or found.get("Name") or address),
            address,
            bool(found.get("Paired")),
            bool(found.get("Connected")),
            gaming,
        )

    # Pairing

    def pair(self, path: str) -> None:
        """Pair with a device, let it come back by itself from now on, and connect it."""
        self._say(path, _("Pairing… keep it blinking"))
        self._call(path, DEVICE, "Pair", lambda reply: self._paired(path, reply))

    def _paired(self, path: str, failure: Failure) -> None:
        if failure[0] and not failure[0].endswith("AlreadyExists"):
            self._say(path, _("Pairing failed: {plain}").format(plain=_plain(failure)))
            return
        self._ask(path, PROPERTIES, "Set", DEVICE, "Trusted", QDBusVariant(True))
        self._say(path, _("connecting…"))
        self._call(path, DEVICE, "Connect", lambda answer: self._connected(path, answer))

    def _connected(self, path: str, failure: Failure) -> None:
        self._say(path, _("Paired, but not connected: {plain}").format(plain=_plain(failure)) if failure[0] else "")
        self.look()

    def forget(self, path: str) -> None:
        """Part from a device."""
        self._call(self.adapter, ADAPTER, "RemoveDevice", lambda _: self.look(), QDBusObjectPath(path))

    def _say(self, path: str, text: str) -> None:
        if text:
            self.doing[path] = text
        else:
            self.doing.pop(path, None)
        self.changed.emit()

    def _call(
        self, path: str, interface: str, method: str, done: Callable[[Failure], None], *arguments: object
    ) -> None:
        """Ask without waiting; `done` gets the answer."""
        message = QDBusMessage.createMethodCall(SERVICE, path, interface, method)
        message.setArguments(list(arguments))
        watcher = QDBusPendingCallWatcher(self._bus.asyncCall(message, PAIR_MS), self)
        self._watchers.add(watcher)

        def finished() -> None:
            self._watchers.discard(watcher)
            reply = QDBusPendingReply(watcher)
            error = reply.error()
            done((error.name(), error.message()) if reply.isError() else NONE)
            watcher.deleteLater()

        watcher.finished.connect(finished)


def _plain(failure: Failure) -> str:
    """What went wrong, in words of the device."""
    name = failure[0].rpartition(".")[2]
    return {
        "AuthenticationTimeout": _("it stopped blinking. Make it blink again and retry"),
        "AuthenticationFailed": _("it refused. Make it blink again and retry"),
        "AuthenticationCanceled": _("it was cancelled"),
        "ConnectionAttemptFailed": _("it did not answer. Wake it up, close to this machine"),
        "Failed": _("it did not answer. Wake it up, close to this machine"),
        "NoReply": _("no answer in time. Make it blink again and retry"),
    }.get(name, failure[1] or name)


def _children_in(introspection: str) -> list[str]:
    """The names of the objects below one, from its description in XML (D-Bus specification); none if it is not XML."""
    try:
        root = ElementTree.fromstring(introspection)
    except ElementTree.ParseError:
        return []
    names = (node.get("name", "") for node in root.findall("node"))
    return sorted(name for name in names if name and "/" not in name)
