"""Who reaches what: the finger of each control as a player has it, and commands that one finger can't do at once (N70).

Kept per player and model of controller in a file of its own, since hands differ and profiles are shared.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from pathlib import Path
from typing import Final, Literal

import msgspec
from msgspec import Struct, field

from nubshift.model.controls import CONTROLS, PAD_CONTROLS, Finger, Kind, kind_of
from nubshift.model.files import read_companion
from nubshift.model.names import Names
from nubshift.model.profile import BASE, Binding, Layer, Profile
from nubshift.model.roles import MouseRole
from nubshift.model.sends import HoldLayer, SendCommand, Sends
from nubshift.model.slots import Slot
from nubshift.model.store import write_atomically
from nubshift.model.usage import look_up, slots_by_command, slots_of
from nubshift.model.walk import every_send, sends_in
from nubshift.texts import _

FORMAT: Final = "nubshift-reach"

ONE_AT_A_TIME = frozenset(
    {
        Finger.LEFT_INDEX,
        Finger.RIGHT_INDEX,
        Finger.LEFT_THUMB,
        Finger.RIGHT_THUMB,
        Finger.MOUTH,
        Finger.LEFT_FOOT,
        Finger.RIGHT_FOOT,
    }
)
"""What can be at one control only. Grips have several fingers, and whole hands tilt while fingers press."""

Moved = Mapping[str, Finger]
"""The controls that a player reaches otherwise than most."""


class ReachFile(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """For each player (seat) and model of controller, the controls reached otherwise."""

    format: Literal["nubshift-reach"] = FORMAT
    version: Literal[1] = 1
    players: dict[str, dict[str, dict[str, Finger]]] = {}

    def of(self, player: str, model: str) -> dict[str, Finger]:
        """The controls that a player has elsewhere on a controller."""
        return self.players.get(player, {}).get(model, {})

    def with_moved(
        self, player: str, model: str, control: str, reach: Finger | None, usual: Finger | None = None
    ) -> ReachFile:
        """The same with a control given to `reach`, or back to where most have it (None): `usual` on this model."""
        own = {name: where for name, where in self.of(player, model).items() if name != control}
        if reach is not None and reach != (usual or CONTROLS[control].reach):
            own[control] = reach
        models = {**self.players.get(player, {}), model: own}
        return msgspec.structs.replace(self, players={**self.players, player: models})


def read_reach(path: Path) -> ReachFile:
    """The file at `path`; an empty one where there is none. Raises StorageError; see `read_companion`."""
    return read_companion(path, ReachFile, _("Which finger reaches what")) or ReachFile()


def write_reach(path: Path, reach: ReachFile) -> None:
    """Keep it. Raises StorageError."""
    write_atomically(path, msgspec.json.format(msgspec.json.encode(reach), indent=2) + b"\n")


def finger_of(control: str, moved: Moved) -> Finger:
    """What reaches a control."""
    return moved.get(control, CONTROLS[control].reach)


class Clash(Struct, frozen=True):
    """Two controls of one finger that are needed together: why, and a free control that would do (empty: none)."""

    control: str
    other: str
    reach: Finger
    reason: str
    instead: str = ""
    names: Names = field(default_factory=Names)

    @property
    def suggestion(self) -> str:
        """What to do about it."""
        if not self.instead:
            return ""
        return _("{instead} is free.").format(instead=self.names.title(self.instead))


def clashes(
    profile: Profile, moved: Moved, controls: Iterable[str] = PAD_CONTROLS, seat: str = "1", names: Names | None = None
) -> tuple[Clash, ...]:
    """Every pair of controls that one finger would have to hold at the same time, each pair once."""
    finder = _Finder(profile, moved, tuple(controls), seat, names or Names())
    found: dict[frozenset[str], Clash] = {}
    for clash in (*finder.marked(), *finder.held_layers(), *finder.looking()):
        found.setdefault(frozenset((clash.control, clash.other)), clash)
    return tuple(found.values())


class _Finder:
    def __init__(self, profile: Profile, moved: Moved, controls: tuple[str, ...], seat: str, names: Names) -> None:
        self._names = names
        self._profile, self._moved, self._controls, self._seat = profile, moved, controls, seat
        self._slots = [(slot, sends) for slot, sends in slots_of(profile) if slot.seat == seat]
        self._bound = {slot.control for slot, _unused in self._slots}
        self._bound |= {b.control for layer in profile.layers for b in layer.bindings if b.sets}
        self._layers = {layer.id: layer for layer in profile.layers}
        self._commands = {command.id: command for command in profile.commands}
        self._looked: dict[str, str | None] = {}
        self._sending: dict[str, tuple[Binding, ...]] = {}

    def _finger(self, control: str) -> Finger | None:
        """The one finger of a control; None for those with several fingers, or none of their own."""
        reach = finger_of(control, self._moved) if control in CONTROLS else None
        return reach if reach in ONE_AT_A_TIME else None

    def _free(self, reach: Finger) -> str:
        return next(
            (
                c
                for c in self._controls
                if c not in self._bound
                and kind_of(c) in (Kind.BUTTON, Kind.TRIGGER)
                and finger_of(c, self._moved) != reach
            ),
            "",
        )

    def _clash(self, control: str, other: str, reach: Finger, reason: str) -> Clash:
        return Clash(control, other, reach, reason, self._free(reach), self._names)

    def marked(self) -> Iterator[Clash]:
        """Pairs that the player marked, if no way of sending both is left to two fingers."""
        by_command = slots_by_command(self._profile) if self._profile.needed else {}
        for pair in self._profile.needed:
            one = [s for s in by_command.get(pair.one, []) if s.seat == self._seat]
            other = [s for s in by_command.get(pair.other, []) if s.seat == self._seat]
            ways = [(a, b) for a in one for b in other]
            if not ways or any(not self._same_finger(a, b) for a, b in ways):
                continue
            a, b = ways[0]
            reach = finger_of(a.control, self._moved)
            reason = _("{command} and {command_2} are needed together").format(
                command=self._command(pair.one), command_2=self._command(pair.other)
            )
            yield self._clash(
                b.control, a.control, reach, _("{reason}, and the {reach} has both.").format(reason=reason, reach=reach)
            )

    def _same_finger(self, one: Slot, other: Slot) -> bool:
        if one.control == other.control:
            return one.direction is None or other.direction is None
        finger = self._finger(one.control)
        return finger is not None and finger == self._finger(other.control)

    def _command(self, command: str) -> str:
        found = self._commands.get(command)
        return found.name if found else command

    def _holders(self) -> Iterator[tuple[str, Layer, Sends]]:
        """Controls that hold a layer, with the layer, and all that they send beside."""
        for slot, sends in self._slots:
            for send in every_send(sends):
                layer = self._layers.get(send.layer) if isinstance(send, HoldLayer) else None
                if layer is not None:
                    yield slot.control, layer, sends

    def held_layers(self) -> Iterator[Clash]:
        """What a layer has on the finger that holds the layer."""
        holders = {(holder, layer.id): layer for holder, layer, _unused in self._holders()}
        for (holder, _unused), layer in holders.items():
            finger = self._finger(holder)
            for binding in self._sent_in(layer) if finger is not None else ():
                if finger is not None and binding.control != holder and self._finger(binding.control) == finger:
                    held = self._names.inside(holder)
                    reason = _("The {finger} holds {name} with {held} and can't come here then.").format(
                        finger=finger, name=layer.name, held=held
                    )
                    yield self._clash(binding.control, holder, finger, reason)

    def _sent_in(self, layer: Layer) -> tuple[Binding, ...]:
        """What a layer has for this player that sends something."""
        if layer.id not in self._sending:
            own = (binding for binding in layer.bindings if binding.seat == self._seat)
            self._sending[layer.id] = tuple(binding for binding in own if binding.sets and not binding.blocked)
        return self._sending[layer.id]

    def looking(self) -> Iterator[Clash]:
        """Commands of the group that a layer is held for, on the thumb that looks around in it."""
        for holder, layer, sends in self._holders():
            groups = {
                command.group
                for send in every_send(sends)
                if isinstance(send, SendCommand) and (command := self._commands.get(send.command))
            } - {""}
            look = self._look_of(layer.id)
            finger = self._finger(look) if look else None
            if look is None or finger is None or not groups:
                continue
            for control in self._controls:
                if control in (look, holder, f"{look}_click") or self._finger(control) != finger:
                    continue
                name = self._in_groups(layer.id, control, groups)
                if name:
                    looks = self._names.inside(look)
                    reason = _("{name} is needed in {name_2}, while the {finger} looks around with {looks}.").format(
                        name=name, name_2=layer.name, finger=finger, looks=looks
                    )
                    yield self._clash(control, look, finger, reason)

    def _look_of(self, layer: str) -> str | None:
        """The control that looks around while a layer is active."""
        if layer not in self._looked:
            self._looked[layer] = next((c for c in self._controls if self._looks(layer, c)), None)
        return self._looked[layer]

    def _looks(self, layer: str, control: str) -> bool:
        found = look_up(self._profile, layer, control, self._seat)
        return found is not None and isinstance(found.binding.role, MouseRole)

    def _in_groups(self, layer: str, control: str, groups: set[str]) -> str:
        found = look_up(self._profile, layer, control, self._seat)
        if found is None or (layer != BASE and found.layer.id == BASE and found.binding.role is not None):
            return ""
        for _unused, sends in sends_in(found.binding):
            for send in every_send(sends):
                command = self._commands.get(send.command) if isinstance(send, SendCommand) else None
                if command is not None and command.group in groups:
                    return command.name
        return ""
