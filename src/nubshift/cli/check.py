"""``nubshift check``: validate profiles, and say what looks forgotten in them."""

from __future__ import annotations

import argparse
import sys
from pathlib import Path

import msgspec

from nubshift.errors import Problem, ProfileError, Severity, StorageError
from nubshift.model.checks import Setting, findings
from nubshift.model.controls import PAD_CONTROLS
from nubshift.model.fair_play import fair_play
from nubshift.model.neighbours import read_neighbours
from nubshift.model.store import read_profile
from nubshift.texts import _


def arguments(parser: argparse.ArgumentParser) -> None:
    """The words of this command."""
    parser.add_argument("profiles", metavar="PROFILE", nargs="+", type=Path)
    parser.add_argument("--json", action="store_true", help=_("one JSON object a finding"))
    parser.add_argument("--pad", action="store_true", help=_("also what a pad with two sticks leaves unused"))
    parser.add_argument(
        "--fair-play", action="store_true", help=_("also every binding that is more than a plain press")
    )


def main(options: argparse.Namespace) -> int:
    """Print the findings of each file; 1 if any is an error."""
    worst = 0
    for path in options.profiles:
        problems = _problems(path, options)
        worst = max(worst, any(problem.severity is Severity.ERROR for problem in problems))
        for problem in problems:
            if options.json:
                file = str(path).encode("utf-8", "backslashreplace").decode()
                line = msgspec.json.encode({"file": file} | msgspec.to_builtins(problem)).decode()
            else:
                line = f"{path}: {problem.severity}: {problem}"
            print(line)
        if not problems and not options.json:
            print(_("{path}: no problems").format(path=path), file=sys.stderr)
    return worst


def _problems(path: Path, options: argparse.Namespace) -> tuple[Problem, ...]:
    try:
        profile = read_profile(path)
    except ProfileError as error:
        return error.problems
    except StorageError as error:
        return (Problem("", str(error).removeprefix(f"{path}: ")),)
    others = read_neighbours(profile, path.parent)
    found = findings(profile, Setting(others, controls=PAD_CONTROLS if options.pad else ()))
    if options.fair_play or profile.habits.one_to_one:
        found += fair_play(profile)
    return found
