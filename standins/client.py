"""A plain client of the runner's socket, as the window is one; and what anybody can ask there."""

from __future__ import annotations

import socket
import struct
import time
from collections.abc import Callable
from pathlib import Path
from typing import TypeVar

from nubshift.errors import NubShiftError
from nubshift.protocol.asking import Asking
from nubshift.protocol.lines import Lines, decode_reply, encode
from nubshift.protocol.messages import PROTOCOL, Ask, Frame, Hello, Reply, Request, Status
from nubshift.protocol.paths import socket_path
from standins.waiting import PATIENCE, wait_until

T = TypeVar("T")


class Talk:
    """Says and hears; keeps everything it heard."""

    def __init__(self, path: Path, greet: bool = True) -> None:
        self.path = path
        self.socket = socket.socket(socket.AF_UNIX)
        self.socket.settimeout(PATIENCE)
        wait_until(lambda: self._connected(path), "the runner listens")
        self._lines = Lines()
        self.heard: list[Reply] = []
        if greet:
            self.say(Hello(PROTOCOL))

    def _connected(self, path: Path) -> bool:
        """Whether the runner took the connection: the socket's file is there a moment before it listens."""
        try:
            self.socket.connect(str(path))
        except (FileNotFoundError, ConnectionRefusedError):
            return False
        return True

    def say(self, request: Request) -> None:
        self.socket.sendall(encode(request))

    def hear(self) -> bool:
        """Take in what comes next; False when the runner closed the connection."""
        data = self.socket.recv(1 << 16)
        for line in self._lines.feed(data):
            self.heard.append(decode_reply(line))
        return bool(data)

    def wait(self, kind: type[T], **fields: object) -> T:
        """The newest message of a kind with these fields, once there is one."""
        return self._until(kind, lambda message: all(getattr(message, k) == v for k, v in fields.items()), None, fields)

    def wait_newest(self, kind: type[T], condition: Callable[[T], bool]) -> T:
        """The newest message of a kind, once it is so."""
        return self._until(kind, condition, 1, condition)

    def _until(self, kind: type[T], condition: Callable[[T], bool], newest: int | None, said: object) -> T:
        end = time.monotonic() + PATIENCE
        while time.monotonic() < end:
            found = [message for message in reversed(self.heard) if isinstance(message, kind)]
            for message in found[:newest]:
                if condition(message):
                    return message
            if not self.hear():
                break
        raise AssertionError(f"no {kind.__name__} with {said}; heard {self.heard[-5:]}")

    def wait_held(self, *keys: str) -> Frame:
        """The newest frame in which exactly these keys are held, or the next one."""
        frames = [m for m in self.heard if isinstance(m, Frame)]
        self.heard = [m for m in self.heard if not isinstance(m, Frame)] + frames[-1:]
        return self.wait(Frame, held=keys)

    def close(self) -> None:
        self.socket.close()


def status() -> Status | None:
    """What the runner tells of itself; None where there is none."""
    try:
        with Asking(socket_path()) as asking:
            told = asking.ask(Ask("status"))
    except NubShiftError:  # nobody is there, or not any more
        return None
    return told if isinstance(told, Status) else None


def wait_playing(profile: str | None = None) -> Status:
    """Until its runner plays, this profile if one is named."""
    found: list[Status] = []

    def plays() -> bool:
        found[:] = [told] if (told := status()) is not None and told.profile is not None else []
        return bool(found) and profile in (None, found[0].profile)

    wait_until(plays, f"{profile or 'it'} plays", 0.1)
    return found[0]


def runner_pid() -> int:
    """The process that serves the player's socket, whoever started it."""
    with socket.socket(socket.AF_UNIX) as asking:
        asking.connect(str(socket_path()))
        credentials = asking.getsockopt(socket.SOL_SOCKET, socket.SO_PEERCRED, struct.calcsize("3i"))
    return int(struct.unpack("3i", credentials)[0])
