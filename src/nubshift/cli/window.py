"""``nubshift [PROFILE]``: the window."""

from __future__ import annotations

import argparse
from collections.abc import Sequence
from pathlib import Path


def open_window(words: Sequence[str]) -> int:
    """Open the window; returns its exit code."""
    parser = argparse.ArgumentParser(prog="nubshift", description="The window of Nub Shift.")
    parser.add_argument("profile", metavar="PROFILE", nargs="?", type=Path, help="a profile file to open")
    parser.add_argument("--source", metavar="S", action="append", default=[], help="where input comes from")
    parser.add_argument("--sink", metavar="K", default="auto", help="where output goes")
    parser.add_argument("--theme", choices=("dusk", "day"), help="instead of the desktop's")
    options = parser.parse_args(list(words))
    from nubshift.app.main import run

    return run(options.profile, options.source, options.sink, options.theme)
