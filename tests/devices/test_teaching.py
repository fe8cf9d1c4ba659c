"""Teaching: a simulated player with one of the five shapes in hand is led through it, and errs as people do."""

from __future__ import annotations

from random import Random

import pytest

from nubshift.devices.codes import AxisRange
from nubshift.devices.decode import Decoder
from nubshift.devices.device_mapping import KnownMappings, read_hardware
from nubshift.devices.simulated_hardware import HARDWARE, SimulatedHardware
from nubshift.devices.teaching import HOLD, PATIENCE, Phase, Teacher
from nubshift.model.controller_setup import RAW_INPUT, InputMapping, parse_setup, setup_text
from nubshift.model.controls import Kind, kind_of
from nubshift.model.shapes import SHAPES, ShapeLesson
from nubshift.units import MILLISECOND, SECOND, Micros

STEP: Micros = 8 * MILLISECOND
WAYS = {"right": (1.0, 0.0), "down": (0.0, 1.0), "more": (1.0, 0.0), "less": (-1.0, 0.0), "": (1.0, 0.0)}


class Student:
    """Has the hardware in hand and does what it is asked; knows its things by their makers' names."""

    def __init__(self, name: str, seed: int = 1, shape: str = "") -> None:
        self.hardware = HARDWARE[name]
        self.pad = SimulatedHardware(name, KnownMappings(), 0, seed=seed)
        self.random = Random(seed)
        self.now: Micros = 0
        self.pad.listen(True)
        self.teacher = Teacher(self.hardware.keys, self.hardware.axes, shape or self.hardware.shape, 0)
        self.said: list[str] = []

    def wait(self, time: Micros) -> None:
        end = self.now + time
        while self.now < end:
            self.now += STEP
            self.pad.read(self.now)
            self.teacher.hear(self.pad.heard())
            self.teacher.advance(self.now)
        if self.teacher.said:
            self.said.append(self.teacher.said)

    def put(self, control: str, x: float, y: float = 0.0) -> None:
        self.pad.steer(RAW_INPUT + control, x, y, self.now)

    def press(self, control: str, way: str = "", time: Micros = 200 * MILLISECOND) -> None:
        """As a hand does: out by degrees, held for a moment, back by degrees."""
        x, y = WAYS[way]
        shaky = 0.06 * self.random.uniform(-1, 1) if way in ("right", "down") else 0.0
        for share in (0.3, 0.7, 1.0):
            self.put(control, x * share + (shaky if not x else 0), y * share + (shaky if not y else 0))
            self.wait(STEP * 2)
        self.wait(time)
        for share in (0.6, 0.2, 0.0):
            self.put(control, x * share, y * share)
            self.wait(STEP)
        self.wait(250 * MILLISECOND)

    def answer(self, lesson: ShapeLesson) -> None:
        """Do it, if it is there; else wait until it is not asked for any more."""
        if lesson.control in self.hardware.controls:
            self.press(lesson.control, lesson.way)
        else:
            self.wait(PATIENCE + SECOND)

    def learn(self) -> None:
        """Through to the review."""
        self.wait(2 * SECOND)
        for _ in range(200):
            lesson = self.teacher.lesson
            if lesson is None:
                break
            self.answer(lesson)
        assert self.teacher.phase is Phase.REVIEW

    def mapped(self) -> dict[str, set[tuple[str, int, str, bool]]]:
        return raw_inputs(self.teacher.setup(self.hardware.model).inputs)

    def check(self) -> None:
        """It is right: every thing of the hardware moves the control that it is, and nothing else."""
        setup = self.teacher.setup(self.hardware.model)
        asked = set(SHAPES[self.hardware.shape].controls)
        decoder = Decoder(setup.inputs, self.hardware.axes)
        for control in asked & set(self.hardware.controls):
            ways = (
                [(1.0, 0.0), (-1.0, 0.0), (0.0, 1.0), (0.0, -1.0)] if kind_of(control) is Kind.STICK else [(1.0, 0.0)]
            )
            if control in ("axis_1", "axis_2", "axis_3") and self.hardware.shape == "mouth":
                ways.append((-1.0, 0.0))
            for x, y in ways:
                fresh = Decoder(setup.inputs, self.hardware.axes)
                for input_ in self.hardware.raw_inputs:
                    if input_.control == control:
                        value = input_.value(y if input_.component == "y" else x)
                        fresh.event(1 if input_.source == "key" else 3, input_.code, value)
                out = {name: (a, b) for name, a, b in fresh.state() if max(abs(a), abs(b)) > 0.2}
                assert set(out) == {control}, (control, x, y, out)
                for is_there, wanted in zip(out[control], (x, y), strict=True):  # where it rests has drifted meanwhile
                    assert is_there == pytest.approx(wanted, abs=0.02 if wanted else 0.16)
        assert {name for name, a, b in decoder.state() if max(abs(a), abs(b)) > 0.2} == set()


def raw_inputs(inputs: tuple[InputMapping, ...]) -> dict[str, set[tuple[str, int, str, bool]]]:
    found: dict[str, set[tuple[str, int, str, bool]]] = {}
    for input_ in inputs:
        found.setdefault(input_.control, set()).add((input_.source, input_.code, input_.component, input_.flip))
    return found


@pytest.mark.parametrize("seed", [1, 2, 3])
@pytest.mark.parametrize("name", list(HARDWARE))
def test_each_shape_is_learned_with_its_noise_and_drift(name: str, seed: int) -> None:
    student = Student(name, seed)
    student.learn()
    student.check()


@pytest.mark.parametrize("seed", [4, 5])
@pytest.mark.parametrize("name", list(HARDWARE))
def test_wrong_presses_do_no_harm(name: str, seed: int) -> None:
    """Every third answer comes after a press of something that was taught before, or of two things at once."""
    student = Student(name, seed)
    student.wait(2 * SECOND)
    known: list[str] = []
    for number in range(200):
        lesson = student.teacher.lesson
        if lesson is None:
            break
        if number % 3 == 1 and known:
            student.press(student.random.choice(known))
            assert student.teacher.lesson == lesson
            assert "already" in student.teacher.said
        if number % 4 == 3 and lesson.control in student.hardware.controls and kind_of(lesson.control) is Kind.BUTTON:
            other = next(
                c
                for c in student.hardware.controls
                if c not in known and c != lesson.control and kind_of(c) is Kind.BUTTON
            )
            student.put(lesson.control, 1.0)
            student.put(other, 1.0)
            student.wait(100 * MILLISECOND)
            student.put(lesson.control, 0.0)
            student.put(other, 0.0)
            student.wait(300 * MILLISECOND)
            assert student.teacher.lesson == lesson
        student.answer(lesson)
        if lesson.control in student.hardware.controls and not lesson.way:
            known.append(lesson.control)
    assert student.teacher.phase is Phase.REVIEW
    student.check()


@pytest.mark.parametrize("name", ["alder", "willow"])
def test_what_is_held_at_the_start_is_left_out_until_it_is_let_go_of(name: str) -> None:
    student = Student(name)
    held = "button_1" if name == "willow" else "west"
    student.wait(300 * MILLISECOND)
    student.put(held, 1.0)
    student.wait(4 * SECOND)
    assert student.teacher.phase is Phase.ASK
    assert "held down" in student.teacher.said
    first = student.teacher.lesson
    assert first is not None
    student.answer(first)
    student.put(held, 0.0)
    student.wait(200 * MILLISECOND)
    while (lesson := student.teacher.lesson) is not None:
        student.answer(lesson)
    student.check()


def test_a_hand_on_a_stick_while_resting_is_asked_to_let_go() -> None:
    student = Student("alder")
    student.wait(500 * MILLISECOND)
    student.put("left_stick", 0.9, 0.0)
    student.wait(1200 * MILLISECOND)
    assert student.teacher.phase is Phase.REST
    assert "Release everything" in student.teacher.said
    student.put("left_stick", 0.0, 0.0)
    student.wait(2 * SECOND)
    student.learn()
    student.check()


def test_back_skip_and_correct_at_any_time() -> None:
    student = Student("quarry")
    student.wait(2 * SECOND)
    student.press("dpad_up")
    student.press("dpad_right")
    assert student.teacher.place == 2
    student.teacher.back(student.now)
    assert student.teacher.lesson is not None
    assert student.teacher.lesson.control == "dpad_right"
    student.press("start")  # a wrong guess
    student.teacher.skip(student.now)
    student.teacher.review(student.now)
    assert student.teacher.phase is Phase.REVIEW
    assert "dpad_left" not in student.teacher.taught
    student.teacher.correct("dpad_right", student.now)
    student.press("dpad_right")
    assert student.teacher.phase is Phase.REVIEW
    assert student.mapped()["dpad_right"] == {("axis", 16, "x", False)}


def test_by_the_controller_alone() -> None:
    """Holding what is known goes back, waiting skips, and in the review holding keeps."""
    student = Student("quarry")
    student.wait(2 * SECOND)
    for control in ("dpad_up", "dpad_right", "dpad_down", "dpad_left", "west"):
        student.press(control)
    student.press("east")  # meant to be north
    assert student.teacher.place == 6
    student.press("west", time=HOLD + 300 * MILLISECOND)
    assert student.teacher.lesson is not None
    assert student.teacher.lesson.control == "north"
    student.press("north")
    while (lesson := student.teacher.lesson) is not None:
        student.answer(lesson)
    student.press("south", time=300 * MILLISECOND)
    assert student.teacher.phase is Phase.REVIEW
    student.put("south", 1.0)
    student.wait(100 * MILLISECOND)
    assert student.teacher.lit == ("south",)
    student.wait(HOLD + 200 * MILLISECOND)
    assert student.teacher.phase is Phase.STORED
    student.check()


def test_a_free_walk_names_what_comes() -> None:
    student = Student("reed", shape="free")
    student.wait(2 * SECOND)
    for control in ("button_3", "start", "dpad_up"):
        student.press(control)
    student.press("axis_1", "more")
    student.wait(PATIENCE + SECOND)
    assert student.teacher.phase is Phase.REVIEW
    found = student.teacher.setup("m")
    assert found.controls == ("dpad_up", "axis_1", "button_1", "button_2")
    assert next(w for w in found.inputs if w.control == "axis_1").rest == 0


class Bare:
    """A teacher fed by hand."""

    def __init__(self, shape: str, keys: tuple[int, ...], axes: dict[int, AxisRange]) -> None:
        self.teacher = Teacher(keys, axes, shape, 0)
        self.now: Micros = 0
        self.wait(2 * SECOND)

    def wait(self, time: Micros) -> None:
        for _ in range(time // STEP):
            self.now += STEP
            self.teacher.advance(self.now)

    def event(self, kind: int, code: int, value: int) -> None:
        self.teacher.hear([(self.now, "pad", kind, code, value)])

    def axis(self, code: int, *values: int) -> None:
        for value in values:
            self.event(3, code, value)
            self.wait(10 * STEP)

    def until(self, control: str) -> None:
        while self.teacher.lesson is not None and self.teacher.lesson.control != control:
            self.teacher.skip(self.now)


def test_two_triggers_on_one_axis_are_told_with_what_that_loses() -> None:
    bare = Bare("pad", (0x120,), {2: AxisRange(0, 255, 128)})
    bare.until("left_trigger")
    bare.axis(2, 200, 255, 180, 128)
    bare.wait(SECOND)
    bare.axis(2, 60, 0, 60, 128)
    bare.wait(SECOND)
    setup = bare.teacher.setup("m")
    assert [(w.control, w.side, w.code) for w in setup.inputs] == [
        ("left_trigger", "above", 2),
        ("right_trigger", "below", 2),
    ]
    assert [w.normal(255) for w in setup.inputs] == [1.0, 0.0]
    read = read_hardware("m", (0x120,), {2: AxisRange(0, 255, 128)}, KnownMappings({"m": setup}))
    assert "share one axis" in read.uncertain[0]


def test_a_button_with_depth_is_its_key_and_a_trigger_its_axis() -> None:
    bare = Bare("pad", (0x120, 0x126), {8: AxisRange(0, 255), 9: AxisRange(0, 255)})
    for key, axis, control in ((0x120, 8, "south"), (0x126, 9, "left_trigger")):
        bare.until(control)
        bare.event(1, key, 1)
        bare.axis(axis, 90, 255)
        bare.event(1, key, 0)
        bare.axis(axis, 90, 0)
        bare.wait(SECOND)
    inputs = bare.teacher.setup("m").inputs
    assert [(w.control, w.source, w.code) for w in inputs] == [("south", "key", 0x120), ("left_trigger", "axis", 9)]


def test_an_axis_that_stays_where_it_is_put_is_found() -> None:
    bare = Bare("guitar", (0x120,), {6: AxisRange(0, 1000, 1000)})
    bare.until("axis_1")
    bare.axis(6, 700, 300, 0)
    bare.wait(3 * SECOND)
    (input_,) = bare.teacher.setup("m").inputs
    assert (input_.control, input_.rest, input_.normal(0), input_.normal(1000)) == ("axis_1", 1000, 1.0, 0.0)
    bare.until("select")
    bare.event(1, 0x120, 1)
    bare.wait(100 * MILLISECOND)
    bare.event(1, 0x120, 0)
    bare.wait(SECOND)
    assert bare.teacher.taught == ("axis_1", "select")


def test_a_noisy_axis_never_answers_for_a_button() -> None:
    bare = Bare("pad", (0x120,), {0: AxisRange(0, 255, 128)})
    random = Random(5)
    for number in range(400):
        bare.event(3, 0, 128 + round(random.gauss(0, 12)) + number // 20)
        bare.wait(STEP)
    assert bare.teacher.place == 0
    assert bare.teacher.said == ""


def test_a_stick_that_is_a_hat_is_the_d_pad() -> None:
    bare = Bare("mouth", (), {16: AxisRange(-1, 1), 17: AxisRange(-1, 1)})
    bare.axis(16, 1, 0)
    bare.wait(SECOND)
    inputs = bare.teacher.setup("m").inputs
    assert {(w.control, w.side) for w in inputs} == {("dpad_left", "below"), ("dpad_right", "above")}


def test_a_setup_is_written_and_read_again() -> None:
    student = Student("willow")
    student.learn()
    setup = student.teacher.setup(student.hardware.model)
    assert parse_setup(setup_text(setup), "here") == setup
    assert setup.names["axis_1"] == "Left hole"
    read = read_hardware(
        student.hardware.model, student.hardware.keys, student.hardware.axes, KnownMappings({setup.model: setup})
    )
    assert (read.how, read.shape) == ("taught", "mouth")
