"""Two profiles side by side: what is other in each, and taken over from either into the other."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFrame, QGridLayout, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from nubshift.app.editors.panel import emptied, link
from nubshift.app.painting.theme import Look
from nubshift.app.profiles.history_view import difference_words
from nubshift.app.profiles.profile_page import ShelfTitle, heading
from nubshift.app.widgets.plain import Label
from nubshift.model.differences import Difference, differences
from nubshift.model.names import Names
from nubshift.model.profile import Profile
from nubshift.records import Record
from nubshift.texts import _, ngettext

MOST_SHOWN = 150


class Compared(Record, frozen=True):
    """One of the two. `note` stands behind its title; a `past` one is not changed."""

    path: Path
    profile: Profile
    note: str = ""
    past: bool = False


class ComparePage(QWidget):
    """The left one and the right one. `take` makes an edit of the profile in a file of what was chosen."""

    def __init__(
        self,
        look: Look,
        take: Callable[[Path, str, Callable[[Profile], Profile]], None],
        leave: Callable[[], None],
        names: Callable[[], Names],
    ) -> None:
        super().__init__()
        self._take, self._names = take, names
        self.sides: tuple[Compared, Compared] | None = None
        self.titles = ShelfTitle(look), ShelfTitle(look)
        self.counts = heading(""), heading("")
        self.lists = QVBoxLayout(), QVBoxLayout()
        done = QPushButton(_("Done"))
        done.clicked.connect(leave)
        head = QHBoxLayout()
        head.addWidget(heading(_("Compare")))
        head.addStretch(1)
        head.addWidget(done)
        grid = QGridLayout()
        grid.setHorizontalSpacing(28)
        grid.setVerticalSpacing(8)
        for side in (0, 1):
            grid.addWidget(self.titles[side], 0, side)
            grid.addWidget(self.counts[side], 1, side)
            self.lists[side].setSpacing(4)
            grid.addLayout(self.lists[side], 2, side)
            grid.setColumnStretch(side, 1)
        column = QVBoxLayout(self)
        column.setContentsMargins(28, 20, 28, 20)
        column.setSpacing(10)
        column.addLayout(head)
        column.addLayout(grid)
        column.addStretch(1)

    def show_two(self, left: Compared, right: Compared) -> None:
        """Show these."""
        self.sides = left, right
        for side, (one, other) in enumerate(((left, right), (right, left))):
            title = one.profile.game.title or _("Untitled")
            shown = _("{title}, {when}").format(title=title, when=one.note) if one.note else title
            self.titles[side].show_title(shown, one.profile.game.colour)
            found = differences(other.profile, one.profile, self._names())
            self.counts[side].setText(
                ngettext("{count} difference", "{count} differences", len(found)).format(count=len(found))
                if found
                else _("No differences")
            )
            emptied(self.lists[side])
            for difference in found[:MOST_SHOWN]:
                self.lists[side].addWidget(self._lane(difference, other))

    def _lane(self, difference: Difference, other: Compared) -> QWidget:
        """What is so here, and a way to have it in the other one."""
        lane = QFrame()
        lane.setObjectName("lane")
        row = QHBoxLayout(lane)
        row.setContentsMargins(10, 5, 8, 5)
        text = Label(difference_words(difference))
        text.setWordWrap(True)
        row.addWidget(text, 1)
        if not other.past:
            title = other.profile.game.title or _("Untitled")
            copy = link(_("Copy"), partial(self._take, other.path, difference.text, difference.take))
            copy.setAccessibleName(_("Copy to {title}: {what}").format(title=title, what=difference_words(difference)))
            copy.setToolTip(_("Copies it to the other profile. Undo takes it back."))
            row.addWidget(copy, 0, Qt.AlignmentFlag.AlignTop)
        return lane
