"""A stand-in for rtkit on a real bus: it grants a thread what it is told to, as the real one does (as root).

Run as a program with the address of a bus, and with what it grants: ``real-time``, ``high`` or ``nothing``. It says
``ready``, and each grant.
"""

from __future__ import annotations

import os
import sys

from PyQt6 import QtCore
from PyQt6.QtCore import QCoreApplication, QObject, pyqtClassInfo, pyqtSlot
from PyQt6.QtDBus import QDBusConnection, QDBusMessage

pyqtProperty = QtCore.pyqtProperty  # type: ignore[attr-defined]  # the stub does not know it
NAME, PATH = "org.freedesktop.RealtimeKit1", "/org/freedesktop/RealtimeKit1"
EXPORT = QDBusConnection.RegisterOption.ExportAllSlots | QDBusConnection.RegisterOption.ExportAllProperties


@pyqtClassInfo("D-Bus Interface", NAME)  # type: ignore[func-returns-value]  # the stub does not know it decorates
class Rtkit(QObject):
    """Its public interface, as far as it is used."""

    RTTimeUSecMax = pyqtProperty("qlonglong", lambda self: 200_000)

    def __init__(self, bus: QDBusConnection, grants: str) -> None:
        super().__init__()
        self._bus, self._grants = bus, grants

    def _reply(self, message: QDBusMessage, granted: bool) -> None:
        refusal = message.createErrorReply("org.freedesktop.DBus.Error.AccessDenied", "no")
        self._bus.send(message.createReply([]) if granted else refusal)

    @pyqtSlot(QDBusMessage)
    def MakeThreadRealtime(self, message: QDBusMessage) -> None:
        thread, level = message.arguments()
        granted = self._grants == "real-time"
        if granted:
            os.sched_setscheduler(thread, os.SCHED_RR | os.SCHED_RESET_ON_FORK, os.sched_param(level))
        self._reply(message, granted)
        print(f"real-time {level}" if granted else "refused", flush=True)

    @pyqtSlot(QDBusMessage)
    def MakeThreadHighPriority(self, message: QDBusMessage) -> None:
        thread, nice = message.arguments()
        granted = self._grants == "high"
        if granted:
            os.setpriority(os.PRIO_PROCESS, thread, nice)
        self._reply(message, granted)
        print(f"high {nice}" if granted else "refused", flush=True)


def main(address: str, grants: str) -> None:
    app = QCoreApplication([])
    bus = QDBusConnection.connectToBus(address, "rtkit")
    rtkit = Rtkit(bus, grants)
    bus.registerObject(PATH, rtkit, EXPORT)
    bus.registerService(NAME)
    print("ready", flush=True)
    app.exec()


if __name__ == "__main__":
    main(*sys.argv[1:])
