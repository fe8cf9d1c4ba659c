"""Toggles (contract R7): on with one use, off with the next; a holder like others meanwhile."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from nubshift.engine.held_steps import HeldSteps
from nubshift.engine.owner import Owner
from nubshift.engine.program import Step, Steps

if TYPE_CHECKING:
    from nubshift.engine.core import Core


@dataclass(frozen=True, slots=True)
class ToggleStep(Step):
    """Flip what `place` toggles. It belongs to its binding: `place` names control, gesture and layer."""

    place: str
    what: Steps
    comes_back: bool

    @property
    def changes_layers(self) -> bool:  # type: ignore[override]
        """If what it toggles does."""
        return any(step.changes_layers for step in self.what)

    def begin(self, core: Core, owner: Owner) -> None:
        """On, or off."""
        grip = core.toggles.pop(self.place, None)
        if grip is not None:
            grip.end_all()
            return
        grip = core.toggles[self.place] = HeldSteps(core, owner)
        grip.begin((Held(self),))


@dataclass(frozen=True, slots=True)
class Held(Step):
    """What a toggle holds while it is on."""

    toggle: ToggleStep

    def begin(self, core: Core, owner: Owner) -> HeldSteps:
        """Begin what it toggles."""
        grip = HeldSteps(core, owner)
        grip.begin(self.toggle.what)
        return grip

    def end(self, core: Core, token: object) -> None:
        """End it."""
        assert isinstance(token, HeldSteps)
        token.end_all()

    def drop(self, core: Core, token: object) -> None:
        """What it holds is dropped by itself."""


def coming_back(core: Core) -> list[tuple[ToggleStep, Owner]]:
    """The toggles that are on and come back when the game has the focus again."""
    found = []
    for grip in core.toggles.values():
        for _, step, _ in grip.held():
            if isinstance(step, Held) and step.toggle.comes_back:
                found.append((step.toggle, grip.owner))
    return found
