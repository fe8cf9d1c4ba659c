"""A channel that writes what would be sent, one JSON object a line, to a file or into a list."""

from __future__ import annotations

import os
from collections.abc import Sequence
from pathlib import Path
from typing import BinaryIO

import msgspec

from nubshift.errors import SinkError
from nubshift.events import Output
from nubshift.model.profile import PadKind
from nubshift.outputs.silent import Silent
from nubshift.texts import _


class Recorder(Silent):
    """Keeps all events in `events`."""

    name = "record"

    def __init__(self) -> None:
        self.events: list[Output] = []

    def prepare(self, pad: PadKind, points: bool) -> str:
        """Everything can be kept."""
        return ""

    def write(self, outputs: Sequence[Output]) -> None:
        """Keep these."""
        self.events.extend(outputs)

    def close(self) -> None:
        """Nothing is open."""


class FileRecorder(Silent):
    """Writes each event to a file as it comes. Raises SinkError."""

    name = "record"

    def __init__(self, path: Path) -> None:
        self._path = path
        try:
            handle = os.open(path, os.O_WRONLY | os.O_CREAT | os.O_TRUNC | os.O_CLOEXEC, 0o600)
        except (OSError, ValueError) as error:
            reason = error.strerror if isinstance(error, OSError) else error
            raise SinkError(_("{path}: can't be written: {reason}").format(path=path, reason=reason)) from error
        self._file: BinaryIO = os.fdopen(handle, "wb", buffering=0)
        self._encoder = msgspec.json.Encoder()

    def prepare(self, pad: PadKind, points: bool) -> str:
        """Everything can be written."""
        return ""

    def write(self, outputs: Sequence[Output]) -> None:
        """Write these, a line each."""
        try:
            self._file.write(b"".join(self._encoder.encode(output) + b"\n" for output in outputs))
        except OSError as error:
            raise SinkError(
                _("{path}: can't be written: {strerror}").format(path=self._path, strerror=error.strerror)
            ) from error

    def close(self) -> None:
        """Close the file."""
        self._file.close()


class Nowhere(Silent):
    """Sends nothing: for a window on a machine where nothing can be sent."""

    name = "nowhere"

    def prepare(self, pad: PadKind, points: bool) -> str:
        """Everything can be let go."""
        return ""

    def write(self, outputs: Sequence[Output]) -> None:
        """Let them go."""

    def close(self) -> None:
        """Nothing is open."""
