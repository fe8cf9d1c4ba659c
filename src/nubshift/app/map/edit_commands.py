"""What is done with the controls selected: copied, pasted, mirrored, cleared, taken to another layer."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtWidgets import QApplication

from nubshift.app.document.studio import Studio
from nubshift.model import portions
from nubshift.model.profile import BASE, Profile
from nubshift.texts import _


class EditCommands:
    """Acts on the studio's selection. What is copied is text on the clipboard, so it goes to other profiles too."""

    def __init__(self, studio: Studio) -> None:
        self._studio = studio

    @property
    def _what(self) -> str:
        chosen = self._studio.selection.chosen
        return (
            self._studio.selection.names.inside(chosen[0])
            if len(chosen) == 1
            else _("{count} controls").format(count=len(chosen))
        )

    def _edit(self, title: str, change: Callable[[Profile], Profile]) -> None:
        self._studio.document.edit(f"{title} {self._what}", change)

    def copy(self) -> None:
        """Copy what the selected controls do."""
        studio = self._studio
        clipboard = QApplication.clipboard()
        if clipboard is not None:
            clipboard.setText(
                portions.copied(studio.profile, studio.selection.layer, studio.selection.chosen, studio.selection.seat)
            )

    def paste(self) -> None:
        """Let the selected controls do what was copied."""
        studio = self._studio
        clipboard = QApplication.clipboard()
        portion = portions.read_portion(clipboard.text()) if clipboard is not None else None
        if portion is None:
            studio.document.noticed.emit(
                "info", _("Nothing to paste. Copy a control first, here or in another profile.")
            )
            return
        layer, chosen, seat = studio.selection.layer, studio.selection.chosen, studio.selection.seat
        self._edit(_("Paste on"), lambda profile: portions.pasted(profile, layer, chosen, portion, seat))

    def mirror(self) -> None:
        """Exchange the selected controls with those opposite."""
        studio = self._studio
        layer, chosen, seat = studio.selection.layer, studio.selection.chosen, studio.selection.seat
        if not any(control in portions.MIRRORED for control in chosen):
            studio.document.noticed.emit("info", _("There is no control opposite this one."))
            return
        self._edit(_("Mirror"), lambda profile: portions.mirrored(profile, layer, chosen, seat))

    def clear(self) -> None:
        """Take away what the selected controls do in this layer; what lies below shows through then."""
        studio = self._studio
        layer, chosen, seat = studio.selection.layer, studio.selection.chosen, studio.selection.seat
        self._edit(_("Clear"), lambda profile: portions.cleared(profile, layer, chosen, seat))

    def to_layer(self, target: str, *, move: bool) -> None:
        """Copy or move what the selected controls do to another layer."""
        studio = self._studio
        source, chosen, seat = studio.selection.layer, studio.selection.chosen, studio.selection.seat
        layer = studio.profile.layer(target)
        name = layer.name if layer else target
        studio.document.edit(
            (_("Move {what} to {layer}") if move else _("Copy {what} to {layer}")).format(what=self._what, layer=name),
            lambda profile: portions.to_layer(profile, source, target, chosen, seat, move=move),
        )

    def layer_from(self, name: str) -> None:
        """A new layer that begins with what the selected controls do now, and is then edited."""
        studio = self._studio
        source, chosen, seat = studio.selection.layer, studio.selection.chosen, studio.selection.seat
        known = {layer.id for layer in studio.profile.layers}
        studio.document.edit(
            _("New layer {name} from {what}").format(name=name, what=self._what),
            lambda profile: portions.with_layer_from(profile, name, source, chosen, seat),
        )
        studio.selection.show_layer(next((entry.id for entry in studio.profile.layers if entry.id not in known), BASE))
