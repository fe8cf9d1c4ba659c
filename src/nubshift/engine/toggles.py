"""Toggles (contract R7): on with one use, off with the next; a holder like others meanwhile."""

from __future__ import annotations

from nubshift.engine.context import Context, HeldSteps, Step, Steps
from nubshift.engine.owner import Owner


class ToggleStep(Step, frozen=True):
    """Flip what `place` toggles. It belongs to its binding: `place` names control, gesture and layer."""

    place: str
    what: Steps
    comes_back: bool

    @property
    def changes_layers(self) -> bool:
        """If what it toggles does."""
        return any(step.changes_layers for step in self.what)

    def begin(self, context: Context, owner: Owner) -> None:
        """On, or off."""
        held = context.toggles.pop(self.place, None)
        if held is not None:
            held.end_all()
            return
        held = context.toggles[self.place] = HeldSteps(context, owner)
        held.begin((ToggledStep(self),))


class ToggledStep(Step, frozen=True):
    """What a toggle holds while it is on."""

    toggle: ToggleStep

    def begin(self, context: Context, owner: Owner) -> HeldSteps:
        """Begin what it toggles."""
        held = HeldSteps(context, owner)
        held.begin(self.toggle.what)
        return held

    def end(self, context: Context, token: object) -> None:
        """End it."""
        assert isinstance(token, HeldSteps)
        token.end_all()

    def drop(self, context: Context, token: object) -> None:
        """What it holds is dropped by itself."""


def coming_back(context: Context) -> list[tuple[ToggleStep, Owner]]:
    """The toggles that are on and come back when the game has the focus again."""
    found = []
    for held in context.toggles.values():
        for _, step, _ in held.entries():
            if isinstance(step, ToggledStep) and step.toggle.comes_back:
                found.append((step.toggle, held.owner))
    return found
