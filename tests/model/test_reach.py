"""Who reaches what, and what one finger can't do at once (N70)."""

from __future__ import annotations

import sys
from pathlib import Path

import msgspec
import pytest

from nubshift.errors import StorageError
from nubshift.model import edits
from nubshift.model.controls import CONTROLS, Finger, Kind
from nubshift.model.profile import BASE, Binding, Command, Layer, Profile
from nubshift.model.reach import ReachFile, clashes, finger_of, read_reach, write_reach
from nubshift.model.roles import MouseRole
from nubshift.model.sends import HoldLayer, SendCommand
from nubshift.model.slots import Slot
from tests.support.profiles import four, made

COMMANDS = [
    Command("aim", "Aim", ("BTN_RIGHT",), "Fight"),
    Command("shoot", "Shoot", ("BTN_LEFT",), "Fight"),
    Command("jump", "Jump", ("SPACE",), "Move"),
    Command("duck", "Duck", ("C",), "Move"),
]


def said(profile: object, moved: dict[str, Finger] | None = None) -> dict[tuple[str, str], str]:
    return {(c.control, c.other): f"{c.reason} {c.suggestion}" for c in clashes(profile, moved or {})}  # type: ignore[arg-type]


def test_what_a_layer_has_on_the_finger_that_holds_it() -> None:
    profile = made({"base": {"left_trigger": (HoldLayer("aim"),)}, "aim": {"left_bumper": "A", "right_bumper": "B"}})
    found = said(profile)
    assert list(found) == [("left_bumper", "left_trigger")]
    assert "The left index holds aim with left trigger" in found["left_bumper", "left_trigger"]
    assert "is free" in found["left_bumper", "left_trigger"]
    assert said(profile, {"left_bumper": Finger.MOUTH}) == {}  # given to another finger it is none


def test_commands_of_a_group_on_the_thumb_that_looks_while_its_layer_is_held() -> None:
    base = {
        "left_trigger": (SendCommand("aim"), HoldLayer("aim")),
        "right_stick": MouseRole(),
        "south": "/shoot",
        "east": "/jump",
    }
    profile = made({"base": base, "aim": {}}, commands=COMMANDS)
    found = said(profile)
    assert list(found) == [("south", "right_stick")]
    assert "Shoot is needed in aim, while the right thumb looks around" in found["south", "right_stick"]


def test_pairs_that_the_player_marked_unless_two_fingers_can_do_them() -> None:
    profile = made({"base": {"south": "/jump", "east": "/duck"}}, commands=COMMANDS)
    assert said(profile) == {}
    marked = edits.with_needed(profile, "jump", "duck")
    assert "Duck and Jump are needed together, and the right thumb has both." in next(iter(said(marked).values()))
    other_way = edits.with_sends(marked, Slot("base", "left_grip"), (SendCommand("jump"),))
    assert said(other_way) == {}
    stick = made({"base": {"left_stick": four(), "south": "/jump"}}, commands=COMMANDS)
    assert said(stick) == {}


def test_the_file_is_kept_per_player_and_model(tmp_path: Path) -> None:
    path = tmp_path / "reach.json"
    assert read_reach(path) == ReachFile()
    file = (
        ReachFile()
        .with_moved("1", "Moss pad", "north", Finger.MOUTH)
        .with_moved("2", "Moss pad", "north", Finger.BREATH)
    )
    write_reach(path, file)
    again = read_reach(path)
    assert again == file
    assert finger_of("north", again.of("1", "Moss pad")) is Finger.MOUTH
    assert finger_of("north", again.of("1", "another pad")) is Finger.RIGHT_THUMB
    assert again.with_moved("1", "Moss pad", "north", None).of("1", "Moss pad") == {}
    path.write_text('{"format": "nubshift-reach", "players": {"1": {"m": {"north": "tail"}}}}')
    with pytest.raises(StorageError, match="It was moved to reach\\.json\\.aside-1"):
        read_reach(path)


def test_nothing_clashes_with_itself() -> None:
    profile = made({"base": {"left_stick": four("W", "D", "S", "A")}}, commands=COMMANDS)
    assert clashes(edits.with_needed(profile, "jump", "duck"), {}) == ()


def full(layers: int) -> Profile:
    """Every button of every layer sends a command and, held, holds another layer."""
    buttons = [name for name, info in CONTROLS.items() if info.kind is Kind.BUTTON]
    made_up = [
        Layer(
            BASE if n == 0 else f"l{n}",
            f"Layer {n}",
            bindings=tuple(
                Binding(name, tap=(SendCommand("jump"),), hold=(HoldLayer(f"l{(n + at) % (layers - 1) + 1}"),))
                for at, name in enumerate(buttons)
            ),
        )
        for n in range(layers)
    ]
    return msgspec.structs.replace(made({}, commands=(Command("jump", "Jump", ("A",)),)), layers=tuple(made_up))


def steps(profile: Profile) -> int:
    """How many calls looking for clashes takes."""
    count = 0

    def one(*_: object) -> None:
        nonlocal count
        count += 1

    sys.setprofile(one)
    try:
        clashes(profile, {})
    finally:
        sys.setprofile(None)
    return count


def test_twice_the_layers_take_about_twice_the_work() -> None:
    assert steps(full(24)) < 3 * steps(full(12))
