"""The X server: its XTEST extension, and what the desktop makes of a mouse.

The one file of this folder that imports the X library.
"""

from __future__ import annotations

import io
import struct
import time
from typing import Final

import xcffib
import xcffib.xproto
import xcffib.xtest

from nubshift.desktop.mice import MouseProfile
from nubshift.errors import SinkError
from nubshift.events import NOTCH
from nubshift.texts import _

KEY_PRESS, KEY_RELEASE, BUTTON_PRESS, BUTTON_RELEASE, MOTION = 2, 3, 4, 5, 6

_REFUSED = (xcffib.ProtocolException, xcffib.Error)
"""What the server answers to what can't be done, as with a window that is gone. Errors have a base of their own."""

_PROFILE = b"libinput Accel Profile Enabled"
_FLAT = 1
"""Place of the flat profile among those that the property has: adaptive, flat, and a custom one in newer versions."""
_ALL_DEVICES, _REPLACE, _ANY = 0, 0, 0
_CHANGE_PROPERTY = 57
"""Number of the request XIChangeProperty."""


OUTLASTED: Final = 1.0
"""Seconds for which the connection of one that is gone is waited for."""


class XTest:
    """A connection that can press keys and buttons and move the pointer. `client` is a resource of it, by which others
    can name it to the server. Raises SinkError."""

    def __init__(self, display: str | None = None) -> None:
        self._wheel = {"x": 0, "y": 0}
        try:
            self._connection = xcffib.connect(display=display)
            self._xtest = self._connection(xcffib.xtest.key)
            self._xtest.GetVersion(2, 2).reply()
            self._root = self._connection.get_setup().roots[0].root
            self.client = int(self._connection.generate_id())
            self._connection.core.CreatePixmap(1, self.client, self._root, 1, 1)
        except (xcffib.ConnectionException, *_REFUSED, KeyError) as error:
            raise SinkError(
                _("the X server does not respond: {name}. Check DISPLAY").format(name=type(error).__name__)
            ) from error

    def key(self, keycode: int, down: bool) -> None:
        """Queue a press or release of a key."""
        self._fake(KEY_PRESS if down else KEY_RELEASE, keycode)

    def button(self, number: int, down: bool) -> None:
        """Queue a press or release of a pointer button."""
        self._fake(BUTTON_PRESS if down else BUTTON_RELEASE, number)

    def move(self, dx: int, dy: int) -> None:
        """Queue a relative motion."""
        self._fake(MOTION, 1, dx, dy)

    def turn(self, dx: int, dy: int) -> None:
        """Queue the wheel: X knows it as buttons, a click a notch; parts of a notch are gathered."""
        for axis, way, (less, more) in (("x", dx, (6, 7)), ("y", dy, (5, 4))):
            gathered = self._wheel[axis] + way
            notches = int(gathered / NOTCH)
            self._wheel[axis] = gathered - notches * NOTCH
            for _unused in range(abs(notches)):
                number = more if notches > 0 else less
                self.button(number, True)
                self.button(number, False)

    def place(self, x: float, y: float, window: bool) -> None:
        """Queue putting the pointer at shares of the screen, or of the window that has the focus. Raises SinkError."""
        left, top, width, height = self._window_area() if window else self._screen_area()
        self._fake(MOTION, 0, left + round(x * (width - 1)), top + round(y * (height - 1)))

    def _screen_area(self) -> tuple[int, int, int, int]:
        screen = self._connection.get_setup().roots[0]
        return 0, 0, screen.width_in_pixels, screen.height_in_pixels

    def _window_area(self) -> tuple[int, int, int, int]:
        """Left, top, width and height of the window that has the focus; the screen's where there is none."""
        try:
            root = self._connection.get_setup().roots[0].root
            window = self._connection.core.GetInputFocus().reply().focus
            if window in (0, 1, root):
                return self._screen_area()
            size = self._connection.core.GetGeometry(window).reply()
            at = self._connection.core.TranslateCoordinates(window, root, 0, 0).reply()
        except xcffib.ConnectionException as error:
            raise SinkError(_("the X server is gone")) from error
        except _REFUSED:  # the window went away meanwhile
            return self._screen_area()
        return at.dst_x, at.dst_y, size.width, size.height

    def pointer(self) -> tuple[int, int]:
        """Where the pointer is on the screen."""
        try:
            found = self._connection.core.QueryPointer(self._root).reply()
        except xcffib.ConnectionException as error:
            raise SinkError(_("the X server is gone")) from error
        return found.root_x, found.root_y

    def _fake(self, kind: int, detail: int, dx: int = 0, dy: int = 0) -> None:
        try:
            self._xtest.FakeInput(kind, detail, 0, self._root if kind == MOTION and not detail else 0, dx, dy, 0)
        except xcffib.ConnectionException as error:
            raise SinkError(_("the X server is gone")) from error

    def flush(self) -> None:
        """Send what was queued. Raises SinkError when the server is gone."""
        try:
            self._connection.flush()
            self._connection.invalid()
        except xcffib.ConnectionException as error:
            raise SinkError(_("the X server is gone")) from error

    def sync(self) -> None:
        """Wait until the server has done everything sent so far."""
        try:
            self._connection.core.GetInputFocus().reply()
        except xcffib.ConnectionException as error:
            raise SinkError(_("the X server is gone")) from error

    def outlast(self, client: int, pid: int) -> None:
        """Wait until the server has done all that a process that is gone has sent, and closed its connection.

        It may come to what we ask before it reads the last press of the one that was killed, which would stay down.
        That connection is known by a resource, and by its process, which the server tells (X-Resource extension).
        """
        import xcffib.res  # only here: sending needs none of it

        end = time.monotonic() + OUTLASTED
        try:
            resources = self._connection(xcffib.res.key)
            asked = xcffib.res.ClientIdSpec.synthetic(client, xcffib.res.ClientIdMask.LocalClientPID)
            while any(pid in each.value for each in resources.QueryClientIds(1, [asked]).reply().ids):
                if time.monotonic() > end:
                    return
                time.sleep(0.001)
        except (*_REFUSED, KeyError):  # it is closed, or the server can't say whose it is
            pass
        except xcffib.ConnectionException as error:
            raise SinkError(_("the X server is gone")) from error

    def close(self) -> None:
        """Close the connection."""
        self._connection.disconnect()


class Desktop:
    """What the desktop of an X session says of itself. Raises SinkError where there is none."""

    def __init__(self, display: str | None = None) -> None:
        import xcffib.xinput  # only here: sending needs none of it

        try:
            self._connection = xcffib.connect(display=display)
            self._root = self._connection.get_setup().roots[0].root
            self._input = self._connection(xcffib.xinput.key)
            self._input.XIQueryVersion(2, 2).reply()
        except (xcffib.ConnectionException, *_REFUSED, KeyError) as error:
            raise SinkError(_("the X server can't be asked: {name}").format(name=type(error).__name__)) from error

    def _atom(self, name: bytes) -> int:
        return int(self._connection.core.InternAtom(True, len(name), name).reply().atom)

    def _mouse(self, name: str) -> int | None:
        for device in self._input.XIQueryDevice(_ALL_DEVICES).reply().infos:
            if device.name.to_string() == name:
                return int(device.deviceid)
        return None

    def profile_of(self, name: str) -> MouseProfile:
        """How the desktop takes the motion of the mouse with this name."""
        try:
            mouse, atom = self._mouse(name), self._atom(_PROFILE)
            if mouse is None or not atom:
                return "none"
            reply = self._input.XIGetProperty(mouse, False, atom, _ANY, 0, 1).reply()
        except (xcffib.ConnectionException, *_REFUSED):
            return "none"
        chosen = list(reply.data8) if reply.format == 8 else []
        if len(chosen) <= _FLAT:
            return "none"
        return "flat" if chosen[_FLAT] and not chosen[0] else "bent"

    def flatten(self, name: str) -> MouseProfile:
        """Ask for a mouse to be taken as it is; how it is taken then."""
        if self.profile_of(name) != "bent":
            return self.profile_of(name)
        try:
            mouse, atom = self._mouse(name), self._atom(_PROFILE)
            reply = self._input.XIGetProperty(mouse, False, atom, _ANY, 0, 1).reply()
            wanted = bytes(int(place == _FLAT) for place in range(reply.num_items))
            self._change(mouse, atom, reply.type, wanted)
        except (xcffib.ConnectionException, *_REFUSED):
            return self.profile_of(name)
        return self.profile_of(name)

    def command(self, name: str) -> str:
        """What a player can type for the same."""
        return f"xinput set-prop 'pointer:{name}' '{_PROFILE.decode()}' 0, 1"

    def _change(self, mouse: int | None, atom: int, kind: int, values: bytes) -> None:
        """Set a property of bytes. The library's own call appends four bytes too many, which no server takes."""
        head = struct.pack("=xx2xHBBIII", mouse, _REPLACE, 8, atom, kind, len(values))
        request = io.BytesIO(head + values + bytes(-len(values) % 4))
        request.seek(0, io.SEEK_END)
        self._input.send_request(_CHANGE_PROPERTY, request, is_checked=True).check()

    def close(self) -> None:
        """Close the connection."""
        self._connection.disconnect()
