"""What is selected, on the right: a control with what it sends in this layer, several of them, a layer, a command."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from msgspec.structs import replace
from PyQt6.QtCore import QPointF, QSize, Qt
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QPlainTextEdit, QPushButton, QScrollArea, QVBoxLayout, QWidget

from nubshift.app.document.subject import Subject, SubjectKind
from nubshift.app.editors.button_panel import ButtonPanel
from nubshift.app.editors.command_panel import CommandPanel
from nubshift.app.editors.layer_panel import LayerPanel
from nubshift.app.editors.many_panel import ManyPanel
from nubshift.app.editors.panel import Panel, emptied, link
from nubshift.app.editors.profile_panel import ProfilePanel
from nubshift.app.editors.roles.motion_panel import MotionPanel
from nubshift.app.editors.roles.role_panel import RolePanel
from nubshift.app.editors.roles.trigger_panel import TriggerPanel
from nubshift.app.editors.roles.used_as import use_of
from nubshift.app.painting.canvas import Canvas, elided
from nubshift.app.painting.nubs import RADIUS, draw_nub
from nubshift.app.painting.theme import TITLE, font
from nubshift.app.stage import Stage
from nubshift.app.widgets.plain import Label, tip
from nubshift.app.widgets.same_place import same_place
from nubshift.model import edits
from nubshift.model.changes import Changes
from nubshift.model.controls import TUNABLE, Kind, kind_of
from nubshift.model.edits import Bound
from nubshift.model.profile import BASE, Binding, Profile
from nubshift.model.sentences import binding_name
from nubshift.model.slots import TOGETHER
from nubshift.model.usage import look_up
from nubshift.texts import _


class Inspector(QWidget):
    """The right side of Map. The panel inside depends on what is selected and is kept while that stays."""

    def __init__(self, stage: Stage, run: Callable[[str], None]) -> None:
        super().__init__()
        self._stage = stage
        self._run = run
        self._mark = ControlMark(stage)
        self._title = Label()
        self._title.setWordWrap(True)
        self._title.setFont(font(TITLE * 0.9, bold=True))
        self._layer = Label()
        self._layer.setObjectName("quiet")
        head = QHBoxLayout()
        head.setSpacing(9)
        head.addWidget(self._mark)
        head.addWidget(self._title, 1)
        head.addWidget(self._layer)
        self._inside = QWidget()
        whole = QVBoxLayout(self._inside)
        whole.setContentsMargins(16, 0, 14, 4)
        whole.setSpacing(8)
        self._column = QVBoxLayout()
        self._column.setSpacing(6)
        whole.addLayout(self._column, 1)
        self.area = QScrollArea()
        self.area.setWidgetResizable(True)
        self.area.setAccessibleName(_("Selection"))
        self.area.setFrameShape(QFrame.Shape.NoFrame)
        self.area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.area.setWidget(self._inside)
        self.tune = link(_("Open in Tune"), lambda: run("tune"))
        self.clash = ClashNote(stage)
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
        outer.addWidget(self.area, 1)
        whole.addWidget(self.tune, 0, Qt.AlignmentFlag.AlignLeft)
        for widget in (self.clash, self.elsewhere, self.note, self.below):
            whole.addWidget(widget)
        self.panel: Panel | None = None
        self._shown: object = None
        studio = stage.studio
        for signal in (
            studio.document.opened,
            studio.selection.changed,
            studio.selection.layer_changed,
            studio.selection.seat_changed,
        ):
            signal.connect(self.refresh)
        studio.document.edited.connect(self._edited)
        for signal in (stage.grasp.changed, stage.grasp.clashes_changed):
            signal.connect(self.refresh)
        self.refresh()

    def _edited(self, changes: Changes) -> None:
        """Show what changed, unless it is the feel of a control that is not shown here."""
        selection = self._stage.selection
        names = {*selection.chosen, selection.control}
        shown = any(seat == selection.seat and name in names for _unused, seat, name in changes.feel)
        if changes.beyond_feel or shown:
            self.refresh()

    def refresh(self) -> None:
        """Show what is selected, in the layer being edited."""
        with same_place(self):
            self._refresh()

    def _refresh(self) -> None:
        studio = self._stage.studio
        subject = studio.selection.subject
        many = (
            subject.kind is SubjectKind.CONTROL
            and len(studio.selection.chosen) > 1
            and TOGETHER not in studio.selection.control
        )
        control = (subject.kind is SubjectKind.CONTROL or subject.on_bench) and not many
        self._title.setText(self._name(subject, many))
        layer = studio.profile.layer(studio.selection.layer)
        self._layer.setText(
            ""
            if studio.selection.layer == BASE or layer is None or not control
            else _("In {name}").format(name=layer.name)
        )
        self._mark.setVisible(control and TOGETHER not in studio.selection.control)
        self._mark.update()
        wanted = self._wanted(subject, many)
        if wanted != self._shown or self.panel is None:
            self._shown = wanted
            self._replace(self._make(subject, many))
        if self.panel is not None:
            self.panel.refresh()
        self.tune.setVisible(
            control and TOGETHER not in studio.selection.control and kind_of(studio.selection.control) in TUNABLE
        )
        for widget in (self.clash, self.elsewhere, self.note, self.below):
            widget.refresh(control)

    def _name(self, subject: Subject, many: bool) -> str:
        studio = self._stage.studio
        if many:
            return _("{count} controls").format(count=len(studio.selection.chosen))
        match subject.kind:
            case SubjectKind.LAYER:
                layer = studio.profile.layer(studio.selection.layer)
                return _("Layer {name}").format(name=layer.name) if layer else _("Layer")
            case SubjectKind.PROFILE:
                return studio.profile.game.title or _("Profile settings")
            case SubjectKind.COMMAND:
                command = studio.profile.command(subject.id)
                return command.name if command else subject.id
            case SubjectKind.CONTROL | SubjectKind.BELT | SubjectKind.MACRO:
                return studio.selection.names.title(studio.selection.control)

    def _wanted(self, subject: Subject, many: bool) -> object:
        """What the panel depends on: while this stays the same, the panel stays."""
        studio = self._stage.studio
        if many:
            return "many"
        if subject.kind in (SubjectKind.LAYER, SubjectKind.COMMAND, SubjectKind.PROFILE):
            return subject
        found = look_up(studio.profile, studio.selection.layer, studio.selection.control, studio.selection.seat)
        role = found.binding.role if found else None
        shape = (
            type(role).__name__,
            getattr(role, "directions", ""),
            getattr(role, "slices", 0) > 0,
            getattr(role, "to", ""),
            studio.profile.game.pad,
        )
        use = (
            ""
            if TOGETHER in studio.selection.control
            else use_of(found.binding if found else None, studio.selection.control)
        )
        return studio.selection.control, studio.selection.layer, studio.selection.seat, shape, use

    def _make(self, subject: Subject, many: bool) -> Panel:
        stage = self._stage
        if many:
            return ManyPanel(stage, self._run)
        match subject.kind:
            case SubjectKind.LAYER:
                return LayerPanel(stage)
            case SubjectKind.PROFILE:
                return ProfilePanel(stage)
            case SubjectKind.COMMAND:
                return CommandPanel(stage, subject.id)
            case SubjectKind.CONTROL | SubjectKind.BELT | SubjectKind.MACRO:
                return self._make_for_control()

    def _make_for_control(self) -> Panel:
        stage, studio = self._stage, self._stage.studio
        control = studio.selection.control
        match kind_of(control):
            case Kind.MOTION:
                return MotionPanel(stage, control)
            case Kind.BUTTON:
                return ButtonPanel(stage, control)
            case Kind.TRIGGER:
                found = look_up(studio.profile, studio.selection.layer, control, studio.selection.seat)
                if use_of(found.binding if found else None, control) == "button":
                    return TriggerPanel(stage, control)
        return RolePanel(stage, control)

    def _replace(self, panel: Panel) -> None:
        emptied(self._column)
        self.panel = panel
        self._column.addWidget(panel)
        self._column.addStretch(1)
        bar = self.area.verticalScrollBar()
        if bar is not None:
            bar.setValue(0)


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
            button = QPushButton(elided(said, self.width() - 16) if self.width() > 100 else said)
            button.setToolTip(tip(said))
            button.setAccessibleName(said)
            button.setObjectName("link")
            button.clicked.connect(partial(studio.selection.show_layer, layer.id))
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
