"""What all parts of an engine share while a step is worked out: its time, what it sends, and the parts themselves."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import TYPE_CHECKING

from nubshift.engine.belts import Belts
from nubshift.engine.game_toggles import GameToggles
from nubshift.engine.grip import Grip, drop_together
from nubshift.engine.holders import Holders
from nubshift.engine.layers import LayerStack
from nubshift.engine.macros import Macros
from nubshift.engine.motion import Mover
from nubshift.engine.owner import Owner
from nubshift.engine.program import ControlKey, LayerInfo, Program, Steps
from nubshift.engine.timers import Timer, Timers
from nubshift.engine.variants import Variants
from nubshift.engine.virtual_pad import VirtualPad
from nubshift.events import LayerChange, Motion, Output, Rumble, Surface, Wheel
from nubshift.units import Micros

if TYPE_CHECKING:
    from nubshift.engine.positions import PositionState
    from nubshift.engine.turbo import PacedTurbo

ALL: ControlKey = ("", "")
"""What the picture of everything stands under among the surfaces, where others have their control."""

LAYER_RUMBLE_US = 80_000
"""How long the controller tells that a layer was entered, if the layer wants it."""

GAIN_LOW, GAIN_HIGH = 0.05, 20.0
"""How far "slower" and "faster" can go."""


class Core:
    """`t` is the time of the step being worked out, `out` what it sends; all else keeps what goes on.

    `causes` says for whose sake something was sent, by its place in `out`.

    `touched` are positions that something other than their own value asks to follow at the end of the step.
    """

    def __init__(self, program: Program) -> None:
        self.t: Micros = 0
        self.out: list[Output] = []
        self.causes: dict[int, Owner] = {}
        self.begun = 0
        self.timers = Timers()
        self.holders = Holders()
        self.layers = LayerStack(program.layers, self._layer_changed)
        self.mover = Mover(program.tick, Motion)
        self.scroller = Mover(program.tick, Wheel)
        self.pad = VirtualPad()
        self.belts = Belts(program.belts)
        self.macros = Macros(program.macros)
        self.game_toggles = GameToggles(self)
        self.grips: dict[Grip, None] = {}
        self.toggles: dict[str, Grip] = {}
        self.positions: dict[ControlKey, PositionState] = {}
        self.paced: dict[ControlKey, list[PacedTurbo]] = {}
        self.touched: list[PositionState] = []
        self.pressed: set[ControlKey] = set()
        self.listeners: dict[ControlKey, list[Callable[[bool], None]]] = {}
        self.surfaces: dict[ControlKey, Surface] = {}
        self.variants = Variants(program.variants)
        self.gain = 1.0
        self.precision = 1.0
        """What sticks multiply their speed by: the holds of precision, and faster and slower."""
        self.gyro_paused = False
        self.recentred = 0
        self._precisions: list[tuple[object, float]] = []
        self._shows: list[object] = []
        self._feel_version = 0
        self._rumbling: dict[str, Timer] = {}

    @property
    def version(self) -> int:
        """Changes whenever positions have to look again: at the layers, or at their speed."""
        return self.layers.version + self._feel_version

    # Keys and pulses

    def down(self, code: str, by: Owner) -> None:
        """One holder more for a key, mouse button or pad button."""
        place = len(self.out)
        self.holders.down(code, self.t, self.out)
        self.caused(place, by)

    def up(self, code: str, by: Owner) -> None:
        """One holder less."""
        place = len(self.out)
        self.holders.up(code, self.t, self.out)
        self.caused(place, by)

    def send(self, output: Output, by: Owner) -> None:
        """Send something that is not held."""
        self.causes[len(self.out)] = by
        self.out.append(output)

    def move(self, dx: float, dy: float, by: Owner) -> None:
        """Move the mouse by so many counts now."""
        place = len(self.out)
        self.mover.move(dx, dy, self.t, self.out)
        self.caused(place, by)

    def caused(self, place: int, by: Owner | None) -> None:
        """What stands in `out` from `place` on was sent for the sake of `by`."""
        if by is not None and len(self.out) > place:
            self.causes[place] = by

    def pulse(self, steps: Steps, owner: Owner, length: Micros) -> None:
        """Hold steps for `length` µs. If a key of theirs went up in this microsecond, one length later (R6)."""
        codes = [code for step in steps for code in step.codes]
        if codes and self.holders.went_up_at(codes, self.t):
            self.timers.set(self.t + length, partial(self.pulse, steps, owner, length), owner)
            return
        grip = Grip(self, owner)
        self.timers.set(self.t + length, grip.end_all, owner)  # before what the steps set: keys in order end first
        grip.begin(steps)

    # What controls say

    def depth(self, owner: Owner) -> float:
        """How far the owner's control is moved, 0 to 1; along its side if it has one. A plain button is all the way."""
        state = self.positions.get(owner.key)
        return 1.0 if state is None else state.depth(owner.side)

    def is_pressed(self, key: ControlKey) -> bool:
        """Whether a button is down and was pressed since the last stop."""
        return key in self.pressed

    def listen(self, key: ControlKey, call: Callable[[bool], None]) -> None:
        """Tell `call` of every press (True) and release (False) of a button."""
        self.listeners.setdefault(key, []).append(call)

    def unlisten(self, key: ControlKey, call: Callable[[bool], None]) -> None:
        """Tell it no more."""
        calls = self.listeners.get(key, [])
        if call in calls:
            calls.remove(call)
            if not calls:
                del self.listeners[key]

    # Speed

    def change_gain(self, by: float) -> None:
        """Faster or slower from now on."""
        self.gain = min(GAIN_HIGH, max(GAIN_LOW, self.gain * by))
        self._count_precision()

    def add_precision(self, share: float) -> object:
        """A hold of precision; returns the token that ends it."""
        token = object()
        self._precisions.append((token, share))
        self._count_precision()
        return token

    def end_precision(self, token: object) -> None:
        """End a hold of precision."""
        self._precisions = [entry for entry in self._precisions if entry[0] is not token]
        self._count_precision()

    def show_all(self, seat: str) -> object:
        """Ask for the picture of what everything does; returns the token that ends it."""
        token = object()
        self._shows.append(token)
        self.surfaces[ALL] = Surface(seat, "", "all", "", -1)
        return token

    def hide_all(self, token: object) -> None:
        """One who asks less; the picture goes with the last."""
        self._shows = [entry for entry in self._shows if entry is not token]
        if not self._shows:
            self.surfaces.pop(ALL, None)

    def _count_precision(self) -> None:
        self.precision = self.gain
        for _, share in self._precisions:
            self.precision *= share
        self.count_feel()

    def count_feel(self) -> None:
        """Something of the feel changed: positions have to look again."""
        self._feel_version += 1

    # Rumble and layers

    def rumble(self, seat: str, strength: float, length: Micros) -> None:
        """Let a controller rumble for `length` µs; the newest word counts."""
        before = self._rumbling.pop(seat, None)
        if before is not None:
            before.cancel()
        self.out.append(Rumble(self.t, seat, strength))
        self._rumbling[seat] = self.timers.set(self.t + length, partial(self._calm, seat), Owner(seat, "", ""))

    def _calm(self, seat: str) -> None:
        del self._rumbling[seat]
        self.out.append(Rumble(self.t, seat, 0.0))

    def _layer_changed(self, info: LayerInfo, on: bool, by: ControlKey | None) -> None:
        self.send(LayerChange(self.t, info.id, int(on)), Owner(*(by or ALL), info.id))
        if on and info.rumble:
            self.rumble("1", info.rumble, LAYER_RUMBLE_US)

    # Stopping

    def drop(self, of: Callable[[Owner], bool]) -> None:
        """Release what these owners hold, newest first, and forget what they have under way (R12)."""
        self.timers.drop(of)
        self.macros.drop(of)
        self.game_toggles.drop(of)
        drop_together(self.grips, of)
        self.layers.drop(lambda by: of(Owner(*by, "")))
        self.toggles = {place: grip for place, grip in self.toggles.items() if grip}
        for seat in [seat for seat in self._rumbling if of(Owner(seat, "", ""))]:
            self._calm(seat)

    def stop(self) -> None:
        """Release everything held, newest first; end rumble, layers and all that is under way (R12)."""
        self.holders.release_all(self.t, self.out)
        self.pad.neutral(self.t, self.out)
        for seat in tuple(self._rumbling):
            self._calm(seat)
        self.layers.clear()
        self.timers.clear()
        self.macros.clear()
        self.game_toggles.clear()
        for grip in self.grips:
            grip.forget()
        self.grips.clear()
        self.toggles.clear()
        self.paced.clear()
        self.touched.clear()
        self.pressed.clear()
        self.gyro_paused = False
        self._shows.clear()
        self.surfaces.pop(ALL, None)
        if self._precisions:
            self._precisions.clear()
            self._count_precision()
        self.mover.drop(self.t)
        self.scroller.drop(self.t)
