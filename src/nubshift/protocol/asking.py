"""A plain way to ask the runner that is at work: for commands, which wait for each answer."""

from __future__ import annotations

import socket
from pathlib import Path
from types import TracebackType

from nubshift.errors import NubShiftError
from nubshift.protocol.checking import check_reply
from nubshift.protocol.lines import Lines, decode_reply, encode
from nubshift.protocol.messages import PROTOCOL, Done, Hello, Refused, Reply, Request
from nubshift.texts import _

PATIENCE = 10.0
"""Seconds to wait for an answer."""


class NotRunning(NubShiftError):
    """No runner is at work, or none any more."""


class Asking:
    """A connection to the runner whose socket is `path`. Raises NotRunning, or NubShiftError when it is turned away."""

    def __init__(self, path: Path) -> None:
        self._lines = Lines()
        self._heard: list[Reply] = []
        self._socket = socket.socket(socket.AF_UNIX, socket.SOCK_STREAM)
        self._socket.settimeout(PATIENCE)
        try:
            self._socket.connect(str(path))
        except OSError as error:
            self._socket.close()
            raise NotRunning(_("Nub Shift is not running. Start it with: nubshift")) from error
        try:
            self.ask(Hello(PROTOCOL, "command"))
        except NubShiftError:
            self.close()
            raise

    def __enter__(self) -> Asking:
        return self

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> None:
        self.close()

    def ask(self, request: Request) -> Reply:
        """Ask, and wait for the answer. Raises NubShiftError for what can't be done, with the runner's reason."""
        try:
            self._socket.sendall(encode(request))
            while not self._heard:
                data = self._socket.recv(1 << 16)
                if not data:
                    raise NotRunning(_("The runner ended before it answered."))
                self._heard += [decode_reply(line) for line in self._lines.feed(data)]
        except TimeoutError as error:
            raise NubShiftError(_("The runner does not answer.")) from error
        except OSError as error:
            raise NotRunning(_("The runner ended before it answered.")) from error
        reply = self._heard.pop(0)
        check_reply(reply)
        match reply:
            case Refused(text) | Done(text) if text:
                raise NubShiftError(f"{text[0].upper()}{text[1:]}.".replace("..", "."))
        return reply

    def wait_end(self) -> None:
        """Wait until the runner has closed the connection, and so let go of everything."""
        try:
            while self._socket.recv(1 << 16):
                pass
        except OSError:
            pass

    def fileno(self) -> int:
        """Readable when the runner said something unasked, or is gone."""
        return self._socket.fileno()

    def close(self) -> None:
        """End the connection."""
        self._socket.close()
