"""What a profile shares with another one, and what is its own (need N60)."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtWidgets import QMenu, QVBoxLayout, QWidget

from nubshift.app.document.sharing_keeper import SharingKeeper
from nubshift.app.editors.panel import FlowLayout, emptied, link
from nubshift.app.profiles.history_view import difference_words
from nubshift.app.widgets.plain import Label
from nubshift.model.following import own_differences
from nubshift.model.names import Names
from nubshift.model.profile import Profile
from nubshift.texts import _, listed, ngettext

MOST_SHOWN = 5


class SharingRows(QWidget):
    """Who follows whom. `profile_of` gives a profile by its name, None where it can't be read; `titles` those of all;
    `compare` shows the one looked at beside another."""

    def __init__(
        self,
        sharing: SharingKeeper,
        profile_of: Callable[[str], Profile | None],
        titles: Callable[[], dict[str, str]],
        compare: Callable[[str], None],
        names: Callable[[], Names],
    ) -> None:
        super().__init__()
        self._sharing, self._profile_of, self._titles, self._names = sharing, profile_of, titles, names
        self._name = ""
        self.menu: QMenu | None = None
        self.told = Label()
        self.told.setWordWrap(True)
        self.own = QVBoxLayout()
        self.own.setSpacing(2)
        self.share = link(_("Share with another profile…"), self._choose)
        self.compare = link(_("Compare…"), lambda: compare(sharing.now.follows[self._name]))
        self.stop = link(_("Stop sharing"), lambda: sharing.follow(self._name, ""))
        acts = QWidget()
        row = FlowLayout(10, 4)
        acts.setLayout(row)
        for act in (self.share, self.compare, self.stop):
            row.addWidget(act)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(5)
        column.addWidget(self.told)
        column.addLayout(self.own)
        column.addWidget(acts)

    def show_profile(self, name: str, profile: Profile) -> None:
        """Those of this one."""
        self._name = name
        now, titles = self._sharing.now, self._titles()
        followed = now.follows.get(name, "")
        other = self._profile_of(followed) if followed else None
        emptied(self.own)
        for act, shown in ((self.share, not followed), (self.compare, other is not None), (self.stop, bool(followed))):
            act.setVisible(shown)
        if followed and other is None:
            self.told.setText(_("It shares the settings of {name}, which is not there.").format(name=followed))
        elif other is not None:
            self._show_own(titles.get(followed, followed), other, profile)
        else:
            self.told.setText(
                _("Share settings so that a change in the other profile is made here too, except where they differ.")
            )
        self.told.setObjectName("" if followed else "quiet")
        style = self.told.style()
        if style is not None:
            style.polish(self.told)
        followers = [titles.get(one, one) for one in now.followers(name)]
        if followers:
            text = _("Changes made here are also made in {titles}.").format(titles=listed(followers))
            self.told.setText(text if not followed else f"{self.told.text()} {text}")

    def _show_own(self, title: str, other: Profile, profile: Profile) -> None:
        found = own_differences(other, profile, self._names())
        count = len(found)
        same = ngettext(
            "The same as {title}, except for {count} thing.", "The same as {title}, except for {count} things.", count
        )
        everything = _("The same as {title} in everything.")
        self.told.setText((same if found else everything).format(title=title, count=count))
        for one in found[:MOST_SHOWN]:
            line = Label(difference_words(one))
            line.setObjectName("quiet")
            line.setWordWrap(True)
            self.own.addWidget(line)

    def _choose(self) -> None:
        """Ask with which one."""
        menu = self.menu = QMenu(self)
        for name, title in self._titles().items():
            if name != self._name and self._sharing.now.may_follow(self._name, name):
                action = menu.addAction(title.replace("&", "&&"))
                if action is not None:
                    action.triggered.connect(lambda _=False, name=name: self._sharing.follow(self._name, name))
        if menu.isEmpty():
            nothing = menu.addAction(_("There is no other profile"))
            if nothing is not None:
                nothing.setEnabled(False)
        menu.aboutToHide.connect(menu.deleteLater)
        menu.popup(self.share.mapToGlobal(self.share.rect().bottomLeft()))
