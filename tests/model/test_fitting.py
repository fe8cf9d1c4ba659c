"""What a controller lacks is offered another control that can do its work (N05)."""

from __future__ import annotations

from nubshift.devices.device_mapping import KnownMappings
from nubshift.devices.simulated_hardware import hardware_info
from nubshift.model.fitting import misfits, with_fitted
from nubshift.model.joining import join_of
from nubshift.model.profile import Band
from nubshift.model.reading import parse_profile
from nubshift.model.roles import KeysRole, PointerRole
from nubshift.model.writing import profile_text
from tests.support.profiles import four, made, sends

WALK = made(
    {"base": {"left_stick": four("W", "D", "S", "A")}, "run": {"left_stick": four("UP", "RIGHT", "DOWN", "LEFT")}}
)
AXES = ("south", "axis_1", "axis_2", "axis_3")


def test_the_keys_of_a_stick_fit_the_lever_of_an_arcade_stick() -> None:
    board = hardware_info("quarry", KnownMappings())
    (misfit,) = misfits(WALK, ("dpad_up", "dpad_right", "dpad_down", "dpad_left", *board.controls))
    assert (misfit.control, misfit.instead) == ("left_stick", "dpad")
    fitted = with_fitted(WALK, misfit)
    for layer in ("base", "run"):
        there = fitted.layer(layer).binding("dpad")  # type: ignore[union-attr]
        assert there is not None
        assert isinstance(there.role, KeysRole)
    assert misfits(fitted, ("dpad_up", "dpad_right", "dpad_down", "dpad_left")) == []
    assert parse_profile(profile_text(fitted), "file") == fitted


def test_a_lever_in_use_or_one_that_can_not_do_it_is_not_offered() -> None:
    lever = ("dpad_up", "dpad_right", "dpad_down", "dpad_left")
    used = made({"base": {"left_stick": four(), "dpad_left": "X"}})
    assert [misfit.instead for misfit in misfits(used, lever)] == [""]
    pointing = made({"base": {"left_stick": PointerRole()}})
    assert [misfit.instead for misfit in misfits(pointing, lever)] == [""]


def test_two_free_axes_that_go_both_ways_become_a_stick() -> None:
    (misfit,) = misfits(WALK, AXES, two_sided=("axis_2", "axis_3"))
    assert (misfit.instead, misfit.joined) == ("joined_stick_1", ("axis_2", "axis_3"))
    fitted = with_fitted(WALK, misfit)
    assert join_of(fitted, "axis_2") is not None
    assert misfits(fitted, AXES, two_sided=("axis_2", "axis_3")) == []
    assert parse_profile(profile_text(fitted), "file") == fitted
    (none,) = misfits(WALK, AXES, two_sided=("axis_2",))
    assert none.instead == ""


def test_each_is_offered_once_and_depths_only_where_there_is_a_depth() -> None:
    profile = made({"base": {"north": "A", "west": "B", "right_trigger": {"bands": (Band(0.3, sends("X")),)}}})
    found = {misfit.control: misfit.instead for misfit in misfits(profile, ("south", "left_trigger"))}
    assert found == {"north": "south", "west": "left_trigger", "right_trigger": ""}
