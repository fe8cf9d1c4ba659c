"""What the commands print: text from files and devices never reaches a terminal raw."""

from __future__ import annotations

import os
import unicodedata
from contextlib import suppress
from typing import Any, TextIO

ESCAPED = frozenset({"Cc", "Cf", "Cs", "Co", "Zl", "Zp"})
"""Categories of Unicode that a terminal may obey, or show as something else: controls, directions, surrogates."""


def printable(text: str) -> str:
    """`text` with every character that is no plain text written out (``\\x1b``); line ends and tabs stay."""
    if text.isascii() and text.isprintable():
        return text
    return "".join(
        letter
        if letter in "\n\t" or unicodedata.category(letter) not in ESCAPED
        else letter.encode("unicode_escape").decode()
        for letter in text
    )


class PlainStream:
    """A text stream that prints nothing else; what its encoding lacks is written out as well."""

    def __init__(self, stream: TextIO) -> None:
        self._stream = stream
        reconfigure = getattr(stream, "reconfigure", None)
        if reconfigure is not None:
            reconfigure(errors="backslashreplace")

    def write(self, text: str) -> int:
        """Write it, made plain."""
        self._stream.write(printable(text))
        return len(text)

    def give_up(self) -> None:
        """Nobody reads it, or its disk is full: what is written from now on goes nowhere, also at Python's own end.

        Without this Python would try once more when it ends, and exit with 120.
        """
        with suppress(OSError, ValueError):
            nowhere = os.open(os.devnull, os.O_WRONLY)
            os.dup2(nowhere, self._stream.fileno())
            os.close(nowhere)

    def __getattr__(self, name: str) -> Any:
        return getattr(self._stream, name)
