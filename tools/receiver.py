"""A plain X client that stands for a game: takes the focus and prints every event it gets, a JSON object a line.

Used by the tests and by ./start. It keeps no state of its own, merges nothing (key repeat of the server is switched off), and knows nothing of Nub Shift.
``{"event": "ready"}`` comes first, once the window has the focus.
"""

from __future__ import annotations

import json
import select
import sys
import time

import xcffib
import xcffib.xproto as xp

NAMES = {2: "key down", 3: "key up", 4: "button down", 5: "button up", 6: "motion", 9: "focus in", 10: "focus out"}


def say(**what: object) -> None:
    print(json.dumps({**what, "time": time.monotonic_ns() // 1000}), flush=True)


def main() -> None:
    connection = xcffib.connect()
    screen = connection.get_setup().roots[connection.pref_screen]
    window = connection.generate_id()
    mask = xp.EventMask
    wanted = mask.KeyPress | mask.KeyRelease | mask.ButtonPress | mask.ButtonRelease | mask.PointerMotion
    geometry = [int(word) for word in sys.argv[1:5]] or [0, 0, screen.width_in_pixels, screen.height_in_pixels]
    connection.core.CreateWindow(
        screen.root_depth,
        window,
        screen.root,
        *geometry,
        0,
        xp.WindowClass.InputOutput,
        screen.root_visual,
        xp.CW.BackPixel | xp.CW.EventMask,
        [0x1B3040, wanted | mask.FocusChange | mask.StructureNotify],
    )
    title = b"A game that knows no gamepad"
    connection.core.ChangeProperty(xp.PropMode.Replace, window, xp.Atom.WM_NAME, xp.Atom.STRING, 8, len(title), title)
    connection.core.ChangeKeyboardControl(xp.KB.AutoRepeatMode, [xp.AutoRepeatMode.Off])
    connection.core.MapWindow(window)
    connection.flush()
    place = (0, 0)
    while True:
        select.select([connection.get_file_descriptor()], [], [])
        while (event := connection.poll_for_event()) is not None:
            kind = event.response_type & 127
            if kind == 19:  # MapNotify
                connection.core.SetInputFocus(xp.InputFocus.PointerRoot, window, xp.Time.CurrentTime)
                connection.core.WarpPointer(0, window, 0, 0, 0, 0, geometry[2] // 2, geometry[3] // 2)
                pointer = connection.core.QueryPointer(screen.root).reply()
                place = (pointer.root_x, pointer.root_y)
                say(event="ready")
            elif kind == 6:
                say(event="motion", dx=event.root_x - place[0], dy=event.root_y - place[1])
                place = (event.root_x, event.root_y)
            elif kind in NAMES:
                say(event=NAMES[kind], code=getattr(event, "detail", 0))


if __name__ == "__main__":
    main()
