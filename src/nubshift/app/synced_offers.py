"""What a synced folder brings that the player has to look at: told in the notices, shown on the shelf."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QObject

from nubshift.app.document.synced_folder import SyncedFolder
from nubshift.app.pages_on_demand import PagesOnDemand
from nubshift.app.shell.notices import NoticeBar
from nubshift.model.profile import SUFFIX
from nubshift.protocol.paths import with_tilde
from nubshift.texts import _, ngettext


class SyncedOffers(QObject):
    """`bring_in` shows a profile from elsewhere, `show_shelf` the workspace Profiles; `own` is the player's folder."""

    def __init__(
        self,
        synced: SyncedFolder,
        notices: NoticeBar,
        pages: PagesOnDemand,
        own: Path,
        bring_in: Callable[[Path], object],
        show_shelf: Callable[[], object],
    ) -> None:
        super().__init__(synced)
        self._synced, self._notices, self._pages, self._own = synced, notices, pages, own
        self._bring_in, self._show_shelf = bring_in, show_shelf
        synced.waits.connect(self._tell)

    def _tell(self) -> None:
        synced = self._synced
        if synced.conflicts:
            there = synced.conflicts[0]
            text = _("{name} was changed here and in {folder}. Nothing was overwritten.")
            self._notices.offer(
                "warning",
                text.format(name=there.name.removesuffix(SUFFIX), folder=with_tilde(there.parent)),
                _("Compare"),
                lambda: self._compare(there),
            )
        elif synced.offered:
            there = synced.offered[0]
            count = len(synced.offered)
            new = ngettext("{count} profile in {folder} is new.", "{count} profiles in {folder} are new.", count)
            text = new.format(count=count, folder=with_tilde(there.parent))
            self._notices.offer("info", text, _("Show"), lambda: self._show(there))

    def _compare(self, there: Path) -> None:
        self._show_shelf()
        self._pages.profiles.beside.compare(self._own / there.name, there, lambda: self._synced.seen(there))

    def _show(self, there: Path) -> None:
        self._synced.seen(there)
        self._bring_in(there)
