"""What tiles and lists say about a control: worked out from the profile once per edit, painted often."""

from __future__ import annotations

from dataclasses import dataclass

from nubshift.model.controls import Kind, kind_of
from nubshift.model.entries import beat_of, core_of, stays_on
from nubshift.model.profile import BASE, Binding, Profile
from nubshift.model.roles import KeysRole
from nubshift.model.sends import ChangeLayer, HoldLayer, Pulsed, SendBelt, Sends
from nubshift.model.sentences import binding_name, keys_of, send_name, sends_name
from nubshift.model.usage import Found, combinations_of, look_up, whole_of

SHORT = {"press": "press", "tap": "tap", "hold": "hold", "double": "twice", "release": "let go"}


@dataclass(frozen=True)
class Words:
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
    with_others = ("with others",) if any(combinations_of(profile, layer, control, seat)) else ()
    whole = whole_of(profile, layer, control, seat)
    if whole is not None:
        return _of_whole(profile, whole, control, whole.layer.id == layer, elsewhere)
    if found is None or found.binding.blocked:
        title = "let nothing through" if found else "only with others" if with_others else "nothing yet"
        return Words(found, own, title, (), "", elsewhere, with_others)
    binding = found.binding
    if binding.by_depth:
        count = len(binding.bands)
        depths = (f"{count} depths" if count > 1 else "by depth",) if count else ()
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
        how = HOW[layers[0].how] if layers and isinstance(layers[0], ChangeLayer) else "while held"
        return Words(found, own, f"Layer {names}", (), rest or how, elsewhere, marks)
    hint = "; ".join(part for part in (f"enters {names}" if layers else "", rest) if part)
    title = " + ".join(send_name(profile, core_of(send)) for send in others)
    return Words(found, own, title, keys_of(profile, others), hint, elsewhere, marks)


def _of_whole(profile: Profile, whole: Found, control: str, own: bool, elsewhere: tuple[str, ...]) -> Words:
    """A button of a d-pad that is used as a whole: what its direction sends, or what the whole is used as."""
    role = whole.binding.role
    if isinstance(role, KeysRole):
        sends: Sends = getattr(role, control.removeprefix("dpad_"))
        return Words(
            None,
            own,
            sends_name(profile, sends) if sends else "nothing yet",
            keys_of(profile, sends),
            "of the whole",
            elsewhere,
        )
    return Words(None, own, binding_name(profile, whole.binding), (), "the whole d-pad", elsewhere)


HOW = {"toggle": "on and off", "once": "for one press", "enter": "enter it", "leave": "leave it", "only": "only this"}
"""How a layer changes, in a tile."""


def _layer_name(profile: Profile, layer: str) -> str:
    found = profile.layer(layer)
    return found.name if found else layer


def _ways(sends: Sends) -> tuple[str, ...]:
    """Toggle, turbo and belt in a word each."""
    found: dict[str, None] = {}
    for send in sends:
        if stays_on(send):
            found["toggle"] = None
        beat = beat_of(send)
        if beat is not None:
            found["by depth" if isinstance(beat, Pulsed) else "turbo"] = None
        if isinstance(core_of(send), SendBelt):
            found["belt"] = None
    return tuple(found)


def spoken(title: str, control: str, words: Words, label_of: dict[str, str], clash: str = "") -> str:
    """The tile in one sentence, for a screen reader."""
    keys = " and ".join(label_of.get(key, key) for key in words.keys)
    kind = "" if kind_of(control) is not Kind.STICK else "stick, "
    own = "" if words.own else ", from below" if words.found else ""
    marks = f", {', '.join(words.marks)}" if words.marks else ""
    hint = f", {words.hint}" if words.hint else ""
    said = f"{title}: {kind}{words.title}{f', key {keys}' if keys else ''}{marks}{hint}{own}"
    return f"{said}. {clash}" if clash else said
