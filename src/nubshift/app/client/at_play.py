"""What plays now, which may be another profile than the one that is edited: for everything shown during play."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from nubshift.app.client.link import Link
from nubshift.app.client.mirror import Mirror
from nubshift.app.document.studio import Studio
from nubshift.errors import ProfileError, StorageError
from nubshift.model.profile import Profile, new_profile
from nubshift.model.store import name_of, path_of, read_profile
from nubshift.protocol.messages import Frame, Status


class AtPlay(QObject):
    """The profile in use and what it does, as `live`; `changed` when it is another one."""

    changed = pyqtSignal()

    def __init__(self, studio: Studio, link: Link, folder: Path) -> None:
        super().__init__(link)
        self._studio, self._folder = studio, folder
        self._name: str | None = None
        self._other: Profile | None = None
        self.live = Mirror(self)
        link.framed.connect(self._framed)
        link.status_changed.connect(self._status)
        link.lost.connect(self.live.rest)
        studio.document.opened.connect(self._look)

    @property
    def edited(self) -> bool:
        """Whether it is the profile that is edited."""
        return self._other is None

    @property
    def profile(self) -> Profile:
        """The profile in use, or about to be."""
        return self._other if self._other is not None else self._studio.profile

    def _framed(self, frame: Frame) -> None:
        self.live.take(frame)

    def _status(self, status: Status) -> None:
        self.live.follow(status)
        if status.profile != self._name:
            self._name = status.profile
            self._look()

    def _look(self) -> None:
        before = self._other
        own = name_of(self._studio.document.file.path, self._folder)
        if self._name in (None, own):
            self._other = None if self._name is not None else new_profile("")
        else:
            try:
                self._other = read_profile(path_of(self._name or "", self._folder))
            except (ProfileError, StorageError):
                self._other = new_profile("")  # the runner says what is wrong with it
        if self._other is not before:
            self.changed.emit()
