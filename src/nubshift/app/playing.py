"""What the runner plays: the open profile with every edit of it, or for a while another one; and what it tells back."""

from __future__ import annotations

from PyQt6.QtCore import QObject

from nubshift.app.link import Link
from nubshift.app.live import Live
from nubshift.app.studio import Studio
from nubshift.model import variants
from nubshift.model.profile import Profile
from nubshift.runner.messages import Frame, Use


class Playing(QObject):
    """Tells the runner of the profile. Make it before the views, so that it hears of an edit first."""

    def __init__(self, studio: Studio, link: Link, live: Live) -> None:
        super().__init__(link)
        self._studio, self._link, self._live = studio, link, live
        self._edit_number = 0
        self._borrowed: Profile | None = None
        studio.edited.connect(self._edited)
        studio.opened.connect(self._begin)
        link.connected.connect(self._begin)
        link.framed.connect(self._framed)

    def _begin(self) -> None:
        """Another profile, or another runner."""
        self._borrowed = None
        self._use(self._studio.profile, True)

    def _use(self, profile: Profile, switch: bool = False) -> None:
        self._edit_number += 1
        self._link.send(Use(profile, self._edit_number, switch, self._studio.neighbours()))

    def play(self, profile: Profile | None) -> None:
        """Let the runner play a profile that is no edit; None or the edited one ends that."""
        self._borrowed = None if profile is self._studio.profile else profile
        self._use(self._borrowed or self._studio.profile)

    def _edited(self) -> None:
        if self._borrowed is None:
            self._use(self._studio.profile)

    def _framed(self, frame: Frame) -> None:
        self._live.take(frame)
        for place, variant in frame.variants.items() if self._borrowed is None else ():
            seat, _, control = place.partition("/")
            self._variant_chosen(seat, control, variant)

    def _variant_chosen(self, seat: str, control: str, variant: str) -> None:
        """A variant was stepped to on the controller: that is an edit like a click on it."""
        profile = self._studio.profile
        found = next((v for v in profile.variants if v.id == variant), None)
        if found is not None and profile.variant_in_use(found.layer, seat, control) is not found:
            title = f"{self._studio.names.title(control)}: {found.name}"
            self._studio.edit(title, lambda profile: variants.with_used(profile, variant))
