"""The menu over the game joined to what it acts on: the runner, the shelf, the rules and the settings."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PyQt6.QtCore import QObject

from nubshift.app.client.at_play import AtPlay
from nubshift.app.client.link import Link
from nubshift.app.document.automatic_store import AutomaticStore
from nubshift.app.document.shelf import Shelf
from nubshift.app.overlay.menu import GameMenu, MenuChoice, MenuWays, Scene, Tuned
from nubshift.app.overlay.menu_window import MenuWindow
from nubshift.app.overlay.window import PlayOverlay
from nubshift.app.painting.theme import Look
from nubshift.app.shell.settings_store import SettingsStore
from nubshift.model.names import Names
from nubshift.model.profile import BASE, Profile
from nubshift.model.programs import SeenProgram, learned_from
from nubshift.model.store import name_of
from nubshift.protocol.messages import Ask, CloseMenu, EnterLayer, Keep, SetLive, Stop, UseVariant


class MenuInPlay(QObject):
    """Owns the menu and its window. `names` says what the controls of this controller are called."""

    def __init__(
        self,
        link: Link,
        at_play: AtPlay,
        shelf: Shelf,
        rules: AutomaticStore,
        settings: SettingsStore,
        overlay: PlayOverlay,
        look: Look,
        label_of: Callable[[str], str],
        names: Callable[[], Names],
    ) -> None:
        super().__init__(link)
        self._link, self._at_play, self._shelf, self._rules = link, at_play, shelf, rules
        self._settings, self._names = settings, names
        ways = MenuWays(
            scene=self._scene,
            keep=lambda name: link.send(Keep(name)),
            layer=lambda layer: link.send(EnterLayer("" if layer == BASE else layer)),
            variant=lambda tuned, key: link.send(UseVariant(tuned.control, key, tuned.seat)),
            sounds=lambda on: settings.change(layer_sounds=on),
            release=lambda: link.send(Stop()),
            live=lambda on: link.send(SetLive(on)),
            ask_programs=lambda: link.send(Ask("programs")),
            learn=self._learn,
            done=lambda: link.send(CloseMenu()),
        )
        self.menu = GameMenu(ways, self)
        self.window = MenuWindow(self.menu, at_play, look, label_of, overlay.tell)
        self.menu.changed.connect(partial(self._hold_back, overlay))
        self.menu.told.connect(lambda text: overlay.tell(text, always=True))
        self.held_off: Callable[[], bool] = lambda: False
        """Whether its controls are being chosen just now, so that holding them does not open it."""
        link.menu_does.connect(self._does)
        link.programs_told.connect(self.menu.show_programs)
        link.status_changed.connect(self.menu.show_status)
        link.lost.connect(lambda: self.menu.show_status(None))

    def _hold_back(self, overlay: PlayOverlay) -> None:
        overlay.held_back = self.menu.is_open
        overlay.refresh()

    def _does(self, act: str) -> None:
        if act == "open" and self.held_off():
            self._link.send(CloseMenu())
        else:
            self.menu.does(act)

    def _scene(self) -> Scene:
        profile, now = self._at_play.profile, self._at_play.live.layers
        known = [layer for layer in now if profile.layer(layer) is not None]
        top = known[-1] if known else BASE
        playing = self.menu.status.profile if self.menu.status is not None else None
        profiles = []
        for entry in self._shelf.entries():
            if not entry.trouble:
                name = name_of(entry.path, self._shelf.folder)
                profiles.append(MenuChoice(name, entry.title, name == playing))
        return Scene(
            tuple(profiles),
            tuple(MenuChoice(layer.id, layer.name, layer.id == top) for layer in profile.layers),
            self._tuned(profile),
            self._settings.now.layer_sounds,
        )

    def _tuned(self, profile: Profile) -> tuple[Tuned, ...]:
        found = []
        stepped = self._at_play.live.variants
        for seat, control in dict.fromkeys((v.feel.seat, v.feel.control) for v in profile.variants):
            mine = [v for v in profile.variants if (v.feel.seat, v.feel.control) == (seat, control)]
            used = {v.id for v in mine if profile.variant_in_use(v.layer, seat, control) is v}
            chosen = stepped.get(f"{seat}/{control}")
            choices = tuple(MenuChoice(v.id, v.name, v.id == chosen if chosen else v.id in used) for v in mine)
            found.append(Tuned(seat, control, self._names().title(control), choices))
        return tuple(found)

    def _learn(self, seen: SeenProgram) -> None:
        """The profile in use goes with this program from now on."""
        status = self.menu.status
        if status is not None and status.profile is not None:
            self._rules.change(self._rules.now.with_match(status.profile, learned_from(seen)))

    def close(self) -> None:
        """Away with it."""
        self.window.close()
