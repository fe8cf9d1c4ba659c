"""Kernel events into normal form, report by report."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import pytest

from nubshift.devices.codes import AxisRange
from nubshift.devices.conventions import looks_like_pad, pad_inputs
from nubshift.devices.decode import Decoder

STICK = AxisRange(-32768, 32767)
TRIGGER = AxisRange(0, 255)
PAD_KEYS = [0x130, 0x131, 0x133, 0x134, 0x136, 0x137, 0x13A, 0x13B, 0x13C, 0x13D, 0x13E]
PAD_AXES = {0: STICK, 1: STICK, 3: STICK, 4: STICK, 2: TRIGGER, 5: TRIGGER, 16: AxisRange(-1, 1), 17: AxisRange(-1, 1)}


def decoder_of(keys: Sequence[int], axes: Mapping[int, AxisRange]) -> Decoder:
    return Decoder(pad_inputs(keys, axes), axes)


def pad() -> Decoder:
    return decoder_of(PAD_KEYS, PAD_AXES)


def test_a_report_is_one_change_a_control_up_to_syn() -> None:
    decoder = pad()
    assert decoder.event(3, 0, 32767) is None
    assert decoder.event(3, 1, -32768) is None
    assert decoder.event(1, 0x130, 1) is None
    assert decoder.event(0, 0, 0) == (("left_stick", 1.0, -1.0), ("south", 1.0, 0.0))
    assert decoder.event(0, 0, 0) == ()


def test_halves_are_scaled_on_their_own_and_triggers_rest_at_their_end() -> None:
    decoder = decoder_of(PAD_KEYS, PAD_AXES | {0: AxisRange(0, 255), 1: AxisRange(0, 255)})
    decoder.event(3, 0, 255)
    decoder.event(3, 2, 51)
    assert decoder.event(0, 0, 0) == (("left_stick", 1.0, 0.0), ("left_trigger", 0.2, 0.0))
    decoder.event(3, 0, 128)
    decoder.event(3, 1, 0)
    assert decoder.event(0, 0, 0) == (("left_stick", 0.0, -1.0),)


def test_an_axis_that_never_reported_is_at_rest_though_the_kernel_says_full_left() -> None:
    byte = AxisRange(0, 255)
    decoder = decoder_of(PAD_KEYS, {0: byte, 1: AxisRange(0, 255, 40), 2: byte, 3: AxisRange(-100, 100), 5: byte})
    standing = {name: (x, y) for name, x, y in decoder.state()}
    assert standing["left_stick"] == (0.0, pytest.approx(-88 / 128))  # what has reported is believed
    assert decoder.resync([], {0: 0, 1: 40, 2: 0}) == ()
    decoder.event(3, 0, 0)
    assert decoder.event(0, 0, 0) == (("left_stick", -1.0, pytest.approx(-88 / 128)),)
    decoder.event(3, 0, 128)
    decoder.event(0, 0, 0)
    assert decoder.resync([], {0: 0, 1: 40})[0][1] == -1.0  # now 0 is a value like others


def test_the_hat_is_four_buttons() -> None:
    decoder = pad()
    decoder.event(3, 16, -1)
    assert decoder.event(0, 0, 0) == (("dpad_left", 1.0, 0.0),)
    decoder.event(3, 16, 1)
    assert decoder.event(0, 0, 0) == (("dpad_left", 0.0, 0.0), ("dpad_right", 1.0, 0.0))


def test_what_is_held_at_the_start_is_known() -> None:
    decoder = decoder_of(PAD_KEYS, PAD_AXES | {2: AxisRange(0, 255, 255)})
    assert {name: x for name, x, _ in decoder.state()}["left_trigger"] == 1.0


def test_after_dropped_events_everything_is_passed_over_until_read_anew() -> None:
    decoder = pad()
    decoder.event(1, 0x130, 1)
    decoder.event(0, 0, 0)
    decoder.event(1, 0x131, 1)
    assert decoder.event(0, 3, 0) is None
    decoder.event(1, 0x133, 1)
    assert decoder.event(0, 0, 0) is None
    assert decoder.lost
    assert decoder.resync([0x134], {0: 32767}) == (("left_stick", 1.0, 0.0), ("south", 0.0, 0.0), ("west", 1.0, 0.0))
    assert not decoder.lost
    decoder.event(1, 0x134, 0)
    assert decoder.event(0, 0, 0) == (("west", 0.0, 0.0),)


def test_a_pad_without_rx_has_its_right_stick_on_z_and_triggers_on_the_pedals() -> None:
    axes = {0: STICK, 1: STICK, 2: STICK, 5: STICK, 9: TRIGGER, 10: TRIGGER}
    decoder = decoder_of(PAD_KEYS, axes)
    assert {"right_stick", "left_trigger", "right_trigger"} <= set(decoder.controls)
    decoder.event(3, 2, -32768)
    decoder.event(3, 9, 255)
    assert decoder.event(0, 0, 0) == (("right_stick", -1.0, 0.0), ("right_trigger", 1.0, 0.0))


def test_trigger_keys_count_only_where_there_is_no_trigger_axis() -> None:
    both = decoder_of([*PAD_KEYS, 0x138], PAD_AXES)
    both.event(1, 0x138, 1)
    assert both.event(0, 0, 0) == ()
    keys_only = decoder_of([*PAD_KEYS, 0x138], {0: STICK, 1: STICK})
    keys_only.event(1, 0x138, 1)
    assert keys_only.event(0, 0, 0) == (("left_trigger", 1.0, 0.0),)


def test_autorepeat_is_no_press_and_unknown_codes_are_passed_over() -> None:
    decoder = pad()
    decoder.event(1, 0x130, 2)
    decoder.event(1, 30, 1)
    decoder.event(3, 40, 7)
    assert decoder.event(0, 0, 0) == ()


def test_a_keyboard_is_no_pad() -> None:
    assert looks_like_pad(PAD_KEYS, PAD_AXES)
    assert not looks_like_pad(range(1, 248), [])
    assert not looks_like_pad([0x110, 0x111], [0, 1])
