"""The one place that picks concrete sources and sinks."""

from __future__ import annotations

import contextlib
import os
from dataclasses import dataclass
from pathlib import Path

from nubshift.devices.hardware import HARDWARE, SimulatedHardware
from nubshift.devices.port import Source
from nubshift.devices.simulated import open_simulated
from nubshift.devices.take import TakeSource
from nubshift.devices.understanding import Lore
from nubshift.errors import SinkError, SourceError
from nubshift.model.layouts import US, Layout
from nubshift.outputs.port import Channel, Sink
from nubshift.outputs.recorder import FileRecorder, Nowhere
from nubshift.runner.paths import demo_folder, runtime_folder
from nubshift.units import Micros

SINK_KINDS = "auto, uinput, xtest, record:FILE"
SOURCE_KINDS = "auto, sim:PAD[:PLAYER], take:FILE, evdev:PATH"
UINPUT = "/dev/uinput"
NOWHERE = Nowhere.name
UINPUT_SINK = "uinput"


@dataclass(frozen=True)
class Chosen:
    """A sink and the reason why it is this one, in a sentence for the player."""

    sink: Sink
    reason: str


def open_made_up(spec: str, now: Micros, lore: Lore) -> Source:
    """The source that `spec` names (one of `SOURCE_KINDS`) if it needs no device. Raises SourceError or TakeError."""
    kind, _, rest = spec.partition(":")
    match kind:
        case "sim" if rest in HARDWARE:
            return SimulatedHardware(rest, lore, now)
        case "sim":
            return open_simulated(rest, now, demo_folder())
        case "take":
            return TakeSource(Path(rest), now)
    raise SourceError(f'"{spec}" names no source; expected one of {SOURCE_KINDS}')


def check_source(spec: str) -> None:
    """Raise SourceError or TakeError for a `spec` of which nothing can ever come: a slip, a take that can't be read."""
    kind, _, rest = spec.partition(":")
    match kind:
        case "auto" if not rest:
            return
        case "evdev" if rest:
            return  # it may be plugged in yet
        case "sim" | "take" if rest or kind == "sim":
            open_made_up(spec, 0, Lore()).close()
        case _:
            raise SourceError(f'"{spec}" names no source; expected one of {SOURCE_KINDS}')


def open_sink(spec: str) -> Chosen:
    """The sink that `spec` names (one of `SINK_KINDS`). Raises SinkError with every reason why it can't be had."""
    kind, _, rest = spec.partition(":")
    match kind:
        case "auto":
            return _best()
        case "uinput":
            return Chosen(Sink(_uinput()), "you asked for it")
        case "xtest":
            return Chosen(Sink(_xtest()), "you asked for it")
        case "record" if rest:
            return Chosen(Sink(FileRecorder(Path(rest))), f"what would be sent is written to {rest}")
    raise SinkError(f'"{spec}" names no way of sending; expected one of {SINK_KINDS}')


def layout_here() -> Layout:
    """The keyboard layout of this session, for typing text; the US one where none can be asked."""
    if os.environ.get("DISPLAY"):
        from nubshift.outputs.keymap import session_layout

        with contextlib.suppress(SinkError):
            return session_layout()
    return US


def nowhere(reason: str) -> Chosen:
    """A sink that sends nothing, for a window that is opened where nothing can be sent."""
    return Chosen(Sink(Nowhere()), reason)


def _best() -> Chosen:
    missing = uinput_trouble()
    if not missing:
        try:
            return Chosen(Sink(_uinput()), "the kernel's virtual keyboard and mouse reach every program")
        except SinkError as error:
            missing = str(error)
    if not os.environ.get("DISPLAY"):
        raise SinkError(f"nothing can be sent here: {missing}, and there is no X session. Run: nubshift doctor")
    try:
        channel = _xtest()
    except SinkError as error:
        raise SinkError(f"nothing can be sent here: {missing}, and {error}. Run: nubshift doctor") from error
    scope = "only programs that use X" if os.environ.get("WAYLAND_DISPLAY") else "the programs of this X session"
    return Chosen(Sink(channel), f"{missing}, so keys go through the X server to {scope}")


def uinput_trouble() -> str:
    """Why uinput can't be used, in a part of a sentence; empty if it can."""
    if not os.path.exists(UINPUT):
        return f"there is no {UINPUT}"
    if not os.access(UINPUT, os.W_OK):
        return f"{UINPUT} may not be written by you"
    return ""


def _uinput() -> Channel:
    from nubshift.outputs.uinput import UinputChannel

    return UinputChannel()


def _xtest() -> Channel:
    from nubshift.outputs.xtest import XTestChannel

    return XTestChannel(folder=runtime_folder())
