"""What is kept of controllers on disk, as the runner uses it."""

from __future__ import annotations

import os

from msgspec import Struct, field

from nubshift.devices.device_mapping import KnownMappings
from nubshift.devices.mapping_line import MappingLine, parse_lines
from nubshift.errors import StorageError
from nubshift.model.controller_setup import read_setups
from nubshift.model.files import read_text
from nubshift.model.stored_controllers import ControllersFile, read_controllers
from nubshift.protocol.paths import controllers_path, setups_folder


class StoredControllers(Struct, frozen=True):
    """What is known of models and of single controllers, and a sentence for each file that could not be used."""

    mappings: KnownMappings = field(default_factory=KnownMappings)
    controllers: ControllersFile = field(default_factory=ControllersFile)
    troubles: tuple[str, ...] = ()


def read_stored() -> StoredControllers:
    """Everything of this user's. What can't be used is told and left as it is."""
    folder = setups_folder()
    taught, troubles = read_setups(folder)
    lines: list[MappingLine] = []
    for path in sorted(folder.glob("*.txt")) if os.access(folder, os.R_OK) else ():
        try:
            found, bad = parse_lines(read_text(path))
        except StorageError as error:
            troubles.append(str(error))
            continue
        lines += found
        troubles += [f"{path}: {text}" for text in bad]
    kept = ControllersFile()
    try:
        kept = read_controllers(controllers_path())
    except StorageError as error:
        troubles.append(str(error))
    sideways = frozenset(key for key, own in kept.devices.items() if own.sideways)
    return StoredControllers(KnownMappings(taught, lines, sideways=sideways), kept, tuple(troubles))
