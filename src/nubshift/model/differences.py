"""What is other in one profile than in another, in words; each difference can be taken over alone (need N60).

For history (a version against the present), for comparing two profiles, and for what an imported one brings.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import partial
from typing import TypeAlias

from msgspec import Struct
from msgspec.structs import replace

from nubshift.model import edits, parameters
from nubshift.model import taking_over as over
from nubshift.model.names import Names, lowered
from nubshift.model.profile import (
    BASE,
    FEEL_FIELDS,
    GESTURES,
    Belt,
    Binding,
    Command,
    Feel,
    Layer,
    Macro,
    Profile,
    Together,
    Variant,
)
from nubshift.model.sends import Sends
from nubshift.model.sentences import GESTURE_NAMES, binding_name, role_name, sends_name
from nubshift.texts import _, listed

Bound = over.Bound


Place: TypeAlias = tuple[str, ...]


class Difference(Struct, frozen=True):
    """`text` says what is other in the new one, as a sentence without its stop; `layer` is the name of the layer it is
    in, empty where it is in none. `take` makes it so in a profile. `places` names what it changes, so that two
    differences that share none are independent of each other."""

    text: str
    take: Callable[[Profile], Profile]
    layer: str = ""
    places: frozenset[Place] = frozenset()


def differences(
    old: Profile, new: Profile, names: Names | None = None, *, each_alone: bool = False
) -> list[Difference]:
    """Everything that is other in `new` than in `old`, in the order in which a profile is read.

    What moved from one control to another is one difference, or with `each_alone` one for each control.
    """
    words = names or Names()
    return [
        *_of_game(old, new),
        *_of_commands(old, new),
        *_of_layers(old, new),
        *(found for layer in new.layers for found in _of_bindings(old, new, layer, words, each_alone)),
        *(found for layer in new.layers for found in _of_feel(old, new, layer, words)),
        *_of_lists(old, new),
        *_of_seats(old, new),
    ]


def taken(profile: Profile, found: list[Difference]) -> Profile:
    """`profile` with all of these."""
    for difference in found:
        profile = difference.take(profile)
    return profile


def _at(*place: str) -> frozenset[Place]:
    return frozenset({place})


def _whole(layer: Layer) -> frozenset[Place]:
    """A layer with all that is in it."""
    bounds = {("bound", layer.id, *key) for key in _bounds(layer)}
    return frozenset({("layer", layer.id), *bounds, *(("feel", layer.id, f.seat, f.control) for f in layer.feel)})


# The game, and what holds for the whole profile

_GAME_WORDS = {
    "title": _("The title is {value}"),
    "colour": _("The colour is {value}"),
    "program": _("The program is {value}"),
    "note": _("The notes differ"),
    "moves": _("What the mouse moves differs"),
    "counts_per_turn": _("One turn of the camera is {value} counts"),
    "tick": _("Mouse motion is sent every {value} ms"),
    "form": _("Commands are sent as {value}"),
    "pad": _("The virtual pad differs"),
    "sees_controller": _("Whether the game sees the controller differs"),
    "light": _("The controller's light differs"),
    "rumble": _("The strength of rumble differs"),
    "rumble_cap": _("The longest rumble is {value} ms"),
}
_HABIT_WORDS = {
    "holds_toggle": _("Whether holds become toggles differs"),
    "one_to_one": _("The policy “one to one only” differs"),
}


def _of_game(old: Profile, new: Profile) -> Iterator[Difference]:
    for field in new.game.__struct_fields__:
        value = getattr(new.game, field)
        if value != getattr(old.game, field):
            shown = f"{value:g}" if isinstance(value, float) else value
            text = _GAME_WORDS[field].format(value=shown if shown != "" else _("empty"))
            yield Difference(text, partial(edits.with_game, **{field: value}), places=_at("game", field))
    for field in new.habits.__struct_fields__:
        value = getattr(new.habits, field)
        if value != getattr(old.habits, field):
            known = parameters.BY_NAME.get(field)
            text = _HABIT_WORDS[field] if known is None else f"{known.label}: {known.text(value)}"
            yield Difference(text, partial(edits.with_habits, **{field: value}), places=_at("habits", field))
    if old.needed != new.needed:
        yield Difference(
            _("The commands needed together differ"), lambda p: over.with_needed(p, new), places=_at("needed")
        )


def _of_seats(old: Profile, new: Profile) -> Iterator[Difference]:
    if old.seats != new.seats:
        yield Difference(_("The seats differ"), partial(over.with_seats, seats=new.seats), places=_at("seats"))


# Commands


def _of_commands(old: Profile, new: Profile) -> Iterator[Difference]:
    for command in new.commands:
        before = old.command(command.id)
        if before is None:
            yield Difference(
                _("Command {name} added").format(name=command.name),
                partial(edits.with_command, command=command),
                places=_at("command", command.id),
            )
        elif before != command:
            yield Difference(
                _command_text(before, command),
                partial(edits.with_command, command=command),
                places=_at("command", command.id),
            )
    for command in old.commands:
        if new.command(command.id) is None:
            yield Difference(
                _("Command {name} removed").format(name=command.name),
                partial(over.without_command, command=command),
                places=_at("command", command.id),
            )


def _command_text(before: Command, command: Command) -> str:
    if before.name != command.name:
        return _("Command {old} is called {new}").format(old=before.name, new=command.name)
    if before.keys != command.keys:
        keys = [" + ".join(c.keys) or _("no key") for c in (command, before)]
        return _("{name} is {new} instead of {old}").format(name=command.name, new=keys[0], old=keys[1])
    if before.group != command.group:
        return _("{name} is in the group {group}").format(name=command.name, group=command.group or _("none"))
    return _("Command {name} differs").format(name=command.name)


# Layers


def _of_layers(old: Profile, new: Profile) -> Iterator[Difference]:
    for layer in new.layers:
        before = old.layer(layer.id)
        if before is None:
            yield Difference(
                _("Layer {name} added").format(name=layer.name),
                partial(over.with_whole_layer, source=new, layer=layer),
                places=_whole(layer),
            )
        elif over.shell_of(before) != over.shell_of(layer):
            text = (
                _("Layer {old} is called {new}").format(old=before.name, new=layer.name)
                if before.name != layer.name
                else _("Layer {name} differs in its settings").format(name=layer.name)
            )
            yield Difference(text, partial(over.with_shell, layer=layer), places=_at("shell", layer.id))
    for layer in old.layers:
        if new.layer(layer.id) is None and layer.id != BASE:
            yield Difference(
                _("Layer {name} removed").format(name=layer.name),
                partial(over.without_layer, layer=layer),
                places=_whole(layer),
            )
    if [e.id for e in old.layers] != [e.id for e in new.layers] and {e.id for e in old.layers} == {
        e.id for e in new.layers
    }:
        yield Difference(
            _("The layers are in another order"), lambda p: over.with_order_of(p, new), places=_at("order")
        )


# Bindings


def _bounds(layer: Layer | None) -> dict[tuple[str, str], Bound]:
    if layer is None:
        return {}
    found: dict[tuple[str, str], Bound] = {(one.seat, one.control): one for one in layer.bindings}
    return found | {(one.seat, "+".join(sorted(one.controls))): one for one in layer.together}


def _of_bindings(old: Profile, new: Profile, layer: Layer, names: Names, each_alone: bool) -> Iterator[Difference]:
    old_layer = old.layer(layer.id)
    if old_layer is None:
        return  # the whole layer is new
    before, after = _bounds(old_layer), _bounds(layer)
    changed = {key for key in before.keys() | after.keys() if before.get(key) != after.get(key)}
    where = "" if layer.id == BASE else layer.name
    moved: set[tuple[str, str]] = set()
    for text, pair in () if each_alone else _moves(old, new, before, after, changed, names):
        moved.update(pair)
        take = over.taking_bounds(new, layer, {key: after.get(key) for key in pair}, before)
        yield Difference(text, take, where, frozenset(("bound", layer.id, *key) for key in pair))
    for key in sorted(changed - moved):
        text = _bound_text(old, new, before.get(key), after.get(key), names.title(key[1]))
        take = over.taking_bounds(new, layer, {key: after.get(key)}, before)
        yield Difference(text, take, where, _at("bound", layer.id, *key))


def _only(bound: Bound | None) -> Sends:
    """What a button sends that does nothing but send when pressed."""
    if bound is None or list(bound.gestures) != ["press"]:
        return ()
    return () if isinstance(bound, Binding) and bound.by_depth else bound.press


def _moves(
    old: Profile,
    new: Profile,
    before: dict[tuple[str, str], Bound],
    after: dict[tuple[str, str], Bound],
    changed: set[tuple[str, str]],
    names: Names,
) -> Iterator[tuple[str, tuple[tuple[str, str], tuple[str, str]]]]:
    """What left one control and came to another one of those that changed."""
    left = {key: sent for key in sorted(changed) if (sent := _only(before.get(key)))}
    came = {key: sent for key in sorted(changed) if (sent := _only(after.get(key)))}
    for source, sent in left.items():
        if came.get(source) == sent:
            continue
        target = next((key for key, there in came.items() if there == sent and left.get(key) != sent), None)
        if target is None:
            continue
        del came[target]
        text = _("{what} moved from {source} to {target}").format(
            what=sends_name(new, sent), source=names.title(source[1]), target=names.inside(target[1])
        )
        yield text, (source, target)


def _bound_text(old: Profile, new: Profile, before: Bound | None, after: Bound | None, control: str) -> str:
    if after is None:
        return _("{control} no longer does {what}").format(control=control, what=_bound_name(old, before))
    if before is None:
        return _("{control} does {what}").format(control=control, what=_bound_name(new, after))
    was, now = _bound_name(old, before), _bound_name(new, after)
    if was == now:
        return _("{control}: {what} differs in its settings").format(control=control, what=now)
    for gesture in GESTURES:
        one, other = before.gestures.get(gesture, ()), after.gestures.get(gesture, ())
        rest = replace(after, **{gesture: one}) == before
        if one != other and rest:
            return _("{control}, {gesture}: {new} instead of {old}").format(
                control=control,
                gesture=lowered(GESTURE_NAMES[gesture]),
                new=sends_name(new, other),
                old=sends_name(old, one),
            )
    return _("{control}: {new} instead of {old}").format(control=control, new=now, old=was)


def _bound_name(profile: Profile, bound: Bound | None) -> str:
    if isinstance(bound, Together):
        return listed([sends_name(profile, sends) for sends in bound.gestures.values()]) or _("Nothing")
    if bound is not None and bound.role is not None and bound.bands:
        return _("{role}, with bands").format(role=role_name(profile, bound.role))
    return binding_name(profile, bound)


# Feel


def _of_feel(old: Profile, new: Profile, layer: Layer, names: Names) -> Iterator[Difference]:
    old_layer = old.layer(layer.id)
    if old_layer is None:
        return
    places = {(one.seat, one.control) for one in (*old_layer.feel, *layer.feel)}
    for seat, control in sorted(places):
        before = old_layer.feel_of(control, seat) or Feel(control, seat)
        after = layer.feel_of(control, seat) or Feel(control, seat)
        if before != after:
            yield Difference(
                f"{names.title(control)}: {_feel_text(before, after)}",
                partial(over.with_feel, source=new, layer=layer, feel=after),
                "" if layer.id == BASE else layer.name,
                _at("feel", layer.id, seat, control),
            )


def _feel_text(before: Feel, after: Feel) -> str:
    parts = []
    for field in FEEL_FIELDS:
        was, now = getattr(before, field), getattr(after, field)
        if was == now:
            continue
        known = parameters.BY_NAME.get(field)
        if known is None:
            parts.append(_FEEL_WORDS[field])
        elif now is None:
            parts.append(_("{name} as usual").format(name=lowered(known.label)))
        elif was is None:
            parts.append(_("{name} {new}").format(name=lowered(known.label), new=known.text(now)))
        else:
            parts.append(
                _("{name} {new} instead of {old}").format(
                    name=lowered(known.label), new=known.text(now), old=known.text(was)
                )
            )
    return ", ".join(parts)


_FEEL_WORDS = {
    "zone": _("another kind of dead zone"),
    "curve": _("another response curve"),
    "invert_x": _("inverted sideways, or no longer"),
    "invert_y": _("inverted up and down, or no longer"),
}


# Belts, macros and variants


def _of_lists(old: Profile, new: Profile) -> Iterator[Difference]:
    kinds: tuple[tuple[str, str, str, str], ...] = (
        ("belts", _("Belt {name} added"), _("Belt {name} removed"), _("Belt {name} differs")),
        ("macros", _("Macro {name} added"), _("Macro {name} removed"), _("Macro {name} differs")),
        ("variants", _("Variant {name} added"), _("Variant {name} removed"), _("Variant {name} differs")),
    )
    for field, added, removed, changed in kinds:
        before: dict[str, Belt | Macro | Variant] = {one.id: one for one in getattr(old, field)}
        after: dict[str, Belt | Macro | Variant] = {one.id: one for one in getattr(new, field)}
        for name, one in after.items():
            if before.get(name) != one:
                text = (added if name not in before else changed).format(name=one.name)
                yield Difference(
                    text, partial(over.with_part, source=new, field=field, part=one), places=_at(field, name)
                )
        for name, one in before.items():
            if name not in after:
                text = removed.format(name=one.name)
                yield Difference(text, partial(over.without_part, field=field, name=name), places=_at(field, name))
