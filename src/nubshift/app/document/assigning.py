"""Assigning: the slot that listens, and how a key, a touch or a choice becomes what a control sends (N20)."""

from __future__ import annotations

from collections.abc import Callable

from msgspec.structs import replace
from PyQt6.QtCore import QObject, pyqtSignal

from nubshift.app.document.open_document import OpenDocument
from nubshift.app.document.selection import Selection
from nubshift.app.painting.timing import once
from nubshift.model import edits
from nubshift.model.entries import Entries, entries_in, with_core
from nubshift.model.falling_through import brought, main_part, shown_sends
from nubshift.model.keys import label
from nubshift.model.profile import Command, Profile
from nubshift.model.sends import Send, SendCommand, SendKey, Sends
from nubshift.model.sentences import assign_title, binding_name
from nubshift.model.slots import Slot
from nubshift.model.usage import slots_by_command, whole_of
from nubshift.records import Record
from nubshift.texts import _

LISTENING = (5, 10, 20, 60)
"""Seconds that an armed slot can listen; the first counts until the player chooses (N20)."""


class Armed(Record, frozen=True):
    """A slot that listens. `index` is the entry to be replaced, None to add one."""

    slot: Slot
    index: int | None = None


class Assigning(QObject):
    """What listens, if anything does, and what becomes of the answer."""

    armed_changed = pyqtSignal()

    def __init__(self, document: OpenDocument, selection: Selection) -> None:
        super().__init__(document)
        self._document, self._selection = document, selection
        self.armed: Armed | None = None
        self.armed_command: str | None = None
        self.armed_key: str | None = None
        self.armed_touch = ""
        self._listen = once(self, LISTENING[0] * 1000, self.disarm)
        for gone in (document.leaving, selection.changed, selection.layer_changed, selection.seat_changed):
            gone.connect(self.disarm)

    # Listening

    def arm(self, slot: Slot, index: int | None = None) -> None:
        """Let a slot listen for one key, for `listening_seconds` at most. Armed again, it stops."""
        wanted = Armed(slot, index)
        again = wanted == self.armed
        self.disarm()
        if not again:
            self.armed = wanted
            self._begin()

    def arm_control(self, control: str, part: str = "") -> None:
        """Let a control listen for the key it shall send instead of what it sends first now."""
        slot = self._selection.slot(control, part or self.main_part(control))
        self.arm(slot, 0 if shown_sends(self._document.profile, slot) else None)

    def arm_command(self, command: str) -> None:
        """Let a command listen for a touch of the control that shall send it."""
        again = command == self.armed_command
        self.disarm()
        if not again:
            self.armed_command = command
            self._begin()

    def arm_key_of(self, command: str) -> None:
        """Let a command listen for the key that the game has for it."""
        self.disarm()
        self.armed_key = command
        self._begin()

    def arm_touch(self, purpose: str) -> None:
        """Let the next control that is touched be the answer for `purpose`; see `touched_for`."""
        again = purpose == self.armed_touch
        self.disarm()
        if not again:
            self.armed_touch = purpose
            self._begin()

    @property
    def listening_seconds(self) -> int:
        """How long a slot listens."""
        return self._listen.interval() // 1000

    def listen_for(self, seconds: int) -> None:
        """Let slots listen so long from now on."""
        self._listen.setInterval(seconds * 1000 if seconds in LISTENING else LISTENING[0] * 1000)

    @property
    def time_left(self) -> float:
        """The share of its time that what listens has left; 0 where nothing does."""
        left = self._listen.remainingTime()
        return max(0.0, min(1.0, left / self._listen.interval())) if self._listen.isActive() else 0.0

    def _begin(self) -> None:
        self._listen.start()
        self.armed_changed.emit()

    def disarm(self) -> None:
        """Nothing listens any more."""
        self._listen.stop()
        if self.listens or self.awaits_touch:
            self.armed, self.armed_command, self.armed_key, self.armed_touch = None, None, None, ""
            self.armed_changed.emit()

    @property
    def listens(self) -> bool:
        """Whether the next key pressed is meant for a slot or a command."""
        return self.armed is not None or self.armed_key is not None

    @property
    def awaits_touch(self) -> bool:
        """Whether the next control touched is an answer."""
        return self.armed_command is not None or bool(self.armed_touch)

    # The answer

    def send_for_key(self, key: str) -> Send:
        """What sending `key` means in this profile: the command that has just this key, else the bare key."""
        command = next((c for c in self._document.profile.commands if c.keys == (key,)), None)
        return SendCommand(command.id) if command else SendKey(key)

    def give_key(self, key: str) -> None:
        """A key was pressed for what listens."""
        command = self._document.profile.command(self.armed_key) if self.armed_key else None
        if command is not None:
            self.disarm()
            changed = replace(command, keys=(key,))
            self._document.edit(
                _("{label} for {name}").format(label=label(key), name=command.name),
                lambda profile: edits.with_command(profile, changed),
            )
        else:
            self.give(self.send_for_key(key))

    def give(self, send: Send) -> None:
        """Put something into the armed slot, which then stops listening."""
        armed = self.armed
        if armed is not None:
            self.fill(armed, send)

    def fill(self, armed: Armed, send: Send, first: Callable[[Profile], Profile] | None = None) -> None:
        """Put something into a slot that listens, or did until a list or a picture was opened for it.

        What was there keeps being toggled or repeated. `first` makes what `send` needs, in the same step.
        """
        self.disarm()
        entries = entries_in(shown_sends(self._document.profile, armed.slot))
        rows = list(entries.rows)
        if armed.index is not None and armed.index < len(rows):
            rows[armed.index] = with_core(rows[armed.index], send)
        elif send not in rows:
            rows.append(send)
        self.set_sends(armed.slot, Entries(tuple(dict.fromkeys(rows)), entries.ordered, entries.gap).sends, first)

    def main_part(self, control: str) -> str:
        """The gesture that a key given to a button is meant for."""
        return main_part(self._document.profile, self._selection.slot(control))

    def set_sends(self, slot: Slot, sends: Sends, first: Callable[[Profile], Profile] | None = None) -> None:
        """Let a slot send exactly this; see `brought` and `fill`. A d-pad is used whole, or by its four buttons."""
        whole = whole_of(self._document.profile, slot.layer, slot.control, slot.seat) if slot.layer else None
        if whole is not None and sends:
            use = binding_name(self._document.profile, whole.binding)
            self._document.noticed.emit(
                "info",
                _("The d-pad is used as a whole here: {use}. Set it to “Unassigned” to use its buttons.").format(
                    use=use
                ),
            )
            return
        named = first(self._document.profile) if first is not None else self._document.profile

        def change(profile: Profile) -> Profile:
            made = first(profile) if first is not None else profile
            return edits.with_sends(brought(made, slot), slot, sends)

        self._document.edit(assign_title(named, slot, sends, self._selection.names), change)

    # Commands and touches

    def touched(self, slot: Slot) -> None:
        """A control was touched while a command listened: it sends that command, and the next one without a control
        listens."""
        command = self.armed_command
        if command is None:
            return
        self.disarm()
        self._selection.select(slot.control, slot.part if slot.direction else "")
        self.set_sends(slot, (SendCommand(command),))
        following = self.next_without_control(command)
        if following is not None:
            self.arm_command(following.id)

    def next_without_control(self, after: str) -> Command | None:
        """The next command that no control sends, in the order of the list, beginning anew at its end."""
        used = slots_by_command(self._document.profile)
        ids = [c.id for c in self._document.profile.commands]
        start = ids.index(after) + 1 if after in ids else 0
        order = (*self._document.profile.commands[start:], *self._document.profile.commands[:start])
        return next((c for c in order if not used[c.id]), None)
