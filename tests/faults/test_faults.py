"""The attacks of tools/faults, short: what they look for is looked for on every run."""

from __future__ import annotations

import pytest

from faults import devices, files, hostile, kills, messages, soak
from faults.played import Heard, packed
from nubshift.model.keys import KEYS
from nubshift.model.store import read_profile
from nubshift.protocol.messages import Use
from nubshift.protocol.paths import demo_folder


def test_mutated_files_are_read_or_refused() -> None:
    counts, faults = files.attack(seed=11, count=1500)
    assert not faults, faults[:3]
    assert counts["good"] > 10
    assert counts["refused"] > 500


def test_profiles_made_to_hurt_do_not(monkeypatch: pytest.MonkeyPatch) -> None:
    """Those that once did; how long they take is for the bench, an end of it for here."""
    for name in ("XDG_DATA_HOME", "XDG_CONFIG_HOME", "XDG_STATE_HOME", "QT_QPA_PLATFORM"):
        monkeypatch.setenv(name, "")  # what the attack sets is taken back
    whats = ("names twice at the end", "large numbers", "brackets and no end", "as much as is allowed")
    counts, faults = hostile.attack(whats, most_seconds=hostile.PATIENCE / 2)
    assert not faults, faults
    assert counts.total() == 8


def test_hostile_messages_do_not_end_the_runner() -> None:
    profile = Use(read_profile(demo_folder() / "ferrow-deep.nubshift.json"), 1)
    counts, faults = messages.attack(seed=12, count=150, profile=profile)
    assert not faults, faults
    assert counts["done"] > 10
    assert counts["conversation ended"] > 5


def test_no_order_of_kills_leaves_a_key_down() -> None:
    counts, faults = kills.attack(seed=13, count=6)
    assert not faults, faults
    assert counts.total() - counts["of them after more than two seconds"] == 6


def test_a_quarter_of_an_hour_of_play_loses_nothing_and_keeps_nothing() -> None:
    """By a played clock; tools/faults soak has the day of it, and the hour by the clock on the wall."""
    counts, faults, samples = soak.day(seed=14, hours=0.25)
    assert not faults, faults
    assert counts["presses"] > 200
    assert counts["moves"] > 10_000
    assert len(samples) == 16


def test_a_soak_would_tell() -> None:
    player, heard = soak.Player(1), Heard()
    player.presses = 2
    key = KEYS["A"].code
    heard.take(packed([(1, key, 1), (1, key, 0), (1, key, 1), (1, key, 1)], 0))
    _counts, faults = soak.verdict(player, heard, [(0.0, 30.0), (700.0, 31.0), (900.0, 34.0)], 0)
    assert [fault.split()[0] for fault in faults] == ["key", "2", "still", "memory"]


def test_what_was_left_out_on_purpose_is_no_fault_but_no_more_than_that() -> None:
    key = KEYS["A"].code
    heard = Heard()
    heard.take(packed([(1, key, 1), (1, key, 0)], 0))
    player = soak.Player(1)
    player.presses = 3
    assert [bool(soak.verdict(player, heard, [], left_out)[1]) for left_out in (1, 2, 3)] == [True, False, False]


def test_controllers_that_lie_flood_and_stop_in_the_middle_leave_nothing_down() -> None:
    counts, faults = devices.attack(seed=15, count=60)
    assert not faults, faults[:3]
    assert min(counts[way] for way in devices.WAYS) > 2
