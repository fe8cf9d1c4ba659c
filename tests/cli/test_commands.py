"""The commands, run as a person or a script would."""

from __future__ import annotations

import json
import os
import subprocess
import sys
from pathlib import Path

import pytest

from nubshift.model.writing import profile_text
from nubshift.protocol.paths import demo_folder
from tests.support.profiles import four, made

DEMO = demo_folder() / "ferrow-deep.nubshift.json"


def nubshift(
    *words: str | Path, env: dict[str, str] | None = None, cwd: Path | None = None
) -> subprocess.CompletedProcess[str]:
    return subprocess.run(
        [sys.executable, "-m", "nubshift", *map(str, words)],
        capture_output=True,
        text=True,
        check=False,
        env=env,
        cwd=cwd,
    )


@pytest.fixture
def profile(tmp_path: Path) -> Path:
    path = tmp_path / "p.nubshift.json"
    path.write_bytes(
        profile_text(made({"base": {"south": ["LEFTSHIFT", "A"], "left_stick": four(), "east": ">aim"}, "aim": {}}))
    )
    return path


def test_replay_prints_one_json_object_a_line(profile: Path, tmp_path: Path) -> None:
    take = tmp_path / "a.take"
    take.write_text("nubshift-take 1\n1000 south=1\n2000 east=1\n5000 south=0\n6000 left_stick=0,-1\n")
    done = nubshift("replay", take, profile, "--json")
    assert done.returncode == 0
    assert [json.loads(line) for line in done.stdout.splitlines()] == [
        {"kind": "key", "t": 1000, "code": "LEFTSHIFT", "value": 1},
        {"kind": "key", "t": 1000, "code": "A", "value": 1},
        {"kind": "layer", "t": 2000, "code": "aim", "value": 1},
        {"kind": "key", "t": 5000, "code": "A", "value": 0},
        {"kind": "key", "t": 5000, "code": "LEFTSHIFT", "value": 0},
        {"kind": "key", "t": 6000, "code": "W", "value": 1},
        {"kind": "key", "t": 6000, "code": "W", "value": 0},
        {"kind": "layer", "t": 6000, "code": "aim", "value": 0},
    ]


def test_replay_of_the_demo_take_is_the_same_each_time() -> None:
    take = demo_folder() / "ferrow-deep.take"
    first, second = nubshift("replay", take, DEMO, "--json"), nubshift("replay", take, DEMO, "--json")
    assert first.stdout == second.stdout
    rows = [json.loads(line) for line in first.stdout.splitlines()]
    assert len(rows) > 500
    held = [r for r in rows if r["kind"] in ("key", "button", "layer")]
    downs = [(r["code"]) for r in held if r["value"] == 1]
    ups = [(r["code"]) for r in held if r["value"] == 0]
    assert sorted(downs) == sorted(ups)


def test_check_says_what_where_and_how_many(profile: Path, tmp_path: Path) -> None:
    bad = tmp_path / "bad.nubshift.json"
    bad.write_text(DEMO.read_text().replace('"SPACE"', '"SPCE"').replace('"control": "south"', '"control": "sooth"'))
    good = nubshift("check", profile, DEMO)
    assert good.returncode == 0
    assert [line.partition(": ")[2] for line in good.stdout.splitlines()] == [
        "warning: commands[27]: no control sends “Sing”"
    ]
    done = nubshift("check", profile, bad, tmp_path / "gone.nubshift.json")
    assert done.returncode == 1
    assert 'commands[5].keys[0]: there is no key "SPCE". Did you mean "SPACE"?' in done.stdout
    assert "gone.nubshift.json: error: can't be read" in done.stdout
    rows = [json.loads(line) for line in nubshift("check", "--json", bad).stdout.splitlines()]
    assert {row["place"] for row in rows} >= {"commands[5].keys[0]"}
    assert all(set(row) == {"file", "place", "text", "severity"} for row in rows)


def test_devices_and_doctor_speak_plainly_and_in_json() -> None:
    devices = nubshift("devices")
    assert devices.returncode == 0
    assert "Moss pad" in devices.stdout
    rows = [json.loads(line) for line in nubshift("devices", "--json").stdout.splitlines()]
    made_up = [row["id"] for row in rows if row["simulated"]]
    assert made_up[:3] == ["sim:moss", "sim:swift", "sim:burr"]
    assert {"sim:quarry", "sim:reed", "sim:tern", "sim:willow"} <= set(made_up)
    doctor = nubshift("doctor", "--json")
    findings = [json.loads(line) for line in doctor.stdout.splitlines()]
    assert [f["what"] for f in findings][:3] == ["sending", "controllers", "connecting controllers"]
    assert all(f["found"] for f in findings)
    assert all(f["means"] and f["do"] and f["run"] for f in findings if f["state"] == "look" and f["what"] != "sending")
    assert "Run: nubshift doctor" not in nubshift("doctor").stdout


@pytest.mark.parametrize(
    ("words", "said"),
    [
        (["run", "gone.nubshift.json"], "can't be read"),
        (["run", "-", "--source", "sim:mos"], "No controller"),
        (["run", "-", "--sink", "telepathy"], "is not an output"),
        (["replay", "gone.take", str(DEMO)], "can't be read"),
        (["replay", str(DEMO), str(DEMO)], "this is not a take"),
    ],
)
def test_mistakes_end_in_a_sentence(words: list[str], said: str) -> None:
    done = nubshift(
        *words, *(["--sink", "record:/dev/null", "--for", "0.1"] if words[:3] == ["run", "-", "--source"] else [])
    )
    assert said in done.stderr or "no simulated pad" in done.stderr
    assert "Traceback" not in done.stderr


def test_help_and_version() -> None:
    assert "replay" in nubshift("--help").stdout
    assert nubshift("--version").stdout.startswith("Nub Shift ")
    assert "--sink" in nubshift("run", "--help").stdout


def test_the_runner_needs_no_qt_and_no_numpy() -> None:
    code = "import sys, nubshift.cli.run, nubshift.runner.loop; print([m for m in ('PyQt6', 'numpy', 'scipy') if m in sys.modules])"
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True)
    assert done.stdout.strip() == "[]"


def without_screen(**more: str) -> dict[str, str]:
    return {name: value for name, value in os.environ.items() if name not in ("DISPLAY", "WAYLAND_DISPLAY")} | more


@pytest.mark.parametrize(
    ("words", "environment", "said"),
    [
        (["docter"], {}, 'there is no command, profile or file "docter". Did you mean "doctor"?'),
        (["gone.nubshift.json"], {}, "gone.nubshift.json: there is no such file. Nothing was created."),
        ([], {}, "there is no screen here"),
        ([], {"DISPLAY": ":4711"}, "the X server does not answer (DISPLAY is :4711)"),
        ([], {"WAYLAND_DISPLAY": "x", "DISPLAY": ":4711", "QT_QPA_PLATFORM": "xcb"}, "the X server does not answer"),
        ([], {"WAYLAND_DISPLAY": "nobody"}, "the Wayland compositor does not answer"),
        ([], {"QT_QPA_PLATFORM": "offscreen", "XDG_RUNTIME_DIR": "/proc/nowhere"}, "XDG_RUNTIME_DIR must name"),
    ],
)
def test_a_window_that_can_not_be_opened_says_why(
    words: list[str], environment: dict[str, str], said: str, tmp_path: Path
) -> None:
    done = nubshift(*words, env=without_screen(**environment), cwd=tmp_path)
    assert (done.returncode, said in done.stderr) == (1, True), done.stderr
    assert not list(tmp_path.glob("*.nubshift.json"))


def test_help_with_a_profile_is_the_windows_and_the_main_one_has_all(tmp_path: Path) -> None:
    of_window, of_all = nubshift("some-profile", "--help"), nubshift("--help")
    for done in (of_window, of_all):
        assert done.returncode == 0
        assert "--theme" in done.stdout


def test_a_program_that_is_missing_is_said_and_a_module_that_can_not_be_loaded_stops_nothing(
    monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    from nubshift.cli.install_access import LOAD, _run

    monkeypatch.setenv("PATH", "/nowhere")
    assert _run([LOAD], of_system=False) == 0
    assert "at the next start" in capsys.readouterr().err
    assert _run([["udevadm", "trigger"]], of_system=False) == 1
    assert "udevadm: No such file" in capsys.readouterr().err


def test_the_access_rule_is_shown_asked_about_and_installed(tmp_path: Path) -> None:
    shown = nubshift("install-access", "--show", "--root", str(tmp_path))
    assert shown.returncode == 0
    assert "uaccess" in shown.stdout
    assert "This will be run" in shown.stdout
    refused = nubshift("install-access", "--root", str(tmp_path))  # nobody answers
    assert refused.returncode == 1
    assert "Nothing was changed." in refused.stdout
    assert list(tmp_path.rglob("*.rules")) == []
    done = nubshift("install-access", "--yes", "--root", str(tmp_path))
    assert done.returncode == 0
    assert "uinput" in (tmp_path / "etc/udev/rules.d/60-nubshift.rules").read_text()
    assert (tmp_path / "etc/modules-load.d/60-nubshift.conf").exists()
    assert (tmp_path / "etc/systemd/system/nubshift-lights.path").exists()
    assert nubshift("install-access", "--yes", "--remove", "--root", str(tmp_path)).returncode == 0
    assert [path for path in tmp_path.rglob("*") if path.is_file()] == []
