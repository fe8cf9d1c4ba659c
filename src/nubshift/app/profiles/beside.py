"""A profile beside one's own: one that is to be imported, and two compared. Each takes the middle of the shelf."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtGui import QCursor
from PyQt6.QtWidgets import QMenu, QWidget

from nubshift.app.document.shelf import Shelf
from nubshift.app.profiles.compare_page import Compared, ComparePage
from nubshift.app.profiles.import_page import ImportPage, ImportWays, Incoming
from nubshift.app.stage import Stage
from nubshift.model.controller_info import ControllerInfo
from nubshift.model.differences import Difference, taken
from nubshift.model.play_times import ago
from nubshift.model.profile import Profile
from nubshift.model.versions import Version, utc_now
from nubshift.records import Record
from nubshift.texts import _


class BesideWays(Record, frozen=True):
    """`read` gives the profile in a file, or why it can't be read; `show` puts one of the two pages in the middle, None
    the page of the profile that is looked at."""

    read: Callable[[Path], Profile | str]
    show: Callable[[QWidget | None], None]


class Beside(QObject):
    """Owns both pages. `imported`: another profile is open now, and is to be looked at."""

    noticed = pyqtSignal(str, str)
    imported = pyqtSignal()

    def __init__(self, stage: Stage, shelf: Shelf, ways: BesideWays, parent: QWidget) -> None:
        super().__init__(parent)
        self._document, self._shelf, self._ways, self._parent = stage.document, shelf, ways, parent
        self._two: tuple[Path, Path] = (Path(), Path())
        self._version: Version | None = None
        self._after: Callable[[], object] | None = None
        import_ways = ImportWays(
            keep_both=self._keep_both, replace=lambda one: self._merge(one, None), merge=self._merge, cancel=self._leave
        )
        self.incoming = ImportPage(stage.look, import_ways, lambda: stage.selection.names)
        self.compared = ComparePage(stage.look, self._copy, self._done, lambda: stage.selection.names)

    def _leave(self) -> None:
        self._ways.show(None)

    # Importing

    def show_incoming(self, path: Path, controller: ControllerInfo | None) -> bool:
        """Show a profile from elsewhere, to be taken in or not; whether it could be read."""
        profile = self._shelf.incoming(path)
        if profile is None:
            return False
        own = self._shelf.same_game(profile)
        mine = self._ways.read(own.path) if own is not None else None
        if own is None or not isinstance(mine, Profile):
            incoming = Incoming(path, profile)
        else:
            incoming = Incoming(path, profile, own.path, mine)
        self.incoming.show_incoming(incoming, controller)
        self._ways.show(self.incoming)
        return True

    def _keep_both(self, incoming: Incoming) -> None:
        self._shelf.bring_in(incoming.path, incoming.profile)
        self.imported.emit()

    def _merge(self, incoming: Incoming, wanted: list[Difference] | None) -> None:
        """Make an edit of one's own profile of what is wanted of the other; None: all of it."""
        path = incoming.own_path
        if path is None or not self._opened(path):
            return
        if wanted is None:
            title = _("Replace with {name}").format(name=incoming.path.name)
            done = self._document.edit(title, lambda _: incoming.profile)
        else:
            title = _("Merge {name}").format(name=incoming.path.name)
            done = self._document.edit(title, lambda profile: taken(profile, wanted))
        if done:
            self.noticed.emit("info", _("{title}: done. Undo takes it back.").format(title=title))
            self.imported.emit()

    def _opened(self, path: Path) -> bool:
        return path == self._document.file.path or self._document.open(path)

    # Comparing

    def choose_other(self, path: Path) -> None:
        """Ask with which profile one is to be compared."""
        menu = QMenu(self._parent)
        for entry in self._shelf.entries():
            if entry.path != path and not entry.trouble:
                action = menu.addAction(entry.title)
                if action is not None:
                    action.triggered.connect(lambda _=False, other=entry.path: self.compare(path, other))
        if menu.isEmpty():
            nothing = menu.addAction(_("There is no other profile"))
            if nothing is not None:
                nothing.setEnabled(False)
        menu.aboutToHide.connect(menu.deleteLater)
        menu.popup(QCursor.pos())

    def compare(self, left: Path, right: Path, after: Callable[[], object] | None = None) -> None:
        """Show two profiles side by side; `after` is called when the player is done with them."""
        self._two, self._after, self._version = (left, right), after, None
        self._ways.show(self.compared)
        self.refresh()

    def compare_version(self, path: Path, version: Version) -> None:
        """Show a profile beside what it was; what it was is only copied from."""
        self._two, self._after, self._version = (path, version.path), None, version
        self._ways.show(self.compared)
        self.refresh()

    def refresh(self) -> None:
        """The two compared, as they are now."""
        left, right = (self._ways.read(path) for path in self._two)
        if isinstance(left, Profile) and isinstance(right, Profile):
            version = self._version
            note = ago(version.began, utc_now()) if version is not None else ""
            other = Compared(self._two[1], right, note, past=version is not None)
            self.compared.show_two(Compared(self._two[0], left), other)
        else:
            self._leave()

    def _done(self) -> None:
        if self._after is not None:
            self._after()
        self._leave()

    def _copy(self, path: Path, title: str, change: Callable[[Profile], Profile]) -> None:
        """Make an edit of one of the two, which is then the one that is edited."""
        if self._opened(path):
            self._document.edit(title, change)
            self._document.save()
            self.refresh()
