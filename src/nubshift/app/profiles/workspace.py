"""The workspace Profiles: the shelf at the left, one profile in the middle, which is used when at the right."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QPoint, Qt, pyqtSignal
from PyQt6.QtGui import QHideEvent, QKeyEvent, QPalette, QResizeEvent, QShowEvent
from PyQt6.QtWidgets import QHBoxLayout, QMenu, QPushButton, QStackedWidget, QVBoxLayout, QWidget

from nubshift.app.client.link import Link
from nubshift.app.document.shelf import Shelf, ShelfEntry
from nubshift.app.document.version_keeper import VersionKeeper
from nubshift.app.editors.panel import Choices
from nubshift.app.painting.timing import once
from nubshift.app.profiles.beside import Beside, BesideWays
from nubshift.app.profiles.order_side import OrderSide
from nubshift.app.profiles.profile_page import PageWays, ProfilePage
from nubshift.app.profiles.programs_menu import show_programs
from nubshift.app.profiles.sharing_rows import SharingRows
from nubshift.app.profiles.shelf_list import ShelfList
from nubshift.app.profiles.shelf_words import ShelfWords
from nubshift.app.shell.player_files import PlayerFiles
from nubshift.app.stage import Stage
from nubshift.app.widgets.fields import LineField
from nubshift.app.widgets.plain import Label
from nubshift.app.widgets.scrolling import scrolled
from nubshift.app.widgets.side_width import fit_sides
from nubshift.errors import ProfileError, StorageError
from nubshift.model import edits
from nubshift.model.profile import SUFFIX, Profile
from nubshift.model.programs import SeenProgram
from nubshift.model.store import path_of, read_profile
from nubshift.protocol.messages import Ask, Keep, LaunchState, Programs, Status
from nubshift.records import Record
from nubshift.texts import _, ngettext

LEFT_WIDTH, RIGHT_WIDTH = (0.2, 240, 320), (0.26, 300, 400)
REFRESH_MS = 150
"""Changes of the shelf within this time are shown at once."""
SORTS = {"title": _("Title"), "played": _("Last played"), "time": _("Time played")}
PAGE, BROKEN = 0, 3
"""Pages of the middle."""


class ShelfWays(Record, frozen=True):
    """What the window does for the shelf."""

    edit: Callable[[], None]
    new: Callable[[], None]
    bring_in: Callable[[], None]
    export: Callable[[], None]
    card: Callable[[], None]


class ProfilesWorkspace(QWidget):
    """Profiles."""

    noticed = pyqtSignal(str, str)

    def __init__(self, stage: Stage, link: Link, shelf: Shelf, stored: PlayerFiles, ways: ShelfWays) -> None:
        super().__init__()
        self._stage, self._link, self._shelf = stage, link, shelf
        rules = self._rules = stored.rules
        self._clock, self._ways = stored.clock, ways
        self._words = ShelfWords(shelf, link, stored.clock, stored.rules)
        self.present: Path | None = None
        self._picking: Callable[[SeenProgram], None] | None = None
        self._pick_at = QPoint()
        self.menu: QMenu | None = None
        self._refresh = once(self, REFRESH_MS, self.refresh)
        self.beside = Beside(stage, shelf, BesideWays(self._profile, self._show_beside), self)
        self.incoming, self.compared = self.beside.incoming, self.beside.compared
        page_ways = PageWays(
            edit=self._edit,
            stay=self._stay,
            duplicate=lambda path: self._on(path, shelf.duplicate),
            export=lambda path: self._on(path, ways.export),
            card=lambda path: self._on(path, ways.card),
            rename=self._rename,
            compare=self.beside.choose_other,
            delete=lambda path: self._on(path, shelf.delete),
            compare_version=self.beside.compare_version,
            edited=self._edited,
            pick=self._pick,
        )
        self.search = LineField()
        self.list = ShelfList(stage.look)
        self.sort = Choices(_("Sort by"), SORTS, lambda _: self.refresh())
        sharing = SharingRows(
            stored.sharing,
            self._named,
            lambda: {self._words.name(entry.path): entry.title for entry in shelf.entries() if not entry.trouble},
            lambda other: self.beside.compare(path_of(other, shelf.folder), self.present or Path()),
            lambda: stage.selection.names,
        )
        stored.sharing.changed.connect(self.refresh_soon)
        stored.synced.taken.connect(self.refresh_soon)
        self.page = ProfilePage(stage.look, rules, sharing, page_ways, self._restore, lambda: stage.selection.names)
        self.trouble = Label()
        self.side = OrderSide(rules, self._pick)
        self.deleted = QPushButton(_("Restore a deleted profile…"))
        self._lay_out()
        self._connect(stored.versions)

    def _lay_out(self) -> None:
        self.search.setPlaceholderText(_("Filter profiles"))
        self.search.setAccessibleName(_("Filter profiles"))
        self.sort.show_choice("title")
        head = Label(_("Profiles"))
        head.setObjectName("heading")
        new = QPushButton(_("New profile…"))
        new.clicked.connect(self._ways.new)
        bring_in = QPushButton(_("Import profile…"))
        bring_in.clicked.connect(self._ways.bring_in)
        self.deleted.setObjectName("plain")
        self.deleted.clicked.connect(self._show_deleted)
        left = QVBoxLayout()
        left.setContentsMargins(10, 12, 8, 10)
        left.setSpacing(6)
        for widget in (head, self.search, self.sort):
            left.addWidget(widget)
        left.addWidget(scrolled(self.list), 1)
        for button in (self.deleted, bring_in, new):
            left.addWidget(button)
        self._left = QWidget()
        self._left.setLayout(left)
        self.pages = QStackedWidget()
        self.pages.addWidget(scrolled(self.page))
        self._beside_pages: dict[QWidget, QWidget] = {}
        for page in (self.incoming, self.compared):
            self._beside_pages[page] = scrolled(page)
            self.pages.addWidget(self._beside_pages[page])
        broken = QWidget()
        column = QVBoxLayout(broken)
        column.setContentsMargins(28, 24, 28, 24)
        self.trouble.setWordWrap(True)
        column.addWidget(self.trouble)
        column.addStretch(1)
        self.pages.addWidget(broken)
        right = scrolled(self.side)
        self._right = QWidget()
        inside = QVBoxLayout(self._right)
        inside.setContentsMargins(0, 0, 0, 0)
        inside.addWidget(right)
        self._right.setAutoFillBackground(True)
        self._right.setBackgroundRole(QPalette.ColorRole.Base)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        row.addWidget(self._left)
        row.addWidget(self.pages, 1)
        row.addWidget(self._right)

    def _connect(self, versions: VersionKeeper) -> None:
        self.search.textChanged.connect(lambda _: self.refresh())
        self.page.noticed.connect(self.noticed)
        self.beside.noticed.connect(self.noticed)
        self.beside.imported.connect(self._imported)
        self.list.chosen.connect(self.choose)
        self.list.opened.connect(self._edit)
        self.side.looked_at.connect(self._look_at)
        document = self._stage.document
        for signal in (document.opened, document.saved_changed, versions.changed, self._clock.changed):
            signal.connect(self.refresh_soon)
        self._rules.changed.connect(self.refresh_soon)
        self._link.status_changed.connect(self._status)
        self._link.programs_told.connect(self._programs)

    def refresh_soon(self) -> None:
        """The shelf has changed."""
        if self.isVisible():
            self._refresh.start()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """The sides take their part of a wide window."""
        fit_sides(self.width(), (self._left, LEFT_WIDTH), (self._right, RIGHT_WIDTH))

    def showEvent(self, event: QShowEvent | None) -> None:
        """Look at the folder anew; the profile that is edited is the one looked at."""
        self.present = self._stage.document.file.path
        self._clock.save()
        self.refresh()
        self._status(self._link.status)
        self.list.setFocus()

    def hideEvent(self, event: QHideEvent | None) -> None:
        """Nothing is picked any more."""
        self._picking = None

    # What is shown

    def _status(self, status: Status | None) -> None:
        self.page.launch.show_launched(status.launched if status is not None else LaunchState())
        self.side.why.setText(status.why if status is not None else _("The runner is not running."))
        self.refresh_soon()

    def refresh(self) -> None:
        """Everything as it is now."""
        entries = self._shelf.entries()
        wanted = self.search.text().strip().lower()
        shown = [entry for entry in entries if wanted in entry.title.lower()]
        shown.sort(key=lambda entry: self._words.place(entry, self.sort.present))
        paths = [entry.path for entry in shown]
        if self.present not in [entry.path for entry in entries]:
            self.present = self._stage.document.file.path
        nothing = _("No profile has “{words}” in its title").format(words=wanted) if wanted else _("No profiles yet")
        self.list.show_rows([self._words.row(entry) for entry in shown], self.present, nothing)
        self.side.show_titles({self._words.name(entry.path): entry.title for entry in entries if not entry.trouble})
        deleted = len(self._shelf.deleted())
        self.deleted.setText(
            ngettext("Restore a deleted profile…", "Restore a deleted profile ({count})…", deleted).format(
                count=deleted
            )
        )
        self.deleted.setVisible(bool(deleted))
        entry = next((entry for entry in entries if entry.path == self.present), None)
        if self.pages.currentWidget() is self._beside_pages[self.compared]:
            self.beside.refresh()
        if self.pages.currentWidget() in self._beside_pages.values():
            return
        if not entries:  # the folder was emptied by somebody else
            self._show_trouble(_("Create a profile or import one."))
        elif entry is not None and (not paths or self.present in paths or not wanted):
            self._show(entry)

    def _show(self, entry: ShelfEntry) -> None:
        profile = self._profile(entry.path)
        if isinstance(profile, str):
            self._show_trouble(profile)
            return
        status = self._link.status
        name = self._words.name(entry.path)
        stayed = status is not None and status.kept == name
        self.page.show_profile(entry.path, name, profile, self._words.about(name), stayed)
        self.pages.setCurrentIndex(PAGE)

    def _show_trouble(self, text: str) -> None:
        """A sentence where a profile would be."""
        self.trouble.setText(text)
        self.pages.setCurrentIndex(BROKEN)

    def _named(self, name: str) -> Profile | None:
        found = self._profile(path_of(name, self._shelf.folder))
        return found if isinstance(found, Profile) else None

    def _profile(self, path: Path) -> Profile | str:
        if path == self._stage.document.file.path:
            return self._stage.document.profile
        try:
            return read_profile(path)
        except (ProfileError, StorageError) as error:
            return str(error)

    def _show_beside(self, page: QWidget | None) -> None:
        """Put a page beside one's own profiles in the middle; None: back to the profile that is looked at."""
        if page is not None:
            self.pages.setCurrentWidget(self._beside_pages[page])
        elif self.pages.currentWidget() in self._beside_pages.values():
            self.pages.setCurrentIndex(PAGE)
            self.refresh()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Escape leaves what is beside, with nothing decided."""
        beside = self.pages.currentWidget() in self._beside_pages.values()
        if event is not None and event.key() == Qt.Key.Key_Escape and beside:
            self._show_beside(None)
        else:
            super().keyPressEvent(event)

    def _imported(self) -> None:
        self.present = self._stage.document.file.path
        self._show_beside(None)

    def choose(self, path: Path) -> None:
        """Look at another profile."""
        self._show_beside(None)
        self.present = path
        self.refresh()

    def _look_at(self, name: str) -> None:
        entry = next((entry for entry in self._shelf.entries() if self._words.name(entry.path) == name), None)
        if entry is not None:
            self.search.clear()
            self.choose(entry.path)

    # What is done

    def _on(self, path: Path, act: Callable[[], None]) -> None:
        """Do something with the open profile, after opening this one."""
        if path == self._stage.document.file.path or self._stage.document.open(path):
            act()
            self.present = self._stage.document.file.path
            self.refresh()

    def _edit(self, path: Path) -> None:
        self._on(path, self._ways.edit)

    def _stay(self, path: Path) -> None:
        status = self._link.status
        name = self._words.name(path)
        stayed = status is not None and status.kept == name
        self._link.send(Keep(None if stayed else name))

    def _rename(self, path: Path) -> None:
        profile = self._profile(path)
        if isinstance(profile, Profile):
            self._stage.wishes.name(
                _("Title of the game"), profile.game.title, lambda title: self._on(path, lambda: self._retitle(title))
            )

    def _retitle(self, title: str) -> None:
        title = title.strip()[:200]
        if title:
            self._stage.document.edit(
                _("Rename to {title}").format(title=title), lambda profile: edits.with_game(profile, title=title)
            )

    def _edited(self, title: str, change: Callable[[Profile], Profile]) -> None:
        """An edit of the profile that is looked at."""
        if self.page.path is not None:
            self._on(self.page.path, lambda: (self._stage.document.edit(title, change), None)[1])

    def _restore(self, title: str, change: Callable[[Profile], Profile]) -> None:
        if self.page.path is not None:
            self._on(self.page.path, lambda: self._do_restore(title, change))

    def _do_restore(self, title: str, change: Callable[[Profile], Profile]) -> None:
        if self._stage.document.edit(title, change):
            self.noticed.emit("info", _("{title}: done. Undo takes it back.").format(title=title))

    def _show_deleted(self) -> None:
        menu = QMenu(self)
        for path in self._shelf.deleted():
            action = menu.addAction(path.name.removesuffix(SUFFIX).replace("-", " "))
            if action is not None:
                action.triggered.connect(lambda _=False, which=path: self._shelf.take_back(which))
        menu.aboutToHide.connect(menu.deleteLater)
        menu.popup(self.deleted.mapToGlobal(QPoint(0, -menu.sizeHint().height())))

    # Picking a program

    def _pick(self, at: QPoint, picked: Callable[[SeenProgram], None]) -> None:
        """Ask the runner what runs; its answer opens the menu."""
        self._picking, self._pick_at = picked, at
        self._link.send(Ask("programs"))

    def _programs(self, programs: Programs) -> None:
        picked, self._picking = self._picking, None
        if picked is not None and self.isVisible():
            self.menu = show_programs(self, programs, self._pick_at, picked)
