"""What the inspector shows for a button, a stick, or motion."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPen, QPolygonF
from PyQt6.QtWidgets import (
    QButtonGroup,
    QCheckBox,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QMenu,
    QPushButton,
    QVBoxLayout,
    QWidget,
)  # fmt: skip

from nubshift.app.map.feel_rows import FeelRow
from nubshift.app.map.slots import PressPicture, SlotView
from nubshift.app.map.tiles import Stage
from nubshift.app.painting.canvas import Canvas
from nubshift.feel.curve import SHAPES, curve
from nubshift.model import edits, parameters
from nubshift.model.controls import CONTROLS, Kind
from nubshift.model.parameters import Parameter
from nubshift.model.profile import BASE, DIRECTIONS, Binding, Direction, HoldLayer, KeysRole, MouseRole, Profile, Role
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
SQUARE = {parameters.SPEED.name, parameters.RATIO.name, parameters.LEAST_STEP.name, parameters.EDGE_BOOST.name,
          parameters.EDGE_TIME.name}  # fmt: skip
"""These are settings of what goes out, so their handles are square."""


class Panel(QWidget):
    """One kind of control. `refresh` brings it up to date in place."""

    find_wanted = pyqtSignal()
    keyboard_wanted = pyqtSignal(object)

    def __init__(self, stage: Stage, control: str) -> None:
        super().__init__()
        self.stage = stage
        self.control = control
        self.column = QVBoxLayout(self)
        self.column.setContentsMargins(0, 0, 0, 0)
        self.column.setSpacing(6)
        self.rows: dict[str, FeelRow] = {}

    def refresh(self) -> None:
        """The profile changed."""

    def heading(self, text: str) -> QLabel:
        """Add a heading."""
        label = QLabel(text)
        label.setObjectName("heading")
        label.setContentsMargins(0, 6, 0, 0)
        self.column.addWidget(label)
        return label

    def quiet(self, text: str) -> QLabel:
        """Add a sentence in the quiet ink."""
        label = QLabel(text)
        label.setObjectName("quiet")
        label.setWordWrap(True)
        self.column.addWidget(label)
        return label

    def pickers(self, listen: Callable[[], None]) -> tuple[QPushButton, QPushButton]:
        """Two buttons to fill the slot that listens, or the one that `listen` arms."""
        by_name, drawn = QPushButton("by name…"), QPushButton("keyboard…")
        by_name.setToolTip("Find a command or a key by its name")
        drawn.setToolTip("Pick the key from a drawn keyboard")

        def ask(wanted: Callable[[], None]) -> None:
            if self.stage.studio.armed is None:
                listen()
            wanted()

        by_name.clicked.connect(lambda: ask(self.find_wanted.emit))
        drawn.clicked.connect(
            lambda: ask(lambda: self.keyboard_wanted.emit(drawn.mapToGlobal(drawn.rect().bottomRight())))
        )
        return by_name, drawn

    def add_rows(self, wanted: Sequence[Parameter]) -> None:
        """Add a row for each parameter."""
        for parameter in wanted:
            row = FeelRow(self.stage.look, parameter, parameter.name in SQUARE)
            row.changed.connect(lambda value, p=parameter: self._set(p, value))
            row.settled.connect(self.stage.studio.document.settle)
            self.rows[parameter.name] = row
            self.column.addWidget(row)

    def refresh_rows(self) -> None:
        """Show the values of this layer; those that fall through are quiet."""
        studio = self.stage.studio
        feel = feel_for(studio.profile, studio.layer, self.control)
        layer = studio.profile.layer(studio.layer)
        own = layer.feel_of(self.control) if layer else None
        for name, row in self.rows.items():
            inherited = studio.layer != BASE and (own is None or getattr(own, name) is None)
            row.show_value(float(getattr(feel, name)), inherited)

    def _set(self, parameter: Parameter, value: float) -> None:
        layer = BASE if parameter.scope is parameters.Scope.CONTROL else self.stage.studio.layer
        title = f"{parameter.label} {parameter.text(value)}, {CONTROLS[self.control].title.lower()}"
        self.set_feel(title, f"feel:{layer}:{self.control}:{parameter.name}", layer, **{parameter.name: value})

    def set_feel(self, title: str, merge: str, layer: str, **values: Any) -> None:
        """Change the feel of this control in a layer."""
        control = self.control

        def change(profile: Profile) -> Profile:
            return edits.with_feel(profile, layer, control, **values)

        self.stage.studio.edit(title, change, merge)


class ButtonPanel(Panel):
    """A button or trigger: the press as a picture, its slot, and for a trigger where it presses."""

    def __init__(self, stage: Stage, control: str) -> None:
        super().__init__(stage, control)
        self.heading("One press, and what it sends")
        self.picture = PressPicture(stage, control)
        self.column.addWidget(self.picture)
        self.slot = SlotView(stage, control)
        self.column.addWidget(self.slot)
        buttons = QHBoxLayout()
        buttons.setSpacing(6)
        self.by_name, self.drawn = self.pickers(self._listen)
        self.layers = QPushButton("a layer…")
        self.layers.setToolTip("Keep a layer active while this is held")
        self.layers.clicked.connect(self._offer_layers)
        for button in (self.by_name, self.drawn, self.layers):
            buttons.addWidget(button)
        buttons.addStretch(1)
        self.column.addLayout(buttons)
        self._trigger = CONTROLS[control].kind is Kind.TRIGGER
        if self._trigger:
            self.heading("The pull")
            self.add_rows([parameters.PRESS_AT])
            stage.live.controls_changed.connect(self._moved)
        self.refresh()

    def refresh(self) -> None:
        """The profile changed."""
        self.picture.refresh()
        self.slot.refresh()
        self.refresh_rows()

    def _moved(self, controls: set[str]) -> None:
        if self.control in controls:
            slider = self.rows[parameters.PRESS_AT.name].slider
            depth = self.stage.live.depth(self.control)
            span = parameters.PRESS_AT.high - parameters.PRESS_AT.low
            slider.mark = max(0.0, (depth - parameters.PRESS_AT.low) / span) if depth else None
            slider.update()

    def _listen(self) -> None:
        self.slot.arm(len(self.slot.sends))

    def _offer_layers(self) -> None:
        studio = self.stage.studio
        menu = QMenu(self)
        for layer in studio.profile.layers[1:]:
            action = menu.addAction(f"{layer.name}, while held")
            if action is not None:
                action.triggered.connect(lambda _=False, layer_id=layer.id: self._hold(layer_id))
        action = menu.addAction("a new layer")
        if action is not None:
            action.triggered.connect(lambda: self._hold(None))
        menu.popup(self.layers.mapToGlobal(self.layers.rect().bottomLeft()))

    def _hold(self, layer: str | None) -> None:
        studio = self.stage.studio
        slot = studio.slot(self.control)
        sends = studio.shown_sends(slot)

        def change(profile: Profile) -> Profile:
            wanted = layer
            if wanted is None:
                profile, wanted = edits.with_layer(profile, f"Layer {len(profile.layers)}")
            return edits.with_sends(profile, slot, (*sends, HoldLayer(wanted)))

        entry = studio.profile.layer(layer) if layer else None
        studio.edit(f"{CONTROLS[self.control].title} holds {entry.name if entry else 'a new layer'}", change)


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
        name = "keys" if isinstance(role, KeysRole) else "mouse" if isinstance(role, MouseRole) else "nothing"
        self.choices[name].setChecked(True)
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


class MotionPanel(Panel):
    """Motion: shown live."""

    def __init__(self, stage: Stage, control: str) -> None:
        super().__init__(stage, control)
        self.quiet(
            "How the controller turns, as it says itself. The picture in the hands shows the last moments of it."
        )
        self.figures = MotionFigures(stage)
        self.column.addWidget(self.figures)


class MotionFigures(Canvas):
    """Turn and nod as two needles."""

    FULL = 200.0

    def __init__(self, stage: Stage) -> None:
        super().__init__(stage.look)
        self._stage = stage
        self.setFixedHeight(90)
        stage.live.controls_changed.connect(self._moved)

    def _moved(self, controls: set[str]) -> None:
        if "motion" in controls:
            self.update()

    def draw(self, painter: QPainter) -> None:
        """A line each way from the middle."""
        theme = self.theme
        for index, (name, value) in enumerate(
            zip(("turning", "nodding"), self._stage.live.value("motion"), strict=True)
        ):
            y = 26.0 + index * 36
            painter.setPen(theme.quiet)
            painter.drawText(QRectF(0, y - 22, self.width(), 18), Qt.AlignmentFlag.AlignLeft, name)
            painter.setPen(theme.ink)
            painter.drawText(QRectF(0, y - 22, self.width(), 18), Qt.AlignmentFlag.AlignRight, f"{value:.0f} °/s")
            middle = self.width() / 2
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme.line)
            painter.drawRoundedRect(QRectF(0, y - 1, self.width(), 3), 1.5, 1.5)
            painter.setBrush(theme.input)
            length = max(-1.0, min(1.0, value / self.FULL)) * middle
            painter.drawRoundedRect(QRectF(min(middle, middle + length), y - 2, abs(length) + 1, 5), 2, 2)
            painter.drawEllipse(QPointF(middle + length, y + 0.5), 4, 4)
