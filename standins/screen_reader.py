"""What a screen reader is told: run in a session bus of its own, it starts the accessibility bus and the real program,
walks the program's tree over the bus as a reader does, and prints a JSON list [role, name] a line.

A window that is still being filled changes under the walk: children move up a place and are passed over, or are gone
when they are asked. So it walks until nothing it asked was gone and two walks on end found as much."""

from __future__ import annotations

import json
import subprocess
import sys
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QCoreApplication
from PyQt6.QtDBus import QDBusConnection, QDBusMessage

LAUNCHERS = ("/usr/libexec/at-spi-bus-launcher", "/usr/lib/at-spi2-core/at-spi-bus-launcher")
ROOT = "/org/a11y/atspi/accessible/root"
ACCESSIBLE = "org.a11y.atspi.Accessible"
PATIENCE = 60.0


class Gone(Exception):
    """What was asked is no longer there, or did not answer in time."""


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

    def _told(self, service: str, path: str, interface: str, method: str, *words: object) -> Any:
        if not (answer := self._ask(service, path, interface, method, *words)):
            raise Gone(path)
        return answer[0]

    def _property(self, service: str, path: str, name: str) -> Any:
        return self._told(service, path, "org.freedesktop.DBus.Properties", "Get", ACCESSIBLE, name)

    def _walk(self, service: str, path: str = ROOT) -> Iterator[tuple[str, str]]:
        """Role and name of it and of everything below it."""
        yield self._told(service, path, ACCESSIBLE, "GetRoleName"), self._property(service, path, "Name") or ""
        for index in range(int(self._property(service, path, "ChildCount"))):
            below = self._told(service, path, ACCESSIBLE, "GetChildAtIndex", index)[1]
            yield from self._walk(service, below if isinstance(below, str) else below.path())

    def tree(self, service: str) -> list[tuple[str, str]]:
        """The whole of it, once it stands still."""
        before: list[tuple[str, str]] = []

        def still() -> list[tuple[str, str]]:
            nonlocal before
            try:
                now = list(self._walk(service))
            except Gone:
                now = []
            same, before = len(now) > 1 and len(now) == len(before), now
            return now if same else []

        return list(self._wait(still))


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
        for seen in reader.tree(reader.program()):
            print(json.dumps(seen))
    finally:
        program.terminate()
        program.wait(30)
        bus.terminate()
        bus.wait(30)
        app.quit()


if __name__ == "__main__":
    main()
