"""What tiles and lists say about a control: worked out from the profile once per edit, painted often."""

from __future__ import annotations

from nubshift.model.controls import Kind, kind_of
from nubshift.model.entries import beat_of, core_of, stays_on
from nubshift.model.profile import BASE, Binding, Profile
from nubshift.model.roles import KeysRole
from nubshift.model.sends import ChangeLayer, HoldLayer, NextLayer, Pulsed, Send, SendBelt, Sends
from nubshift.model.sentences import binding_name, keys_of, send_name, sends_name
from nubshift.model.usage import Found, combinations_of, look_up, whole_of
from nubshift.records import Record
from nubshift.texts import _, listed

SHORT = {"press": _("press"), "tap": _("tap"), "hold": _("hold"), "double": _("double tap"), "release": _("release")}


class Words(Record, frozen=True):
    """A control as it is in the layer shown. `own`: this layer sets it, or at least its feel.

    `marks` are how it sends, in a word or two each: its gestures, toggle, turbo, combinations.
    """

    found: Found | None
    own: bool
    title: str
    keys: tuple[str, ...]
    hint: str
    elsewhere: tuple[str, ...]
    marks: tuple[str, ...] = ()

    @property
    def binding(self) -> Binding | None:
        """The binding that counts."""
        return self.found.binding if self.found else None

    def also(self) -> tuple[str, ...]:
        """Where else the control means something different, in one part; none where it does so nowhere."""
        names = ", ".join(self.elsewhere)
        return (_("Also in {elsewhere}").format(elsewhere=names),) if names else ()

    def in_full(self) -> str:
        """What a small tile may have no room for."""
        return "\n".join(part for part in (" · ".join(self.marks), self.hint, *self.also()) if part)


def words_for(profile: Profile, layer: str, control: str, seat: str = "1") -> Words:
    """What to say about a control in a layer."""
    found = look_up(profile, layer, control, seat)
    entry = profile.layer(layer)
    own = found is not None and (
        found.layer.id == layer or (entry is not None and entry.feel_of(control, seat) is not None)
    )
    elsewhere = tuple(
        entry.name for entry in profile.layers if entry.id not in (layer, BASE) and entry.binding(control, seat)
    )
    with_others = (_("combinations"),) if any(combinations_of(profile, layer, control, seat)) else ()
    whole = whole_of(profile, layer, control, seat)
    if whole is not None:
        return _of_whole(profile, whole, control, whole.layer.id == layer, elsewhere)
    if found is None or found.binding.blocked:
        title = _("Blocked") if found else _("Combinations only") if with_others else _("Unassigned")
        return Words(found, own, title, (), "", elsewhere, with_others)
    binding = found.binding
    if binding.by_depth:
        count = len(binding.bands)
        depths = (_("{count} depths").format(count=count) if count > 1 else _("by depth"),) if count else ()
        return Words(found, own, binding_name(profile, binding), (), "", elsewhere, (*depths, *with_others))
    gestures = binding.gestures
    first = next(iter(gestures), "press")
    sends = gestures.get(first, ())
    marks = tuple(SHORT[name] for name in gestures) if set(gestures) - {"press"} else ()
    marks = (*marks, *_ways(sends), *with_others)
    layers = [s for s in sends if isinstance(s, HoldLayer | ChangeLayer)]
    others: Sends = tuple(s for s in sends if not isinstance(s, HoldLayer | ChangeLayer))
    names = ", ".join(_layer_name(profile, s.layer) for s in layers)
    rest = "; ".join(f"{SHORT[name]}: {sends_name(profile, what)}" for name, what in list(gestures.items())[1:])
    if layers and not keys_of(profile, others):
        rest = "; ".join(part for part in (sends_name(profile, others) if others else "", rest) if part)
        how = HOW[layers[0].how] if layers and isinstance(layers[0], ChangeLayer) else _("While held")
        return Words(found, own, _("Layer {names}").format(names=names), (), rest or how, elsewhere, marks)
    hint = "; ".join(part for part in (_("enters {names}").format(names=names) if layers else "", rest) if part)
    title = " + ".join(_short_name(profile, core_of(send)) for send in others)
    return Words(found, own, title, keys_of(profile, others), hint or _in_turn(profile, others), elsewhere, marks)


def _short_name(profile: Profile, send: Send) -> str:
    """What a send is called where there is room for two words; which layers it goes through, `_in_turn` says."""
    match send:
        case NextLayer(_layers, back):
            return _("Previous layer") if back else _("Next layer")
        case _:
            return send_name(profile, send)


def _in_turn(profile: Profile, sends: Sends) -> str:
    """The layers that are gone through, in their order; empty without any."""
    through = [layer for send in sends if isinstance(send, NextLayer) for layer in send.layers]
    return ", ".join(_layer_name(profile, layer) for layer in through)


def _of_whole(profile: Profile, whole: Found, control: str, own: bool, elsewhere: tuple[str, ...]) -> Words:
    """A button of a d-pad that is used as a whole: what its direction sends, or what the whole is used as."""
    role = whole.binding.role
    if isinstance(role, KeysRole):
        sends: Sends = getattr(role, control.removeprefix("dpad_"))
        return Words(
            None,
            own,
            sends_name(profile, sends) if sends else _("Unassigned"),
            keys_of(profile, sends),
            _("as a whole"),
            elsewhere,
        )
    return Words(None, own, binding_name(profile, whole.binding), (), _("whole d-pad"), elsewhere)


HOW = {
    "toggle": _("Toggle"),
    "once": _("For the next press"),
    "enter": _("Enter"),
    "leave": _("Leave"),
    "only": _("Only this layer"),
}
"""How a layer changes, in a tile."""


def _layer_name(profile: Profile, layer: str) -> str:
    found = profile.layer(layer)
    return found.name if found else layer


def _ways(sends: Sends) -> tuple[str, ...]:
    """Toggle, turbo and belt in a word each."""
    found: dict[str, None] = {}
    for send in sends:
        if stays_on(send):
            found[_("toggle")] = None
        beat = beat_of(send)
        if beat is not None:
            found[_("by depth") if isinstance(beat, Pulsed) else _("turbo")] = None
        if isinstance(core_of(send), SendBelt):
            found[_("belt")] = None
    return tuple(found)


def spoken(title: str, control: str, words: Words, label_of: dict[str, str], clash: str = "") -> str:
    """The tile in one sentence, for a screen reader."""
    keys = listed([label_of.get(key, key) for key in words.keys])
    parts = [_("stick")] if kind_of(control) is Kind.STICK else []
    parts += [words.title]
    parts += [_("key {keys}").format(keys=keys)] if keys else []
    parts += [*words.marks]
    parts += [words.hint] if words.hint else []
    parts += [_("inherited")] if words.found and not words.own else []
    said = _("{control}: {what}").format(control=title, what=", ".join(parts))
    return f"{said}. {clash}" if clash else said
