"""One suite for all sinks: what they remember, what they space, that they let go."""

from __future__ import annotations

import pytest

from nubshift.events import Button, Key, Motion
from nubshift.outputs.port import Sink
from nubshift.outputs.recorder import Recorder
from tests.support.playing import words


@pytest.fixture
def recorder() -> Recorder:
    return Recorder()


@pytest.fixture
def sink(recorder: Recorder) -> Sink:
    return Sink(recorder)


def test_it_knows_what_it_holds(sink: Sink, recorder: Recorder) -> None:
    sink.send([Key(0, "A", 1), Button(0, "BTN_LEFT", 1)], 0)
    assert sink.held == ("A", "BTN_LEFT")
    sink.send([Key(1, "A", 1), Key(1, "B", 0)], 1)
    assert words(recorder.events) == ["+A", "+BTN_LEFT"]
    sink.release_all(2)
    assert words(recorder.events) == ["+A", "+BTN_LEFT", "-BTN_LEFT", "-A"]
    assert sink.held == ()


def test_separate_batches_are_not_spaced(sink: Sink, recorder: Recorder) -> None:
    sink.send([Key(0, "A", 1)], 0)
    sink.send([Key(1, "A", 0)], 1)
    assert words(recorder.events) == ["+A", "-A"]


def test_a_burst_of_taps_in_one_batch_keeps_its_order_and_count(sink: Sink, recorder: Recorder) -> None:
    sink.send([Key(0, "A", value) for value in (1, 0, 1, 0)], 0)
    times = []
    while (due := sink.next_deadline) is not None:
        times.append(due)
        sink.flush(due)
    assert words(recorder.events) == ["+A", "-A", "+A", "-A"]
    assert times == [30_000, 60_000, 90_000]


def test_other_keys_and_motion_do_not_wait(sink: Sink, recorder: Recorder) -> None:
    sink.send([Key(0, "A", 1), Key(0, "A", 0), Key(0, "B", 1), Motion(0, 1, 2)], 0)
    assert words(recorder.events) == ["+A", "+B", "~1,2"]


def test_release_all_forgets_what_waits(sink: Sink, recorder: Recorder) -> None:
    sink.send([Key(0, "A", 1), Key(0, "A", 0), Key(0, "A", 1)], 0)
    sink.release_all(10)
    assert words(recorder.events) == ["+A", "-A"]
    assert sink.next_deadline is None
    sink.send([Key(20, "A", 1)], 20)
    assert words(recorder.events)[-1] == "+A"
