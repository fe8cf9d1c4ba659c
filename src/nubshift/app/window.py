"""The main window: the top, the workspace, the Now strip, and the actions that belong to the whole of it."""

from __future__ import annotations

from functools import partial
from pathlib import Path

from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtGui import QCloseEvent, QKeyEvent, QPalette
from PyQt6.QtWidgets import (
    QApplication,
    QFileDialog,
    QLineEdit,
    QMainWindow,
    QMenu,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from nubshift.app.client.link import Link
from nubshift.app.client.mirror import FIRST, Mirror
from nubshift.app.client.playing import Playing
from nubshift.app.client.steering import Steering
from nubshift.app.client.watching import Watching
from nubshift.app.controllers.coming import Coming
from nubshift.app.controllers.store import ControllerStore
from nubshift.app.controllers.workspace import ControllersWorkspace
from nubshift.app.document import subject
from nubshift.app.document.assigning import LISTENING, Armed
from nubshift.app.document.output_choices import with_new_belt, with_new_macro
from nubshift.app.document.placement import FingerPlacement
from nubshift.app.document.shelf import Shelf
from nubshift.app.document.studio import Studio
from nubshift.app.map.workspace import MapWorkspace
from nubshift.app.overlay.window import PlayOverlay
from nubshift.app.painting.key_labels import KeyLabels
from nubshift.app.painting.theme import Look
from nubshift.app.shell.actions import Action, ActionTable, always
from nubshift.app.shell.controller_menu import ControllerMenu
from nubshift.app.shell.finder import Finder
from nubshift.app.shell.focus import FocusGuard
from nubshift.app.shell.key_capture import KeyCapture
from nubshift.app.shell.key_picker import KeyboardPicker
from nubshift.app.shell.new_profile import NewProfile
from nubshift.app.shell.notices import NoticeBar
from nubshift.app.shell.now_strip import NowStrip
from nubshift.app.shell.profile_menu import ProfileMenu
from nubshift.app.shell.prompt import Prompt
from nubshift.app.shell.recording import Recording
from nubshift.app.shell.rescue import may_leave
from nubshift.app.shell.search import everything, sendable
from nubshift.app.shell.sounds import LayerSounds
from nubshift.app.shell.top import TopBar
from nubshift.app.stage import Stage, Wishes
from nubshift.app.trying.standings import Results
from nubshift.app.trying.workspace import TryWorkspace, results_path
from nubshift.app.tune.workspace import TuneWorkspace
from nubshift.errors import StorageError
from nubshift.model.controller_info import ControllerInfo
from nubshift.model.files import read_text
from nubshift.model.profile import SUFFIX
from nubshift.model.sharing import owner_of, seat_info
from nubshift.model.stored_controllers import Calibration, PartOf
from nubshift.protocol.messages import Choose, Play, SetLive, Status, Stop
from nubshift.protocol.paths import demo_folder
from nubshift.texts import _

DEMO_PLAYER = "ferrow-deep"
"""Who plays a profile that has no simulated player of its own."""
SMALLEST = (1080, 620)
"""A small laptop less its panels and the window's frame: everything can be reached there, by scrolling."""
MOST_UNDO = 20
"""Edits that the list of what can be taken back shows."""


class MainWindow(QMainWindow):
    """The window. What it shows comes from the studio (the profile) and from `live` (the present)."""

    def __init__(self, studio: Studio, link: Link, look: Look, folder: Path) -> None:
        super().__init__()
        self.setWindowTitle(_("Nub Shift"))
        self.resize(1280, 800)
        self.setMinimumSize(*SMALLEST)
        self.studio, self.link, self.look, self._folder = studio, link, look, folder
        self.shelf = Shelf(studio, folder)
        self.recording = Recording()
        self.live = Mirror(self)
        self.label_of = KeyLabels()
        self._shown: object = None
        self.must_end = False
        self.playing = playing = Playing(studio, link, self.live)
        studio.document.opened.connect(self._opened)
        self.controller_store = ControllerStore(folder.parent / "controllers.json", folder.parent / "controllers", link)
        self.grasp = FingerPlacement(folder.parent / "reach.json", studio, self._info)
        wishes = Wishes()
        stage = Stage(studio, self.live, look, Steering(link, self), self.label_of, self.grasp, wishes)
        self.top = TopBar(studio, look, self.controller_store.name)
        self.notices = NoticeBar(look)
        self.map = MapWorkspace(stage, self.recording, self.run_action)
        watching = Watching(link)
        self.results = Results(results_path(folder), stage)
        self.tune = TuneWorkspace(stage, watching, playing.play, self.results.in_words, self._calibrate)
        self.range = TryWorkspace(stage, link, watching, self.label_of, self.results)
        self.controllers = ControllersWorkspace(stage, link, self.controller_store)
        self._coming = Coming(self.controller_store, self.notices.offer)
        self.now = NowStrip(self.live, look, self.name_of, self.label_of)
        self._finder = Finder(self)
        self._keyboard = KeyboardPicker(look, self.label_of, self)
        self.asker = Prompt(self)
        self.beginning = NewProfile(look, self.shelf.create, self)
        self.overlay = PlayOverlay(studio, self.live, look, self.label_of)
        self.sounds = LayerSounds(self.live, self)
        self._lay_out()
        app = QApplication.instance()
        assert isinstance(app, QApplication)
        self.guard = FocusGuard(app, link)
        self.capture = KeyCapture(app, studio, self.recording)
        self.actions_table = ActionTable(self)
        self._add_actions()
        self._controllers = ControllerMenu(studio, link, self.actions_table, self.controller_store.name, self)
        self._profiles = ProfileMenu(self.shelf, studio, look, self.actions_table, self)
        playing.noticed.connect(self.notices.tell)
        self._connect(wishes)
        self._show_titles()
        self.map.hands.focus(studio.selection.control)

    def _lay_out(self) -> None:
        column = QVBoxLayout()
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        self.pages = QStackedWidget()
        self.workspaces: dict[str, QWidget] = {
            "map": self.map,
            "tune": self.tune,
            "try": self.range,
            "controllers": self.controllers,
        }
        for page in self.workspaces.values():
            self.pages.addWidget(page)
        for widget, stretch in ((self.top, 0), (self.notices, 0), (self.pages, 1), (self.now, 0)):
            column.addWidget(widget, stretch)
            if widget is not self.pages:
                widget.setAutoFillBackground(True)
                widget.setBackgroundRole(QPalette.ColorRole.Base)
        for side in (self.map.inspector,):
            side.setAutoFillBackground(True)
            side.setBackgroundRole(QPalette.ColorRole.Base)
        inside = QWidget()
        inside.setLayout(column)
        self.setCentralWidget(inside)

    def _connect(self, wishes: Wishes) -> None:
        studio, link = self.studio, self.link
        wishes.find.connect(self.search_for_slot)
        wishes.keyboard.connect(self.pick_for_slot)
        wishes.ask.connect(self.asker.ask)
        studio.selection.seat_changed.connect(lambda: self.live.show_seat(studio.selection.seat))
        studio.selection.seat_changed.connect(self._show_controller)
        studio.document.noticed.connect(self.notices.tell)
        studio.document.saved_changed.connect(self._show_titles)
        studio.document.opened.connect(self._show_titles)
        link.status_changed.connect(self._status)
        link.lost.connect(self._lost)
        link.gave_up.connect(self._gave_up)
        studio.document.changed_outside.connect(self._changed_outside)
        link.felt.connect(self.top.show_health)
        link.noticed.connect(self.notices.tell)
        self.controller_store.changed.connect(self._controllers_changed)
        self.controller_store.noticed.connect(self.notices.tell)
        self.controllers.noticed.connect(self.notices.tell)
        self.now.let_through.connect(self.guard.let_through)
        self.range.letting_through.connect(self.guard.let_into_range)
        self.top.live_wanted.connect(self.set_live)
        self.top.tabs.wanted.connect(self.show_workspace)
        self.top.find_wanted.connect(self.search)
        self.top.menu_wanted.connect(self._show_menu)
        self.top.profile_menu_wanted.connect(self._profiles.show)
        self.top.controller_menu_wanted.connect(self._controllers.show)

    # The runner

    def _opened(self) -> None:
        self.live.show_seat(self.studio.selection.seat)
        self.map.hands.focus(self.studio.selection.control)

    def _status(self, status: Status) -> None:
        self._show_controller()
        self.live.follow(status)
        self._coming.follow(status)
        self.top.show_status(status)
        self.now.show_mode(status.live, status.withheld, self.range.arena.hasFocus())

    def _controllers_changed(self) -> None:
        self._show_controller()
        self.top.show_status(self.link.status)

    def _show_controller(self) -> None:
        """Hands and words follow the controller in use."""
        info = self._info()
        shown = info and (info.id, info.controls, info.shape, info.names, self.controller_store.labels(info))
        if shown != self._shown:
            self._shown = shown
            self.studio.selection.call_controls(self.controller_store.names(info))
            self.grasp.changed.emit()
            if (
                info is not None
                and info.controls
                and not set(self.studio.selection.control.split("+")) <= {*info.controls, "dpad"}
            ):
                self.studio.selection.select(self.grasp.controls[0])
            self.map.inspector.refresh()

    def _gave_up(self, text: str) -> None:
        """The runner is not started again by itself."""
        self.notices.offer("error", text, _("Start the runner"), self.link.start_again)
        self.top.show_status(None, _("Not running"))

    def _changed_outside(self, text: str) -> None:
        """Another program changed the file, and its version is shown by now; one click brings back the one before."""
        self.notices.offer("warning", text, _("Undo"), self.studio.document.undo)

    def _lost(self) -> None:
        self.live.rest()
        self.top.show_status(None)

    def set_live(self, on: bool) -> None:
        """Live or Paused."""
        self.link.send(SetLive(on))

    # Words

    def name_of(self, code: str) -> str:
        """What a key does in the words of the game: the first command that is just this key, else its label."""
        command = next((c for c in self.studio.profile.commands if c.keys == (code,)), None)
        return command.name if command else self.label_of(code)

    def _show_titles(self) -> None:
        self.setWindowTitle(_("{title} – Nub Shift").format(title=self.studio.profile.game.title or _("Untitled")))
        self.actions_table.refresh()

    # Actions

    def _add_actions(self) -> None:
        studio, edit_commands, hands = self.studio, self.map.edit_commands, self.map.hands
        self.actions_table.add(
            Action("map", always(_("Map: what every control does")), lambda: self.show_workspace("map"), "Ctrl+1"),
            Action("tune", always(_("Tune: how a control feels")), lambda: self.show_workspace("tune"), "Ctrl+2"),
            Action("try", always(_("Try: the range")), lambda: self.show_workspace("try"), "Ctrl+3"),
            Action(
                "controllers",
                always(_("Controllers: what is plugged in")),
                lambda: self.show_workspace("controllers"),
                "Ctrl+4",
            ),
            Action(
                "undo",
                self._undo_text,
                studio.document.undo,
                "Ctrl+Z",
                lambda: bool(studio.document.history.undo_title),
            ),
            Action(
                "redo",
                self._redo_text,
                studio.document.redo,
                "Ctrl+Shift+Z",
                lambda: bool(studio.document.history.redo_title),
            ),
            Action("find", always(_("Search…")), self.search, "Ctrl+K"),
            Action(
                "live",
                lambda: _("Pause") if self.top.switch.on else _("Go live"),
                lambda: self.set_live(not self.top.switch.on),
                "Ctrl+P",
            ),
            Action("stop", always(_("Release all keys")), lambda: self._send(Stop()), "Ctrl+."),
            Action("play", self._play_text, self._play, "Ctrl+D", lambda: self._simulated),
            Action(
                "touch",
                always(_("Select controls by pressing them")),
                self._toggle_touch,
                "Ctrl+T",
                on=lambda: self.map.touch_selects,
            ),
            Action("listen", self._listen_text, self._listen_longer),
            Action("new", always(_("New profile…")), self.beginning.ask, "Ctrl+N"),
            Action("duplicate", always(_("Duplicate profile")), self.shelf.duplicate),
            Action(
                "about", always(_("Profile settings…")), lambda: studio.selection.look_at(subject.PROFILE), "Ctrl+I"
            ),
            Action("delete profile", always(_("Delete profile")), self.shelf.delete),
            Action("open", always(_("Import profile…")), self.open_file, "Ctrl+O"),
            Action("export", always(_("Export profile…")), self.export_file, "Ctrl+Shift+S"),
            Action("read keys", always(_("Import key list…")), self.read_keys),
            Action("layer", always(_("Add layer…")), self.map.menus.add_layer, "Ctrl+L"),
            Action("belt", always(_("Add belt")), self._add_belt),
            Action("macro", always(_("Add macro")), self._add_macro),
            Action("copy", always(_("Copy")), edit_commands.copy, "Ctrl+C", where=hands),
            Action("paste", always(_("Paste")), edit_commands.paste, "Ctrl+V", where=hands),
            Action("mirror", always(_("Mirror left and right")), edit_commands.mirror, "Ctrl+M"),
            Action("clear", always(_("Clear")), edit_commands.clear, "Del", where=hands),
            Action("layer from", always(_("New layer from selection…")), self.map.menus.ask_layer_from, "Ctrl+Shift+L"),
            Action("all", always(_("Select all controls")), self._select_all, "Ctrl+A", where=hands),
            Action("overlay", always(_("Show over the game")), self._toggle_overlay, on=lambda: self.overlay.on),
            Action("sound", always(_("Sound on layer changes")), self._toggle_sound, on=lambda: self.sounds.on),
            *(
                Action(name or "desktop", always(text), partial(self.look.want, name), on=partial(self._is_theme, name))
                for name, text in (
                    ("dusk", _("Dusk theme")),
                    ("day", _("Day theme")),
                    (None, _("Same theme as the desktop")),
                )
            ),
            Action("quit", always(_("Quit")), self._quit, "Ctrl+Q"),
        )

    def _undo_text(self) -> str:
        return _("Undo {edit}").format(edit=self.studio.document.history.undo_title).strip()

    def _redo_text(self) -> str:
        return _("Redo {edit}").format(edit=self.studio.document.history.redo_title).strip()

    def _send(self, request: Stop | Play | Choose) -> None:
        self.link.send(request)

    def _quit(self) -> None:
        self.close()

    def _info(self) -> ControllerInfo | None:
        """The controller in the seat shown: hands are kept for its model, and words are those of its print."""
        status = self.link.status
        return seat_info(self._parts, {info.id: info for info in status.controllers}) if status is not None else None

    @property
    def _parts(self) -> tuple[PartOf, ...]:
        """What fills the seat that is shown; of an empty one, the first."""
        status = self.link.status
        return (
            (status.fills.get(self.studio.selection.seat) or status.fills.get(FIRST, ())) if status is not None else ()
        )

    def _calibrate(self, control: str, fresh: Calibration) -> None:
        """Keep where a control of the controller in use rests and how far it reaches."""
        status = self.link.status
        infos = {info.id: info for info in status.controllers} if status is not None else {}
        info = owner_of(control, self._parts, infos)
        if info is not None:
            self.controller_store.store_measured(info, control, fresh)

    @property
    def _simulated(self) -> bool:
        return self.link.status is not None and self.link.status.controller.startswith("sim:")

    def _play_text(self) -> str:
        playing = self.link.status is not None and self.link.status.playing
        return _("Stop demo input") if playing else _("Play demo input (30 s)")

    def _play(self) -> None:
        playing = self.link.status is not None and self.link.status.playing
        own = self.studio.document.file.name
        script = own if (demo_folder() / f"{own}.player.json").exists() else DEMO_PLAYER
        self._send(Play("" if playing else script))

    def _is_theme(self, name: str | None) -> bool:
        return self.look.wanted == name

    def _listen_text(self) -> str:
        return _("Time to answer a slot: {listening_seconds} s").format(
            listening_seconds=self.studio.assigning.listening_seconds
        )

    def _listen_longer(self) -> None:
        """The next length, and after the longest the shortest."""
        at = (
            LISTENING.index(self.studio.assigning.listening_seconds)
            if self.studio.assigning.listening_seconds in LISTENING
            else -1
        )
        self.studio.assigning.listen_for(LISTENING[(at + 1) % len(LISTENING)])
        self.actions_table.refresh()

    def _toggle_touch(self) -> None:
        self.map.touch_selects = not self.map.touch_selects
        self.actions_table.refresh()

    def _show_menu(self, at: QPoint) -> None:
        menu = self.actions_table.menu(["undo", "redo"], self)
        menu.addMenu(self._undo_list(menu))
        for title, ids in (
            ("", ["find", "about", "", "live", "stop", "play", ""]),
            (_("Add"), ["layer", "layer from", "belt", "macro", "read keys"]),
            (_("Edit"), ["copy", "paste", "mirror", "clear", "all"]),
            (_("Assign"), ["touch", "listen"]),
            (_("Appearance and sound"), ["overlay", "sound", "", "dusk", "day", "desktop"]),
            ("", ["", "quit"]),
        ):
            part = self.actions_table.menu(ids, menu)
            if title:
                part.setTitle(title)
                menu.addMenu(part)
            else:
                menu.addActions(part.actions())
        menu.popup(at)

    def _undo_list(self, parent: QMenu) -> QMenu:
        """The last edits by name; one chosen is taken back with all after it."""
        menu = QMenu(_("Undo history…"), parent)
        for number, title in enumerate(self.studio.document.history.titles[:MOST_UNDO], 1):
            action = menu.addAction(title)
            if action is not None:
                action.triggered.connect(lambda _=False, steps=number: self.studio.document.undo(steps))
        menu.setEnabled(bool(self.studio.document.history.titles))
        return menu

    def run_action(self, action: str) -> None:
        """Do what an action of the table does."""
        self.actions_table.run(action)

    def _select_all(self) -> None:
        self.studio.selection.select_all((*self.map.hands.tiles, self.studio.selection.control))

    def _add_belt(self) -> None:
        self.studio.document.edit(_("Add belt"), lambda profile: with_new_belt(profile)[0])
        self.studio.selection.look_at(subject.belt(self.studio.profile.belts[-1].id))

    def _add_macro(self) -> None:
        self.studio.document.edit(_("Add macro"), lambda profile: with_new_macro(profile)[0])
        self.studio.selection.look_at(subject.macro(self.studio.profile.macros[-1].id))

    def _toggle_overlay(self) -> None:
        self.overlay.on = not self.overlay.on
        self.overlay.refresh()
        self.actions_table.refresh()

    def _toggle_sound(self) -> None:
        self.sounds.on = not self.sounds.on
        self.actions_table.refresh()

    # Profiles

    def open_file(self) -> None:
        """Ask for a profile's file and bring it in."""
        path, _unused = QFileDialog.getOpenFileName(
            self, _("Import profile"), "", _("Profiles (*{suffix} *.json)").format(suffix=SUFFIX)
        )
        if path:
            self.shelf.bring_in(Path(path))

    def export_file(self) -> None:
        """Ask for a place and write the profile there."""
        path, _unused = QFileDialog.getSaveFileName(self, _("Export profile"), self.studio.document.file.path.name)
        if path:
            self.shelf.give_away(Path(path))

    def read_keys(self) -> None:
        """Ask for a text or CSV file with a key list and add its commands."""
        path, _unused = QFileDialog.getOpenFileName(
            self, _("Import key list"), "", _("Lists (*.txt *.csv *.tsv);;All files (*)")
        )
        if path:
            self.add_keys_from(Path(path))

    def add_keys_from(self, path: Path) -> None:
        """Add the commands of a file."""
        try:
            self.map.keys.take_text(read_text(path))
        except StorageError as error:
            self.notices.tell("error", f"{error}.")

    # Finding

    def search(self) -> None:
        """The finder over everything."""
        self.studio.assigning.disarm()
        hits = everything(
            self.studio, self.label_of, self._go_to, self.map.keys.choose, self.actions_table, self.grasp.controls
        )
        self._finder.ask(hits, _("Control, command, key, layer or action"))

    def search_for_slot(self, armed: Armed) -> None:
        """The finder for what a slot shall send. It stays meant for that slot however long it takes."""
        self.studio.assigning.disarm()
        self._finder.ask(
            sendable(self.studio, self.label_of, self.grasp.controls, armed), _("Command, key or other output")
        )

    def pick_for_slot(self, armed: Armed, below: QPoint) -> None:
        """The drawn keyboard for what a slot shall send."""
        self.studio.assigning.disarm()
        self._keyboard.ask(
            lambda key: self.studio.assigning.fill(armed, self.studio.assigning.send_for_key(key)), below
        )

    def _go_to(self, control: str) -> None:
        self.studio.selection.select(control)
        if self.map.isVisible():
            self.map.hands.focus(control)

    def show_workspace(self, name: str) -> None:
        """Open a workspace."""
        self.studio.assigning.disarm()
        self.pages.setCurrentWidget(self.workspaces[name])
        self.top.tabs.show_present(name)

    # Closing

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Escape ends listening for a touch."""
        if event is not None and event.key() == Qt.Key.Key_Escape:
            self.studio.assigning.disarm()
        super().keyPressEvent(event)

    def end(self) -> None:
        """Close whatever may come, without a question: the session ends."""
        self.must_end = True
        self.close()

    def closeEvent(self, event: QCloseEvent | None) -> None:
        """Keep the last edit, let go of everything, end the runner. What can't be kept is asked about."""
        focus = QApplication.focusWidget()
        if isinstance(focus, QLineEdit):
            focus.clearFocus()
        unsaved = not self.studio.document.save() and bool(self.studio.document.history.titles)
        if unsaved and not self.must_end and event is not None and not may_leave(self.studio, self):
            event.ignore()
            return
        self.overlay.close()
        self.overlay.deleteLater()
        self.controllers.doctor.close_doctor()
        self.link.close()
        self.guard.close()
        self.capture.close()
        super().closeEvent(event)
