"""A profile that was made on one controller, played on another: what does not fit, and what would (need N05)."""

from __future__ import annotations

from collections.abc import Collection, Iterator

from msgspec import Struct
from msgspec.structs import replace

from nubshift.model import edits, joining
from nubshift.model.controls import BUTTON_LIKE, DPAD, Kind, kind_of
from nubshift.model.profile import Binding, Profile
from nubshift.model.rules import ROLES
from nubshift.model.sentences import binding_name

ALIKE: dict[Kind, tuple[Kind, ...]] = {
    Kind.BUTTON: (Kind.BUTTON, Kind.TRIGGER),
    Kind.TRIGGER: (Kind.TRIGGER, Kind.BUTTON),
    Kind.STICK: (Kind.STICK, Kind.DPAD),
    Kind.DPAD: (Kind.DPAD, Kind.STICK),
    Kind.AXIS: (Kind.AXIS, Kind.TRIGGER),
    Kind.TOUCH: (Kind.TOUCH, Kind.STICK, Kind.DPAD),
    Kind.POINTER: (Kind.POINTER, Kind.STICK),
}
"""Which kinds can do the work of a kind, the best first."""


class Misfit(Struct, frozen=True):
    """A control that the profile uses and the controller lacks: what it does, and a free one in its place if any.

    `joined` are two lone axes that become the stick `instead`.
    """

    control: str
    does: str
    layers: tuple[str, ...]
    instead: str = ""
    joined: tuple[str, str] | None = None


class _Free:
    """What of a controller the profile leaves free; each is given away once."""

    def __init__(
        self, profile: Profile, controls: Collection[str], two_sided: Collection[str], used: Collection[str], seat: str
    ) -> None:
        entry = joining.seat_of(profile, seat)
        joins = entry.joins if entry is not None else ()
        in_joins = {axis for join in joins for axis in (join.x, join.y)}
        self.stick = joining.free_stick(profile, seat)
        self.single = [name for name in controls if name not in used and name not in in_joins]
        self.single += [join.control for join in joins if join.control not in used]
        if set(DPAD) <= set(self.single) and "dpad" not in used:
            self.single.append("dpad")
        self.axes = [name for name in self.single if kind_of(name) is Kind.AXIS and name in two_sided]

    def take(self, kind: Kind, bindings: list[Binding]) -> tuple[str, tuple[str, str] | None]:
        """One for what a control of this kind does: its name, and the axes that it is joined of."""
        for name in self._fitting(kind, bindings):
            gone = {name, *(DPAD if name == "dpad" else ()), *(("dpad",) if name in DPAD else ())}
            self._without(gone)
            return name, None
        if Kind.STICK in ALIKE.get(kind, ()) and self.stick and len(self.axes) > 1:
            stick, joined = self.stick, (self.axes[0], self.axes[1])
            self.stick = ""  # one such proposal at a time: which is the next stick is known when this one is made
            self._without(set(joined))
            return stick, joined
        return "", None

    def _fitting(self, kind: Kind, bindings: list[Binding]) -> Iterator[str]:
        for wanted in ALIKE.get(kind, (kind,)):
            for name in self.single:
                if kind_of(name) is wanted and all(_can(wanted, kind, binding) for binding in bindings):
                    yield name

    def _without(self, gone: set[str]) -> None:
        self.single = [name for name in self.single if name not in gone]
        self.axes = [name for name in self.axes if name not in gone]


def _can(there: Kind, kind: Kind, binding: Binding) -> bool:
    """Whether a control of kind `there` can do what a binding of one of `kind` says."""
    if there is kind:
        return True
    if binding.role is not None:
        return isinstance(binding.role, ROLES[there])
    return not binding.bands or there in (Kind.TRIGGER, Kind.AXIS)


def misfits(
    profile: Profile, controls: Collection[str], seat: str = "1", two_sided: Collection[str] = ()
) -> list[Misfit]:
    """All that does not fit, in the order of the layers; each free control is proposed once.

    `two_sided` are the lone axes that go both ways from rest: two of them make a stick.
    """
    joins = {join.control for entry in profile.seats if entry.id == seat for join in entry.joins}
    there = set(controls) | ({"dpad"} if set(DPAD) & set(controls) else set()) | joins
    there |= {"touch_pad_left", "touch_pad_right"} if "touch_pad" in there else set()
    used: dict[str, list[tuple[str, Binding]]] = {}
    for layer in profile.layers:
        for binding in layer.bindings:
            if binding.seat == seat and binding.sets and not binding.blocked:
                used.setdefault(binding.control, []).append((layer.id, binding))
    taken = {*used, *(DPAD if "dpad" in used else ())}
    free = _Free(profile, controls, two_sided, taken, seat)
    found = []
    missing = [control for control in used if control not in there]
    for control in sorted(missing, key=lambda name: kind_of(name) in BUTTON_LIKE):  # a d-pad's buttons go last
        bindings = [binding for _, binding in used[control]]
        instead, joined = free.take(kind_of(control), bindings)
        does = ", ".join(dict.fromkeys(binding_name(profile, binding) for binding in bindings))
        found.append(Misfit(control, does, tuple(layer for layer, _ in used[control]), instead, joined))
    return sorted(found, key=lambda misfit: missing.index(misfit.control))


def with_fitted(profile: Profile, misfit: Misfit, seat: str = "1") -> Profile:
    """`profile` with what a misfit does on the control that was proposed, in every layer."""
    if misfit.joined is not None:
        profile = joining.with_join(profile, *misfit.joined, seat)
    for layer_id in misfit.layers:
        layer = profile.layer(layer_id)
        binding = layer.binding(misfit.control, seat) if layer is not None else None
        if binding is not None:
            profile = edits.without_binding(profile, layer_id, misfit.control, seat)
            profile = edits.with_binding(profile, layer_id, replace(binding, control=misfit.instead))
    return profile
