"""One window for each user: a second start brings the first to the front, with what it was asked to open."""

from __future__ import annotations

import json
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtNetwork import QLocalServer, QLocalSocket

WAIT_MS = 2000
MOST_BYTES = 10_000


def brought_to_front(socket: Path, profile: Path | None) -> bool:
    """Whether a window is there, which then comes to the front and opens `profile`."""
    asking = QLocalSocket()
    asking.connectToServer(str(socket))
    if not asking.waitForConnected(WAIT_MS):
        return False
    asking.write(json.dumps({"open": str(profile.absolute()) if profile is not None else ""}).encode() + b"\n")
    asking.waitForBytesWritten(WAIT_MS)
    answered = asking.waitForReadyRead(WAIT_MS)
    asking.abort()
    return answered


class OneWindow(QObject):
    """Listens for later starts. `wanted` carries the path of a profile, or nothing."""

    wanted = pyqtSignal(str)

    def __init__(self, socket: Path, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._server = QLocalServer(self)
        self._server.setSocketOptions(QLocalServer.SocketOption.UserAccessOption)
        QLocalServer.removeServer(str(socket))  # nobody answers there: see `brought_to_front`
        socket.parent.mkdir(mode=0o700, parents=True, exist_ok=True)
        self.listening = self._server.listen(str(socket))
        self._server.newConnection.connect(self._come)

    def _come(self) -> None:
        while (asking := self._server.nextPendingConnection()) is not None:
            asking.setParent(self)
            asking.readyRead.connect(lambda asking=asking: self._read(asking))
            asking.disconnected.connect(asking.deleteLater)

    def _read(self, asking: QLocalSocket) -> None:
        if not asking.canReadLine():
            if asking.bytesAvailable() > MOST_BYTES:
                asking.abort()
            return
        try:
            said = json.loads(bytes(asking.readLine(MOST_BYTES)))
            path = said["open"]
        except (ValueError, KeyError, TypeError):
            asking.abort()
            return
        asking.write(b"\n")
        asking.flush()
        if isinstance(path, str):
            self.wanted.emit(path)

    def close(self) -> None:
        """Listen no more."""
        self._server.close()
