"""Which nodes are one controller, and how its hardware is understood."""

from __future__ import annotations

from itertools import pairwise

import pytest
from msgspec.structs import replace

from nubshift.devices.codes import AxisRange
from nubshift.devices.conventions import could_be_controller
from nubshift.devices.decode import Decoder
from nubshift.devices.device_mapping import KnownMappings, map_device, read_hardware
from nubshift.devices.drivers import CORRECTIONS
from nubshift.devices.mapping_line import guid_of, inputs_of, line_of, parse_line, parse_lines
from nubshift.devices.nodes import Node, NodeUse, bits, joined
from nubshift.devices.senses import DotsSense, MotionSense, TouchSense
from nubshift.devices.stamps import LAPSE, WRAP, Stamps
from nubshift.errors import SourceError
from nubshift.model.controller_setup import ControllerSetup, InputMapping

BYTE, HAT, WIDE = AxisRange(0, 255, 128), AxisRange(-1, 1), AxisRange(-32768, 32767)
PAD_KEYS = (0x130, 0x131, 0x133, 0x134, 0x136, 0x137, 0x13A, 0x13B)
OLD_KEYS = tuple(range(0x120, 0x12A))
OLD_AXES = {0: BYTE, 1: BYTE, 2: BYTE, 5: BYTE, 16: HAT, 17: HAT}
MOTION_AXES = {code: AxisRange(-32768, 32767, 0, 8192 if code < 3 else 16) for code in range(6)}


def node(path: str, name: str, **more: object) -> Node:
    return Node(path, name, vendor=1, product=2, **more)  # type: ignore[arg-type]


PAD = node("/dev/input/event3", "Fern pad", uniq="aa:bb", keys=PAD_KEYS, axes={0: WIDE, 1: WIDE, 3: WIDE, 4: WIDE})
MOTION = node("/dev/input/event4", "Fern pad motion", uniq="aa:bb", axes=MOTION_AXES, properties=(6,), stamps=True)
TOUCH = node("/dev/input/event2", "Fern pad touch", uniq="aa:bb", keys=(0x110, 0x14A), axes={0: WIDE, 1: WIDE})


def test_the_nodes_of_one_piece_are_one_controller_the_pad_first() -> None:
    other = node("/dev/input/event5", "Fern pad", uniq="cc:dd", keys=PAD_KEYS, axes={0: WIDE, 1: WIDE})
    first, second = joined([TOUCH, PAD, MOTION, other])
    assert [n.use for n in first.nodes] == [NodeUse.PAD, NodeUse.MOTION, NodeUse.TOUCH]
    assert first.id == "evdev:/dev/input/event3"
    assert first.model == second.model
    assert first.key != second.key


def test_nodes_without_a_number_are_joined_by_their_plug_and_else_by_the_hardware() -> None:
    pad = {"keys": PAD_KEYS, "axes": {0: WIDE, 1: WIDE}}
    motion = {"axes": MOTION_AXES, "properties": (6,)}
    usb = [
        node(f"/dev/input/event{n}", "Fern pad", phys=f"usb-1/input{n}", **kind) for n, kind in ((1, pad), (2, motion))
    ]
    assert len(joined(usb)) == 1
    place = "/sys/devices/pci/0003:0001.0002/input/input{}"
    hid = [
        node(f"/dev/input/event{n}", "Fern pad", place=place.format(n), **kind) for n, kind in ((1, pad), (2, motion))
    ]
    assert len(joined(hid)) == 1
    made = [
        node(f"/dev/input/event{n}", "Fern pad", phys="a program", place=f"/sys/devices/virtual/input/input{n}")
        for n in (1, 2)
    ]
    assert len(joined(made)) == 2


@pytest.mark.parametrize(
    ("keys", "axes", "tagged", "use"),
    [
        (tuple(range(1, 120)), {}, None, NodeUse.OTHER),
        ((0x110, 0x111), {}, None, NodeUse.OTHER),
        ((0x140, 0x14A), {0: WIDE, 1: WIDE}, None, NodeUse.TOUCH),
        ((0x120, 0x121), {}, None, NodeUse.PAD),
        ((0x120, 0x121), {}, False, NodeUse.OTHER),
        ((30,), {0: WIDE}, True, NodeUse.PAD),
        ((0x2C0, 0x2C1), {}, None, NodeUse.PAD),
        ((), {code: AxisRange(0, 1023, 1023) for code in range(16, 24)}, None, NodeUse.POINTER),
        ((), {3: WIDE, 4: WIDE, 5: WIDE}, None, NodeUse.MOTION),
    ],
)
def test_what_a_node_is_for(
    keys: tuple[int, ...], axes: dict[int, AxisRange], tagged: bool | None, use: NodeUse
) -> None:
    assert node("/dev/input/event1", "x", keys=keys, axes=axes, tagged=tagged).use is use


def test_a_tablet_is_no_controller() -> None:
    assert not could_be_controller((0x100, 0x120, 0x140, 0x14A), (0, 1))


def test_the_words_of_sysfs() -> None:
    assert bits("1 8000000000000000") == (63, 64)
    assert bits("0") == ()


def test_the_order_of_what_counts() -> None:
    (device,) = joined([node("/dev/input/event1", "Old pad", keys=OLD_KEYS, axes=OLD_AXES)])
    assert map_device(device, KnownMappings()).how == "guess"
    line = parse_line(f"{guid_of(0, 1, 2, 0)},Old pad,a:b2,leftx:a0,lefty:a1,platform:Linux,")
    by_line = map_device(device, KnownMappings(lines=[line]))
    assert by_line.how == "line"
    assert InputMapping("south", "key", 0x122) in by_line.inputs
    taught = ControllerSetup(device.model, (InputMapping("west", "key", 0x120),))
    assert map_device(device, KnownMappings({device.model: taught}, [line])).how == "taught"
    (pad,) = joined([PAD])
    line = parse_line(f"{guid_of(0, 1, 2, 0)},x,a:b1")
    assert map_device(pad, KnownMappings(lines=[line])).how == "line"
    assert map_device(pad, KnownMappings()).how == "conventions"
    (known,) = joined([replace(PAD, driver="xpad")])
    assert map_device(known, KnownMappings(lines=[line])).how == "corrected"


def test_what_is_uncertain_is_said() -> None:
    z_pad = read_hardware("m", PAD_KEYS, {0: BYTE, 1: BYTE, 2: BYTE, 5: BYTE}, KnownMappings())
    assert "right stick" in z_pad.uncertain[0]
    more = read_hardware("m", (*PAD_KEYS, 0x132, 0x135), {0: BYTE, 1: BYTE, 3: BYTE, 4: BYTE, 6: BYTE}, KnownMappings())
    assert more.uncertain == ("2 buttons and 1 axis only have a number.",)
    assert {"button_1", "button_2", "axis_1"} <= {input_.control for input_ in more.inputs}
    assert "only have numbers" in read_hardware("m", OLD_KEYS, OLD_AXES, KnownMappings()).uncertain[0]
    gone = ControllerSetup("m", (InputMapping("south", "key", 0x2C9),))
    assert read_hardware("m", OLD_KEYS, OLD_AXES, KnownMappings({"m": gone})).uncertain


LINE = (
    "03000000010000000200000000000000,Old pad,a:b1,b:b2,back:b8,dpdown:h0.4,dpleft:h0.8,dpright:h0.2,dpup:h0.1,"
    "lefttrigger:a2~,leftx:a0,lefty:a1~,rightshoulder:+a3,start:b9,platform:Linux,"
)


def test_a_mapping_line_is_read_as_it_says() -> None:
    inputs, troubles = inputs_of(parse_line(LINE), OLD_KEYS, OLD_AXES)
    assert not troubles
    decoder = Decoder(inputs, OLD_AXES)

    def after(kind: int, code: int, value: int) -> dict[str, tuple[float, float]]:
        decoder.event(kind, code, value)
        return {name: (x, y) for name, x, y in decoder.event(0, 0, 0) or ()}

    assert after(1, 0x121, 1) == {"south": (1, 0)}
    assert after(3, 17, -1) == {"dpad_up": (1, 0)}
    assert after(3, 17, 1) == {"dpad_up": (0, 0), "dpad_down": (1, 0)}
    assert after(3, 1, 255) == {"left_stick": (0, -1)}
    assert after(3, 2, 0) == {"left_trigger": (1, 0)}
    assert after(3, 2, 255) == {"left_trigger": (0, 0)}
    assert after(3, 5, 255) == {"right_bumper": (1, 0)}
    assert after(3, 5, 0) == {"right_bumper": (0, 0)}


def test_a_mapping_line_is_written_as_it_was_read() -> None:
    line = parse_line(LINE)
    inputs, _ = inputs_of(line, OLD_KEYS, OLD_AXES)
    assert line_of(line.guid, line.name, inputs, OLD_KEYS, OLD_AXES) == LINE


def test_what_a_line_has_and_the_device_not_is_said() -> None:
    _, troubles = inputs_of(parse_line(LINE.replace("b:b2", "b:b40")), OLD_KEYS, OLD_AXES)
    assert troubles == ["b:b40 names something that this device has not"]


@pytest.mark.parametrize("text", ["", "hello", "zz,a,b:b1", "0300,pad,a:b0", f"{'0' * 32},pad,a"])
def test_a_bad_line_is_told(text: str) -> None:
    with pytest.raises(SourceError, match="line"):
        parse_line(text)


def test_a_file_of_lines_for_several_systems() -> None:
    text = f"# a comment\n\n{LINE}\n{LINE.replace('Linux', 'Elsewhere')}\nnonsense\n"
    lines, troubles = parse_lines(text)
    assert len(lines) == 1
    assert troubles[0].startswith("line 5: ")


def test_motion_comes_in_degrees_a_second_and_g_in_our_axes() -> None:
    motion = MotionSense(MOTION_AXES)
    for code, value in ((3, 160), (4, -320), (5, 1600), (0, 0), (1, 8192), (2, -4096)):
        motion.event(3, code, value)
    changes = {name: (x, y) for name, x, y in motion.event(0, 0, 0) or ()}
    assert changes["motion"] == (20.0, -10.0)  # the driver's turn to the left is negative for us, nod up too
    assert changes["motion_lean"][0] == -100.0
    assert changes["gravity"] == (0.0, 1.0)
    assert changes["gravity_z"][0] == -0.5


def test_a_touch_pad_tells_the_finger_and_its_click() -> None:
    touch = TouchSense({0: AxisRange(0, 1920), 1: AxisRange(0, 1080)})
    for event in ((1, 0x14A, 1), (3, 0, 1920), (3, 1, 540), (1, 0x110, 1)):
        touch.event(*event)
    assert touch.event(0, 0, 0) == (
        ("touch_pad", 1.0, 0.0),
        ("touch_pad_touched", 1.0, 0.0),
        ("touch_pad_click", 1.0, 0.0),
    )


def test_the_pointer_follows_two_dots_carries_on_with_one_and_freezes_without() -> None:
    dots = DotsSense({code: AxisRange(0, 1023, 1023) for code in range(16, 20)})

    def see(*values: int) -> tuple[tuple[float, float], float]:
        for code, value in zip(range(16, 20), values, strict=True):
            dots.event(3, code, value)
        (_, x, y), (_, seen, _) = dots.event(0, 0, 0) or ()
        return (round(x, 2), round(y, 2)), seen

    assert see(300, 500, 500, 500) == ((0.22, 0.02), 1.0)
    assert see(310, 500, 1023, 1023) == ((0.2, 0.02), 1.0)
    assert see(1023, 1023, 1023, 1023) == ((0.2, 0.02), 0.0)


def test_the_devices_own_clock_steadies_the_time_of_reports() -> None:
    stamps = Stamps()
    delays = [900, 300, 700, 300, 1500, 400]
    times = [stamps.time(4000 * n + WRAP - 9000, 50_000 + 4000 * n + delay) for n, delay in enumerate(delays)]
    assert [b - a for a, b in pairwise(times[1:])] == [4000] * 4
    assert all(t <= 50_000 + 4000 * n + delay for n, (t, delay) in enumerate(zip(times, delays, strict=True)))
    later = stamps.time(5, 60_000 + 10 * LAPSE)
    assert later == 60_000 + 10 * LAPSE


# What drivers say otherwise


KNOWN = [("xpad", 3, 0x1234), ("hid-steam", 3, 0x1234), ("microsoft", 5, 0x045E), ("hid-generic", 5, 0x045E)]


@pytest.mark.parametrize(("driver", "bus", "vendor"), KNOWN)
def test_a_position_is_where_the_thumb_finds_it_whatever_the_driver_calls_it(
    driver: str, bus: int, vendor: int
) -> None:
    (pad,) = joined([replace(PAD, driver=driver, bus=bus, vendor=vendor)])
    found = map_device(pad, KnownMappings())
    assert found.how == "corrected"
    assert "left and the upper" in found.correction
    codes = {input_.control: input_.code for input_ in found.inputs}
    assert (codes["west"], codes["north"]) == (0x133, 0x134)
    assert len({input_.code for input_ in found.inputs if input_.source == "key"}) == len(PAD_KEYS)


@pytest.mark.parametrize(
    ("driver", "bus", "vendor"),
    [("playstation", 3, 1), ("nintendo", 5, 1), ("", 3, 0x045E), ("hid-generic", 3, 0x045E)],
)
def test_drivers_that_keep_to_the_conventions_are_left_alone(driver: str, bus: int, vendor: int) -> None:
    (pad,) = joined([replace(PAD, driver=driver, bus=bus, vendor=vendor)])
    found = map_device(pad, KnownMappings())
    assert (found.how, found.correction) == ("conventions", "")
    assert {input_.control: input_.code for input_ in found.inputs}["west"] == 0x134


def test_every_correction_says_where_it_was_read() -> None:
    assert all(known.source.startswith("drivers/") and known.text for known in CORRECTIONS)


def test_a_receivers_d_pad_is_one_d_pad() -> None:
    keys = (*PAD_KEYS, 0x2C0, 0x2C1, 0x2C2, 0x2C3)
    hat = {0: WIDE, 1: WIDE, 16: HAT, 17: HAT}
    (pad,) = joined([replace(PAD, driver="xpad", keys=keys, axes=hat)])
    controls = [input_.control for input_ in map_device(pad, KnownMappings()).inputs]
    assert controls.count("dpad_up") == 1
    assert not any(control.startswith("button_") for control in controls)


def test_pads_behind_one_plug_are_controllers_of_their_own() -> None:
    place = "/sys/devices/usb1/1-1/1-1:1.{}/input/input{}"
    receiver = [
        replace(PAD, path=f"/dev/input/event{n}", uniq="", phys=f"usb-1/input{n}", place=place.format(n, n))
        for n in (2, 4)
    ]
    motion = replace(MOTION, path="/dev/input/event5", uniq="", phys="usb-1/input4", place=place.format(4, 9))
    first, second = joined([*receiver, motion])
    assert [n.path for n in first.nodes] == ["/dev/input/event2"]
    assert [n.path for n in second.nodes] == ["/dev/input/event4", "/dev/input/event5"]
    assert first.key != second.key
    assert all(map_device(device, KnownMappings()).inputs for device in (first, second))
    split = [
        replace(PAD, path=f"/dev/input/event{n}", uniq="", phys="usb-1/input0", place=place.format(0, n))
        for n in (2, 3)
    ]
    assert len({device.key for device in joined(split)}) == 2  # an adapter that the kernel splits


def test_hats_with_a_depth_are_triggers_and_bumpers() -> None:
    keys = (0x130, 0x131, 0x133, 0x134)
    axes = {0: WIDE, 1: WIDE, 3: WIDE, 4: WIDE, 18: BYTE, 19: BYTE, 20: BYTE, 21: BYTE}
    found = read_hardware("m", keys, axes, KnownMappings())
    codes = {input_.control: input_.code for input_ in found.inputs}
    assert (codes["left_trigger"], codes["right_trigger"]) == (21, 20)
    assert (codes["left_bumper"], codes["right_bumper"]) == (19, 18)
    assert found.uncertain == ()


def test_a_touch_area_reported_as_a_hat_presses_no_d_pad_and_is_not_lost() -> None:
    keys = (*PAD_KEYS, 0x220, 0x221, 0x222, 0x223)
    found = read_hardware("m", keys, {0: WIDE, 1: WIDE, 3: WIDE, 4: WIDE, 16: WIDE, 17: WIDE}, KnownMappings())
    assert [input_.code for input_ in found.inputs if input_.control.startswith("dpad")] == [0x220, 0x221, 0x222, 0x223]
    assert [input_.code for input_ in found.inputs if input_.control.startswith("axis_")] == [16, 17]
    assert found.uncertain == ("2 axes only have a number.",)


def test_further_hats_of_a_joystick_are_numbered_axes() -> None:
    found = read_hardware("m", OLD_KEYS, {**OLD_AXES, 18: HAT, 19: HAT}, KnownMappings())
    assert {input_.code for input_ in found.inputs if input_.control.startswith("axis_")} == {2, 5, 18, 19}


def test_a_twist_that_never_reported_goes_both_ways() -> None:
    fresh = AxisRange(0, 255)
    found = read_hardware("m", OLD_KEYS, {0: fresh, 1: fresh, 5: fresh, 6: fresh}, KnownMappings())
    rests = {input_.code: input_.rest for input_ in found.inputs if input_.control.startswith("axis_")}
    assert rests == {5: 128, 6: 0}  # a twist in the middle, a throttle at its end


def test_a_report_of_motion_without_a_change_is_one_all_the_same() -> None:
    sense = MotionSense(MOTION_AXES)
    sense.event(3, 4, -1600)
    first, again = sense.event(0, 0, 0), sense.event(0, 0, 0)  # of the second only the time was new
    assert first == again
    assert ("motion", 100.0, 0.0) in (first or ())
    assert TouchSense({0: BYTE, 1: BYTE}).event(0, 0, 0) == ()
