"""Runs inside the virtual machine: scripts of this folder, one after the other, each in a child of this process.

``python -m tests.vm.guest SCRIPT[:AMOUNT]=PROFILE...``. Says where each begins and how it ended. What all of them need is loaded
once, for that takes longest where the processor is emulated.
"""

from __future__ import annotations

import importlib
import os
import sys
import traceback

BEGINS, ENDS = "script begins:", "script ended:"
NEEDED = (
    "nubshift.cli.run",
    "nubshift.cli.devices",
    "nubshift.cli.doctor",
    "nubshift.outputs.uinput",
    "tests.vm.inside",
)


def run(script: str, profile: str) -> None:
    """Never returns."""
    code = 1
    try:
        os.dup2(1, 2)
        name, _, amount = script.partition(":")
        importlib.import_module(f"tests.vm.{name}").main(profile, *([int(amount)] if amount else []))
        code = 0
    except SystemExit as end:
        print(end)
    except BaseException:
        traceback.print_exc()
    finally:
        sys.stdout.flush()
        os._exit(code)


def main(words: list[str]) -> None:
    for name in NEEDED:
        importlib.import_module(name)
    for word in words:
        script, _, profile = word.partition("=")
        print(BEGINS, script, flush=True)
        child = os.fork()
        if child == 0:
            run(script, profile)
        print(ENDS, script, os.waitstatus_to_exitcode(os.waitpid(child, 0)[1]), flush=True)


if __name__ == "__main__":
    main(sys.argv[1:])
