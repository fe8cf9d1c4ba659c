"""How play goes, in figures: the median, the slowest of a hundred and the worst, of now and of the last minute."""

from __future__ import annotations

from random import Random

import pytest

from nubshift.engine.intake import Counts
from nubshift.protocol.messages import Health
from nubshift.protocol.play_figures import Lateness, Pace
from nubshift.protocol.play_in_words import findings
from nubshift.runner.wellbeing import LIVELY, LastMinute, Wellbeing, lateness_of, pace_of
from nubshift.units import SECOND, Micros


def message(play: Wellbeing, now: Micros, times: dict[str, list[int]] | None = None, reports: int = 0) -> Health:
    times = times or {}
    return play.message(now, dict.fromkeys(times, reports), times, {}, Counts(), 0, 0)


def test_nothing_measured_is_nothing_late() -> None:
    assert lateness_of([]) == Lateness() == LastMinute().lateness()


def test_of_hundred_times_ninety_nine_are_within() -> None:
    assert lateness_of(range(1, 101)) == Lateness(51, 99, 100)
    assert lateness_of([7]) == Lateness(7, 7, 7)


def test_a_minute_is_as_exact_as_needed_and_forgets() -> None:
    random, minute = Random(3), LastMinute()
    told = []
    for second in range(60):
        times = [round(random.expovariate(1 / 180)) + 40 for _ in range(300)]
        told += times
        minute.add(second * SECOND, times)
    exact, found = lateness_of(told), minute.lateness()
    assert found.longest == exact.longest
    assert found.median == pytest.approx(exact.median, rel=0.04)
    assert found.most == pytest.approx(exact.most, rel=0.04)
    for second in range(60, 119):
        minute.add(second * SECOND, [])
    assert minute.lateness().longest <= max(told[-300:])
    minute.add(119 * SECOND, [])
    assert minute.lateness() == Lateness()


def test_the_worst_is_never_less_than_the_rest() -> None:
    minute = LastMinute()
    minute.add(0, [1001] * 100)
    assert minute.lateness() == Lateness(1001, 1001, 1001)


def test_a_pace_is_the_usual_time_between_reports_and_how_far_they_are_off_it() -> None:
    times = [0]
    for n in range(LIVELY * 2):
        times.append(times[-1] + (3900 if n % 2 else 4100))
    assert pace_of(times) == Pace(4100, 200)
    assert pace_of(times[:LIVELY]) is None, "too few to say"
    both = sorted([*times, *(t + 40 for t in times)])
    assert pace_of(both) == Pace(4060, 200), "two nodes of one controller report as one"
    lost = times[:70] + [t + 40_000 for t in times[70:]]
    assert pace_of(lost) == Pace(4100, 200), "a gap is no jitter"


def test_a_pace_stays_while_the_controller_rests_and_goes_with_it() -> None:
    play = Wellbeing(0)
    moving = [n * 4000 for n in range(1, 250)]
    assert message(play, SECOND, {"a": moving}, 249).paces == {"a": Pace(4000, 0)}
    resting = message(play, 2 * SECOND, {"a": moving}, 249)
    assert resting.paces == {"a": Pace(4000, 0)}
    assert resting.reports == {"a": 0}
    assert message(play, 3 * SECOND).paces == {}


def test_the_minute_goes_on_over_quiet_seconds_and_begins_anew_with_a_window() -> None:
    play = Wellbeing(0)
    play.was_late(500)
    play.was_late(-3)  # a stamp of the kernel may be a hair ahead
    first = message(play, SECOND)
    assert first.late == first.minute == Lateness(500, 500, 500)
    second = message(play, 2 * SECOND)
    assert (second.late, second.minute) == (Lateness(), Lateness(500, 500, 500))
    play.was_late(90_000)
    play.begin_anew(50 * SECOND, {})
    assert message(play, 51 * SECOND).minute == Lateness()
    assert play.next_deadline == 52 * SECOND


def test_what_was_left_out_is_said() -> None:
    """The doctor says it once there is something to say."""
    assert not [found for found in findings(Health(1.0), {}) if "left out" in found.found]
    for count, said in ((1, "one press was left out"), (3, "3 presses were left out")):
        assert [found.found for found in findings(Health(1.0, left_out=count), {}) if "left out" in found.found] == [
            said
        ]
