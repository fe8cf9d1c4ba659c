"""A plain window with a class and a title, for tests and pictures of what happens between several programs.

Prints its handle once it is there, and stays until it is killed: ``some_window.py CLASS TITLE [X Y WIDTH HEIGHT]``, or
``some_window.py CLASS TITLE full`` to fill the screen.
"""

from __future__ import annotations

import os
import select
import sys

import xcffib
import xcffib.xproto as xp


def main() -> None:
    group, title = sys.argv[1].encode(), sys.argv[2].encode()
    connection = xcffib.connect()
    screen = connection.get_setup().roots[connection.pref_screen]
    window = connection.generate_id()
    full = sys.argv[3:4] == ["full"]
    geometry = [int(word) for word in sys.argv[3:7] if not full] or [40, 40, 300, 200]
    connection.core.CreateWindow(
        screen.root_depth,
        window,
        screen.root,
        *geometry,
        0,
        xp.WindowClass.InputOutput,
        screen.root_visual,
        xp.CW.BackPixel | xp.CW.EventMask,
        [0x203040, xp.EventMask.StructureNotify],
    )

    def atom(name: str) -> object:
        return connection.core.InternAtom(False, len(name), name).reply().atom

    def put(name: object, kind: object, size: int, data: bytes) -> None:
        connection.core.ChangeProperty(xp.PropMode.Replace, window, name, kind, size, len(data) * 8 // size, data)

    put(xp.Atom.WM_CLASS, xp.Atom.STRING, 8, group.lower() + b"\0" + group + b"\0")
    put(xp.Atom.WM_NAME, xp.Atom.STRING, 8, title)
    put(atom("_NET_WM_NAME"), atom("UTF8_STRING"), 8, title)
    put(atom("_NET_WM_PID"), xp.Atom.CARDINAL, 32, os.getpid().to_bytes(4, "little"))
    if full:
        state = int(atom("_NET_WM_STATE_FULLSCREEN"))  # type: ignore[call-overload]  # an atom is a number
        put(atom("_NET_WM_STATE"), xp.Atom.ATOM, 32, state.to_bytes(4, "little"))
    connection.core.MapWindow(window)
    connection.flush()
    while True:
        select.select([connection.get_file_descriptor()], [], [])
        while (event := connection.poll_for_event()) is not None:
            if event.response_type & 127 == 19:  # MapNotify
                print(window, flush=True)


if __name__ == "__main__":
    main()
