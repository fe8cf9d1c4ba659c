"""What is said on the socket by whoever: refused with a sentence, and the runner plays on."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path
from random import Random

import pytest

from faults.making import any_message, mutated
from nubshift.errors import ProtocolError
from nubshift.model.stored_controllers import PartOf
from nubshift.protocol import lines
from nubshift.protocol import messages as m
from nubshift.protocol.checking import check_reply, check_request
from standins.client import Talk
from tests.support.profiles import made
from tests.support.runner_process import RunnerProcess

PROFILE = made({"base": {"south": "A"}})


class Stage:
    def __init__(self, folder: Path) -> None:
        self.path = folder / "r.sock"
        self.runner = RunnerProcess(
            "-",
            "--socket",
            str(self.path),
            "--source",
            "sim:moss",
            "--sink",
            f"record:{folder / 'out'}",
            XDG_DATA_HOME=str(folder),
        )
        self.talk = Talk(self.path)

    def still_plays(self) -> None:
        """A press still arrives, if need be by a new connection."""
        self.talk.close()
        self.talk = Talk(self.path)
        self.talk.say(m.Use(PROFILE, 1, switch=True))
        self.talk.wait(m.Used, edit=1)
        self.talk.say(m.Keep(None))
        self.talk.say(m.Choose("sim:moss"))
        self.talk.say(m.SetLive(True))
        self.talk.say(m.Withhold(False))
        for control in ("mode", "select", "start", "south"):  # what opens the menu or pauses may be held
            self.talk.say(m.Steer(control, 0.0))
        self.talk.say(m.CloseMenu())
        self.talk.say(m.SetLive(True))
        self.talk.wait_held()
        self.talk.say(m.Steer("south", 1.0))
        self.talk.wait_held("A")
        assert self.runner.process.poll() is None


@pytest.fixture
def stage(tmp_path: Path) -> Iterator[Stage]:
    found = Stage(tmp_path)
    yield found
    found.talk.close()
    assert found.runner.close() == 0
    assert not any("Traceback" in line for line in found.runner.said)


REFUSED: dict[str, m.Request] = {
    "no shape": m.Teach("sim:quarry", "sphere"),
    "no colour": m.Show("sim:moss", "red"),
    "NUL": m.Play("a\0b"),
    "a path": m.Play("../../x"),
    "no control": m.Watch("nose"),
    "no such control": m.Steer("nose", 1.0),
    "no control of a part": m.Fill("1", (PartOf("sim:moss", ("nose",)),)),
    "too many": m.Fill("1", (PartOf("sim:moss"),) * 9),
}


@pytest.mark.parametrize("name", REFUSED)
def test_a_request_that_means_nothing_is_refused_with_a_sentence(name: str) -> None:
    with pytest.raises(ProtocolError):
        check_request(REFUSED[name])


def test_refused_requests_are_told_and_the_connection_stays(stage: Stage) -> None:
    for request in REFUSED.values():
        stage.talk.say(request)
    stage.talk.say(m.Use(PROFILE, 5, switch=True))
    stage.talk.wait(m.Used, edit=5)
    told = [heard.text for heard in stage.talk.heard if isinstance(heard, m.Notice)]
    assert len(told) == len(REFUSED)
    assert any('"red" is not a colour' in text for text in told)


BROKEN = {
    "deep": b'{"say":"use","profile":' + b"[" * 200_000,
    "not text": b'{"say":"play","script":"\xff"}',
    "empty": b"{}",
    "no JSON": b"hello",
    "a number": b"9" * 9000,
    "unknown": b'{"say":"dance"}',
    "missing": b'{"say":"use","edit":1,"profile":{"format":"nubshift-profile","version":5,"game":{"title":""},'
    b'"layers":[{"id":"base","name":"b","bindings":[{"control":"south","press":[{"send":"command","command":"x"}]}]}]}}',
}


@pytest.mark.parametrize("name", BROKEN)
def test_what_is_no_message_ends_the_conversation_but_not_the_play(name: str, stage: Stage) -> None:
    stage.talk.socket.sendall(BROKEN[name] + b"\n")
    stage.still_plays()


def test_random_messages_of_every_kind_do_not_end_the_runner(stage: Stage) -> None:
    random = Random(20)
    for number in range(250):
        message = any_message(random, m.Request)
        if isinstance(message, m.Quit | m.Hello):
            continue
        data = lines.encode(message)
        try:
            stage.talk.socket.sendall(mutated(random, data) if number % 3 == 0 else data)
        except OSError:
            stage.talk.close()
            stage.talk = Talk(stage.path)
    stage.still_plays()


def test_replies_are_checked_like_requests() -> None:
    for bad in (
        m.Notice("shout", "x"),
        m.Frame(0, True, controls={"nose": (0.0, 0.0)}),
        m.Frame(0, True, held=("FOO",)),
        m.Frame(0, True, controls={"south": (float("nan"), 0.0)}),
        m.Lesson("c", "dancing", "free"),
        m.Frame(0, True, watched="motion", trace=((1.0, 2.0),)),
    ):
        with pytest.raises(ProtocolError):
            check_reply(bad)
    check_reply(m.Frame(0, True, held=("A", "pad:south"), sent=(m.Sent(0, "layer:aim", 1), m.Sent(0, "wheel:up", 1))))
