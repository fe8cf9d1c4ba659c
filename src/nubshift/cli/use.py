"""``nubshift use PROFILE``: stay on a profile until told otherwise."""

from __future__ import annotations

import argparse
from pathlib import Path

from nubshift.errors import NubShiftError
from nubshift.model.store import named_profile
from nubshift.protocol.asking import Asking
from nubshift.protocol.messages import Keep
from nubshift.protocol.paths import profile_folder, socket_path
from nubshift.texts import _

AUTO = "auto"


def arguments(parser: argparse.ArgumentParser) -> None:
    """The words of this command."""
    parser.add_argument("profile", metavar="PROFILE", help=_("a profile, or auto for the one that goes with the game"))


def main(options: argparse.Namespace) -> int:
    """Stay on it from now on."""
    name = None if options.profile == AUTO else known(options.profile)
    with Asking(socket_path()) as runner:
        runner.ask(Keep(name))
    return 0


def known(word: str) -> str:
    """The name of the profile that is meant, a file or the name of one of the player's. Raises NubShiftError."""
    name = named_profile(word, profile_folder(), Path.cwd())
    if name is None:
        raise NubShiftError(
            _('There is no profile "{word}". Yours are in {folder}.').format(word=word, folder=profile_folder())
        )
    return name
