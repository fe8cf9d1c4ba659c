"""Programs of a desktop: real windows with a class and a title, and programs without one."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from standins.game import TOOLS
from standins.waiting import wait_until


@contextmanager
def window(name: str, title: str, *, full_screen: bool = False) -> Iterator[str]:
    """A real window with a class (tools/some_window.py); gives its handle as a word for `bring_to_front`."""
    words = [sys.executable, str(TOOLS / "some_window.py"), name, title, *(["full"] if full_screen else [])]
    process = subprocess.Popen(words, stdout=subprocess.PIPE, text=True)
    assert process.stdout is not None
    try:
        with process.stdout as lines:
            yield lines.readline().strip()
    finally:
        process.kill()
        process.wait()


def bring_to_front(handle: str) -> None:
    """Give a window the focus, as a click on a taskbar does."""

    def front() -> bool:
        subprocess.run(["xdotool", "windowactivate", handle], capture_output=True, check=False)
        asked = subprocess.run(["xdotool", "getactivewindow"], capture_output=True, text=True, check=False)
        return asked.stdout.strip() == handle

    wait_until(front, "the window is in front", 0.05)


@contextmanager
def program(path: Path, *words: str, called: str = "", **environment: str) -> Iterator[subprocess.Popen[bytes]]:
    """A program without a window, whose executable is `path`; `called` is its first word if that is another one."""
    if not path.exists():
        path.parent.mkdir(parents=True, exist_ok=True)
        shutil.copy2(str(shutil.which("sleep")), path)
    process = subprocess.Popen(
        [called or str(path), *(words or ("3000",))], executable=path, env={**os.environ, **environment}
    )
    try:
        yield process
    finally:
        process.kill()
        process.wait()
