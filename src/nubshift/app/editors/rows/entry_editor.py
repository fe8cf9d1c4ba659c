"""What can be set of one thing sent: whether it stays on or repeats, and its own numbers and names."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any, assert_never

from msgspec.structs import replace
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from nubshift.app.document import subject
from nubshift.app.editors.number_row import NumberRow
from nubshift.app.editors.panel import Choices, Panel, TextRow, emptied, link
from nubshift.app.editors.pictures.pickers import ScreenPoint, Swatches
from nubshift.app.editors.pictures.pulses import PulsePicture
from nubshift.app.editors.rows.slot_view import SlotView
from nubshift.app.painting.theme import LIGHT_NAMES
from nubshift.app.stage import Stage
from nubshift.model import edits
from nubshift.model import parameters as p
from nubshift.model.controls import Kind, kind_of
from nubshift.model.entries import beat_of, core_of, stays_on, with_beat, with_core, with_staying_on
from nubshift.model.keys import label
from nubshift.model.parameters import Parameter
from nubshift.model.sends import (
    BackToBase,
    ChangeLayer,
    ChangeSpeed,
    Gyro,
    HoldLayer,
    HoldProfile,
    InOrder,
    NextLayer,
    NextVariant,
    PlainSend,
    Precision,
    Pulsed,
    Send,
    SendBelt,
    SendCommand,
    SendKey,
    SendLight,
    SendMacro,
    SendMotion,
    SendNothing,
    SendPad,
    SendPadAxis,
    SendPoint,
    SendRumble,
    SendScroll,
    SendText,
    SendWheel,
    ShowAll,
    Toggled,
    Turbo,
)
from nubshift.model.slots import BELT, MACRO
from nubshift.texts import _, switched

WAYS = {"up": _("Up"), "down": _("Down"), "left": _("Left"), "right": _("Right")}
MOMENTARY = (
    ChangeLayer,
    BackToBase,
    NextLayer,
    SendWheel,
    SendMotion,
    SendPoint,
    ChangeSpeed,
    SendText,
    Gyro,
    SendRumble,
    SendLight,
    SendNothing,
)
"""What happens once and can't be held."""

NOTCHES = Parameter(
    name="notches",
    label=_("Notches"),
    unit="",
    low=1,
    high=20,
    default=1,
    step=1,
    help=_("How far the wheel turns with each press."),
)
COUNTS = {
    side: Parameter(
        name=side,
        label=text,
        unit=_("counts"),
        low=-2000,
        high=2000,
        default=0,
        step=10,
        help=_("How far the mouse moves with each press; right and down are positive."),
    )
    for side, text in (("dx", _("Right")), ("dy", _("Down")))
}
STRENGTH = Parameter(
    name="strength",
    label=_("Strength"),
    unit="%",
    low=0,
    high=1,
    default=0.5,
    step=0.05,
    shown=100,
    help=_("How strongly the controller rumbles."),
)
AXIS_VALUE = Parameter(
    name="value",
    label=_("Pushed to"),
    unit="%",
    low=-1,
    high=1,
    default=1,
    step=0.05,
    shown=100,
    help=_("How far the axis is pushed while this is held."),
)


BEATS: dict[str, tuple[str, Turbo | Pulsed | None]] = {
    "steady": (_("Steady"), None),
    "turbo": (_("Turbo"), Turbo(())),
    "by turbo": (_("Turbo, faster with depth"), Turbo((), 2.0, rate_at_full=12.0)),
    "pulsed": (_("Pulsed by depth"), Pulsed(())),
}
"""What is chosen, with its title and what the entry gets."""


class EntryEditor(Panel):
    """The entry chosen in a slot. Made anew when it is another kind of thing, brought up to date in place else."""

    def __init__(self, stage: Stage, view: SlotView) -> None:
        super().__init__(stage)
        self._view = view
        self._shape: object = None
        self._fresh: list[Callable[[Send], None]] = []
        self._inside = QVBoxLayout()
        self._inside.setSpacing(5)
        self.column.addLayout(self._inside)
        self.column = self._inside
        self.mode: Choices | None = None
        self.beat: Choices | None = None
        self.order: Choices | None = None
        view.row_changed.connect(self.refresh)

    def refresh(self) -> None:
        """Another entry, or an edit."""
        send = self._view.entry
        rows = len(self._view.entries.rows)
        core = core_of(send) if send is not None else None
        beat = beat_of(send) if send is not None else None
        shape = (
            self._view.slot.control,
            type(core),
            getattr(core, "belt", ""),
            getattr(core, "macro", ""),
            isinstance(send, Toggled),
            type(beat),
            isinstance(beat, Turbo) and beat.rate_at_full is not None,
            rows > 1,
            self._view.entries.ordered,
        )
        if shape != self._shape:
            self._shape = shape
            self._rebuild(send)
        if send is not None:
            for bring in self._fresh:
                bring(send)
        self.setVisible(send is not None)

    def _rebuild(self, send: Send | None) -> None:
        emptied(self._inside)
        self._fresh = []
        self.mode, self.beat, self.order = None, None, None
        if send is None:
            return
        if len(self._view.entries.rows) > 1:
            self._make_order()
        self._make_core(core_of(send))
        if not isinstance(core_of(send), MOMENTARY):
            self._make_while(send)

    # In order or at once

    def _make_order(self) -> None:
        self.order = Choices(_("Sent"), {"at once": _("Together"), "in order": _("In order")}, self._ordered)
        self.add(self.order)
        order = self.order
        self._fresh.append(lambda _: order.show_choice("in order" if self._view.entries.ordered else "at once"))
        if self._view.entries.ordered:
            gap = self.number(p.CHORD_GAP, lambda ms: self._view.set_order(True, round(ms), "gap"))
            habit = self.stage.studio.profile.habits.chord_gap
            self._fresh.append(lambda _: gap.show_value(self._view.entries.gap or habit))

    def _ordered(self, value: str) -> None:
        self._view.set_order(value == "in order")

    # While it sends

    def _make_while(self, send: Send) -> None:
        heading = self.heading(_("Mode"))
        heading.setContentsMargins(0, 4, 0, 0)
        self.mode = Choices(
            _("Mode"), {"held": _("While held"), "on": _("Toggle")}, lambda value: self._toggled(value == "on")
        )
        self.add(self.mode)
        mode = self.mode
        self._fresh.append(lambda s: mode.show_choice("on" if stays_on(s) else "held"))
        if isinstance(core_of(send), SendMacro | SendBelt):
            return
        words = {"steady": _("Steady"), "turbo": _("Turbo")}
        if self._has_depth:
            words |= {"by turbo": _("Turbo, faster with depth"), "pulsed": _("Pulsed by depth")}
        self.beat = Choices(_("Repeat"), words, self._beaten)
        self.add(self.beat)
        beat = self.beat
        self._fresh.append(lambda s: beat.show_choice(_beat_name(beat_of(s))))
        if isinstance(send, Toggled):
            self._make_comes_back()
        if beat_of(send) is not None:
            picture = PulsePicture(self.stage.look, self._set_beat, self.stage.document.history.settle)
            self.add(picture)
            self._fresh.append(lambda s: picture.show_beat(beat_of(s)))

    def _make_comes_back(self) -> None:
        def set_to(on: bool) -> None:
            send = self._view.entry
            if isinstance(send, Toggled):
                self._view.change_entry(switched(_("On again when the game is back"), on), replace(send, comes_back=on))

        box = self.check(_("On again when the game is back"), set_to)
        self._fresh.append(lambda s: box.setChecked(isinstance(s, Toggled) and s.comes_back))

    @property
    def _has_depth(self) -> bool:
        slot = self._view.slot
        if slot.control.startswith((BELT, MACRO)):
            return False
        return kind_of(slot.control) is not Kind.BUTTON

    def _toggled(self, on: bool) -> None:
        send = self._view.entry
        if send is not None:
            title = _("Toggle") if on else _("While held")
            self._view.change_entry(title, with_staying_on(send, on))

    def _beaten(self, value: str) -> None:
        send = self._view.entry
        if send is None:
            return
        title, beat = BEATS[value]
        self._view.change_entry(title, with_beat(send, beat))

    def _set_beat(self, beat: Turbo | Pulsed) -> None:
        send = self._view.entry
        if send is not None:
            text = (
                _("{rate:g} a second").format(rate=beat.rate)
                if isinstance(beat, Turbo)
                else _("A pulse every {period} ms").format(period=beat.period)
            )
            self._view.change_entry(text, with_beat(send, beat), "beat")

    # Its own

    def _put(self, title: str, merge: str = "", **values: Any) -> None:
        send = self._view.entry
        if send is not None:
            self._view.change_entry(title, with_core(send, replace(core_of(send), **values)), merge)

    def _number(self, parameter: Parameter, field: str, whole: bool = False) -> NumberRow:
        def changed(value: float) -> None:
            self._put(f"{parameter.label} {parameter.text(value)}", field, **{field: round(value) if whole else value})

        row = self.number(parameter, changed, square=True)
        self._fresh.append(lambda s: row.show_value(float(getattr(core_of(s), field))))
        return row

    def _choice(self, name: str, field: str, words: dict[str, str] | tuple[str, ...]) -> None:
        choices = Choices(name, words, lambda value: self._put(f"{name}: {value}", **{field: value}))
        self.add(choices)
        self._fresh.append(lambda s: choices.show_choice(str(getattr(core_of(s), field))))

    def _make_core(self, core: Send) -> None:
        profile = self.stage.studio.profile
        layers = {layer.id: layer.name for layer in profile.layers[1:]}
        match core:
            case SendCommand(command):
                self.add(self._left(link(_("Edit command…"), lambda: self._look(subject.command(command)))))
            case SendKey(key):
                self.add(
                    self._left(
                        link(_("Name the command for {label}…").format(label=label(key)), lambda: self._name_key(key))
                    )
                )
            case HoldLayer():
                self._choice(_("Layer"), "layer", layers)
            case ChangeLayer():
                self._choice(_("Layer"), "layer", layers)
                self._choice(
                    _("Change"),
                    "how",
                    {
                        "toggle": _("Toggle"),
                        "once": _("For the next press"),
                        "enter": _("Enter"),
                        "leave": _("Leave"),
                        "only": _("Only this layer"),
                    },
                )
            case NextLayer():
                self._make_steps(layers)
            case SendBelt(belt):
                self._choice(_("Step"), "step", {"next": _("Next"), "back": _("Back"), "again": _("Again")})
                self.add(self._left(link(_("Open belt"), lambda: self._look(subject.belt(belt)))))
            case SendMacro(macro):
                self.add(self._left(link(_("Open macro"), lambda: self._look(subject.macro(macro)))))
            case SendText():
                row = TextRow(
                    _("Types"),
                    lambda text: self._put(_("Text “{text}”").format(text=text[:20]), text=text) if text else None,
                )
                self.add(row)
                self._fresh.append(lambda s: row.show_text(getattr(core_of(s), "text", "")))
            case SendWheel():
                self._choice(_("Direction"), "way", WAYS)
                self._number(NOTCHES, "notches", True)
            case SendScroll():
                self._choice(_("Direction"), "way", WAYS)
                self._number(p.SCROLL_SPEED, "speed")
            case SendMotion():
                self._number(COUNTS["dx"], "dx", True)
                self._number(COUNTS["dy"], "dy", True)
            case _:
                self._make_more(core)

    def _make_more(self, core: PlainSend | BackToBase | HoldProfile | Turbo | Pulsed | Toggled | InOrder) -> None:
        match core:
            case SendPoint():
                screen = ScreenPoint(self.stage)
                screen.moved.connect(
                    lambda x, y: self._put(_("Cursor to {x:.0%}, {y:.0%}").format(x=x, y=y), "point", x=x, y=y)
                )
                screen.settled.connect(self.stage.document.history.settle)
                self.add(screen)
                self._fresh.append(
                    lambda s: screen.show_point(getattr(core_of(s), "x", 0), getattr(core_of(s), "y", 0))
                )
            case ChangeSpeed():
                self._number(p.SPEED_STEP, "by")
            case Precision():
                self._number(p.PRECISION, "share")
            case SendRumble():
                self._number(STRENGTH, "strength")
                self._number(p.RUMBLE_TIME, "ms", True)
            case SendLight():
                swatches = Swatches(self.stage)
                swatches.chosen.connect(
                    lambda colour: self._put(
                        _("Light {colour}").format(colour=LIGHT_NAMES.get(colour, colour)), colour=colour
                    )
                )
                self.add(swatches)
                self._fresh.append(lambda s: swatches.show_colour(getattr(core_of(s), "colour", "")))
            case Gyro():
                self._choice(
                    _("The gyro"),
                    "do",
                    {"pause": _("Pause"), "resume": _("Resume"), "toggle": _("Toggle"), "recentre": _("Recentre")},
                )
            case SendPadAxis():
                self._number(AXIS_VALUE, "value")
            case SendPad():
                if self.stage.studio.profile.game.pad == "none":
                    self.quiet(_("The game has no virtual pad yet. Choose one in the profile settings."))
            case Turbo() | Pulsed() | Toggled() | InOrder():
                self.quiet(_("Several outputs that repeat together."))
            case BackToBase() | HoldProfile() | ShowAll() | NextVariant() | SendNothing():
                pass  # there is nothing to set
            case SendWheel() | SendScroll() | SendMotion() | SendText():
                raise AssertionError("made before")
            case never:
                assert_never(never)

    def _make_steps(self, layers: dict[str, str]) -> None:
        self.quiet(_("Each press goes to the next layer, and from the last back to Base."))
        boxes = {}
        for layer, name in layers.items():
            boxes[layer] = self.check(name, partial(self._step_layer, layer))

        def bring(send: Send) -> None:
            core = core_of(send)
            for layer, box in boxes.items():
                box.setChecked(isinstance(core, NextLayer) and layer in core.layers)

        self._fresh.append(bring)

    def _step_layer(self, layer: str, on: bool) -> None:
        send = self._view.entry
        core = core_of(send) if send is not None else None
        if isinstance(core, NextLayer):
            kept = tuple(name for name in core.layers if name != layer)
            self._put(_("Layers to step through"), layers=(*kept, layer) if on else kept)

    @staticmethod
    def _left(widget: QWidget) -> QWidget:
        widget.setSizePolicy(widget.sizePolicy().Policy.Maximum, widget.sizePolicy().Policy.Fixed)
        return widget

    def _look(self, wanted: subject.Subject) -> None:
        self.stage.selection.look_at(wanted)

    def _name_key(self, key: str) -> None:
        """Make a command of the game out of a bare key."""
        self.stage.wishes.name(
            _("What does {label} do in the game?").format(label=label(key)), "", lambda name: self._made(name, key)
        )

    def _made(self, name: str, key: str) -> None:
        self.stage.document.edit(
            _("{name} is {label}").format(name=name, label=label(key)),
            lambda profile: edits.with_key_named(profile, key, name),
        )


def _beat_name(beat: Turbo | Pulsed | None) -> str:
    if beat is None:
        return "steady"
    if isinstance(beat, Pulsed):
        return "pulsed"
    return "turbo" if beat.rate_at_full is None else _("Turbo")
