"""What is being edited: the profile with its file, the layer shown, the control selected, and the slot that listens.

Everything the window changes in a profile goes through here, and every view learns of it by these signals.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

from msgspec.structs import replace
from PyQt6.QtCore import QObject, pyqtSignal

from nubshift.app.timing import once
from nubshift.errors import ProfileError, StorageError
from nubshift.model import edits
from nubshift.model.changes import Changes
from nubshift.model.document import Document
from nubshift.model.edits import Slot
from nubshift.model.keys import label
from nubshift.model.neighbours import read_neighbours
from nubshift.model.part import Direction
from nubshift.model.profile import BASE, Command, Profile
from nubshift.model.sends import Send, SendCommand, SendKey, Sends
from nubshift.model.sentences import assign_title
from nubshift.model.store import ProfileFile
from nubshift.model.usage import look_up, slots_by_command

LISTEN_MS = 5000
"""How long an armed slot listens (N20)."""
KEEP_MS = 250
"""An edit is on disk this long after the last one."""


@dataclass(frozen=True)
class Armed:
    """A slot that listens. `index` is the entry to be replaced, None to add one."""

    slot: Slot
    index: int | None = None


class Studio(QObject):
    """The open profile."""

    opened = pyqtSignal()
    edited = pyqtSignal(Changes)
    selected_changed = pyqtSignal()
    layer_changed = pyqtSignal()
    armed_changed = pyqtSignal()
    kept_changed = pyqtSignal()
    noticed = pyqtSignal(str, str)

    def __init__(self, file: ProfileFile, profile: Profile, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.file = file
        self.document = Document(profile)
        self.layer = BASE
        self.control = "south"
        self.direction: Direction | None = None
        self.armed: Armed | None = None
        self.armed_command: str | None = None
        self.armed_key: str | None = None
        self.kept = True
        self.trouble = ""
        self._listen = once(self, LISTEN_MS, self.disarm)
        self._keep = once(self, KEEP_MS, self.keep)

    @property
    def profile(self) -> Profile:
        """The profile as it is now."""
        return self.document.profile

    def neighbours(self) -> dict[str, Profile]:
        """The profiles beside this one that it enters while a control is held, by name."""
        return read_neighbours(self.profile, self.file.path.parent)

    # Opening and keeping

    def open(self, path: Path) -> bool:
        """Open another profile file; the one open now is kept first. On trouble say so and change nothing."""
        file = ProfileFile(path)
        try:
            profile = file.read()
        except (ProfileError, StorageError) as error:
            self.noticed.emit("error", f"{error}")
            return False
        self.begin(file, profile)
        return True

    def begin(self, file: ProfileFile, profile: Profile) -> None:
        """Edit this profile from now on."""
        self.keep()
        self.disarm()
        self.file, self.document = file, Document(profile)
        self.layer, self.direction = BASE, None
        self.kept, self.trouble = True, ""
        self.opened.emit()
        self.kept_changed.emit()

    def keep(self) -> bool:
        """Write what is not written yet; False (and a notice) if that fails, the edits stay and are tried again."""
        self._keep.stop()
        if self.kept:
            return True
        try:
            aside = self.file.write(self.profile)
        except StorageError as error:
            if str(error) != self.trouble:
                self.trouble = str(error)
                self.noticed.emit("error", f"{error}.")
                self.kept_changed.emit()
            self._keep.start(KEEP_MS * 20)
            return False
        if aside is not None:
            self.noticed.emit(
                "warning", f"The file had been changed by another program. That version is in {aside.name}."
            )
        self.kept, self.trouble = True, ""
        self.kept_changed.emit()
        return True

    # Editing

    def edit(self, title: str, change: Callable[[Profile], Profile], merge: str = "") -> None:
        """Do a named edit; see `Document.edit`."""
        try:
            changes = self.document.edit(title, change, merge)
        except ProfileError as error:
            self.noticed.emit("error", f"That can't be done: {error.problems[0].text}.")
            return
        self._changed(changes)

    def undo(self) -> None:
        """Take the last edit back."""
        self.disarm()
        self._changed(self.document.undo())

    def redo(self) -> None:
        """Do the edit again that was taken back last."""
        self.disarm()
        self._changed(self.document.redo())

    def _changed(self, changes: Changes) -> None:
        if not changes:
            return
        if self.profile.layer(self.layer) is None:
            self.show_layer(BASE)
        self.kept = False
        self._keep.start(KEEP_MS)
        self.edited.emit(changes)
        self.kept_changed.emit()

    # Looking

    def select(self, control: str, direction: Direction | None = None) -> None:
        """Select a control, or one direction of a stick. Whatever listened stops listening."""
        if (control, direction) != (self.control, self.direction):
            self.disarm()
            self.control, self.direction = control, direction
            self.selected_changed.emit()

    def show_layer(self, layer: str) -> None:
        """Edit this layer from now on."""
        if layer != self.layer:
            self.disarm()
            self.layer = layer
            self.layer_changed.emit()

    # Assigning (N20)

    def slot(self, control: str | None = None, direction: Direction | None = None) -> Slot:
        """The slot of a control (the selected one by default) in the layer shown."""
        return Slot(self.layer, control or self.control, direction)

    def arm(self, slot: Slot, index: int | None = None) -> None:
        """Let a slot listen for one key, at most `LISTEN_MS`. Armed again, it stops."""
        wanted = Armed(slot, index)
        again = wanted == self.armed
        self.disarm()
        if not again:
            self.armed = wanted
            self._listen.start()
            self.armed_changed.emit()

    def arm_control(self, control: str, direction: Direction | None = None) -> None:
        """Let a control listen for the key it shall send instead of what it sends first now."""
        slot = self.slot(control, direction)
        self.arm(slot, 0 if self.shown_sends(slot) else None)

    def arm_command(self, command: str) -> None:
        """Let a command listen for a touch of the control that shall send it."""
        again = command == self.armed_command
        self.disarm()
        if not again:
            self.armed_command = command
            self._listen.start()
            self.armed_changed.emit()

    def arm_key_of(self, command: str) -> None:
        """Let a command listen for the key that the game has for it."""
        self.disarm()
        self.armed_key = command
        self._listen.start()
        self.armed_changed.emit()

    def disarm(self) -> None:
        """Nothing listens any more."""
        self._listen.stop()
        if self.listens or self.armed_command is not None:
            self.armed, self.armed_command, self.armed_key = None, None, None
            self.armed_changed.emit()

    @property
    def listens(self) -> bool:
        """Whether the next key pressed is meant for a slot or a command."""
        return self.armed is not None or self.armed_key is not None

    def send_for_key(self, key: str) -> Send:
        """What sending `key` means in this profile: the command that has just this key, else the bare key."""
        command = next((c for c in self.profile.commands if c.keys == (key,)), None)
        return SendCommand(command.id) if command else SendKey(key)

    def give_key(self, key: str) -> None:
        """A key was pressed for what listens."""
        command = self.profile.command(self.armed_key) if self.armed_key else None
        if command is not None:
            self.disarm()
            changed = replace(command, keys=(key,))
            self.edit(f"{label(key)} for {command.name}", lambda profile: edits.with_command(profile, changed))
        else:
            self.give(self.send_for_key(key))

    def give(self, send: Send) -> None:
        """Put something into the armed slot, which then stops listening."""
        armed = self.armed
        if armed is not None:
            self.fill(armed, send)

    def fill(self, armed: Armed, send: Send) -> None:
        """Put something into a slot that listens, or did until a list or a picture was opened for it."""
        self.disarm()
        sends = list(self.shown_sends(armed.slot))
        if armed.index is not None and armed.index < len(sends):
            sends[armed.index] = send
        elif send not in sends:
            sends.append(send)
        self.set_sends(armed.slot, tuple(dict.fromkeys(sends)))

    def shown_sends(self, slot: Slot) -> Sends:
        """What stands in a slot; if the layer does not set the control yet, what falls through to it."""
        layer = self.profile.layer(slot.layer)
        if layer is not None and layer.binding(slot.control) is not None:
            return edits.sends_of(self.profile, slot)
        found = look_up(self.profile, slot.layer, slot.control)
        if found is None or slot.direction is None:
            return ()
        return edits.sends_of(self.profile, Slot(found.layer.id, slot.control, slot.direction))

    def set_sends(self, slot: Slot, sends: Sends) -> None:
        """Let a slot send exactly this.

        A stick that falls through brings its other directions along, since a layer sets the whole control (R5).
        """
        source = self._inherited_layer(slot)

        def change(profile: Profile) -> Profile:
            if source is not None and slot.direction is not None:
                inherited = profile.layer(source)
                binding = inherited.binding(slot.control) if inherited else None
                if binding is not None:
                    profile = edits.with_role(profile, slot.layer, slot.control, binding.role)
            return edits.with_sends(profile, slot, sends)

        self.edit(assign_title(self.profile, slot, sends), change)

    def _inherited_layer(self, slot: Slot) -> str | None:
        found = look_up(self.profile, slot.layer, slot.control)
        return found.layer.id if found and found.layer.id != slot.layer else None

    def touched(self, slot: Slot) -> None:
        """A control was touched while a command listened: it sends that command, and the next one without a control
        listens."""
        command = self.armed_command
        if command is None:
            return
        self.disarm()
        self.select(slot.control, slot.direction)
        self.set_sends(slot, (SendCommand(command),))
        following = self.next_without_control(command)
        if following is not None:
            self.arm_command(following.id)

    def next_without_control(self, after: str) -> Command | None:
        """The next command that no control sends, in the order of the list, beginning anew at its end."""
        used = slots_by_command(self.profile)
        ids = [c.id for c in self.profile.commands]
        start = ids.index(after) + 1 if after in ids else 0
        order = (*self.profile.commands[start:], *self.profile.commands[:start])
        return next((c for c in order if not used[c.id]), None)
