"""Commands with bad words, bad files and no way to print: a sentence and an exit code, never a traceback."""

from __future__ import annotations

import json
import os
import socket
import stat
import subprocess
import sys
from pathlib import Path

import pytest

from nubshift.cli.plain import printable
from nubshift.model.writing import profile_text
from nubshift.protocol.messages import Status
from nubshift.protocol.paths import demo_folder
from standins.client import Talk
from standins.waiting import wait_until
from tests.support.profiles import made
from tests.support.runner_process import RunnerProcess

DEMO = demo_folder() / "ferrow-deep.nubshift.json"


def nubshift(*words: str | Path | bytes, env: dict[str, str] | None = None) -> subprocess.CompletedProcess[str]:
    command = [sys.executable, "-m", "nubshift", *words]
    return subprocess.run(command, capture_output=True, text=True, check=False, env=env)


def refused(done: subprocess.CompletedProcess[str], *said: str) -> None:
    assert "Traceback" not in done.stderr
    assert done.returncode in (1, 2)
    for words in said:
        assert words in done.stderr


@pytest.mark.parametrize(
    ("source", "said"),
    [
        ("bogus:1", "is not a source"),
        ("sim:nope", "nope"),
        ("take:/nope", "can't be read"),
        ("take:", "is not a source"),
        ("sim:moss:nobody", "can't be read"),
        ("evdev:", "is not a source"),
        ("sim:\x1b[31m", r"\x1b[31m"),
    ],
)
def test_a_source_that_can_never_be_had_ends_the_run_with_a_sentence(source: str, said: str) -> None:
    refused(nubshift("run", "-", "--source", source, "--sink", "record:/dev/null", "--for", "0"), said)


def test_a_node_that_never_came_is_told_at_the_end() -> None:
    done = nubshift("run", "-", "--source", "evdev:/dev/input/event999", "--sink", "record:/dev/null", "--for", "0.1")
    refused(done, "evdev:/dev/input/event999: was not there at any time")


@pytest.mark.parametrize("text", ["nan", "inf", "-1", "soon", "1e999"])
def test_a_time_that_is_none_is_refused(text: str) -> None:
    refused(nubshift("run", "-", "--for", text, "--sink", "record:/dev/null"), "expected a time in seconds")


def test_a_runner_without_anybody_to_tell_plays_on(tmp_path: Path) -> None:
    profile, take, out = tmp_path / "p.nubshift.json", tmp_path / "a.take", tmp_path / "out"
    profile.write_bytes(profile_text(made({"base": {"south": "A"}})))
    take.write_text("nubshift-take 1\n0 south=1\n200000 south=0\n")
    words = [
        sys.executable,
        "-m",
        "nubshift",
        "run",
        str(profile),
        "--source",
        f"take:{take}",
        "--sink",
        f"record:{out}",
    ]
    with open("/dev/full", "w") as full:
        done = subprocess.run([*words, "--for", "0.6"], stderr=full, check=False)
    assert done.returncode == 0
    assert [json.loads(line)["value"] for line in out.read_text().splitlines()] == [1, 0]
    read, write = os.pipe()
    os.close(read)
    runner = subprocess.Popen([*words, "--for", "0.6"], stderr=write)
    os.close(write)
    assert runner.wait(60) == 0


@pytest.mark.parametrize(
    "words", [("replay", str(demo_folder() / "ferrow-deep.take"), str(DEMO), "--json"), ("doctor",)]
)
def test_an_output_that_takes_nothing_is_told(words: tuple[str, ...]) -> None:
    with open("/dev/full", "w") as full:
        done = subprocess.run(
            [sys.executable, "-m", "nubshift", *words], stdout=full, stderr=subprocess.PIPE, text=True, check=False
        )
    refused(done, "the output can't be written: No space left on device")


def test_check_of_a_file_whose_name_is_no_text(tmp_path: Path) -> None:
    path = os.fsencode(tmp_path) + b"/p\xff.nubshift.json"
    with open(path, "wb") as file:
        file.write(profile_text(made({"base": {"south": "A"}})).replace(b'"A"', b'"NOKEY"'))
    done = nubshift("check", path, "--json")
    assert done.returncode == 1
    assert "Traceback" not in done.stderr
    assert json.loads(done.stdout.splitlines()[0])["file"].endswith("p\\udcff.nubshift.json")
    done = nubshift("check", path, env=os.environ | {"PYTHONIOENCODING": "ascii"})
    assert "Traceback" not in done.stderr
    assert "NOKEY" in done.stdout


def test_what_a_file_says_is_never_printed_raw(tmp_path: Path) -> None:
    path = tmp_path / "p.nubshift.json"
    path.write_text('{"format": "nubshift-profile", "version": 8, "game": {"title": "x"}, "\\u001b[31mred\\u202e": 1}')
    done = nubshift("check", path)
    assert done.returncode == 1
    assert r"\x1b[31mred\u202e" in done.stdout
    assert "\x1b" not in done.stdout
    assert printable("a\tb\nc — “d” 中\x07\x9b") == "a\tb\nc — “d” 中\\x07\\x9b"


def test_a_device_is_never_replaced_by_a_file(tmp_path: Path) -> None:
    take = demo_folder() / "ferrow-deep.take"
    refused(nubshift("take", take, "-o", "/dev/full"), "this is a device")
    assert stat.S_ISCHR(os.stat("/dev/full").st_mode)
    pipe = tmp_path / "pipe"
    os.mkfifo(pipe)
    refused(nubshift("take", take, "-o", pipe), "a pipe")
    assert stat.S_ISFIFO(pipe.stat().st_mode)


def test_a_file_in_the_place_of_the_socket_is_left_alone(tmp_path: Path) -> None:
    path = tmp_path / "notes"
    path.write_text("dear diary")
    refused(nubshift("run", "-", "--socket", path, "--sink", "record:/dev/null"), "is not a socket")
    assert path.read_text() == "dear diary"
    dead = tmp_path / "dead"
    with socket.socket(socket.AF_UNIX) as left:
        left.bind(str(dead))
    runner = RunnerProcess("-", "--socket", str(dead), "--source", "sim:moss", "--sink", "record:/dev/null")
    talk = Talk(dead)  # it listens in place of the dead one
    talk.wait(Status)
    talk.close()
    dead.unlink()
    dead.write_text("mine")  # somebody else's by now
    assert runner.close() == 0
    assert dead.read_text() == "mine"


def test_new_folders_and_recordings_are_private_whatever_the_umask(tmp_path: Path) -> None:
    before = os.umask(0)
    try:
        out, socket_file = tmp_path / "out", tmp_path / "a" / "b" / "socket"
        runner = RunnerProcess("-", "--socket", str(socket_file), "--source", "sim:moss", "--sink", f"record:{out}")
        wait_until(socket_file.exists, "it listens")
        runner.close()
        nubshift("take", demo_folder() / "ferrow-deep.take", "-o", tmp_path / "c" / "d" / "x.take")
    finally:
        os.umask(before)
    assert stat.S_IMODE(out.stat().st_mode) == 0o600
    for folder in ("a", "a/b", "c", "c/d"):
        assert stat.S_IMODE((tmp_path / folder).stat().st_mode) == 0o700
    assert stat.S_IMODE((tmp_path / "c" / "d" / "x.take").stat().st_mode) == 0o600


@pytest.mark.parametrize(
    "text",
    [
        "GUID,Name,:b0",
        "03000000de280000ff11000011010000,Name,:b0",
        "03000000de280000ff11000011010000,Name,a:b" + "9" * 5000,
    ],
)
def test_a_mapping_line_that_makes_no_sense_is_told(text: str, tmp_path: Path) -> None:
    folder = tmp_path / "nubshift" / "controllers"
    folder.mkdir(parents=True)
    (folder / "lines.txt").write_text(text)
    done = nubshift("devices", env=os.environ | {"XDG_DATA_HOME": str(tmp_path)})
    assert done.returncode == 0
    assert "Traceback" not in done.stderr


def test_devices_tells_of_files_that_can_not_be_used(tmp_path: Path) -> None:
    folder = tmp_path / "nubshift"
    folder.mkdir()
    (folder / "controllers.json").write_bytes(b'{"format": "\xff"}')
    done = nubshift("devices", env=os.environ | {"XDG_DATA_HOME": str(tmp_path)})
    assert done.returncode == 0
    assert "moved to controllers.json.aside-1" in done.stderr
