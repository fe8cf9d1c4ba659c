"""What is loaded when it is first used."""

from __future__ import annotations

import subprocess
import sys

USE = """
import sys
from nubshift.cli.later import load_later
load_later("{name}")
import {name}
assert "{part}" not in sys.modules
{use}
assert "{part}" in sys.modules
import {name} as again
assert again.__file__
"""


def ran(words: str) -> str:
    return subprocess.run([sys.executable, "-c", words], capture_output=True, text=True, check=False).stderr


def test_a_module_is_there_as_soon_as_something_of_it_is_used() -> None:
    asked = {"name": "asyncio", "part": "asyncio.events"}
    assert ran(USE.format(use="assert asyncio.Future.__name__ == 'Future'", **asked)) == ""
    assert ran(USE.format(use="from asyncio import Future", **asked)) == ""
    assert ran(USE.format(use="import asyncio.queues; asyncio.queues.Queue", **asked)) == ""


def test_what_is_not_there_says_so_when_it_is_used() -> None:
    assert "ModuleNotFoundError" in ran(
        "from nubshift.cli.later import load_later; load_later('nix'); import nix; nix.a"
    )


def test_a_runner_starts_without_what_nobody_uses() -> None:
    words = "from nubshift.cli.later import loaded; loaded('nubshift.cli.run'); import sys"
    loaded = f"{words}; print([name for name in ('asyncio.events', 'xcffib') if name in sys.modules], file=sys.stderr)"
    assert ran(loaded) == "[]\n"
