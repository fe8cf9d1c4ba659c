"""``python tools/kernel_path [PROOF[:AMOUNT]...]``: what is proven over real nodes, in a virtual machine.

    python tools/kernel_path kills:50 endurance:480

Without words, all that the tests ask for. `kills` takes how often, `endurance` for how many seconds, `delay` how many keys.
"""

from __future__ import annotations

import sys
from dataclasses import replace
from functools import partial
from pathlib import Path

sys.path[:1] = [str(Path(__file__).parents[2]), str(Path(__file__).parents[1])]


def main(words: list[str]) -> int:
    from kernel_path import guest
    from kernel_path.machine import PROOFS, Machines, why_no_machine

    if words[:1] == ["inside"]:
        guest.main(words[1:])
        return 0
    known = {proof.name: proof for proof in PROOFS}
    asked = []
    for word in words or [proof.name for proof in PROOFS if proof.tested]:
        name, _, amount = word.partition(":")
        if name not in known or (amount and (known[name].amount is None or not amount.isdecimal())):
            told = f"{name} takes no such amount" if name in known else f"{word} is not one of: {' '.join(known)}"
            print(f"{told}\n{__doc__}", file=sys.stderr)
            return 2
        asked.append(replace(known[name], amount=int(amount)) if amount else known[name])
    whys = {proof.name: why_no_machine() or proof.why_not() for proof in asked}
    machines = Machines([proof for proof in asked if not whys[proof.name]], partial(print, flush=True))
    held = {proof.name: not whys[proof.name] and proof.holds(machines.said(proof)) for proof in asked}
    for name, good in held.items():
        print(f"{name}: {'holds' if good else whys[name] or 'DOES NOT HOLD'}")
    return 0 if all(held.values()) else 1


if __name__ == "__main__":
    raise SystemExit(main(sys.argv[1:]))
