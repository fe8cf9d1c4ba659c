"""Runs inside the virtual machine: proofs, one after the other, each in a child of this process.

Says where each begins and how it ended. What all of them need is loaded once, for that takes longest where the processor is
emulated.
"""

from __future__ import annotations

import importlib
import os
import sys
import traceback

BEGINS, ENDS = "proof begins:", "proof ended:"
NEEDED = (
    "nubshift.cli.run",
    "nubshift.cli.devices",
    "nubshift.cli.doctor",
    "nubshift.outputs.uinput",
    "kernel_path.nodes",
)


def run(name: str, amount: str, profile: str) -> None:
    """Never returns."""
    code = 1
    try:
        os.dup2(1, 2)
        importlib.import_module(f"kernel_path.{name}").main(profile, *([int(amount)] if amount else []))
        code = 0
    except SystemExit as end:
        print(end)
    except BaseException:
        traceback.print_exc()
    finally:
        sys.stdout.flush()
        os._exit(code)


def main(words: list[str]) -> None:
    """Each word is a module of this folder, an amount if it takes one, and what plays: ``kills:3=PROFILE``."""
    for needed in NEEDED:
        importlib.import_module(needed)
    for word in words:
        proof, _, profile = word.partition("=")
        name, _, amount = proof.partition(":")
        print(BEGINS, name, flush=True)
        child = os.fork()
        if child == 0:
            run(name, amount, profile)
        print(ENDS, name, os.waitstatus_to_exitcode(os.waitpid(child, 0)[1]), flush=True)
