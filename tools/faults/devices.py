"""Controllers that misbehave, through the whole runner by a played clock: one that floods, that stops in the middle of a
report, that lies about its ranges, that says what it is not, that drops events again and again, and whose clock jumps.

    python tools/faults devices --count 2000 --seed 7

After each it rests, and a moment later nothing may be down; what it presses after that must become a key again.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable
from random import Random

from faults.played import MOTION, PAD, Heard, PlayedRunner, packed
from faults.soak import profile
from nubshift.cli.bench_runner import BUTTONS
from nubshift.devices.codes import ABS_RX, ABS_RY, ABS_X, ABS_Y, EV_ABS, EV_KEY, EV_MSC, EV_SYN, MSC_TIMESTAMP
from nubshift.devices.kernel import EVENT
from nubshift.model.keys import KEYS

SYN_DROPPED = 3
STICKS = (ABS_X, ABS_Y, ABS_RX, ABS_RY)
MOST = 2**31 - 1
QUIET = 2_500_000
"""µs after which nothing may be down: a tap, a gesture that waits, and what waits in the sink are over."""
TOO_MANY = 2_000
"""Turns of the loop within that: more would be a loop that never rests."""
Event = tuple[int, int, int]


def _some(random: Random) -> list[Event]:
    events: list[Event] = [(EV_ABS, code, random.randint(-32768, 32767)) for code in random.sample(STICKS, 2)]
    return [*events, (EV_KEY, random.choice(BUTTONS), random.randint(0, 1))]


def _flood(random: Random, runner: PlayedRunner) -> None:
    """More than can be read at once, at the same moment."""
    for _unused in range(random.randint(20, 400)):
        runner.report(packed(_some(random), runner.now), random.choice((PAD, PAD, MOTION)))


def _stop_in_the_middle(random: Random, runner: PlayedRunner) -> None:
    """A report without an end."""
    for _unused in range(random.randint(1, 5)):
        runner.report(packed(_some(random), runner.now)[: -EVENT.size])


def _lie(random: Random, runner: PlayedRunner) -> None:
    """Values outside what it said, of axes and keys that it has not, and of kinds that there are not."""
    wild = (-MOST, MOST, 0, 70_000, -1)
    for _unused in range(random.randint(1, 30)):
        events = [
            (random.choice((EV_ABS, EV_KEY, EV_MSC, 2, 5, 0x15, 31)), random.randrange(0, 0x2FF), random.choice(wild)),
            *_some(random),
        ]
        runner.report(packed(events, runner.now), random.choice((PAD, MOTION)))


def _drop(random: Random, runner: PlayedRunner) -> None:
    """The kernel lost events, again before it was read anew; now in the middle of a report, now at its end."""
    for _unused in range(random.randint(1, 40)):
        events = _some(random)
        events.insert(random.randrange(len(events) + 1), (EV_SYN, SYN_DROPPED, 0))
        runner.report(packed(events, runner.now), random.choice((PAD, MOTION)))


def _jump(random: Random, runner: PlayedRunner) -> None:
    """Stamps from long ago and from far ahead, and the device's own that go backwards."""
    for _unused in range(random.randint(1, 30)):
        when = max(0, runner.now + random.choice((-3_600_000_000, -50_000, 0, 900, 50_000, 3_600_000_000)))
        runner.report(packed(_some(random), when))
        stamp = (EV_MSC, MSC_TIMESTAMP, random.choice((0, MOST, -1, random.randrange(MOST))))
        runner.report(packed([(EV_ABS, ABS_RX, random.randint(-9000, 9000)), stamp], when), MOTION)


def _repeat(random: Random, runner: PlayedRunner) -> None:
    """The same press, release and repeat of the kernel over and over."""
    button = random.choice(BUTTONS)
    for _unused in range(random.randint(5, 80)):
        runner.report(packed([(EV_KEY, button, random.choice((0, 1, 1, 2, 7)))], runner.now))


WAYS: dict[str, Callable[[Random, PlayedRunner], None]] = {
    "floods": _flood,
    "stops in the middle": _stop_in_the_middle,
    "lies": _lie,
    "drops": _drop,
    "jumps": _jump,
    "repeats": _repeat,
}


def attack(seed: int, count: int) -> tuple[Counter[str], list[str]]:
    """Misbehave so often. Returns how often in which way, and the faults."""
    random, heard = Random(seed), Heard()
    counts: Counter[str] = Counter()
    faults: list[str] = []
    with PlayedRunner(profile(), heard, lambda _runner: QUIET) as runner:
        for number in range(count):
            way = random.choice(list(WAYS))
            counts[way] += 1
            for _unused in range(random.randint(1, 4)):
                WAYS[way](random, runner)
                runner.turn()
            place = f"#{number} ({way})"
            faults += _after(runner, heard, place)
            faults += [f"{place}: {fault}" for fault in heard.faults]
            heard.faults.clear()
    return counts, faults


def _after(runner: PlayedRunner, heard: Heard, place: str) -> list[str]:
    """Hands off, then one press: what is not as it should be."""
    runner.report(packed([], runner.now))  # what it was in the middle of ends
    _rest(runner)
    if not _quiet(runner):
        return [f"{place}: the loop never rests"]
    if heard.held:
        return [f"{place}: still down: {heard.held}"]
    before = heard.downs[KEYS["A"].code]
    for value in (1, 0):
        runner.report(packed([(EV_KEY, BUTTONS[0], value)], runner.now))
        if not _quiet(runner):
            return [f"{place}: the loop never rests"]
    pressed = heard.downs[KEYS["A"].code] - before
    return [] if pressed == 1 and not heard.held else [f"{place}: a press became {pressed} keys"]


def _rest(runner: PlayedRunner) -> None:
    up: list[Event] = [(EV_KEY, button, 0) for button in BUTTONS]
    runner.report(packed([*up, *((EV_ABS, code, 0) for code in STICKS)], runner.now))


def _quiet(runner: PlayedRunner) -> bool:
    """Let time pass until everything that takes its time is over; False if that takes too many turns."""
    end = runner.now + QUIET
    for _unused in range(TOO_MANY):
        runner.turn()
        if runner.now >= end:
            return True
    return False
