"""The sends of a slot as a person edits them: rows, in order or all at once, each plain, staying on or repeating."""

from __future__ import annotations

from msgspec import Struct
from msgspec.structs import replace

from nubshift.model.sends import InOrder, Pulsed, Send, Sends, Toggled, Turbo


class Entries(Struct, frozen=True):
    """`rows` sent at once, or one after the other if `ordered`, with `gap` ms between (None: the profile's)."""

    rows: Sends
    ordered: bool = False
    gap: int | None = None

    @property
    def sends(self) -> Sends:
        """As they stand in the profile."""
        return (InOrder(self.rows, self.gap),) if self.ordered and len(self.rows) > 1 else self.rows


def entries_in(sends: Sends) -> Entries:
    """The rows that sends are."""
    if len(sends) == 1 and isinstance(sends[0], InOrder):
        return Entries(sends[0].what, True, sends[0].gap)
    return Entries(sends)


def core_of(send: Send) -> Send:
    """What is sent in the end: without staying on and repeating. A modifier of several sends is a core itself."""
    while isinstance(send, Toggled | Turbo | Pulsed) and len(send.what) == 1:
        send = send.what[0]
    return send


def with_core(send: Send, core: Send) -> Send:
    """`send` with another core, toggled and repeated as before."""
    if isinstance(send, Toggled | Turbo | Pulsed) and len(send.what) == 1:
        return replace(send, what=(with_core(send.what[0], core),))
    return core


def stays_on(send: Send) -> bool:
    """Whether one use switches it on and the next one off."""
    return isinstance(send, Toggled)


def with_staying_on(send: Send, on: bool) -> Send:
    """`send` toggled, or held as long as the control is."""
    if on:
        return send if isinstance(send, Toggled) else Toggled((send,))
    return send.what[0] if isinstance(send, Toggled) and len(send.what) == 1 else send


def beat_of(send: Send) -> Turbo | Pulsed | None:
    """How a send repeats, if it does."""
    inner = send.what[0] if isinstance(send, Toggled) and len(send.what) == 1 else send
    return inner if isinstance(inner, Turbo | Pulsed) else None


def with_beat(send: Send, beat: Turbo | Pulsed | None) -> Send:
    """`send` repeating like `beat` (whose own sends do not count), or steady."""
    if isinstance(send, Toggled) and len(send.what) == 1:
        return replace(send, what=(with_beat(send.what[0], beat),))
    plain = send.what if isinstance(send, Turbo | Pulsed) else (send,)
    if beat is not None:
        return replace(beat, what=plain)
    return plain[0] if len(plain) == 1 else send
