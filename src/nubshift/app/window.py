"""The main window: the top, the workspace, the Now strip, and the actions that belong to the whole of it."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QPoint, Qt, pyqtSignal
from PyQt6.QtGui import QCloseEvent, QHideEvent, QKeyEvent, QPalette, QShowEvent
from PyQt6.QtWidgets import QApplication, QLineEdit, QMainWindow, QWidget

from nubshift.app.card.content import Card, card_of
from nubshift.app.client.at_play import AtPlay
from nubshift.app.client.in_use import ControllerInUse
from nubshift.app.client.link import Link
from nubshift.app.client.mirror import Mirror
from nubshift.app.client.playing import Playing
from nubshift.app.client.steering import Steering
from nubshift.app.client.watching import Watching
from nubshift.app.controllers.store import ControllerStore
from nubshift.app.document.placement import FingerPlacement
from nubshift.app.document.shelf import Shelf
from nubshift.app.document.studio import Studio
from nubshift.app.during_play import DuringPlay
from nubshift.app.map.workspace import MapWorkspace
from nubshift.app.pages_on_demand import PagesOnDemand
from nubshift.app.painting.key_labels import KeyLabels
from nubshift.app.painting.theme import Look
from nubshift.app.profile_drop import ProfileDrop
from nubshift.app.profile_files import ProfileFiles
from nubshift.app.runner_shown import RunnerShown
from nubshift.app.searching import Searching
from nubshift.app.settings_in_force import SettingsInForce
from nubshift.app.shell.choice_menu import pop_up_choice
from nubshift.app.shell.controller_menu import ControllerMenu
from nubshift.app.shell.focus import FocusGuard
from nubshift.app.shell.inside import Inside
from nubshift.app.shell.key_capture import KeyCapture
from nubshift.app.shell.new_profile import NewProfile
from nubshift.app.shell.notices import NoticeBar
from nubshift.app.shell.now_strip import NowStrip
from nubshift.app.shell.player_files import PlayerFiles
from nubshift.app.shell.profile_menu import ProfileMenu
from nubshift.app.shell.prompt import Prompt
from nubshift.app.shell.recording import Recording
from nubshift.app.shell.rescue import may_leave
from nubshift.app.shell.settings_store import SettingsStore
from nubshift.app.shell.top import TopBar
from nubshift.app.stage import Stage, Wishes
from nubshift.app.synced_offers import SyncedOffers
from nubshift.app.trying.standings import Results
from nubshift.app.trying.workspace import TryWorkspace, results_path
from nubshift.app.tune.workspace import TuneWorkspace
from nubshift.app.window_actions import Ways, WindowActions
from nubshift.model.stored_controllers import Calibration
from nubshift.protocol.messages import Keep, SetLive, Shown
from nubshift.protocol.paths import settings_path
from nubshift.texts import _

SMALLEST = (1080, 620)
"""A small laptop less its panels and the window's frame: everything can be reached there, by scrolling."""


def application() -> QApplication:
    """The one application."""
    app = QApplication.instance()
    assert isinstance(app, QApplication)
    return app


class MainWindow(QMainWindow):
    """The window. What it shows comes from the studio (the profile) and from `live` (the present).

    `gone`: it was closed for good, and everything is saved and released.
    """

    gone = pyqtSignal()

    def __init__(
        self, studio: Studio, link: Link, look: Look, folder: Path, settings: SettingsStore | None = None
    ) -> None:
        super().__init__()
        self._be_a_window()
        self.studio, self.link, self.look, self._folder = studio, link, look, folder
        self.shelf = Shelf(studio, folder)
        self.recording = Recording()
        self.settings = settings or SettingsStore(settings_path())
        self.live, self.label_of = Mirror(self), KeyLabels(self.settings.now.layout_group)
        self.must_end = self._closed = False
        self.stays: Callable[[], bool] = lambda: False
        """Whether the program goes on when the window is closed; see `shell/background`."""
        self.at_play = AtPlay(studio, link, folder)
        self.playing = playing = Playing(studio, link, self.live, self.at_play, folder)
        self.controller_store = ControllerStore(folder.parent / "controllers.json", folder.parent / "controllers", link)
        self.in_use = ControllerInUse(link, studio.selection)
        self.grasp = FingerPlacement(folder.parent / "reach.json", studio, lambda: self.in_use.info, self)
        wishes = Wishes()
        stage = Stage(studio, self.live, look, Steering(link, self), self.label_of, self.grasp, wishes)
        self.top = TopBar(studio, look, self.controller_store.name)
        self.notices = NoticeBar(look)
        self.map = MapWorkspace(stage, self.recording, self.run_action)
        watching = Watching(link)
        self.results = Results(results_path(folder), stage)
        self.tune = TuneWorkspace(stage, watching, playing.play, self.results.in_words, self._calibrate, self.in_use)
        link.felt.connect(self.tune.show_health)
        self.range = TryWorkspace(stage, link, watching, self.label_of, self.results)
        self.stored = PlayerFiles(studio, link, folder, self.settings)
        self.now = NowStrip(self.at_play.live, look, self.name_of, self.label_of)
        self._make_sheets()
        self.searching = Searching(stage, look, self.map, lambda: self.actions_table, self)
        self.files = ProfileFiles(
            studio.document, self.shelf, self.map.keys.take_text, self.bring_in, self._card, self.label_of, self
        )
        self._lay_out()
        self.pages = self._make_pages(stage)
        self.guard = FocusGuard(application(), link)
        self.capture = KeyCapture(application(), studio, self.recording)
        self.actions_table = WindowActions(
            self,
            studio,
            link,
            look,
            self.in_use,
            self.top,
            self.map,
            self.shelf,
            self.beginning,
            self.files,
            self.settings,
            Ways(self.show_workspace, self.search, self.set_live, self.quit),
        )
        self._controllers = ControllerMenu(studio, link, self.actions_table, self.controller_store.name, self)
        self._profiles = ProfileMenu(self.shelf, studio, look, self.actions_table, self)
        playing.noticed.connect(self.notices.tell)
        self._connect(wishes)
        self.stored.begin()
        play = self.during_play
        self._in_force = SettingsInForce(
            self.settings, look, play.overlay, play.sounds, self.map, studio.assigning, self.actions_table
        )
        self._show_titles()
        self.map.hands.focus(studio.selection.control)

    def _be_a_window(self) -> None:
        self.setWindowTitle(_("Nub Shift"))
        self.resize(1280, 800)
        self.setMinimumSize(*SMALLEST)

    def _make_sheets(self) -> None:
        """What comes over the window, and over the game."""
        self.asker = Prompt(self)
        self.beginning = NewProfile(self.look, self.shelf.create, self)
        self.during_play = DuringPlay(
            self.link,
            self.at_play,
            self.shelf,
            self.stored,
            self.look,
            self.label_of,
            lambda: self.studio.selection.names,
            self.notices,
            self.beginning.ask,
            self,
        )

    def _make_pages(self, stage: Stage) -> PagesOnDemand:
        return PagesOnDemand(
            stage,
            self.link,
            self.controller_store,
            self.shelf,
            self.stored,
            self.settings,
            self.files,
            lambda: self.show_workspace("map"),
            self.beginning.ask,
            self.notices.tell,
            self.inside.keep,
        )

    def _lay_out(self) -> None:
        workspaces: dict[str, Callable[[], QWidget]] = {
            "map": lambda: self.map,
            "tune": lambda: self.tune,
            "try": lambda: self.range,
            "controllers": lambda: self.pages.controllers,
            "profiles": lambda: self.pages.profiles,
            "settings": lambda: self.pages.settings,
        }
        self.map.inspector.setAutoFillBackground(True)
        self.map.inspector.setBackgroundRole(QPalette.ColorRole.Base)
        self.inside = Inside(self, (self.top, self.notices), workspaces, self.now)
        for page in (self.map, self.tune, self.range):
            self.inside.keep(page)

    def _connect(self, wishes: Wishes) -> None:
        studio, link = self.studio, self.link
        self._shown = RunnerShown(
            studio,
            link,
            self.live,
            self.in_use,
            self.controller_store,
            self.grasp,
            self.top,
            self.notices,
            self.map,
            self.pages,
            self.now,
            self.range.arena.hasFocus,
        )
        self._synced = SyncedOffers(
            self.stored.synced,
            self.notices,
            self.pages,
            self._folder,
            self.bring_in,
            lambda: self.show_workspace("profiles"),
        )
        self._drop = ProfileDrop(self, self.bring_in)
        self.during_play.menu.held_off = lambda: self.pages.listens
        wishes.ask.connect(self.asker.ask)
        studio.document.noticed.connect(self.notices.tell)
        studio.document.saved_changed.connect(self._show_titles)
        studio.document.opened.connect(self._show_titles)
        link.connected.connect(self._tell_shown)
        studio.document.changed_outside.connect(self._changed_outside)
        self.stored.noticed.connect(self.notices.tell)
        self.now.let_through.connect(self.guard.let_through)
        self.range.letting_through.connect(self.guard.let_into_range)
        self.top.live_wanted.connect(self.set_live)
        self.top.tabs.wanted.connect(self.show_workspace)
        self.top.find_wanted.connect(self.search)
        self.top.menu_wanted.connect(self.actions_table.show_menu)
        self.top.profile_menu_wanted.connect(self._profiles.show)
        self.top.controller_menu_wanted.connect(self._controllers.show)
        self.top.choice_wanted.connect(self._choose_profile)

    def troubles(self) -> list[str]:
        """A sentence for each file of the player's that could not be read."""
        own = (self.grasp, self.controller_store, self.results)
        return [*self.stored.troubles(), *(one.trouble for one in own if one.trouble)]

    def _changed_outside(self, text: str) -> None:
        """Another program changed the file, and its version is shown by now; one click brings back the one before."""
        self.notices.offer("warning", text, _("Undo"), self.studio.document.undo)

    def set_live(self, on: bool) -> None:
        """Live or Paused."""
        self.link.send(SetLive(on))

    def _choose_profile(self, at: QPoint) -> None:
        pop_up_choice(at, self, self.shelf, self.link.status, lambda name: self.link.send(Keep(name)))

    # Files from elsewhere

    def bring_in(self, path: Path) -> None:
        """Show what a profile from elsewhere is, before it is taken in. One of the player's own is opened."""
        if path.parent.resolve() == self._folder.resolve():
            self.studio.document.open(path)
        elif self.pages.profiles.beside.show_incoming(path, self.in_use.info):
            self.show_workspace("profiles")

    def _card(self) -> Card:
        """The card of the open profile, for the hands and the controller of this player."""
        return card_of(self.studio.profile, self.grasp.finger, self.studio.selection.names, self.studio.selection.seat)

    # Words

    def name_of(self, code: str) -> str:
        """What a key does in the words of the game: the first command that is just this key, else its label."""
        command = next((c for c in self.at_play.profile.commands if c.keys == (code,)), None)
        return command.name if command else self.label_of(code)

    def _show_titles(self) -> None:
        self.setWindowTitle(_("{title} – Nub Shift").format(title=self.studio.profile.game.title or _("Untitled")))
        self.actions_table.refresh()

    def _calibrate(self, control: str, fresh: Calibration) -> None:
        """Keep where a control of the controller in use rests and how far it reaches."""
        info = self.in_use.owner_of(control)
        if info is not None:
            self.controller_store.store_measured(info, control, fresh)

    def search(self) -> None:
        """The finder over everything."""
        self.searching.anything()

    def show_workspace(self, name: str) -> None:
        """Open a workspace."""
        self.studio.assigning.disarm()
        self.inside.show_workspace(name)
        self.top.tabs.show_present(name)

    def run_action(self, action: str) -> None:
        """Do what an action of the table does."""
        self.actions_table.run(action)

    # Closing

    def _tell_shown(self) -> None:
        self.link.send(Shown(self.isVisible()))

    def showEvent(self, event: QShowEvent | None) -> None:
        """The profile that is open counts."""
        super().showEvent(event)
        self._tell_shown()

    def hideEvent(self, event: QHideEvent | None) -> None:
        """It counts only where no rule says else."""
        super().hideEvent(event)
        self._tell_shown()

    def quit(self) -> None:
        """End the program, whatever closing the window does."""
        self.stays = lambda: False
        self.close()

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
        if self._closed:  # told twice: by the player, and by whoever ends the session
            return
        focus = QApplication.focusWidget()
        if isinstance(focus, QLineEdit):
            focus.clearFocus()
        unsaved = not self.studio.document.save() and bool(self.studio.document.history.titles)
        if unsaved and not self.must_end and event is not None and not may_leave(self.studio, self):
            event.ignore()
            return
        if not self.must_end and event is not None and self.stays():
            event.ignore()
            self.hide()
            return
        self._closed = True
        self._in_force.close()
        self.during_play.close()
        self.pages.close()
        self.stored.close()
        self.studio.assigning.disarm()
        self.studio.document.close()
        self.link.close()
        self.live.close()
        self.at_play.live.close()
        self.guard.close()
        self.capture.close()
        super().closeEvent(event)
        self.gone.emit()
