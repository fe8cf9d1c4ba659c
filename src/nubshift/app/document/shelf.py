"""The profiles in the player's folder: made, duplicated, deleted and taken back, brought in and given away."""

from __future__ import annotations

from pathlib import Path

from msgspec.structs import replace
from PyQt6.QtCore import QObject

from nubshift.app.document.studio import Studio
from nubshift.errors import ProfileError, StorageError
from nubshift.model import edits
from nubshift.model.checks import findings
from nubshift.model.keylist import parse_key_list
from nubshift.model.profile import SUFFIX, Binding, Colour, Game, Profile, new_profile
from nubshift.model.roles import PadAxisRole, PadStickRole, Role
from nubshift.model.sends import PAD_BUTTONS, SendPad
from nubshift.model.starters import FROM_ABOVE, STARTER_NAMES, STARTERS
from nubshift.model.store import (
    DELETED,
    ProfileFile,
    delete,
    free_path,
    free_title,
    profile_paths,
    read_profile,
    recover,
    retitled,
    write_atomically,
)
from nubshift.model.writing import profile_text
from nubshift.records import Record
from nubshift.texts import _

AS_IT_IS = "as it is"
"""A beginning for games that take some controller input: everything passes through, to be changed (N34)."""
BEGINNINGS = ("nothing", *STARTERS, AS_IT_IS)
BEGINNING_NAMES = {"nothing": _("Empty"), **STARTER_NAMES, AS_IT_IS: _("Controller unchanged")}


class ShelfEntry(Record, frozen=True):
    """A profile on the shelf; `trouble` says why it can't be opened, if so. `problems` is what its checks find."""

    path: Path
    title: str
    colour: Colour = "moss"
    trouble: str = ""
    problems: int = 0


class Shelf(QObject):
    """Acts on the folder and the studio."""

    def __init__(self, studio: Studio, folder: Path) -> None:
        super().__init__()
        self._studio = studio
        self.folder = folder
        self._known: dict[Path, tuple[float, ShelfEntry]] = {}
        self._open: tuple[Profile, ShelfEntry] | None = None

    def entries(self) -> list[ShelfEntry]:
        """All profiles by title; files that did not change are not read again."""
        found = [self._entry(path) for path in profile_paths(self.folder)]
        return sorted(found, key=lambda entry: entry.title.lower())

    def _entry(self, path: Path) -> ShelfEntry:
        if path == self._studio.document.file.path:
            profile = self._studio.profile
            if self._open is None or self._open[0] is not profile or self._open[1].path != path:
                self._open = profile, self._entry_of(path, profile)
            return self._open[1]
        try:
            changed = path.stat().st_mtime
        except OSError:
            changed = 0.0
        known = self._known.get(path)
        if known is not None and known[0] == changed:
            return known[1]
        name = path.name.removesuffix(SUFFIX)
        try:
            entry = self._entry_of(path, read_profile(path))
        except (ProfileError, StorageError) as error:
            entry = ShelfEntry(path, name, trouble=str(error))
        self._known[path] = (changed, entry)
        return entry

    @staticmethod
    def _entry_of(path: Path, profile: Profile) -> ShelfEntry:
        title = profile.game.title or path.name.removesuffix(SUFFIX)
        return ShelfEntry(path, title, profile.game.colour, problems=len(findings(profile)))

    def deleted(self) -> list[Path]:
        """The profiles that can be taken back, the newest first."""
        return sorted(profile_paths(self.folder / DELETED), key=lambda path: -path.stat().st_mtime)

    # What is done

    def create(self, title: str, colour: Colour = "moss", beginning: str = "nothing") -> None:
        """Begin a profile for a game, and edit it."""
        profile = begun(title, colour, beginning)
        self._studio.document.begin(ProfileFile(free_path(self.folder, title)), profile, new=True)

    def duplicate(self) -> None:
        """A copy of the open profile, which is then edited."""
        profile = self._studio.profile
        title = _("{title} copy").format(title=profile.game.title)[:200]
        self._studio.document.begin(ProfileFile(free_path(self.folder, title)), retitled(profile, title), new=True)

    def delete(self) -> None:
        """Put the open profile away, to be taken back at any time, and go to another one."""
        studio = self._studio
        studio.document.save()
        path, title = studio.document.file.path, studio.profile.game.title
        others = [entry for entry in self.entries() if entry.path != path and not entry.trouble]
        try:
            delete(path)
        except StorageError as error:
            studio.document.noticed.emit("error", f"{error}.")
            return
        studio.document.saved = True
        if not (others and studio.document.open(others[0].path)):
            self.create(_("Untitled"))
        studio.document.noticed.emit(
            "info", _("{title} was deleted. You can restore it from the profile menu.").format(title=title)
        )

    def take_back(self, path: Path) -> None:
        """Take a deleted profile back, and edit it."""
        try:
            self._studio.document.open(recover(path))
        except StorageError as error:
            self._studio.document.noticed.emit("error", f"{error}.")

    def incoming(self, path: Path) -> Profile | None:
        """The profile of a file from elsewhere; None, and a notice, if it can't be used."""
        try:
            return read_profile(path)
        except (ProfileError, StorageError) as error:
            self._studio.document.noticed.emit("error", f"{error}")
            return None

    def same_game(self, profile: Profile) -> ShelfEntry | None:
        """The profile here that is for the same game, by its title."""
        wanted = profile.game.title.casefold()
        return next((e for e in self.entries() if not e.trouble and e.title.casefold() == wanted), None)

    def bring_in(self, path: Path, profile: Profile) -> None:
        """Put a profile from elsewhere into the folder, beside what is there, and edit it."""
        profile = retitled(profile, free_title(profile.game.title, {entry.title for entry in self.entries()}))
        target = free_path(self.folder, path.name.removesuffix(SUFFIX))
        self._studio.document.begin(ProfileFile(target), profile, new=True)
        self._studio.document.noticed.emit("info", _("{title} was imported.").format(title=profile.game.title))

    def give_away(self, path: Path) -> None:
        """Write the open profile as one file."""
        if not path.name.endswith(SUFFIX):
            path = path.with_name(path.name.removesuffix(".json") + SUFFIX)
        try:
            write_atomically(path, profile_text(self._studio.profile))
        except StorageError as error:
            self._studio.document.noticed.emit("error", f"{error}.")
            return
        self._studio.document.noticed.emit(
            "info", _("{title} was exported to {path}.").format(title=self._studio.profile.game.title, path=path)
        )


def begun(title: str, colour: Colour, beginning: str) -> Profile:
    """A new profile with something to begin with."""
    profile = new_profile(title)
    profile = replace(
        profile,
        game=Game(
            title,
            colour,
            pad="full" if beginning == AS_IT_IS else "none",
            moves="cursor" if beginning == FROM_ABOVE else "view",
        ),
    )
    if beginning in STARTERS:
        return edits.with_commands(profile, parse_key_list(STARTERS[beginning]).commands)
    return _passed_through(profile) if beginning == AS_IT_IS else profile


def _passed_through(profile: Profile) -> Profile:
    """Every control of the pad as what it is."""
    base = profile.layers[0].id
    for button in PAD_BUTTONS:
        profile = edits.with_binding(profile, base, Binding(button, press=(SendPad(button),)))
    roles: dict[str, Role] = {
        "left_stick": PadStickRole("left"),
        "right_stick": PadStickRole("right"),
        "left_trigger": PadAxisRole("left_trigger"),
        "right_trigger": PadAxisRole("right_trigger"),
    }
    for control, role in roles.items():
        profile = edits.with_role(profile, base, control, role)
    return profile
