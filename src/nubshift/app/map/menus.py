"""The menus of single things in Map: of a control, a command, a group, a layer."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from msgspec.structs import replace
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtWidgets import QMenu, QWidget

from nubshift.app.document import subject
from nubshift.app.map.edit_commands import EditCommands
from nubshift.app.map.hands import OTHERS, ROWS, Hands
from nubshift.app.stage import Stage
from nubshift.model import edits
from nubshift.model.controls import CONTROLS, REACH_NAMES
from nubshift.model.profile import BASE
from nubshift.model.slots import BELT, MACRO
from nubshift.texts import _


class Menus:
    """Makes and shows them over `parent`."""

    def __init__(self, stage: Stage, hands: Hands, edit_commands: EditCommands, parent: QWidget) -> None:
        self._stage = stage
        self._hands = hands
        self._edit_commands = edit_commands
        self._parent = parent

    def _menu(self) -> QMenu:
        menu = QMenu(self._parent)
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        return menu

    @staticmethod
    def _put(menu: QMenu, text: str, run: Callable[[], None]) -> None:
        action = menu.addAction(text)
        if action is not None:
            action.triggered.connect(lambda _=False: run())

    # Controls

    def control(self, control: str, at: QPoint) -> None:
        """What can be done with a control, or with all that are selected."""
        studio, edit_commands = self._stage.studio, self._edit_commands
        menu = self._menu()
        if len(studio.selection.chosen) == 1 and control in self._hands.tiles:
            self._put(menu, _("Press its key…"), self._hands.tiles[control].arm)
            menu.addSeparator()
        self._put(menu, _("Copy"), edit_commands.copy)
        self._put(menu, _("Paste"), edit_commands.paste)
        self._put(menu, _("Mirror left and right"), edit_commands.mirror)
        base = studio.profile.layers[0].name
        self._put(
            menu,
            _("Clear") if studio.selection.layer == BASE else _("Inherit from {base}").format(base=base),
            edit_commands.clear,
        )
        self._layers(menu)
        self._reach(menu, control)
        menu.popup(at)

    def _layers(self, menu: QMenu) -> None:
        studio = self._stage.studio
        others = [layer for layer in studio.profile.layers if layer.id != studio.selection.layer]
        for text, move in ((_("Copy to layer"), False), (_("Move to layer"), True)):
            inner = QMenu(text, menu)
            for layer in others:
                self._put(inner, layer.name, partial(self._edit_commands.to_layer, layer.id, move=move))
            if others:
                menu.addMenu(inner)
        self._put(
            menu,
            _("New layer from these…") if len(studio.selection.chosen) > 1 else _("New layer from this…"),
            self.ask_layer_from,
        )

    def ask_layer_from(self) -> None:
        """Ask for the name of a layer made from what is selected."""
        name = _("Layer {count}").format(count=len(self._stage.studio.profile.layers))
        self._stage.wishes.name(
            _("Name of the new layer with what these controls do now"), name, self._edit_commands.layer_from
        )

    def _reach(self, menu: QMenu, control: str) -> None:
        if control not in CONTROLS or control not in self._hands.tiles:
            return
        inner = QMenu(_("Reached by"), menu)
        present = self._stage.grasp.finger(control)
        for reach in (*(reach for row in ROWS for reach in row), *OTHERS):
            action = inner.addAction(REACH_NAMES[reach])
            if action is not None:
                action.setCheckable(True)
                action.setChecked(reach is present)
                action.triggered.connect(lambda _=False, which=reach: self._stage.grasp.give(control, which))
        menu.addMenu(inner)

    # The key list

    def row(self, row_id: str, at: QPoint) -> None:
        """What can be done with a row of the key list."""
        kind, _unused, name = row_id.partition(":")
        menu = self._menu()
        if row_id.startswith((BELT, MACRO)):
            belt = row_id.startswith(BELT)
            self._put(
                menu,
                _("Open belt") if belt else _("Open macro"),
                lambda: self._stage.selection.look_at(subject.of_owner(row_id)),
            )
            self._put(menu, _("Delete belt") if belt else _("Delete macro"), lambda: self._remove_part(kind, name))
        elif kind == "group":
            self._put(menu, _("Rename this group…"), lambda: self.rename_group(name))
        else:
            self._command(menu, row_id)
        menu.popup(at)

    def _command(self, menu: QMenu, command_id: str) -> None:
        studio = self._stage.studio
        self._put(menu, _("Press a control…"), lambda: studio.assigning.arm_command(command_id))
        self._put(menu, _("Press its key…"), lambda: studio.assigning.arm_key_of(command_id))
        self._put(menu, _("Edit command…"), lambda: studio.selection.look_at(subject.command(command_id)))
        menu.addSeparator()
        self._put(menu, _("Rename…"), lambda: self.rename_command(command_id))
        self._put(menu, _("Move to group…"), lambda: self.group_command(command_id))
        self._put(menu, _("Delete"), lambda: self.remove_command(command_id))

    def _remove_part(self, kind: str, name: str) -> None:
        remove = edits.without_belt if kind == "belt" else edits.without_macro
        self._stage.document.edit(
            (_("Delete belt {name}") if kind == "belt" else _("Delete macro {name}")).format(name=name),
            lambda profile: remove(profile, name),
        )

    def rename_group(self, group: str) -> None:
        """Ask for another name of a group."""
        studio = self._stage.studio
        self._stage.wishes.name(
            _("Name of the group"),
            group,
            lambda name: studio.document.edit(
                _("Group {name}").format(name=name), lambda profile: edits.with_group_named(profile, group, name)
            ),
        )

    def rename_command(self, command_id: str) -> None:
        """Ask for another name."""
        command = self._stage.studio.profile.command(command_id)
        if command is not None:
            self._stage.wishes.name(
                _("Name in the game"), command.name, lambda name: self._change(command_id, name=name)
            )

    def group_command(self, command_id: str) -> None:
        """Ask for a group."""
        profile = self._stage.studio.profile
        command = profile.command(command_id)
        if command is not None:
            groups = tuple(
                group for group in dict.fromkeys(c.group for c in profile.commands) if group != command.group
            )
            self._stage.wishes.name(
                _("Group"), command.group, lambda name: self._change(command_id, group=name), groups
            )

    def _change(self, command_id: str, **values: str) -> None:
        command = self._stage.studio.profile.command(command_id)
        if command is not None:
            changed = replace(command, **values)
            words = (
                _("Rename to {name}").format(name=changed.name)
                if "name" in values
                else _("Move to group {group}").format(group=changed.group or _("No group"))
            )
            self._stage.document.edit(
                _("{name}: {change}").format(name=command.name, change=words),
                lambda profile: edits.with_command(profile, changed),
            )

    def remove_command(self, command_id: str) -> None:
        """Take a command out, and everything that sent it."""
        command = self._stage.studio.profile.command(command_id)
        if command is not None:
            self._stage.document.edit(
                _("Delete {name}").format(name=command.name), lambda p: edits.without_command(p, command_id)
            )

    # Layers

    def layer(self, layer_id: str, at: QPoint) -> None:
        """What can be done with a layer."""
        menu = self._menu()
        self._put(menu, _("Edit layer…"), lambda: self._stage.selection.look_at(subject.LAYER))
        self._put(menu, _("Rename…"), lambda: self.rename_layer(layer_id))
        if layer_id != BASE:
            self._put(menu, _("Delete layer"), lambda: self.remove_layer(layer_id))
        menu.popup(at)

    def add_layer(self) -> None:
        """Ask for a name; the new layer on top is then edited."""
        name = _("Layer {count}").format(count=len(self._stage.studio.profile.layers))
        self._stage.wishes.name(_("Name of the new layer"), name, self._added)

    def _added(self, name: str) -> None:
        studio = self._stage.studio
        known = {layer.id for layer in studio.profile.layers}
        studio.document.edit(
            _("Add layer {name}").format(name=name), lambda profile: edits.with_layer(profile, name)[0]
        )
        studio.selection.show_layer(next((layer.id for layer in studio.profile.layers if layer.id not in known), BASE))

    def rename_layer(self, layer_id: str) -> None:
        """Ask for another name."""
        studio = self._stage.studio
        layer = studio.profile.layer(layer_id)
        if layer is not None:
            self._stage.wishes.name(
                _("Name of the layer"),
                layer.name,
                lambda name: studio.document.edit(
                    _("Rename layer {name} to {name_2}").format(name=layer.name, name_2=name),
                    lambda p: edits.with_layer_set(p, layer_id, name=name),
                ),
            )

    def remove_layer(self, layer_id: str) -> None:
        """Take a layer out, and everything that entered it."""
        layer = self._stage.studio.profile.layer(layer_id)
        if layer is not None:
            self._stage.document.edit(
                _("Delete layer {name}").format(name=layer.name), lambda p: edits.without_layer(p, layer_id)
            )
