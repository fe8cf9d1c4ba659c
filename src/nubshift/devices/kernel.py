"""Controllers of the kernel through evdev: the one file of this folder that imports it."""

from __future__ import annotations

import contextlib
import errno
import fcntl
import os
import struct
from typing import Any

import evdev

from nubshift.devices.decode import EV_ABS, EV_KEY, AxisRange, Decoder, looks_like_pad
from nubshift.devices.port import ControllerInfo, Timed
from nubshift.errors import SourceError, SourceGone
from nubshift.events import VIRTUAL_PHYS, Change
from nubshift.units import SECOND, Micros

_EVIOCSCLOCKID = 0x400445A0  # _IOW('E', 0xa0, int), linux/input.h
_CLOCK_MONOTONIC = 1


def node_paths() -> list[str]:
    """The event nodes that are there, readable or not."""
    try:
        names = os.listdir("/dev/input")
    except OSError:
        return []
    return sorted((f"/dev/input/{n}" for n in names if n.startswith("event")), key=lambda p: int(p[16:] or 0))


def probe(path: str) -> ControllerInfo | None:
    """What controller the node is, or None if it is none. One that can't be opened says so in `trouble`."""
    try:
        device = _open(path)
    except SourceError as error:
        return ControllerInfo(f"evdev:{path}", path, trouble=str(error))
    try:
        if device.phys == VIRTUAL_PHYS:
            return None
        keys, axes = _capabilities(device)
        if not looks_like_pad(keys, axes):
            return None
        return ControllerInfo(f"evdev:{path}", device.name, Decoder(keys, axes).controls)
    except OSError:
        return None
    finally:
        device.close()


def _open(path: str) -> evdev.InputDevice[str]:
    """The node, open. A node that has only just come may fail in any way for a moment (SystemError too)."""
    try:
        return evdev.InputDevice(path)
    except PermissionError as error:
        raise SourceError(f"{path} can't be opened: no permission. Run: nubshift doctor") from error
    except (OSError, SystemError) as error:
        raise SourceError(f"{path} can't be opened: {error}") from error


def _capabilities(device: evdev.InputDevice[str]) -> tuple[list[int], dict[int, AxisRange]]:
    capabilities: dict[int, Any] = dict(device.capabilities(absinfo=True))
    axes = {code: AxisRange(info.min, info.max, info.value) for code, info in capabilities.get(EV_ABS, [])}
    return list(capabilities.get(EV_KEY, [])), axes


class EvdevSource:
    """One controller read from its event node, report by report. Raises SourceError if it can't be opened."""

    def __init__(self, path: str) -> None:
        self._device = _open(path)
        keys, axes = _capabilities(self._device)
        self._axes = tuple(axes)
        self._decoder = Decoder(keys, axes)
        with contextlib.suppress(OSError):
            self._decoder.resync(self._device.active_keys(), {})
        self._kernel_clock = self._use_monotonic_clock()
        self._grabbed = False
        self._info = ControllerInfo(f"evdev:{path}", self._device.name, self._decoder.controls)

    def _use_monotonic_clock(self) -> bool:
        """Ask for event times on the clock the runner uses; without it reports count from when they are read."""
        try:
            fcntl.ioctl(self._device.fd, _EVIOCSCLOCKID, struct.pack("i", _CLOCK_MONOTONIC))
        except OSError:
            return False
        return True

    @property
    def info(self) -> ControllerInfo:
        """What it is."""
        return self._info

    @property
    def next_deadline(self) -> Micros | None:
        """None: the descriptor says when there is input."""
        return None

    def fileno(self) -> int:
        """The node's descriptor."""
        return int(self._device.fd)

    def state(self) -> tuple[Change, ...]:
        """How every control stands."""
        return self._decoder.state()

    def read(self, now: Micros) -> list[Timed]:
        """The reports that are waiting. Raises SourceGone when the controller was unplugged."""
        found: list[Timed] = []
        try:
            for event in self._device.read():
                changes = self._decoder.event(event.type, event.code, event.value)
                if changes:
                    t = event.sec * SECOND + event.usec if self._kernel_clock else now
                    found.append((min(t, now), changes))
            if self._decoder.lost and (changes := self._read_anew()):
                found.append((now, changes))
        except BlockingIOError:
            pass
        except OSError as error:
            name = self._info.name
            if error.errno in (errno.ENODEV, errno.EBADF):
                raise SourceGone(f"{name} was unplugged") from error
            raise SourceGone(f"{name} can't be read any more: {error.strerror}") from error
        return found

    def _read_anew(self) -> tuple[Change, ...]:
        """The kernel dropped events: ask for the state of every key and axis (input-event SYN_DROPPED rule)."""
        axes = {code: self._device.absinfo(code).value for code in self._axes}
        return self._decoder.resync(self._device.active_keys(), axes)

    def grab(self, exclusive: bool) -> None:
        """Grab or ungrab the node. Raises SourceError if another program has grabbed it."""
        if exclusive == self._grabbed:
            return
        try:
            if exclusive:
                self._device.grab()
            else:
                self._device.ungrab()
            self._grabbed = exclusive
        except OSError as error:
            if error.errno == errno.ENODEV:
                raise SourceGone(f"{self._info.name} was unplugged") from error
            raise SourceError(
                f"{self._info.name} can't be kept from the game: another program holds it. Close that program"
            ) from error

    def close(self) -> None:
        """Close the node; the kernel ends the grab."""
        with contextlib.suppress(OSError):
            self._device.close()
