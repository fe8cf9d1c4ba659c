"""The windows of an X session, by the hints of window managers (Extended Window Manager Hints 1.5).

The one file of this folder that imports the X library.
"""

from __future__ import annotations

import contextlib
import os
import socket
from typing import Any

import xcffib
import xcffib.xproto

from nubshift.surroundings.port import SeenWindow
from nubshift.texts import _

_REFUSED = (xcffib.ProtocolException, xcffib.Error)
"""What the server answers to what can't be done, as with a window that is gone. Errors have a base of their own."""
_ANY = xcffib.xproto.Atom.Any
_MOST_WORDS = 1024
"""Of a property, in units of four bytes."""
_LOCAL_PID = 2
"""What to ask the X-Resource extension for: the process of a client (XRes 1.2)."""


class XWindows:
    """Looks at the windows of a display. Raises OSError where there is none, or no window manager that tells.

    `sees_all`: whether it is an X session; else there are windows beside that are no X windows.
    """

    how, names_processes = _("X11"), True

    def __init__(self, display: str | None = None, *, sees_all: bool = True) -> None:
        self.sees_all = sees_all
        try:
            self._connection = xcffib.connect(display=display)
        except (xcffib.ConnectionException, KeyError) as error:
            raise OSError("no X server answers") from error
        self._root = self._connection.get_setup().roots[self._connection.pref_screen].root
        self._atoms: dict[str, int] = {}
        self._listened: set[int] = set()
        self._pids: dict[int, int] = {}
        self._res = self._resources()
        try:
            self._listen(self._root)
            if not self._words(self._root, "_NET_SUPPORTING_WM_CHECK"):
                raise OSError("no window manager tells which window is in front")
        except xcffib.ConnectionException as error:
            raise OSError("the X server is gone") from error
        except OSError:
            self.close()
            raise

    def _resources(self) -> Any:
        try:
            import xcffib.res

            found = self._connection(xcffib.res.key)
            found.QueryVersion(1, 2).reply()
        except (ImportError, xcffib.ConnectionException, *_REFUSED, KeyError):
            return None
        return found

    def filenos(self) -> tuple[int, ...]:
        """Readable when the server said something."""
        return (int(self._connection.get_file_descriptor()),)

    def changed(self) -> bool:
        """Take in what the server said; whether another window is in front, came, went or got another title."""
        names = ("_NET_ACTIVE_WINDOW", "_NET_CLIENT_LIST", "_NET_WM_NAME", "_NET_WM_STATE")
        told = tuple(self._atom(name) for name in names)
        found = False
        try:
            while (event := self._connection.poll_for_event()) is not None:
                found = found or (isinstance(event, xcffib.xproto.PropertyNotifyEvent) and event.atom in told)
            self._connection.invalid()
        except xcffib.ConnectionException as error:
            raise OSError("the X server is gone") from error
        except _REFUSED:  # about a window that is gone
            return True
        return found

    def windows(self) -> tuple[SeenWindow, ...]:
        """All that the window manager manages."""
        handles = self._words(self._root, "_NET_CLIENT_LIST")
        self._listened &= {self._root, *handles}
        self._pids = {handle: pid for handle, pid in self._pids.items() if handle in handles}
        return tuple(found for handle in handles if (found := self._window(handle)) is not None)

    def front(self) -> SeenWindow | None:
        """The one in front; None while the desktop itself is."""
        handles = self._words(self._root, "_NET_ACTIVE_WINDOW")
        return self._window(handles[0]) if handles and handles[0] else None

    def _window(self, handle: int) -> SeenWindow | None:
        self._listen(handle)
        group = self._text(handle, "WM_CLASS").rstrip("\0").split("\0")[-1]
        title = self._text(handle, "_NET_WM_NAME") or self._text(handle, "WM_NAME")
        if not group and not title and not self._words(handle, "WM_STATE"):
            return None
        full_screen = self._atom("_NET_WM_STATE_FULLSCREEN") in self._words(handle, "_NET_WM_STATE")
        return SeenWindow(handle, self._pid(handle), group, title[:200], full_screen)

    def _pid(self, handle: int) -> int:
        """By the server's own knowledge of the connection, which no sandbox changes; else by what the window says."""
        if handle not in self._pids:
            self._pids[handle] = self._pid_by_server(handle) or self._pid_by_window(handle)
        return self._pids[handle]

    def _pid_by_server(self, handle: int) -> int:
        if self._res is None:
            return 0
        try:
            spec = xcffib.res.ClientIdSpec.synthetic(handle, _LOCAL_PID)
            for found in self._res.QueryClientIds(1, [spec]).reply().ids:
                if found.spec.mask == _LOCAL_PID and found.value:
                    return int(found.value[0])
        except (*_REFUSED, xcffib.ConnectionException, AttributeError, TypeError, IndexError):
            pass
        return 0

    def _pid_by_window(self, handle: int) -> int:
        machine = self._text(handle, "WM_CLIENT_MACHINE")
        if machine and machine not in (socket.gethostname(), os.uname().nodename, "localhost"):
            return 0
        return next(iter(self._words(handle, "_NET_WM_PID")), 0)

    def _listen(self, handle: int) -> None:
        if handle in self._listened:
            return
        self._listened.add(handle)
        wanted = xcffib.xproto.EventMask.PropertyChange
        with contextlib.suppress(*_REFUSED):
            self._connection.core.ChangeWindowAttributesChecked(handle, xcffib.xproto.CW.EventMask, [wanted]).check()

    def _atom(self, name: str) -> int:
        if name not in self._atoms:
            self._atoms[name] = self._connection.core.InternAtom(False, len(name), name).reply().atom
        return self._atoms[name]

    def _property(self, handle: int, name: str) -> xcffib.xproto.GetPropertyReply | None:
        try:
            return self._connection.core.GetProperty(False, handle, self._atom(name), _ANY, 0, _MOST_WORDS).reply()
        except _REFUSED:  # the window went away meanwhile
            return None
        except xcffib.ConnectionException as error:
            raise OSError("the X server is gone") from error

    def _words(self, handle: int, name: str) -> list[int]:
        found = self._property(handle, name)
        return list(found.value.to_atoms()) if found is not None and found.format == 32 else []

    def _text(self, handle: int, name: str) -> str:
        found = self._property(handle, name)
        if found is None or found.format != 8:
            return ""
        return bytes(found.value.buf()).decode(errors="replace")

    def close(self) -> None:
        """End the connection."""
        with contextlib.suppress(xcffib.ConnectionException):
            self._connection.disconnect()


MODIFIERS: dict[str, int] = {
    "LEFTSHIFT": xcffib.xproto.ModMask.Shift,
    "LEFTCTRL": xcffib.xproto.ModMask.Control,
    "LEFTALT": xcffib.xproto.ModMask._1,
    "LEFTMETA": xcffib.xproto.ModMask._4,
}
_LOCK, _NUM_LOCK = xcffib.xproto.ModMask.Lock, xcffib.xproto.ModMask._2
_LOCKS = (0, _LOCK, _NUM_LOCK, _LOCK | _NUM_LOCK)
"""Caps lock and number lock, on or off: a grab is for exactly one state of them."""


class XKey:
    """Hears one key wherever the keyboard is. `code` is that of the kernel, `modifiers` are names of `MODIFIERS`.

    Raises ConnectionError where no X server answers, another OSError where another program has the key.
    """

    def __init__(self, code: int, modifiers: tuple[str, ...], display: str | None = None) -> None:
        try:
            self._connection = xcffib.connect(display=display)
        except (xcffib.ConnectionException, KeyError) as error:
            raise ConnectionError("no X server answers") from error
        root = self._connection.get_setup().roots[self._connection.pref_screen].root
        mask = 0
        for name in modifiers:
            mask |= MODIFIERS[name]
        way = xcffib.xproto.GrabMode.Async
        try:
            for lock in _LOCKS:
                self._connection.core.GrabKeyChecked(False, root, mask | lock, code + 8, way, way).check()
        except (*_REFUSED, xcffib.ConnectionException) as error:
            self._connection.disconnect()
            raise OSError("another program has the key") from error

    def fileno(self) -> int:
        """Readable when it may have been pressed."""
        return int(self._connection.get_file_descriptor())

    def pressed(self) -> bool:
        """Whether it was pressed since this was asked last. Raises OSError when the server is gone."""
        found = False
        try:
            while (event := self._connection.poll_for_event()) is not None:
                found = found or isinstance(event, xcffib.xproto.KeyPressEvent)
            self._connection.invalid()
        except (*_REFUSED, xcffib.ConnectionException) as error:
            raise OSError("the X server is gone") from error
        return found

    def close(self) -> None:
        """Let go of the key."""
        with contextlib.suppress(xcffib.ConnectionException):
            self._connection.disconnect()


class BenchWindow:
    """A plain window with a class, to be brought to the front: what the bench looks at instead of a game."""

    def __init__(self, group: str) -> None:
        self._connection = xcffib.connect()
        screen = self._connection.get_setup().roots[self._connection.pref_screen]
        self._root, self._window = screen.root, self._connection.generate_id()
        core, words = self._connection.core, group.encode()
        only = xcffib.xproto.WindowClass.InputOutput
        core.CreateWindow(
            screen.root_depth, self._window, self._root, 0, 0, 200, 120, 0, only, screen.root_visual, 0, []
        )
        atoms, data = xcffib.xproto.Atom, words + b"\0" + words + b"\0"
        replace = xcffib.xproto.PropMode.Replace
        core.ChangeProperty(replace, self._window, atoms.WM_CLASS, atoms.STRING, 8, len(data), data)
        core.ChangeProperty(replace, self._window, atoms.WM_NAME, atoms.STRING, 8, len(words), words)
        core.MapWindow(self._window)
        self._connection.flush()

    def bring_to_front(self) -> None:
        """As a click on a taskbar does (_NET_ACTIVE_WINDOW, source indication 2)."""
        name = b"_NET_ACTIVE_WINDOW"
        atom = self._connection.core.InternAtom(False, len(name), name).reply().atom
        data = xcffib.xproto.ClientMessageData.synthetic([2, 0, 0, 0, 0], "IIIII")
        event = xcffib.xproto.ClientMessageEvent.synthetic(32, self._window, atom, data)
        mask = xcffib.xproto.EventMask.SubstructureNotify | xcffib.xproto.EventMask.SubstructureRedirect
        self._connection.core.SendEvent(False, self._root, mask, event.pack())
        self._connection.flush()

    def close(self) -> None:
        """Away with it."""
        self._connection.disconnect()
