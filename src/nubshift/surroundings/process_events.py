"""Word of programs that start, from the kernel's process connector (``linux/cn_proc.h``), where that is allowed.

Most systems allow it to root only; there, programs are looked for once a second instead.
"""

from __future__ import annotations

import os
import socket
import struct

_NETLINK_CONNECTOR = 11
_CN_PROC = (1, 1)
"""Index and value of the process connector, and the number of its multicast group."""
_LISTEN, _IGNORE = 1, 2
_EXEC, _EXIT = 0x2, 0x80000000
_DONE = 3
_HEAD = struct.Struct("=IHHIIIIIIHH")
"""``nlmsghdr`` (length, type, flags, number, port) and ``cn_msg`` (index, value, number, ack, length, flags)."""
_EVENT = struct.Struct("=IIQI")
"""What happened, on which processor, when, and to which process; its group follows."""


class ProcessEvents:
    """Tells of programs that begin and end. Raises OSError where the kernel does not allow it."""

    def __init__(self) -> None:
        self._socket = socket.socket(
            socket.AF_NETLINK, socket.SOCK_DGRAM | socket.SOCK_NONBLOCK | socket.SOCK_CLOEXEC, _NETLINK_CONNECTOR
        )
        try:
            self._socket.bind((0, _CN_PROC[1]))
            self._ask(_LISTEN)
        except OSError:
            self._socket.close()
            raise

    def _ask(self, what: int) -> None:
        length = _HEAD.size + 4
        head = _HEAD.pack(length, _DONE, 0, 0, os.getpid(), *_CN_PROC, 0, 0, 4, 0)
        self._socket.send(head + struct.pack("=I", what))

    def fileno(self) -> int:
        """Readable when a program began or ended."""
        return self._socket.fileno()

    def take(self) -> tuple[set[int], bool]:
        """The processes that have become another program, or ended, since this was asked last; and whether anything
        may have happened beside."""
        found: set[int] = set()
        while True:
            try:
                data = self._socket.recv(4096)
            except BlockingIOError:
                return found, False
            except OSError:  # more was said than could be kept
                return found, True
            if len(data) < _HEAD.size + _EVENT.size + 4:
                continue
            what, _cpu, _when, pid = _EVENT.unpack_from(data, _HEAD.size)
            (group,) = struct.unpack_from("=I", data, _HEAD.size + _EVENT.size)
            if what == _EXEC or (what == _EXIT and group == pid):
                found.add(pid)

    def close(self) -> None:
        """Hear no more."""
        self._socket.close()
