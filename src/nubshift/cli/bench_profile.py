"""The profile that is measured with: a base as a player makes it, and as many more layers as are wanted."""

from __future__ import annotations

from msgspec.structs import replace

from nubshift.model.controls import CONTROLS, PAD_CONTROLS, Kind
from nubshift.model.profile import BASE, ONE_SEAT, Binding, Command, Feel, Layer, Profile, Seat, new_profile
from nubshift.model.roles import GyroRole, KeysRole, MouseRole
from nubshift.model.sends import HoldLayer, SendCommand, SendKey

BUTTONS = ("south", "east", "west", "north", "left_bumper", "right_bumper")


def bench_profile(layers: int, seats: int = 1) -> Profile:
    """A base of ten bindings as a player makes them, and so many more layers of 22 bindings each; for each seat."""
    commands = tuple(Command(f"c{n}", f"Command {n}", (key,)) for n, key in enumerate("ABCDEFGH"))
    keys = KeysRole(up=(SendKey("W"),), right=(SendKey("D"),), down=(SendKey("S"),), left=(SendKey("A"),))
    base = [
        Binding("left_stick", role=keys),
        Binding("right_stick", role=MouseRole()),
        Binding("motion", role=GyroRole()),
        Binding("left_trigger", press=(HoldLayer("aim"),)),
        *(Binding(name, press=(SendCommand(f"c{n}"),)) for n, name in enumerate(BUTTONS)),
    ]
    made = [Layer(BASE, "Base", bindings=tuple(base)), Layer("aim", "Aim", feel=(Feel("right_stick", speed=60.0),))]
    buttons = [name for name in PAD_CONTROLS if CONTROLS[name].kind is not Kind.MOTION]
    for index in range(layers):
        bindings = [
            Binding(name, role=keys) if CONTROLS[name].kind is Kind.STICK else Binding(name, tap=(SendCommand("c1"),))
            for name in buttons
        ]
        made.append(Layer(f"layer-{index}", f"Layer {index}", bindings=tuple(bindings)))
    if seats > 1:
        made = [_for_seats(layer, seats) for layer in made]
    every = tuple(Seat(str(number)) for number in range(1, seats + 1)) if seats > 1 else ONE_SEAT
    return replace(new_profile("Bench"), commands=commands, layers=tuple(made), seats=every)


def _for_seats(layer: Layer, seats: int) -> Layer:
    """The same for players in so many seats."""
    numbers = [str(number) for number in range(1, seats + 1)]
    return replace(
        layer,
        bindings=tuple(replace(binding, seat=number) for number in numbers for binding in layer.bindings),
        feel=tuple(replace(feel, seat=number) for number in numbers for feel in layer.feel),
    )
