"""The runner's end of the socket: listens, serves a window and commands, never waits for them."""

from __future__ import annotations

import contextlib
import errno
import os
import socket
import stat
import struct
from collections.abc import Iterator
from pathlib import Path

from nubshift.errors import ProtocolError
from nubshift.model.files import private_folder
from nubshift.protocol.lines import Lines, decode_request, encode
from nubshift.protocol.messages import Reply, Request
from nubshift.texts import _

MAX_BACKLOG = 4_000_000
"""Bytes that may wait for an app that does not read; beyond, it is let go of. Frames are skipped long before."""
FRAME_BACKLOG = 64_000
MOST_CLIENTS = 16
"""Windows and commands at a time."""
MOST_READS = 32
"""Of what an app says in a row, so that play does not wait for one that never stops talking."""


class Server:
    """A listening socket at `path`, readable and writable only by its owner. Raises OSError if it can't listen."""

    def __init__(self, path: Path) -> None:
        self.path = path
        private_folder(path.parent)
        if answers(path):
            raise OSError(errno.EADDRINUSE, _("another runner is running at {path}").format(path=path))
        if os.path.lexists(path):
            if not stat.S_ISSOCK(path.lstat().st_mode):
                raise OSError(errno.EEXIST, _("{path} is not a socket; it was left unchanged").format(path=path))
            path.unlink()
        self._listening = socket.socket(socket.AF_UNIX, socket.SOCK_STREAM | socket.SOCK_NONBLOCK | socket.SOCK_CLOEXEC)
        before = os.umask(0o177)
        try:
            self._listening.bind(str(path))
        finally:
            os.umask(before)
        self._listening.listen(4)
        self._own = os.lstat(path).st_ino
        self.clients: list[Client] = []

    def fileno(self) -> int:
        """Readable when somebody wants to connect."""
        return self._listening.fileno()

    def accept(self) -> None:
        """Take in who wants to connect, unless it is another user's or there are too many."""
        try:
            connection, _unused = self._listening.accept()
        except BlockingIOError:
            return
        connection.setblocking(False)
        client = Client(connection)
        if client.uid != os.getuid() or len(self.clients) >= MOST_CLIENTS:
            client.close()
        else:
            self.clients.append(client)

    def drop(self, client: Client) -> None:
        """Let go of somebody."""
        client.close()
        if client in self.clients:
            self.clients.remove(client)

    def close(self) -> None:
        """Stop listening and remove the socket."""
        for client in list(self.clients):
            self.drop(client)
        self._listening.close()
        with contextlib.suppress(OSError):
            if os.lstat(self.path).st_ino == self._own:
                self.path.unlink()


def answers(path: Path) -> bool:
    """Whether a runner listens at `path`."""
    with socket.socket(socket.AF_UNIX, socket.SOCK_STREAM) as probe:
        try:
            probe.connect(str(path))
        except OSError:
            return False
        return True


class Client:
    """One who connected; `role` is None until it has greeted."""

    def __init__(self, connection: socket.socket) -> None:
        self._connection = connection
        self._lines = Lines()
        self._unsent = b""
        self.gone = False
        self.role: str | None = None
        credentials = connection.getsockopt(socket.SOL_SOCKET, socket.SO_PEERCRED, struct.calcsize("3i"))
        self.pid, self.uid, _unused = struct.unpack("3i", credentials)

    def fileno(self) -> int:
        """Readable when the app said something."""
        return self._connection.fileno()

    @property
    def waiting(self) -> bool:
        """Whether something is still to be written."""
        return bool(self._unsent)

    def receive(self) -> Iterator[Request]:
        """All that the app said by now, one by one; `gone` tells when it is not there any more.

        Raises ProtocolError.
        """
        for _unused in range(MOST_READS):
            try:
                data = self._connection.recv(1 << 20)
            except BlockingIOError:
                return
            except OSError:
                data = b""
            if not data:
                self.gone = True
                return
            for line in self._lines.feed(data):
                yield decode_request(line)

    @property
    def lags(self) -> bool:
        """Whether so much is still to be written that frames had better wait; what they tell is gathered meanwhile."""
        return len(self._unsent) > FRAME_BACKLOG

    def send(self, message: Reply) -> None:
        """Say something. Raises ProtocolError when the app lags too far."""
        self._unsent += encode(message)
        self.flush()
        if len(self._unsent) > MAX_BACKLOG:
            raise ProtocolError(_("the window does not read its messages"))

    def flush(self) -> None:
        """Write as much as the socket takes."""
        with contextlib.suppress(BlockingIOError, OSError):
            sent = self._connection.send(self._unsent)
            self._unsent = self._unsent[sent:]

    def close(self) -> None:
        """Close the connection."""
        self._connection.close()
