"""A profile into a `Program`. Done once per edit; all checks of names have been made by the reader of profiles."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from functools import partial
from typing import TypeVar, cast

from nubshift.engine.act import Act
from nubshift.engine.belts import BeltInfo
from nubshift.engine.compile_bindings import ProfileSource, gestures_of, position_of, press_of
from nubshift.engine.compile_sends import Extras
from nubshift.engine.macros import MacroInfo
from nubshift.engine.owner import ControlKey, Owner
from nubshift.engine.program import (
    BLOCKED,
    LEFT_HALF,
    RIGHT_HALF,
    Blocked,
    ButtonEntry,
    CombinationEntry,
    Feed,
    GestureSet,
    Position,
    PositionEntry,
    Program,
)
from nubshift.engine.variants import VariantInfo
from nubshift.model.controls import BUTTON_LIKE, CONTROLS, DPAD, PLANES, ControlInfo, Kind
from nubshift.model.layouts import US, Layout
from nubshift.model.neighbours import HeldProfiles, profiles_held
from nubshift.model.parameters import PRESS_AT, PRESS_HYSTERESIS
from nubshift.model.profile import Binding, Feel, Layer, Profile
from nubshift.model.sends import SendCommand
from nubshift.units import MILLISECOND

_T = TypeVar("_T")


def compile_profile(profile: Profile, others: Mapping[str, Profile] | None = None, layout: Layout = US) -> Program:
    """The program of a valid profile.

    `others` are the profiles that it enters while a control is held, by the names of their files; one that is missing
    is never entered. `layout` is the keyboard layout that text is typed in.
    """
    return Compiler().program(profile, others, layout)


class Compiler:
    """Compiles a profile again and again while it is edited: what an edit left as it was is not made anew.

    Everything is remembered with what it was made from, and made again when that is another.
    """

    def __init__(self) -> None:
        self._context: object = None
        self._held = HeldProfiles()
        self._known: dict[object, tuple[object, object, Extras]] = {}
        self._used: dict[object, tuple[object, object, Extras]] = {}

    def program(self, profile: Profile, others: Mapping[str, Profile] | None = None, layout: Layout = US) -> Program:
        """The program of a valid profile; see `compile_profile`."""
        self._begin(profile, others or {}, layout)
        buttons: dict[ControlKey, ButtonEntry] = {}
        positions: dict[ControlKey, PositionEntry] = {}
        for seat in profile.seats:
            for info in CONTROLS.values():
                key = (seat.id, info.name)
                made_from = self._parts_of(key)
                if info.kind in BUTTON_LIKE:
                    buttons[key] = self._made(("button", key), made_from, partial(self._button, key, info))
                if info.kind is not Kind.BUTTON:
                    bound = self._bindings_of(key)
                    acts = self._made(("bound", key), bound, partial(self._positions, key, info))
                    positions[key] = self._made(("position", key), made_from, partial(self._position, key, info, acts))
        together = {
            seat.id: self._made(
                ("together", seat.id),
                tuple(layer.together for source in self._sources for layer in source.profile.layers),
                partial(self._together, seat.id),
            )
            for seat in profile.seats
        }
        belts: dict[str, BeltInfo] = {}
        macros: dict[str, MacroInfo] = {}
        for source in self._sources:
            belts |= self._made(("belts", source.prefix), source.profile.belts, partial(self._belts, source))
            macros |= self._made(("macros", source.prefix), source.profile.macros, partial(self._macros, source))
        extras = [extras for _, _, extras in self._used.values()]
        for more in extras:
            macros |= more.macros
        self._known, self._used = self._used, {}
        return Program(
            layers=tuple(info for source in self._sources for info in source.infos()),
            buttons=buttons,
            positions=positions,
            tick=profile.game.tick * MILLISECOND,
            pulse=profile.habits.pulse * MILLISECOND,
            together={seat: entry for seat, entry in together.items() if any(entry.members)},
            feeds=self._feeds(positions),
            belts=belts,
            macros=macros,
            toggles=frozenset(place for more in extras for place in more.toggles),
            variants=self._variants(),
            refused=tuple(dict.fromkeys(text for more in extras for text in more.refused)),
        )

    def _begin(self, profile: Profile, others: Mapping[str, Profile], layout: Layout) -> None:
        """Take up a profile. What counts for everything in it is the context: with another one all is made anew."""
        self._profile = profile
        self._sources = [ProfileSource(profile, "", layout, 0)]
        for name in profiles_held(profile, others, self._held):
            if name in others:
                last = self._sources[-1]
                self._sources.append(ProfileSource(others[name], f"{name}/", layout, last.first + len(last.bindings)))
        self._nothing = (None,) * sum(len(source.profile.layers) for source in self._sources)
        self._mentioned: set[ControlKey] = set()
        for source in self._sources:
            self._mentioned.update(*source.bindings, *source.feels)
        self._mentioned |= {(seat, name) for seat, control in self._mentioned if control == "dpad" for name in DPAD}
        context = (layout, [source.context() for source in self._sources])
        if context != self._context:
            self._context = context
            self._known = {}

    def _parts_of(self, key: ControlKey) -> object:
        """All that the entries of a control are made from, beside the context."""
        if key not in self._mentioned:
            return None
        if key[1] not in DPAD:
            return self._bound_by(key)
        return self._bound_by(key), self._bound_by((key[0], "dpad"))

    def _bound_by(self, key: ControlKey) -> list[tuple[int, Binding | Feel]]:
        """What binds and tunes a control, with the number of the layer of all sources."""
        found: list[tuple[int, Binding | Feel]] = []
        for source in self._sources:
            for number, bindings in enumerate(source.bindings):
                if (binding := bindings.get(key)) is not None:
                    found.append((number + source.first, binding))
            for number, feels in enumerate(source.feels):
                if (feel := feels.get(key)) is not None:
                    found.append((number + source.first, feel))
        return found

    def _made(self, what: object, made_from: object, make: Callable[[], _T]) -> _T:
        """What was made from the same before, or is made now; with what comes along."""
        known = self._known.get(what)
        if known is None or known[0] != made_from:
            extras = Extras()
            for source in self._sources:
                source.acts.extras = extras
            known = (made_from, make(), extras)
        self._used[what] = known
        return cast("_T", known[1])

    def _bound(self, key: ControlKey) -> list[tuple[ProfileSource, Layer, Binding | None]]:
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
        presses = tuple(press_of(key, *entry) for entry in self._bound(key)) if mentioned else self._nothing
        may_change = any(isinstance(p, GestureSet) and p.may_change_layers for p in presses)
        if info.kind is not Kind.TRIGGER:
            return ButtonEntry(presses, may_change)
        base = self._feels(key)[0] if mentioned else None
        at = base.press_at if base is not None and base.press_at is not None else PRESS_AT.default
        depths = tuple(bound is not None and bound.by_depth and not bound.blocked for _, _, bound in self._bound(key))
        return ButtonEntry(presses, may_change, at, at - PRESS_HYSTERESIS, depths if any(depths) else ())

    def _together(self, seat: str) -> CombinationEntry:
        sets = []
        for source in self._sources:
            for layer in source.profile.layers:
                entry: dict[frozenset[str], GestureSet | Blocked] = {}
                for together in layer.together:
                    if together.seat == seat:
                        owner = Owner(seat, "+".join(sorted(together.controls)), source.acts.name(layer.id))
                        found = BLOCKED if together.blocked else gestures_of(source, together, owner)
                        entry[frozenset(together.controls)] = found
                sets.append(entry)
        members = tuple(frozenset(name for group in entry for name in group) for entry in sets)
        return CombinationEntry(tuple(sets), members, self._profile.habits.together_within * MILLISECOND)

    # Positions

    def _bindings_of(self, key: ControlKey) -> object:
        """What binds a control, in each layer of all sources."""
        return [b.get(key) for s in self._sources for b in s.bindings] if key in self._mentioned else None

    def _position(
        self, key: ControlKey, info: ControlInfo, positions: tuple[Position | Blocked | None, ...]
    ) -> PositionEntry:
        kinds = {"plane": info.kind in PLANES, "senses": info.kind is Kind.TOUCH, "motion": info.kind is Kind.MOTION}
        if key not in self._mentioned:
            return PositionEntry(self._nothing, self._nothing, **kinds)
        return PositionEntry(
            positions=positions,
            feels=self._feels(key),
            bound=any(isinstance(position, Position) for position in positions),
            **kinds,
        )

    def _positions(self, key: ControlKey, info: ControlInfo) -> tuple[Position | Blocked | None, ...]:
        if key not in self._mentioned:
            return self._nothing
        return tuple(position_of(key, info, *entry) for entry in self._bound(key))

    def _feeds(self, positions: dict[ControlKey, PositionEntry]) -> dict[ControlKey, tuple[Feed, ...]]:
        """Which controls are made of others, as far as some layer binds them."""
        found: dict[ControlKey, tuple[Feed, ...]] = {}

        def feed(seat: str, part: str, feed: Feed) -> None:
            if positions[seat, feed.control].bound:
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
    def _macros(source: ProfileSource) -> dict[str, MacroInfo]:
        return {source.acts.name(macro.id): source.acts.macro(macro) for macro in source.profile.macros}

    @staticmethod
    def _belts(source: ProfileSource) -> dict[str, BeltInfo]:
        found: dict[str, BeltInfo] = {}
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
            found[name] = BeltInfo(tuple(acts), tuple(commands), belt.wraps, belt.pause * MILLISECOND)
        return found
