"""A button that shows a keyboard gets the layer it needs (N38)."""

from __future__ import annotations

from nubshift.engine.compile import compile_profile
from nubshift.model.controls import PAD_CONTROLS
from nubshift.model.on_screen_keyboard import board_layer, can_type, with_board
from nubshift.model.profile import Binding
from nubshift.model.roles import BoardRole
from tests.support.profiles import four, made

PLAY = made({"base": {"left_stick": four(), "south": "SPACE"}})


def test_a_stick_moves_and_a_button_types_which_does_nothing_else_there() -> None:
    profile, layer = with_board(PLAY, PAD_CONTROLS, "right_grip")
    assert board_layer(profile) == layer
    found = profile.layer(layer)
    assert found is not None
    stick = found.binding("left_stick")
    assert stick is not None
    assert isinstance(stick.role, BoardRole)
    assert stick.role.by == "south"
    assert found.binding("south") == Binding("south", blocked=True)
    compile_profile(profile)


def test_there_is_one_keyboard_however_many_buttons_show_it() -> None:
    profile, layer = with_board(PLAY, PAD_CONTROLS, "right_grip")
    assert with_board(profile, PAD_CONTROLS, "select") == (profile, layer)


def test_the_thumb_that_shows_it_does_not_have_to_move_or_type() -> None:
    for pressed, mover, by in (("left_stick_click", "right_stick", "south"), ("south", "left_stick", "right_bumper")):
        profile, layer = with_board(PLAY, PAD_CONTROLS, pressed)
        binding = profile.layer(layer).binding(mover)  # type: ignore[union-attr]
        assert binding is not None
        assert isinstance(binding.role, BoardRole)
        assert binding.role.by == by


def test_a_controller_with_nothing_to_move_with_is_offered_none() -> None:
    assert not can_type(("south", "east", "axis_1"), "east")
    assert can_type(("touch_pad", "east"), "east")  # the finger types when it leaves
    assert with_board(PLAY, ("south", "east"), "east") == (PLAY, "")
