"""When the runner keeps stopping, or talks nonsense: told in a sentence, with a way to go on."""

from __future__ import annotations

import os
import signal

import pytest
from msgspec.structs import replace

from nubshift.app.client import link
from nubshift.app.client.link import STARTS_TOLERATED
from nubshift.protocol.lines import encode
from nubshift.protocol.messages import Frame, Health, Notice, Steer, Used
from nubshift.protocol.play_figures import Lateness, Pace
from standins.waiting import PATIENCE
from tests.app.hand import Hand

pytestmark = pytest.mark.own_window


def test_after_many_deaths_it_asks_before_it_starts_another(hand: Hand, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(link, "START_WINDOW", 100 * PATIENCE)  # a busy machine takes its time for each start
    dead = 0
    for _ in range(STARTS_TOLERATED):
        hand.until(lambda: hand.link.runner_pid not in (0, dead) and hand.link.status is not None)
        dead = hand.link.runner_pid
        os.kill(dead, signal.SIGKILL)
    hand.until(lambda: "keeps stopping" in hand.window.notices.text)
    assert hand.link.status is None
    hand.choose(hand.window.notices, "Start the runner")
    hand.until(lambda: hand.link.status is not None)
    hand.steer("south", 1.0)
    hand.until(lambda: "SPACE" in hand.live.held)


@pytest.mark.parametrize(
    "nonsense",
    [
        b'{"say":"frame"}\n',
        b"\xff\xfe\n",
        b"[[[\n",
        encode(Frame(0, True, held=("NOKEY",))),
        encode(Frame(0, True, controls={"nose": (0.0, 0.0)})),
        encode(Notice("shout", "x")),
    ],
)
def test_a_runner_that_talks_nonsense_is_told_and_another_started(
    nonsense: bytes, hand: Hand, caplog: pytest.LogCaptureFixture
) -> None:
    first = hand.link.runner_pid
    hand.link._understand(nonsense)
    hand.until(lambda: hand.link.runner_pid not in (0, first) and hand.link.status is not None)
    assert "can't be read" in hand.window.notices.text
    assert not caplog.records


def test_an_edit_that_is_refused_is_told_and_the_next_one_is_played(hand: Hand) -> None:
    playing = hand.window.playing
    hand.until(lambda: playing.settled)
    assert playing._there is not None
    playing._under_way = True
    playing._used(Used(playing._there.edit, "there is no such thing"))
    assert "This edit is not in use yet: there is no such thing." in hand.window.notices.text
    assert not playing.settled
    hand.studio.document.edit("Title", lambda profile: replace(profile, game=replace(profile.game, title="Another")))
    hand.until(lambda: playing.settled)


def health(
    dropped: dict[str, int] | None = None, counts: dict[str, int] | None = None, lost: int = 0, worst: int = 25_000
) -> Health:
    minute, paces = Lateness(400, 1200, worst), {"sim:moss": Pace(4000, 300)}
    return Health(1.0, Lateness(300, 300, 300), minute, {"sim:moss": 250}, paces, dropped or {}, counts or {}, lost)


def test_how_play_goes_is_told_at_the_controller_and_in_the_doctor(hand: Hand) -> None:
    turn = 0

    def told() -> bool:
        """Whether it is told, while the controller moves."""
        nonlocal turn
        turn += 1
        hand.link.send(Steer("left_stick", turn % 7 / 10, 0.0))
        return all(words in hand.window.top.controller.toolTip() for words in ("Delay: ", "reports a second"))

    hand.until(told)
    hand.click(hand.window.top.tabs.buttons["controllers"])
    hand.choose(hand.window.pages.controllers, "Doctor")
    doctor = hand.window.pages.controllers.doctor
    hand.until(lambda: doctor.play_rows)
    assert doctor.play_rows[0].finding.what == "delay"
    before = doctor.play_rows[0]
    hand.link.felt.emit(health({"sim:moss": 2}, {"late": 3}, 1))
    said = [row.head.text() for row in doctor.play_rows]
    assert "Delay: 0.4 ms, 99\u202f% within 1.2 ms, 25.0 ms at worst" in said
    assert any("250 reports a second; input was lost 2 times" in text for text in said)
    assert any("3 reports arrived late" in text for text in said)
    assert any("one tap was not sent" in text for text in said)
    hand.link.felt.emit(health(worst=3000))
    heads = [row.head.text() for row in doctor.play_rows]
    assert any("250 reports a second, adding up to 4.0 ms (jitter 0.3 ms)" in head for head in heads)
    assert doctor.play_rows[0] is not before
    assert "up to 4.4 ms from the finger to the game" in doctor.play_rows[0].finding.means
    hand.link.felt.emit(Health(1.0))
    assert doctor.play_rows[0].head.text() == "Delay: nothing moved in the last minute"
