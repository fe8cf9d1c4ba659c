"""What the doctor finds: told by the command line a line at a time, and shown in the window."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Literal, TypeAlias

import msgspec

State: TypeAlias = Literal["well", "look", "note"]


class Finding(msgspec.Struct, frozen=True):
    """One thing looked at. `state` is ``well``, ``look`` (a problem) or ``note`` (as it is, good to know).

    `found` says how it is, `means` what follows for the player, `do` what helps in words, and `run` the command for it.
    """

    what: str
    state: State
    found: str
    means: str = ""
    do: str = ""
    run: str = ""


def problems(findings: Iterable[Finding]) -> int:
    """How many of them ask for something to be done."""
    return sum(finding.state == "look" for finding in findings)
