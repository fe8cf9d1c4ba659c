"""The inspector's panel for a command of the game: its key, its pad form, its group, and who sends it (N11)."""

from __future__ import annotations

from functools import partial
from typing import Any

from msgspec.structs import replace
from PyQt6.QtWidgets import QWidget

from nubshift.app.editors.panel import FlowLayout, Panel, TextRow, emptied, link
from nubshift.app.stage import Stage
from nubshift.app.widgets.calm_wheel import CalmChoice
from nubshift.model import edits
from nubshift.model.keylist import keys_from
from nubshift.model.profile import BASE, Command
from nubshift.model.sends import PAD_BUTTONS
from nubshift.model.sentences import pad_title, slot_name
from nubshift.model.usage import slots_by_command
from nubshift.texts import _, ngettext


class CommandPanel(Panel):
    """One command."""

    def __init__(self, stage: Stage, command: str) -> None:
        super().__init__(stage)
        self._id = command
        self.name = TextRow(
            _("Name"), lambda text: self._change(_("Rename to ") + text, name=text[:200]) if text else None
        )
        self.keys = TextRow(_("Keys"), self._set_keys, _("Shift + E"))
        self.group = TextRow(_("Group"), lambda text: self._change(_("Change the group"), group=text[:200]))
        for row in (self.name, self.keys):
            self.add(row)
        self.press = self.link(_("Press its key…"), lambda: stage.assigning.arm_key_of(command))
        self.add(self.group)
        self.toggles = self.check(
            _("The game toggles this itself"), lambda on: self._change(_("Toggled by the game"), toggles=on)
        )
        self.toggles.setToolTip(_("One press turns it on in the game, the next turns it off"))
        self.heading(_("On a virtual pad"))
        self.pad = CalmChoice()
        self.pad.setAccessibleName(_("Virtual pad button"))
        self.pad.addItem(_("Unassigned"), ())
        for button in PAD_BUTTONS:
            self.pad.addItem(pad_title(button), (button,))
        self.pad.activated.connect(lambda _unused: self._change(_("Virtual pad button"), pad=self.pad.currentData()))
        self.add(self.pad)
        self.heading(_("Sent by"))
        self._sent = FlowLayout(4)
        self._needed = FlowLayout(4)
        sent, needed = QWidget(), QWidget()
        sent.setLayout(self._sent)
        needed.setLayout(self._needed)
        self.add(sent)
        self.bare = self.link("", self._link_bare)
        self.heading(_("Needed together with"))
        self.add(needed)
        self.with_ = CalmChoice()
        self.with_.setAccessibleName(_("Another command needed at the same time"))
        self.with_.activated.connect(self._need)
        self.add(self.with_)
        self.note = TextRow(_("Note"), lambda text: self._change("note", note=text[:5000]), _("A note to yourself"))
        self.add(self.note)
        self.refresh()

    def _link_bare(self) -> None:
        """Let the places that send its bare key send the command."""
        command = self.command
        if command is not None:
            title = _("Use {name} in place of its key").format(name=command.name)
            self.stage.document.edit(title, lambda profile: edits.with_bare_linked(profile, command))

    @property
    def command(self) -> Command | None:
        """The command."""
        return self.stage.studio.profile.command(self._id)

    def refresh(self) -> None:
        """The profile changed."""
        command = self.command
        if command is None:
            return
        studio, label_of = self.stage.studio, self.stage.label_of
        bare = edits.bare_places(studio.profile, command)
        self.bare.setVisible(bare > 0)
        words = ngettext(
            "Its key is also sent on its own in {count} place: link it",
            "Its key is also sent on its own in {count} places: link them",
            bare,
        )
        self.bare.setText(words.format(count=bare))
        self.name.show_text(command.name)
        self.keys.show_text(" + ".join(label_of(key) for key in command.keys))
        self.group.show_text(command.group)
        self.toggles.setChecked(command.toggles)
        self.pad.setCurrentIndex(max(0, self.pad.findData(command.pad)))
        self.note.show_text(command.note)
        emptied(self._sent)
        slots = slots_by_command(studio.profile)[command.id]
        for slot in slots:
            layer = studio.profile.layer(slot.layer)
            where = slot_name(studio.profile, slot, studio.selection.names)
            if layer and slot.layer != BASE:
                where = _("{control}, in {layer}").format(control=where, layer=layer.name)
            self._sent.addWidget(link(where, partial(self._go_to, slot.layer, slot.control, slot.part)))
        touch = _("Another control…") if slots else _("Press a control…")
        self._sent.addWidget(link(touch, lambda: studio.assigning.arm_command(command.id)))
        self._show_needed(command)

    def _show_needed(self, command: Command) -> None:
        profile = self.stage.studio.profile
        emptied(self._needed)
        others = [p.other if p.one == command.id else p.one for p in profile.needed if command.id in (p.one, p.other)]
        for other in others:
            entry = profile.command(other)
            name = entry.name if entry else other
            button = link(f"{name} ×", partial(self._part, other))
            button.setAccessibleName(_("{name}: no longer needed together").format(name=name))
            self._needed.addWidget(button)
        self.with_.clear()
        self.with_.addItem(_("Add command…"), "")
        for entry in profile.commands:
            if entry.id != command.id and entry.id not in others:
                self.with_.addItem(entry.name, entry.id)

    def _go_to(self, layer: str, control: str, part: str) -> None:
        self.stage.selection.show_layer(layer)
        self.stage.selection.select(control, part)

    def _change(self, title: str, **values: Any) -> None:
        command = self.command
        if command is not None:
            changed = replace(command, **values)
            self.stage.document.edit(f"{command.name} {title}", lambda profile: edits.with_command(profile, changed))

    def _set_keys(self, text: str) -> None:
        keys, unknown = keys_from(text)
        if unknown:
            self.stage.document.noticed.emit(
                "warning", _("“{unknown}” is not a key. Nothing was changed.").format(unknown=unknown)
            )
            self.refresh()
        else:
            self._change(_("Change the keys"), keys=keys)

    def _need(self, _unused: int) -> None:
        other = self.with_.currentData()
        command = self.command
        if other and command is not None:
            name = next(c.name for c in self.stage.studio.profile.commands if c.id == other)
            title = _("{name} together with {name_2}").format(name=command.name, name_2=name)
            self.stage.document.edit(title, lambda profile: edits.with_needed(profile, command.id, other))

    def _part(self, other: str) -> None:
        command = self.command
        if command is not None:
            self.stage.document.edit(
                _("{name}: no longer needed together").format(name=command.name),
                lambda profile: edits.with_needed(profile, command.id, other, needed=False),
            )
