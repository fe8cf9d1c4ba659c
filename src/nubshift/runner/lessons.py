"""Teaching in the runner: the events of one controller go to its teacher, and the window is told how it stands."""

from __future__ import annotations

from msgspec.structs import replace

from nubshift.devices.kernel import EvdevSource
from nubshift.devices.nodes import NodeUse
from nubshift.devices.simulated_hardware import SimulatedHardware
from nubshift.devices.teaching import Phase, Teacher
from nubshift.protocol.messages import Lesson, Teaching
from nubshift.runner.rack import Rack
from nubshift.texts import _
from nubshift.units import MILLISECOND, Micros

TELL_EVERY: Micros = 50 * MILLISECOND


class Lessons:
    """At most one lesson. `controller` is the one being taught, empty for none."""

    def __init__(self, rack: Rack) -> None:
        self._rack = rack
        self._teacher: Teacher | None = None
        self._model = ""
        self.controller = ""
        self._told: Lesson | None = None
        self._next: Micros | None = None

    @property
    def next_deadline(self) -> Micros | None:
        """When the window is to be told again."""
        return self._next

    @property
    def in_hand(self) -> SimulatedHardware | None:
        """The simulated hardware that is being taught, which the window presses for a hand."""
        source = self._rack.source(self.controller)
        return source if isinstance(source, SimulatedHardware) else None

    def begin(self, controller: str, shape: str, now: Micros) -> bool:
        """Teach a controller from now on; False if it is not there or needs no teaching."""
        self.end(now)
        self._rack.hold_open(controller, True, now)
        source = self._rack.source(controller)
        if isinstance(source, SimulatedHardware):
            keys, axes = source.hardware.keys, source.hardware.axes
        elif isinstance(source, EvdevSource):
            node = source.device.of(NodeUse.PAD) or source.device.main
            keys, axes = node.keys, node.axes
        else:
            self._rack.hold_open(controller, False, now)
            return False
        source.listen(True)
        self.controller, self._model = controller, source.info.model
        self._teacher = Teacher(keys, axes, shape, now)
        self._next = now
        return True

    def act(self, what: Teaching, now: Micros) -> None:
        """Do what the player asks."""
        teacher = self._teacher
        if teacher is None:
            return
        match what.act:
            case "skip":
                teacher.skip(now)
            case "back":
                teacher.back(now)
            case "review":
                teacher.review(now)
            case "correct":
                teacher.correct(what.control, now)
            case "keep":
                teacher.keep()
            case "end":
                self.end(now)
        self._next = now

    def end(self, now: Micros) -> None:
        """No lesson any more; the controller plays again."""
        if self._teacher is None:
            return
        source = self._rack.source(self.controller)
        if source is not None:
            source.listen(False)
        self._rack.hold_open(self.controller, False, now)
        self._teacher, self._next, self._told = None, None, None
        self.controller = ""

    def step(self, now: Micros) -> Lesson | None:
        """Let the teacher hear what came; returns what the window is to be told, if anything is new."""
        teacher = self._teacher
        if teacher is None or self._next is None:
            return None
        source = self._rack.source(self.controller)
        if source is None:
            lost = Lesson(self.controller, "over", teacher.shape.id, said=_("The controller was unplugged."))
            self.end(now)
            return lost
        teacher.hear(source.heard())
        teacher.advance(now)
        if now < self._next:
            return None
        self._next = now + TELL_EVERY
        lesson = self._message(teacher)
        if teacher.phase is Phase.STORED:
            self.end(now)
        if lesson == self._told:
            return None
        self._told = lesson
        return lesson

    def _message(self, teacher: Teacher) -> Lesson:
        lesson = teacher.lesson
        told = Lesson(
            self.controller,
            teacher.phase.value,
            teacher.shape.id,
            place=teacher.place,
            total=len(teacher.shape.lessons),
            left=round(teacher.left, 2),
            said=teacher.said,
            taught=teacher.taught,
            lit=teacher.lit,
        )
        if lesson is not None:
            told = replace(told, control=lesson.control, ask=lesson.ask)
        if teacher.phase is Phase.STORED:
            told = replace(told, setup=teacher.setup(self._model))
        return told
