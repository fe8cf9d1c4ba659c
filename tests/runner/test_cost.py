"""What a report costs, in calls of Python: the same on every machine, so that a test can hold it (bench has the times).

Counted in the real runner, with pipes in place of the nodes and a clock of the test's own. A bound that is broken says that something is asked or
worked out with every report that was not before.
"""

from __future__ import annotations

import os
import sys
import time
from pathlib import Path
from types import FrameType
from typing import Any

import pytest

from nubshift.cli.bench_profile import bench_profile
from nubshift.cli.bench_runner import Hand, made_runner
from nubshift.cli.built import is_compiled
from nubshift.events import VIRTUAL_MOUSE

PLAYED = 150
MOST = 88
"""Calls for a report of the pad and one of its motion together with the time that passes; it is 85 now."""
pytestmark = pytest.mark.skipif(is_compiled(), reason="what is compiled makes no calls that could be counted")


class Clock:
    """The machine's clock, as far as the runner asks for it: it stands still until it is told to go on."""

    def __init__(self) -> None:
        self.ns = 1_000_000_000

    def __call__(self) -> int:
        return self.ns


CLOCK = Clock()


@pytest.fixture
def home(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    monkeypatch.setattr(time, "monotonic_ns", CLOCK)
    for name in ("HOME", "XDG_DATA_HOME", "XDG_CONFIG_HOME", "XDG_RUNTIME_DIR"):
        monkeypatch.setenv(name, str(tmp_path))
    return tmp_path


def calls(layers: int, controllers: int = 1) -> float:
    """Calls of Python functions for a millisecond of play, at the median."""
    pipes = [os.pipe() for _ in range(2 * controllers)]
    nodes = [out for out, _ in pipes]
    nowhere = os.open(os.devnull, os.O_WRONLY)
    runner = made_runner(bench_profile(layers, controllers), nodes, {VIRTUAL_MOUSE: nowhere})
    hand = Hand([node for _, node in pipes], nowhere, 0.001)
    count = 0

    def counted(_frame: FrameType, event: str, _arg: Any) -> None:
        nonlocal count
        count += event == "call"

    each = []
    try:
        for _ in range(PLAYED):
            CLOCK.ns += 1_000_000
            hand.report()
            count = 0
            sys.setprofile(counted)
            try:
                runner.turn()
            finally:
                sys.setprofile(None)
            each.append(count)
    finally:
        runner.close()
        for descriptor in (*nodes, *(node for _, node in pipes), nowhere):
            os.close(descriptor)
    return sorted(each)[PLAYED // 2]


@pytest.mark.usefixtures("home")
def test_a_report_costs_no_more_than_it_did() -> None:
    assert calls(20) <= MOST


@pytest.mark.usefixtures("home")
def test_layers_that_are_not_entered_cost_nothing() -> None:
    assert calls(90) <= 1.05 * calls(0)


@pytest.mark.usefixtures("home")
def test_four_controllers_cost_less_than_four_times_as_much() -> None:
    assert calls(0, 4) < 4 * calls(0)
