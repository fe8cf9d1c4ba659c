"""A stand-in for the desktop's notifications on a real bus: prints what it is told, a JSON list a line, and ends."""

from __future__ import annotations

import json
import subprocess
import sys

from PyQt6.QtCore import QCoreApplication, QObject, QTimer, pyqtClassInfo, pyqtSlot
from PyQt6.QtDBus import QDBusConnection, QDBusMessage

NAME = "org.freedesktop.Notifications"
CALLER = (
    "from PyQt6.QtCore import QCoreApplication; app = QCoreApplication([]); "
    "from nubshift.app.overlay.window import notify; first = notify('Aim', 0); second = notify('Base', first); "
    "print(first, second, flush=True)"
)


@pyqtClassInfo("D-Bus Interface", NAME)  # type: ignore[func-returns-value]  # the stub does not know it decorates
class Desktop(QObject):
    """Answers each notification with a number."""

    @pyqtSlot(QDBusMessage)
    def Notify(self, message: QDBusMessage) -> None:
        words = message.arguments()
        print(json.dumps([words[0], words[1], words[3]]), flush=True)
        number = words[1] or 41
        QDBusConnection.sessionBus().send(message.createReply([number]))


def main() -> None:
    app = QCoreApplication([])
    desktop = Desktop()
    bus = QDBusConnection.sessionBus()
    assert bus.registerObject("/org/freedesktop/Notifications", desktop, QDBusConnection.RegisterOption.ExportAllSlots)
    assert bus.registerService(NAME)
    caller = subprocess.Popen([sys.executable, "-c", CALLER])
    timer = QTimer()
    timer.timeout.connect(lambda: caller.poll() is None or app.quit())
    timer.start(20)
    app.exec()


if __name__ == "__main__":
    main()
