"""Files from anywhere: bounded, strict, and companions put aside that can't be used."""

from __future__ import annotations

import json
import os
import threading
from collections.abc import Callable
from pathlib import Path

import pytest

from nubshift.devices.take import read_take
from nubshift.errors import NubShiftError, ProfileError, StorageError
from nubshift.model.controller_setup import ControllerSetup, read_setups, setup_text
from nubshift.model.files import JsonTrouble, parse_json, read_bytes, read_text
from nubshift.model.portions import copied
from nubshift.model.profile import Command
from nubshift.model.reach import read_reach
from nubshift.model.reading import parse_profile
from nubshift.model.results import read_results
from nubshift.model.rules import MOST
from nubshift.model.store import ProfileFile, read_profile
from nubshift.model.stored_controllers import ControllersFile, Own, read_controllers, write_controllers
from tests.support.profiles import made


def test_pipes_devices_and_folders_are_refused_before_they_are_read(tmp_path: Path) -> None:
    pipe = tmp_path / "pipe"
    os.mkfifo(pipe)
    for path, what in ((pipe, "a pipe"), (Path("/dev/zero"), "a device"), (tmp_path, "a folder")):
        with pytest.raises(StorageError, match=what):
            read_bytes(path)
        with pytest.raises(NubShiftError, match=what):
            read_profile(path)


def test_a_large_file_is_refused_with_both_sizes(tmp_path: Path) -> None:
    path = tmp_path / "large"
    with path.open("wb") as file:
        file.truncate(3_000_000_000)
    with pytest.raises(StorageError, match="3,000,000,000 bytes, and such a file has at most 8,000,000"):
        read_bytes(path)


def test_a_byte_that_is_no_text_is_told_with_its_line(tmp_path: Path) -> None:
    path = tmp_path / "x.txt"
    path.write_bytes(b"one\ntwo \xff")
    with pytest.raises(StorageError, match=r"line 2: this is not text in UTF-8 \(byte 0xff\)"):
        read_text(path)


@pytest.mark.parametrize(
    ("text", "said"),
    [
        (b'{"a": 1, "a": 2}', '"a" appears twice'),
        (b"[" * 100_000, "too deep"),
        (b"1" * 5000, "5,000 digits"),
        (b"[NaN]", "NaN is not a number"),
        (b'{"a": ', "ends too early"),
        (b'"\xc3\x28"', "not text"),
    ],
)
def test_json_is_strict(text: bytes, said: str) -> None:
    with pytest.raises(JsonTrouble, match=said):
        parse_json(text)


READERS: dict[str, Callable[[Path], object]] = {
    "controllers.json": read_controllers,
    "reach.json": read_reach,
    "results.json": read_results,
}
UNUSABLE = {
    "not text": b'{"format": "\xff"}',
    "cut off": b'{"format"',
    "another version": b'{"version": 99}',
    "another form": b"[]",
    "endless": b"[" * 200_000,
}


@pytest.mark.parametrize("name", READERS)
@pytest.mark.parametrize("what", UNUSABLE)
def test_a_companion_that_can_not_be_used_is_put_aside_and_told_once(name: str, what: str, tmp_path: Path) -> None:
    path = tmp_path / name
    path.write_bytes(UNUSABLE[what])
    with pytest.raises(StorageError, match=f"It was moved to {name}.aside-1"):
        READERS[name](path)
    assert (tmp_path / f"{name}.aside-1").read_bytes() == UNUSABLE[what]
    READERS[name](path)
    path.write_bytes(UNUSABLE[what])
    with pytest.raises(StorageError, match="aside-2"):
        READERS[name](path)


def test_a_newer_companion_says_so(tmp_path: Path) -> None:
    path = tmp_path / "reach.json"
    path.write_bytes(b'{"format": "nubshift-reach", "version": 99}')
    with pytest.raises(StorageError, match="written by a newer Nub Shift"):
        read_reach(path)


def test_setups_that_can_not_be_used_are_put_aside_one_by_one(tmp_path: Path) -> None:
    (tmp_path / "a.nubshift-wiring.json").write_bytes(b"\xff")
    found, troubles = read_setups(tmp_path)
    assert found == {}
    assert len(troubles) == 1
    assert "aside-1" in troubles[0]
    assert read_setups(tmp_path) == ({}, [])


def test_hints_are_worked_out_for_the_problems_that_are_told_only() -> None:
    commands = ", ".join(f'{{"id": "c{n}", "name": "c", "keys": ["A"]}}' for n in range(4000))
    sends = ", ".join(f'{{"send": "command", "command": "d{n}"}}' for n in range(16))
    bindings = ", ".join(f'{{"control": "{c}", "tap": [{sends}]}}' for c in ("south", "east", "west", "north", "start"))
    text = f'{{"format": "nubshift-profile", "version": 8, "game": {{"title": ""}}, "commands": [{commands}], "layers": [{{"id": "base", "name": "", "bindings": [{bindings}]}}]}}'
    asked = []

    def spy(word: str, known: list[str]) -> str:
        asked.append(word)
        return ""

    with pytest.MonkeyPatch.context() as patch:
        patch.setattr("nubshift.model.rules.did_you_mean", spy)
        with pytest.raises(ProfileError) as error:
            parse_profile(text.encode(), "x")
    assert len(error.value.problems) == 50
    assert len(asked) <= 51


@pytest.mark.parametrize("part", ["commands", "layers"])
def test_far_more_than_a_person_makes_is_refused_with_a_sentence(part: str) -> None:
    entries = [{"id": "base", "name": "b"}, *({"id": f"n{n}", "name": "n"} for n in range(MOST[part]))]
    text = json.dumps({"format": "nubshift-profile", "version": 8, "game": {"title": ""}, part: entries}).encode()
    with pytest.raises(ProfileError, match=f"{MOST[part] + 1:,} of them; a profile has at most {MOST[part]:,}"):
        parse_profile(text, "x")


def test_takes_are_bounded_in_length_and_gaps(tmp_path: Path) -> None:
    path = tmp_path / "x.take"
    for lines, said in (
        ("0 south=1\n3600000000 south=0", "3,600 s pass before this report; at most 600 may"),
        ("9" * 17 + " south=1", "at most 4 hours long"),
        ("9" * 5000 + " south=1", "whole microseconds"),
        ("0 right_stick=1e308,0", "expected a number or two"),
        ("0 south=" + "9" * 5000, "expected a number or two"),
    ):
        path.write_text(f"nubshift-take 1\n{lines}\n")
        with pytest.raises(NubShiftError, match=said):
            read_take(path)
    for event, said in (
        ("E: 0.000001 0001 0130 " + "9" * 400, "not understood"),
        ("E: 99999999999999999999999999.0 1 1 1", "not understood"),
    ):
        path.write_text(f"# EVEMU 1.3\nN: Pad\n{event}\n")
        with pytest.raises(NubShiftError, match=said):
            read_take(path)


def test_a_pipe_that_never_ends_does_not_hold_up_a_reader(tmp_path: Path) -> None:
    pipe = tmp_path / "pipe"
    os.mkfifo(pipe)
    done = threading.Event()

    def read() -> None:
        with pytest.raises(StorageError):
            read_controllers(pipe)
        done.set()

    threading.Thread(target=read, daemon=True).start()
    assert done.wait(30)


def test_what_an_older_version_kept_of_controllers_is_read_and_written_anew(tmp_path: Path) -> None:
    path = tmp_path / "controllers.json"
    path.write_text('{"format": "nubshift-controllers", "version": 1, "devices": {"k": {"name": "Mine"}}}')
    kept = read_controllers(path)
    assert kept.of("k").name == "Mine"
    write_controllers(path, kept.with_own("k", Own("Mine", sideways=True)))
    assert json.loads(path.read_text())["version"] == 2
    assert read_controllers(path).of("k").sideways


def test_whatever_is_written_says_its_format_and_version(tmp_path: Path) -> None:
    write_controllers(tmp_path / "controllers.json", ControllersFile())
    written = [
        (tmp_path / "controllers.json").read_bytes(),
        setup_text(ControllerSetup("m", ())),
        copied(made({"base": {"south": "A"}}), "base", ["south"]).encode(),
    ]
    for text in map(json.loads, written):
        assert text["format"].startswith("nubshift-")
        assert text["version"] >= 1


def test_a_profile_is_never_saved_larger_than_it_could_be_read(tmp_path: Path) -> None:
    path = tmp_path / "large.nubshift.json"
    notes = tuple(Command(f"c{number}", "Command", note="x" * 5000) for number in range(500))
    with pytest.raises(StorageError, match=r"it would have 2,5\d\d,\d\d\d bytes, and a profile has at most 2,000,000"):
        ProfileFile(path).write(made({"base": {}}, commands=notes))
    assert not path.exists()
    ProfileFile(path).write(made({"base": {}}, commands=notes[:300]))
    assert len(read_profile(path).commands) == 300
