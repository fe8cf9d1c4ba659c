"""``python tools/faults``: every attack, one after the other."""

from __future__ import annotations

import argparse
import json
import os
import sys
import time
from collections import Counter
from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import TypeAlias

Found: TypeAlias = tuple[Counter[str], list[str]]
"""How often what happened, and the faults."""

sys.path.insert(0, str(Path(__file__).parents[1]))


def for_long(attack: Callable[[int, int], Found], seed: int, count: int, minutes: float | None) -> Found:
    """Once; or with one seed after the other for so many minutes."""
    counts, faults = attack(seed, count)
    end = time.monotonic() + (minutes or 0.0) * 60
    while time.monotonic() < end:
        seed += 1
        more, found = attack(seed, count)
        counts += more
        faults += [f"seed {seed}: {fault}" for fault in found]
    return counts, faults


def main() -> int:
    from faults import devices, files, hostile, kills, messages, search, soak
    from nubshift.model.store import read_profile
    from nubshift.protocol.messages import Use
    from nubshift.protocol.paths import demo_folder

    parser = argparse.ArgumentParser(description=__doc__)
    if sys.argv[1:2] == ["read"]:
        hostile.read(sys.argv[2], Path(sys.argv[3]))
        return 0
    parser.add_argument(
        "what",
        choices=("devices", "files", "messages", "kills", "hostile", "soak", "search"),
        help="kills needs an X server (DISPLAY)",
    )
    parser.add_argument("--seed", type=int, default=int.from_bytes(os.urandom(3)), help="another one each time")
    parser.add_argument("--count", type=int, default=200)
    parser.add_argument("--minutes", type=float, help="of the search; of files and messages too, instead of a count")
    parser.add_argument("--hours", type=float, default=24.0, help="of the soak")
    parser.add_argument("--real", action="store_true", help="soak by the clock on the wall, not by a played one")
    parser.add_argument("--save", type=Path, metavar="FILE", help="what the soak measured, for tools/endurance_page.py")
    options = parser.parse_args()
    match options.what:
        case "devices":
            counts, faults = for_long(devices.attack, options.seed, options.count, options.minutes)
        case "files":
            counts, faults = for_long(files.attack, options.seed, options.count, options.minutes)
        case "messages":
            profile = Use(read_profile(demo_folder() / "ferrow-deep.nubshift.json"), 1)
            attack = partial(messages.attack, profile=profile)
            counts, faults = for_long(attack, options.seed, options.count, options.minutes)
        case "hostile":
            counts, faults = hostile.attack(show=True)
        case "search":
            counts, faults = search.attack(options.seed, options.minutes or 60.0)
        case "soak":
            counts, faults, samples = (soak.hour if options.real else soak.day)(options.seed, options.hours)
            if options.save:
                told = {"hours": options.hours, "counts": counts, "faults": faults, "memory": samples}
                options.save.write_text(json.dumps(told) + "\n", encoding="utf-8")
        case _:
            counts, faults = kills.attack(options.seed, options.count)
    print(f"{options.what}, seed {options.seed}: {dict(counts)}, {len(faults)} faults")
    for fault in faults[:20]:
        print(fault)
    return int(bool(faults))


if __name__ == "__main__":
    raise SystemExit(main())
