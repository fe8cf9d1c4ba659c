"""What the rack reads and grabs: all nodes before time goes on (R1), each grab once, each refusal told once."""

from __future__ import annotations

import os
from collections.abc import Callable
from random import Random
from typing import Any

import pytest

from nubshift.devices import kernel
from nubshift.devices.codes import AxisRange
from nubshift.devices.device_mapping import KnownMappings, map_device
from nubshift.devices.discovery import info_of
from nubshift.devices.kernel import EvdevSource
from nubshift.devices.nodes import Device, Node
from nubshift.devices.port import Raw, Timed
from nubshift.devices.simulation import Simulation
from nubshift.engine.compile import compile_profile
from nubshift.errors import SourceError
from nubshift.events import Change, Motion, Output, Report
from nubshift.model.controller_info import ControllerInfo
from nubshift.model.roles import GyroRole
from nubshift.model.stored_controllers import PartOf
from nubshift.outputs.port import Sink
from nubshift.outputs.recorder import Recorder
from nubshift.runner import open_controllers as open_module
from nubshift.runner.compiling import compiled
from nubshift.runner.grabbing import GRAB_AGAIN
from nubshift.runner.rack import Rack
from nubshift.runner.session import Session
from nubshift.runner.stored import StoredControllers
from tests.support.playing import MS, Desk, moved
from tests.support.profiles import made

TURN = made({"base": {"south": "A", "motion": GyroRole()}}, game={"counts_per_turn": 3600.0})
SECOND = 1_000_000


class Piece(Simulation):
    """A source in the test's hand."""

    def __init__(self, name: str) -> None:
        self.info = ControllerInfo(name, name, ("south", "motion"))
        self.waiting: list[Timed] = []
        self.next_deadline: int | None = 0
        self.grabs: list[bool] = []
        self.refusal = ""
        self.standing: tuple[Change, ...] = ()

    def state(self) -> tuple[Change, ...]:
        return self.standing

    def read(self, now: int, ready: object = None) -> list[Timed]:
        found, self.waiting = self.waiting, []
        return found

    def grab(self, exclusive: bool) -> None:
        self.grabs.append(exclusive)
        if exclusive and self.refusal:
            raise SourceError(self.refusal)


class Hands:
    """A rack with pieces of hardware that the test holds."""

    def __init__(self) -> None:
        self.told: list[str] = []
        self.pieces: dict[str, Piece] = {}
        self.rack = Rack(
            {"1": ("take:one",), "2": ("take:two",)}, lambda _, text: self.told.append(text), 0, StoredControllers()
        )

    def make(self, spec: str, now: int, mappings: object) -> Piece:
        return self.pieces.setdefault(spec, Piece(spec))


@pytest.fixture
def hands(monkeypatch: pytest.MonkeyPatch) -> Hands:
    made_up: dict[str, Piece] = {}
    monkeypatch.setattr(open_module, "open_without_device", lambda spec, *_: made_up.setdefault(spec, Piece(spec)))
    found = Hands()
    found.pieces = made_up
    return found


def test_reports_of_all_seats_come_in_the_order_of_their_stamps(hands: Hands) -> None:
    one, two = hands.pieces["take:one"], hands.pieces["take:two"]
    one.waiting = [(30, (("south", 1.0, 0.0),)), (50, (("south", 0.0, 0.0),))]
    two.waiting = [(20, (("south", 1.0, 0.0),)), (40, (("south", 0.0, 0.0),))]
    assert [(report.t, report.seat) for report in hands.rack.read(set(), 100)] == [
        (20, "2"),
        (30, "1"),
        (40, "2"),
        (50, "1"),
    ]


def test_what_happened_while_nodes_were_read_waits_for_the_next_time(hands: Hands) -> None:
    one, two = hands.pieces["take:one"], hands.pieces["take:two"]
    one.waiting, two.waiting = [(90, (("south", 1.0, 0.0),))], [(110, (("south", 1.0, 0.0),))]
    assert [report.t for report in hands.rack.read(set(), 100)] == [90]
    one.next_deadline = two.next_deadline = None
    assert hands.rack.next_report == 110  # the loop does not sleep on it
    one.waiting, one.next_deadline = [(105, (("south", 0.0, 0.0),))], 0
    assert [(report.t, report.seat) for report in hands.rack.read(set(), 120)] == [(105, "1"), (110, "2")]


def test_a_controller_is_grabbed_when_that_changes_and_no_oftener(hands: Hands) -> None:
    one = hands.pieces["take:one"]
    one.grabs.clear()
    for now in range(50):
        hands.rack.grab(True, now)
    hands.rack.grab(False, 60)
    assert one.grabs == [True, False]


def test_a_grab_that_fails_is_told_once_and_tried_again_in_silence(hands: Hands) -> None:
    one = hands.pieces["take:one"]
    one.refusal = "One can't be kept from the game: another program holds it"
    one.grabs.clear()
    for now in range(250):
        hands.rack.grab(True, now)
        hands.rack.follow_time(now)
    assert hands.told == [f"{one.refusal}."]
    assert one.grabs == [True]
    for again in range(1, 4):
        hands.rack.follow_time(again * GRAB_AGAIN + 1000)
    assert hands.told == [f"{one.refusal}."]
    assert len(one.grabs) == 4
    one.refusal = ""
    hands.rack.follow_time(5 * GRAB_AGAIN)
    hands.rack.follow_time(9 * GRAB_AGAIN)
    assert one.grabs[-1] is True
    assert len(one.grabs) == 5


def test_a_controller_is_grabbed_while_nothing_on_it_is_down(hands: Hands) -> None:
    one = hands.pieces["take:one"]
    one.grabs.clear()
    one.standing = (("south", 1.0, 0.0), ("left_stick", 1.0, 0.0))
    hands.rack.grab(True, 0)
    for now in range(0, SECOND, SECOND // 10):
        hands.rack.follow_time(now)
    assert one.grabs == []
    one.standing = (("south", 0.0, 0.0), ("left_stick", 1.0, 0.0))
    hands.rack.follow_time(2 * SECOND)
    assert one.grabs == [True]
    assert hands.told == []


def test_one_on_which_something_stays_down_is_grabbed_at_last_and_that_is_told(hands: Hands) -> None:
    one = hands.pieces["take:one"]
    one.grabs.clear()
    one.standing = (("south", 1.0, 0.0),)
    hands.rack.grab(True, 0)
    for now in range(0, 5 * SECOND, SECOND // 10):
        hands.rack.grab(True, now)
        hands.rack.follow_time(now)
    assert one.grabs == [True]
    assert len(hands.told) == 1
    assert "while something on it was pressed" in hands.told[0]


def test_a_seat_that_never_had_its_source_is_known_at_the_end(hands: Hands) -> None:
    assert hands.rack.unfilled == ()
    hands.rack.fill("1", (PartOf("take:none"),), 0)
    assert hands.rack.unfilled == ()


# The integral of a turn, whatever is read first (R1, R10)


def turn(random: Random) -> list[Report]:
    """Two seconds of a hand that turns and trembles, 1000 reports of motion a second and as many of the pad."""
    reports: list[Report] = []
    for k in range(2000):
        rate = 90.0 * (1 + 0.5 * random.random())
        reports.append(Report(k * MS, (("motion", rate, 0.0), ("motion_lean", 0.0, 0.0))))
        reports.append(Report(k * MS + 300, (("south", float(k // 100 % 2), 0.0),)))
    return reports


def counts(log: list[Output]) -> tuple[int, int]:
    return moved(log)


@pytest.mark.parametrize("seed", range(5))
def test_the_integral_of_a_turn_is_exact_under_any_order_of_reading(seed: int) -> None:
    random = Random(seed)
    reports = turn(random)
    desk = Desk(TURN)
    for report in reports:
        desk.keep(desk.engine.feed(report))
    desk.to(3 * SECOND)
    exact = counts(desk.log)
    assert abs(exact[0] - sum(c[1] / 40 for r in reports[2:] for c in r.changes if c[0] == "motion")) < 2

    late = Desk(TURN)  # the pad's node is read first each time, and time goes on before the other one is
    at = 0
    while at < len(reports):
        some = reports[at : at + 2 * random.randrange(1, 12)]
        at += len(some)
        now = some[-1].t + random.randrange(5000)
        for report in sorted(some, key=lambda r: r.changes[0][0] == "motion"):
            late.keep(late.engine.feed(report))
        late.to(now)
    late.to(3 * SECOND)
    assert late.engine.counts.late > 500
    assert abs(counts(late.log)[0] - exact[0]) <= 1

    out = Recorder()
    session = Session(compiled(TURN), Sink(out))  # as the runner does it: none is late
    at = 0
    while at < len(reports):
        some = reports[at : at + random.randrange(1, 24)]
        at += len(some)
        session.take(some, some[-1].t)
    session.advance(3 * SECOND)
    assert session.counts.late == 0
    assert sum(event.dx for event in out.events if isinstance(event, Motion)) == exact[0]


# Nodes of the kernel


class FakeDevice:
    """What evdev's device is to a node: its descriptor has bursts of events (time, type, code, value)."""

    def __init__(self, bursts: list[list[tuple[int, int, int, int]]], keys: Callable[[], list[int]] = list) -> None:
        self.active_keys = keys
        self.fd, end = os.pipe()
        os.set_blocking(self.fd, False)
        for burst in bursts:
            for t, *event in burst:
                os.write(end, kernel.EVENT.pack(t // SECOND, t % SECOND, *event))

    def absinfo(self, code: int) -> object:
        raise SystemError("evdev does so")


def opened(monkeypatch: pytest.MonkeyPatch, device: FakeDevice) -> kernel._OpenNode:
    monkeypatch.setattr(kernel._OpenNode, "_use_monotonic_clock", lambda self: True)
    node = Node("/dev/input/event3", "Fern pad", keys=(0x130,), axes={0: AxisRange(-128, 127)})
    return kernel._OpenNode(node, (), lambda path: device)


def test_a_node_is_read_until_it_would_block(monkeypatch: pytest.MonkeyPatch) -> None:
    bursts = [[(t * MS, 3, 0, t), (t * MS, 0, 0, 0)] for t in range(100)]  # more than fit into one reading
    node = opened(monkeypatch, FakeDevice(bursts))
    raw: list[Raw] = []
    node.read(5 * MS, raw)
    assert [entry[0] for entry in raw if entry[2] == 3] == [t * MS for t in range(100)]


def test_evdevs_own_error_does_not_end_a_controller(monkeypatch: pytest.MonkeyPatch) -> None:
    def refuse() -> list[int]:
        raise SystemError("evdev does so")

    node = opened(monkeypatch, FakeDevice([[(MS, 0, 3, 0), (MS, 0, 0, 0)]], refuse))
    assert node.read(2 * MS, None) == []
    assert node.dropped == 1


def sensed(*events: tuple[int, int, int]) -> bytes:
    return b"".join(kernel.EVENT.pack(0, 0, *event) for event in (*events, (0, 0, 0)))


def test_a_sensor_that_nobody_needs_is_not_read_and_begins_anew_when_it_is() -> None:
    """Of its motion nothing is read while only the button counts; needed again, what came meanwhile is passed over."""
    pads, ends = {}, {}
    for path in ("pad", "motion"):
        pads[path] = FakeDevice([])
        pads[path].fd, ends[path] = os.pipe()
        os.set_blocking(pads[path].fd, False)
    turns = dict.fromkeys(range(6), AxisRange(-1000, 1000, 0, 10))
    nodes = (
        Node("pad", "Fern pad", uniq="1", keys=(0x130, 0x131), axes={0: AxisRange(-128, 127), 1: AxisRange(-128, 127)}),
        Node("motion", "Fern pad Motion Sensors", uniq="1", axes=turns, properties=(6,)),
    )
    device = Device(nodes)
    found = map_device(device, KnownMappings())
    source = EvdevSource(device, found, info_of(device, found), lambda path: pads[path])
    pad, motion = source.filenos()
    assert source.need({"south"})
    assert source.filenos() == (pad,)
    assert not source.need({"south", "left_stick"})
    for _ in range(100):  # more than fit into one reading
        os.write(ends["motion"], sensed((3, 3, 900)))
    assert source.need({"motion", "south"})
    assert source.filenos() == (pad, motion)
    assert source.read(MS, {motion}) == [], "what came meanwhile is passed over"
    os.write(ends["motion"], sensed((3, 4, 20)))
    ((_, changes),) = source.read(2 * MS, {motion})
    assert [name for name, *_ in changes][:2] == ["motion", "motion_lean"]
    assert not source.need(None)


@pytest.mark.parametrize(
    ("controls", "used"),
    [
        ({"south": "A"}, {"south"}),
        ({"motion": GyroRole(active="while", by="touch_pad_touched")}, {"motion", "touch_pad_touched"}),
    ],
)
def test_a_program_knows_its_controls(controls: dict[str, Any], used: set[str]) -> None:
    assert used <= compile_profile(made({"base": controls})).controls_used() < used | {"south", "east"}
