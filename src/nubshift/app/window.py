"""The main window: the top, the workspace, the Now strip, and the actions that belong to the whole of it."""

from __future__ import annotations

from pathlib import Path

from msgspec.structs import replace
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtGui import QCloseEvent, QKeyEvent, QPalette
from PyQt6.QtWidgets import QApplication, QFileDialog, QInputDialog, QLineEdit, QMainWindow, QMenu, QVBoxLayout, QWidget

from nubshift.app.actions import ActionTable, Entry, always
from nubshift.app.capture import KeyCapture
from nubshift.app.finder import Finder
from nubshift.app.focus import FocusGuard
from nubshift.app.keyboard import KeyboardPicker
from nubshift.app.labels import KeyLabels
from nubshift.app.link import Link
from nubshift.app.live import Live
from nubshift.app.map.steer import Steering
from nubshift.app.map.tiles import Stage
from nubshift.app.map.workspace import MapWorkspace
from nubshift.app.notices import NoticeBar
from nubshift.app.now import NowStrip
from nubshift.app.searching import everything, sendable
from nubshift.app.studio import Studio
from nubshift.app.theme import Look
from nubshift.app.top import SINK_WORDS, TopBar
from nubshift.model.changes import Changes
from nubshift.model.profile import COLOURS, SUFFIX, Colour, new_profile
from nubshift.model.store import ProfileFile, free_path
from nubshift.runner.messages import Choose, Frame, Play, Status, Stop, Use
from nubshift.runner.messages import Live as LiveRequest

DEMO_PLAYER = "ferrow-deep"


class MainWindow(QMainWindow):
    """The window. What it shows comes from the studio (the profile) and from `live` (the present)."""

    def __init__(self, studio: Studio, link: Link, look: Look, folder: Path) -> None:
        super().__init__()
        self.setWindowTitle("Nub Shift")
        self.resize(1280, 800)
        self.setMinimumSize(1240, 760)
        self.studio, self.link, self.look, self._folder = studio, link, look, folder
        self.live = Live(self)
        self.label_of = KeyLabels()
        self._edit_number = 0
        studio.edited.connect(self._edited)  # before the views: the runner hears of an edit first
        studio.opened.connect(self._opened)
        stage = Stage(studio, self.live, look, Steering(link, self), self.label_of)
        self.top = TopBar(studio, look)
        self.notices = NoticeBar(look)
        self.map = MapWorkspace(stage)
        self.now = NowStrip(self.live, look, self.name_of, self.label_of)
        self._finder = Finder(self)
        self._keyboard = KeyboardPicker(look, self.label_of, self)
        self._lay_out()
        app = QApplication.instance()
        assert isinstance(app, QApplication)
        self.guard = FocusGuard(app, link)
        self.capture = KeyCapture(app, studio)
        self.actions_table = ActionTable(self)
        self._add_actions()
        self._connect()
        self._show_titles()
        self.map.hands.tiles[studio.control].setFocus()

    def _lay_out(self) -> None:
        column = QVBoxLayout()
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        for widget, stretch in ((self.top, 0), (self.notices, 0), (self.map, 1), (self.now, 0)):
            column.addWidget(widget, stretch)
            if widget is not self.map:
                widget.setAutoFillBackground(True)
                widget.setBackgroundRole(QPalette.ColorRole.Base)
        for side in (self.map.inspector,):
            side.setAutoFillBackground(True)
            side.setBackgroundRole(QPalette.ColorRole.Base)
        inside = QWidget()
        inside.setLayout(column)
        self.setCentralWidget(inside)

    def _connect(self) -> None:
        studio, link = self.studio, self.link
        studio.noticed.connect(self.notices.tell)
        studio.kept_changed.connect(self._show_titles)
        studio.opened.connect(self._show_titles)
        link.connected.connect(self._send_profile)
        link.framed.connect(self._framed)
        link.status_changed.connect(self._status)
        link.lost.connect(self._lost)
        link.noticed.connect(self.notices.tell)
        self.now.let_through.connect(self.guard.let_through)
        self.top.live_wanted.connect(self.set_live)
        self.top.find_wanted.connect(self.search)
        self.top.menu_wanted.connect(self._show_menu)
        self.top.profile_menu_wanted.connect(self._profile_menu)
        self.top.controller_menu_wanted.connect(self._controller_menu)
        self.map.inspector.find_wanted.connect(self.search_for_slot)
        self.map.inspector.keyboard_wanted.connect(self.pick_for_slot)

    # The runner

    def _send_profile(self) -> None:
        self._edit_number += 1
        self.link.send(Use(self.studio.profile, self._edit_number, True, self.studio.neighbours()))

    def _opened(self) -> None:
        self._send_profile()
        self.map.hands.tiles[self.studio.control].setFocus()

    def _edited(self, changes: Changes) -> None:
        self._edit_number += 1
        self.link.send(Use(self.studio.profile, self._edit_number, others=self.studio.neighbours()))

    def _framed(self, frame: Frame) -> None:
        self.live.take(frame)

    def _status(self, status: Status) -> None:
        self.live.follow(status)
        self.top.show_status(status)
        self.now.show_mode(status.live, status.withheld)

    def _lost(self) -> None:
        self.live.rest()
        self.top.show_status(None)

    def set_live(self, on: bool) -> None:
        """Live or Paused."""
        self.link.send(LiveRequest(on))

    # Words

    def name_of(self, code: str) -> str:
        """What a key does in the words of the game: the first command that is just this key, else its label."""
        command = next((c for c in self.studio.profile.commands if c.keys == (code,)), None)
        return command.name if command else self.label_of(code)

    def _show_titles(self) -> None:
        self.setWindowTitle(f"{self.studio.profile.game.title or 'untitled'} – Nub Shift")
        self.actions_table.refresh()

    # Actions

    def _add_actions(self) -> None:
        studio = self.studio
        self.actions_table.add(
            Entry("undo", self._undo_text, studio.undo, "Ctrl+Z",
                  lambda: bool(studio.document.undo_title)),
            Entry("redo", self._redo_text, studio.redo, "Ctrl+Shift+Z",
                  lambda: bool(studio.document.redo_title)),
            Entry("find", always("Find a control, command, key or layer"), self.search, "Ctrl+K"),
            Entry("live", lambda: "Pause" if self.top.switch.on else "Go live",
                  lambda: self.set_live(not self.top.switch.on), "Ctrl+P"),
            Entry("stop", always("Let go of everything now"), lambda: self._send(Stop()), "Ctrl+."),
            Entry("play", self._play_text, self._play, "Ctrl+D", lambda: self._simulated),
            Entry("touch", self._touch_text, self._toggle_touch, "Ctrl+T"),
            Entry("new", always("New profile…"), self.new_profile, "Ctrl+N"),
            Entry("open", always("Open a profile file…"), self.open_file, "Ctrl+O"),
            Entry("rename", always("Rename the game…"), self.rename_game),
            Entry("layer", always("Add a layer…"), self.map.add_layer, "Ctrl+L"),
            Entry("dusk", always("Theme: dusk"), lambda: self.look.want("dusk")),
            Entry("day", always("Theme: day"), lambda: self.look.want("day")),
            Entry("desktop", always("Theme: as the desktop"), lambda: self.look.want(None)),
            Entry("quit", always("Quit"), self._quit, "Ctrl+Q"),
        )  # fmt: skip

    def _undo_text(self) -> str:
        return f"Undo {self.studio.document.undo_title}".strip()

    def _redo_text(self) -> str:
        return f"Redo {self.studio.document.redo_title}".strip()

    def _send(self, request: Stop | Play | Choose) -> None:
        self.link.send(request)

    def _quit(self) -> None:
        self.close()

    @property
    def _simulated(self) -> bool:
        return self.link.status is not None and self.link.status.controller.startswith("sim:")

    def _play_text(self) -> str:
        playing = self.link.status is not None and self.link.status.playing
        return "Stop the simulated player" if playing else "Let the simulated pad play for half a minute"

    def _play(self) -> None:
        playing = self.link.status is not None and self.link.status.playing
        self._send(Play("" if playing else DEMO_PLAYER))

    def _touch_text(self) -> str:
        return "Touching the controller selects: " + ("on" if self.map.touch_selects else "off")

    def _toggle_touch(self) -> None:
        self.map.touch_selects = not self.map.touch_selects
        self.actions_table.refresh()

    def _show_menu(self, at: QPoint) -> None:
        ids = ["undo", "redo", "find", "", "live", "stop", "play", "touch", "", "layer", "", "dusk", "day", "desktop",
               "", "quit"]  # fmt: skip
        self.actions_table.menu(ids, self).popup(at)

    # Profiles

    def _profile_menu(self, at: QPoint) -> None:
        menu = self.actions_table.menu(["new", "open", "rename"], self)
        colours = QMenu("Colour", menu)
        for colour in COLOURS:
            action = colours.addAction(colour)
            if action is not None:
                action.triggered.connect(lambda _=False, chosen=colour: self._paint(chosen))
        menu.addMenu(colours)
        menu.addSeparator()
        for path in sorted(self._folder.glob(f"*{SUFFIX}")):
            action = menu.addAction(path.name.removesuffix(SUFFIX).replace("-", " "))
            if action is not None:
                action.setEnabled(path != self.studio.file.path)
                action.triggered.connect(lambda _=False, chosen=path: self.studio.open(chosen))
        menu.popup(at)

    def _paint(self, colour: Colour) -> None:
        self.studio.edit(f"Colour {colour}", lambda p: replace(p, game=replace(p.game, colour=colour)))

    def new_profile(self) -> None:
        """Ask for the game and begin an empty profile for it."""
        title, given = QInputDialog.getText(self, "A new profile", "The game:")
        if given and title.strip():
            profile = new_profile(title.strip()[:200])
            self.studio.begin(ProfileFile(free_path(self._folder, title)), profile)
            self.studio.kept = False
            self.studio.keep()

    def open_file(self) -> None:
        """Ask for a file and open it."""
        path, _ = QFileDialog.getOpenFileName(self, "Open a profile", str(self._folder), f"Profiles (*{SUFFIX})")
        if path:
            self.studio.open(Path(path))

    def rename_game(self) -> None:
        """Ask for another title."""
        game = self.studio.profile.game
        title, given = QInputDialog.getText(self, "Rename the game", "Its title:", text=game.title)
        if given and title.strip():
            named = replace(game, title=title.strip()[:200])
            self.studio.edit(f"{game.title} is now {named.title}", lambda p: replace(p, game=named))

    # Controllers

    def _controller_menu(self, at: QPoint) -> None:
        menu = QMenu(self)
        status = self.link.status
        if status is not None:
            why = menu.addAction(f"{SINK_WORDS.get(status.sink, status.sink)}: {status.reason}")
            if why is not None:
                why.setEnabled(False)
            menu.addSeparator()
        for controller in status.controllers if status else ():
            text = controller.name + (" (simulated)" if controller.simulated else "")
            action = menu.addAction(f"{text}: {controller.trouble}" if controller.trouble else text)
            if action is not None and status is not None:
                action.setCheckable(True)
                action.setChecked(controller.id == status.controller)
                action.setEnabled(not controller.trouble)
                action.triggered.connect(lambda _=False, chosen=controller.id: self._send(Choose(chosen)))
        menu.addSeparator()
        for action in self.actions_table.menu(["play", "touch"], menu).actions():
            menu.addAction(action)
        menu.popup(at)

    # Finding

    def search(self) -> None:
        """The finder over everything."""
        self.studio.disarm()
        hits = everything(self.studio, self.label_of, self._go_to, self.map.keys.choose, self.actions_table)
        self._finder.ask(hits, "a control, a command, a key, a layer, something to do")

    def search_for_slot(self) -> None:
        """The finder for what the armed slot shall send. It stays meant for that slot however long it takes."""
        armed = self.studio.armed
        if armed is not None:
            self.studio.disarm()
            self._finder.ask(sendable(self.studio, self.label_of, armed), "a command or a key for this slot")

    def pick_for_slot(self, below: QPoint) -> None:
        """The drawn keyboard for what the armed slot shall send."""
        armed = self.studio.armed
        if armed is not None:
            self.studio.disarm()
            self._keyboard.ask(lambda key: self.studio.fill(armed, self.studio.send_for_key(key)), below)

    def _go_to(self, control: str) -> None:
        self.studio.select(control)
        self.map.hands.tiles[control].setFocus()

    # Closing

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Escape ends listening for a touch."""
        if event is not None and event.key() == Qt.Key.Key_Escape:
            self.studio.disarm()
        super().keyPressEvent(event)

    def closeEvent(self, event: QCloseEvent | None) -> None:
        """Keep the last edit, let go of everything, end the runner."""
        focus = QApplication.focusWidget()
        if isinstance(focus, QLineEdit):
            focus.clearFocus()
        self.studio.keep()
        self.link.close()
        self.guard.close()
        self.capture.close()
        super().closeEvent(event)
