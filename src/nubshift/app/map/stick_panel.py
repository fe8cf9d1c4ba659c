"""The inspector's panel for a stick: what it is used as, its directions or its speed, and its feel."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPen, QPolygonF
from PyQt6.QtWidgets import QButtonGroup, QCheckBox, QGridLayout, QHBoxLayout, QPushButton, QWidget

from nubshift.app.map.panels import Panel
from nubshift.app.map.slots import SlotView
from nubshift.app.map.tiles import Stage
from nubshift.feel.curve import SHAPES, curve
from nubshift.model import edits, parameters
from nubshift.model.controls import CONTROLS
from nubshift.model.part import DIRECTIONS, Direction
from nubshift.model.profile import BASE, Binding
from nubshift.model.roles import KeysRole, MouseRole, Role
from nubshift.model.sentences import role_name
from nubshift.model.usage import feel_for, look_up

READY: dict[str, tuple[str, ...]] = {
    "letters": ("W", "D", "S", "A"),
    "arrows": ("UP", "RIGHT", "DOWN", "LEFT"),
    "number pad": ("KP8", "KP6", "KP2", "KP4"),
    "eight on the number pad": ("KP8", "KP9", "KP6", "KP3", "KP2", "KP1", "KP4", "KP7"),
}
"""Ready sets of keys for a stick, clockwise from up; eight of them give the diagonals keys of their own (N21)."""

KEYS_PARAMETERS = (parameters.KEY_RADIUS, parameters.DIAGONAL)
MOUSE_PARAMETERS = (
    parameters.SPEED, parameters.RATIO, parameters.INNER, parameters.OUTER, parameters.LEAST_STEP,
    parameters.EDGE_BOOST, parameters.EDGE_TIME,
)  # fmt: skip


class StickPanel(Panel):
    """A stick: what it is used as, its directions or its speed, and its feel."""

    ROLES = ("nothing", "keys", "mouse")

    def __init__(self, stage: Stage, control: str) -> None:
        super().__init__(stage, control)
        self.heading("Used as")
        self._choices = QButtonGroup(self)
        row = QHBoxLayout()
        row.setSpacing(12)
        self.choices: dict[str, QPushButton] = {}
        for name in self.ROLES:
            button = QPushButton(name)
            button.setObjectName("choice")
            button.setCheckable(True)
            button.clicked.connect(lambda _=False, wanted=name: self.use_as(wanted))
            self._choices.addButton(button)
            self.choices[name] = button
            row.addWidget(button)
        row.addStretch(1)
        self.column.addLayout(row)
        self.slots: dict[Direction, SlotView] = {}
        self.shapes: CurveShapes | None = None
        self._inverts: dict[str, QCheckBox] = {}
        role = self._role()
        if isinstance(role, KeysRole):
            self._make_keys(role)
        elif isinstance(role, MouseRole):
            self._make_mouse()
        elif role is not None:
            self.quiet(f"{role_name(stage.studio.profile, role)}. To use it otherwise, choose above.")
        else:
            self.quiet("Give it four keys at once, or let it move the mouse:")
            self._make_ready()
        self.refresh()

    def _role(self) -> Role | None:
        studio = self.stage.studio
        found = look_up(studio.profile, studio.layer, self.control)
        return found.binding.role if found else None

    def use_as(self, wanted: str) -> None:
        """Use the stick as ``nothing``, ``keys`` or ``mouse``, in one step."""
        title = CONTROLS[self.control].title
        role: Role | None = MouseRole() if wanted == "mouse" else KeysRole() if wanted == "keys" else None
        if isinstance(role, KeysRole):
            self.give_keys("letters")
        elif role is not None:
            self._set_role(f"{title} moves the mouse", role)
        elif self.stage.studio.layer == BASE:
            self._set_role(f"Nothing on {title.lower()}", None)
        else:
            blocked = Binding(self.control, blocked=True)
            layer = self.stage.studio.layer
            self.stage.studio.edit(f"Nothing on {title.lower()}", lambda p: edits.with_binding(p, layer, blocked))

    def give_keys(self, ready: str) -> None:
        """Give all directions their keys from a ready set."""
        studio = self.stage.studio
        keys = READY[ready]
        directions = DIRECTIONS if len(keys) == 8 else DIRECTIONS[::2]
        sends = {d: (studio.send_for_key(key),) for d, key in zip(directions, keys, strict=True)}
        role = KeysRole(directions=8 if len(keys) == 8 else 4, **sends)
        self._set_role(f"{ready.capitalize()} to {CONTROLS[self.control].title.lower()}", role)

    def _set_role(self, title: str, role: Role | None) -> None:
        studio, control = self.stage.studio, self.control
        layer = studio.layer
        studio.edit(title, lambda profile: edits.with_role(profile, layer, control, role))

    def _make_ready(self) -> None:
        grid = QGridLayout()
        grid.setSpacing(5)
        for index, name in enumerate(READY):
            button = QPushButton(name)
            button.clicked.connect(lambda _=False, ready=name: self.give_keys(ready))
            if name.startswith("eight"):
                grid.addWidget(button, 1, 0, 1, 3)
            else:
                grid.addWidget(button, 0, index)
        self.column.addLayout(grid)

    def _make_keys(self, role: KeysRole) -> None:
        grid = QGridLayout()
        grid.setSpacing(4)
        places = {
            "up_left": (0, 0), "up": (0, 1), "up_right": (0, 2), "left": (1, 0), "right": (1, 2),
            "down_left": (2, 0), "down": (2, 1), "down_right": (2, 2),
        }  # fmt: skip
        for direction in DIRECTIONS:
            if role.directions == 8 or "_" not in direction:
                view = SlotView(self.stage, self.control, direction)
                self.slots[direction] = view
                grid.addWidget(view, *places[direction])
        for column in range(3):
            grid.setColumnStretch(column, 1)
        self.heading("Each direction")
        self.column.addLayout(grid)
        pickers = QHBoxLayout()
        pickers.setSpacing(6)
        for button in self.pickers(self._listen):
            pickers.addWidget(button)
        pickers.addStretch(1)
        self.column.addLayout(pickers)
        self.heading("All at once")
        self._make_ready()
        self.heading("Feel")
        self.add_rows(KEYS_PARAMETERS)

    def _listen(self) -> None:
        direction = self.stage.studio.direction
        self.slots.get(direction or "up", self.slots["up"]).arm()

    def _make_mouse(self) -> None:
        self.heading("Speed")
        self.add_rows(MOUSE_PARAMETERS[:2])
        self.heading("The way there")
        self.shapes = CurveShapes(self.stage, self)
        self.column.addWidget(self.shapes)
        self.add_rows(MOUSE_PARAMETERS[2:])
        for name, text in (("invert_x", "swap left and right"), ("invert_y", "swap up and down")):
            box = QCheckBox(text)
            box.toggled.connect(lambda on, field=name, said=text: self._invert(field, said, on))
            self._inverts[name] = box
            self.column.addWidget(box)

    def _invert(self, field: str, said: str, on: bool) -> None:
        self.set_feel(f"{said.capitalize()}: {'on' if on else 'off'}", "", self.stage.studio.layer, **{field: on})

    def refresh(self) -> None:
        """The profile changed."""
        role = self._role()
        name = (
            "keys"
            if isinstance(role, KeysRole)
            else "mouse"
            if isinstance(role, MouseRole)
            else "other"
            if role
            else "nothing"
        )
        self._choices.setExclusive(False)
        for choice, button in self.choices.items():
            button.setChecked(choice == name)
        self._choices.setExclusive(True)
        for view in self.slots.values():
            view.refresh()
        self.refresh_rows()
        feel = feel_for(self.stage.studio.profile, self.stage.studio.layer, self.control)
        for field, box in self._inverts.items():
            box.blockSignals(True)
            box.setChecked(bool(getattr(feel, field)))
            box.blockSignals(False)
        if self.shapes is not None:
            self.shapes.refresh()


class CurveShapes(QWidget):
    """The named curves, each as a small picture."""

    def __init__(self, stage: Stage, panel: StickPanel) -> None:
        super().__init__()
        self._stage = stage
        self._panel = panel
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 2, 0, 2)
        row.setSpacing(6)
        self.buttons: dict[str, CurveButton] = {}
        for name in SHAPES:
            button = CurveButton(stage, name)
            button.clicked.connect(lambda _=False, shape=name: self._choose(shape))
            self.buttons[name] = button
            row.addWidget(button)
        row.addStretch(1)
        self.refresh()

    def refresh(self) -> None:
        """Mark the one in use, if it is one of these."""
        studio = self._stage.studio
        points = feel_for(studio.profile, studio.layer, self._panel.control).curve
        for name, button in self.buttons.items():
            button.setChecked(SHAPES[name] == points)

    def _choose(self, shape: str) -> None:
        layer = self._stage.studio.layer
        title = f"Curve {shape}, {CONTROLS[self._panel.control].title.lower()}"
        self._panel.set_feel(title, "", layer, curve=SHAPES[shape])
        self.refresh()


class CurveButton(QPushButton):
    """One curve, drawn with the engine's own function."""

    def __init__(self, stage: Stage, shape: str) -> None:
        super().__init__()
        self._look = stage.look
        self._value = curve(SHAPES[shape])
        self.setCheckable(True)
        self.setFixedSize(46, 40)
        self.setToolTip(shape)
        self.setAccessibleName(f"Curve {shape}")

    def sizeHint(self) -> QSize:
        """A small square."""
        return QSize(46, 40)

    def paintEvent(self, event: object) -> None:
        """The curve."""
        theme = self._look.theme
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(theme.input, 1.0) if self.isChecked() or self.hasFocus() else Qt.PenStyle.NoPen)
        painter.setBrush(theme.raised)
        painter.drawRoundedRect(QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5), 6, 6)
        box = QRectF(8, 7, self.width() - 16, self.height() - 14)
        painter.setPen(QPen(theme.output if self.isChecked() else theme.quiet, 1))
        steps = 24
        points = [
            QPointF(box.left() + box.width() * i / steps, box.bottom() - box.height() * self._value(i / steps))
            for i in range(steps + 1)
        ]
        painter.drawPolyline(QPolygonF(points))
        painter.end()
