"""A profile into a `Program`. Done once per edit; all checks of names have been made by the reader of profiles."""

from __future__ import annotations

from collections.abc import Mapping

from nubshift.engine.acts import Acts
from nubshift.engine.owner import Owner
from nubshift.engine.program import (
    BLOCKED,
    LEFT_HALF,
    RIGHT_HALF,
    Act,
    BandEntry,
    BeltInfo,
    Blocked,
    ButtonEntry,
    ControlKey,
    Feed,
    GestureSet,
    LayerInfo,
    MacroInfo,
    Position,
    PositionEntry,
    Program,
    TogetherEntry,
    VariantInfo,
)
from nubshift.model.controls import BUTTON_LIKE, CONTROLS, DPAD, PLANES, ControlInfo, Kind
from nubshift.model.layouts import US, Layout
from nubshift.model.neighbours import profiles_held
from nubshift.model.parameters import PRESS_AT, PRESS_HYSTERESIS
from nubshift.model.part import DIRECTIONS, Direction
from nubshift.model.profile import BASE, Belt, Binding, Feel, Layer, Profile, Together
from nubshift.model.roles import BoardRole, KeysRole, MenuRole, Role, TilesRole
from nubshift.model.sends import SendCommand
from nubshift.units import MILLISECOND


def compile_profile(profile: Profile, others: Mapping[str, Profile] | None = None, layout: Layout = US) -> Program:
    """The program of a valid profile.

    `others` are the profiles that it enters while a control is held, by the names of their files; one that is missing
    is never entered. `layout` is the keyboard layout that text is typed in.
    """
    return _Compiler(profile, others or {}, layout).program()


class _Source:
    """One profile that goes into the program: the played one, or a guest with the `prefix` of its names."""

    def __init__(self, profile: Profile, prefix: str, layout: Layout) -> None:
        self.profile = profile
        self.prefix = prefix
        self.acts = Acts(profile, prefix, layout)
        self.bindings = [{(b.seat, b.control): b for b in layer.bindings} for layer in profile.layers]
        self.feels = [{(f.seat, f.control): f for f in layer.feel} for layer in profile.layers]

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


class _Compiler:
    def __init__(self, profile: Profile, others: Mapping[str, Profile], layout: Layout) -> None:
        self._profile = profile
        self._sources = [_Source(profile, "", layout)]
        for name in profiles_held(profile, others):
            if name in others:
                self._sources.append(_Source(others[name], f"{name}/", layout))
        self._nothing = (None,) * sum(len(source.profile.layers) for source in self._sources)
        self._mentioned: set[ControlKey] = set()
        for source in self._sources:
            self._mentioned.update(*source.bindings, *source.feels)
        self._mentioned |= {(seat, name) for seat, control in self._mentioned if control == "dpad" for name in DPAD}

    def program(self) -> Program:
        buttons: dict[ControlKey, ButtonEntry] = {}
        positions: dict[ControlKey, PositionEntry] = {}
        for seat in self._profile.seats:
            for info in CONTROLS.values():
                key = (seat.id, info.name)
                if info.kind in BUTTON_LIKE:
                    buttons[key] = self._button(key, info)
                if info.kind is not Kind.BUTTON:
                    positions[key] = self._position(key, info)
        together = {seat.id: self._together(seat.id) for seat in self._profile.seats}
        belts = {source.acts.name(b.id): info for source in self._sources for b, info in self._belts(source)}
        macros: dict[str, MacroInfo] = {}
        for source in self._sources:
            macros |= {source.acts.name(macro.id): source.acts.macro(macro) for macro in source.profile.macros}
        for source in self._sources:
            macros |= source.acts.macros
        return Program(
            layers=tuple(info for source in self._sources for info in source.infos()),
            buttons=buttons,
            positions=positions,
            tick=self._profile.game.tick * MILLISECOND,
            pulse=self._profile.habits.pulse * MILLISECOND,
            together={seat: entry for seat, entry in together.items() if any(entry.members)},
            feeds=self._feeds(positions),
            belts=belts,
            macros=macros,
            toggles=frozenset(place for source in self._sources for place in source.acts.toggles),
            variants=self._variants(),
            refused=tuple(text for source in self._sources for text in source.acts.refused),
        )

    def _bound(self, key: ControlKey) -> list[tuple[_Source, Layer, Binding | None]]:
        """The binding of a control in each layer of all sources."""
        return [
            (source, layer, bindings.get(key))
            for source in self._sources
            for layer, bindings in zip(source.profile.layers, source.bindings, strict=True)
        ]

    def _feels(self, key: ControlKey) -> tuple[Feel | None, ...]:
        return tuple(feels.get(key) for source in self._sources for feels in source.feels)

    def _variants(self) -> dict[ControlKey, tuple[VariantInfo, ...]]:
        """The feels kept in the played profile; those of a guest can't be stepped through."""
        profile = self._profile
        index = {layer.id: at for at, layer in enumerate(profile.layers)}
        found: dict[ControlKey, tuple[VariantInfo, ...]] = {}
        for variant in profile.variants:
            layer, seat, control = variant.place
            used = profile.variant_in_use(layer, seat, control) is variant
            info = VariantInfo(variant.id, index[layer], variant.feel, used)
            found[seat, control] = (*found.get((seat, control), ()), info)
        return found

    # Buttons

    def _button(self, key: ControlKey, info: ControlInfo) -> ButtonEntry:
        mentioned = key in self._mentioned
        presses = tuple(self._press(key, *entry) for entry in self._bound(key)) if mentioned else self._nothing
        may_change = any(isinstance(p, GestureSet) and p.may_change_layers for p in presses)
        if info.kind is not Kind.TRIGGER:
            return ButtonEntry(presses, may_change)
        base = self._feels(key)[0] if mentioned else None
        at = base.press_at if base is not None and base.press_at is not None else PRESS_AT.default
        depths = tuple(bound is not None and bound.by_depth and not bound.blocked for _, _, bound in self._bound(key))
        return ButtonEntry(presses, may_change, at, at - PRESS_HYSTERESIS, depths if any(depths) else ())

    def _press(
        self, key: ControlKey, source: _Source, layer: Layer, binding: Binding | None
    ) -> GestureSet | Blocked | None:
        if binding is None or not binding.sets:
            return self._by_the_whole(key, source, layer) if key[1] in DPAD else None
        if binding.blocked or binding.by_depth:
            return BLOCKED
        return _gestures(source, binding, Owner(*key, source.acts.name(layer.id)))

    @staticmethod
    def _by_the_whole(key: ControlKey, source: _Source, layer: Layer) -> GestureSet | Blocked | None:
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

    def _together(self, seat: str) -> TogetherEntry:
        sets = []
        for source in self._sources:
            for layer in source.profile.layers:
                entry: dict[frozenset[str], GestureSet | Blocked] = {}
                for together in layer.together:
                    if together.seat == seat:
                        owner = Owner(seat, "+".join(sorted(together.controls)), source.acts.name(layer.id))
                        found = BLOCKED if together.blocked else _gestures(source, together, owner)
                        entry[frozenset(together.controls)] = found
                sets.append(entry)
        members = tuple(frozenset(name for group in entry for name in group) for entry in sets)
        return TogetherEntry(tuple(sets), members, self._profile.habits.together_within * MILLISECOND)

    # Positions

    def _position(self, key: ControlKey, info: ControlInfo) -> PositionEntry:
        kinds = {"plane": info.kind in PLANES, "senses": info.kind is Kind.TOUCH, "motion": info.kind is Kind.MOTION}
        if key not in self._mentioned:
            return PositionEntry(self._nothing, self._nothing, **kinds)
        positions = tuple(self._held_by_position(key, info, *entry) for entry in self._bound(key))
        return PositionEntry(
            positions=positions,
            feels=self._feels(key),
            acts=any(isinstance(position, Position) for position in positions),
            **kinds,
        )

    def _held_by_position(
        self, key: ControlKey, info: ControlInfo, source: _Source, layer: Layer, binding: Binding | None
    ) -> Position | Blocked | None:
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

    def _feeds(self, positions: dict[ControlKey, PositionEntry]) -> dict[ControlKey, tuple[Feed, ...]]:
        """Which controls are made of others, as far as some layer binds them."""
        found: dict[ControlKey, tuple[Feed, ...]] = {}

        def feed(seat: str, part: str, feed: Feed) -> None:
            if positions[seat, feed.control].acts:
                found[seat, part] = (*found.get((seat, part), ()), feed)

        for seat in self._profile.seats:
            for part, component, sign in zip(DPAD, (1, 0, 1, 0), (-1.0, 1.0, 1.0, -1.0), strict=True):
                feed(seat.id, part, Feed("dpad", component, sign))
            for half, component in (("touch_pad_left", LEFT_HALF), ("touch_pad_right", RIGHT_HALF)):
                feed(seat.id, "touch_pad", Feed(half, component))
                feed(seat.id, "touch_pad_touched", Feed(half, component))
            for join in seat.joins:
                feed(seat.id, join.x, Feed(join.control, 0))
                feed(seat.id, join.y, Feed(join.control, 1))
        return found

    @staticmethod
    def _belts(source: _Source) -> list[tuple[Belt, BeltInfo]]:
        found: list[tuple[Belt, BeltInfo]] = []
        for belt in source.profile.belts:
            name = source.acts.name(belt.id)
            owner = Owner("", "", "")
            acts = []
            commands = []
            for index, entry in enumerate(belt.entries):
                what = source.acts.act(entry.what, owner, f"belt/{belt.id}/{index}", belt=name)
                acts.append(None if entry.skip else what or Act((), (), owner))
                first = next((send.command for send in entry.what if isinstance(send, SendCommand)), "")
                commands.append("" if entry.skip or not first else source.acts.name(first))
            info = BeltInfo(tuple(acts), tuple(commands), belt.wraps, belt.pause * MILLISECOND)
            found.append((belt, info))
        return found


DPAD_DIRECTIONS: dict[str, Direction] = dict(zip(DPAD, DIRECTIONS[::2], strict=True))


def _is_four(binding: Binding) -> bool:
    """Whether this is a d-pad with keys on its four directions, which are buttons each (R4)."""
    return binding.control == "dpad" and isinstance(binding.role, KeysRole) and binding.role.directions == 4


def _gestures(source: _Source, binding: Binding | Together, owner: Owner) -> GestureSet:
    habits, acts = source.profile.habits, source.acts
    made = {name: acts.gesture(sends, owner, name) for name, sends in binding.gestures.items()}
    hold_at = binding.hold_at if binding.hold_at is not None else habits.hold_at
    double_within = binding.double_within if binding.double_within is not None else habits.double_within
    return GestureSet(
        owner,
        **made,
        hold_at=hold_at * MILLISECOND,
        double_within=double_within * MILLISECOND,
        pulse=acts.pulse,
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
        case _:
            return ()
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
