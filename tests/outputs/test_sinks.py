"""The sink before every channel: what it remembers, what it spaces, that it lets go."""

from __future__ import annotations

import pytest

from nubshift.events import Button, Key, Light, Motion, Pad, Point, Rumble, Wheel
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


def test_no_key_and_no_notch_overtakes_what_waits_but_motion_axes_and_points_do(sink: Sink, recorder: Recorder) -> None:
    sink.send(
        [
            Key(0, "A", 1),
            Key(0, "A", 0),
            Key(0, "B", 1),
            Wheel(0, 0, 120),
            Motion(0, 1, 2),
            Pad(0, "left_x", 1.0),
            Point(0, 0.5, 0.5),
        ],
        0,
    )
    assert words(recorder.events) == ["+A", "~1,2", "pad left_x 1", "point 0.5,0.5"]
    assert sink.next_deadline == 30_000
    sink.send([Key(10_000, "C", 1)], 10_000)
    sink.flush(30_000)
    assert words(recorder.events)[4:] == ["-A", "+B", "wheel 0,1", "+C"]
    assert sink.next_deadline is None


def test_what_is_flushed_late_is_still_spaced(sink: Sink, recorder: Recorder) -> None:
    sink.send([Key(0, "A", value) for value in (1, 0, 1, 0)] + [Key(0, "B", 1), Key(0, "B", 0)], 0)
    sink.flush(100_000)
    assert words(recorder.events) == ["+A", "-A"]
    sink.flush(130_000)
    sink.flush(160_000)
    assert words(recorder.events) == ["+A", "-A", "+A", "-A", "+B"]
    sink.flush(190_000)
    assert words(recorder.events)[-1] == "-B"


def play(sink: Sink, key: str, period: int, until: int, now: int = 0) -> int:
    """Turn a key over and over, once in a period, while the sink sends what is due; returns when it ends."""
    down = 0
    while now < until:
        now += period
        while (due := sink.next_deadline) is not None and due <= now:
            sink.flush(max(due, now - period))
        down = 1 - down
        sink.send([Key(now, key, down)], now)
    return now


def test_turbo_after_a_moment_of_delay_does_not_fall_behind_further(sink: Sink, recorder: Recorder) -> None:
    """30 times a second is 60 changes: a tap's length between all of them would be twice the time that there is."""
    sink.send([Key(0, "T", 1), Key(0, "T", 0)], 0)
    end = play(sink, "T", 16_667, 10_000_000)
    waiting = 0
    while (due := sink.next_deadline) is not None:
        sink.flush(max(due, end))
        waiting = max(due, end) - end
    assert 0 < waiting <= 30_000
    assert words(recorder.events).count("+T") == words(recorder.events).count("-T") == 301
    assert sink.held == ()


def test_nothing_waits_for_longer_than_a_second_whatever_comes(sink: Sink, recorder: Recorder) -> None:
    """Forty taps in one batch each quarter of a second: more than can be felt."""
    now = 0
    for number in range(20):
        now = number * 250_000
        batch = [Key(now, key, value) for key in "AB" for value in (1, 0) * 20]
        sink.send([*batch, Wheel(now, 0, 120), Key(now, "C", 1 - number % 2)], now)
        while (due := sink.next_deadline) is not None and due < now + 250_000:
            sink.flush(max(due, now))
    end = now
    while (due := sink.next_deadline) is not None:
        end = max(due, end)
        sink.flush(end)
    assert end - now < 1_100_000
    sent = words(recorder.events)
    assert sink.held == ()
    assert sent.count("wheel 0,1") == 20
    assert 50 < sent.count("+A") < 400
    for key in "ABC":
        assert sent.count(f"+{key}") == sent.count(f"-{key}")
    pressed = sum(sent.count(f"+{key}") for key in "ABC")
    assert pressed + sink.left_out == 2 * 400 + 10


def test_release_all_forgets_what_waits(sink: Sink, recorder: Recorder) -> None:
    sink.send([Key(0, "A", 1), Key(0, "A", 0), Key(0, "A", 1)], 0)
    sink.release_all(10)
    assert words(recorder.events) == ["+A", "-A"]
    assert sink.next_deadline is None
    sink.send([Key(20, "A", 1)], 20)
    assert words(recorder.events)[-1] == "+A"


def test_a_letter_does_not_overtake_the_shift_before_it(sink: Sink, recorder: Recorder) -> None:
    """The text "Hi" in one late batch: the shift must be up before the i goes down."""
    batch = [("LEFTSHIFT", 1), ("H", 1), ("H", 0), ("LEFTSHIFT", 0), ("I", 1), ("I", 0)]
    sink.send([Key(0, code, value) for code, value in batch], 0)
    while (due := sink.next_deadline) is not None:
        sink.flush(due)
    assert words(recorder.events) == ["+LEFTSHIFT", "+H", "-H", "-LEFTSHIFT", "+I", "-I"]


def test_buttons_of_the_pad_are_held_and_axes_return_to_neutral(sink: Sink, recorder: Recorder) -> None:
    sink.send([Pad(0, "south", 1), Pad(0, "south", 1), Pad(0, "left_x", 0.5)], 0)
    assert sink.held == ("pad:south",)
    sink.release_all(1)
    assert words(recorder.events) == ["pad south 1", "pad left_x 0.5", "pad south 0", "pad left_x 0"]


def test_rumble_and_light_are_not_for_a_sink(sink: Sink, recorder: Recorder) -> None:
    sink.send([Rumble(0, "1", 0.5), Light(0, "1", "#ff0000"), Wheel(0, 0, 120), Point(0, 0.5, 0.5)], 0)
    assert words(recorder.events) == ["wheel 0,1", "point 0.5,0.5"]
