"""``nubshift resume``: send again after a pause."""

from __future__ import annotations

import argparse

from nubshift.protocol.asking import Asking
from nubshift.protocol.messages import SetLive
from nubshift.protocol.paths import socket_path


def arguments(parser: argparse.ArgumentParser) -> None:
    """The words of this command: none."""


def main(options: argparse.Namespace) -> int:
    """Send from now on."""
    with Asking(socket_path()) as runner:
        runner.ask(SetLive(True))
    return 0
