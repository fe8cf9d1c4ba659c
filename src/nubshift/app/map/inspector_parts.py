"""What stands around the panel of a control: its mark, a clash, a note, other layers, and what is below."""

from __future__ import annotations

from functools import partial

from msgspec.structs import replace
from PyQt6.QtCore import QPointF, QSize, Qt
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QHBoxLayout, QPlainTextEdit, QVBoxLayout, QWidget

from nubshift.app.editors.panel import emptied, link
from nubshift.app.painting.canvas import Canvas
from nubshift.app.painting.nubs import RADIUS, draw_nub
from nubshift.app.stage import Stage
from nubshift.app.widgets.plain import Label
from nubshift.model import edits
from nubshift.model.edits import Bound
from nubshift.model.profile import BASE, Binding, Profile
from nubshift.model.sentences import binding_name
from nubshift.model.slots import TOGETHER
from nubshift.model.usage import look_up
from nubshift.texts import _


class ControlMark(Canvas):
    """The mark of the selected control, alive."""

    def __init__(self, stage: Stage) -> None:
        super().__init__(stage.look)
        self._stage = stage
        self.setFixedSize(26, 26)
        stage.live.controls_changed.connect(self._moved)

    def _moved(self, controls: set[str]) -> None:
        if self._stage.selection.control in controls:
            self.update()

    def sizeHint(self) -> QSize:
        """Room for the mark."""
        return QSize(26, 26)

    def draw(self, painter: QPainter) -> None:
        """The mark."""
        control = self._stage.selection.control
        if TOGETHER not in control:
            depth = self._stage.live.depth(control)
            draw_nub(
                painter,
                QPointF(13, 13),
                control,
                depth if depth > 0.05 else 0.0,
                self.theme,
                radius=RADIUS + 1,
                mark=self._stage.selection.names.mark(control),
            )


class ClashNote(QWidget):
    """That one finger is needed here and elsewhere at once: why, and what would do instead."""

    def __init__(self, stage: Stage) -> None:
        super().__init__()
        self._stage = stage
        self.text = Label()
        self.text.setWordWrap(True)
        self.move_it = link(_("Move it"), self._move)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 4)
        column.setSpacing(2)
        column.addWidget(self.text)
        column.addWidget(self.move_it, 0, Qt.AlignmentFlag.AlignLeft)

    def refresh(self, control: bool) -> None:
        """The profile, the control or the hands changed."""
        clash = self._stage.grasp.clash_of(self._stage.selection.control) if control else None
        self.setVisible(clash is not None)
        if clash is not None:
            self.text.setText(clash.reason)
            self.move_it.setVisible(bool(clash.instead))
            if clash.instead:
                self.move_it.setText(
                    _("Move to {instead}").format(instead=self._stage.selection.names.inside(clash.instead))
                )

    def _move(self) -> None:
        studio = self._stage.studio
        clash = self._stage.grasp.clash_of(studio.selection.control)
        if clash is None or not clash.instead:
            return
        control, instead, seat = studio.selection.control, clash.instead, studio.selection.seat
        found = look_up(studio.profile, studio.selection.layer, control, seat)
        if found is None:
            return
        layer, binding = found.layer.id, found.binding

        def change(profile: Profile) -> Profile:
            profile = edits.without_binding(profile, layer, control, seat)
            return edits.with_binding(profile, layer, replace(binding, control=instead))

        studio.document.edit(
            _("{control} moved to {instead}").format(
                control=studio.selection.names.title(control), instead=studio.selection.names.inside(instead)
            ),
            change,
        )
        studio.selection.select(instead)


class NoteField(QPlainTextEdit):
    """A note of the player's own for this binding; quiet until it is used."""

    def __init__(self, stage: Stage) -> None:
        super().__init__()
        self._stage = stage
        self.setPlaceholderText(_("Note"))
        self.setAccessibleName(_("Note"))
        self.setTabChangesFocus(True)
        self.setFixedHeight(52)
        self.textChanged.connect(self._typed)

    def _bound(self) -> Bound | None:
        studio = self._stage.studio
        return edits.bound(studio.profile, studio.selection.slot())

    def refresh(self, control: bool) -> None:
        """Another control, or an edit from elsewhere. A note belongs to a binding of this layer."""
        bound = self._bound()
        self.setVisible(bound is not None and control)
        text = bound.note if bound else ""
        if text != self.toPlainText():
            self.blockSignals(True)
            self.setPlainText(text)
            self.blockSignals(False)

    def _typed(self) -> None:
        bound = self._bound()
        if bound is None or self.toPlainText() == bound.note:
            return
        studio, text = self._stage.studio, self.toPlainText()[:5000]
        slot = studio.selection.slot()

        def change(profile: Profile) -> Profile:
            present = edits.bound(profile, slot)
            return profile if present is None else edits.with_bound(profile, slot.layer, replace(present, note=text))

        studio.document.edit(
            _("Note on {control}").format(control=studio.selection.names.inside(slot.control)),
            change,
            f"note:{slot.layer}:{slot.control}",
        )


class Elsewhere(QWidget):
    """What the same control does in the other layers; each line leads there."""

    def __init__(self, stage: Stage) -> None:
        super().__init__()
        self._stage = stage
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 0, 0, 6)
        self._column.setSpacing(0)

    MOST = 4

    def refresh(self, control: bool) -> None:
        """The profile, the control or the layer changed."""
        emptied(self._column)
        studio = self._stage.studio
        found = []
        for layer in studio.profile.layers if control and TOGETHER not in studio.selection.control else ():
            binding = layer.binding(studio.selection.control, studio.selection.seat)
            if binding is not None and layer.id not in (studio.selection.layer, BASE):
                found.append((layer, binding))
        for layer, binding in found[: self.MOST]:
            said = _("In {name}: {binding_name}").format(
                name=layer.name, binding_name=binding_name(studio.profile, binding)
            )
            button = link(said, partial(studio.selection.show_layer, layer.id))
            self._column.addWidget(button, 0, Qt.AlignmentFlag.AlignLeft)
        if len(found) > self.MOST:
            self._column.addWidget(Label(_("In {count} more layers").format(count=len(found) - self.MOST)))
        self.setVisible(self._column.count() > 0)


class Below(QWidget):
    """In a layer: what the layers below send here, and how to let that through or not."""

    def __init__(self, stage: Stage) -> None:
        super().__init__()
        self._stage = stage
        self._text = Label()
        self._text.setObjectName("quiet")
        self._text.setWordWrap(True)
        self._use = link(_("Inherit"), self._use_below)
        self._block = link(_("Block"), self._block_it)
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

    def refresh(self, control: bool) -> None:
        """Say what shows through, or would."""
        studio = self._stage.studio
        shown = control and studio.selection.layer != BASE and TOGETHER not in studio.selection.control
        self.setVisible(shown)
        layer = studio.profile.layer(studio.selection.layer)
        if not shown or layer is None:
            return
        own = layer.binding(studio.selection.control, studio.selection.seat)
        base = studio.profile.layers[0]
        below: Binding | None = None if layer.hides else base.binding(studio.selection.control, studio.selection.seat)
        name = binding_name(studio.profile, below)
        self._text.setText(
            _("{name} sends {name_2} here.").format(name=base.name, name_2=name)
            if own
            else _("Inherited from {name}: {name_2}.").format(name=base.name, name_2=name)
        )
        self._use.setText(_("Inherit from {name}").format(name=base.name))
        self._use.setVisible(
            own is not None or layer.feel_of(studio.selection.control, studio.selection.seat) is not None
        )
        self._block.setVisible(own is None or not own.blocked)

    def _use_below(self) -> None:
        studio = self._stage.studio
        control, layer, seat = studio.selection.control, studio.selection.layer, studio.selection.seat
        base = studio.profile.layers[0].name
        title = _("{control}: inherit from {base}").format(control=studio.selection.names.title(control), base=base)
        studio.document.edit(title, lambda profile: edits.without_binding(profile, layer, control, seat))

    def _block_it(self) -> None:
        studio = self._stage.studio
        layer = studio.selection.layer
        blocked = Binding(studio.selection.control, studio.selection.seat, blocked=True)
        title = _("Clear {control}").format(control=studio.selection.names.inside(studio.selection.control))
        studio.document.edit(title, lambda profile: edits.with_binding(profile, layer, blocked))
