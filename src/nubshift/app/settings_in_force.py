"""The player's settings put into force in the parts of the window."""

from __future__ import annotations

from PyQt6.QtCore import QObject

from nubshift.app.document.assigning import Assigning
from nubshift.app.map.workspace import MapWorkspace
from nubshift.app.overlay.window import PlayOverlay
from nubshift.app.painting.theme import Look
from nubshift.app.shell.actions import ActionTable
from nubshift.app.shell.settings_store import SettingsStore
from nubshift.app.shell.sounds import LayerSounds


class SettingsInForce(QObject):
    """Follows the settings. The theme that the look begins with stays until another one is chosen."""

    def __init__(
        self,
        settings: SettingsStore,
        look: Look,
        overlay: PlayOverlay,
        sounds: LayerSounds,
        map_: MapWorkspace,
        assigning: Assigning,
        actions: ActionTable,
    ) -> None:
        super().__init__(actions)
        self._settings, self._look, self._overlay, self._sounds = settings, look, overlay, sounds
        self._map, self._assigning, self._actions = map_, assigning, actions
        self._theme = settings.now.theme
        settings.changed.connect(self.follow)
        self.follow()

    def close(self) -> None:
        """The parts of the window are going."""
        self._settings.changed.disconnect(self.follow)

    def follow(self) -> None:
        """Everything as it is set."""
        now = self._settings.now
        if now.theme != self._theme:
            self._theme = now.theme
            self._look.want(now.theme or None)
        self._overlay.on, self._sounds.on = now.overlay, now.layer_sounds
        self._overlay.refresh()
        self._map.touch_selects = now.touch_selects
        self._assigning.listen_for(now.listening_seconds)
        self._actions.refresh()
