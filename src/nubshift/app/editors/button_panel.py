"""The inspector's panel for a button, or for several pressed together: its gestures on the picture of a press."""

from __future__ import annotations

from functools import partial

from msgspec.structs import replace
from PyQt6.QtWidgets import QWidget

from nubshift.app.editors.panel import FlowLayout, Panel, emptied, link
from nubshift.app.editors.pictures.press_picture import PressPicture
from nubshift.app.editors.rows.part_editor import PartEditor
from nubshift.app.editors.rows.slot_view import SlotView
from nubshift.app.stage import Stage
from nubshift.model import edits
from nubshift.model.edits import Bound
from nubshift.model.profile import GESTURES, Binding, Profile, Together
from nubshift.model.sentences import GESTURE_NAMES, sends_name
from nubshift.model.slots import TOGETHER
from nubshift.model.usage import combinations_of
from nubshift.texts import _, listed

TOUCH_TOGETHER = "together"
"""What a touch is awaited for: the other control of a combination."""


class ButtonPanel(Panel):
    """The press as a picture; below it the slot of the gesture chosen, what else can be set, and combinations."""

    def __init__(self, stage: Stage, control: str) -> None:
        super().__init__(stage, control)
        self.heading(_("What a press sends"))
        self.picture = PressPicture(stage, control)
        self.picture.timed.connect(self._set_time)
        self.picture.settled.connect(stage.document.history.settle)
        self.add(self.picture)
        self.costs = self.quiet("")
        self.at_once = self.link(_("Send at once instead"), self._at_once)
        self.editor = PartEditor(stage)
        self.add(self.editor)
        self._also_heading = self.heading(_("Add"))
        also = QWidget()
        self._also = FlowLayout(4)
        also.setLayout(self._also)
        self.add(also)
        stage.assigning.armed_changed.connect(self._show_also)

    @property
    def slot(self) -> SlotView:
        """The rows of the gesture that is edited."""
        return self.editor.view

    @property
    def gesture(self) -> str:
        """The gesture that is edited."""
        return self.picture.current

    def refresh(self) -> None:
        """The profile or the selection changed."""
        self.picture.refresh()
        sentences = self.picture.sentences()
        bound = self.picture.bound
        self.costs.setText(" ".join(sentences))
        self.costs.setVisible(bool(sentences))
        gestures = bound.gestures if bound is not None else {}
        self.at_once.setVisible("tap" in gestures and "press" not in gestures)
        self.editor.show_slot(self.picture.slot(self.gesture))
        self._show_also()

    def _show_also(self) -> None:
        """Links to the gestures that are not set, and the combinations with other controls."""
        emptied(self._also)
        there = self.picture.parts()
        bound = self.picture.bound
        if bound is not None and bound.gestures:
            for gesture in GESTURES:
                if gesture not in there:
                    self._also.addWidget(link(GESTURE_NAMES[gesture], partial(self.begin, gesture)))
        if TOGETHER not in self.control:
            self._show_combinations()
        self._also_heading.setVisible(self._also.count() > 0)

    def _show_combinations(self) -> None:
        studio = self.stage.studio
        for _unused, together in combinations_of(
            studio.profile, studio.selection.layer, self.control, studio.selection.seat
        ):
            others = listed([self.stage.selection.names.inside(c) for c in together.controls if c != self.control])
            what = sends_name(studio.profile, next(iter(together.gestures.values()), ()))
            name = TOGETHER.join(together.controls)
            self._also.addWidget(
                link(
                    _("With {others}: {what}").format(others=others, what=what), partial(studio.selection.select, name)
                )
            )
        listening = studio.assigning.armed_touch == TOUCH_TOGETHER
        text = _("Press the other control…") if listening else _("Combination")
        self._also.addWidget(link(text, lambda: studio.assigning.arm_touch(TOUCH_TOGETHER)))

    def begin(self, gesture: str) -> None:
        """Let another gesture listen for what it shall send."""
        studio = self.stage.studio
        studio.selection.select(self.control, gesture)
        studio.assigning.arm(studio.selection.slot(self.control, gesture))

    def _change(self, title: str, change: dict[str, object], merge: str = "") -> None:
        studio, control = self.stage.studio, self.control
        slot = studio.selection.slot(control)

        def edit(profile: Profile) -> Profile:
            bound: Bound | None = edits.bound(profile, slot) or self.picture.bound
            if bound is None:
                bound = Together(tuple(control.split(TOGETHER))) if TOGETHER in control else Binding(control)
            return edits.with_bound(profile, slot.layer, replace(bound, **change))

        studio.document.edit(f"{title}, {studio.selection.names.inside(control)}", edit, merge)

    def _set_time(self, field: str, ms: int) -> None:
        word = _("Hold time") if field == "hold_at" else _("Double tap within")
        self._change(_("{word} {ms} ms").format(word=word, ms=ms), {field: ms}, f"{field}:{self.control}")

    def _at_once(self) -> None:
        """The tap becomes a press, which nothing has to wait for."""
        bound = self.picture.bound
        if bound is not None:
            self.stage.selection.select(self.control, "press")
            self._change(_("Send at once"), {"press": bound.tap, "tap": ()})
