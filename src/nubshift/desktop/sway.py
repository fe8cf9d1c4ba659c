"""The socket of sway, by its public protocol (sway-ipc(7); the same as i3's).

It tells what Wayland itself does not: the process of a window, and which layout of a keyboard is in use.
"""

from __future__ import annotations

import contextlib
import os
import socket
import struct
from collections.abc import Mapping
from pathlib import Path
from typing import Any

import msgspec

MAGIC = b"i3-ipc"
HEAD = struct.Struct("=6sII")
RUN_COMMAND, SUBSCRIBE, GET_TREE, GET_INPUTS = 0, 2, 4, 100
IS_EVENT = 1 << 31
WINDOW, INPUT = 3 | IS_EVENT, 21 | IS_EVENT
LARGEST = 1 << 24
"""Bytes of an answer; a tree of a thousand windows has less."""
PATIENCE = 2.0


def socket_of_sway(environment: Mapping[str, str] = os.environ) -> str:
    """Where sway listens, empty where it does not run. It tells its children; others look in the runtime folder."""
    named = environment.get("SWAYSOCK", "")
    if named:
        return named
    folder = Path(environment.get("XDG_RUNTIME_DIR") or f"/run/user/{os.getuid()}")
    try:
        there = [path for path in folder.iterdir() if path.match("sway-ipc.*.sock")]
        found = sorted(there, key=lambda path: path.stat().st_mtime)
    except OSError:  # it is not there, or not ours to look into
        return ""
    return str(found[-1]) if found and environment.get("XDG_SESSION_TYPE", "wayland") == "wayland" else ""


class SwaySocket:
    """A connection to it. Raises OSError where nobody answers."""

    def __init__(self, path: str) -> None:
        self._there = socket.socket(socket.AF_UNIX)
        self._came = bytearray()
        try:
            self._there.settimeout(PATIENCE)
            self._there.connect(path)
        except OSError:
            self._there.close()
            raise

    def fileno(self) -> int:
        """Readable when something came."""
        return self._there.fileno()

    def ask(self, kind: int, body: bytes = b"") -> Any:
        """The answer to a question, decoded; events that come before it are left out. Raises OSError."""
        self._there.setblocking(True)
        self._there.settimeout(PATIENCE)
        self._there.sendall(HEAD.pack(MAGIC, len(body), kind) + body)
        while True:
            while (message := self._next()) is None:
                self._read()
            if message[0] == kind:
                return message[1]

    def subscribe(self, *events: str) -> None:
        """Be told of these."""
        self.ask(SUBSCRIBE, msgspec.json.encode(events))

    def events(self) -> list[tuple[int, Any]]:
        """What came since, without waiting. Raises OSError when sway is gone."""
        self._there.setblocking(False)
        found = []
        with contextlib.suppress(BlockingIOError):
            self._read()
        while (message := self._next()) is not None:
            found.append(message)
        return found

    def _read(self) -> None:
        part = self._there.recv(1 << 16)
        if not part:
            raise OSError("sway is gone")
        self._came += part

    def _next(self) -> tuple[int, Any] | None:
        if len(self._came) < HEAD.size:
            return None
        magic, length, kind = HEAD.unpack_from(self._came)
        if magic != MAGIC or length > LARGEST:
            raise OSError("what came is not of sway")
        if len(self._came) < HEAD.size + length:
            return None
        body = bytes(self._came[HEAD.size : HEAD.size + length])
        del self._came[: HEAD.size + length]
        try:
            return kind, msgspec.json.decode(body)
        except msgspec.DecodeError as error:
            raise OSError("what came is not of sway") from error

    def close(self) -> None:
        """End the connection."""
        self._there.close()


def layout_in_use(environment: Mapping[str, str] = os.environ, keyboard: str = "") -> int | None:
    """The number of the layout that a keyboard uses (the one by this name, else the first); None where sway is not."""
    path = socket_of_sway(environment)
    if not path:
        return None
    try:
        sway = SwaySocket(path)
    except OSError:
        return None
    try:
        inputs = [one for one in sway.ask(GET_INPUTS) if one.get("type") == "keyboard"]
    except OSError:
        return None
    finally:
        sway.close()
    ours = [one for one in inputs if one.get("name") == keyboard]
    return next((int(one.get("xkb_active_layout_index") or 0) for one in ours or inputs), None)
