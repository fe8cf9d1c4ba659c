"""What the shelf says of each profile: whether it is in use, when and how long it was played, what is wrong with it."""

from __future__ import annotations

from datetime import UTC, datetime
from pathlib import Path

from nubshift.app.client.link import Link
from nubshift.app.client.play_times import PlayClock
from nubshift.app.document.automatic_store import AutomaticStore
from nubshift.app.document.shelf import Shelf, ShelfEntry
from nubshift.app.profiles.shelf_list import ShelfRow
from nubshift.model.play_times import ago, length
from nubshift.model.store import name_of
from nubshift.texts import _, ngettext

ALWAYS_LONG_AGO = datetime(1970, 1, 1, tzinfo=UTC)


class ShelfWords:
    """Words and order of the profiles on the shelf, as they are now."""

    def __init__(self, shelf: Shelf, link: Link, clock: PlayClock, rules: AutomaticStore) -> None:
        self._shelf, self._link, self._clock, self._rules = shelf, link, clock, rules

    def name(self, path: Path) -> str:
        """The name of a profile's file."""
        return name_of(path, self._shelf.folder)

    def place(self, entry: ShelfEntry, by: str) -> tuple[object, ...]:
        """What the rows are sorted by: ``title``, ``played`` or ``time``."""
        played = self._clock.times.of(self.name(entry.path))
        last = played.last_time or ALWAYS_LONG_AGO
        values: dict[str, float] = {"played": -last.timestamp(), "time": -played.seconds}
        return (values.get(by, 0.0), entry.title.lower())

    def row(self, entry: ShelfEntry) -> ShelfRow:
        """Its row."""
        status = self._link.status
        in_use = status is not None and status.profile == self.name(entry.path)
        problems = ngettext("{count} problem", "{count} problems", entry.problems).format(count=entry.problems)
        note = problems if entry.problems else ""
        return ShelfRow(entry.path, entry.title, entry.colour, self._words(entry, in_use), in_use, entry.trouble, note)

    def _words(self, entry: ShelfEntry, in_use: bool) -> str:
        if entry.trouble:
            return _("can't be read")
        name = self.name(entry.path)
        parts = [_("in use")] if in_use else []
        played = self._clock.times.of(name).last_time
        if played is not None and not in_use:
            parts.append(_("played {ago}").format(ago=ago(played, datetime.now(UTC))))
        parts.append(_("automatic") if self._rules.now.rules_of(name) else _("by hand"))
        return " · ".join(parts)

    def about(self, name: str) -> str:
        """When and how long it was played, and with what."""
        played = self._clock.times.of(name)
        last = played.last_time
        if last is None:
            return _("Not played yet")
        parts = [
            _("Played for {length}, last {ago}").format(length=length(played.seconds), ago=ago(last, datetime.now(UTC)))
        ]
        if played.controllers:
            parts.append(_("with {controllers}").format(controllers=", ".join(played.controllers)))
        return " · ".join(parts)
