"""What every channel and every source promises, asked of each in the same words (`outputs/port.py`, `devices/port.py`)."""

from __future__ import annotations

from typing import get_args

from nubshift.devices.port import Source
from nubshift.events import Button, Change, Key, LayerChange, Light, Motion, Output, Pad, Point, Rumble, Wheel
from nubshift.model.controls import CHANNELS, CONTROLS
from nubshift.model.profile import PadKind
from nubshift.outputs.port import Channel, Sink

OUTPUTS: dict[type, tuple[Output, ...]] = {
    Key: (Key(0, "A", 1), Key(0, "A", 0)),
    Button: (Button(0, "BTN_LEFT", 1), Button(0, "BTN_LEFT", 0)),
    Motion: (Motion(0, 3, -2),),
    LayerChange: (LayerChange(0, "aim", 1), LayerChange(0, "aim", 0)),
    Wheel: (Wheel(0, 0, 120), Wheel(0, -30, 0)),
    Pad: (Pad(0, "south", 1), Pad(0, "south", 0), Pad(0, "left_x", 0.5), Pad(0, "left_x", 0.0)),
    Point: (Point(0, 0.5, 0.25), Point(0, 0.5, 0.25, True)),
    Rumble: (Rumble(0, "1", 0.5), Rumble(0, "1", 0.0)),
    Light: (Light(0, "1", "#7dd3b4"),),
}
"""An example of each kind of output; `check_channel` fails while one is missing."""


def check_channel(channel: Channel) -> None:
    """Put everything there is through a channel and a sink before it."""
    assert set(OUTPUTS) == set(get_args(Output)), "a kind of output has no example"
    assert channel.name
    for pad in get_args(PadKind):
        assert isinstance(channel.prepare(pad, pad != "none"), str)
    sink = Sink(channel)
    for examples in OUTPUTS.values():
        sink.send(examples, 0)
        while (due := sink.next_deadline) is not None:
            sink.flush(due)
        assert sink.held == ()
    sink.send([Key(1, "B", 1), Button(1, "BTN_RIGHT", 1), Pad(1, "east", 1), Key(1, "B", 1)], 1)
    assert sink.held == ("B", "BTN_RIGHT", "pad:east")
    sink.release_all(2)
    assert sink.held == ()
    assert all(isinstance(descriptor, int) for descriptor in channel.filenos())
    channel.hear(3)
    assert 0.0 <= channel.rumble(3) <= 1.0
    assert channel.next_deadline is None or channel.next_deadline > 0
    sink.close()


def check_source(source: Source) -> None:
    """Ask a source everything that the rack asks of one."""
    info = source.info
    assert info.id
    assert info.name
    assert set(info.controls) <= set(CONTROLS)
    known = {*info.controls, *CONTROLS, *CHANNELS}
    for name, x, y in source.state():
        assert_normal(known, (name, x, y))
    last = 0
    for now in (0, 500_000, 1_000_000):
        for t, changes in source.read(now):
            assert last <= t <= now or not info.simulated, "reports come in the order of their times"
            last = t
            for change in changes:
                assert_normal(known, change)
    assert source.next_deadline is None or source.next_deadline > 1_000_000 or not info.simulated
    source.listen(True)
    assert all(len(raw) == 5 for raw in source.heard())
    source.listen(False)
    for on in (True, False):
        source.grab(on)
    for strength in (0.5, 0.0):
        source.rumble(strength)
    assert source.dropped == 0
    assert all(isinstance(descriptor, int) for descriptor in source.filenos())
    source.close()


def assert_normal(known: set[str], change: Change) -> None:
    """A change in normal form (R2) of a control that there is."""
    name, x, y = change
    assert name in known
    least, most = (-64.0, 64.0) if name.startswith("gravity") else (-1.0, 1.0)
    if not name.startswith("motion"):
        for value in (x, y):
            assert least <= value <= most, change
