"""What one binding becomes in the program: gestures of a button, or what a position holds (contract R4 to R8)."""

from __future__ import annotations

from typing import assert_never

from nubshift.engine.act import Act
from nubshift.engine.compile_sends import Acts
from nubshift.engine.layers import LayerInfo
from nubshift.engine.owner import ControlKey, Owner
from nubshift.engine.program import BLOCKED, BandEntry, Blocked, GestureSet, Position
from nubshift.model.controls import DPAD, ControlInfo, Kind
from nubshift.model.layouts import Layout
from nubshift.model.part import DIRECTIONS, Direction
from nubshift.model.profile import BASE, Binding, Layer, Profile, Together
from nubshift.model.roles import (
    BoardRole,
    GyroRole,
    KeysRole,
    MenuRole,
    MouseRole,
    PadAxisRole,
    PadStickRole,
    PointerRole,
    Role,
    ScrollRole,
    TilesRole,
)
from nubshift.units import MILLISECOND


class ProfileSource:
    """One profile that goes into the program: the played one, or a guest with the `prefix` of its names.

    Its layers stand in the program from the number `first` on.
    """

    def __init__(self, profile: Profile, prefix: str, layout: Layout, first: int) -> None:
        self.profile = profile
        self.first = first
        self.prefix = prefix
        self.acts = Acts(profile, prefix, layout)
        self.bindings = [{(b.seat, b.control): b for b in layer.bindings} for layer in profile.layers]
        self.feels = [{(f.seat, f.control): f for f in layer.feel} for layer in profile.layers]

    def context(self) -> object:
        """What counts for every binding of it."""
        profile = self.profile
        return self.prefix, profile.commands, profile.habits, profile.belts, [layer.id for layer in profile.layers]

    def infos(self) -> list[LayerInfo]:
        """Its layers; a guest's base hides what lies below."""
        game = self.profile.game
        found = []
        for layer in self.profile.layers:
            is_base = layer.id == BASE
            counts = game.counts_per_turn if is_base else layer.counts_per_turn or 0.0
            guest = bool(self.prefix)
            info = LayerInfo(
                id=self.acts.name(layer.id),
                hides=layer.hides or (guest and is_base),
                form=(layer.form or game.form) if is_base else layer.form or "",
                counts_per_degree=counts / 360.0,
                guest=self.acts.name(BASE) if guest and not is_base else "",
                is_guest_base=guest and is_base,
                rumble=layer.rumble,
            )
            found.append(info)
        return found


def press_of(
    key: ControlKey, source: ProfileSource, layer: Layer, binding: Binding | None
) -> GestureSet | Blocked | None:
    """What a layer makes of a button; None where it falls through."""
    if binding is None or not binding.sets:
        return _by_the_whole(key, source, layer) if key[1] in DPAD else None
    if binding.blocked or binding.by_depth:
        return BLOCKED
    return gestures_of(source, binding, Owner(*key, source.acts.name(layer.id)))


def _by_the_whole(key: ControlKey, source: ProfileSource, layer: Layer) -> GestureSet | Blocked | None:
    """A direction of the d-pad that the layer does not set: what the d-pad as a whole makes of it.

    A ready-made four is four buttons (R4); any other use leaves nothing to the single direction.
    """
    whole = layer.binding("dpad", key[0])
    if whole is None or not whole.sets:
        return None
    if not _is_four(whole):
        return BLOCKED
    assert isinstance(whole.role, KeysRole)
    owner = Owner(*key, source.acts.name(layer.id))
    press = source.acts.gesture(whole.role.sends(DPAD_DIRECTIONS[key[1]]), owner, "press")
    return GestureSet(owner, press=press, pulse=source.acts.pulse)


def position_of(
    key: ControlKey, info: ControlInfo, source: ProfileSource, layer: Layer, binding: Binding | None
) -> Position | Blocked | None:
    """What a layer makes of a control by its position; None where it falls through."""
    if binding is None or not binding.sets:
        return None
    if binding.blocked or not binding.by_depth:
        return BLOCKED
    acts = source.acts
    owner = Owner(*key, acts.name(layer.id))
    role = None if _is_four(binding) else binding.role
    if role is None and not binding.bands and not binding.out:
        return BLOCKED
    bands = []
    for index, band in enumerate(binding.bands):
        act = acts.act(band.what, owner, f"bands/{index}", by_position=True) or Act((), (), owner)
        bands.append(BandEntry(band.start, act, band.adds, band.wait * MILLISECOND))
    middle = None
    if isinstance(binding.role, MenuRole):
        middle = acts.act(binding.role.middle, owner, "middle")
    return Position(
        owner=owner,
        role=role,
        acts=_role_acts(acts, role, owner, info.kind),
        middle=middle,
        bands=tuple(bands),
        out=acts.act(binding.out, owner, "out", by_position=True),
        pulse=acts.pulse,
    )


DPAD_DIRECTIONS: dict[str, Direction] = dict(zip(DPAD, DIRECTIONS[::2], strict=True))


def _is_four(binding: Binding) -> bool:
    """Whether this is a d-pad with keys on its four directions, which are buttons each (R4)."""
    return binding.control == "dpad" and isinstance(binding.role, KeysRole) and binding.role.directions == 4


def gestures_of(source: ProfileSource, binding: Binding | Together, owner: Owner) -> GestureSet:
    """The gestures of a button, or of controls pressed together."""
    habits, acts = source.profile.habits, source.acts
    made = {name: acts.gesture(sends, owner, name) for name, sends in binding.gestures.items()}
    hold_at = binding.hold_at if binding.hold_at is not None else habits.hold_at
    double_within = binding.double_within if binding.double_within is not None else habits.double_within
    return GestureSet(
        owner, **made, hold_at=hold_at * MILLISECOND, double_within=double_within * MILLISECOND, pulse=acts.pulse
    )


def _role_acts(acts: Acts, role: Role | None, owner: Owner, kind: Kind) -> tuple[tuple[Act, ...], ...]:
    """The acts of a role's parts: eight sectors, cells, or entries; each part has none, one or two."""
    match role:
        case KeysRole():
            return _sectors(acts, role, owner)
        case TilesRole(cells):
            made = [acts.act(cell, owner, f"cells/{i}", by_position=True) for i, cell in enumerate(cells)]
        case MenuRole(entries):
            made = [acts.act(entry.what, owner, f"entries/{i}") for i, entry in enumerate(entries)]
        case BoardRole(rows):
            cells_in_order = [cell for row in rows for cell in row]
            made = [acts.cell(cell, owner, f"cells/{i}") for i, cell in enumerate(cells_in_order)]
        case MouseRole() | ScrollRole() | PointerRole() | PadStickRole() | PadAxisRole() | GyroRole() | None:
            return ()  # they hold nothing
        case never:
            assert_never(never)
    return tuple((act,) if act is not None else () for act in made)


def _sectors(acts: Acts, role: KeysRole, owner: Owner) -> tuple[tuple[Act, ...], ...]:
    """With four directions a diagonal sector holds both neighbours, in the order up, right, down, left (R3)."""
    sectors: list[tuple[Act, ...]] = []
    for direction in DIRECTIONS:
        side = Owner(owner.seat, owner.control, owner.layer, direction)
        act = acts.act(role.sends(direction), side, direction, by_position=True)
        sectors.append((act,) if act is not None else ())
    if role.directions == 4:
        for diagonal in (1, 3, 5, 7):
            first, second = sorted((diagonal - 1, (diagonal + 1) % 8))
            sectors[diagonal] = (*sectors[first], *sectors[second])
    return tuple(sectors)
