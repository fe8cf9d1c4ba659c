"""Profiles are read strictly: every problem with its place and what was expected, and no file is lost."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nubshift.errors import ProfileError, StorageError
from nubshift.model.profile import Profile
from nubshift.model.reading import parse_profile
from nubshift.model.store import ProfileFile, read_profile
from nubshift.model.writing import profile_schema, profile_text
from nubshift.protocol.paths import demo_folder

GOOD: dict[str, Any] = {
    "format": "nubshift-profile",
    "version": 8,
    "game": {"title": "Test"},
    "commands": [{"id": "jump", "name": "Jump", "keys": ["SPACE"]}],
    "layers": [
        {
            "id": "base",
            "name": "Base",
            "bindings": [{"control": "south", "press": [{"send": "command", "command": "jump"}]}],
            "feel": [{"control": "left_stick", "inner": 0.1}],
        }
    ],
}


def changed(**parts: Any) -> bytes:
    return json.dumps({**GOOD, **parts}).encode()


def layer(**parts: Any) -> list[dict[str, Any]]:
    return [{"id": "base", "name": "Base", **parts}]


MALFORMED: dict[str, tuple[bytes, list[str]]] = {
    "cut off": (json.dumps(GOOD).encode()[:80], ["line 1", "not JSON"]),
    "another format": (b'{"format": "music", "version": 1}', ["format", '"nubshift-profile"', '"music"']),
    "newer": (changed(version=9), ["version", "newer Nub Shift", "left as it is"]),
    "no game": (json.dumps({k: v for k, v in GOOD.items() if k != "game"}).encode(), ["game", "missing"]),
    "misspelt field": (
        changed(layers=layer(bindings=[{"control": "south", "pres": []}])),
        ["layers[0].bindings[0]", '"pres"', '"press"'],
    ),
    "no such key": (
        changed(commands=[{"id": "jump", "name": "Jump", "keys": ["SPCE"]}]),
        ["commands[0].keys[0]", '"SPCE"', '"SPACE"'],
    ),
    "no such control": (
        changed(layers=layer(bindings=[{"control": "souht"}])),
        ["layers[0].bindings[0].control", '"souht"', '"south"'],
    ),
    "no such command": (
        changed(layers=layer(bindings=[{"control": "south", "press": [{"send": "command", "command": "jmp"}]}])),
        ["layers[0].bindings[0].press[0].command", '"jmp"', '"jump"'],
    ),
    "out of range": (
        changed(layers=layer(feel=[{"control": "left_stick", "inner": 2}])),
        ["layers[0].feel[0].inner", "0.9"],
    ),
    "wrong kind": (
        changed(layers=layer(bindings=[{"control": "left_stick", "press": [{"send": "key", "key": "A"}]}])),
        ["layers[0].bindings[0].press", "Left stick", "role"],
    ),
    "a falling curve": (
        changed(layers=layer(feel=[{"control": "left_stick", "curve": [[0, 0], [0.5, 0.9], [1, 0.5]]}])),
        ["layers[0].feel[0].curve[2]", "fall"],
    ),
    "empty": (b"  \n", ["empty"]),
    "a list": (b"[1, 2]", ["expected a profile", "a list"]),
    "a double": (
        changed(commands=[{"id": "jump", "name": "a"}, {"id": "jump", "name": "b"}]),
        ["commands[1]", "second time"],
    ),
    "text for a number": (
        changed(layers=layer(feel=[{"control": "left_stick", "speed": "fast"}])),
        ["layers[0].feel[0].speed", "a number"],
    ),
    "deep nesting": (b"[" * 100_000, ["nested too deeply"]),
    "not text": (b"\xff\xfe{}", ["line 1, column 1", "not text in UTF-8"]),
}


@pytest.mark.parametrize("name", MALFORMED)
def test_a_malformed_profile_is_refused_with_its_place_and_left_alone(name: str, tmp_path: Path) -> None:
    data, said = MALFORMED[name]
    path = tmp_path / "p.nubshift.json"
    path.write_bytes(data)
    with pytest.raises(ProfileError, match=r"p\.nubshift\.json") as caught:
        read_profile(path)
    message = str(caught.value)
    for words in said:
        assert words in message
    assert "Traceback" not in message
    assert "`" not in message
    assert path.read_bytes() == data


def test_the_messages_all_differ() -> None:
    messages = set()
    for data, _ in MALFORMED.values():
        with pytest.raises(ProfileError, match="file") as caught:
            parse_profile(data, "file")
        messages.add(str(caught.value))
    assert len(messages) == len(MALFORMED)


def test_all_problems_are_told_at_once() -> None:
    bad = [{"control": "south", "pres": []}, {"control": "east", "note": 3}, {"control": "left_trigger", "press": 7}]
    with pytest.raises(ProfileError, match="3") as caught:
        parse_profile(changed(layers=layer(bindings=bad), commands=[{"id": "Jump!", "name": "x"}], surprise=1), "file")
    places = [problem.place for problem in caught.value.problems]
    assert places == [
        "surprise",
        "commands[0].id",
        "layers[0].bindings[0]",
        "layers[0].bindings[1].note",
        "layers[0].bindings[2].press",
    ]


def test_a_file_that_is_not_there() -> None:
    with pytest.raises(StorageError, match="can't be read"):
        read_profile(Path("nowhere.nubshift.json"))


def test_round_trip_of_the_demo(demo: Profile) -> None:
    text = profile_text(demo)
    assert parse_profile(text, "demo") == demo
    assert profile_text(parse_profile(text, "demo")) == text
    assert (demo_folder() / "ferrow-deep.nubshift.json").read_bytes() == text
    assert max(len(line) for line in text.decode().splitlines()) <= 130


def test_schema_names_every_field() -> None:
    schema = json.dumps(profile_schema())
    assert all(f'"{name}"' in schema for name in ("press_at", "commands", "diagonal", "counts_per_turn"))


json_values = st.recursive(
    st.none() | st.booleans() | st.integers(-5, 5) | st.floats(allow_nan=False) | st.text(max_size=5),
    lambda inner: st.lists(inner, max_size=3) | st.dictionaries(st.text(max_size=4), inner, max_size=3),
    max_leaves=6,
)


@settings(max_examples=200)
@given(st.sampled_from(["game", "commands", "layers", "seats", "version"]), json_values)
def test_hostile_values_are_told_never_raised(field: str, value: Any) -> None:
    try:
        parse_profile(changed(**{field: value}), "file")
    except ProfileError as error:
        assert all(problem.text for problem in error.problems)  # noqa: PT017 - most values are errors, some are not


def test_saving_is_atomic_and_puts_a_strangers_version_aside(tmp_path: Path, demo: Profile) -> None:
    path = tmp_path / "ferrow.nubshift.json"
    file = ProfileFile(path)
    assert file.write(demo) is None
    assert read_profile(path) == demo
    path.write_text("somebody else's words")
    aside = file.write(demo.__class__(demo.format, demo.version, demo.game))
    assert aside is not None
    assert aside.read_text() == "somebody else's words"
    assert read_profile(path).commands == ()
    assert sorted(p.name for p in tmp_path.glob("*.json")) == ["ferrow-found.nubshift.json", "ferrow.nubshift.json"]


def test_a_failed_save_leaves_the_old_file_and_no_litter(
    tmp_path: Path, demo: Profile, monkeypatch: pytest.MonkeyPatch
) -> None:
    path = tmp_path / "ferrow.nubshift.json"
    file = ProfileFile(path)
    file.write(demo)
    before = path.read_bytes()

    def full(*_: object) -> None:
        raise OSError(28, "No space left on device")

    monkeypatch.setattr("os.fsync", full)
    with pytest.raises(StorageError, match=r"could not be saved: No space left"):
        file.write(demo.__class__(demo.format, demo.version, demo.game))
    assert path.read_bytes() == before
    assert [p.name for p in tmp_path.iterdir() if p.is_file()] == [path.name]


def test_a_link_stays_a_link(tmp_path: Path, demo: Profile) -> None:
    real = tmp_path / "real.nubshift.json"
    ProfileFile(real).write(demo)
    link = tmp_path / "link.nubshift.json"
    link.symlink_to(real)
    file = ProfileFile(link)
    file.read()
    file.write(demo.__class__(demo.format, demo.version, demo.game))
    assert link.is_symlink()
    assert read_profile(real).commands == ()
