"""A stand-in for BlueZ on a real bus: one adapter, and devices that can be paired, connected and forgotten.

Run as a program with the address of a bus; it says ``ready`` and serves until it is killed. A line of input switches the
radio off.
"""

from __future__ import annotations

import sys
import threading

from PyQt6 import QtCore
from PyQt6.QtCore import QCoreApplication, QMetaObject, QObject, Qt, pyqtClassInfo, pyqtSlot
from PyQt6.QtDBus import QDBusConnection, QDBusMessage

pyqtProperty = QtCore.pyqtProperty  # type: ignore[attr-defined]  # the stub does not know it

ROOT = "/org/bluez/hci0"
EXPORT = QDBusConnection.RegisterOption.ExportAllSlots | QDBusConnection.RegisterOption.ExportAllProperties


@pyqtClassInfo("D-Bus Interface", "org.bluez.Adapter1")  # type: ignore[func-returns-value]  # the stub does not know it decorates
class Adapter(QObject):
    """The radio."""

    def __init__(self, bus: QDBusConnection) -> None:
        super().__init__()
        self._bus, self._powered = bus, True
        self.found: list[Device] = []

    Powered = pyqtProperty(bool, lambda self: self._powered)

    @pyqtSlot()
    def StartDiscovery(self) -> None:
        """The controller that blinks is found."""
        if not self.found:
            for name, icon, works in (
                ("Fern pad", "input-gaming", True),
                ("Moody pad", "input-gaming", False),
                ("Tall lamp", "light", True),
            ):
                device = Device(self._bus, name, icon, works, len(self.found) + 1)
                self.found.append(device)
                self._bus.registerObject(device.path, device, EXPORT)

    @pyqtSlot()
    def StopDiscovery(self) -> None:
        """Enough."""

    @pyqtSlot(QDBusMessage)
    def RemoveDevice(self, message: QDBusMessage) -> None:
        path = message.arguments()[0]
        path = path.path() if hasattr(path, "path") else str(path)
        for device in [device for device in self.found if device.path == path]:
            self._bus.unregisterObject(device.path)
            self.found.remove(device)
        self._bus.send(message.createReply())

    @pyqtSlot()
    def off(self) -> None:
        self._powered = False


@pyqtClassInfo("D-Bus Interface", "org.bluez.Device1")  # type: ignore[func-returns-value]
class Device(QObject):
    """Something near."""

    def __init__(self, bus: QDBusConnection, name: str, icon: str, works: bool, number: int) -> None:
        super().__init__()
        self._bus, self._name, self._icon, self._works = bus, name, icon, works
        self._address = f"02:00:00:00:00:{number:02X}"
        self.path = f"{ROOT}/dev_02_00_00_00_00_{number:02X}"
        self._paired = self._connected = self._trusted = False

    Alias = pyqtProperty(str, lambda self: self._name)
    Address = pyqtProperty(str, lambda self: self._address)
    Icon = pyqtProperty(str, lambda self: self._icon)
    Paired = pyqtProperty(bool, lambda self: self._paired)
    Connected = pyqtProperty(bool, lambda self: self._connected)

    def _trust(self, on: bool) -> None:
        self._trusted = on

    Trusted = pyqtProperty(bool, lambda self: self._trusted, _trust)

    @pyqtSlot(QDBusMessage)
    def Pair(self, message: QDBusMessage) -> None:
        if not self._works:
            self._bus.send(message.createErrorReply("org.bluez.Error.AuthenticationTimeout", "timed out"))
            self._works = True
            return
        self._paired = True
        self._bus.send(message.createReply())

    @pyqtSlot(QDBusMessage)
    def Connect(self, message: QDBusMessage) -> None:
        self._connected = self._trusted
        self._bus.send(message.createReply())


def main(address: str) -> None:
    app = QCoreApplication([])
    bus = QDBusConnection.connectToBus(address, "stand-in")
    adapter = Adapter(bus)
    assert bus.registerObject(ROOT, adapter, EXPORT)
    assert bus.registerService("org.bluez")
    print("ready", flush=True)

    def listen() -> None:
        for _ in sys.stdin:
            QMetaObject.invokeMethod(adapter, "off", Qt.ConnectionType.QueuedConnection)

    threading.Thread(target=listen, daemon=True).start()
    app.exec()


if __name__ == "__main__":
    main(sys.argv[1])
