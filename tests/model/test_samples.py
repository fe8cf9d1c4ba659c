"""Files of every version that was ever released still open, and mean the same. tests/samples has one of each, with every
field said, made by the program of that version (profiles are its demos)."""

from __future__ import annotations

import json
import re
from collections.abc import Callable
from pathlib import Path
from typing import Any

import msgspec
import pytest

from nubshift.devices.player import read_script
from nubshift.devices.take import read_take
from nubshift.engine.compile import compile_profile
from nubshift.errors import NubShiftError, ProfileError, StorageError
from nubshift.model import automatic, exchange, following, play_times, player_settings, results, stored_controllers
from nubshift.model.controller_setup import parse_setup
from nubshift.model.profile import VERSION
from nubshift.model.reading import parse_profile
from nubshift.model.store import read_profile
from nubshift.model.writing import profile_text

SAMPLES = Path(__file__).parents[1] / "samples"
PROFILES = sorted(SAMPLES.glob("profile-*.nubshift.json"))
READERS: dict[str, Callable[[Path], Any]] = {
    "settings": player_settings.read_settings,
    "automatic": automatic.read_automatic,
    "played": play_times.read_play_times,
    "sharing": following.read_sharing,
    "synced": exchange.read_synced,
    "controllers": stored_controllers.read_controllers,
    "results": results.read_results,
    "wiring": lambda path: parse_setup(path.read_bytes(), path.name),
}
COMPANIONS = sorted(path for path in SAMPLES.glob("*.json") if path.name.split("-")[0] in READERS)


def reader(path: Path) -> Callable[[Path], Any]:
    return READERS[path.name.split("-")[0]]


def copied(path: Path, folder: Path, **changes: Any) -> Path:
    """A copy, for one that can't be read is put aside."""
    there = folder / "files" / path.name
    there.parent.mkdir()
    there.write_text(json.dumps(json.loads(path.read_text()) | changes))
    return there


def test_there_is_one_of_every_version_of_every_kind() -> None:
    found: dict[str, set[int]] = {}
    for path in SAMPLES.iterdir():
        kind, number = re.match(r"(\w+)-(\d+)", path.name).groups()  # type: ignore[union-attr]
        found.setdefault(kind, set()).add(int(number))
    newest = {
        "profile": VERSION,
        "settings": player_settings.VERSION,
        "automatic": automatic.VERSION,
        "controllers": stored_controllers.VERSION,
        "played": play_times.VERSION,
        **{"results": 2, "sharing": 1, "synced": 1, "wiring": 1, "take": 1, "player": 1},
    }
    assert found == {kind: set(range(1, number + 1)) for kind, number in newest.items()}


@pytest.mark.parametrize("path", PROFILES, ids=lambda path: path.name)
def test_a_profile_of_each_version_opens_and_is_written_anew(path: Path) -> None:
    profile = parse_profile(path.read_bytes(), path.name)
    said = json.loads(path.read_text())
    assert profile.game.title == said["game"]["title"]
    assert [len(layer.bindings) for layer in profile.layers] == [len(layer["bindings"]) for layer in said["layers"]]
    assert len(profile.commands) == len(said["commands"]) > 10
    again = profile_text(profile)
    assert json.loads(again)["version"] == VERSION
    assert parse_profile(again, path.name) == profile
    assert compile_profile(profile).refused == ()


def test_smoothing_of_version_7_is_that_of_version_8() -> None:
    """Its two parts had other names."""
    said = (SAMPLES / "profile-7-quillgate.nubshift.json").read_text()
    old = re.findall(r'"(?:steady|quick)": *([\d.]+)', said)
    new = re.findall(r'"(?:min_cutoff|beta)": *([\d.]+)', profile_text(parse_profile(said.encode(), "old")).decode())
    assert old == new == ["1.5", "0.25", "1.5", "0.25"]


@pytest.mark.parametrize("path", COMPANIONS, ids=lambda path: path.name)
def test_what_lies_beside_profiles_opens_with_all_that_it_says(path: Path, tmp_path: Path) -> None:
    there = copied(path, tmp_path)
    found = json.loads(msgspec.json.encode(reader(path)(there)))
    text = json.dumps(found)
    said = {name: value for name, value in json.loads(path.read_text()).items() if name not in ("format", "version")}
    assert said
    for old, new in (("steady", "min_cutoff"), ("quick", "beta")):
        said = json.loads(json.dumps(said).replace(f'"{old}":', f'"{new}":'))
    for name, value in said.items():
        assert found[name] == value, text
    assert there.exists()


@pytest.mark.parametrize("path", COMPANIONS, ids=lambda path: path.name)
def test_one_of_a_newer_version_is_told_and_kept(path: Path, tmp_path: Path) -> None:
    there = copied(path, tmp_path, version=99)
    data = there.read_bytes()
    with pytest.raises(StorageError, match="newer Nub Shift"):
        reader(path)(there)
    (kept,) = there.parent.iterdir()
    assert kept.read_bytes() == data


def test_a_profile_of_a_newer_version_is_told_and_left_as_it_is(tmp_path: Path) -> None:
    there = copied(PROFILES[-1], tmp_path, version=99, something_new=True)
    data = there.read_bytes()
    with pytest.raises(ProfileError, match="newer Nub Shift"):
        read_profile(there)
    assert [path.read_bytes() for path in there.parent.iterdir()] == [data]


def test_the_first_take_and_the_first_players_script_are_read() -> None:
    assert len(read_take(SAMPLES / "take-1.take")) > 500
    assert read_script(SAMPLES / "player-1.player.json")
    with pytest.raises(NubShiftError):
        read_take(SAMPLES / "player-1.player.json")
