"""The runner ends whenever it is told to."""

from __future__ import annotations

import os
from unittest import mock

from nubshift.cli.bench_runner import made_runner
from nubshift.events import VIRTUAL_KEYBOARD, VIRTUAL_MOUSE
from nubshift.runner.conversation import Conversation
from tests.support.profiles import made


def test_a_signal_in_the_middle_of_a_turn_is_not_forgotten() -> None:
    """It came while the turn was finding out whether there is another reason to end, and there was none."""
    pipes = [os.pipe() for _unused in range(4)]
    (pad, _p), (motion, _m), (_k, keyboard), (_v, mouse) = pipes
    runner = made_runner(
        made({"base": {"south": "A"}}), [pad, motion], {VIRTUAL_KEYBOARD: keyboard, VIRTUAL_MOUSE: mouse}
    )
    turns = 0

    def over(_self: Conversation) -> bool:
        nonlocal turns
        turns += 1
        assert turns < 100, "it goes on"
        runner.end()
        return False

    with mock.patch.object(Conversation, "over", property(over)):
        runner.run()
    assert turns == 1
    for descriptor in {end for pair in pipes for end in pair} - {pad, motion, keyboard, mouse}:
        os.close(descriptor)
