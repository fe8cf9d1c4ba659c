"""The earlier versions of a profile: what is other in each, in words, to be restored whole or in part."""

from __future__ import annotations

from collections.abc import Callable
from datetime import UTC
from functools import partial
from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from nubshift.app.editors.panel import FlowLayout, emptied, link
from nubshift.app.widgets.plain import Label
from nubshift.errors import ProfileError, StorageError
from nubshift.model.differences import Difference, differences
from nubshift.model.names import Names
from nubshift.model.play_times import ago
from nubshift.model.profile import Profile
from nubshift.model.versions import Version, utc_now, versions_of
from nubshift.texts import _, ngettext

MOST_SHOWN = 30
MOST_WORDS = 3
"""Differences that stand in the line of a version that is not unfolded."""

Restore = Callable[[str, Callable[[Profile], Profile]], None]
"""Is told the title of the edit and what it does."""


class HistoryView(QWidget):
    """A lane for each version, the newest first. `restore` makes an edit of what is restored; `compare` shows the file
    of a profile beside that of a version."""

    def __init__(self, restore: Restore, compare: Callable[[Path, Version], None], names: Callable[[], Names]) -> None:
        super().__init__()
        self._restore, self._compare, self._names = restore, compare, names
        self._path: Path | None = None
        self._present: Profile | None = None
        self._unfolded: Path | None = None
        self._read: dict[Path, tuple[float, Profile | str]] = {}
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(0, 0, 0, 0)
        self.column.setSpacing(6)

    def show_profile(self, path: Path, present: Profile) -> None:
        """Show the versions of a profile beside what it is now."""
        self._path, self._present = path, present
        emptied(self.column)
        shown = 0
        for version in versions_of(path)[:MOST_SHOWN]:
            past = self._profile(version)
            found = differences(present, past, self._names()) if isinstance(past, Profile) else []
            if isinstance(past, Profile) and not found:
                continue
            shown += 1
            self.column.addWidget(self._lane(version, past, found))
        if not shown:
            text = Label(_("No earlier version differs from this one. Each session of editing is saved here."))
            text.setObjectName("quiet")
            text.setWordWrap(True)
            self.column.addWidget(text)

    def _profile(self, version: Version) -> Profile | str:
        try:
            changed = version.path.stat().st_mtime
        except OSError:
            changed = 0.0
        known = self._read.get(version.path)
        if known is None or known[0] != changed:
            try:
                known = changed, version.read()
            except (ProfileError, StorageError) as error:
                known = changed, str(error)
            self._read[version.path] = known
        return known[1]

    def _lane(self, version: Version, past: Profile | str, found: list[Difference]) -> QWidget:
        lane = QFrame()
        lane.setObjectName("lane")
        column = QVBoxLayout(lane)
        column.setContentsMargins(12, 8, 12, 8)
        column.setSpacing(3)
        when = ago(version.began, utc_now())
        top = QWidget()
        head = FlowLayout(8, 2)
        top.setLayout(head)
        clock = version.began.replace(tzinfo=UTC).astimezone().strftime("%Y-%m-%d %H:%M")
        title = Label(f"{when[0].upper()}{when[1:]}")
        count = Label(
            ngettext("{count} difference", "{count} differences", len(found)).format(count=len(found)) if found else ""
        )
        count.setObjectName("quiet")
        exact = Label(clock)
        exact.setObjectName("quiet")
        head.addWidget(title)
        head.addWidget(exact)
        head.addWidget(count)
        column.addWidget(top)
        if isinstance(past, str):
            trouble = Label(past)
            trouble.setWordWrap(True)
            trouble.setObjectName("quiet")
            column.addWidget(trouble)
            return lane
        unfolded = self._unfolded == version.path
        fold = link(_("Hide details") if unfolded else _("Details"), partial(self._fold, version.path))
        whole = QPushButton(_("Restore"))
        whole.setAccessibleName(_("Restore the version of {when}").format(when=when))
        whole.clicked.connect(
            lambda: self._restore(_("Restore the version of {when}").format(when=when), lambda _: past)
        )
        compare = link(_("Compare…"), partial(self._compare_with, version))
        compare.setAccessibleName(_("Compare with the version of {when}").format(when=when))
        for button in (fold, compare, whole):
            head.addWidget(button)
        if unfolded:
            told = Label(_("Restoring it does this:"))
            told.setObjectName("quiet")
            column.addWidget(told)
            for one in found:
                column.addLayout(self._line(one, when))
        else:
            words = "; ".join(difference_words(one) for one in found[:MOST_WORDS])
            all_words = f"{words}; …" if len(found) > MOST_WORDS else words
            text = Label(_("Restoring it does this: {changes}").format(changes=all_words))
            text.setObjectName("quiet")
            text.setWordWrap(True)
            column.addWidget(text)
        return lane

    def _line(self, one: Difference, when: str) -> QHBoxLayout:
        line = QHBoxLayout()
        line.setSpacing(8)
        text = Label(difference_words(one))
        text.setWordWrap(True)
        button = link(
            _("Restore this"),
            lambda: self._restore(_("{what}, as it was {when}").format(what=one.text, when=when), one.take),
        )
        button.setAccessibleName(_("Restore: {what}").format(what=difference_words(one)))
        line.addWidget(text, 1)
        line.addWidget(button, 0, Qt.AlignmentFlag.AlignTop)
        return line

    def _compare_with(self, version: Version) -> None:
        if self._path is not None:
            self._compare(self._path, version)

    def _fold(self, path: Path) -> None:
        self._unfolded = None if self._unfolded == path else path
        if self._path is not None and self._present is not None:
            self.show_profile(self._path, self._present)


def difference_words(one: Difference) -> str:
    """A difference with the layer it is in."""
    return _("In {layer}: {text}").format(layer=one.layer, text=one.text) if one.layer else one.text
