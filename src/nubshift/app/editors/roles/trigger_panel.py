"""The inspector's panel for a trigger that acts as a button: where in its pull it presses."""

from __future__ import annotations

from nubshift.app.editors.button_panel import ButtonPanel
from nubshift.app.editors.panel import Choices
from nubshift.app.editors.roles.used_as import use_as, use_of, uses_of
from nubshift.app.stage import Stage
from nubshift.model import parameters
from nubshift.texts import _


class TriggerPanel(ButtonPanel):
    """A button with a pull."""

    def __init__(self, stage: Stage, control: str) -> None:
        super().__init__(stage, control)
        self.heading(_("Trigger"))
        self.add_rows([parameters.PRESS_AT])
        self.used = Choices(
            _("Used as"), {use.id: use.word for use in uses_of(control)}, lambda u: use_as(stage, control, u)
        )
        self.heading(_("Used as"))
        self.add(self.used)
        stage.live.controls_changed.connect(self._moved)

    def refresh(self) -> None:
        """The profile or the selection changed."""
        super().refresh()
        self.refresh_rows()
        self.used.show_choice(use_of(self.binding, self.control))

    def _moved(self, controls: set[str]) -> None:
        """The live mark on the pull."""
        if self.control in controls:
            slider = self.rows[parameters.PRESS_AT.name].slider
            depth = self.stage.live.depth(self.control)
            span = parameters.PRESS_AT.high - parameters.PRESS_AT.low
            slider.mark = max(0.0, (depth - parameters.PRESS_AT.low) / span) if depth else None
            slider.update()
