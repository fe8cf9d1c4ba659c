"""The rack in a running runner: joined halves, parts of controllers, seats that are found again, and teaching."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from pathlib import Path

import pytest

import nubshift.runner.inventory
import nubshift.runner.open_controllers
import nubshift.runner.rack
from nubshift.devices.device_mapping import DeviceMapping
from nubshift.devices.discovery import Hardware
from nubshift.devices.nodes import Device
from nubshift.devices.simulated_hardware import HARDWARE
from nubshift.devices.simulation import Simulation
from nubshift.errors import StorageError
from nubshift.events import Change
from nubshift.model.controller_info import ControllerInfo
from nubshift.model.controller_setup import (
    ControllerSetup,
    file_name,
    forget_setup,
    parse_setup,
    read_setups,
    write_setup,
)
from nubshift.model.profile import Seat
from nubshift.model.roles import MouseRole
from nubshift.model.stored_controllers import Calibration, ControllersFile, Own, PartOf, write_controllers
from nubshift.protocol.messages import Fill, Frame, Lesson, Notice, Reread, Status, Steer, Teach, Teaching, Use, Used
from nubshift.runner.rack import Rack
from nubshift.runner.stored import StoredControllers
from standins.client import Talk
from standins.laboratory.kinds import KINDS
from standins.waiting import wait_until
from tests.support.profiles import four, made
from tests.support.runner_process import RunnerProcess

PROFILE = made(
    {"base": {"south": "A", "2:south": "B", "left_stick": four(), "right_stick": MouseRole(), "button_1": "C"}},
    seats=(Seat("1"), Seat("2")),
)


class Stage:
    """A runner with simulated controllers, and a window that talks with it."""

    def __init__(self, folder: Path) -> None:
        socket = folder / "r.sock"
        self.data = folder / "data"
        words = ["-", "--socket", str(socket), "--source", "sim:moss", "--sink", f"record:{folder / 'out'}"]
        self.runner = RunnerProcess(*words, XDG_DATA_HOME=str(self.data))
        self.talk = Talk(socket)
        self.talk.say(Use(PROFILE, 1, switch=True))
        self.talk.wait(Used, edit=1)

    @property
    def kept(self) -> Path:
        return self.data / "nubshift" / "controllers.json"

    def status(self, condition: Callable[[Status], bool]) -> Status:
        """The newest status once it is so."""
        return self.talk.wait_newest(Status, condition)

    def lesson(self, condition: Callable[[Lesson], bool]) -> Lesson:
        return self.talk.wait_newest(Lesson, condition)


@pytest.fixture
def stage(tmp_path: Path) -> Iterator[Stage]:
    found = Stage(tmp_path)
    yield found
    found.talk.close()
    found.runner.close()


def test_two_joined_in_one_seat_play_as_one_and_part_as_they_came(stage: Stage) -> None:
    left = PartOf("sim:moss", ("left_stick", "left_bumper"), motion=False)
    right = PartOf("sim:swift", None)
    stage.talk.say(Fill("1", (left, right)))
    status = stage.status(lambda s: len(s.fills["1"]) == 2)
    assert [part.controller for part in status.fills["1"]] == ["sim:moss", "sim:swift"]
    stage.talk.say(Steer("left_stick", 0.0, -1.0))
    stage.talk.wait_held("W")
    stage.talk.say(Fill("1", (right,)))
    stage.status(lambda s: len(s.fills["1"]) == 1)
    stage.talk.wait_held()


def test_one_controller_for_two_seats_each_with_its_half(stage: Stage) -> None:
    stage.talk.say(Fill("1", (PartOf("sim:moss", ("left_stick", "dpad_up")),)))
    stage.talk.say(Fill("2", (PartOf("sim:moss", ("right_stick", "left_bumper"), {"left_bumper": "south"}),)))
    stage.status(lambda s: set(s.fills) == {"1", "2"})
    stage.talk.say(Steer("south", 1.0))
    stage.talk.say(Steer("left_bumper", 1.0, seat="2"))
    frame = stage.talk.wait_held("B")
    assert frame.controls.get("south", (0.0, 0.0)) == (0.0, 0.0)
    stage.talk.say(Fill("2", ()))
    stage.talk.wait_held()


def test_a_controller_that_two_seats_ask_for_by_name_is_left_alone_by_one_that_takes_any(stage: Stage) -> None:
    stage.talk.say(Fill("1", (PartOf("auto"),)))
    status = stage.status(lambda s: s.fills["1"][0].controller == "sim:moss")  # nothing real is here
    assert status.others == ()


def test_what_is_kept_counts_at_once_and_after_a_restart(stage: Stage, tmp_path: Path) -> None:
    write_controllers(
        stage.kept,
        ControllersFile(devices={"sim:moss": Own(calibration={"left_stick": Calibration((0.0, 0.0), (0.5, 1, 1, 1))})}),
    )
    stage.talk.say(Reread())
    stage.talk.say(Steer("left_stick", 0.5))
    wait_until(lambda: stage.talk.hear() and frames(stage.talk, "left_stick", 0.95), "half is all of it")


def frames(talk: Talk, control: str, least: float) -> bool:
    return any(isinstance(m, Frame) and m.controls.get(control, (0.0, 0.0))[0] >= least for m in talk.heard)


@pytest.mark.parametrize(
    "text", [b'{"format": "nubshift-controllers", "version": 9}', b'{"format": "\xff"}', b"[" * 99_999]
)
def test_a_bad_file_of_controllers_is_told_and_put_aside_and_play_goes_on(stage: Stage, text: bytes) -> None:
    stage.kept.parent.mkdir(parents=True)
    stage.kept.write_bytes(text)
    stage.talk.say(Reread())
    notice = stage.talk.wait(Notice, severity="warning")
    assert "moved to controllers.json.aside-1" in notice.text
    assert not stage.kept.exists()
    stage.talk.say(Steer("south", 1.0))
    stage.talk.wait_held("A")


def test_teaching_mutes_the_controller_and_gives_its_setup(stage: Stage) -> None:
    stage.talk.say(Fill("1", (PartOf("sim:quarry"),)))
    stage.status(lambda s: s.controller == "sim:quarry")
    stage.talk.say(Steer("raw:south", 1.0))
    stage.talk.wait_held("C")  # untaught, its first button has the number one
    stage.talk.say(Teach("sim:quarry", "free"))
    stage.talk.wait_held()
    stage.talk.say(Steer("raw:south", 0.0))
    stage.lesson(lambda lesson: lesson.phase == "ask")
    for raw_input in ("start", "dpad_up"):
        before = stage.lesson(lambda lesson: lesson.phase == "ask").place
        stage.talk.say(Steer(f"raw:{raw_input}", 1.0))
        stage.lesson(lambda lesson: bool(lesson.left > 0.97))
        stage.talk.say(Steer(f"raw:{raw_input}", 0.0))
        stage.lesson(lambda lesson, before=before: lesson.place > before)  # type: ignore[misc]
    stage.talk.say(Teaching("review"))
    stage.lesson(lambda lesson: lesson.phase == "review")
    stage.talk.say(Teaching("keep"))
    setup = stage.lesson(lambda lesson: lesson.phase == "stored").setup
    assert setup is not None
    assert setup.model == HARDWARE["quarry"].model
    assert setup.controls == ("dpad_up", "button_1")
    write_setup(stage.data / "nubshift" / "controllers", setup)
    stage.talk.say(Reread())
    stage.status(lambda s: next(c for c in s.controllers if c.id == "sim:quarry").how == "taught")


def test_what_can_not_be_taught_says_so(stage: Stage) -> None:
    stage.talk.say(Teach("sim:moss", "pad"))
    assert "can't be set up" in stage.talk.wait(Notice, severity="warning").text
    stage.talk.say(Teach("evdev:/dev/input/event99", "pad"))
    stage.talk.say(Teaching("skip"))
    stage.talk.say(Steer("south", 1.0))
    stage.talk.wait_held("A")


def test_setups_of_models_lie_in_files_of_their_own(tmp_path: Path) -> None:
    setup = ControllerSetup("1209:0001 Fern Pad (old)", ())
    path = write_setup(tmp_path, setup)
    assert path.name == "1209-0001-fern-pad-old.nubshift-wiring.json" == file_name(setup.model)
    (tmp_path / "bad.nubshift-wiring.json").write_text("{}")
    found, troubles = read_setups(tmp_path)
    assert found == {setup.model: setup}
    assert len(troubles) == 1
    forget_setup(tmp_path, setup.model)
    assert read_setups(tmp_path)[0] == {}


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("{", "not a usable controller setup"),
        (
            '{"format": "nubshift-wiring", "version": 1, "model": "m", "wires": [{"control": "nose", "source": "key", "code": 1}]}',
            'no control "nose"',
        ),
        ('{"format": "nubshift-wiring", "version": 2, "model": "m", "wires": []}', "version"),
        ('{"format": "nubshift-wiring", "version": 1, "model": "m", "wires": [], "more": 1}', "more"),
    ],
)
def test_a_bad_setup_is_told(text: str, said: str) -> None:
    with pytest.raises(StorageError, match=said):
        parse_setup(text.encode(), "here")


def test_two_alike_named_by_their_nodes_keep_their_players_when_plugged_in_the_other_way_round(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    class Still(Simulation):
        """A pad that nobody touches."""

        next_deadline = None

        def __init__(self, device: Device, mapping: DeviceMapping, info: ControllerInfo, _opening: object) -> None:
            self.device, self.mapping, self.info = device, mapping, info

        def state(self) -> tuple[Change, ...]:
            return ()

    for module in (nubshift.runner.rack, nubshift.runner.open_controllers):
        monkeypatch.setattr(module, "EvdevSource", Still)
    pad = KINDS[0]
    wanted = {"1": ["evdev:/dev/input/event3"], "2": ["evdev:/dev/input/event4"]}
    rack = Rack(wanted, lambda *_: None, 0, StoredControllers(), Hardware(devices=list))

    def plugged(**plugs: int) -> list[str]:
        """Which plug is played with in each seat, once these nodes are at these plugs."""
        for id_ in list(rack.inventory.devices):
            rack._gone(id_, "", 0)
        rack.inventory.put(node for path, plug in plugs.items() for node in pad.as_nodes(int(path[5:]), plug))
        rack._grown(0)
        seats = [rack.controller_of(seat) for seat in ("1", "2")]
        return [info.key.partition("#")[2] for info in seats if info is not None]

    assert plugged(event3=7, event4=8) == ["usb-7", "usb-8"]
    assert plugged(event3=8, event4=7) == ["usb-7", "usb-8"]
    assert plugged(event3=8) == ["usb-8"]
    assert rack.controller_of("1") is None
    assert plugged(event3=9, event4=8) == ["usb-9", "usb-8"]  # another one, where the first was named
    rack.close()
