"""Waiting: what can be read, what can be written, and what is gone while it is waited for."""

from __future__ import annotations

import os

from nubshift.runner.waiting import NOTHING, Waiting


def test_what_can_be_read_is_returned_and_what_can_be_written_is_told() -> None:
    (read, write), waiting = os.pipe(), Waiting()
    waiting.follow((read,), ())
    assert (waiting.wait(0), waiting.has_more) == (NOTHING, False)
    os.write(write, b"!")
    assert (waiting.wait(None), waiting.has_more) == ({read}, False)
    waiting.follow((), (write,))
    assert (waiting.wait(None), waiting.has_more) == (NOTHING, True), "else the loop would turn and turn for nothing"
    os.close(read)
    waiting.follow((read,), ())
    assert (waiting.wait(None), waiting.has_more) == (NOTHING, True), "it is looked at anew"
    os.close(write)
