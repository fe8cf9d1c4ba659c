"""What looks forgotten or won't work in a profile (need N12): each finding with its place, in words of the game.

Findings are no errors (those are in `rules`): the profile plays, but maybe not as its player thinks.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from msgspec import Struct

from nubshift.errors import Problem, Severity
from nubshift.model.controls import BUTTON_LIKE, CONTROLS, DPAD, Kind
from nubshift.model.keys import label
from nubshift.model.layouts import US, Layout, refusals
from nubshift.model.profile import BASE, Command, Layer, Profile
from nubshift.model.roles import BoardRole, GyroRole, MenuRole, Role
from nubshift.model.sends import (
    HoldProfile,
    NextLayer,
    Pulsed,
    Send,
    SendBelt,
    SendCommand,
    SendKey,
    SendMacro,
    SendPad,
    SendPadAxis,
    SendText,
    Turbo,
)
from nubshift.model.slots import index_of
from nubshift.model.usage import entered_by
from nubshift.model.walk import Place, each_send, every_send, part_name, places
from nubshift.texts import _


def command_warnings(profile: Profile) -> dict[str, str]:
    """What is wrong with each command, for its row in the list: no key, unreachable, or the key of another one."""
    found: dict[str, str] = {}
    for problem in _Check(profile).commands():
        index = index_of(problem.place)
        if index >= 0:
            found[profile.commands[index].id] = f"{problem.text[0].upper()}{problem.text[1:]}."
    by_keys: dict[frozenset[str], list[Command]] = {}
    for command in profile.commands:
        if command.keys:
            by_keys.setdefault(frozenset(command.keys), []).append(command)
    for commands in by_keys.values():
        for command in commands if len(commands) > 1 else ():
            others = " and ".join(f"“{c.name}”" for c in commands if c is not command)
            found[command.id] = (
                _("{found} It has the same key as {others}.")
                .format(found=found.get(command.id, ""), others=others)
                .strip()
            )
    return found


class Setting(Struct, frozen=True):
    """What is known around a profile: its neighbours by file name, the keyboard layout, the controls at hand."""

    others: Mapping[str, Profile] | None = None
    layout: Layout = US
    controls: tuple[str, ...] = ()


def findings(profile: Profile, setting: Setting | None = None) -> tuple[Problem, ...]:
    """Everything that a player should look at, in the order: commands, layers, controls, texts and files."""
    setting = setting or Setting()
    check = _Check(profile)
    return (
        *check.commands(),
        *check.layers(),
        *check.controls(setting),
        *check.texts(setting.layout),
        *check.neighbours(setting.others),
    )


def _warn(place: str, text: str) -> Problem:
    return Problem(place, text, Severity.WARNING)


class _Check:
    def __init__(self, profile: Profile) -> None:
        self._profile = profile
        self._commands = {command.id: command for command in profile.commands}
        self._places = list(places(profile))
        self._entered = self._reachable_layers()

    # What can be reached

    def _reachable_layers(self) -> set[str]:
        """The base, and every layer that something in a reachable layer enters."""
        entered: dict[str, set[str]] = {}
        for place in self._places:
            if place.control:
                for send in self._sent(place):
                    entered.setdefault(place.layer, set()).update(entered_by(send))
        there = {layer.id for layer in self._profile.layers}
        reached, waiting = {BASE}, [BASE]
        while waiting:
            new = (entered.get(waiting.pop(), set()) & there) - reached
            reached |= new
            waiting += new
        return reached

    def _live(self, layers: set[str]) -> Iterator[Place]:
        """The places of controls in these layers."""
        return (place for place in self._places if place.control and place.layer in layers)

    def _sent(self, place: Place) -> Iterator[Send]:
        """What a place sends, what its belts and macros send included."""
        for send in every_send(place.sends):
            yield send
            if not isinstance(send, SendBelt | SendMacro):
                continue
            for path, holder in (("belts", "belt"), ("macros", "macro")):
                name = getattr(send, holder, None) if isinstance(send, SendBelt | SendMacro) else None
                part = next((p for p in getattr(self._profile, path) if p.id == name), None)
                if part is not None:
                    prefix = f"{path}[{getattr(self._profile, path).index(part)}]"
                    for inner in self._places:
                        if inner.path.startswith(prefix):
                            yield from (s for s in every_send(inner.sends))

    def _keys_of(self, send: Send) -> set[str]:
        """The keys and mouse buttons that one send holds down."""
        if isinstance(send, SendKey):
            return {send.key}
        if isinstance(send, SendCommand):
            command = self._commands.get(send.command)
            return set(command.keys) if command else set()
        return set()

    # Commands

    def commands(self) -> Iterator[Problem]:
        reached = [send for place in self._live(self._entered) for send in self._sent(place)]
        sent = {send.command for send in reached if isinstance(send, SendCommand)}
        keys = {key for send in reached for key in self._keys_of(send)}
        somewhere = {s.command for place in self._places for s in every_send(place.sends) if isinstance(s, SendCommand)}
        by_keys: dict[frozenset[str], list[str]] = {}
        for index, command in enumerate(self._profile.commands):
            place = f"commands[{index}]"
            if not command.keys and not command.pad:
                yield _warn(place, _("“{name}” has no key yet, so it can't be sent").format(name=command.name))
                continue
            if command.keys:
                by_keys.setdefault(frozenset(command.keys), []).append(command.name)
            if command.id in sent or (command.keys and keys >= set(command.keys)):
                continue
            if command.id in somewhere:
                yield _warn(
                    place,
                    _("“{name}” is only in a layer, belt or macro that nothing leads to").format(name=command.name),
                )
            else:
                yield _warn(place, _("no control sends “{name}”").format(name=command.name))
        for used, names in by_keys.items():
            if len(names) > 1:
                shown = " + ".join(label(key) for key in sorted(used))
                told = " and ".join(f"“{name}”" for name in names)
                yield _warn(
                    "commands",
                    _("{told} have the same key, {shown}; the game can't tell them apart").format(
                        told=told, shown=shown
                    ),
                )

    # Layers

    def layers(self) -> Iterator[Problem]:
        for index, layer in enumerate(self._profile.layers):
            place = f"layers[{index}]"
            if layer.id not in self._entered:
                yield _warn(place, _("nothing enters the layer “{name}”").format(name=layer.name))
            elif layer.id != BASE and not self._leaves(layer):
                yield _warn(
                    place, _("once the layer “{name}” is entered, nothing leaves it again").format(name=layer.name)
                )
            for at, together in enumerate(layer.together):
                for other in layer.together:
                    if other.seat == together.seat and set(other.controls) < set(together.controls):
                        words = _("{all} are hard to press together here: {some} are sent as soon as they are down")
                        text = words.format(all=_names(together.controls), some=_names(other.controls))
                        yield _warn(f"{place}.together[{at}]", text)

    def _leaves(self, layer: Layer) -> bool:
        """Whether what enters a layer also ends, or something that can be pressed in it leaves it."""
        entering = [s for place in self._live(self._entered) for s in self._sent(place) if layer.id in entered_by(s)]
        ends_itself = any(_ends(send) for send in entering)
        shown = {layer.id} if layer.hides else self._entered
        return ends_itself or any(
            _leaves(send, layer.id) for place in self._live(shown | {layer.id}) for send in self._sent(place)
        )

    # Controls

    def controls(self, setting: Setting) -> Iterator[Problem]:
        bound = {(b.seat, b.control) for layer in self._profile.layers for b in layer.bindings if b.sets}
        bound |= {(t.seat, c) for layer in self._profile.layers for t in layer.together for c in t.controls}
        used_by = {
            (binding.seat, role.by)
            for layer in self._profile.layers
            for binding in layer.bindings
            if isinstance(role := binding.role, MenuRole | BoardRole | GyroRole) and role.by
        }
        for seat in self._profile.seats[:1]:  # further seats share the first one's work and need not use everything
            whole = (seat.id, "dpad") in bound
            for name in setting.controls:
                free = (seat.id, name) not in bound | used_by and not (whole and name in DPAD)
                if free and CONTROLS[name].kind in (*BUTTON_LIKE, Kind.STICK):
                    yield _warn("layers[0]", _("{title} is unassigned").format(title=CONTROLS[name].title))
        for place in self._places:
            yield from self._place(place)
        for at, layer in enumerate(self._profile.layers):
            for index, binding in enumerate(layer.bindings):
                where = f"layers[{at}].bindings[{index}]"
                if setting.controls and binding.control not in setting.controls and binding.sets:
                    yield _warn(
                        where, _("{title}: not on this controller").format(title=CONTROLS[binding.control].title)
                    )
                yield from self._role(binding.role, where, binding.seat, layer)

    def _place(self, place: Place) -> Iterator[Problem]:
        for path, send in each_send(place.sends, place.path):
            if isinstance(send, SendPad | SendPadAxis) and self._profile.game.pad == "none":
                text = _("sends to a virtual pad, but the game has none. Choose one in the profile settings")
                yield _warn(path, f"{_where(place)} {text}")
            if isinstance(send, Turbo) and send.rate_at_full is not None and _is_plain_button(place):
                yield _warn(
                    path,
                    _("{where} has no depth, so its turbo always runs at the highest rate").format(where=_where(place)),
                )
            if isinstance(send, Pulsed) and _is_plain_button(place):
                yield _warn(
                    path, _("{where} has no depth, so its pulses are a steady hold").format(where=_where(place))
                )

    def _role(self, role: Role | None, where: str, seat: str, layer: Layer) -> Iterator[Problem]:
        """The control that works a role should not do something of its own meanwhile."""
        by = getattr(role, "by", "")
        if not by or not isinstance(role, MenuRole | BoardRole):
            return
        found = layer.binding(by, seat)
        if found is None and not layer.hides:
            found = self._profile.layers[0].binding(by, seat)
        if found is not None and found.gestures:
            said = (
                _("{title} sends the entry here and also what it is bound to; block it in this layer")
                if isinstance(role, MenuRole)
                else _("{title} types here and also what it is bound to; block it in this layer")
            )
            yield _warn(f"{where}.role.by", said.format(title=CONTROLS[by].title))

    # Texts and neighbours

    def texts(self, layout: Layout) -> Iterator[Problem]:
        found = [
            (f"{path}.text", send.text)
            for place in self._places
            for path, send in each_send(place.sends, place.path)
            if isinstance(send, SendText)
        ]
        yield from (_warn(problem.place, problem.text) for problem in refusals(found, layout))

    def neighbours(self, others: Mapping[str, Profile] | None) -> Iterator[Problem]:
        for place in self._places:
            for path, send in each_send(place.sends, place.path):
                if others is not None and isinstance(send, HoldProfile) and send.profile not in others:
                    text = _("there is no profile “{profile}” beside this one, so holding it does nothing").format(
                        profile=send.profile
                    )
                    yield _warn(f"{path}.profile", text)


def _ends(send: Send) -> bool:
    """Whether entering a layer by this ends by itself or by the same control."""
    how = getattr(send, "how", "hold")
    return isinstance(send, NextLayer) or how in ("hold", "toggle", "once")


def _leaves(send: Send, layer: str) -> bool:
    match getattr(send, "how", type(send).__name__):
        case "leave" | "toggle":
            return getattr(send, "layer", "") == layer
        case "only":
            return getattr(send, "layer", "") != layer
        case "BackToBase":
            return True
        case _:
            return False


def _is_plain_button(place: Place) -> bool:
    return all(name in CONTROLS and CONTROLS[name].kind is Kind.BUTTON for name in place.control.split("+"))


def _where(place: Place) -> str:
    """``Left stick up``, ``Lower face button hold``, ``Step 2 of a macro``."""
    part = part_name(place.part)
    if not place.control:
        return f"{part or _('a part')} of {place.path.partition('[')[0]}"
    return f"{_names(tuple(place.control.split('+')))}{f' {part}' if part else ''}"


def _names(controls: tuple[str, ...]) -> str:
    return " and ".join(CONTROLS[name].title if name in CONTROLS else name for name in controls)
