"""Measuring in Tune: what the player is asked to do, what is found, and what is proposed from it (N44)."""

from __future__ import annotations

from math import cos, pi, sin
from typing import Any

import pytest

from nubshift.events import Motion
from nubshift.protocol.messages import Choose, Steer
from tests.app.hand import Hand
from tests.app.tuning import feel, tune
from tests.support.playing import MS, Desk

pytestmark = pytest.mark.own_window


def test_a_worn_stick_is_measured_said_to_be_worn_and_mended(tuned: Hand) -> None:
    tuned.link.send(Choose("sim:burr"))
    tuned.until(lambda: tuned.link.status is not None and tuned.link.status.controller == "sim:burr")
    workspace = tune(tuned)
    measuring = workspace.measuring
    before = len(workspace.tuner.past)
    tuned.until(lambda: len(workspace.tuner.past) > before + 50)  # the other pad is watched as well
    tuned.click(workspace.measured.buttons["rest"])
    tuned.until(lambda: "snap back" in measuring.asks)
    for turn in range(20):
        if not measuring.doing:
            break
        tuned.link.send(Steer("right_stick", cos(2.1 * turn), sin(2.1 * turn)))
        tuned.bot.wait(40)
        tuned.link.send(Steer("right_stick", 0.0, 0.0))
        tuned.bot.wait(450)
    assert measuring.doing == ""
    assert any("off centre" in text for text in measuring.wear())
    assert any("Stick drift" in label for label in texts(workspace.measured))
    proposal = next(p for p in measuring.proposals() if p.field == "inner")
    assert 0.12 < proposal.value < 0.25  # the more readings, the rarer the noise that one of them has
    assert "99.9" in proposal.reason
    tuned.choose(workspace.measured, "Apply")
    assert feel(tuned).inner == proposal.value
    desk = Desk(tuned.saved())
    for step in range(500):
        desk.at(step * 4 * MS, right_stick=(-0.068 - 0.035, 0.041))
    assert not [o for o in desk.log if isinstance(o, Motion)]
    assert any(label.startswith("Dead zone") for label in texts(workspace.measured))


def texts(widget: Any) -> list[str]:
    from PyQt6.QtWidgets import QLabel

    return [label.text() for label in widget.findChildren(QLabel)]


def test_reach_is_measured_drawn_and_proposed(tuned: Hand) -> None:
    workspace = tune(tuned)
    tuned.click(workspace.measured.buttons["reach"])
    for step in range(2000):  # twice around is enough, if nothing holds up what is sent; on a busy machine it goes on
        if step > 90 and not workspace.measuring.doing:
            break
        angle = 2 * pi * step / 45
        tuned.link.send(Steer("right_stick", 0.9 * cos(angle), 0.9 * sin(angle)))
        tuned.bot.wait(8)
    assert workspace.measuring.doing == ""
    assert all(value is not None for value in workspace.plane.edge)
    proposal = next(p for p in workspace.measuring.proposals() if p.field == "outer")
    assert 0.83 < proposal.value < 0.9
    tuned.choose(workspace.measured, "Apply")
    assert feel(tuned).outer == proposal.value


def test_play_measures_the_rate_and_may_be_ended_early(tuned: Hand) -> None:
    workspace = tune(tuned)
    tuned.click(workspace.measured.buttons["play"])
    tuned.link.send(Steer("right_stick", 0.5, 0.2))
    tuned.until(lambda: len(workspace.measuring._rows) > 260)
    tuned.click(workspace.measured.buttons["play"])
    rate = workspace.measuring.findings.rate
    assert rate is not None
    assert rate.every == pytest.approx(0.004, rel=0.1)
    assert any("Reports every 4.0 ms" in text for text in texts(workspace.measured))


def test_measuring_stops_when_something_else_is_tuned(tuned: Hand) -> None:
    workspace = tune(tuned)
    workspace.measuring.begin("rest")
    tuned.until(lambda: workspace.measuring.share > 0.4)
    workspace.open("left_trigger")
    assert workspace.measuring.doing == ""
    assert workspace.measuring.findings.rest is None  # what the stick said is not the trigger's
    workspace.measuring.begin("reach")
    for depth in (1.0, 0.0, 0.96, 0.0):
        tuned.link.send(Steer("left_trigger", depth))
        tuned.bot.wait(20)
    tuned.until(lambda: workspace.measuring.doing == "")
    assert workspace.measuring.findings.deepest == pytest.approx(1.0, abs=0.01)
    workspace.measuring.begin("rest")
    tuned.until(lambda: workspace.measuring.findings.rest is not None)
    assert workspace.measuring.doing == ""
