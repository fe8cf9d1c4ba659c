"""The table of models that is built into the SDL library, where that is installed: mapping lines in its text format.

Asked only when a model is settled by nothing else, once, and in a process of its own, since the library looks through
all devices as it starts. Found as the Python package pysdl2-dll or as the system's library; without either there is
none.
"""

from __future__ import annotations

import ctypes
import ctypes.util
import importlib.util
import os
import subprocess
import sys
import tempfile
from pathlib import Path
from typing import IO

from nubshift.devices.mapping_line import MappingLine, parse_lines

_INIT_GAMECONTROLLER = 0x2000
LONGEST_WAIT = 5.0
"""Seconds."""


def library() -> str:
    """Where the library is; empty if it is not installed."""
    package = importlib.util.find_spec("sdl2dll")
    for folder in package.submodule_search_locations or () if package is not None else ():
        for path in sorted((Path(folder) / "dll").glob("libSDL2-2.0*.so*")):
            return str(path)
    return ctypes.util.find_library("SDL2-2.0") or ""


class Table:
    """The table. `lines` is empty until it was wanted and has come."""

    def __init__(self) -> None:
        self.lines: tuple[MappingLine, ...] = ()
        self._asked = False
        self._process: subprocess.Popen[bytes] | None = None
        self._said: IO[bytes] | None = None

    def want(self) -> None:
        """Ask for it, if nobody has."""
        if self._asked:
            return
        self._asked = True
        path = library()
        if not path:
            return
        self._said = tempfile.TemporaryFile()  # noqa: SIM115  read when the process has ended
        words = [sys.executable, "-m", __name__, path]
        quiet = subprocess.DEVNULL
        try:
            self._process = subprocess.Popen(words, stdin=quiet, stdout=self._said, stderr=quiet)
        except OSError:
            self._process = None

    @property
    def pending(self) -> bool:
        """Whether it is still to come."""
        return self._process is not None

    def take(self, patience: float = 0.0) -> bool:
        """Whether it has come just now, after waiting up to `patience` seconds."""
        if self._process is None or self._said is None:
            return False
        try:
            failed = self._process.wait(patience) != 0 if patience else self._process.poll()
        except subprocess.TimeoutExpired:
            self._process.kill()
            failed = self._process.wait() != 0
        if failed is None:
            return False
        self._process = None
        self._said.seek(0)
        text = self._said.read().decode(errors="replace")
        self._said.close()
        self.lines = () if failed else tuple(parse_lines(text)[0])
        return bool(self.lines)


def lines_for(lines: tuple[MappingLine, ...], guid: str) -> list[MappingLine]:
    """The lines for a model, those with its exact version first; a line with version 0 is for all versions."""
    model, version = guid[:24], guid[24:]
    fitting = [line for line in lines if line.guid[:4] + "0000" + line.guid[8:24] == model]
    return [line for wanted in (version, "00000000") for line in fitting if line.guid[24:] == wanted]


def main(path: str) -> None:
    """Print the table."""
    os.environ |= {"SDL_JOYSTICK_HIDAPI": "0", "SDL_GAMECONTROLLER_USE_BUTTON_LABELS": "0"}  # by place, not by print
    sdl = ctypes.CDLL(path)
    if sdl.SDL_Init(_INIT_GAMECONTROLLER) != 0:
        raise SystemExit(1)
    sdl.SDL_GameControllerMappingForIndex.restype = ctypes.c_char_p
    for number in range(sdl.SDL_GameControllerNumMappings()):
        print((sdl.SDL_GameControllerMappingForIndex(number) or b"").decode(errors="replace"))


if __name__ == "__main__":
    main(sys.argv[1])
