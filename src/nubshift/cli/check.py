"""``nubshift check``: validate profiles."""

from __future__ import annotations

import argparse
import sys
from pathlib import Path

import msgspec

from nubshift.errors import Problem, ProfileError, StorageError
from nubshift.model.store import read_profile


def arguments(parser: argparse.ArgumentParser) -> None:
    """The words of this command."""
    parser.add_argument("profiles", metavar="PROFILE", nargs="+", type=Path)
    parser.add_argument("--json", action="store_true", help="one JSON object a finding")


def main(options: argparse.Namespace) -> int:
    """Print the findings of each file; 1 if any is an error."""
    worst = 0
    for path in options.profiles:
        problems = _problems(path)
        worst = max(worst, bool(problems))
        for problem in problems:
            if options.json:
                line = msgspec.json.encode({"file": str(path)} | msgspec.to_builtins(problem)).decode()
            else:
                line = f"{path}: {problem.severity}: {problem}"
            print(line)
        if not problems and not options.json:
            print(f"{path}: good", file=sys.stderr)
    return worst


def _problems(path: Path) -> tuple[Problem, ...]:
    try:
        read_profile(path)
    except ProfileError as error:
        return error.problems
    except StorageError as error:
        return (Problem("", str(error).removeprefix(f"{path}: ")),)
    return ()
