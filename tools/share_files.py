"""``python tools/share_files.py``: the man page and the shell completions in `share/`, made from the parsers.

What else is in `share/` (desktop entry, AppStream data, icons, file types, unit of systemd) is written by hand. The wheel
puts all of it where desktops look.
"""

from __future__ import annotations

import argparse
import os
import sys
from collections.abc import Iterator
from pathlib import Path

ROOT = Path(__file__).parents[1]
SHARE = ROOT / "share"
FILES = {"PROFILE", "TAKE", "FILE", "DIR"}
"""Names of arguments that are files."""
SHELLS = {"bash": "bash-completion/completions/nubshift", "zsh": "zsh/site-functions/_nubshift"}
SHELLS["fish"] = "fish/vendor_completions.d/nubshift.fish"


def every(parser: argparse.ArgumentParser) -> Iterator[argparse.Action]:
    """The arguments of a parser and of its commands."""
    for action in parser._actions:
        yield action
        if isinstance(action, argparse._SubParsersAction):
            for command in action.choices.values():
                yield from every(command)


def made() -> dict[Path, str]:
    """What is to be in each file."""
    os.environ["LANGUAGE"], os.environ["COLUMNS"] = "C", "80"
    os.environ["SOURCE_DATE_EPOCH"] = "1795910400"  # the page is dated; it is the same whenever it is made
    import shtab
    from argparse_manpage.manpage import Manpage

    from nubshift import __version__
    from nubshift.cli.main import whole_parser

    whole = whole_parser()
    for action in every(whole):
        if action.metavar in FILES:
            action.complete = shtab.FILE  # type: ignore[attr-defined]  # what the library looks for
    found = {SHARE / place: shtab.complete(whole, shell=shell) for shell, place in SHELLS.items()}
    page = whole_parser()
    page.man_short_description = "play keyboard and mouse games with a gamepad"  # type: ignore[attr-defined]
    data = {"prog": "nubshift", "project_name": "Nub Shift", "version": __version__, "manual_title": "Nub Shift"}
    found[SHARE / "man/man1/nubshift.1"] = str(Manpage(page, data, "single-commands-section"))
    return {path: "\n".join(line.rstrip() for line in text.splitlines()) + "\n" for path, text in found.items()}


def stale() -> int:
    """1 if a file is not what it would be now; says which."""
    found = [path for path, text in made().items() if path.read_text() != text]
    for path in found:
        print(f"{path.relative_to(ROOT)} is not what tools/share_files.py makes")
    return int(bool(found))


def main() -> int:
    """Write them."""
    for path, text in made().items():
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_text(text)
        print(path.relative_to(ROOT))
    return 0


if __name__ == "__main__":
    sys.exit(main())
