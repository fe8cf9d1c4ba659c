"""What stands on a card: blocks of rows, worked out from a profile and the hands of its player."""

from __future__ import annotations

from collections.abc import Callable, Collection

from nubshift.app.map.words import words_for
from nubshift.model.controls import CONTROLS, REACH_NAMES, Finger
from nubshift.model.names import Names
from nubshift.model.profile import BASE, Layer, Profile
from nubshift.model.roles import KeysRole
from nubshift.model.sentences import keys_of, sends_name, slot_name
from nubshift.model.usage import entries_by_layer
from nubshift.records import Record
from nubshift.texts import _, listed

LEFT = (Finger.LEFT_INDEX, Finger.LEFT_THUMB, Finger.LEFT_GRIP, Finger.LEFT_FOOT)
RIGHT = (Finger.RIGHT_INDEX, Finger.RIGHT_THUMB, Finger.RIGHT_GRIP, Finger.RIGHT_FOOT)


class CardRow(Record, frozen=True):
    """A control: its mark is that of `control`, `does` is what it does in the words of the game, by pressing `keys`."""

    control: str
    called: str
    does: str
    keys: tuple[str, ...] = ()
    hint: str = ""


class CardBlock(Record, frozen=True):
    """Rows under a heading; `about` is a line below it."""

    title: str
    rows: tuple[CardRow, ...]
    about: str = ""


class Card(Record, frozen=True):
    """`left` and `right` are what the hands do in the base layer, `others` the rest of it, `layers` one for each
    further layer: only what it changes."""

    title: str
    note: str
    left: tuple[CardBlock, ...]
    right: tuple[CardBlock, ...]
    others: tuple[CardBlock, ...]
    layers: tuple[CardBlock, ...]


def card_of(
    profile: Profile,
    finger_of: Callable[[str], Finger] = lambda control: CONTROLS[control].reach,
    names: Names | None = None,
    seat: str = "1",
) -> Card:
    """The card of a profile, for the player of a seat."""
    words = names or Names()
    rows = {control: row for control in CONTROLS if (row := _row(profile, BASE, control, words, seat)) is not None}
    by_finger: dict[Finger, list[CardRow]] = {}
    for control, row in rows.items():
        by_finger.setdefault(finger_of(control), []).append(row)
    combined = _combinations(profile, profile.layers[0], words, seat)
    rest = [finger for finger in by_finger if finger not in (*LEFT, *RIGHT)]
    others = _blocks(by_finger, rest)
    if combined:
        others = (*others, CardBlock(_("Together"), combined))
    return Card(
        profile.game.title,
        profile.game.note,
        _blocks(by_finger, LEFT),
        _blocks(by_finger, RIGHT),
        others,
        tuple(_layer(profile, layer, words, seat) for layer in profile.layers if layer.id != BASE),
    )


def _blocks(by_finger: dict[Finger, list[CardRow]], fingers: Collection[Finger]) -> tuple[CardBlock, ...]:
    return tuple(
        CardBlock(REACH_NAMES[finger], tuple(by_finger[finger])) for finger in fingers if by_finger.get(finger)
    )


def _row(profile: Profile, layer: str, control: str, names: Names, seat: str) -> CardRow | None:
    """None for a control that does nothing here."""
    words = words_for(profile, layer, control, seat)
    binding = words.binding
    if binding is None and not words.keys:
        return None
    if binding is not None and not binding.sets:
        return None
    keys, hint = words.keys, words.hint
    if binding is not None and isinstance(binding.role, KeysRole):
        role = binding.role
        four = (role.up, role.right, role.down, role.left)
        keys = tuple(key for sends in four for key in keys_of(profile, sends)[:1])
    if binding is not None and binding.bands:
        depths = [sends_name(profile, band.what) for band in binding.bands]
        hint = "; ".join(part for part in (hint, _("by depth: {depths}").format(depths=listed(depths))) if part)
        keys = keys or tuple(key for band in binding.bands for key in keys_of(profile, band.what)[:1])
    marks = [mark for mark in words.marks if mark not in hint]
    hint = " · ".join(part for part in (*marks, hint) if part)
    return CardRow(control, names.title(control), words.title, keys[:4], hint)


def _combinations(profile: Profile, layer: Layer, names: Names, seat: str) -> tuple[CardRow, ...]:
    found = []
    for together in layer.together:
        sends = next(iter(together.gestures.values()), ())
        if together.seat == seat and sends:
            called = listed([names.title(control) for control in together.controls])
            found.append(CardRow(together.controls[0], called, sends_name(profile, sends), keys_of(profile, sends)[:4]))
    return tuple(found)


def _layer(profile: Profile, layer: Layer, names: Names, seat: str) -> CardBlock:
    own = {binding.control for binding in layer.bindings if binding.seat == seat}
    rows = [
        row
        for control in CONTROLS
        if control in own and (row := _row(profile, layer.id, control, names, seat)) is not None
    ]
    entries = entries_by_layer(profile).get(layer.id)
    about = ""
    if entries is not None and entries.slots:
        how = _("while {controls} is held") if entries.only_held else _("by {controls}")
        about = how.format(controls=listed([slot_name(profile, slot, names) for slot in entries.slots[:3]]))
    return CardBlock(layer.name, (*rows, *_combinations(profile, layer, names, seat)), about)
