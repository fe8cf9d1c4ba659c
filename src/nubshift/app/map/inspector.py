"""What is selected, on the right: a control with what it sends in this layer, several of them, a layer, a command."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QScrollArea, QVBoxLayout, QWidget

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
from nubshift.app.map.inspector_parts import Below, ClashNote, ControlMark, Elsewhere, NoteField
from nubshift.app.painting.theme import TITLE, font
from nubshift.app.stage import Stage
from nubshift.app.widgets.plain import Label
from nubshift.app.widgets.same_place import same_place
from nubshift.model.changes import Changes
from nubshift.model.controls import TUNABLE, Kind, kind_of
from nubshift.model.profile import BASE
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
