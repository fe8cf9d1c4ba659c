"""The inspector's panel for a layer: its name, how it is entered, and what it does beside its bindings (N28)."""

from __future__ import annotations

from functools import partial
from typing import Any, assert_never

from PyQt6.QtWidgets import QWidget

from nubshift.app.editors.panel import Choices, FlowLayout, Panel, TextRow, emptied, link
from nubshift.app.stage import Stage
from nubshift.model import edits, steering
from nubshift.model import parameters as p
from nubshift.model.parameters import Parameter
from nubshift.model.profile import BASE, Layer
from nubshift.model.sends import ChangeLayer, HoldLayer, NextLayer
from nubshift.model.sentences import slot_name
from nubshift.model.usage import entered_by, slots_of
from nubshift.model.walk import each_send
from nubshift.texts import _

RUMBLE = Parameter(
    name="rumble",
    label=_("Rumble on entering"),
    unit="%",
    low=0,
    high=1,
    default=0,
    step=0.05,
    shown=100,
    help=_("How strongly the controller rumbles when the layer is entered."),
)
WAYS = {"toggle": _("Toggle:"), "once": _("For the next press:"), "enter": _("Enter:"), "only": _("Only this layer:")}
MOVES = {"": _("Same as the game"), "view": _("The view"), "cursor": _("A cursor")}
FORMS = {"": _("Inherit"), "keys": _("Keys"), "pad": _("Pad buttons")}


class LayerPanel(Panel):
    """The layer that is edited."""

    def __init__(self, stage: Stage) -> None:
        super().__init__(stage)
        self.name = TextRow(_("Name"), self._rename)
        self.add(self.name)
        self._entered_head = self.heading(_("Entered by"))
        inside = QWidget()
        self._entered = FlowLayout(4)
        inside.setLayout(self._entered)
        self.add(inside)
        self._hint = self.quiet("")
        self._below = self.heading(_("Unassigned controls"))
        self.hides = Choices(
            _("Unassigned controls"),
            {"through": _("Inherit"), "hides": _("Block")},
            lambda value: self._change(_("Block") if value == "hides" else _("Inherit"), hides=value == "hides"),
        )
        self.add(self.hides)
        self._form_head = self.heading(_("Send commands as"))
        self.form = Choices(
            _("Send commands as"), FORMS, lambda value: self._change(_("Send commands as"), form=value or None)
        )
        self.add(self.form)
        self._moves_head = self.heading(_("The mouse moves"))
        self.moves = Choices(_("The mouse moves"), MOVES, lambda value: self._change(_("Mouse"), moves=value or None))
        self.add(self.moves)
        self.gauge_on = self.check(_("The game turns at another speed here"), self._gauge)
        self.gauge = self.number(
            p.COUNTS_PER_TURN, lambda value: self._change(_("Turn gauge"), "gauge", counts_per_turn=value)
        )
        self.rumble = self.number(RUMBLE, lambda value: self._change(_("Rumble"), "rumble", rumble=value))
        self.note = TextRow(_("Note"), lambda text: self._change(_("Note"), note=text[:5000]), _("A note to yourself"))
        self.add(self.note)
        self._orders = self.links(
            (_("Move up"), lambda: self._move(1)),
            (_("Move down"), lambda: self._move(-1)),
            (_("Delete layer"), self._remove),
        )
        self.refresh()

    def refresh(self) -> None:
        """The profile changed."""
        layer = self.layer
        base = layer.id == BASE
        self.name.show_text(layer.name)
        emptied(self._entered)
        count = 0
        for text, control in self._entries(layer):
            self._entered.addWidget(link(text, partial(self._go_to, control[0], control[1])))
            count += 1
        self._hint.setText(
            _("Always active, below all other layers.")
            if base
            else ""
            if count
            else _("Nothing enters this layer yet. Select a control and choose “Other output…”, then “Layer”.")
        )
        self._hint.setVisible(bool(self._hint.text()))
        for widget in (self._below, self.hides, self.rumble, self._moves_head, self.moves, self._orders):
            widget.setVisible(not base)
        forms = any(command.pad for command in self.stage.studio.profile.commands)
        for widget in (self._form_head, self.form):
            widget.setVisible(forms)
        self.hides.show_choice("hides" if layer.hides else "through")
        self.form.show_choice(layer.form or "")
        self.moves.show_choice(layer.moves or "")
        view = steering.moves(self.stage.studio.profile, layer.id) == "view"
        self.gauge_on.setVisible(view and not base)
        self.gauge_on.setChecked(layer.counts_per_turn is not None)
        self.gauge.setVisible(view and layer.counts_per_turn is not None)
        self.gauge.show_value(layer.counts_per_turn or self.stage.studio.profile.game.counts_per_turn)
        self.rumble.show_value(layer.rumble)
        self.note.show_text(layer.note)

    def _entries(self, layer: Layer) -> list[tuple[str, tuple[str, str]]]:
        found = {}
        for slot, sends in slots_of(self.stage.studio.profile):
            for _unused, send in each_send(sends):
                if isinstance(send, HoldLayer | ChangeLayer | NextLayer) and layer.id in entered_by(send):
                    text = f"{_how(send)} {slot_name(self.stage.studio.profile, slot, self.stage.selection.names)}"
                    found[text] = (slot.layer, slot.control)
        return list(found.items())

    def _go_to(self, layer: str, control: str) -> None:
        self.stage.selection.show_layer(layer)
        self.stage.selection.select(control)

    def _change(self, title: str, merge: str = "", **values: Any) -> None:
        layer = self.layer
        self.stage.document.edit(
            _("{title}, layer {name}").format(title=title, name=layer.name),
            lambda profile: edits.with_layer_set(profile, layer.id, **values),
            merge and f"layer:{layer.id}:{merge}",
        )

    def _rename(self, name: str) -> None:
        layer = self.layer
        if name:
            self.stage.document.edit(
                _("Rename layer {name} to {name_2}").format(name=layer.name, name_2=name),
                lambda profile: edits.with_layer_set(profile, layer.id, name=name[:200]),
            )

    def _gauge(self, on: bool) -> None:
        whole = self.stage.studio.profile.game.counts_per_turn
        self._change(_("Turn gauge"), counts_per_turn=whole if on else None)

    def _move(self, by: int) -> None:
        layer = self.layer
        self.stage.document.edit(
            _("Move layer {name}").format(name=layer.name), lambda q: edits.with_layer_moved(q, layer.id, by)
        )

    def _remove(self) -> None:
        layer = self.layer
        self.stage.document.edit(
            _("Delete layer {name}").format(name=layer.name), lambda q: edits.without_layer(q, layer.id)
        )


def _how(send: HoldLayer | ChangeLayer | NextLayer) -> str:
    match send:
        case HoldLayer():
            return _("While held:")
        case ChangeLayer(_, how):
            return f"{WAYS.get(how, how)}"
        case NextLayer():
            return _("Next layer:")
        case never:
            assert_never(never)
