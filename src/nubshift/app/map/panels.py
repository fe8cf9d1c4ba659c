"""What the inspector shows: what all panels share, and those of buttons and of motion."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import (
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
from nubshift.model import edits, parameters
from nubshift.model.controls import CONTROLS, Kind
from nubshift.model.parameters import Parameter
from nubshift.model.profile import BASE, Profile
from nubshift.model.sends import HoldLayer
from nubshift.model.sentences import binding_name
from nubshift.model.usage import feel_for, look_up

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
        self.also = self.quiet("")
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
        self.also.setText(self._also())
        self.also.setVisible(bool(self.also.text()))
        self.refresh_rows()

    def _also(self) -> str:
        """What the control does beside the press that is shown here."""
        studio = self.stage.studio
        found = look_up(studio.profile, studio.layer, self.control)
        if found is None or found.binding.blocked:
            return ""
        name = binding_name(studio.profile, found.binding)
        if found.binding.by_depth:
            return f"By depth: {name}. A key given here takes the place of that."
        return f"In all: {name}." if found.binding.gestures.keys() - {"press"} else ""

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
