"""``python tools/faults``: every attack, one after the other."""

from __future__ import annotations

import argparse
import os
import sys
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parents[1]))


def main() -> int:
    from faults import files, hostile, kills, messages
    from nubshift.model.store import read_profile
    from nubshift.protocol.messages import Use
    from nubshift.protocol.paths import demo_folder

    parser = argparse.ArgumentParser(description=__doc__)
    if sys.argv[1:2] == ["read"]:
        hostile.read(sys.argv[2], Path(sys.argv[3]))
        return 0
    parser.add_argument(
        "what", choices=("files", "messages", "kills", "hostile"), help="kills needs an X server (DISPLAY)"
    )
    parser.add_argument("--seed", type=int, default=int.from_bytes(os.urandom(3)), help="another one each time")
    parser.add_argument("--count", type=int, default=200)
    options = parser.parse_args()
    match options.what:
        case "files":
            counts, faults = files.attack(options.seed, options.count)
        case "messages":
            profile = Use(read_profile(demo_folder() / "ferrow-deep.nubshift.json"), 1)
            counts, faults = messages.attack(options.seed, options.count, profile)
        case "hostile":
            counts, faults = hostile.attack(show=True)
        case _:
            counts, faults = kills.attack(options.seed, options.count)
    print(f"{options.what}, seed {options.seed}: {dict(counts)}, {len(faults)} faults")
    for fault in faults[:20]:
        print(fault)
    return int(bool(faults))


if __name__ == "__main__":
    raise SystemExit(main())
