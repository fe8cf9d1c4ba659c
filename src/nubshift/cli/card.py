"""``nubshift card``: the printable page of who does what."""

from __future__ import annotations

import argparse
import os
from pathlib import Path

from nubshift.errors import NubShiftError
from nubshift.model.store import path_of, read_profile
from nubshift.protocol.paths import profile_folder
from nubshift.texts import _


def arguments(parser: argparse.ArgumentParser) -> None:
    """The words of this command."""
    parser.add_argument("profile", metavar="PROFILE", help=_("a profile: its file, or its name"))
    parser.add_argument("-o", "--output", metavar="FILE", type=Path, required=True, help=_("a .pdf or .png file"))
    parser.add_argument("--theme", choices=("day", "dusk"), default="day", help=_("light for paper, or dark"))


def main(options: argparse.Namespace) -> int:
    """Write it."""
    from nubshift.cli.use import known

    path: Path = options.output
    if path.suffix.lower() not in (".pdf", ".png"):
        raise NubShiftError(_("{path}: a card is a .pdf or a .png file").format(path=path))
    profile = read_profile(path_of(known(options.profile), profile_folder()))
    if not path.absolute().parent.is_dir():
        raise NubShiftError(_("{path}: there is no such folder").format(path=path.parent))
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")  # nothing is shown
    from PyQt6.QtWidgets import QApplication

    from nubshift.app.card.content import card_of
    from nubshift.app.card.page import CardPages
    from nubshift.app.painting.key_labels import KeyLabels
    from nubshift.app.painting.theme import DAY, DUSK, install_font

    app = QApplication(["nubshift"])
    install_font(app)
    theme = DUSK if options.theme == "dusk" else DAY
    pages = CardPages(card_of(profile), profile.game.colour, theme, KeyLabels())
    for written in pages.write(path):
        print(written)
    return 0
