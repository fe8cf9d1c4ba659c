"""``nubshift take``: a take in the other text format."""

from __future__ import annotations

import argparse
import sys
from pathlib import Path

from nubshift.devices.evemu import evemu_text
from nubshift.devices.take import read_take, take_text
from nubshift.model.store import write_atomically
from nubshift.texts import _


def arguments(parser: argparse.ArgumentParser) -> None:
    """The words of this command."""
    parser.add_argument("take", metavar="TAKE", type=Path, help=_("a take, or a recording of the evemu tools"))
    parser.add_argument("-o", "--output", metavar="FILE", type=Path, help=_("write here instead of printing"))
    parser.add_argument("--evemu", action="store_true", help=_("write the text format of the evemu tools"))


def main(options: argparse.Namespace) -> int:
    """Read one, write the other; what the other format can't hold is named."""
    reports = read_take(options.take)
    if options.evemu:
        text, left_out = evemu_text(reports, options.take.stem)
        if left_out:
            print(f"nubshift take: left out, since a pad's node has none: {', '.join(left_out)}", file=sys.stderr)
    else:
        text = take_text(reports)
    if options.output is None:
        sys.stdout.write(text)
    else:
        write_atomically(options.output, text.encode())
    return 0
