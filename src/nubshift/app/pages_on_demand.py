"""The workspaces that nobody looks at while playing or binding: no start of the window waits for them."""

from __future__ import annotations

from collections.abc import Callable
from functools import cached_property
from typing import TYPE_CHECKING

from PyQt6.QtWidgets import QWidget

from nubshift.app.client.link import Link
from nubshift.app.controllers.store import ControllerStore
from nubshift.app.document.shelf import Shelf
from nubshift.app.profile_files import ProfileFiles
from nubshift.app.shell.player_files import PlayerFiles
from nubshift.app.shell.settings_store import SettingsStore
from nubshift.app.stage import Stage
from nubshift.model.controller_info import ControllerInfo
from nubshift.protocol.messages import Status

if TYPE_CHECKING:
    from nubshift.app.controllers.workspace import ControllersWorkspace
    from nubshift.app.profiles.workspace import ProfilesWorkspace
    from nubshift.app.shell.settings_page import SettingsPage


class PagesOnDemand:
    """Controllers, Profiles and Settings: each is loaded and made when it is wanted for the first time.

    `edit` shows the profile that is open, `new` begins another one; `tell` takes what they have to say; `keep` gives a
    page its place in the window.
    """

    def __init__(
        self,
        stage: Stage,
        link: Link,
        controllers: ControllerStore,
        shelf: Shelf,
        stored: PlayerFiles,
        settings: SettingsStore,
        files: ProfileFiles,
        edit: Callable[[], None],
        new: Callable[[], None],
        tell: Callable[[str, str], object],
        keep: Callable[[QWidget], object],
    ) -> None:
        self._stage, self._link, self._store = stage, link, controllers
        self._shelf, self._stored, self._settings, self._files = shelf, stored, settings, files
        self._edit, self._new, self._tell, self._keep = edit, new, tell, keep

    @cached_property
    def controllers(self) -> ControllersWorkspace:
        """Every controller that is there, and the doctor."""
        from nubshift.app.controllers.workspace import ControllersWorkspace

        page = ControllersWorkspace(self._stage, self._link, self._store)
        page.noticed.connect(self._tell)
        self._keep(page)
        return page

    @cached_property
    def profiles(self) -> ProfilesWorkspace:
        """The player's shelf."""
        from nubshift.app.profiles.workspace import ProfilesWorkspace, ShelfWays

        files = self._files
        ways = ShelfWays(self._edit, self._new, files.open_file, files.export_file, files.write_card)
        page = ProfilesWorkspace(self._stage, self._link, self._shelf, self._stored, ways)
        page.noticed.connect(self._tell)
        self._keep(page)
        return page

    @cached_property
    def settings(self) -> SettingsPage:
        """What is the player's own."""
        from nubshift.app.shell.settings_page import SettingsPage

        stage = self._stage
        page = SettingsPage(self._settings, stage.live, stage.label_of, lambda: stage.selection.names)
        page.noticed.connect(self._tell)
        self._keep(page)
        if self._link.status is not None:
            page.show_status(self._link.status)
        return page

    # To those that are there

    @property
    def listens(self) -> bool:
        """Whether controls are being chosen that have a meaning of their own."""
        return "settings" in vars(self) and self.settings.listens

    def show_status(self, status: Status, controller: ControllerInfo | None) -> None:
        """What the runner says, and the controller in use."""
        if "settings" in vars(self):
            self.settings.show_status(status)
        if "profiles" in vars(self):
            self.profiles.beside.incoming.show_controller(controller)

    def close(self) -> None:
        """The window is gone."""
        if "controllers" in vars(self):
            self.controllers.doctor.close_doctor()
