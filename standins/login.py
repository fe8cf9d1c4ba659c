"""A stand-in for the system's login service on a real bus: one session, that can be locked, left and put to sleep.

Run as a program with the address of a bus: it says ``ready`` and does what each line of input says. ``inhibited`` and
``uninhibited`` tell when somebody holds back the sleep.
"""

from __future__ import annotations

import os
import sys
import threading

from PyQt6 import QtCore
from PyQt6.QtCore import QCoreApplication, QMetaObject, QObject, QSocketNotifier, Qt, pyqtClassInfo, pyqtSlot
from PyQt6.QtDBus import QDBusConnection, QDBusMessage, QDBusObjectPath, QDBusUnixFileDescriptor

pyqtProperty = QtCore.pyqtProperty  # type: ignore[attr-defined]  # the stub does not know it

NAME = "org.freedesktop.login1"
PATH, SESSION = "/org/freedesktop/login1", "/org/freedesktop/login1/session/_31"
EXPORT = QDBusConnection.RegisterOption.ExportAllSlots | QDBusConnection.RegisterOption.ExportAllProperties


@pyqtClassInfo("D-Bus Interface", f"{NAME}.Manager")  # type: ignore[func-returns-value]  # the stub does not know it decorates
class Manager(QObject):
    """Gives out the session and inhibitors."""

    def __init__(self, bus: QDBusConnection) -> None:
        super().__init__()
        self._bus = bus
        self._watched: list[QSocketNotifier] = []

    @pyqtSlot(QDBusMessage)
    def GetSession(self, message: QDBusMessage) -> None:
        self._bus.send(message.createReply([QDBusObjectPath(SESSION)]))

    @pyqtSlot(QDBusMessage)
    def Inhibit(self, message: QDBusMessage) -> None:
        read, write = os.pipe()
        self._bus.send(message.createReply([QDBusUnixFileDescriptor(write)]))
        os.close(write)
        watch = QSocketNotifier(read, QSocketNotifier.Type.Read, self)  # type: ignore[call-overload]  # the stub wants a pointer
        watch.activated.connect(lambda: self._let_go(watch, read))
        self._watched.append(watch)
        print("inhibited", flush=True)

    def _let_go(self, watch: QSocketNotifier, read: int) -> None:
        watch.setEnabled(False)
        os.close(read)
        print("uninhibited", flush=True)


@pyqtClassInfo("D-Bus Interface", f"{NAME}.Session")  # type: ignore[func-returns-value]  # the stub does not know it decorates
class Session(QObject):
    """The session."""

    LockedHint = pyqtProperty(bool, lambda self: False)
    Active = pyqtProperty(bool, lambda self: True)


class Login(QObject):
    """Does what is said."""

    def __init__(self, bus: QDBusConnection) -> None:
        super().__init__()
        self._bus = bus
        self.manager, self.session = Manager(bus), Session()
        bus.registerObject(PATH, self.manager, EXPORT)
        bus.registerObject(SESSION, self.session, EXPORT)
        self.said = ""

    @pyqtSlot()
    def do(self) -> None:
        word, _unused, value = self.said.partition(" ")
        on = value == "on"
        match word:
            case "sleep":
                self._signal(PATH, f"{NAME}.Manager", "PrepareForSleep", [on])
            case "lock":
                self._signal(SESSION, f"{NAME}.Session", "Lock" if on else "Unlock", [])
            case "active":
                changed = [f"{NAME}.Session", {"Active": on}, []]
                self._signal(SESSION, "org.freedesktop.DBus.Properties", "PropertiesChanged", changed)
            case "saver":
                self._signal("/ScreenSaver", "org.freedesktop.ScreenSaver", "ActiveChanged", [on])

    def _signal(self, path: str, interface: str, name: str, values: list[object]) -> None:
        message = QDBusMessage.createSignal(path, interface, name)
        message.setArguments(values)
        self._bus.send(message)


def main() -> None:
    app = QCoreApplication([])
    bus = QDBusConnection.connectToBus(sys.argv[1], "login")
    login = Login(bus)
    assert bus.registerService(NAME)
    print("ready", flush=True)

    def listen() -> None:
        for line in sys.stdin:
            login.said = line.strip()
            QMetaObject.invokeMethod(login, "do", Qt.ConnectionType.BlockingQueuedConnection)

    threading.Thread(target=listen, daemon=True).start()
    app.exec()


if __name__ == "__main__":
    main()
