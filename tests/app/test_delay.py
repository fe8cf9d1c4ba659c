"""The delay in Tune: what controller, Nub Shift and assignment add to it, and all of it together (N63)."""

from __future__ import annotations

import pytest

from nubshift.protocol.messages import Steer
from tests.app.hand import Hand
from tests.app.tuning import tune


def test_the_delay_is_shown_by_its_parts_and_in_all(tuned: Hand) -> None:
    workspace = tune(tuned)
    bar = workspace.delay

    def told() -> bool:
        """Whether it is told, while the controller moves."""
        tuned.link.send(Steer("right_stick", 0.5, 0.2))
        return bar.path.known

    tuned.until(told)
    pace = bar.path.pace
    assert pace is not None
    assert pace.every == 4000
    assert bar.path.lines()[0].startswith("Controller: up to 4.0 ms, jitter ")
    assert bar.path.lines()[2] == "Assignment: up to 4 ms", "the steps of the mouse"
    least, most = bar.path.total
    assert most - least == pytest.approx(8.0)
    assert bar.accessibleName().startswith(f"{least:.1f} to {most:.1f} ms from finger to game")
    before = bar.height()
    workspace.open("left_stick")
    assert bar.path.lines()[2] == "Assignment: no delay"
    workspace.open("right_stick")
    workspace.tuner.set_feel("Smoothing", min_cutoff=10.0, beta=0.0)
    assert bar.path.lines()[2] == "Assignment: 16 to 20 ms"
    assert "smoothing" in bar.toolTip()
    workspace.show_health(None)
    assert bar.path.head() == "Move the controller to see the delay."
    assert bar.height() < before
