"""The full example without a screen: the window, the simulated player, and another program that receives the keys.

Prints what the player's hands did, what arrived in the other program, and the path of a picture of the window.
"""

from __future__ import annotations

import sys
import tempfile
from pathlib import Path
from typing import Any

from stage import Receiver, Stage, virtual_screen

NAMES = {"key down": "down", "key up": "up", "button down": "down", "button up": "up"}


def main() -> int:
    picture = Path(tempfile.gettempdir()) / "nubshift-example.png"
    with virtual_screen():
        stage = Stage()
        receiver = Receiver("0", "0", "1280", "800")  # over the whole window, so that no click lands in that
        stage.wait(lambda: receiver.ready and stage.link.status is not None and not stage.link.status.withheld)
        return play(stage, receiver, picture)


def play(stage: Stage, receiver: Receiver, picture: Path) -> int:
    from nubshift.devices.player import read_script
    from nubshift.model.controls import CONTROLS
    from nubshift.protocol.messages import Play
    from nubshift.protocol.paths import demo_folder

    stage.link.send(Play("ferrow-deep"))
    stage.wait(lambda: stage.link.status is not None and stage.link.status.playing)
    stage.wait(lambda: "aim" in stage.window.live.layers and stage.window.live.speed[0] != 0)
    stage.window.grab().save(str(picture))
    stage.wait(lambda: stage.link.status is not None and not stage.link.status.playing)
    stage.pause(0.3)
    stage.close()
    receiver.close()
    print("\nPressed on the simulated pad:")
    for track in read_script(demo_folder() / "ferrow-deep.player.json").tracks:
        depths = [max(abs(x), abs(y)) >= 0.5 for _, x, y in track.points]
        count = sum(now and not before for before, now in zip([False, *depths], depths, strict=False))
        print(f"    {CONTROLS[track.control].title:<20} {count} ×")
    whole = show_arrived(receiver.events)
    print(f"\nA picture of the window while it played: {picture}")
    return 0 if whole else 1


def show_arrived(events: list[dict[str, Any]]) -> bool:
    """Print what the other program received; whether everything that went down came up again."""
    from nubshift.model.keys import BY_CODE
    from nubshift.outputs.numbering import BUTTON_NUMBERS, FIRST_KEYCODE

    buttons = {number: name for name, number in BUTTON_NUMBERS.items()}
    counts: dict[str, dict[str, int]] = {}
    for event in events:
        if event["event"] in NAMES:
            is_key = event["event"].startswith("key")
            info = BY_CODE.get(event["code"] - FIRST_KEYCODE) if is_key else None
            name = info.label if info else buttons.get(event["code"], str(event["code"]))
            row = counts.setdefault(name, {"down": 0, "up": 0})
            row[NAMES[event["event"]]] += 1
    moves = [event for event in events if event["event"] == "motion"]
    print("\nArrived in the other program:")
    for name, row in counts.items():
        print(f"    {name:<20} {row['down']} × down, {row['up']} × up")
    print(f"    {'mouse':<20} {len(moves)} movements, {sum(abs(m['dx']) + abs(m['dy']) for m in moves)} counts in all")
    return bool(counts) and all(row["down"] == row["up"] for row in counts.values())


if __name__ == "__main__":
    sys.exit(main())
