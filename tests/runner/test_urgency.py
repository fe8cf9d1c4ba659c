"""Priority beside a game: asked of the limits and of rtkit, taken as it is granted, given back when play works long."""

from __future__ import annotations

import json
import os
import subprocess
import sys
from pathlib import Path
from typing import Any

import pytest

from nubshift.protocol.play_figures import Urgency
from nubshift.protocol.play_in_words import priority_finding
from standins.bus import stand_in
from standins.waiting import PATIENCE

PLAYER = """
import json, os, resource, signal, sys, threading
told_of = resource.getrlimit
here = {getattr(resource, limit): (value, value) for limit, value in json.loads(sys.argv[1]).items()}
resource.getrlimit = lambda limit: here.get(limit) or told_of(limit)  # few may raise their limits
from nubshift.runner.urgency import Urging
urging = Urging()
[thread.join() for thread in threading.enumerate() if thread.name == "urgency"]
def told():
    return {
        "granted": [urging.granted.kind, urging.granted.by],
        "policy": os.sched_getscheduler(0) & ~os.SCHED_RESET_ON_FORK,
        "level": os.sched_getparam(0).sched_priority,
        "nice": os.getpriority(os.PRIO_PROCESS, threading.get_native_id()),
        "bursts": resource.getrlimit(resource.RLIMIT_RTTIME),
    }
found = [told()]
if "burst" in sys.argv:
    while urging.granted.kind == "real-time":
        pass
    found.append(told())
print(json.dumps(found))
"""
needs_root = pytest.mark.skipif(
    os.geteuid() != 0, reason="only root may have and grant real-time priority without limits"
)


def played(address: str, *words: str, **limits: int) -> list[dict[str, Any]]:
    """What a program that asks is granted, on a bus, with these limits."""
    environment = os.environ | {"DBUS_SYSTEM_BUS_ADDRESS": address}
    command = [sys.executable, "-c", PLAYER, json.dumps(limits), *words]
    done = subprocess.run(command, env=environment, capture_output=True, text=True, timeout=PATIENCE, check=False)
    assert done.returncode == 0, done.stderr
    found: list[dict[str, Any]] = json.loads(done.stdout)
    return found


def nobody(tmp_path: Path) -> str:
    """The address of no bus."""
    return f"unix:path={tmp_path}/none"


def test_where_nothing_is_granted_play_goes_on_as_ever(tmp_path: Path) -> None:
    (found,) = played(nobody(tmp_path), RLIMIT_RTPRIO=0, RLIMIT_NICE=0)
    assert found["granted"] == ["usual", ""]
    assert (found["policy"], found["bursts"]) == (os.SCHED_OTHER, [-1, -1]), "nothing that could end it was set"


@needs_root
def test_limits_that_allow_it_are_used(tmp_path: Path) -> None:
    (found,) = played(nobody(tmp_path), RLIMIT_RTPRIO=5)
    assert found["granted"] == ["real-time", "limits"]
    assert (found["policy"], found["level"]) == (os.SCHED_RR, 1), "the lowest: sound goes before"
    assert found["bursts"] == [100_000, 200_000]


@needs_root
def test_a_real_time_burst_ends_in_usual_priority_not_in_death(tmp_path: Path) -> None:
    before, after = played(nobody(tmp_path), "burst", RLIMIT_RTPRIO=5)
    assert before["policy"] == os.SCHED_RR
    assert after["granted"] == ["given back", "limits"]
    assert after["policy"] == os.SCHED_OTHER


@needs_root
@pytest.mark.parametrize(
    ("grants", "told", "granted"),
    [
        ("real-time", ["real-time 1"], ["real-time", "rtkit"]),
        ("high", ["refused", "high -11"], ["high", "rtkit"]),
        ("nothing", ["refused", "refused"], ["usual", ""]),
    ],
)
def test_rtkit_is_asked_where_the_limits_allow_nothing(grants: str, told: list[str], granted: list[str]) -> None:
    with stand_in("rtkit", grants) as rtkit:
        (found,) = played(rtkit.address, RLIMIT_RTPRIO=0, RLIMIT_NICE=0)
        for word in told:
            rtkit.told(word)
    assert found["granted"] == granted
    assert found["policy"] == (os.SCHED_RR if grants == "real-time" else os.SCHED_OTHER)
    assert found["nice"] == (-11 if grants == "high" else os.getpriority(os.PRIO_PROCESS, 0))


def test_the_doctor_says_what_was_granted_and_what_to_do() -> None:
    assert "real-time (by rtkit)" in priority_finding(Urgency("real-time", "rtkit")).found
    assert "high (by this user's limits)" in priority_finding(Urgency("high", "limits")).found
    assert "Restart" in priority_finding(Urgency("given back", "rtkit")).means
    usual = priority_finding(Urgency())
    assert usual.state == "note"
    assert "rtkit" in usual.do
