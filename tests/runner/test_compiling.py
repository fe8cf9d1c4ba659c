"""Edits compiled beside play: what an `Edit` carries, which of several counts, and that reports do not wait for it."""

from __future__ import annotations

import select
from pathlib import Path

import pytest
from hypothesis import HealthCheck, given, settings

from nubshift.errors import ProtocolError
from nubshift.model.edits import with_feel_put, without_layer
from nubshift.model.layouts import US, Layout
from nubshift.model.profile import Feel, Profile
from nubshift.protocol.edit_parts import edit_between, edited
from nubshift.protocol.lines import decode_request, encode
from nubshift.protocol.messages import Edit, Use, Used
from nubshift.runner.compiling import Compiling, Ready
from standins.client import Talk
from standins.waiting import PATIENCE
from tests.support.anything import profiles
from tests.support.profiles import made
from tests.support.runner_process import RunnerProcess

PROFILE = made({"base": {"south": "A", "east": ">aim"}, "aim": {"south": "B"}})
TUNED = with_feel_put(PROFILE, "base", Feel("right_stick", speed=200.0))
BROKEN = made({"base": {"south": "A"}})


def test_an_edit_carries_what_changed_and_nothing_else() -> None:
    message = encode(edit_between(PROFILE, TUNED, 1, 2))
    assert b'"id":"aim"' not in message
    request = decode_request(message)
    assert isinstance(request, Edit)
    assert edited(PROFILE, request) == TUNED


@settings(max_examples=40, suppress_health_check=[HealthCheck.too_slow, HealthCheck.data_too_large])
@given(profiles(), profiles())
def test_an_edit_makes_any_profile_of_any_other(old: Profile, new: Profile) -> None:
    request = decode_request(encode(edit_between(old, new, 1, 2)))
    assert isinstance(request, Edit)
    assert edited(old, request) == new
    fewer = without_layer(new, "two")
    request = decode_request(encode(edit_between(new, fewer, 2, 3)))
    assert isinstance(request, Edit)
    assert edited(new, request) == fewer


def test_an_edit_of_a_layer_that_is_not_there_is_refused() -> None:
    with pytest.raises(ProtocolError, match='a layer "nowhere" that is not there'):
        edited(PROFILE, Edit(2, 1, order=("base", "nowhere")))


def answers(compiling: Compiling, edit: int) -> list[Ready]:
    """Everything that becomes ready until this edit is."""
    found: list[Ready] = []
    while not found or found[-1].edit != edit:
        assert select.select([compiling.fileno()], [], [], PATIENCE)[0]
        found += compiling.take()
    return found


def test_of_edits_that_wait_the_newest_counts_and_a_switch_is_kept() -> None:
    compiling = Compiling(lambda: US)
    with compiling._lock:  # all three wait
        compiling._waiting = [Use(PROFILE, 1, switch=True, name="p"), edit_between(PROFILE, TUNED, 1, 2)]
        compiling.ask(edit_between(TUNED, PROFILE, 2, 3))
    (ready,) = answers(compiling, 3)
    assert ready.switch
    assert ready.compiled is not None
    assert (ready.compiled.profile, ready.compiled.name) == (PROFILE, "p")
    compiling.close()


def test_what_can_not_be_played_is_refused_and_the_next_whole_one_is_taken() -> None:
    compiling = Compiling(lambda: US)
    compiling.ask(Use(made({"base": {"south": "A"}}), 1))
    answers(compiling, 1)
    compiling.ask(Edit(2, 9))
    assert "not known here" in answers(compiling, 2)[-1].trouble
    compiling.ask(Edit(3, 2))
    assert "not known here" in answers(compiling, 3)[-1].trouble
    compiling.ask(Use(PROFILE, 4))
    assert answers(compiling, 4)[-1].compiled is not None
    compiling.close()


def test_the_runner_answers_what_it_can_not_play_and_goes_on(tmp_path: Path) -> None:
    runner = RunnerProcess(
        "-", "--socket", str(tmp_path / "r"), "--source", "sim:moss", "--sink", f"record:{tmp_path / 'o'}"
    )
    talk = Talk(tmp_path / "r")
    text = encode(Use(PROFILE, 1, switch=True)).replace(b'"layer":"aim"', b'"layer":"gone"')
    talk.socket.sendall(text)
    assert 'there is no layer "gone"' in talk.wait(Used, edit=1).trouble
    talk.say(Use(PROFILE, 2, switch=True))
    assert talk.wait(Used, edit=2).trouble == ""
    talk.say(edit_between(PROFILE, TUNED, 2, 3))
    assert talk.wait(Used, edit=3).trouble == ""
    talk.close()
    assert runner.close() == 0


def test_the_layout_is_asked_for_each_profile_anew_and_not_for_each_edit() -> None:
    asked: list[None] = []

    def layout() -> Layout:
        asked.append(None)
        return US

    compiling = Compiling(layout)
    compiling.ask(Use(PROFILE, 1, name="p"))
    answers(compiling, 1)
    compiling.ask(edit_between(PROFILE, TUNED, 1, 2))
    answers(compiling, 2)
    assert len(asked) == 1
    compiling.ask(Use(PROFILE, 3, name="p"))
    answers(compiling, 3)
    assert len(asked) == 2
    compiling.close()
