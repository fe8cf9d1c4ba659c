"""The X server's XTEST extension: the one file of this folder that imports the X library."""

from __future__ import annotations

import xcffib
import xcffib.xproto
import xcffib.xtest

from nubshift.errors import SinkError

KEY_PRESS, KEY_RELEASE, BUTTON_PRESS, BUTTON_RELEASE, MOTION = 2, 3, 4, 5, 6

FIRST_KEYCODE = 8
"""X keycodes are the kernel's key codes plus this (evdev keyboards)."""

X_BUTTONS: dict[str, int] = {"BTN_LEFT": 1, "BTN_MIDDLE": 2, "BTN_RIGHT": 3, "BTN_SIDE": 8, "BTN_EXTRA": 9}


class XTest:
    """A connection that can press keys and buttons and move the pointer. Raises SinkError."""

    def __init__(self, display: str | None = None) -> None:
        try:
            self._connection = xcffib.connect(display=display)
            self._xtest = self._connection(xcffib.xtest.key)
            self._xtest.GetVersion(2, 2).reply()
            self._root = self._connection.get_setup().roots[0].root
        except (xcffib.ConnectionException, xcffib.ProtocolException, KeyError) as error:
            raise SinkError(f"the X server does not take part: {type(error).__name__}. Is DISPLAY right?") from error

    def key(self, keycode: int, down: bool) -> None:
        """Queue a press or release of a key."""
        self._fake(KEY_PRESS if down else KEY_RELEASE, keycode)

    def button(self, number: int, down: bool) -> None:
        """Queue a press or release of a pointer button."""
        self._fake(BUTTON_PRESS if down else BUTTON_RELEASE, number)

    def move(self, dx: int, dy: int) -> None:
        """Queue a relative motion."""
        self._fake(MOTION, 1, dx, dy)

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
            raise SinkError("the X server is gone") from error
        except xcffib.ProtocolException:  # the window went away meanwhile
            return self._screen_area()
        return at.dst_x, at.dst_y, size.width, size.height

    def pointer(self) -> tuple[int, int]:
        """Where the pointer is on the screen."""
        try:
            found = self._connection.core.QueryPointer(self._root).reply()
        except xcffib.ConnectionException as error:
            raise SinkError("the X server is gone") from error
        return found.root_x, found.root_y

    def keysyms(self) -> tuple[int, tuple[tuple[int, ...], ...]]:
        """The first keycode, and for each keycode from there the keysyms that it has in each shift level."""
        setup = self._connection.get_setup()
        first, last = setup.min_keycode, setup.max_keycode
        reply = self._connection.core.GetKeyboardMapping(first, last - first + 1).reply()
        width = reply.keysyms_per_keycode
        symbols = list(reply.keysyms)
        return first, tuple(tuple(symbols[i : i + width]) for i in range(0, len(symbols), width))

    def _fake(self, kind: int, detail: int, dx: int = 0, dy: int = 0) -> None:
        try:
            self._xtest.FakeInput(kind, detail, 0, self._root if kind == MOTION and not detail else 0, dx, dy, 0)
        except xcffib.ConnectionException as error:
            raise SinkError("the X server is gone") from error

    def flush(self) -> None:
        """Send what was queued. Raises SinkError when the server is gone."""
        try:
            self._connection.flush()
            self._connection.invalid()
        except xcffib.ConnectionException as error:
            raise SinkError("the X server is gone") from error

    def sync(self) -> None:
        """Wait until the server has done everything sent so far."""
        try:
            self._connection.core.GetInputFocus().reply()
        except xcffib.ConnectionException as error:
            raise SinkError("the X server is gone") from error

    def close(self) -> None:
        """Close the connection."""
        self._connection.disconnect()
