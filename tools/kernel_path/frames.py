"""Turns of 60° about each axis, through each of the kernel's own drivers with motion.

Reports are sent as fast as the machine can; angles are counted by the stamps of the driver, or by the length of a report where
it gives none.
"""

from __future__ import annotations

import select
import time
from collections.abc import Callable

from kernel_path.nodes import until
from nubshift.devices.codes import EV_MSC, MSC_TIMESTAMP
from nubshift.devices.device_mapping import DeviceMapping, KnownMappings, map_device
from nubshift.devices.discovery import devices, info_of
from nubshift.devices.kernel import EvdevSource
from nubshift.devices.nodes import Device
from standins.uhid_kinds import OlderMotionPad, PairPad, Remote
from standins.uhid_pad import MotionPad, Turn, UhidDevice

SAMPLE = 5000
"""The drivers' time between samples where a report has three, in µs."""
AXES = ("turn right", "nod down", "lean right")
LONG = 600_000
"""Of a turn, in µs."""
Send = Callable[[Turn, int], None]


def plugged(pad: UhidDevice) -> Device:
    """The device that the kernel made of it, when all its nodes are there."""
    found: list[Device] = []

    def there() -> bool:
        found[:] = [d for d in devices() if d.main.vendor == pad.vendor and d.main.product == pad.product]
        if len(found) != 1 or found[0].main.has_gyro:  # its sensor's node may come before the pad's own
            return False
        return any(node.has_gyro for node in found[0].nodes)

    until(there, f"the nodes of {pad.name} are there, as one controller")
    return found[0]


def opened(device: Device, sideways: bool = False) -> EvdevSource:
    mappings = KnownMappings(sideways=frozenset([device.key] if sideways else ()))
    found = map_device(device, mappings)
    source = EvdevSource(device, found, info_of(device, found))
    source.listen(True)
    return source


def read(source: EvdevSource) -> list[dict[str, tuple[float, float]]]:
    """The reports of its gyro that are there, or come within a second."""
    select.select(source.filenos(), [], [], 1)
    return [
        {name: (x, y) for name, x, y in changes}
        for _, changes in source.read(time.monotonic_ns() // 1000)
        if changes[0][0] == "motion"
    ]


def reports(source: EvdevSource, wanted: int) -> list[dict[str, tuple[float, float]]]:
    """The next reports of its gyro."""
    found: list[dict[str, tuple[float, float]]] = []

    def there() -> bool:
        found.extend(read(source))
        return len(found) >= wanted

    until(there, f"{wanted} reports of the gyro are read")
    return found


def begun(source: EvdevSource, send: Send, gyro: Turn, samples: int) -> int:
    """Turn it until that is read, and what was sent before is; the number of the last report.

    A driver that has just been asked for motion may let the first reports pass.
    """
    number = moving = 0

    def turned() -> bool:
        nonlocal number, moving
        found = read(source)
        moving += sum(any(map(abs, (*report["motion"], *report["motion_lean"]))) for report in found)
        if not found:
            number += 3  # reports of three samples are sent at each third
            send(gyro, number)
        return moving >= samples

    until(turned, "a turn is read")
    return number


def angles(source: EvdevSource, send: Send, gyro: Turn, each: int) -> tuple[float, ...]:
    """By how many degrees a steady turn went right, down and over, in as many reports of `each` µs as it is long.

    How long they were is counted by the driver's stamps, where it gives any.
    """
    samples = 3 if each == SAMPLE else 1
    send((0, 0, 0), 0)  # the driver's first report is no measure of time
    first = begun(source, send, gyro, samples) + 3
    source.heard()
    said = []
    for number in range(LONG // each):
        send(gyro, first + number)
        said += reports(source, samples) if number % samples == 0 else []
    stamps = [value for _, _, kind, code, value in source.heard() if (kind, code) == (EV_MSC, MSC_TIMESTAMP)]
    own = stamps and each != SAMPLE  # the driver with three samples stamps them by when they arrived, not by the pad
    step = (stamps[-1] - stamps[0]) / (len(stamps) - 1) if own else each
    seconds = step * len(said) / 1e6
    turn, nod = said[-1]["motion"]
    return tuple(rate * seconds for rate in (turn, nod, said[-1]["motion_lean"][0]))


def prove(what: str, source: EvdevSource, send: Send, turns: tuple[Turn, Turn, Turn], each: int) -> None:
    """A hundred degrees a second about each axis in turn, for 0.6 s."""
    for axis, (name, gyro) in enumerate(zip(AXES, turns, strict=True)):
        found = angles(source, send, gyro, each)
        wanted = [60.0 if number == axis else 0.0 for number in range(3)]
        wrong = max(abs(a - b) for a, b in zip(found, wanted, strict=True))
        assert wrong < 1.5, f"{what}, {name}: {found}, not {wanted}"
    print(f"proven: {what}: 60° right, down and over are 60°", flush=True)


def stick_and_motion(device: Device, source: EvdevSource, gravity: tuple[float, float, float]) -> None:
    """Lying flat, it feels the pull of the earth downwards."""
    state = {name: (x, y) for name, x, y in source.state()}
    found = (*state["gravity"], state["gravity_z"][0])
    assert all(abs(a - b) < 0.02 for a, b in zip(found, gravity, strict=True)), (device.main.name, found)


def names(found: DeviceMapping) -> set[str]:
    return {input_.control for input_ in found.inputs}


def pairs() -> None:
    """Both halves and the whole of the driver nintendo."""
    rate = 1425
    upright = {
        PairPad.WHOLE: ((0, 0, -rate), (0, rate, 0), (rate, 0, 0)),
        PairPad.LEFT: ((0, 0, -rate), (0, rate, 0), (rate, 0, 0)),
        PairPad.RIGHT: ((0, 0, rate), (0, -rate, 0), (rate, 0, 0)),
    }
    sideways = {
        PairPad.LEFT: ((0, 0, -rate), (rate, 0, 0), (0, -rate, 0)),
        PairPad.RIGHT: ((0, 0, rate), (-rate, 0, 0), (0, -rate, 0)),
    }
    for kind, turns in upright.items():
        pad = PairPad(kind)
        pull = (0, 0, -4096 if kind == PairPad.RIGHT else 4096)

        def send(gyro: Turn, number: int, pad: PairPad = pad, pull: Turn = pull) -> None:
            if number % 3 == 0:  # each of its reports has three samples
                pad.turn(gyro, pull)

        device = plugged(pad)
        found = map_device(device, KnownMappings())
        half = {PairPad.LEFT: "left", PairPad.RIGHT: "right"}.get(kind, "")
        assert (found.how, found.half) == ("conventions", half), found
        source = opened(device)
        prove(f"{device.main.name}, upright" if half else device.main.name, source, send, turns, SAMPLE)
        stick_and_motion(device, source, (0.0, 1.0, 0.0))
        source.close()
        if half:
            assert {f"{half}_stick", f"{half}_bumper", f"{half}_trigger", f"{half}_grip", "motion"} <= {
                *names(found),
                *info_of(device, found).controls,
            }
            source = opened(device, sideways=True)
            prove(f"{device.main.name}, sideways", source, send, sideways[kind], SAMPLE)
            press_sideways(pad, source)
            source.close()
        pad.close()
        until(lambda pad=pad: not [d for d in devices() if d.main.product == pad.product], "it is gone")  # type: ignore[misc]


def press_sideways(pad: PairPad, source: EvdevSource) -> None:
    """The button that lies under the thumb at the right is the right one."""
    pad.press(1 << 16 if pad.kind == PairPad.LEFT else 1 << 1)  # printed: down, and the upper one
    until(
        lambda: any(
            change == ("east", 1.0, 0.0)
            for _, changes in source.read(time.monotonic_ns() // 1000)
            for change in changes
        ),
        "the right button is pressed",
    )
    pad.press(0)


def remote() -> None:
    """The driver wiimote, whose gyro is an axis each for yaw, roll and pitch."""
    pad = Remote()
    device = plugged(pad)
    found = map_device(device, KnownMappings())
    assert (found.how, found.shape) == ("corrected", "remote"), found
    assert {"south", "right_trigger", "dpad_up", "start", "select"} <= names(found)
    assert {"motion", "pointer", "pointer_seen"} <= set(info_of(device, found).controls), device
    source = opened(device)
    until(lambda: pad.mode in (0x32, 0x34, 0x35, 0x37), "its gyro is asked for")
    slow = 1862  # 8192 / 440 units a °/s

    def send(gyro: Turn, number: int) -> None:  # a report in which nothing changed carries no event, nor a stamp
        pad.turn(*(value + number % 2 for value in gyro))

    prove(device.main.name, source, send, ((-slow, 0, 0), (0, 0, slow), (0, -slow, 0)), 12_000)
    source.close()
    pad.close()


def main(_profile: str) -> None:
    newer = MotionPad()
    device = plugged(newer)
    source = opened(device)
    turns = ((0, -1600, 0), (-1600, 0, 0), (0, 0, -1600))
    prove(device.main.driver, source, lambda gyro, n: newer.report(gyro=gyro, stamp=36_000 * n), turns, 12_000)
    stick_and_motion(device, source, (0.0, 1.0, 0.0))
    source.close()
    newer.close()
    older = OlderMotionPad()
    device = plugged(older)
    source = opened(device)
    prove(device.main.driver, source, lambda gyro, n: older.turn(gyro, 2250 * n), turns, 12_000)
    source.close()
    older.close()
    pairs()
    remote()
