"""What a player sees and hears during play, over the game and beside it: overlay, sounds, the menu, offers."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtWidgets import QWidget

from nubshift.app.client.at_play import AtPlay
from nubshift.app.client.link import Link
from nubshift.app.document.shelf import Shelf
from nubshift.app.game_offers import GameOffers
from nubshift.app.menu_in_play import MenuInPlay
from nubshift.app.overlay.window import PlayOverlay
from nubshift.app.painting.theme import Look
from nubshift.app.shell.notices import NoticeBar
from nubshift.app.shell.player_files import PlayerFiles
from nubshift.app.shell.sounds import LayerSounds
from nubshift.model.names import Names


class DuringPlay:
    """Makes and ends all of it. `new` asks for a new profile, `names` says what controls are called."""

    def __init__(
        self,
        link: Link,
        at_play: AtPlay,
        shelf: Shelf,
        stored: PlayerFiles,
        look: Look,
        label_of: Callable[[str], str],
        names: Callable[[], Names],
        notices: NoticeBar,
        new: Callable[[], object],
        window: QWidget,
    ) -> None:
        self.overlay = PlayOverlay(at_play, look, label_of)
        self.sounds = LayerSounds(at_play.live, window)
        self.menu = MenuInPlay(link, at_play, shelf, stored.rules, stored.settings, self.overlay, look, label_of, names)
        self.offers = GameOffers(
            link, stored.rules, shelf, notices, lambda text: self.overlay.tell(text, always=True), new, window
        )

    def close(self) -> None:
        """Away with it."""
        self.menu.close()
        self.overlay.close()
