"""Before a profile from elsewhere is taken in: what it can do, how well it fits, and what is new against one's own."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from nubshift.app.editors.panel import emptied
from nubshift.app.painting.theme import Look
from nubshift.app.profiles.history_view import difference_words
from nubshift.app.profiles.profile_page import ShelfTitle, heading
from nubshift.app.widgets.plain import Label
from nubshift.app.widgets.tick_box import TickBox
from nubshift.model.controller_info import ControllerInfo
from nubshift.model.differences import Difference, differences
from nubshift.model.fitting import misfits
from nubshift.model.names import Names
from nubshift.model.powers import powers
from nubshift.model.profile import Profile
from nubshift.protocol.paths import with_tilde
from nubshift.records import Record
from nubshift.texts import _, listed, ngettext

MOST_SHOWN = 200


class Incoming(Record, frozen=True):
    """A profile from elsewhere, where it lies, and the one of the same game that is there, if any."""

    path: Path
    profile: Profile
    own_path: Path | None = None
    own: Profile | None = None


class ImportWays(Record, frozen=True):
    """What can be done with it; `merge` gets the differences that are wanted."""

    keep_both: Callable[[Incoming], None]
    replace: Callable[[Incoming], None]
    merge: Callable[[Incoming, list[Difference]], None]
    cancel: Callable[[], None]


class ImportPage(QWidget):
    """Shows one. Nothing of it is in use before one of the buttons is pressed."""

    def __init__(self, look: Look, ways: ImportWays, names: Callable[[], Names]) -> None:
        super().__init__()
        self._ways, self._names = ways, names
        self.incoming: Incoming | None = None
        self.title = ShelfTitle(look)
        self.where = _quiet()
        self.able = QVBoxLayout()
        self.able.setSpacing(3)
        self.fits = Label()
        self.fits.setWordWrap(True)
        self.head = heading("")
        self.news = QVBoxLayout()
        self.news.setSpacing(2)
        self.boxes: list[tuple[TickBox, Difference]] = []
        self.keep_both = QPushButton(_("Import"))
        self.keep_both.clicked.connect(lambda: self._do(ways.keep_both))
        self.merge = QPushButton(_("Merge what is ticked"))
        self.merge.clicked.connect(lambda: self._do(lambda one: ways.merge(one, self.wanted)))
        self.replace = QPushButton(_("Replace mine"))
        self.replace.clicked.connect(lambda: self._do(ways.replace))
        self.cancel = QPushButton(_("Cancel"))
        self.cancel.setObjectName("plain")
        self.cancel.clicked.connect(ways.cancel)
        self._lay_out()

    def _lay_out(self) -> None:
        row = QHBoxLayout()
        row.setSpacing(8)
        for button in (self.keep_both, self.merge, self.replace, self.cancel):
            row.addWidget(button)
        row.addStretch(1)
        safe = _quiet()
        safe.setText(_("No profile can run programs, read or write files, or reach the network."))
        column = QVBoxLayout(self)
        column.setContentsMargins(28, 20, 28, 20)
        column.setSpacing(8)
        column.addWidget(heading(_("Import")))
        column.addWidget(self.title)
        column.addWidget(self.where)
        column.addLayout(row)
        column.addSpacing(8)
        column.addWidget(heading(_("What it can do")))
        column.addLayout(self.able)
        column.addWidget(safe)
        column.addSpacing(8)
        column.addWidget(heading(_("Your controller")))
        column.addWidget(self.fits)
        column.addSpacing(8)
        column.addWidget(self.head)
        column.addLayout(self.news)
        column.addStretch(1)

    def _do(self, act: Callable[[Incoming], None]) -> None:
        if self.incoming is not None:
            act(self.incoming)

    @property
    def wanted(self) -> list[Difference]:
        """The differences that are ticked."""
        return [one for box, one in self.boxes if box.isChecked()]

    def show_incoming(self, incoming: Incoming, controller: ControllerInfo | None) -> None:
        """Show this one, for a player with this controller."""
        self.incoming = incoming
        profile = incoming.profile
        self.title.show_title(profile.game.title or _("Untitled"), profile.game.colour)
        self.where.setText(with_tilde(incoming.path))
        emptied(self.able)
        for text in powers(profile) or (_("only presses keys and moves the mouse"),):
            line = Label(f"{text[0].upper()}{text[1:]}.")
            line.setWordWrap(True)
            self.able.addWidget(line)
        self.show_controller(controller)
        self._show_news(incoming)

    def show_controller(self, controller: ControllerInfo | None) -> None:
        """The player's controller is this one now."""
        if self.incoming is not None:
            self.fits.setText(self._fit_words(self.incoming.profile, controller))

    def _fit_words(self, profile: Profile, controller: ControllerInfo | None) -> str:
        if controller is None or not controller.controls:
            return _("No controller is connected, so it is not known what fits.")
        found = misfits(profile, controller.controls, "1", controller.two_sided)
        if not found:
            return _("Everything in it is on {controller}.").format(controller=controller.name)
        names = listed([self._names().inside(one.control) for one in found[:6]])
        return ngettext(
            "{count} control that it uses is not on {controller}: {names}. Once it is imported, Controllers suggests "
            "others.",
            "{count} controls that it uses are not on {controller}: {names}. Once it is imported, Controllers suggests "
            "others.",
            len(found),
        ).format(count=len(found), controller=controller.name, names=names)

    def _show_news(self, incoming: Incoming) -> None:
        emptied(self.news)
        self.boxes = []
        own = incoming.own
        found = differences(own, incoming.profile, self._names()) if own is not None else []
        self.head.setVisible(own is not None)
        self.merge.setVisible(bool(found))
        self.replace.setVisible(bool(found))
        self.keep_both.setText(_("Keep both") if own is not None else _("Import"))
        if own is None:
            return
        self.head.setText(
            ngettext(
                "Different from your {title}: {count} thing", "Different from your {title}: {count} things", len(found)
            ).format(title=own.game.title, count=len(found))
            if found
            else _("It is the same as your {title}").format(title=own.game.title)
        )
        for one in found[:MOST_SHOWN]:
            box = TickBox(difference_words(one))
            box.setChecked(True)
            self.news.addWidget(box, 0, Qt.AlignmentFlag.AlignLeft)
            self.boxes.append((box, one))


def _quiet() -> Label:
    label = Label()
    label.setObjectName("quiet")
    label.setWordWrap(True)
    return label
