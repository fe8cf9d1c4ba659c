"""A profile into a `Program`. Done once per edit; all checks of names have been made by the reader of profiles."""

from __future__ import annotations

from nubshift.engine.program import (
    BLOCKED,
    Blocked,
    ButtonEntry,
    Entry,
    KeyStep,
    LayerInfo,
    LayerStep,
    Press,
    Program,
    SensedEntry,
    StickEntry,
    StickKeys,
    StickMouse,
    StickRole,
    TriggerEntry,
)  # fmt: skip
from nubshift.model.controls import CONTROLS, ControlInfo, Kind
from nubshift.model.parameters import PRESS_AT, PRESS_HYSTERESIS
from nubshift.model.profile import (
    DIRECTIONS,
    Binding,
    Feel,
    HoldLayer,
    KeysRole,
    Layer,
    MouseRole,
    Profile,
    SendCommand,
    SendKey,
    Sends,
)  # fmt: skip
from nubshift.units import MILLISECOND


def compile_profile(profile: Profile) -> Program:
    """The program of a valid profile."""
    return _Compiler(profile).program()


class _Compiler:
    def __init__(self, profile: Profile) -> None:
        self._profile = profile
        self._keys = {command.id: command.keys for command in profile.commands}
        self._bindings = [{(b.seat, b.control): b for b in layer.bindings} for layer in profile.layers]
        self._feels = [{(f.seat, f.control): f for f in layer.feel} for layer in profile.layers]

    def program(self) -> Program:
        profile = self._profile
        controls = {
            (seat.id, info.name): self._entry(seat.id, info) for seat in profile.seats for info in CONTROLS.values()
        }
        return Program(
            layers=tuple(LayerInfo(layer.id, layer.hides) for layer in profile.layers),
            controls=controls,
            tick=profile.game.tick * MILLISECOND,
            counts_per_degree=profile.game.counts_per_turn / 360.0,
        )

    def _entry(self, seat: str, info: ControlInfo) -> Entry:
        key = (seat, info.name)
        bound = [
            (layer, bindings.get(key)) for layer, bindings in zip(self._profile.layers, self._bindings, strict=True)
        ]
        feels = tuple(feel.get(key) for feel in self._feels)
        match info.kind:
            case Kind.BUTTON:
                presses = tuple(self._press_of(layer, binding) for layer, binding in bound)
                return ButtonEntry(presses, _any_changes(presses))
            case Kind.TRIGGER:
                presses = tuple(self._press_of(layer, binding) for layer, binding in bound)
                press_at = _press_at(feels[0])
                return TriggerEntry(presses, _any_changes(presses), press_at, press_at - PRESS_HYSTERESIS)
            case Kind.STICK:
                return StickEntry(tuple(self._role_of(layer, binding) for layer, binding in bound), feels)
            case Kind.MOTION:
                return SensedEntry()

    def _press_of(self, layer: Layer, binding: Binding | None) -> Press | Blocked | None:
        if binding is None:
            return None
        if binding.blocked:
            return BLOCKED
        return self._press(layer, binding.press) if binding.press else None

    def _press(self, layer: Layer, sends: Sends) -> Press:
        """The steps of some sends in order. A key named twice is held once, from its first place on."""
        steps: dict[KeyStep | LayerStep, None] = {}
        for send in sends:
            match send:
                case SendCommand(command):
                    steps.update(dict.fromkeys(KeyStep(key) for key in self._keys[command]))
                case SendKey(key):
                    steps[KeyStep(key)] = None
                case HoldLayer(layer_id):
                    steps[LayerStep(layer_id)] = None
        return Press(tuple(steps), layer.id)

    def _role_of(self, layer: Layer, binding: Binding | None) -> StickRole | Blocked | None:
        if binding is None:
            return None
        if binding.blocked:
            return BLOCKED
        match binding.role:
            case KeysRole() as role:
                return self._stick_keys(layer, role)
            case MouseRole():
                return StickMouse(layer.id)
            case None:
                return None

    def _stick_keys(self, layer: Layer, role: KeysRole) -> StickKeys:
        """With four directions a diagonal sector holds both neighbours, in the order up, right, down, left (R3)."""
        by_sector = [
            (self._press(layer, sends),) if (sends := role.sends(direction)) else () for direction in DIRECTIONS
        ]
        if role.directions == 4:
            for diagonal in (1, 3, 5, 7):
                first, second = sorted((diagonal - 1, (diagonal + 1) % 8))
                by_sector[diagonal] = (*by_sector[first], *by_sector[second])
        return StickKeys(tuple(by_sector), layer.id)


def _any_changes(presses: tuple[Press | Blocked | None, ...]) -> bool:
    return any(isinstance(press, Press) and press.changes_layers for press in presses)


def _press_at(feel: Feel | None) -> float:
    return feel.press_at if feel is not None and feel.press_at is not None else PRESS_AT.default
