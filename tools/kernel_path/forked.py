"""Commands of Nub Shift in children of the process that proves something: all that they need is loaded, which takes
long where the processor is emulated."""

from __future__ import annotations

import os
import signal
import sys
import traceback
from dataclasses import dataclass

from nubshift.cli.main import main


class Forked:
    """A command at work, with the signals and the end of a process of its own."""

    def __init__(self, words: list[str], streams: tuple[int, int, int], user: int | None = None) -> None:
        sys.stdout.flush()
        self.pid = os.fork()
        if self.pid == 0:
            _become(words, streams, user)
        self._code: int | None = None

    def send_signal(self, number: int) -> None:
        if self._code is None:
            os.kill(self.pid, number)

    def terminate(self) -> None:
        self.send_signal(signal.SIGTERM)

    def wait(self) -> int:
        """Its exit code."""
        if self._code is None:
            self._code = os.waitstatus_to_exitcode(os.waitpid(self.pid, 0)[1])
        return self._code


def _become(words: list[str], streams: tuple[int, int, int], user: int | None) -> None:
    """Never returns: what was open is closed, so that what the parent pulls out is gone."""
    code = 1
    try:
        for number, stream in enumerate(streams):
            os.dup2(stream, number)
        os.closerange(3, os.sysconf("SC_OPEN_MAX"))
        sys.stdin, sys.stdout, sys.stderr = os.fdopen(0), os.fdopen(1, "w"), os.fdopen(2, "w", buffering=1)
        if user is not None:
            os.environ["HOME"] = "/tmp"
            os.setgroups([])
            os.setgid(user)
            os.setuid(user)
        code = main(words)
        sys.stdout.flush()
    except SystemExit as end:
        code = end.code if isinstance(end.code, int) else 1
    except BaseException:
        traceback.print_exc()
    finally:
        os._exit(code)


@dataclass(frozen=True)
class Done:
    """What a command that has ended said."""

    returncode: int
    stdout: str
    stderr: str


def command(*words: str, given: str = "", user: int | None = None) -> Done:
    """Run it to its end, with this to read."""
    streams = tuple(os.memfd_create(name) for name in ("in", "out", "err"))
    os.write(streams[0], given.encode())
    os.lseek(streams[0], 0, os.SEEK_SET)
    code = Forked(list(words), (streams[0], streams[1], streams[2]), user).wait()
    said = []
    for stream in streams:
        with os.fdopen(stream, "rb") as file:
            file.seek(0)
            said.append(file.read().decode())
    return Done(code, said[1], said[2])
