"""The rumble of a game on the virtual pad: effects followed, scaled and cut off."""

from __future__ import annotations

from nubshift.events import Rumble
from nubshift.outputs.feedback import FOREVER, Capped, Feedback
from nubshift.runner.rumbling import Rumbling
from nubshift.units import MILLISECOND

MS = MILLISECOND


def test_an_effect_rumbles_for_its_length_and_ends_by_itself() -> None:
    pad = Feedback()
    pad.upload(3, 0x8000, 0, 200)
    assert pad.strength(0) == 0.0
    pad.play(3, 1, 0)
    assert round(pad.strength(100 * MS), 2) == 0.5
    assert pad.next_deadline == 200 * MS
    assert pad.strength(200 * MS) == 0.0
    assert pad.next_deadline is None


def test_the_strongest_of_several_counts_the_light_motor_less_and_the_gain_all_of_it() -> None:
    pad = Feedback()
    pad.upload(0, 0, 0xFFFF, FOREVER)
    pad.upload(1, 0x4000, 0, 100)
    pad.play(0, 1, 0)
    pad.play(1, 2, 0)
    assert round(pad.strength(0), 2) == 0.7
    pad.gain(0x8000)
    assert round(pad.strength(0), 2) == 0.35
    pad.play(0, 0, 0)
    assert round(pad.strength(150 * MS), 3) == 0.125
    pad.erase(1)
    assert pad.strength(150 * MS) == 0.0
    pad.play(7, 1, 0)  # never made
    assert pad.strength(150 * MS) == 0.0


def test_a_rumble_that_a_game_forgets_is_cut_off_and_another_one_is_felt() -> None:
    capped = Capped()
    assert capped.felt(0.8, 0.5, 1000 * MS, 0) == 0.4
    assert capped.ends(1000 * MS) == 1000 * MS
    assert capped.felt(0.8, 0.5, 1000 * MS, 999 * MS) == 0.4
    assert capped.felt(0.8, 0.5, 1000 * MS, 1000 * MS) == 0.0
    assert capped.ends(1000 * MS) is None
    assert capped.felt(0.9, 0.5, 1000 * MS, 1100 * MS) == 0.45  # stronger: a pulse of its own
    assert capped.felt(0.0, 0.5, 1000 * MS, 1200 * MS) == 0.0
    assert capped.felt(0.2, 0.5, 1000 * MS, 1300 * MS) == 0.1


def test_a_pulse_that_was_dealt_with_late_is_felt_for_its_length() -> None:
    hand = Rumbling()
    hand.take(Rumble(0, "1", 0.6), 900 * MS)
    hand.take(Rumble(200 * MS, "1", 0.0), 900 * MS)
    assert hand.changes(0.0, 1.0, 1000 * MS, 900 * MS) == {"1": 0.6}
    assert hand.next_deadline == 1100 * MS
    assert hand.changes(0.0, 1.0, 1000 * MS, 1000 * MS) == {}
    assert hand.changes(0.0, 1.0, 1000 * MS, 1100 * MS) == {"1": 0.0}


def test_the_stronger_of_profile_and_game_is_felt_and_a_stop_ends_the_profiles() -> None:
    hand = Rumbling()
    hand.take(Rumble(0, "2", 0.3), 0)
    hand.take(Rumble(0, "1", 0.3), 0)
    assert hand.changes(1.0, 0.5, 1000 * MS, 0) == {"1": 0.5, "2": 0.3}
    hand.stop()
    assert hand.changes(1.0, 0.5, 1000 * MS, 1) == {"2": 0.0}
    assert hand.changes(0.0, 0.5, 1000 * MS, 2) == {"1": 0.0}
