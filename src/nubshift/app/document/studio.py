"""The three things that every view works on: the open profile, what of it is looked at, and what listens."""

from __future__ import annotations

from nubshift.app.document.assigning import Assigning
from nubshift.app.document.open_document import OpenDocument
from nubshift.app.document.selection import Selection
from nubshift.model.profile import Profile
from nubshift.model.store import ProfileFile


class Studio:
    """`document` edits and saves, `selection` says where the next edit goes, `assigning` makes edits of touches."""

    def __init__(self, file: ProfileFile, profile: Profile) -> None:
        self.document = OpenDocument(file, profile)
        self.selection = Selection(self.document)
        self.assigning = Assigning(self.document, self.selection)

    @property
    def profile(self) -> Profile:
        """The profile as it is now."""
        return self.document.profile
