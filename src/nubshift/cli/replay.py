"""``nubshift replay``: a take through a profile."""

from __future__ import annotations

import argparse
import sys
from pathlib import Path
from typing import assert_never

import msgspec

from nubshift.devices.take import read_take
from nubshift.engine.compile import compile_profile
from nubshift.engine.engine import Engine
from nubshift.engine.owner import outputs_of
from nubshift.events import NOTCH, Button, Key, LayerChange, Light, Motion, Output, Pad, Point, Rumble, Wheel
from nubshift.model.keys import label
from nubshift.model.neighbours import read_neighbours
from nubshift.model.store import read_profile
from nubshift.texts import _


def arguments(parser: argparse.ArgumentParser) -> None:
    """The words of this command."""
    parser.add_argument("take", metavar="TAKE", type=Path)
    parser.add_argument("profile", metavar="PROFILE", type=Path)
    parser.add_argument("--json", action="store_true", help=_("output events, one JSON object a line"))


def main(options: argparse.Namespace) -> int:
    """Print what the take sends. Everything is released at its end."""
    outputs = replay(options.take, options.profile)
    if options.json:
        encoder = msgspec.json.Encoder()
        sys.stdout.write("".join(encoder.encode(output).decode() + "\n" for output in outputs))
    else:
        sys.stdout.write("".join(f"{_sentence(output)}\n" for output in outputs))
    return 0


def replay(take: Path, profile: Path) -> list[Output]:
    """What a take sends through a profile, the release at its end included."""
    played = read_profile(profile)
    program = compile_profile(played, read_neighbours(played, profile.parent))
    for text in program.refused:
        print(f"nubshift replay: {text}", file=sys.stderr)
    engine = Engine(program)
    outputs: list[Output] = []
    end = 0
    for report in read_take(take):
        outputs += outputs_of(engine.feed(report))
        end = report.t
    return outputs + outputs_of(engine.release_all(end))


def _sentence(output: Output) -> str:
    seconds = f"{output.t / 1e6:10.4f} s  "
    match output:
        case Key(_, code, value) | Button(_, code, value):
            return f"{seconds}{label(code)} {'down' if value else 'up'}"
        case Motion(_, dx, dy):
            return f"{seconds}mouse {dx:+d} {dy:+d}"
        case LayerChange(_, code, value):
            return f"{seconds}layer {code} {'entered' if value else 'left'}"
        case Wheel(_, dx, dy):
            return f"{seconds}wheel {dx / NOTCH:+.2f} {dy / NOTCH:+.2f}"
        case Pad(_, code, value):
            return f"{seconds}pad {code} {value:.3g}"
        case Point(_, x, y, window):
            return _("{seconds}cursor {x:.1%} {y:.1%} of the {more}").format(
                seconds=seconds, x=x, y=y, more="window" if window else "screen"
            )
        case Rumble(_, code, value):
            return _("{seconds}rumble {value:.0%} (seat {code})").format(seconds=seconds, value=value, code=code)
        case Light(_, code, value):
            return _("{seconds}light {value} (seat {code})").format(seconds=seconds, value=value, code=code)
        case never:
            assert_never(never)
