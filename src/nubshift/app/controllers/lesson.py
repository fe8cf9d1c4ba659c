"""Teaching a controller: which shape it has, then one thing after the other, then a look at all of it."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPen
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from nubshift.app.controllers.chips import Chips
from nubshift.app.editors.panel import FlowLayout, link
from nubshift.app.painting.canvas import Canvas
from nubshift.app.painting.theme import TITLE, Look, font
from nubshift.app.painting.timing import once
from nubshift.app.stage import Stage
from nubshift.app.widgets.plain import Label
from nubshift.app.widgets.scrolling import scrolled
from nubshift.model.controller_info import ControllerInfo
from nubshift.model.controller_setup import RAW_INPUT
from nubshift.model.controls import Kind, kind_of
from nubshift.model.names import Names
from nubshift.model.shapes import SHAPES
from nubshift.protocol.messages import Lesson, Request, Steer, Teach, Teaching
from nubshift.texts import _

HOLD_MS = 1200
"""A button held so long, while a shape is chosen by the controller alone, takes the one that is marked."""


class ProgressRing(Canvas):
    """What is left of the time for a request, as a ring that empties; full while something is being pressed."""

    def __init__(self, look: Look) -> None:
        super().__init__(look)
        self.left = 1.0
        self.setFixedSize(54, 54)
        self.setAccessibleName(_("Time left before this is skipped"))

    def show_left(self, left: float) -> None:
        """Another share."""
        if left != self.left:
            self.left = left
            self.update()

    def draw(self, painter: QPainter) -> None:
        """A quiet circle, and over it what is left."""
        rect = QRectF(5, 5, self.width() - 10, self.height() - 10)
        painter.setPen(QPen(self.theme.line, 1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawEllipse(rect)
        painter.setPen(QPen(self.theme.input, 4))
        painter.drawArc(rect, 90 * 16, round(360 * 16 * self.left))


class LessonPage(QWidget):
    """The walk. `said` carries what is asked of the runner; `learned` the lesson once it is kept; `left` its end."""

    said = pyqtSignal(object)
    learned = pyqtSignal(Lesson)
    left = pyqtSignal()

    def __init__(self, stage: Stage) -> None:
        super().__init__()
        self._stage = stage
        self.info: ControllerInfo | None = None
        self.lesson: Lesson | None = None
        self._marked = 0
        self._taking = once(self, HOLD_MS, self._take_marked)
        self.title = Label()
        self.title.setFont(font(TITLE))
        self.ask = Label()
        self.ask.setFont(font(TITLE * 1.15, bold=True))
        self.ask.setWordWrap(True)
        self.ring = ProgressRing(stage.look)
        self.place = Label()
        self.place.setObjectName("quiet")
        self.remark = Label()
        self.remark.setObjectName("asks")
        self.remark.setWordWrap(True)
        self.help = Label()
        self.help.setObjectName("quiet")
        self.help.setWordWrap(True)
        self.taught = Chips(stage.look, _("What was found"))
        self.taught.chosen.connect(lambda control: self._act("correct", control))
        self.raw_inputs = Chips(stage.look, _("What the simulated controller has"))
        self.raw_inputs.pressed.connect(self._press)
        self._lay_out()
        stage.live.controls_changed.connect(self._moved)

    def _lay_out(self) -> None:
        self._lay_out_choice()
        self._lay_out_walk()
        self._in_hand = Label(_("Simulated controller: press its controls here"))
        self._in_hand.setObjectName("heading")
        inside = QWidget()
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.addWidget(scrolled(inside))
        column = QVBoxLayout(inside)
        column.setContentsMargins(26, 18, 26, 12)
        column.setSpacing(8)
        top = QHBoxLayout()
        top.addWidget(self.title, 1)
        self.stop = link(_("Stop"), self._stop)
        top.addWidget(self.stop)
        column.addLayout(top)
        column.addWidget(self.help)
        column.addWidget(self._choose)
        column.addWidget(self._walk)
        column.addStretch(1)
        column.addWidget(self._in_hand)
        column.addWidget(self.raw_inputs)

    def _lay_out_choice(self) -> None:
        self.shapes: dict[str, QPushButton] = {}
        self._choose = QWidget()
        choose = QVBoxLayout(self._choose)
        choose.setContentsMargins(0, 6, 0, 0)
        choose.setSpacing(2)
        for shape in SHAPES.values():
            button = QPushButton(shape.title if shape.lessons else _("Something else: press what it has, in any order"))
            button.setObjectName("variant")
            button.setCheckable(True)
            button.clicked.connect(lambda _=False, name=shape.id: self.begin(name))
            self.shapes[shape.id] = button
            choose.addWidget(button)

    def _lay_out_walk(self) -> None:
        self._walk = QWidget()
        walk = QVBoxLayout(self._walk)
        walk.setContentsMargins(0, 6, 0, 0)
        walk.setSpacing(8)
        head = QHBoxLayout()
        head.setSpacing(14)
        head.addWidget(self.ring, 0, Qt.AlignmentFlag.AlignTop)
        words = QVBoxLayout()
        words.setSpacing(2)
        for label in (self.place, self.ask, self.remark):
            words.addWidget(label)
        head.addLayout(words, 1)
        walk.addLayout(head)
        self.buttons: dict[str, QPushButton] = {}
        actions = QWidget()
        row = FlowLayout(6)
        actions.setLayout(row)
        for act, text in (
            ("keep", _("Save")),
            ("skip", _("It has none")),
            ("back", _("Back")),
            ("review", _("That is all")),
        ):
            button = QPushButton(text)
            button.clicked.connect(lambda _=False, what=act: self._act(what))
            self.buttons[act] = button
            row.addWidget(button)
        walk.addWidget(actions)
        self._found = Label(_("Found so far"))
        self._found.setObjectName("heading")
        walk.addSpacing(8)
        walk.addWidget(self._found)
        walk.addWidget(self.taught)

    # Choosing the shape

    def open(self, info: ControllerInfo, name: str) -> None:
        """Ask for the shape of a controller."""
        self.info, self.lesson = info, None
        self.title.setText(_("Set up {name}").format(name=name))
        self.help.setText(
            _(
                "Which shape is closest? Without the mouse: press anything on the controller to mark the "
                "next one, and hold it to choose."
            )
        )
        self._choose.show()
        self._walk.hide()
        self._mark(list(SHAPES).index(info.shape) if info.shape in SHAPES else 0)
        self._show_things()
        self.shapes[list(SHAPES)[self._marked]].setFocus()

    def _mark(self, number: int) -> None:
        self._marked = number % len(SHAPES)
        for place, button in enumerate(self.shapes.values()):
            button.setChecked(place == self._marked)

    def _show_things(self) -> None:
        there = self.info is not None and bool(self.info.raw_inputs) and self.info.how != "built-in"
        there = there and (self.lesson is not None or self._plays())
        self._in_hand.setVisible(there)
        self.raw_inputs.setVisible(there)
        if there and self.info is not None:
            shape = SHAPES[self.lesson.shape] if self.lesson is not None else SHAPES.get(self.info.shape)
            self.raw_inputs.show_controls(_moves(self.info.raw_inputs), _MoveNames(dict(shape.names) if shape else {}))

    def _plays(self) -> bool:
        """Whether the controller is the one in the seat that is shown."""
        return self.info is not None and self._stage.grasp.controller == self.info.id

    @property
    def _choosing(self) -> bool:
        return self.info is not None and self.lesson is None and self.isVisible()

    def _moved(self, controls: set[str]) -> None:
        """The controller itself chooses the shape."""
        if not self._choosing:
            return
        down = any(self._stage.live.depth(c) > 0.6 for c in controls if _is_pressed(c))
        up = any(self._stage.live.depth(c) < 0.3 for c in controls if _is_pressed(c))
        if down and not self._taking.isActive():
            self._taking.start()
        elif up and self._taking.isActive():
            self._taking.stop()
            self._mark(self._marked + 1)

    def _take_marked(self) -> None:
        if self._choosing:
            self.begin(list(SHAPES)[self._marked])

    def begin(self, shape: str) -> None:
        """Begin the walk through a shape."""
        if self.info is not None:
            self._taking.stop()
            self.said.emit(Teach(self.info.id, shape))

    # The walk

    def follow(self, lesson: Lesson) -> None:
        """How it stands."""
        if self.info is None or lesson.controller != self.info.id:
            return
        if lesson.phase == "stored":
            self.learned.emit(lesson)
            return
        if lesson.phase == "over":
            self._stage.document.noticed.emit("warning", f"{lesson.said}")
            self.left.emit()
            return
        begins = self.lesson is None
        reviews = lesson.phase == "review" and (self.lesson is None or self.lesson.phase != "review")
        self.lesson = lesson
        self._choose.hide()
        self._walk.show()
        shape = SHAPES[lesson.shape]
        self.place.setText(self._place_words(lesson))
        self.ask.setText(self._ask_words(lesson))
        self.remark.setText(lesson.said)
        self.remark.setVisible(bool(lesson.said))
        self.ring.show_left(lesson.left if lesson.phase != "review" else 0.0)
        self.help.setText(HELP[lesson.phase])
        self.buttons["keep"].setVisible(lesson.phase == "review")
        for act in ("skip", "review"):
            self.buttons[act].setVisible(lesson.phase == "ask" and not (act == "skip" and not lesson.total))
        self.buttons["back"].setVisible(lesson.phase != "rest")
        self._found.setText(_("Found. Click one to set it up again") if lesson.phase == "review" else _("Solid: found"))
        every = shape.controls if shape.controls and lesson.phase != "review" else lesson.taught
        self._found.setVisible(bool(every))
        self.taught.show_controls(every, Names(dict(shape.names)))
        self.taught.show_asked(lesson.control, frozenset(every) - set(lesson.taught))
        self.taught.show_depths(dict.fromkeys(lesson.lit, 1.0))
        if begins:
            self._show_things()
        if begins or reviews:
            self.buttons["keep" if lesson.phase == "review" else "skip"].setFocus()

    @staticmethod
    def _place_words(lesson: Lesson) -> str:
        if lesson.phase == "review":
            return _("All of it")
        if lesson.phase == "rest":
            return _("first")
        return (
            _("{number} of {total}").format(number=lesson.place + 1, total=lesson.total)
            if lesson.total
            else _("number {place}").format(place=lesson.place + 1)
        )

    @staticmethod
    def _ask_words(lesson: Lesson) -> str:
        match lesson.phase:
            case "rest":
                return _("Lay it down and touch nothing")
            case "review":
                return _("Press each one and check that it is right")
        return (
            _("{ask}, then release").format(ask=lesson.ask)
            if lesson.ask
            else _("Press or move anything that is not in the list yet")
        )

    def _act(self, act: str, control: str = "") -> None:
        self.said.emit(Teaching(act, control))  # type: ignore[arg-type]

    def _stop(self) -> None:
        if self.lesson is not None:
            self._act("end")
        self.left.emit()

    def end(self) -> None:
        """Nobody is taught any more."""
        self._taking.stop()
        self.info, self.lesson = None, None

    def _press(self, raw_input: str, down: bool) -> None:
        """A hand on the simulated controller."""
        name, _unused, way = raw_input.partition(" ")
        x, y = {"": (1.0, 0.0), "right": (1.0, 0.0), "down": (0.0, 1.0), "less": (-1.0, 0.0)}[way]
        request: Request = Steer(f"{RAW_INPUT}{name}", x if down else 0.0, y if down else 0.0, self._seat)
        self.raw_inputs.show_depths({raw_input: 1.0} if down else {})
        self.said.emit(request)

    @property
    def _seat(self) -> str:
        return self._stage.selection.seat


HELP = {
    "rest": _("Measuring rest and noise."),
    "ask": _("Without the mouse: wait to skip. Hold anything already found for a second to go back."),
    "review": _("Without the mouse: hold anything already found for a second to save."),
}


def _is_pressed(control: str) -> bool:
    return control.partition("+")[0] != "motion" and not control.startswith(("gravity", "motion_", "pointer"))


def _moves(raw_inputs: tuple[str, ...]) -> tuple[str, ...]:
    """What a hand can do with things: a stick goes two ways, a hole for the breath too."""
    found: list[str] = []
    for raw_input in raw_inputs:
        kind = kind_of(raw_input)
        if kind is Kind.STICK:
            found += [f"{raw_input} right", f"{raw_input} down"]
        elif kind is Kind.AXIS and len([t for t in raw_inputs if kind_of(t) is Kind.AXIS]) > 2:
            found += [raw_input, f"{raw_input} less"]
        else:
            found.append(raw_input)
    return tuple(found)


class _MoveNames(Names):
    """Things with the way they are moved."""

    def title(self, control: str) -> str:
        """The thing, and an arrow or word for the way."""
        name, _unused, way = control.partition(" ")
        return super().title(name) + {"right": " →", "down": " ↓", "less": _(" (sip)"), "": ""}[way]

    def mark(self, control: str) -> str:
        """Of the thing."""
        return super().mark(control.partition(" ")[0])
