"""Starting the window."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path


def run(profile: Path | None, sources: Sequence[str], sink: str, theme: str | None) -> int:
    """Open the window."""
    return 2
