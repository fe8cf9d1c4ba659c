"""What tiles and lists say about a control: worked out from the profile once per edit, painted often."""

from __future__ import annotations

from dataclasses import dataclass

from nubshift.model.controls import CONTROLS, Kind
from nubshift.model.profile import BASE, Binding, Profile
from nubshift.model.sends import HoldLayer, Sends
from nubshift.model.sentences import binding_name, keys_of, send_name, sends_name
from nubshift.model.usage import Found, look_up


@dataclass(frozen=True)
class Words:
    """A control as it is in the layer shown. `own`: this layer sets it, or at least its feel."""

    found: Found | None
    own: bool
    title: str
    keys: tuple[str, ...]
    hint: str
    elsewhere: tuple[str, ...]

    @property
    def binding(self) -> Binding | None:
        """The binding that counts."""
        return self.found.binding if self.found else None


def words_for(profile: Profile, layer: str, control: str) -> Words:
    """What to say about a control in a layer."""
    found = look_up(profile, layer, control)
    entry = profile.layer(layer)
    own = found is not None and (found.layer.id == layer or (entry is not None and entry.feel_of(control) is not None))
    elsewhere = tuple(
        entry.name for entry in profile.layers if entry.id not in (layer, BASE) and entry.binding(control) is not None
    )
    if found is None or found.binding.blocked:
        return Words(found, own, "let nothing through" if found else "nothing yet", (), "", elsewhere)
    binding = found.binding
    if binding.by_depth or binding.gestures.keys() - {"press"}:
        return Words(found, own, binding_name(profile, binding), (), "", elsewhere)
    sends = binding.press
    layers = [s for s in sends if isinstance(s, HoldLayer)]
    others: Sends = tuple(s for s in sends if not isinstance(s, HoldLayer))
    names = ", ".join(send_name(profile, s).removeprefix("layer ") for s in layers)
    if not others:
        return Words(found, own, f"Layer {names}", (), "while held", elsewhere)
    hint = f"enters {names}" if layers else ""
    return Words(found, own, sends_name(profile, others), keys_of(profile, others), hint, elsewhere)


def spoken(control: str, words: Words, label_of: dict[str, str]) -> str:
    """The tile in one sentence, for a screen reader."""
    title = CONTROLS[control].title
    keys = " and ".join(label_of.get(key, key) for key in words.keys)
    kind = "" if CONTROLS[control].kind is not Kind.STICK else "stick, "
    own = "" if words.own else ", from below" if words.found else ""
    return f"{title}: {kind}{words.title}{f', key {keys}' if keys else ''}{own}"
