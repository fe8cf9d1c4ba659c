"""The inspector's panel for a layer: its name, how it is entered, and what it does beside its bindings (N28)."""

from __future__ import annotations

from functools import partial
from typing import Any

from PyQt6.QtWidgets import QWidget

from nubshift.app.editors.panel import Choices, FlowLayout, Panel, TextRow, emptied, link
from nubshift.app.stage import Stage
from nubshift.model import edits, steering
from nubshift.model import parameters as p
from nubshift.model.parameters import Parameter
from nubshift.model.profile import BASE, Layer
from nubshift.model.sends import ChangeLayer, HoldLayer, NextLayer, Send
from nubshift.model.sentences import slot_name
from nubshift.model.usage import entered_by, slots_of
from nubshift.model.walk import each_send

RUMBLE = Parameter(
    name="rumble",
    label="Rumble when it is entered",
    unit="%",
    low=0,
    high=1,
    default=0,
    step=0.05,
    shown=100,
    help="How strongly the controller tells that the layer was entered.",
)
WAYS = {"toggle": "on and off by", "once": "for one press by", "enter": "entered by", "only": "alone by"}
MOVES = {"": "as in the game", "view": "the view", "cursor": "a cursor"}
FORMS = {"": "as below", "keys": "their keys", "pad": "their pad buttons"}


class LayerPanel(Panel):
    """The layer that is edited."""

    def __init__(self, stage: Stage) -> None:
        super().__init__(stage)
        self.name = TextRow("Called", self._rename)
        self.add(self.name)
        self._entered_head = self.heading("Entered")
        inside = QWidget()
        self._entered = FlowLayout(4)
        inside.setLayout(self._entered)
        self.add(inside)
        self._hint = self.quiet("")
        self._below = self.heading("What it does not set")
        self.hides = Choices(
            "What it does not set",
            {"through": "falls through to below", "hides": "does nothing"},
            lambda value: self._change("Hides" if value == "hides" else "Falls through", hides=value == "hides"),
        )
        self.add(self.hides)
        self._form_head = self.heading("Commands are sent as")
        self.form = Choices("Commands are sent as", FORMS, lambda value: self._change("Form", form=value or None))
        self.add(self.form)
        self._moves_head = self.heading("The mouse moves")
        self.moves = Choices("The mouse moves", MOVES, lambda value: self._change("Mouse", moves=value or None))
        self.add(self.moves)
        self.gauge_on = self.check("the game turns at another speed here", self._gauge)
        self.gauge = self.number(
            p.COUNTS_PER_TURN, lambda value: self._change("Turn gauge", "gauge", counts_per_turn=value)
        )
        self.rumble = self.number(RUMBLE, lambda value: self._change("Rumble", "rumble", rumble=value))
        self.note = TextRow("Note", lambda text: self._change("Note", note=text[:5000]), "a note for yourself")
        self.add(self.note)
        self._orders = self.links(
            ("further up", lambda: self._move(1)),
            ("further down", lambda: self._move(-1)),
            ("remove this layer", self._remove),
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
            "Always there, below all others."
            if base
            else ""
            if count
            else "Nothing enters it yet: select a control, and choose “more…”, layer."
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
            for _, send in each_send(sends):
                if layer.id in entered_by(send):
                    text = f"{_how(send)} {slot_name(self.stage.studio.profile, slot, self.stage.studio.names)}"
                    found[text] = (slot.layer, slot.control)
        return list(found.items())

    def _go_to(self, layer: str, control: str) -> None:
        self.stage.studio.show_layer(layer)
        self.stage.studio.select(control)

    def _change(self, title: str, merge: str = "", **values: Any) -> None:
        layer = self.layer
        self.stage.studio.edit(
            f"{title}, layer {layer.name}",
            lambda profile: edits.with_layer_set(profile, layer.id, **values),
            merge and f"layer:{layer.id}:{merge}",
        )

    def _rename(self, name: str) -> None:
        layer = self.layer
        if name:
            self.stage.studio.edit(
                f"Layer {layer.name} is now {name}",
                lambda profile: edits.with_layer_set(profile, layer.id, name=name[:200]),
            )

    def _gauge(self, on: bool) -> None:
        whole = self.stage.studio.profile.game.counts_per_turn
        self._change("Turn gauge", counts_per_turn=whole if on else None)

    def _move(self, by: int) -> None:
        layer = self.layer
        self.stage.studio.edit(f"Move layer {layer.name}", lambda q: edits.with_layer_moved(q, layer.id, by))

    def _remove(self) -> None:
        layer = self.layer
        self.stage.studio.edit(f"Remove layer {layer.name}", lambda q: edits.without_layer(q, layer.id))


def _how(send: Send) -> str:
    match send:
        case HoldLayer():
            return "while held:"
        case ChangeLayer(_, how):
            return f"{WAYS.get(how, how)}"
        case NextLayer():
            return "in turn by"
        case _:
            return "by"
