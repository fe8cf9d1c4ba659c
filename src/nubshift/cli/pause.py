"""``nubshift pause``: stop sending until ``nubshift resume``."""

from __future__ import annotations

import argparse

from nubshift.protocol.asking import Asking
from nubshift.protocol.messages import SetLive
from nubshift.protocol.paths import socket_path


def arguments(parser: argparse.ArgumentParser) -> None:
    """The words of this command: none."""


def main(options: argparse.Namespace) -> int:
    """Release everything and send nothing from now on."""
    with Asking(socket_path()) as runner:
        runner.ask(SetLive(False))
    return 0
