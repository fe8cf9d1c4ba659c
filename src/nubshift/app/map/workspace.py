"""The workspace Map: where a profile is made. Key list, hands and inspector, joined through the studio."""

from __future__ import annotations

from collections.abc import Callable

from msgspec.structs import replace
from PyQt6.QtCore import QPoint
from PyQt6.QtWidgets import QHBoxLayout, QInputDialog, QMenu, QVBoxLayout, QWidget

from nubshift.app.live import now_us
from nubshift.app.map.hands import Hands
from nubshift.app.map.inspector import Inspector
from nubshift.app.map.key_list import KeyList
from nubshift.app.map.rail import Rail
from nubshift.app.map.tiles import Stage
from nubshift.feel.directions import angle_of, plain_sector
from nubshift.model import edits
from nubshift.model.controls import CONTROLS, Kind
from nubshift.model.part import DIRECTIONS, Direction
from nubshift.model.profile import BASE
from nubshift.model.roles import KeysRole
from nubshift.model.usage import look_up

DOUBLE_TOUCH_US = 450_000


class MapWorkspace(QWidget):
    """Map. `touch_selects` is the switch that decides whether touching the controller selects its controls."""

    def __init__(self, stage: Stage) -> None:
        super().__init__()
        self._stage = stage
        self.touch_selects = True
        self._last_touch: tuple[str, int] = ("", 0)
        self.keys = KeyList(stage)
        self.keys.setFixedWidth(232)
        self.rail = Rail(stage.studio, stage.live, stage.look)
        self.hands = Hands(stage)
        self.inspector = Inspector(stage)
        self.inspector.setFixedWidth(304)
        middle = QVBoxLayout()
        middle.setContentsMargins(10, 0, 10, 8)
        middle.setSpacing(2)
        middle.addWidget(self.rail)
        middle.addWidget(self.hands, 1)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        row.addWidget(self.keys)
        row.addLayout(middle, 1)
        row.addWidget(self.inspector)
        self.rail.add_wanted.connect(self.add_layer)
        self.rail.menu_wanted.connect(self._layer_menu)
        self.hands.menu_wanted.connect(self._control_menu)
        self.keys.menu_wanted.connect(self._command_menu)
        stage.live.touched.connect(self._touched)

    # Touching the controller

    def _touched(self, control: str) -> None:
        """A control was moved on purpose while this window has the focus."""
        studio, live = self._stage.studio, self._stage.live
        if live.real:
            return
        direction = self._direction(control)
        if studio.armed_command is not None:
            studio.touched(studio.slot(control, direction))
            return
        if not self.touch_selects or studio.listens:
            return
        twice = self._last_touch[0] == control and now_us() - self._last_touch[1] < DOUBLE_TOUCH_US
        self._last_touch = ("" if twice else control, now_us())
        studio.select(control, direction)
        self.hands.tiles[control].setFocus()
        if twice:
            self.hands.tiles[control].arm()

    def _direction(self, control: str) -> Direction | None:
        """The direction in which a stick used as keys, or one without a role, was moved."""
        if CONTROLS[control].kind is not Kind.STICK:
            return None
        found = look_up(self._stage.studio.profile, self._stage.studio.layer, control)
        if found is not None and found.binding.role is not None and not isinstance(found.binding.role, KeysRole):
            return None
        x, y = self._stage.live.value(control)
        return DIRECTIONS[plain_sector(angle_of(x, y), 0.0)]

    # Layers

    def add_layer(self) -> None:
        """A new layer on top, which is then edited."""
        studio = self._stage.studio
        name, given = QInputDialog.getText(self, "A new layer", "Its name:", text=f"Layer {len(studio.profile.layers)}")
        if given and name.strip():
            known = {layer.id for layer in studio.profile.layers}
            studio.edit(f"Add layer {name.strip()}", lambda profile: edits.with_layer(profile, name.strip()[:200])[0])
            new = next((layer.id for layer in studio.profile.layers if layer.id not in known), BASE)
            studio.show_layer(new)

    def _layer_menu(self, layer_id: str, at: QPoint) -> None:
        menu = QMenu(self)
        self._put(menu, "Rename…", lambda: self.rename_layer(layer_id))
        if layer_id != BASE:
            self._put(menu, "Remove this layer", lambda: self.remove_layer(layer_id))
        menu.popup(at)

    def rename_layer(self, layer_id: str) -> None:
        """Ask for another name."""
        layer = self._stage.studio.profile.layer(layer_id)
        if layer is None:
            return
        name, given = QInputDialog.getText(self, "Rename the layer", "Its name:", text=layer.name)
        if given and name.strip():
            title = f"Layer {layer.name} is now {name.strip()}"
            self._stage.studio.edit(title, lambda p: edits.with_layer_named(p, layer_id, name.strip()[:200]))

    def remove_layer(self, layer_id: str) -> None:
        """Take a layer out, and everything that entered it."""
        layer = self._stage.studio.profile.layer(layer_id)
        if layer is not None:
            self._stage.studio.edit(f"Remove layer {layer.name}", lambda p: edits.without_layer(p, layer_id))

    # Menus of single things

    @staticmethod
    def _put(menu: QMenu, text: str, run: Callable[[], None]) -> None:
        action = menu.addAction(text)
        if action is not None:
            action.triggered.connect(lambda _=False: run())

    def _control_menu(self, control: str, at: QPoint) -> None:
        studio = self._stage.studio
        layer = studio.profile.layer(studio.layer)
        menu = QMenu(self)
        self._put(menu, "Press a key for it", self.hands.tiles[control].arm)
        if layer is not None and layer.binding(control) is not None:
            base = studio.profile.layers[0].name
            text = "Nothing on it" if studio.layer == BASE else f"Use {base}'s"
            title = f"{text}: {CONTROLS[control].title.lower()}"
            change = studio.layer
            self._put(menu, text, lambda: studio.edit(title, lambda p: edits.without_binding(p, change, control)))
        menu.popup(at)

    def _command_menu(self, command_id: str, at: QPoint) -> None:
        studio = self._stage.studio
        command = studio.profile.command(command_id)
        if command is None:
            return
        menu = QMenu(self)
        self._put(menu, "Touch a control for it", lambda: studio.arm_command(command_id))
        self._put(menu, "Press its key in the game", lambda: studio.arm_key_of(command_id))
        self._put(menu, "Rename…", lambda: self.rename_command(command_id))
        self._put(menu, "Put in a group…", lambda: self.group_command(command_id))
        menu.addSeparator()
        self._put(menu, "Remove", lambda: self.remove_command(command_id))
        menu.popup(at)

    def rename_command(self, command_id: str) -> None:
        """Ask for another name."""
        command = self._stage.studio.profile.command(command_id)
        if command is None:
            return
        name, given = QInputDialog.getText(self, "Rename the command", "Its name in the game:", text=command.name)
        if given and name.strip():
            changed = replace(command, name=name.strip()[:200])
            title = f"{command.name} is now {changed.name}"
            self._stage.studio.edit(title, lambda p: edits.with_command(p, changed))

    def group_command(self, command_id: str) -> None:
        """Ask for a group."""
        profile = self._stage.studio.profile
        command = profile.command(command_id)
        if command is None:
            return
        groups = list(dict.fromkeys(c.group for c in profile.commands))
        group, given = QInputDialog.getItem(self, "Put in a group", "Group:", groups, groups.index(command.group), True)
        if given:
            changed = replace(command, group=group.strip()[:200])
            title = f"{command.name} in {changed.group or 'no group'}"
            self._stage.studio.edit(title, lambda p: edits.with_command(p, changed))

    def remove_command(self, command_id: str) -> None:
        """Take a command out, and everything that sent it."""
        command = self._stage.studio.profile.command(command_id)
        if command is not None:
            self._stage.studio.edit(f"Remove {command.name}", lambda p: edits.without_command(p, command_id))
