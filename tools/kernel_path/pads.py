"""A pad that the kernel's own driver takes, with motion, light and rumble; two at once."""

from __future__ import annotations

import json
import tempfile
from collections.abc import Callable
from pathlib import Path

from evdev import UInput, ff
from evdev import ecodes as e

from kernel_path.forked import command
from kernel_path.nodes import PAD, Reader, Runner, press, until
from nubshift.protocol.messages import Choose, Frame, SetLive, Show, Status
from standins.client import Talk
from standins.uhid_pad import MotionPad

SOUTH = 1 << 5


def seen_by_command() -> list[dict[str, object]]:
    """What ``nubshift devices`` says, real ones only."""
    rows = [json.loads(line) for line in command("devices", "--json").stdout.splitlines()]
    return [row for row in rows if not row.get("simulated")]


def joined_and_understood(pad: MotionPad) -> None:
    until(lambda: any(len(row["nodes"]) >= 3 for row in seen_by_command()), "the pad is there with its nodes")  # type: ignore[arg-type]
    (row,) = seen_by_command()
    assert row["name"] == pad.name, row
    assert {"south", "left_stick", "motion", "touch_pad", "touch_pad_click"} <= set(row["controls"]), row  # type: ignore[call-overload]
    assert row["how"] == "conventions", row
    assert all(row[what] for what in ("rumbles", "lights", "battery")), row
    print(f"proven: pad, motion and touch pad are one controller; battery {row['battery']}", flush=True)


def main(profile: str) -> None:
    pad = MotionPad()
    joined_and_understood(pad)
    socket = Path(tempfile.mkdtemp()) / "s" / "runner.sock"
    runner = Runner(profile, "--socket", str(socket))
    keyboard, mouse = Reader("Nub Shift keyboard"), Reader("Nub Shift mouse")
    until(lambda: runner.times_found(pad.name) >= 1, "the runner uses the pad")
    talk = Talk(socket)
    talk.wait(Status)

    def arrives(*wanted: tuple[int, int]) -> None:
        until(lambda: keyboard.keys() == list(wanted), f"{wanted} arrive")
        keyboard.seen.clear()

    pad.report(stamp=3000)
    pad.report(buttons=SOUTH, stamp=15000)
    pad.report(stamp=27000)
    arrives((e.KEY_A, 1), (e.KEY_A, 0))
    for number in range(40):  # 100 °/s to the right: the driver's axis upwards turns to the left
        pad.report(gyro=(0, -1600, 0), stamp=27000 + 12000 * number)
    until(lambda: mouse.moved() > 20, "turning the pad moves the mouse")
    print("proven: gyro of the kernel's driver, in degrees a second, moves the mouse to the right", flush=True)

    motion = Reader(f"{pad.name} Motion Sensors")
    motion.read()
    motion.seen.clear()
    pad.report(gyro=(3000, 0, 0), stamp=600000)
    talk.say(Show("nothing"))
    assert motion.read() == [], motion.seen
    print("proven: every node is hidden while live", flush=True)
    talk.say(SetLive(False))
    talk.wait(Status, live=False)
    pad.report(gyro=(100, 0, 0), buttons=SOUTH, stamp=612000)
    until(motion.read, "paused, the motion node is given back")
    pad.report(stamp=624000)
    talk.say(SetLive(True))
    until(lambda: last(talk, Status).live, "live again")
    print("proven: given back on pause", flush=True)

    until(lambda: pad.light == (125, 211, 180), "the profile's light arrives at the pad")
    print("proven: the light of the profile", flush=True)
    press_and_rumble(pad)
    game_rumbles(pad)
    pad = two_at_once(pad, talk, arrives)
    talk.close()
    lit = pad.light
    assert lit == (125, 211, 180), lit
    runner.process.terminate()
    runner.process.wait()
    until(lambda: pad.light != lit, "the light is given back at the end")
    print("proven: the light is as it was found when the runner ends", flush=True)
    pad.close()


def two_at_once(pad: MotionPad, talk: Talk, arrives: Callable[..., None]) -> MotionPad:
    """A second pad beside the first, which is pulled out and plugged in again: that one is given."""
    second = UInput(PAD, name="Second Proof Pad", vendor=0x1209, product=0xABCD)
    until(lambda: any(c.name == "Second Proof Pad" for c in last(talk, Status).controllers), "the second pad is seen")
    other = next(c for c in last(talk, Status).controllers if c.name == "Second Proof Pad")
    talk.say(Choose(other.id, "2"))
    until(lambda: last(talk, Status).seats.get("2") == other.id, "it takes the second seat")
    press(second, e.BTN_SOUTH, 1)
    arrives((e.KEY_B, 1))
    pad.report(buttons=SOUTH, stamp=900000)
    arrives((e.KEY_A, 1))
    print("proven: two at once, each in its seat", flush=True)
    pad.close()
    arrives((e.KEY_A, 0))
    press(second, e.BTN_SOUTH, 0)
    arrives((e.KEY_B, 0))
    print("proven: one pulled out mid-press lets go of its own only", flush=True)
    pad = MotionPad()
    until(
        lambda: last(talk, Status).controller and last(talk, Status).controller != other.id, "it finds its seat again"
    )
    pad.report(stamp=3000)
    pad.report(buttons=SOUTH, stamp=15000)
    arrives((e.KEY_A, 1))
    print("proven: plugged in again, it is back in its seat", flush=True)
    return pad


def last(talk: Talk, kind: type[Status]) -> Status:
    """The newest status, after hearing whatever came."""
    talk.socket.settimeout(0.05)
    try:
        while talk.hear():
            pass
    except TimeoutError:
        pass
    finally:
        talk.socket.settimeout(120)
    found = next(message for message in reversed(talk.heard) if isinstance(message, kind))
    talk.heard = [found, *(m for m in talk.heard[-3:] if isinstance(m, Frame))]
    return found


def press_and_rumble(pad: MotionPad) -> None:
    """A binding that rumbles."""
    pad.report(buttons=1 << 6, stamp=700000)
    until(lambda: max(pad.motors) > 100, "a binding rumbles the pad")
    pad.report(stamp=712000)
    until(lambda: max(pad.motors) == 0, "and it ends")
    print("proven: a binding's rumble arrives at the pad and ends", flush=True)


def game_rumbles(pad: MotionPad) -> None:
    """A game rumbles the virtual pad and forgets to end it."""
    virtual = Reader("Nub Shift pad").device
    kind = ff.EffectType(ff_rumble_effect=ff.Rumble(0xFFFF, 0))
    effect = virtual.upload_effect(ff.Effect(e.FF_RUMBLE, -1, 0, ff.Trigger(0, 0), ff.Replay(0, 0), kind))
    virtual.write(e.EV_FF, effect, 1)
    until(lambda: 100 < max(pad.motors) < 140, "half of the game's rumble reaches the hand")
    until(lambda: max(pad.motors) == 0, "and is cut off")
    virtual.erase_effect(effect)
    print("proven: the game's rumble reaches the hand, scaled and cut off", flush=True)
