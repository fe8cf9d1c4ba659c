"""The actions of the window, in the order of the menu, and the menu itself."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PyQt6.QtCore import QPoint
from PyQt6.QtWidgets import QMenu, QWidget

from nubshift.app.client.in_use import ControllerInUse
from nubshift.app.client.link import Link
from nubshift.app.document import subject
from nubshift.app.document.assigning import LISTENING
from nubshift.app.document.output_choices import with_new_belt, with_new_macro
from nubshift.app.document.shelf import Shelf
from nubshift.app.document.studio import Studio
from nubshift.app.map.workspace import MapWorkspace
from nubshift.app.painting.theme import Look
from nubshift.app.profile_files import ProfileFiles
from nubshift.app.shell.actions import Action, ActionTable, always
from nubshift.app.shell.new_profile import NewProfile
from nubshift.app.shell.settings_store import SettingsStore
from nubshift.app.shell.top import TopBar
from nubshift.protocol.messages import Keep, Play, Stop
from nubshift.protocol.paths import demo_folder
from nubshift.records import Record
from nubshift.texts import _

DEMO_PLAYER = "ferrow-deep"
"""Who plays a profile that has no simulated player of its own."""
MOST_UNDO = 20
"""Edits that the list of what can be taken back shows."""


class Ways(Record, frozen=True):
    """What only the window itself can do."""

    workspace: Callable[[str], None]
    search: Callable[[], None]
    live: Callable[[bool], None]
    quit: Callable[[], None]


class WindowActions(ActionTable):
    """Every action once, over the parts of the window."""

    def __init__(
        self,
        window: QWidget,
        studio: Studio,
        link: Link,
        look: Look,
        in_use: ControllerInUse,
        top: TopBar,
        map_: MapWorkspace,
        shelf: Shelf,
        beginning: NewProfile,
        files: ProfileFiles,
        settings: SettingsStore,
        go: Ways,
    ) -> None:
        super().__init__(window)
        self._studio, self._link, self._look, self._in_use = studio, link, look, in_use
        self._top, self._map = top, map_
        self._shelf, self._beginning, self._files, self._go = shelf, beginning, files, go
        self._settings = settings
        self._add_actions()

    def _add_actions(self) -> None:
        self.add(*self._workspaces(), *self._history(), *self._in_play(), *self._profiles(), *self._on_the_map())
        self.add(*self._appearance())
        self.add(
            Action("settings", always(_("Settings…")), lambda: self._go.workspace("settings"), "Ctrl+,"),
            Action("quit", always(_("Quit")), self._go.quit, "Ctrl+Q"),
        )

    def _workspaces(self) -> tuple[Action, ...]:
        return (
            Action("map", always(_("Map: what every control does")), lambda: self._go.workspace("map"), "Ctrl+1"),
            Action("tune", always(_("Tune: how a control feels")), lambda: self._go.workspace("tune"), "Ctrl+2"),
            Action("try", always(_("Try: the range")), lambda: self._go.workspace("try"), "Ctrl+3"),
            Action(
                "controllers",
                always(_("Controllers: what is plugged in")),
                lambda: self._go.workspace("controllers"),
                "Ctrl+4",
            ),
            Action(
                "profiles",
                always(_("Profiles: which one goes with which game")),
                lambda: self._go.workspace("profiles"),
                "Ctrl+5",
            ),
        )

    def _history(self) -> tuple[Action, ...]:
        document = self._studio.document
        return (
            Action("undo", self._undo_text, document.undo, "Ctrl+Z", lambda: bool(document.history.undo_title)),
            Action("redo", self._redo_text, document.redo, "Ctrl+Shift+Z", lambda: bool(document.history.redo_title)),
        )

    def _in_play(self) -> tuple[Action, ...]:
        return (
            Action("find", always(_("Search…")), self._go.search, "Ctrl+K"),
            Action(
                "live",
                lambda: _("Pause") if self._top.switch.on else _("Go live"),
                lambda: self._go.live(not self._top.switch.on),
                "Ctrl+P",
            ),
            Action("automatic", always(_("Choose the profile automatically")), lambda: self._link.send(Keep(None))),
            Action("stop", always(_("Release all keys")), lambda: self._link.send(Stop()), "Ctrl+."),
            Action("play", self._play_text, self._play, "Ctrl+D", lambda: self._in_use.is_simulated),
            Action(
                "touch",
                always(_("Select controls by pressing them")),
                partial(self._toggle, "touch_selects"),
                "Ctrl+T",
                on=lambda: self._settings.now.touch_selects,
            ),
            Action("listen", self._listen_text, self._listen_longer),
        )

    def _profiles(self) -> tuple[Action, ...]:
        selection = self._studio.selection
        return (
            Action("new", always(_("New profile…")), self._beginning.ask, "Ctrl+N"),
            Action("duplicate", always(_("Duplicate profile")), self._shelf.duplicate),
            Action("about", always(_("Profile settings…")), lambda: selection.look_at(subject.PROFILE), "Ctrl+I"),
            Action("delete profile", always(_("Delete profile")), self._shelf.delete),
            Action("open", always(_("Import profile…")), self._files.open_file, "Ctrl+O"),
            Action("export", always(_("Export profile…")), self._files.export_file, "Ctrl+Shift+S"),
            Action("card", always(_("Save card…")), self._files.write_card),
            Action("read keys", always(_("Import key list…")), self._files.read_keys),
        )

    def _on_the_map(self) -> tuple[Action, ...]:
        edit_commands, hands = self._map.edit_commands, self._map.hands
        return (
            Action("layer", always(_("Add layer…")), self._map.menus.add_layer, "Ctrl+L"),
            Action("belt", always(_("Add belt")), self._add_belt),
            Action("macro", always(_("Add macro")), self._add_macro),
            Action("copy", always(_("Copy")), edit_commands.copy, "Ctrl+C", where=hands),
            Action("paste", always(_("Paste")), edit_commands.paste, "Ctrl+V", where=hands),
            Action("mirror", always(_("Mirror left and right")), edit_commands.mirror, "Ctrl+M"),
            Action("clear", always(_("Clear")), edit_commands.clear, "Del", where=hands),
            Action(
                "layer from", always(_("New layer from selection…")), self._map.menus.ask_layer_from, "Ctrl+Shift+L"
            ),
            Action("all", always(_("Select all controls")), self._select_all, "Ctrl+A", where=hands),
        )

    def _appearance(self) -> tuple[Action, ...]:
        return (
            Action(
                "overlay",
                always(_("Show over the game")),
                partial(self._toggle, "overlay"),
                on=lambda: self._settings.now.overlay,
            ),
            Action(
                "sound",
                always(_("Sound on layer changes")),
                partial(self._toggle, "layer_sounds"),
                on=lambda: self._settings.now.layer_sounds,
            ),
            *(
                Action(
                    name or "desktop",
                    always(text),
                    partial(self._settings.change, theme=name or ""),
                    on=partial(self._is_theme, name),
                )
                for name, text in (
                    ("dusk", _("Dusk theme")),
                    ("day", _("Day theme")),
                    (None, _("Same theme as the desktop")),
                )
            ),
        )

    def _undo_text(self) -> str:
        return _("Undo {edit}").format(edit=self._studio.document.history.undo_title).strip()

    def _redo_text(self) -> str:
        return _("Redo {edit}").format(edit=self._studio.document.history.redo_title).strip()

    def _play_text(self) -> str:
        playing = self._in_use.is_playing
        return _("Stop demo input") if playing else _("Play demo input (30 s)")

    def _play(self) -> None:
        playing = self._in_use.is_playing
        own = self._studio.document.file.name
        script = own if (demo_folder() / f"{own}.player.json").exists() else DEMO_PLAYER
        self._link.send(Play("" if playing else script))

    def _is_theme(self, name: str | None) -> bool:
        return (self._settings.now.theme or None) == name

    def _listen_text(self) -> str:
        return _("Time to answer a slot: {listening_seconds} s").format(
            listening_seconds=self._studio.assigning.listening_seconds
        )

    def _listen_longer(self) -> None:
        """The next length, and after the longest the shortest."""
        present = self._settings.now.listening_seconds
        at = LISTENING.index(present) if present in LISTENING else -1
        self._settings.change(listening_seconds=LISTENING[(at + 1) % len(LISTENING)])

    def show_menu(self, at: QPoint) -> None:
        """Open the menu."""
        menu = self.menu(["undo", "redo"], self._window)
        menu.addMenu(self._undo_list(menu))
        for title, ids in (
            ("", ["find", "about", "", "live", "stop", "play", ""]),
            (_("Add"), ["layer", "layer from", "belt", "macro", "read keys"]),
            (_("Edit"), ["copy", "paste", "mirror", "clear", "all"]),
            (_("Assign"), ["touch", "listen"]),
            (_("Appearance and sound"), ["overlay", "sound", "", "dusk", "day", "desktop"]),
            ("", ["", "settings", "quit"]),
        ):
            part = self.menu(ids, menu)
            if title:
                part.setTitle(title)
                menu.addMenu(part)
            else:
                menu.addActions(part.actions())
        menu.popup(at)

    def _undo_list(self, parent: QMenu) -> QMenu:
        """The last edits by name; one chosen is taken back with all after it."""
        menu = QMenu(_("Undo history…"), parent)
        for number, title in enumerate(self._studio.document.history.titles[:MOST_UNDO], 1):
            action = menu.addAction(title)
            if action is not None:
                action.triggered.connect(lambda _=False, steps=number: self._studio.document.undo(steps))
        menu.setEnabled(bool(self._studio.document.history.titles))
        return menu

    def _select_all(self) -> None:
        self._studio.selection.select_all((*self._map.hands.tiles, self._studio.selection.control))

    def _add_belt(self) -> None:
        self._studio.document.edit(_("Add belt"), lambda profile: with_new_belt(profile)[0])
        self._studio.selection.look_at(subject.belt(self._studio.profile.belts[-1].id))

    def _add_macro(self) -> None:
        self._studio.document.edit(_("Add macro"), lambda profile: with_new_macro(profile)[0])
        self._studio.selection.look_at(subject.macro(self._studio.profile.macros[-1].id))

    def _toggle(self, field: str) -> None:
        """Turn a setting that is on or off."""
        self._settings.change(**{field: not getattr(self._settings.now, field)})
