"""The selected control: what it sends, in this layer, and its feel in small."""

from __future__ import annotations

from functools import partial

from msgspec.structs import replace
from PyQt6.QtCore import QPointF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QLabel, QPlainTextEdit, QPushButton, QScrollArea, QVBoxLayout, QWidget

from nubshift.app.map.panels import ButtonPanel, MotionPanel, Panel
from nubshift.app.map.stick_panel import StickPanel
from nubshift.app.map.tiles import Stage
from nubshift.app.painting.canvas import Canvas
from nubshift.app.painting.nubs import RADIUS, draw_nub
from nubshift.app.theme import TITLE, font
from nubshift.model import edits
from nubshift.model.changes import Changes
from nubshift.model.controls import CONTROLS, Kind
from nubshift.model.profile import BASE, Binding, Profile
from nubshift.model.sentences import binding_name
from nubshift.model.usage import look_up


class Inspector(QWidget):
    """The right side of Map. The panel inside depends on the kind of the control and is kept while it stays."""

    find_wanted = pyqtSignal()
    keyboard_wanted = pyqtSignal(object)

    def __init__(self, stage: Stage) -> None:
        super().__init__()
        self._stage = stage
        self._mark = ControlMark(stage)
        self._title = QLabel()
        self._title.setFont(font(TITLE * 0.9, bold=True))
        self._layer = QLabel()
        self._layer.setObjectName("quiet")
        head = QHBoxLayout()
        head.setSpacing(9)
        head.addWidget(self._mark)
        head.addWidget(self._title, 1)
        head.addWidget(self._layer)
        self._inside = QWidget()
        self._column = QVBoxLayout(self._inside)
        self._column.setContentsMargins(16, 0, 14, 8)
        self._column.setSpacing(6)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setFrameShape(QFrame.Shape.NoFrame)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        scroll.setWidget(self._inside)
        self.note = NoteField(stage)
        self.elsewhere = Elsewhere(stage)
        self.below = Below(stage)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 10, 0, 8)
        outer.setSpacing(8)
        top = QWidget()
        top.setLayout(head)
        head.setContentsMargins(16, 0, 14, 0)
        outer.addWidget(top)
        outer.addWidget(scroll, 1)
        foot = QVBoxLayout()
        foot.setContentsMargins(16, 0, 14, 0)
        foot.addWidget(self.elsewhere)
        foot.addWidget(self.note)
        foot.addWidget(self.below)
        outer.addLayout(foot)
        self.panel: Panel | None = None
        self._shown: tuple[str, str, str] | None = None
        studio = stage.studio
        studio.opened.connect(self.refresh)
        studio.selected_changed.connect(self.refresh)
        studio.layer_changed.connect(self.refresh)
        studio.edited.connect(self._edited)
        self.refresh()

    def _edited(self, changes: Changes) -> None:
        self.refresh()

    def refresh(self) -> None:
        """Show the selected control in the layer being edited."""
        studio = self._stage.studio
        info = CONTROLS[studio.control]
        found = look_up(studio.profile, studio.layer, studio.control)
        role = type(found.binding.role).__name__ if found else ""
        directions = str(getattr(found.binding.role, "directions", "")) if found else ""
        wanted = (studio.control, studio.layer, role + directions)
        self._title.setText(info.title)
        layer = studio.profile.layer(studio.layer)
        self._layer.setText("" if studio.layer == BASE or layer is None else f"in {layer.name}")
        self._mark.update()
        if wanted != self._shown or self.panel is None:
            self._shown = wanted
            self._replace_panel(info.kind)
        self.panel_refresh()
        self.elsewhere.refresh()
        self.note.refresh()
        self.below.refresh()

    def panel_refresh(self) -> None:
        """Bring the panel up to date in place."""
        if self.panel is not None:
            self.panel.refresh()

    def _replace_panel(self, kind: Kind) -> None:
        while (item := self._column.takeAt(0)) is not None:
            widget = item.widget()
            if widget is not None:
                widget.hide()
                widget.deleteLater()
        control = self._stage.studio.control
        match kind:
            case Kind.STICK:
                self.panel = StickPanel(self._stage, control)
            case Kind.MOTION:
                self.panel = MotionPanel(self._stage, control)
            case _:
                self.panel = ButtonPanel(self._stage, control)
        self.panel.find_wanted.connect(self.find_wanted)
        self.panel.keyboard_wanted.connect(self.keyboard_wanted)
        self._column.addWidget(self.panel)
        self._column.addStretch(1)


class ControlMark(Canvas):
    """The mark of the selected control, alive."""

    def __init__(self, stage: Stage) -> None:
        super().__init__(stage.look)
        self._stage = stage
        self.setFixedSize(26, 26)
        stage.live.controls_changed.connect(self._moved)

    def _moved(self, controls: set[str]) -> None:
        if self._stage.studio.control in controls:
            self.update()

    def sizeHint(self) -> QSize:
        """Room for the mark."""
        return QSize(26, 26)

    def draw(self, painter: QPainter) -> None:
        """The mark."""
        control = self._stage.studio.control
        depth = self._stage.live.depth(control)
        draw_nub(painter, QPointF(13, 13), control, depth if depth > 0.05 else 0.0, self.theme, radius=RADIUS + 1)


class NoteField(QPlainTextEdit):
    """A note of the player's own for this binding; quiet until it is used."""

    def __init__(self, stage: Stage) -> None:
        super().__init__()
        self._stage = stage
        self.setPlaceholderText("a note")
        self.setAccessibleName("Note")
        self.setTabChangesFocus(True)
        self.setFixedHeight(52)
        self.textChanged.connect(self._typed)

    def _binding(self) -> Binding | None:
        studio = self._stage.studio
        layer = studio.profile.layer(studio.layer)
        return layer.binding(studio.control) if layer else None

    def refresh(self) -> None:
        """Another control, or an edit from elsewhere. A note belongs to a binding of this layer."""
        binding = self._binding()
        self.setVisible(binding is not None)
        text = binding.note if binding else ""
        if text != self.toPlainText():
            self.blockSignals(True)
            self.setPlainText(text)
            self.blockSignals(False)

    def _typed(self) -> None:
        binding = self._binding()
        if binding is None or self.toPlainText() == binding.note:
            return
        studio, text = self._stage.studio, self.toPlainText()[:5000]
        layer = studio.layer

        def change(profile: Profile) -> Profile:
            return edits.with_binding(profile, layer, replace(binding, note=text))

        studio.edit(f"Note on {CONTROLS[binding.control].title.lower()}", change, f"note:{layer}:{binding.control}")


class Elsewhere(QWidget):
    """What the same control does in the other layers; each line leads there."""

    def __init__(self, stage: Stage) -> None:
        super().__init__()
        self._stage = stage
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 0, 0, 6)
        self._column.setSpacing(0)

    def refresh(self) -> None:
        """The profile, the control or the layer changed."""
        while (item := self._column.takeAt(0)) is not None:
            widget = item.widget()
            if widget is not None:
                widget.hide()
                widget.deleteLater()
        studio = self._stage.studio
        for layer in studio.profile.layers:
            binding = layer.binding(studio.control)
            if binding is None or layer.id in (studio.layer, BASE):
                continue
            button = QPushButton(f"in {layer.name}: {binding_name(studio.profile, binding)}")
            button.setObjectName("link")
            button.clicked.connect(partial(studio.show_layer, layer.id))
            self._column.addWidget(button, 0, Qt.AlignmentFlag.AlignLeft)
        self.setVisible(self._column.count() > 0)


class Below(QWidget):
    """In a layer: what the layers below send here, and how to let that through or not."""

    def __init__(self, stage: Stage) -> None:
        super().__init__()
        self._stage = stage
        self._text = QLabel()
        self._text.setObjectName("quiet")
        self._text.setWordWrap(True)
        self._use = QPushButton()
        self._use.setObjectName("link")
        self._use.clicked.connect(self._use_below)
        self._block = QPushButton("let nothing through")
        self._block.setObjectName("link")
        self._block.clicked.connect(self._block_it)
        links = QHBoxLayout()
        links.setContentsMargins(0, 0, 0, 0)
        links.addWidget(self._use)
        links.addWidget(self._block)
        links.addStretch(1)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 4, 0, 0)
        column.setSpacing(2)
        column.addWidget(self._text)
        column.addLayout(links)

    def refresh(self) -> None:
        """Say what shows through, or would."""
        studio = self._stage.studio
        self.setVisible(studio.layer != BASE)
        layer = studio.profile.layer(studio.layer)
        if studio.layer == BASE or layer is None:
            return
        own = layer.binding(studio.control)
        base = studio.profile.layers[0]
        below = None if layer.hides else base.binding(studio.control)
        name = binding_name(studio.profile, below)
        self._text.setText(f"{base.name} sends {name} here." if own else f"{base.name}'s {name} shows through.")
        self._use.setText(f"use {base.name}'s")
        self._use.setVisible(own is not None or layer.feel_of(studio.control) is not None)
        self._block.setVisible(own is None or not own.blocked)

    def _use_below(self) -> None:
        studio = self._stage.studio
        control, layer = studio.control, studio.layer
        base = studio.profile.layers[0].name
        title = f"{CONTROLS[control].title} as in {base}"
        studio.edit(title, lambda profile: edits.without_binding(profile, layer, control))

    def _block_it(self) -> None:
        studio = self._stage.studio
        control, layer = studio.control, studio.layer
        blocked = Binding(control, blocked=True)
        title = f"Nothing on {CONTROLS[control].title.lower()}"
        studio.edit(title, lambda profile: edits.with_binding(profile, layer, blocked))
