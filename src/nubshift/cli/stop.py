"""``nubshift stop``: release everything and end Nub Shift."""

from __future__ import annotations

import argparse

from nubshift.protocol.asking import Asking
from nubshift.protocol.messages import Quit
from nubshift.protocol.paths import socket_path


def arguments(parser: argparse.ArgumentParser) -> None:
    """The words of this command: none."""


def main(options: argparse.Namespace) -> int:
    """End it, and wait until nothing is held any more."""
    with Asking(socket_path()) as runner:
        runner.ask(Quit())
        runner.wait_end()
    return 0
