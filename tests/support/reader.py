"""What a screen reader is told: run in a session bus of its own, it starts the accessibility bus and the real program,
walks the program's tree over the bus as a reader does, and prints a JSON list [role, name] a line."""

from __future__ import annotations

import json
import subprocess
import sys
import time
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QCoreApplication
from PyQt6.QtDBus import QDBusConnection, QDBusMessage

LAUNCHERS = ("/usr/libexec/at-spi-bus-launcher", "/usr/lib/at-spi2-core/at-spi-bus-launcher")
ROOT = "/org/a11y/atspi/accessible/root"
ACCESSIBLE = "org.a11y.atspi.Accessible"
PATIENCE = 60.0


class Reader:
    """Asks over the accessibility bus."""

    def __init__(self) -> None:
        self._bus = QDBusConnection.sessionBus()
        address = self._wait(lambda: self._ask("org.a11y.Bus", "/org/a11y/bus", "org.a11y.Bus", "GetAddress"))
        self._bus = QDBusConnection.connectToBus(address[0], "accessibility")

    @staticmethod
    def _wait(ask: Any) -> Any:
        end = time.monotonic() + PATIENCE
        while not (found := ask()):
            if time.monotonic() > end:
                raise SystemExit("nobody answered")
            time.sleep(0.05)
        return found

    def _ask(self, service: str, path: str, interface: str, method: str, *words: object) -> list[Any]:
        message = QDBusMessage.createMethodCall(service, path, interface, method)
        message.setArguments(list(words))
        answer = self._bus.call(message, timeout=5000)
        return answer.arguments() if answer.type() == QDBusMessage.MessageType.ReplyMessage else []

    def program(self) -> str:
        """The name on the bus of the first program that is there."""

        def children() -> list[Any]:
            found = self._ask("org.a11y.atspi.Registry", ROOT, ACCESSIBLE, "GetChildren")
            return found[0] if found else []

        return str(self._wait(children)[0][0])

    def _property(self, service: str, path: str, name: str) -> Any:
        found = self._ask(service, path, "org.freedesktop.DBus.Properties", "Get", ACCESSIBLE, name)
        return found[0] if found else None

    def ready(self, service: str) -> bool:
        """Whether the program's window is there."""
        return bool(self._property(service, ROOT, "ChildCount"))

    def walk(self, service: str, path: str = ROOT) -> None:
        """Print it and everything below it."""
        role = self._ask(service, path, ACCESSIBLE, "GetRoleName")
        print(json.dumps([role[0] if role else "", self._property(service, path, "Name") or ""]), flush=True)
        for index in range(int(self._property(service, path, "ChildCount") or 0)):
            child = self._ask(service, path, ACCESSIBLE, "GetChildAtIndex", index)
            if child:
                below = child[0][1]
                self.walk(service, below if isinstance(below, str) else below.path())


def main() -> None:
    app = QCoreApplication([])
    launcher = next(path for path in LAUNCHERS if Path(path).exists())
    bus = subprocess.Popen([launcher, "--launch-immediately"], stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
    program = subprocess.Popen(
        [sys.executable, "-m", "nubshift", "--source", "sim:moss", "--sink", "record:/dev/null"],
        stdout=subprocess.DEVNULL,
        stderr=subprocess.DEVNULL,
    )
    try:
        reader = Reader()
        service = reader.program()
        reader._wait(lambda: reader.ready(service))
        reader.walk(service)
    finally:
        program.terminate()
        program.wait(30)
        bus.terminate()
        bus.wait(30)
        app.quit()


if __name__ == "__main__":
    main()
