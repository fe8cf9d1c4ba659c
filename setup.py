"""What pyproject.toml can't say: with NUBSHIFT_COMPILE=1 the hot path becomes native modules, from the same source.

Needs ``mypy[mypyc]`` and a C compiler, and takes some minutes. NUBSHIFT_COMPILE=test: engine and feel only, and
unoptimised, which is quick. Without it everything stays Python. docs/performance.md says what it brings.
"""

import os
from glob import glob

from setuptools import setup

WHICH = os.environ.get("NUBSHIFT_COMPILE", "")
PURE_PARTS = ("engine", "engine/roles", "feel")
"""Folders of which everything but what makes programs of profiles is compiled."""
LOOP = (
    "devices/decode",
    "devices/kernel",
    "devices/node_reader",
    "devices/senses",
    "devices/stamps",
    "outputs/port",
    "outputs/uinput",
    "runner/frames",
    "runner/held_together",
    "runner/clock",
    "runner/conversation",
    "runner/loop",
    "runner/on_screen_menu",
    "runner/open_controllers",
    "runner/opened",
    "runner/rack",
    "runner/seated",
    "runner/session",
    "runner/waiting",
    "runner/wellbeing",
)
"""Beside them, what a report passes on its way from the node to the virtual device."""


def hot_path() -> list[str]:
    """The files that are compiled."""
    found = [path for part in PURE_PARTS for path in sorted(glob(f"src/nubshift/{part}/*.py"))]
    found = [path for path in found if not os.path.basename(path).startswith(("__init__", "compile"))]
    return found + ([f"src/nubshift/{name}.py" for name in LOOP] if WHICH == "1" else [])


if WHICH in ("1", "test"):
    from mypyc.build import mypycify

    level = {"1": "2", "test": "0"}[WHICH]
    compiled = mypycify(
        hot_path(), opt_level=level, debug_level="0", multi_file=WHICH == "test", target_dir=f"build/base-{WHICH}/c"
    )
    setup(ext_modules=compiled)
else:
    setup()
