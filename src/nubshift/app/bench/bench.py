"""The bench: a belt or a macro with its picture, the slot of the entry chosen, and its settings."""

from __future__ import annotations

from functools import partial
from typing import Any

from msgspec.structs import replace
from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QPushButton, QScrollArea, QVBoxLayout, QWidget

from nubshift.app.bench.strip import BeltStrip
from nubshift.app.bench.timeline import MacroTimeline
from nubshift.app.document.output_choices import NEW_WAIT
from nubshift.app.document.subject import Subject, SubjectKind
from nubshift.app.editors.panel import Choices, FlowLayout, Panel, TextRow, emptied, link
from nubshift.app.editors.rows.part_editor import PartEditor
from nubshift.app.painting.theme import TITLE, font
from nubshift.app.shell.recording import Recording
from nubshift.app.stage import Stage
from nubshift.app.widgets.plain import Label
from nubshift.model import edits
from nubshift.model import parameters as p
from nubshift.model.parameters import Parameter
from nubshift.model.profile import Belt, Macro, MacroPress, MacroRelease, MacroTap, MacroWait
from nubshift.model.sends import SendBelt, SendMacro, SendText
from nubshift.model.sentences import slot_name
from nubshift.model.usage import slots_of
from nubshift.model.walk import each_send
from nubshift.texts import _

LENGTH = Parameter(
    name="length",
    label=_("Duration"),
    unit=_("ms"),
    low=10,
    high=60_000,
    default=100,
    step=10,
    help=_("How long this step takes."),
)
STEPS = {"next": _("next"), "back": _("back"), "again": _("again")}
RUNS = {"once": _("Once"), "while-held": _("While held"), "until-pressed": _("Until pressed again")}
AGAIN = {"ignore": _("Resume"), "restart": _("Restart"), "queue": _("Queue"), "overlap": _("Overlap")}


class Bench(QWidget):
    """Shows what the studio looks at, if it is a belt or a macro. `left` asks to go back to the hands."""

    left = pyqtSignal()

    def __init__(self, stage: Stage, recording: Recording) -> None:
        super().__init__()
        self._stage = stage
        self._recording = recording
        self.page: BeltPage | MacroPage | None = None
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(6, 6, 6, 0)
        stage.selection.changed.connect(self.refresh)
        stage.document.opened.connect(self.refresh)
        stage.document.edited.connect(lambda changes: self.refresh() if changes.beyond_feel else None)

    @property
    def wanted(self) -> bool:
        """Whether there is something to show here."""
        return self._stage.selection.subject.on_bench

    def refresh(self) -> None:
        """Something else is looked at, or the profile changed."""
        subject = self._stage.selection.subject
        if not self.wanted:
            if self.page is not None:
                emptied(self._column)
                self.page = None
            return
        if self.page is None or self.page.subject != subject:
            emptied(self._column)
            if subject.kind is SubjectKind.BELT:
                self.page = BeltPage(self._stage, subject)
            else:
                self.page = MacroPage(self._stage, subject, self._recording)
            self.page.left.connect(self.left)
            self._column.addWidget(self.page)
            self.page.picture.setFocus()
        self.page.refresh()


class BenchPage(Panel):
    """What belts and macros share: a head with the name and the way back, and who uses it."""

    left = pyqtSignal()

    def __init__(self, stage: Stage, subject: Subject, kind: str) -> None:
        super().__init__(stage)
        self.subject = subject
        head = QHBoxLayout()
        self.title = Label()
        self.title.setFont(font(TITLE * 0.9, bold=True))
        back = QPushButton(_("Back to Map"))
        back.setObjectName("link")
        back.setToolTip(_("Escape"))
        back.clicked.connect(self.left.emit)
        head.addWidget(self.title)
        kind_label = Label(kind)
        kind_label.setObjectName("quiet")
        head.addWidget(kind_label)
        head.addStretch(1)
        head.addWidget(back)
        self.column.addLayout(head)
        used = QWidget()
        self._used = FlowLayout(4)
        used.setLayout(self._used)
        self.add(used)

    def show_used(self, kind: type[SendBelt] | type[SendMacro], name: str) -> None:
        """Links to the controls that step or run it."""
        emptied(self._used)
        studio = self.stage.studio
        found: dict[tuple[str, str, str], str] = {}
        for slot, sends in slots_of(studio.profile):
            for _unused, send in each_send(sends):
                if isinstance(send, kind) and getattr(send, "belt", getattr(send, "macro", "")) == name:
                    how = f" ({STEPS[send.step]})" if isinstance(send, SendBelt) else ""
                    found[(slot.layer, slot.control, slot.part)] = f"{slot_name(studio.profile, slot)}{how}"
        for (layer, control, part), text in found.items():
            self._used.addWidget(link(text, partial(self._go_to, layer, control, part)))
        if not found:
            label = Label(_("No control uses it yet. Select one and choose “Other output…”."))
            label.setObjectName("quiet")
            self._used.addWidget(label)

    def _go_to(self, layer: str, control: str, part: str) -> None:
        self.stage.selection.show_layer(layer)
        self.stage.selection.select(control, part)

    def two_columns(self, one: QWidget, other: QWidget) -> None:
        """Put two widgets side by side below the picture."""
        row = QHBoxLayout()
        row.setSpacing(28)
        for widget in (one, other):
            column = QVBoxLayout()
            column.addWidget(widget)
            column.addStretch(1)
            row.addLayout(column, 1)
        self.column.addLayout(row)
        self.column.addStretch(1)


class BeltPage(BenchPage):
    """A belt."""

    def __init__(self, stage: Stage, subject: Subject) -> None:
        super().__init__(stage, subject, _("Belt"))
        self._id = subject.id
        self.picture = BeltStrip(stage, self._id)
        self.add(self.picture)
        self.editor = PartEditor(stage)
        entry = Panel(stage)
        entry.heading(_("This entry sends"))
        entry.add(self.editor)
        self.skip = entry.check(_("Skip"), self.picture.skip)
        entry.links((_("Remove entry"), self.picture.remove))
        whole = Panel(stage)
        whole.heading(_("Belt"))
        self.name = TextRow(
            _("Name"),
            lambda text: self._change(_("Rename to {text}").format(text=text), name=text[:200]) if text else None,
        )
        whole.add(self.name)
        self.wraps = Choices(
            _("At its end"),
            {"wraps": _("Wrap around"), "stops": _("Stop")},
            lambda value: self._change("End of the belt", wraps=value == "wraps"),
        )
        whole.add(self.wraps)
        self.pause = whole.number(p.BELT_PAUSE, lambda ms: self._change(_("Reset after"), "pause", pause=round(ms)))
        whole.quiet(_("After this long without a step it starts at its first entry again. 0 means never."))
        whole.links((_("Delete belt"), self._remove))
        self.two_columns(entry, whole)

    @property
    def belt(self) -> Belt:
        """The belt."""
        return self.picture.belt

    def _change(self, title: str, merge: str = "", **values: Any) -> None:
        changed = replace(self.belt, **values)
        name = f"{title}, {self.belt.name}"
        self.stage.document.edit(
            name, lambda profile: edits.with_belt(profile, changed), merge and self.subject.owner + merge
        )

    def _remove(self) -> None:
        name = self.belt.name
        self.stage.document.edit(
            _("Delete belt {name}").format(name=name), lambda profile: edits.without_belt(profile, self._id)
        )

    def refresh(self) -> None:
        """The profile or the entry chosen changed."""
        belt = self.belt
        self.title.setText(belt.name)
        self.name.show_text(belt.name)
        self.wraps.show_choice("wraps" if belt.wraps else "stops")
        self.pause.show_value(belt.pause)
        self.picture.refresh()
        self.skip.setChecked(belt.entries[self.picture.at].skip)
        self.editor.show_slot(self.picture.slot(self.picture.current))
        self.show_used(SendBelt, self._id)


class MacroPage(BenchPage):
    """A macro, with recording from the keyboard."""

    def __init__(self, stage: Stage, subject: Subject, recording: Recording) -> None:
        super().__init__(stage, subject, _("Macro"))
        self._id = subject.id
        self._recording = recording
        self.picture = MacroTimeline(stage, self._id)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        scroll.setFrameShape(QFrame.Shape.NoFrame)
        scroll.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        scroll.setWidget(self.picture)
        self._scroll = scroll
        self.add(scroll)
        self._make_adding()
        self.editor = PartEditor(stage)
        step = Panel(stage)
        self._step_head = step.heading(_("Step"))
        step.add(self.editor)
        self.length = step.number(LENGTH, lambda ms: self.picture.stretch(self.picture.at, round(ms)), square=True)
        step.links((_("Remove step"), self.picture.remove))
        whole = Panel(stage)
        whole.heading(_("Macro"))
        self.name = TextRow(
            _("Name"),
            lambda text: self._change(_("Rename to {text}").format(text=text), name=text[:200]) if text else None,
        )
        whole.add(self.name)
        whole.quiet(_("Run"))
        self.runs = Choices(
            _("Run"), RUNS, lambda value: self._change(_("Run {runs}").format(runs=RUNS[value]), runs=value)
        )
        whole.add(self.runs)
        whole.quiet(_("If triggered while running"))
        self.again = Choices(
            _("If triggered while running"), AGAIN, lambda value: self._change(AGAIN[value], again=value)
        )
        whole.add(self.again)
        whole.links((_("Delete macro"), self._remove))
        self.two_columns(step, whole)
        recording.changed.connect(self._recorded)

    def _make_adding(self) -> None:
        row = QHBoxLayout()
        row.addWidget(Label(_("Add")))
        for text, step in (
            (_("Tap"), MacroTap(())),
            (_("Key down"), MacroPress(())),
            (_("Key up"), MacroRelease(())),
            (_("Wait"), MacroWait(100)),
            (_("Text"), MacroTap((SendText("hello"),))),
        ):
            row.addWidget(link(text, partial(self._add, step)))
        row.addStretch(1)
        self.told = Label()
        self.told.setObjectName("quiet")
        row.addWidget(self.told)
        self.record = QPushButton()
        self.record.clicked.connect(self._toggle_recording)
        self.record.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        row.addWidget(self.record)
        self.column.addLayout(row)

    def _add(self, step: MacroTap | MacroPress | MacroRelease | MacroWait) -> None:
        if isinstance(step, MacroTap) and step.what:
            steps, at = self.macro.steps, self.picture.at + 1
            self.picture.put(_("Type a text"), (*steps[:at], step, *steps[at:]), at)
        else:
            self.picture.add(step)

    @property
    def macro(self) -> Macro:
        """The macro."""
        return self.picture.macro

    def _toggle_recording(self) -> None:
        if not self._recording.on:
            self.stage.assigning.disarm()
            self._recording.start()
            self.picture.setFocus()
            return
        self._recording.stop()
        steps = self._recording.steps(self.stage.assigning.send_for_key)
        if steps:
            there, at = self.macro.steps, self.picture.at + 1
            if there == (MacroWait(NEW_WAIT),):  # as a new macro is made: nothing of the player's
                there, at = (), 0
            self.picture.put(_("Record"), (*there[:at], *steps, *there[at:]), at)

    def _recorded(self) -> None:
        on, count = self._recording.on, len(self._recording.strokes)
        self.record.setText(_("Stop recording") if on else _("Record from the keyboard"))
        self.told.setText(
            _("{count} key presses. Every key is recorded, so stop with the mouse.").format(count=count) if on else ""
        )

    def _change(self, title: str, merge: str = "", **values: Any) -> None:
        changed = replace(self.macro, **values)
        self.stage.document.edit(
            f"{title}, {self.macro.name}", lambda profile: edits.with_macro(profile, changed), merge
        )

    def _remove(self) -> None:
        name = self.macro.name
        self.stage.document.edit(
            _("Delete macro {name}").format(name=name), lambda profile: edits.without_macro(profile, self._id)
        )

    def refresh(self) -> None:
        """The profile or the step chosen changed."""
        macro = self.macro
        self.title.setText(macro.name)
        self.name.show_text(macro.name)
        self.runs.show_choice(macro.runs)
        self.again.show_choice(macro.again)
        self.picture.refresh()
        self._scroll.setFixedHeight(self.picture.height() + 14)
        self._scroll.ensureVisible(round(self.picture.place(self.picture.current).center().x()), 10, 90, 0)
        step = self.picture.step
        waits = isinstance(step, MacroWait)
        self.editor.setVisible(not waits)
        self._step_head.setText(_("This step waits") if waits else _("This step sends"))
        if not waits:
            self.editor.show_slot(self.picture.slot(self.picture.current))
        stretches = self.picture.can_stretch(step)
        self.length.setVisible(stretches)
        if stretches:
            self.length.show_value(self.picture.lasts(step))
        self.show_used(SendMacro, self._id)
        self._recorded()
