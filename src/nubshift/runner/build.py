"""The one place that picks concrete sources and sinks."""

from __future__ import annotations

import contextlib
import os
from pathlib import Path

from msgspec import Struct

from nubshift.desktop.wayland.finding import compositor
from nubshift.devices.device_mapping import KnownMappings
from nubshift.devices.port import Source
from nubshift.devices.simulated import open_simulated
from nubshift.devices.simulated_hardware import HARDWARE, SimulatedHardware
from nubshift.devices.take import TakeSource
from nubshift.errors import SinkError, SourceError
from nubshift.model.layouts import US, Layout
from nubshift.outputs.port import Channel, Sink
from nubshift.outputs.recorder import FileRecorder, Nowhere
from nubshift.protocol.paths import demo_folder, runtime_folder
from nubshift.texts import _
from nubshift.units import Micros

SINK_KINDS = "auto, uinput, wayland, xtest, record:FILE"
SOURCE_KINDS = "auto, sim:PAD[:PLAYER], take:FILE, evdev:PATH"
UINPUT = "/dev/uinput"
NOWHERE = Nowhere.name
UINPUT_SINK = "uinput"


class Chosen(Struct, frozen=True):
    """A sink and the reason why it is this one, in a sentence for the player."""

    sink: Sink
    reason: str


def open_without_device(spec: str, now: Micros, mappings: KnownMappings) -> Source:
    """The source that `spec` names (one of `SOURCE_KINDS`) if it needs no device. Raises SourceError or TakeError."""
    kind, _unused, rest = spec.partition(":")
    match kind:
        case "sim" if rest in HARDWARE:
            return SimulatedHardware(rest, mappings, now)
        case "sim":
            return open_simulated(rest, now, demo_folder())
        case "take":
            return TakeSource(Path(rest), now)
    raise SourceError(
        _('"{spec}" is not a source; expected one of {source_kinds}').format(spec=spec, source_kinds=SOURCE_KINDS)
    )


def check_source(spec: str) -> None:
    """Raise SourceError or TakeError for a `spec` of which nothing can ever come: a slip, a take that can't be read."""
    kind, _unused, rest = spec.partition(":")
    match kind:
        case "auto" if not rest:
            return
        case "evdev" if rest:
            return  # it may be plugged in yet
        case "sim" | "take" if rest or kind == "sim":
            open_without_device(spec, 0, KnownMappings()).close()
        case _:
            raise SourceError(
                _('"{spec}" is not a source; expected one of {source_kinds}').format(
                    spec=spec, source_kinds=SOURCE_KINDS
                )
            )


def open_sink(spec: str) -> Chosen:
    """The sink that `spec` names (one of `SINK_KINDS`). Raises SinkError with every reason why it can't be had."""
    kind, _unused, rest = spec.partition(":")
    match kind:
        case "auto":
            return _best()
        case "uinput":
            return Chosen(Sink(_uinput()), _("you chose it"))
        case "xtest":
            return Chosen(Sink(_xtest()), _("you chose it"))
        case "wayland":
            return Chosen(Sink(_wayland()), _("you chose it"))
        case "record" if rest:
            return Chosen(Sink(FileRecorder(Path(rest))), _("output is written to {rest}").format(rest=rest))
    raise SinkError(
        _('"{spec}" is not an output; expected one of {sink_kinds}').format(spec=spec, sink_kinds=SINK_KINDS)
    )


def layout_here(group: int = 0) -> Layout:
    """The keyboard layout of this session, for typing text; the US one where none can be asked.

    `group` is the one of several that the player chose, where the session does not say which is in use.
    """
    from nubshift.desktop.keymap import session_keymap

    keymap = session_keymap(group=group)
    if keymap is None:
        return US
    from nubshift.outputs.keymap import layout_of

    return layout_of(keymap)


def nowhere(reason: str) -> Chosen:
    """A sink that sends nothing, for a window that is opened where nothing can be sent."""
    return Chosen(Sink(Nowhere()), reason)


def _best() -> Chosen:
    missing = uinput_trouble()
    if not missing:
        try:
            return Chosen(Sink(_uinput()), _("the kernel's virtual keyboard and mouse reach every program"))
        except SinkError as error:
            missing = str(error)
    if compositor():
        with contextlib.suppress(SinkError):
            text = _(
                "{missing}, so output goes through the compositor; games that read devices by themselves don't get it"
            )
            return Chosen(Sink(_wayland()), text.format(missing=missing))
    if not os.environ.get("DISPLAY"):
        text = (
            _("nothing can be sent here: {missing}, and the Wayland compositor takes no keys. Run: nubshift doctor")
            if compositor()
            else _("nothing can be sent here: {missing}, and there is no X session. Run: nubshift doctor")
        )
        raise SinkError(text.format(missing=missing))
    try:
        channel = _xtest()
    except SinkError as error:
        raise SinkError(
            _("nothing can be sent here: {missing}, and {error}. Run: nubshift doctor").format(
                missing=missing, error=error
            )
        ) from error
    scope = _("only programs that use X") if compositor() else _("the programs of this X session")
    return Chosen(
        Sink(channel),
        _("{missing}, so output goes through the X server to {scope}").format(missing=missing, scope=scope),
    )


def uinput_trouble() -> str:
    """Why uinput can't be used, in a part of a sentence; empty if it can."""
    if not os.path.exists(UINPUT):
        return _("there is no {uinput}").format(uinput=UINPUT)
    if not os.access(UINPUT, os.W_OK):
        return _("you have no permission to write to {uinput}").format(uinput=UINPUT)
    return ""


def _uinput() -> Channel:
    from nubshift.outputs.uinput import UinputChannel

    return UinputChannel()


def _wayland() -> Channel:
    from nubshift.outputs.wayland import WaylandChannel

    return WaylandChannel(folder=runtime_folder())


def _xtest() -> Channel:
    from nubshift.outputs.xtest import XTestChannel

    return XTestChannel(folder=runtime_folder())
