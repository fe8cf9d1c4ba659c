"""A virtual pad of the real kernel, the runner between, its keyboard and mouse read back."""

from __future__ import annotations

import signal

from evdev import UInput
from evdev import ecodes as e

from kernel_path.nodes import PAD, Reader, Runner, find, press, until
from nubshift.devices.kernel import EvdevSource
from nubshift.outputs.uinput import UinputChannel
from nubshift.runner.inventory import Inventory
from nubshift.runner.stored import StoredControllers
from standins.port_users import check_channel, check_source


def beyond_keys(pad: UInput, mouse: Reader) -> None:
    """The wheel, the pointer and the virtual pad, as other programs see them."""
    mouse.read()
    mouse.seen.clear()
    press(pad, e.BTN_NORTH, 1)
    press(pad, e.BTN_NORTH, 0)

    def turned() -> list[tuple[int, int]]:
        return [(code, value) for _, code, value in mouse.read() if code in (e.REL_WHEEL_HI_RES, e.REL_WHEEL)]

    until(lambda: turned() == [(e.REL_WHEEL_HI_RES, 120), (e.REL_WHEEL, 1)], "a notch arrives")
    print("proven: a notch of the wheel, fine and whole")

    virtual = Reader("Nub Shift pad")
    assert virtual.device.info.bustype == e.BUS_VIRTUAL
    press(pad, e.BTN_TL, 1)
    pad.write(e.EV_ABS, e.ABS_RZ, 1023)
    pad.syn()
    press(pad, e.BTN_TL, 0)
    wanted = [(e.EV_KEY, e.BTN_SOUTH, 1), (e.EV_ABS, e.ABS_RZ, 1023), (e.EV_KEY, e.BTN_SOUTH, 0)]
    until(lambda: virtual.read() == wanted, f"{wanted} arrive on the virtual pad")
    print("proven: button and axis of the virtual pad")

    pointer = Reader("Nub Shift pointer")
    press(pad, e.BTN_TR, 1)
    press(pad, e.BTN_TR, 0)
    wanted = [(e.EV_ABS, e.ABS_X, 16384), (e.EV_ABS, e.ABS_Y, 49151)]
    until(lambda: pointer.read() == wanted, f"{wanted} arrive on the pointer")
    print("proven: the cursor on a point of the screen")


def ports() -> None:
    """What every channel and every source promises, of those of the kernel."""
    check_channel(UinputChannel())
    print("proven: the channel of the kernel keeps what the port promises")
    with UInput(PAD, name="Port Pad", vendor=0x1209, product=0xABCE):
        until(lambda: find("Port Pad") is not None, "the pad is there")
        there = Inventory(True, StoredControllers(), print, 0)
        (id_,) = (id_ for id_, info in there.infos.items() if info.name == "Port Pad")
        check_source(EvdevSource(there.devices[id_], there.mapped[id_], there.infos[id_]))
    print("proven: a source of the kernel keeps what the port promises")


def main(profile: str) -> None:
    ports()
    pad = UInput(PAD, name="Proof Pad", vendor=0x1209, product=0xABCD)
    other = Reader("Proof Pad")
    runner = Runner(profile)
    keyboard, mouse = Reader("Nub Shift keyboard"), Reader("Nub Shift mouse")

    def arrives(*wanted: tuple[int, int]) -> None:
        until(lambda: sorted(keyboard.keys() + mouse.keys()) == sorted(wanted), f"{wanted} arrive")
        keyboard.seen.clear()
        mouse.seen.clear()

    until(lambda: runner.times_found("Proof Pad") == 1, "the runner uses the pad")
    press(pad, e.BTN_SOUTH, 1)
    press(pad, e.BTN_SOUTH, 0)
    arrives((e.KEY_A, 1), (e.KEY_A, 0))
    print("proven: pad of the kernel -> runner -> virtual keyboard")

    other.read()
    other.seen.clear()
    pad.write(e.EV_ABS, e.ABS_X, 30000)
    pad.write(e.EV_ABS, e.ABS_Y, -30000)
    pad.write(e.EV_ABS, e.ABS_HAT0Y, -1)
    pad.write(e.EV_ABS, e.ABS_Z, 1023)
    pad.syn()
    arrives((e.KEY_UP, 1), (e.BTN_LEFT, 1), (e.KEY_W, 1), (e.KEY_D, 1))
    print("proven: d-pad, trigger on the virtual mouse, diagonal of a stick")
    assert other.read() == [], other.seen
    print("proven: another reader of the pad sees nothing (grabbed)")

    pad.write(e.EV_ABS, e.ABS_RX, 32767)
    pad.syn()
    until(lambda: mouse.moved() > 200, "the virtual mouse moves")
    pad.write(e.EV_ABS, e.ABS_RX, 0)
    pad.syn()
    print("proven: counts of the virtual mouse")

    beyond_keys(pad, mouse)
    mouse.seen.clear()
    pad.close()
    arrives((e.KEY_UP, 0), (e.BTN_LEFT, 0), (e.KEY_W, 0), (e.KEY_D, 0))
    print("proven: unplugged mid-press, everything is released")

    pad = UInput(PAD, name="Proof Pad", vendor=0x1209, product=0xABCD)
    until(lambda: runner.times_found("Proof Pad") == 2, "the runner uses the pad again")
    press(pad, e.BTN_EAST, 1)
    arrives((e.KEY_B, 1))
    print("proven: plugged in again, found without udev, played on")

    runner.process.send_signal(signal.SIGKILL)
    runner.process.wait()
    until(lambda: keyboard.keys().count((e.KEY_B, 0)) or keyboard.gone, "B is released")
    until(lambda: find("Nub Shift keyboard") is None, "the virtual keyboard is gone")
    print("proven: killed, the kernel removes the virtual devices and what they held")
