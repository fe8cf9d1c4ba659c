"""Waiting for what others do: for a condition, never for a time."""

from __future__ import annotations

import time
from collections.abc import Callable
from typing import Any

PATIENCE = 60.0
"""Seconds after which a condition is taken never to come; these machines are shared and slow at times."""


def wait_until(condition: Callable[[], Any], what: str, step: float = 0.005) -> None:
    """Poll until `condition` holds."""
    end = time.monotonic() + PATIENCE
    while not condition():
        if time.monotonic() > end:
            raise AssertionError(f"this did not happen: {what}")
        time.sleep(step)
