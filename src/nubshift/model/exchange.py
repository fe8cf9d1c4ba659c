"""Profiles exchanged with a folder that others write to: what is to be done with each, so that nothing is overwritten.

Three states decide: the profile here, the one there, and what both last had in common. Pure; `app/document/
synced_folder` does it.
"""

from __future__ import annotations

from hashlib import sha256
from pathlib import Path
from typing import Annotated, Final, Literal, TypeAlias

import msgspec

from nubshift.model.files import read_companion
from nubshift.model.part import Part
from nubshift.model.store import write_atomically
from nubshift.texts import _

FORMAT: Final = "nubshift-synced"

Move: TypeAlias = Literal["nothing", "same", "take", "give", "offer", "conflict"]
"""`take` theirs, `give` ours, `offer` what is new there, or ask about a `conflict`."""


class Synced(Part, frozen=True, forbid_unknown_fields=True, omit_defaults=False):
    """For each profile's file, the digest of what it was when it was last the same here and in `folder`."""

    format: Literal["nubshift-synced"] = FORMAT
    version: Literal[1] = 1
    folder: Annotated[str, msgspec.Meta(max_length=4096)] = ""
    common: dict[str, str] = msgspec.field(default_factory=dict)


def digest(data: bytes) -> str:
    """What tells two files apart."""
    return sha256(data).hexdigest()


def move(here: str | None, there: str | None, common: str | None, gives: bool) -> Move:
    """What is to be done, from the digests; None for a file that is not there. `gives`: ours are written there too.

    One that was deleted on either side stays deleted there and stays kept on the other.
    """
    if here == there:
        return "same" if here is not None else "nothing"
    if here is None:
        return "nothing" if there == common else "offer"
    if there is None:
        return "give" if gives and here != common else "nothing"
    if here == common:
        return "take"
    if there == common:
        return "give" if gives else "nothing"
    return "conflict"


def read_synced(path: Path) -> Synced:
    """The file at `path`; an empty one where there is none. Raises StorageError; see `read_companion`."""
    return read_companion(path, Synced, _("What was synced")) or Synced()


def write_synced(path: Path, synced: Synced) -> None:
    """Save it. Raises StorageError."""
    write_atomically(path, msgspec.json.format(msgspec.json.encode(synced), indent=2) + b"\n")
