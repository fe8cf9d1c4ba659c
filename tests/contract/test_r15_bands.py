"""Contract R15: bands, and what is held while a stick is out."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as st

from nubshift.model.profile import Band
from nubshift.model.roles import KeysRole, MouseRole
from nubshift.model.sends import HoldLayer
from tests.support.playing import MS, Desk
from tests.support.profiles import four, made, sends


def band(start: float, what: str, **fields: object) -> Band:
    return Band(start, sends(what), **fields)  # type: ignore[arg-type]


def trigger(*bands: Band) -> Desk:
    return Desk(made({"base": {"left_trigger": {"bands": bands}}}))


def test_a_band_begins_at_its_edge_and_ends_two_hundredths_below() -> None:
    desk = trigger(band(0.5, "A"))
    assert desk.at(0, left_trigger=0.4999) == []
    assert desk.at(1, left_trigger=0.5) == ["+A"]
    assert desk.at(2, left_trigger=0.48) == []
    assert desk.at(3, left_trigger=0.4799) == ["-A"]
    assert desk.at(4, left_trigger=0.49) == []


def test_an_outer_band_replaces_the_inner_one() -> None:
    desk = trigger(band(0.2, "A"), band(0.8, "B"))
    assert desk.at(0, left_trigger=0.3) == ["+A"]
    assert desk.at(1, left_trigger=0.9) == ["-A", "+B"]
    assert desk.at(2, left_trigger=0.79) == []
    assert desk.at(3, left_trigger=0.7) == ["-B", "+A"]


def test_unless_it_adds_to_it() -> None:
    desk = trigger(band(0.2, "A"), band(0.8, "B", adds=True))
    assert desk.at(0, left_trigger=0.3) == ["+A"]
    assert desk.at(1, left_trigger=0.9) == ["+B"]
    assert desk.at(2, left_trigger=0.0) == ["-B", "-A"]
    assert desk.at(3, left_trigger=1.0) == ["+A", "+B"]


def test_a_jump_over_a_band_does_not_touch_it() -> None:
    desk = trigger(band(0.2, "A"), band(0.5, "B"), band(0.8, "C"))
    assert desk.at(0, left_trigger=0.9) == ["+C"]
    assert desk.at(1, left_trigger=0.3) == ["-C", "+A"]


def test_a_band_may_wait_so_that_a_pull_straight_through_does_not_send_it() -> None:
    desk = trigger(band(0.2, "A", wait=50), band(0.8, "B"))
    assert desk.at(0, left_trigger=0.3) == []
    assert desk.at(49_999, left_trigger=0.9) == ["+B"]
    assert desk.at(60 * MS, left_trigger=0.3) == ["-B"]
    assert desk.timed(200 * MS) == ["110 +A"]


def test_keys_and_bands_of_a_stick_are_held_together() -> None:
    bands = (band(0.3, "LEFTCTRL"), band(0.6, "X"), band(0.9, "LEFTSHIFT"))
    desk = Desk(made({"base": {"left_stick": {"role": four(), "bands": bands}}}))
    assert desk.at(0, left_stick=(0, -0.4)) == ["+LEFTCTRL"]
    assert desk.at(1, left_stick=(0, -0.7)) == ["-LEFTCTRL", "+W", "+X"]
    assert desk.at(2, left_stick=(0.95, 0)) == ["-X", "-W", "+D", "+LEFTSHIFT"]


def test_a_trigger_with_bands_acts_from_its_present_value_when_its_layer_comes() -> None:
    base = {"left_trigger": {"bands": (band(0.5, "A"),)}, "south": ">aim"}
    desk = Desk(made({"base": base, "aim": {"left_trigger": "B"}}))
    desk.at(0, left_trigger=0.9)
    assert desk.at(1, south=1) == [">aim", "-A"]  # as a button it must cross from below
    assert desk.at(2, left_trigger=0.95) == []
    assert desk.at(3, south=0) == ["<aim", "+A"]


def test_a_layer_held_by_a_band_keeps_the_binding() -> None:
    base = {"left_trigger": {"bands": (Band(0.5, (HoldLayer("aim"),)),)}, "south": "A"}
    desk = Desk(made({"base": base, "aim": {"left_trigger": "B", "south": "C"}}))
    assert desk.at(0, left_trigger=0.6) == [">aim"]
    assert desk.at(1, south=1) == ["+C"]
    assert desk.at(2, left_trigger=0.9) == []
    assert desk.at(3, left_trigger=0.1) == ["<aim"]


def test_a_lone_axis_has_bands_both_ways() -> None:
    desk = Desk(made({"base": {"axis_1": {"bands": (band(0.5, "A"),)}}}))
    assert desk.at(0, axis_1=-0.6) == ["+A"]
    assert desk.at(1, axis_1=0.0) == ["-A"]


# Held while out


def test_held_while_the_stick_is_out_it_goes_down_before_any_motion() -> None:
    binding = {"role": MouseRole(), "out": "BTN_RIGHT"}
    desk = Desk(made({"base": {"right_stick": binding}}, {"base": {"right_stick": {"inner": 0.1}}}))
    assert desk.at(0, right_stick=(0.1, 0)) == []
    assert desk.at(1, right_stick=(0.1001, 0)) == ["+BTN_RIGHT"]
    assert desk.at(2, right_stick=(0.9, 0)) == []
    assert desk.to(8 * MS)[0].startswith("~")
    desk.at(9 * MS, right_stick=(0.08, 0))
    assert "BTN_RIGHT" in desk.engine.held
    assert "-BTN_RIGHT" in desk.at(10 * MS, right_stick=(0.0799, 0))


def test_without_a_dead_zone_it_ends_at_rest() -> None:
    binding = {"role": KeysRole(), "out": "A"}
    desk = Desk(made({"base": {"right_stick": binding}}, {"base": {"right_stick": {"inner": 0.0}}}))
    assert desk.at(0, right_stick=(0.001, 0)) == ["+A"]
    assert desk.at(1, right_stick=(0.0, 0)) == ["-A"]


depths = st.lists(st.integers(0, 100).map(lambda n: n / 100), min_size=1, max_size=30)
edges = st.lists(st.integers(3, 100), min_size=1, max_size=5, unique=True).map(sorted)


@given(depths, edges)
def test_against_a_plain_model(values: list[float], starts: list[int]) -> None:
    keys = "ABCDE"
    desk = trigger(*(band(start / 100, keys[i]) for i, start in enumerate(starts)))
    level = -1
    for t, depth in enumerate(values):
        reached = max((i for i, s in enumerate(starts) if depth >= s / 100), default=-1)
        kept = max((i for i, s in enumerate(starts[: level + 1]) if depth >= s / 100 - 0.02), default=-1)
        level = max(reached, kept)
        desk.at(t, left_trigger=depth)
        assert desk.engine.held == (() if level < 0 else (keys[level],))
