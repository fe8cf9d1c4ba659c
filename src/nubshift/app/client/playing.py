"""What the runner plays: the open profile with every edit of it, or for a while another one; and what it tells back."""

from __future__ import annotations

from pathlib import Path

from msgspec.structs import replace
from PyQt6.QtCore import QObject, pyqtSignal

from nubshift.app.client.at_play import AtPlay
from nubshift.app.client.link import Link
from nubshift.app.client.mirror import Mirror
from nubshift.app.document.studio import Studio
from nubshift.model import variants
from nubshift.model.profile import Profile
from nubshift.model.store import name_of
from nubshift.protocol.edit_parts import edit_between
from nubshift.protocol.messages import Frame, Use, Used
from nubshift.texts import _


class Playing(QObject):
    """Tells the runner of the profile. Make it before the views, so that it hears of an edit first.

    One edit is under way at a time; of those made meanwhile only the newest is sent, as what it changed.
    """

    noticed = pyqtSignal(str, str)

    def __init__(self, studio: Studio, link: Link, live: Mirror, at_play: AtPlay, folder: Path) -> None:
        super().__init__(link)
        self._studio, self._link, self._live, self._folder = studio, link, live, folder
        self._at_play = at_play
        self._number = 0
        self._under_way = False
        self._there: Use | None = None
        """What the runner plays, or will as soon as it has answered; None while that is not known."""
        self._wanted: Use | None = None
        self._borrowed: Profile | None = None
        studio.document.edited.connect(self._edited)
        studio.document.opened.connect(self._begin)
        link.connected.connect(self._connected)
        link.framed.connect(self._framed)
        link.used.connect(self._used)

    @property
    def settled(self) -> bool:
        """Whether the runner plays the newest state."""
        return self._there is not None and not self._under_way and self._wanted is None

    def _connected(self) -> None:
        """Another runner: it knows of nothing yet."""
        self._under_way, self._there, self._wanted = False, None, None
        self._begin()

    def _begin(self) -> None:
        """Another profile."""
        self._borrowed = None
        self._use(self._studio.profile, switch=True)

    def _use(self, profile: Profile, switch: bool = False) -> None:
        switch = switch or (self._wanted is not None and self._wanted.switch)
        self._number += 1
        name = name_of(self._studio.document.file.path, self._folder)
        self._wanted = Use(profile, self._number, switch, self._studio.document.neighbours(), name)
        if not self._under_way:
            self._send()

    def _send(self) -> None:
        wanted, self._wanted = self._wanted, None
        if wanted is None:
            return
        there = self._there
        if there is None or wanted.switch or wanted.others != there.others:
            sent = self._link.send(wanted)
        else:
            sent = self._link.send(edit_between(there.profile, wanted.profile, there.edit, wanted.edit))
        self._under_way = sent
        self._there = wanted if sent else None

    def _used(self, used: Used) -> None:
        """The runner has taken up what was sent last, or refused it."""
        if self._there is None or used.edit != self._there.edit:
            return
        self._under_way = False
        if used.trouble:
            self._there = None
            self.noticed.emit("error", _("This edit is not in use yet: {trouble}.").format(trouble=used.trouble))
        self._send()

    def play(self, profile: Profile | None) -> None:
        """Let the runner play a profile that is no edit; None or the edited one ends that."""
        self._borrowed = None if profile is self._studio.profile else profile
        self._use(self._borrowed or self._studio.profile)

    def _edited(self) -> None:
        if self._borrowed is None:
            self._use(self._studio.profile)

    def _framed(self, frame: Frame) -> None:
        if not self._at_play.edited:  # what is edited rests meanwhile; only the controller moves in its pictures
            self._live.take(replace(frame, held=(), layers=(), surfaces=(), belts={}))
            return
        self._live.take(frame)
        for place, variant in frame.variants.items() if self._borrowed is None else ():
            seat, _unused, control = place.partition("/")
            self._variant_chosen(seat, control, variant)

    def _variant_chosen(self, seat: str, control: str, variant: str) -> None:
        """A variant was stepped to on the controller: that is an edit like a click on it."""
        profile = self._studio.profile
        found = next((v for v in profile.variants if v.id == variant), None)
        if found is not None and profile.variant_in_use(found.layer, seat, control) is not found:
            title = f"{self._studio.selection.names.title(control)}: {found.name}"
            self._studio.document.edit(title, lambda profile: variants.with_used(profile, variant))
