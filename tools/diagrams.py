"""The timing diagrams of docs/engine.md, made from real replays: ``python tools/diagrams.py [FOLDER]``.

Each scene is a profile and what a finger does. The engine plays it; the picture shows the finger as a round lane and
each thing sent as a square one.
"""

from __future__ import annotations

import sys
from collections.abc import Iterator
from dataclasses import dataclass, field
from html import escape
from pathlib import Path
from typing import Any

from msgspec.structs import replace

from nubshift.app.painting.theme import DAY
from nubshift.engine.compile import compile_profile
from nubshift.engine.engine import Engine
from nubshift.engine.owner import outputs_of
from nubshift.events import NOTCH, Button, Key, LayerChange, Motion, Output, Pad, Report, Wheel
from nubshift.model.controls import CONTROLS, Kind
from nubshift.model.keys import label
from nubshift.model.profile import (
    Band,
    Belt,
    BeltEntry,
    Binding,
    Command,
    Layer,
    Macro,
    MacroPress,
    MacroTap,
    MacroWait,
    Profile,
    Together,
    new_profile,
)
from nubshift.model.sends import (
    ChangeLayer,
    HoldLayer,
    InOrder,
    Pulsed,
    Send,
    SendBelt,
    SendCommand,
    SendKey,
    SendMacro,
    Toggled,
    Turbo,
)
from nubshift.units import MILLISECOND

FOLDER = Path("docs/diagrams")
WIDTH, LEFT, RIGHT, ROW, TOP, BAR = 760, 150, 20, 30, 34, 14
FINGERS = {
    "south": "lower button",
    "east": "right button",
    "west": "left button",
    "north": "upper button",
    "left_trigger": "left trigger",
    "left_stick": "left stick",
    "left_bumper": "left bumper",
}


@dataclass
class Scene:
    """One diagram: its file, its profile, and what the fingers do as ``(ms, control, value)``."""

    name: str
    title: str
    profile: Profile
    moves: list[tuple[float, str, float]]
    end: float
    marks: list[tuple[float, str]] = field(default_factory=list)


@dataclass
class Bar:
    """Something that lasts from `start` to `end` ms, as high as `level` (0 to 1) of its lane."""

    start: float
    end: float
    level: float = 1.0


def keys(*names: str) -> tuple[Send, ...]:
    return tuple(SendKey(name) for name in names)


def profile(*layers: Layer, **parts: Any) -> Profile:
    return replace(new_profile("Diagram"), layers=layers, **parts)


def base(*bindings: Binding, **more: Any) -> Layer:
    return Layer("base", "Base", bindings=bindings, **more)


def press(control: str, down: float, up: float) -> list[tuple[float, str, float]]:
    return [(down, control, 1.0), (up, control, 0.0)]


def scenes() -> Iterator[Scene]:
    yield from scenes_of_gestures()
    yield from scenes_of_kinds()
    yield from scenes_of_depth()
    yield from scenes_of_layers()
    yield from scenes_of_sets()


def scenes_of_gestures() -> Iterator[Scene]:
    everything = Binding("south", press=keys("A"), tap=keys("T"), hold=keys("H"), double=keys("D"), release=keys("R"))
    tap_and_hold = Binding("south", tap=keys("T"), hold=keys("H"))
    yield Scene(
        "tap",
        "Tap T, hold H: let go before 200 ms",
        profile(base(tap_and_hold)),
        press("south", 20, 140),
        500,
        [(220, "200 ms")],
    )
    yield Scene(
        "hold",
        "Tap T, hold H: held longer",
        profile(base(tap_and_hold)),
        press("south", 20, 380),
        500,
        [(220, "200 ms")],
    )
    yield Scene(
        "double",
        "With a double tap D set, the tap waits",
        profile(base(replace(tap_and_hold, double=keys("D")))),
        press("south", 20, 90) + press("south", 500, 570) + press("south", 660, 800),
        900,
        [(270, "250 ms after the press")],
    )
    yield Scene(
        "all-gestures",
        "All five gestures on one button",
        profile(base(everything)),
        press("south", 20, 100) + press("south", 400, 700),
        900,
    )
    pair = base(
        Binding("south", press=keys("A")),
        Binding("east", press=keys("B")),
        together=(Together(("south", "east"), press=keys("X")),),
    )
    yield Scene(
        "together",
        "Lower and right button together are X",
        profile(pair),
        press("south", 20, 200) + press("east", 60, 240) + press("south", 300, 440),
        520,
        [(360, "60 ms alone")],
    )


def scenes_of_kinds() -> Iterator[Scene]:
    yield Scene(
        "in-order",
        "1, 2, 3 in order; the second press is let go of early",
        profile(base(Binding("south", press=(InOrder(keys("1", "2", "3")),)))),
        press("south", 20, 200) + press("south", 280, 320),
        480,
    )
    yield Scene(
        "turbo",
        "Turbo, 10 a second, half of the time down",
        profile(base(Binding("south", press=(Turbo(keys("A")),)))),
        press("south", 20, 324) + press("south", 500, 504),
        640,
        [(510, "10 ms at least")],
    )
    yield Scene(
        "toggle",
        "A toggle is a holder like others",
        profile(base(Binding("south", press=(Toggled(keys("A")),)), Binding("east", press=keys("A")))),
        press("south", 20, 60) + press("east", 160, 320) + press("south", 220, 260),
        420,
    )


def scenes_of_depth() -> Iterator[Scene]:
    lean = Binding("left_trigger", bands=(Band(0.05, (Pulsed(keys("D")),)),))
    yield Scene(
        "pulsed",
        "Pulses in proportion: the deeper, the longer",
        profile(base(lean)),
        [(20, "left_trigger", 0.2), (220, "left_trigger", 0.6), (420, "left_trigger", 1.0), (620, "left_trigger", 0.0)],
        720,
    )
    bands = (Band(0.2, keys("A")), Band(0.6, keys("B"), adds=True), Band(0.9, keys("C")))
    slope = [(20.0 + 8 * k, "left_trigger", min(1.0, k / 25)) for k in range(26)]
    slope += [(320.0 + 8 * k, "left_trigger", max(0.0, 1 - k / 25)) for k in range(26)]
    yield Scene(
        "bands",
        "Bands at 20 % (A), 60 % (B adds to it) and 90 % (C replaces both)",
        profile(base(Binding("left_trigger", bands=bands))),
        slope,
        560,
    )
    sprint = Command("sprint", "Sprint", ("LEFTSHIFT",), toggles=True)
    yield Scene(
        "game-toggles",
        "Sprint, which the game toggles itself, on a band from 80 %",
        profile(base(Binding("left_trigger", bands=(Band(0.8, (SendCommand("sprint"),)),))), commands=(sprint,)),
        [(20, "left_trigger", 1.0), (200, "left_trigger", 0.3), (210, "left_trigger", 1.0), (400, "left_trigger", 0.0)],
        560,
    )


def scenes_of_layers() -> Iterator[Scene]:
    aim = (
        base(Binding("left_bumper", press=(HoldLayer("aim"),)), Binding("south", press=keys("A"))),
        Layer("aim", "Aim", bindings=(Binding("south", press=keys("B")),)),
    )
    yield Scene(
        "captured",
        "What a press began, its release ends",
        profile(*aim),
        press("south", 20, 200) + press("left_bumper", 100, 420) + press("south", 300, 500),
        560,
    )
    once = (
        base(Binding("left_bumper", press=(ChangeLayer("one", "once"),)), Binding("south", press=keys("A"))),
        Layer("one", "One", bindings=(Binding("south", press=keys("B")),)),
    )
    yield Scene(
        "once",
        "A layer for one press",
        profile(*once),
        press("left_bumper", 20, 60) + press("south", 160, 260) + press("south", 360, 460),
        540,
    )


def scenes_of_sets() -> Iterator[Scene]:
    belt = Belt("bar", "Bar", tuple(BeltEntry(keys(name)) for name in "123"))
    yield Scene(
        "belt",
        "A belt of 1, 2, 3: right button on, left button back",
        profile(
            base(Binding("east", press=(SendBelt("bar"),)), Binding("west", press=(SendBelt("bar", "back"),))),
            belts=(belt,),
        ),
        press("east", 20, 80) + press("east", 140, 200) + press("west", 260, 320) + press("west", 380, 440),
        520,
    )
    steps = (MacroPress(keys("LEFTSHIFT")), MacroTap(keys("A"), 60), MacroWait(40), MacroTap(keys("B"), 60))
    macro = Macro("m", "Dash", steps, again="restart")
    yield Scene(
        "macro",
        "A macro that restarts when it is triggered again",
        profile(base(Binding("south", press=(SendMacro("m"),))), macros=(macro,)),
        press("south", 20, 60) + press("south", 240, 280) + press("south", 320, 360),
        560,
    )


def replayed(scene: Scene) -> list[Output]:
    """What the engine sends for a scene."""
    engine = Engine(compile_profile(scene.profile))
    out: list[Output] = []
    for ms, control, value in sorted(scene.moves, key=lambda move: move[0]):
        out += outputs_of(engine.feed(Report(round(ms * MILLISECOND), ((control, value, 0.0),))))
    return out + outputs_of(engine.advance(round(scene.end * MILLISECOND)))


def finger_lanes(scene: Scene) -> dict[str, list[Bar]]:
    """For each control the bars of its values."""
    lanes: dict[str, list[Bar]] = {}
    last: dict[str, tuple[float, float]] = {}
    for ms, control, value in [*sorted(scene.moves, key=lambda m: m[0]), *((scene.end, c, -1.0) for c in FINGERS)]:
        since, level = last.get(control, (0.0, 0.0))
        if level > 0:
            lanes.setdefault(control, []).append(Bar(since, ms, level))
        last[control] = ms, value
    return lanes


def output_lanes(scene: Scene) -> dict[str, list[Bar]]:
    """For each thing sent the bars in which it was down; what has no up is a short mark."""
    lanes: dict[str, list[Bar]] = {}
    since: dict[str, float] = {}
    for output in replayed(scene):
        ms = output.t / MILLISECOND
        name, value = _named(output)
        lanes.setdefault(name, [])
        if value == 1:
            since[name] = ms
        elif name in since:
            lanes[name].append(Bar(since.pop(name), ms))
        else:
            lanes[name].append(Bar(ms, ms + 3))
    for name, start in since.items():
        lanes[name].append(Bar(start, scene.end))
    return lanes


def _named(output: Output) -> tuple[str, float]:
    match output:
        case Key(_, code, value) | Button(_, code, value):
            return label(code), value
        case LayerChange(_, code, value):
            return f"layer {code}", value
        case Pad(_, code, value):
            return f"pad {code}", value
        case Motion():
            return "mouse", -1
        case Wheel(_, _, dy):
            return f"wheel {dy / NOTCH:+g}", -1
        case _:
            return type(output).__name__.lower(), -1


def svg(scene: Scene) -> str:
    """The picture of a scene."""
    fingers, sent = finger_lanes(scene), output_lanes(scene)
    bottom = TOP + ROW * (len(fingers) + len(sent)) + 6
    scale = (WIDTH - LEFT - RIGHT) / scene.end
    parts = [
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{WIDTH}" height="{bottom + 26}" '
        f'viewBox="0 0 {WIDTH} {bottom + 26}" font-family="Noto Sans, sans-serif" font-size="12">',
        f"<title>{escape(scene.title)}</title>",
        f'<rect width="{WIDTH}" height="{bottom + 26}" rx="8" fill="{DAY.surface.name()}"/>',
        f'<text x="14" y="20" fill="{DAY.ink.name()}" font-weight="600">{escape(scene.title)}</text>',
    ]
    step = 50 if scene.end <= 600 else 100
    for ms in range(0, int(scene.end) + 1, step):
        x = LEFT + ms * scale
        parts.append(f'<line x1="{x:.1f}" y1="{TOP - 4}" x2="{x:.1f}" y2="{bottom}" stroke="{DAY.line.name()}"/>')
        parts.append(
            f'<text x="{x:.1f}" y="{bottom + 16}" fill="{DAY.quiet.name()}" text-anchor="middle" font-size="10">{ms}</text>'
        )
    for moment, text in scene.marks:
        x = LEFT + moment * scale
        parts.append(
            f'<line x1="{x:.1f}" y1="{TOP - 4}" x2="{x:.1f}" y2="{bottom}" stroke="{DAY.ink.name()}" stroke-dasharray="3 3"/>'
        )
        parts.append(
            f'<text x="{x + 4:.1f}" y="{TOP + 4}" fill="{DAY.ink.name()}" font-size="10">{escape(text)}</text>'
        )
    lane = float(TOP)
    for control, bars in fingers.items():
        parts += _lane(
            lane, FINGERS[control], DAY.input.name(), BAR / 2, bars, scale, CONTROLS[control].kind is Kind.BUTTON
        )
        lane += ROW
    for name, bars in sent.items():
        parts += _lane(lane, name, DAY.output.name(), 0.0, bars, scale, True)
        lane += ROW
    parts.append(
        f'<text x="{LEFT - 24}" y="{bottom + 16}" fill="{DAY.quiet.name()}" text-anchor="end" font-size="10">ms</text>'
    )
    return "\n".join(parts) + "\n</svg>\n"


def _lane(y: float, name: str, colour: str, round_: float, bars: list[Bar], scale: float, whole: bool) -> Iterator[str]:
    """One lane: its name, its mark (round for the hand, square for the game) and its bars."""
    middle = y + ROW / 2
    mark = (
        f'<circle cx="22" cy="{middle}" r="5" fill="{colour}"/>'
        if round_
        else (f'<rect x="17" y="{middle - 5}" width="10" height="10" rx="2" fill="{colour}"/>')
    )
    yield mark
    yield f'<text x="36" y="{middle + 4}" fill="{DAY.ink.name()}">{escape(name)}</text>'
    for bar in bars:
        height = BAR if whole else max(2.0, BAR * bar.level)
        width = max(2.0, (bar.end - bar.start) * scale)
        radius = round_ if whole else 0.0
        yield (
            f'<rect x="{LEFT + bar.start * scale:.1f}" y="{middle + BAR / 2 - height:.1f}" width="{width:.1f}" '
            f'height="{height:.1f}" rx="{min(radius, width / 2):.1f}" fill="{colour}"/>'
        )


def main(folder: Path) -> None:
    folder.mkdir(parents=True, exist_ok=True)
    for scene in scenes():
        (folder / f"{scene.name}.svg").write_text(svg(scene), encoding="utf-8")


if __name__ == "__main__":
    main(Path(sys.argv[1]) if len(sys.argv) > 1 else FOLDER)
