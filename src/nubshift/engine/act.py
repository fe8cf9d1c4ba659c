"""What a gesture, direction, band or cell does."""

from __future__ import annotations

from nubshift.engine.context import Steps
from nubshift.engine.owner import Owner
from nubshift.records import Record


class Act(Record, frozen=True):
    """Its steps in each form of the commands, and for whose sake."""

    keys: Steps
    pad: Steps
    owner: Owner

    def steps(self, pad_form: bool) -> Steps:
        """The steps in order, ended in reverse."""
        return self.pad if pad_form else self.keys

    @property
    def changes_layers(self) -> bool:
        """Whether a press of it changes layers; such presses come first in a report."""
        return any(step.changes_layers for step in self.keys)
