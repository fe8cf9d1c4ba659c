"""The fair-play report of a profile: what a server's rules may ask about, and the policy that forbids it (need N62)."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from nubshift.app.editors.panel import emptied, link
from nubshift.app.widgets.plain import Label
from nubshift.app.widgets.same_place import same_place
from nubshift.app.widgets.tick_box import TickBox
from nubshift.model.fair_play import fair_play
from nubshift.model.profile import Profile
from nubshift.texts import _, ngettext

FEW = 4


class FairPlayRows(QWidget):
    """`hold_to` is told whether the profile is to hold itself to one output per press."""

    def __init__(self, hold_to: Callable[[bool], None]) -> None:
        super().__init__()
        self._profile: Profile | None = None
        self._all = False
        self.told = Label()
        self.told.setWordWrap(True)
        self.found = QVBoxLayout()
        self.found.setSpacing(2)
        self.fold = link(_("Show all"), self._fold)
        self.policy = TickBox(_("One press may send only one output"))
        self.policy.setToolTip(
            _("An edit that breaks this is refused, with the reason. Some servers allow only such profiles.")
        )
        self.policy.clicked.connect(hold_to)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(5)
        column.addWidget(self.told)
        column.addLayout(self.found)
        column.addWidget(self.fold, 0, Qt.AlignmentFlag.AlignLeft)
        column.addWidget(self.policy)

    def show_profile(self, profile: Profile) -> None:
        """The report of this one."""
        if profile is self._profile:
            return
        self._profile = profile
        self.policy.setChecked(profile.habits.one_to_one)
        found = fair_play(profile)
        count = len(found)
        some = ngettext(
            "{count} place sends more than one plain press. Rules against macros may forbid it.",
            "{count} places send more than one plain press. Rules against macros may forbid them.",
            count,
        )
        self.told.setText(some.format(count=count) if found else _("Every press sends one plain press."))
        with same_place(self):
            emptied(self.found)
            for problem in found if self._all else found[:FEW]:
                line = Label(f"{problem.text[0].upper()}{problem.text[1:]}.")
                line.setObjectName("quiet")
                line.setWordWrap(True)
                self.found.addWidget(line)
        more = count - FEW
        show = ngettext("Show {count} more", "Show {count} more", more).format(count=more)
        self.fold.setText(_("Show fewer") if self._all else show)
        self.fold.setVisible(more > 0)

    def _fold(self) -> None:
        self._all = not self._all
        profile, self._profile = self._profile, None
        if profile is not None:
            self.show_profile(profile)
