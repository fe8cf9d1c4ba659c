"""One profile of the shelf: what can be done with it, what it starts with, what is missing, and its history."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path

from msgspec.structs import replace
from PyQt6.QtCore import QPoint, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QPushButton, QVBoxLayout, QWidget

from nubshift.app.document.automatic_store import AutomaticStore
from nubshift.app.editors.panel import FlowLayout, emptied, link
from nubshift.app.painting.canvas import Canvas, line_height
from nubshift.app.painting.theme import TITLE, Look, font
from nubshift.app.profiles.fair_play_rows import FairPlayRows
from nubshift.app.profiles.history_view import HistoryView, Restore
from nubshift.app.profiles.launch_rows import LaunchRows
from nubshift.app.profiles.rule_rows import MatchRows
from nubshift.app.profiles.sharing_rows import SharingRows
from nubshift.app.widgets.plain import Label
from nubshift.app.widgets.tick_box import TickBox
from nubshift.model import edits
from nubshift.model.automatic import GameRule
from nubshift.model.checks import findings
from nubshift.model.names import Names
from nubshift.model.profile import Colour, Profile
from nubshift.model.programs import ProgramMatch, SeenProgram, learned_from
from nubshift.model.versions import Version
from nubshift.records import Record
from nubshift.texts import _, ngettext

MOST_FINDINGS = 4


class PageWays(Record, frozen=True):
    """What can be done with the profile that is shown, by its path; `pick` shows a menu of programs there."""

    edit: Callable[[Path], None]
    stay: Callable[[Path], None]
    duplicate: Callable[[Path], None]
    export: Callable[[Path], None]
    card: Callable[[Path], None]
    rename: Callable[[Path], None]
    compare: Callable[[Path], None]
    delete: Callable[[Path], None]
    compare_version: Callable[[Path, Version], None]
    edited: Restore
    pick: Callable[[QPoint, Callable[[SeenProgram], None]], None]


class ProfilePage(QWidget):
    """Shows one. `restore` makes an edit of the open profile of what is restored."""

    noticed = pyqtSignal(str, str)

    def __init__(
        self,
        look: Look,
        rules: AutomaticStore,
        sharing: SharingRows,
        ways: PageWays,
        restore: Restore,
        names: Callable[[], Names],
    ) -> None:
        super().__init__()
        self._rules, self._ways = rules, ways
        self.path: Path | None = None
        self.name = ""
        self.title = ShelfTitle(look)
        self.about = Label()
        self.about.setObjectName("quiet")
        self.about.setWordWrap(True)
        self.acts = QWidget()
        row = FlowLayout(8, 4)
        self.acts.setLayout(row)
        self.edit = QPushButton(_("Edit"))
        self.edit.clicked.connect(lambda: self._do(ways.edit))
        self.stay = QPushButton(_("Stay on this profile"))
        self.stay.setCheckable(True)
        self.stay.clicked.connect(lambda: self._do(ways.stay))
        row.addWidget(self.edit)
        row.addWidget(self.stay)
        for text, act in (
            (_("Rename…"), ways.rename),
            (_("Duplicate"), ways.duplicate),
            (_("Compare…"), ways.compare),
            (_("Export…"), ways.export),
            (_("Save card…"), ways.card),
            (_("Delete"), ways.delete),
        ):
            row.addWidget(link(text, partial(self._do, act)))
        self.matches = MatchRows(_("Starts with"), self._matches_changed)
        self.exceptions = MatchRows(_("Except"), self._exceptions_changed)
        self._except_head = Label(_("Except"))
        self._except_head.setObjectName("heading")
        self.nothing = Label(_("It starts with no game yet. Pick the game while it is running, or type its program."))
        self.nothing.setObjectName("quiet")
        self.nothing.setWordWrap(True)
        self.pick = QPushButton(_("Pick a running program…"))
        self.pick.clicked.connect(self._pick)
        self.background = TickBox(_("Go on while another window is in front"))
        self.background.clicked.connect(self._background_changed)
        self.suggestion = link(_("Start it with its own program"), self._take_suggestion)
        self._suggested = ""
        self.sharing = sharing
        self.fair_play = FairPlayRows(self._hold_to)
        self.launch = LaunchRows(rules, ways.pick)
        self.launch.noticed.connect(self.noticed)
        self.problems = QVBoxLayout()
        self.problems.setSpacing(3)
        self._problems_head = Label()
        self._problems_head.setObjectName("heading")
        self.history = HistoryView(restore, ways.compare_version, names)
        self._lay_out()
        rules.changed.connect(self.refresh_rules)

    def _lay_out(self) -> None:
        adders = QWidget()
        row = FlowLayout(10, 4)
        adders.setLayout(row)
        row.addWidget(self.pick)
        row.addWidget(link(_("Type a program…"), self._type_program))
        row.addWidget(link(_("Add an exception…"), self._add_exception))
        column = QVBoxLayout(self)
        column.setContentsMargins(28, 20, 28, 20)
        column.setSpacing(8)
        column.addWidget(self.title)
        column.addWidget(self.about)
        column.addWidget(self.acts)
        column.addSpacing(10)
        column.addWidget(heading(_("Starts with")))
        column.addWidget(self.nothing)
        column.addWidget(self.suggestion, 0, Qt.AlignmentFlag.AlignLeft)
        column.addWidget(self.matches)
        column.addWidget(self._except_head)
        column.addWidget(self.exceptions)
        column.addWidget(adders)
        column.addWidget(self.background)
        column.addSpacing(10)
        column.addWidget(heading(_("Start the game")))
        column.addWidget(self.launch)
        column.addSpacing(10)
        column.addWidget(heading(_("Shared settings")))
        column.addWidget(self.sharing)
        column.addSpacing(10)
        column.addWidget(self._problems_head)
        column.addLayout(self.problems)
        column.addSpacing(10)
        column.addWidget(heading(_("Fair play")))
        column.addWidget(self.fair_play)
        column.addSpacing(10)
        column.addWidget(heading(_("History")))
        column.addWidget(self.history)
        column.addStretch(1)

    def _do(self, act: Callable[[Path], None]) -> None:
        if self.path is not None:
            act(self.path)

    # What is shown

    def show_profile(self, path: Path, name: str, profile: Profile, about: str, stayed: bool) -> None:
        """Show this one; `about` is the line below its title, `stayed` whether the player stays on it."""
        self.path, self.name = path, name
        game = profile.game
        self.title.show_title(game.title or _("Untitled"), game.colour)
        self.about.setText(about)
        self.stay.setChecked(stayed)
        self._suggested = game.program
        self.launch.show_game(name, game.title or _("Untitled"))
        self.sharing.show_profile(name, profile)
        self.fair_play.show_profile(profile)
        self._show_problems(profile)
        self.refresh_rules()
        self.history.show_profile(path, profile)

    def _show_problems(self, profile: Profile) -> None:
        emptied(self.problems)
        found = findings(profile)
        self._problems_head.setText(
            ngettext("{count} problem", "{count} problems", len(found)).format(count=len(found)) if found else ""
        )
        self._problems_head.setVisible(bool(found))
        for one in found[:MOST_FINDINGS]:
            line = Label(one.text[0].upper() + one.text[1:] + ".")
            line.setWordWrap(True)
            self.problems.addWidget(line)
        if len(found) > MOST_FINDINGS:
            rest = Label(
                ngettext("and {count} more", "and {count} more", len(found) - MOST_FINDINGS).format(
                    count=len(found) - MOST_FINDINGS
                )
            )
            rest.setObjectName("quiet")
            self.problems.addWidget(rest)

    @property
    def _rule(self) -> GameRule | None:
        return next(iter(self._rules.now.rules_of(self.name)), None)

    def refresh_rules(self) -> None:
        """The rules changed."""
        rule = self._rule or GameRule(self.name)
        self.matches.show_matches(rule.matches)
        self.exceptions.show_matches(rule.exceptions)
        self._except_head.setVisible(bool(rule.exceptions))
        self.nothing.setVisible(not rule.matches)
        self.background.setChecked(rule.background == "play")
        self.background.setVisible(bool(rule.matches))
        offers = bool(self._suggested) and not rule.matches
        self.suggestion.setText(_("Start it with {program}").format(program=self._suggested))
        self.suggestion.setVisible(offers)

    # What is changed

    def _put(self, rule: GameRule) -> None:
        now, before = self._rules.now, self._rule
        if before is None:
            self._rules.change(now.with_rule(rule))
            return
        fresh = tuple(rule if one is before else one for one in now.rules)
        self._rules.change(replace(now, rules=tuple(one for one in fresh if one.matches or one.exceptions)))

    def _matches_changed(self, matches: tuple[ProgramMatch, ...]) -> None:
        self._put(replace(self._rule or GameRule(self.name), matches=matches))

    def _exceptions_changed(self, exceptions: tuple[ProgramMatch, ...]) -> None:
        self._put(replace(self._rule or GameRule(self.name), exceptions=exceptions))

    def _type_program(self) -> None:
        self.matches.add_empty()

    def _add_exception(self) -> None:
        self._except_head.show()
        self.exceptions.add_empty("title")

    def _background_changed(self) -> None:
        if self._rule is not None:
            self._put(replace(self._rule, background="play" if self.background.isChecked() else "pause"))

    def _hold_to(self, on: bool) -> None:
        """The policy of the profile, as an edit of it."""
        change = partial(edits.with_habits, one_to_one=on)
        self._ways.edited(_("One output per press"), change)

    def _pick(self) -> None:
        below = self.pick.mapToGlobal(self.pick.rect().bottomLeft())
        name = self.name
        self._ways.pick(below, lambda seen: self._rules.change(self._rules.now.with_match(name, learned_from(seen))))

    def _take_suggestion(self) -> None:
        match = ProgramMatch(program=self._suggested)
        self._rules.change(self._rules.now.with_match(self.name, match))


class ShelfTitle(Canvas):
    """The title of a profile with its colour."""

    def __init__(self, look: Look) -> None:
        super().__init__(look)
        self._title = ""
        self._colour: Colour = "moss"
        self.setFixedHeight(round(line_height(TITLE) + 4))

    def show_title(self, title: str, colour: Colour) -> None:
        """Another one."""
        self._title, self._colour = title, colour
        self.setAccessibleName(title)
        self.update()

    def draw(self, painter: QPainter) -> None:
        """A spot and the title."""
        theme = self.theme
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.accents[self._colour])
        middle = self.height() / 2
        painter.drawEllipse(QRectF(0, middle - 6, 12, 12))
        painter.setPen(theme.ink)
        painter.setFont(font(TITLE, bold=True))
        painter.drawText(QRectF(24, 0, self.width() - 24, self.height()), Qt.AlignmentFlag.AlignVCenter, self._title)


def heading(text: str) -> Label:
    """A heading of a part of a page."""
    label = Label(text)
    label.setObjectName("heading")
    return label
