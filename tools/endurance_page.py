"""``python tools/endurance_page.py DAY.json BESIDE.json ALONE.json VM.log``: docs/endurance.md and its picture, from what
``tools/faults soak --save`` has written by the played clock and twice by the one on the wall, and from what
``tools/kernel_path endurance:480`` has printed. Needs matplotlib (the extra ``plots``)."""

from __future__ import annotations

import json
import re
import sys
from pathlib import Path
from typing import Any

ROOT = Path(__file__).parents[1]
HEAD = """# What it is like after a long time

Made by `tools/endurance_page.py`; how to measure it again is told there. Each press of a button that is bound to one key
is counted on its way in and on its way out, every key that goes down must go up, and memory must stay as it is once
everything that play needs has been used.

![Memory over time](endurance.png)

| | played | presses | left out | keys sent | not as they should be | memory |
|---|---|---:|---:|---:|---:|---|
"""
TAIL = """
- **A day**: 24 hours of a played clock through the whole runner, with bursts of play and rest between; pipes are in place of
  the kernel's nodes. **Beside other work**: the runner as a process, with 1000 reports a second of the pad and as many of its
  motion, while tests of the window, each with a runner of its own, had the same two processors. **Alone**: the same with
  nothing beside it. **Real nodes**: in the virtual machine, uinput to evdev and back, at the highest rate that loses nothing there, where the
  processor is emulated.
- Left out: while the machine does not let the runner run, down and up of many keys come at once, and what would wait for
  more than a second to be felt is not sent (contract R1). The runner counts it and the doctor says it; more than it has
  counted may not be missing. The key that is counted changes 25 times a second, faster than any finger. Here the runner has
  no higher priority than the rest; where the system grants it one (`nubshift doctor`), what is beside it matters less.
- Memory is that of the process; of the day, that of the process that plays too.
"""


def measured(path: str) -> dict[str, Any]:
    """What a soak has saved."""
    found: dict[str, Any] = json.loads(Path(path).read_text(encoding="utf-8"))
    return found


def of_machine(path: str) -> tuple[dict[str, Any], str]:
    """What the virtual machine has printed, as a soak would have saved it; and how it was played."""
    text = Path(path).read_text(encoding="utf-8").rpartition("presses lost")[2]  # not what was tried before
    samples = [(float(second), float(mb)) for second, mb in re.findall(r"^memory: (\d+) ([\d.]+)", text, re.MULTILINE)]
    told = re.search(r"proven: (\d+) presses in \d+ reports, (\d+) a second, for (\d+) s", text)
    assert told is not None, "it did not get to its end"
    presses, rate, seconds = map(int, told.groups())
    found = {"hours": seconds / 3600, "counts": {"presses": presses, "keys": None}, "faults": [], "memory": samples}
    return found, f"{seconds / 60:.0f} min at {rate} reports a second"


def row(name: str, played: str, found: dict[str, Any]) -> str:
    """One line of the table."""
    counts, memory = found["counts"], [mb for _second, mb in found["memory"]]
    settled = memory[len(memory) // 6 :]
    keys = "–" if counts["keys"] is None else f"{counts['keys']:,}"
    spread = f"{settled[0]:.1f} MB, then at most {max(settled) - settled[0]:+.2f}"
    left_out = counts.get("of those presses not sent", 0)
    return (
        f"| {name} | {played} | {counts['presses']:,} | {left_out:,} | {keys} | {len(found['faults'])} | {spread} |\n"
    )


def draw(curves: list[tuple[str, dict[str, Any]]], to: Path) -> None:
    """Memory over time, each from its begin to its end."""
    import matplotlib

    matplotlib.use("Agg")
    from matplotlib import pyplot

    figure, axes = pyplot.subplots(1, len(curves), figsize=(11, 3), sharey=True, layout="constrained")
    for place, (name, found) in zip(axes, curves, strict=True):
        unit, size = ("h", 3600) if found["hours"] > 1 else ("min", 60)
        place.plot(
            [second / size for second, _mb in found["memory"]], [mb for _second, mb in found["memory"]], color="#1b6b55"
        )
        place.set(title=name, xlabel=unit, ylim=(0, 50))
        place.spines[["top", "right"]].set_visible(False)
    axes[0].set_ylabel("MB")
    figure.savefig(to, dpi=110, metadata={"Software": None})


def main(day: str, beside: str, alone: str, machine: str) -> None:
    """Write page and picture."""
    whole = measured(day)
    real = {"Beside other work": measured(beside), "Alone": measured(alone)}
    nodes, how = of_machine(machine)
    rows = [
        row("A day", f"{whole['hours']:.0f} h of a played clock", whole),
        *(row(name, f"{found['hours'] * 60:.0f} min at 1000 reports a second", found) for name, found in real.items()),
        row("Real nodes", how, nodes),
    ]
    told = [("A day", whole), *real.items(), ("Real nodes", nodes)]
    wrong = "".join(f"- {name}, not as it should be: {fault}.\n" for name, found in told for fault in found["faults"])
    text = HEAD + "".join(rows) + (f"\n{wrong}" if wrong else "") + TAIL
    (ROOT / "docs" / "endurance.md").write_text(text, encoding="utf-8")
    draw(told, ROOT / "docs" / "endurance.png")


if __name__ == "__main__":
    main(*sys.argv[1:])
