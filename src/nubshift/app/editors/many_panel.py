"""The inspector's panel for several controls at once: what can be done with all of them."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from nubshift.app.editors.panel import Panel
from nubshift.app.stage import Stage
from nubshift.texts import _


class ManyPanel(Panel):
    """What is selected, in words, and the actions for it. `run` does the action of the window with an id."""

    ACTIONS = (
        ("copy", _("Copy")),
        ("paste", _("Paste")),
        ("mirror", _("Mirror left and right")),
        ("clear", _("Clear")),
        ("layer from", _("New layer from these…")),
    )

    def __init__(self, stage: Stage, run: Callable[[str], None]) -> None:
        super().__init__(stage)
        self._told = self.quiet("")
        for action, text in self.ACTIONS:
            self.link(text, partial(run, action))
        self.refresh()

    def refresh(self) -> None:
        """The selection changed."""
        names = [self.stage.selection.names.title(control) for control in self.stage.selection.chosen]
        self._told.setText(", ".join(names) + ".")
