"""``python tools/performance_page.py``: docs/performance.md and its picture, from what ``nubshift bench`` measures.

Both builds are measured in turns; the medians count, and stay in docs/performance.json. Needs what `tools/compiled` has
built, and matplotlib (the extra ``plots``). The figures are this machine's; what can be compared are the ratios. What stands
there of an earlier checkout (``before``) was measured in turns with both, and stays as it is.
"""

from __future__ import annotations

import json
import os
import re
import statistics
import subprocess
import sys
from pathlib import Path
from typing import Any, TypeAlias

ROOT = Path(__file__).parents[1]
NATIVE = ROOT / "build" / "native"
ROWS = ("engine", "runner", "start", "window", "replay", "edits", "growth")
ROUNDS = 5
BEFORE, PURE, COMPILED = "before", "pure Python", "compiled"
COLOURS = {PURE: "#1b6b55", COMPILED: "#a8402a"}
Row: TypeAlias = dict[str, Any]
HEAD = """# What it costs

Made by `tools/performance_page.py` from `nubshift bench`, which measures each thing beside a bare loop in the same run:
one that reads the same reports and writes an answer to each, with nothing between. Only the ratios mean something on
another machine, and on a busy one they still vary by a fifth.

![Each cost beside the bare loop's, and how it grows](performance.png)

| | pure Python | | compiled | | bar |
|---|---:|---:|---:|---:|---|
"""
THEN = """
Before the hot path was worked on (the checkout of 28 November 2026, 22:19, which had no compiled build), measured in the same
rounds as the rows above:

| | then | | of that, pure Python | of that, compiled |
|---|---:|---:|---:|---:|
"""
GROWTH = """
How processor time for a millisecond of play grows (two reports of each controller, at 1000 Hz):

| | pure Python | | compiled | |
|---|---:|---:|---:|---:|
"""
TAIL = """
- **Added delay** is the time from writing a report into the runner's node to reading the first event that it causes, with
  a pad and its gyro at 1000 reports a second each, a profile of 450 bindings in 21 layers, and pipes in place of the
  nodes. **Processor time** is what the runner's thread spends on a millisecond of that.
- `NUBSHIFT_COMPILE=1` (setup.py, by mypyc) compiles engine, feel, decoding, loop and sinks from the same source;
  `tools/compiled` does it beside the checkout, and the tests compare the bytes that both builds send. `./start` stays pure
  Python, which needs no compiler. `nubshift --version` says which it is.
- What bounds the compiled build: half of what is left is Python's own work on tuples, dictionaries and numbers between
  the compiled parts (the library of structs, `struct`, `select`), a tenth the kernel. At play the processor sleeps between
  two reports and forgets meanwhile what it had at hand: the same work done on end takes less than half of the time. What
  bounds the start: some 380 modules, half of them Python's own and its libraries'.
- Medians of five rounds in turns; how the cost grows, from five rounds of the landing before. The machine went at half its
  speed meanwhile: the bare loop took in 1.5 million events a second, and takes in 2.8 million at other times. What has a unit
  goes with that; the ratios do not.
- One in a hundred is a report that presses or releases a button, for which the runner makes 1.6 times as many calls and
  the bare loop none; and what the machine's other work makes of it: the bare loop's own differs by a factor of fifty here.
- Fewer reports a second cost less, but not in proportion: the mouse that a stick moves is sent every 4 ms regardless.
- A sensor that no binding, no open window and no held control asks for is not read at all.
- Over real nodes, in the virtual machine, where the processor is emulated (`tools/kernel_path delay:200`, 200 presses each, pure
  Python): median 2.1 × and one in a hundred 2.0 × what a bare loop there takes; while nothing moves 0.02 % of the
  processor. Here, with an X server and no controller, 0.004 % (bar 0.5 %).
"""


def measured(native: bool) -> dict[str, Row]:
    """The rows of one run by their names."""
    environment = os.environ | ({"PYTHONPATH": str(NATIVE)} if native else {})
    command = [sys.executable, "-m", "nubshift", "bench", "--json", *ROWS]
    done = subprocess.run(command, env=environment, capture_output=True, text=True, check=False)
    return {row["name"]: row for row in map(json.loads, done.stdout.splitlines())}


def middle(runs: list[dict[str, Row]]) -> dict[str, Row]:
    """The rows with the median of each figure."""
    figures = ("value", "floor", "ratio")
    return {
        name: row | {figure: statistics.median(run[name][figure] for run in runs) for figure in figures}
        for name, row in runs[-1].items()
    }


def cells(row: Row) -> str:
    """A figure, and how many times the bare loop's it is."""
    ratio = f"{row['ratio']:.1f} ×" if row["floor"] else ""
    digits = 0 if row["value"] >= 10 else 2
    return f"{row['value']:,.{digits}f} {row['unit']} | {ratio}"


def then_and_now(rows: dict[str, dict[str, Row]]) -> str:
    """A line for each thing that was measured before: what it was, and which share of it is left, beside the bare loop."""
    lines = ""
    for name, then in rows.get(BEFORE, {}).items():
        figure = "ratio" if then["floor"] else "value"
        shares = [f"{rows[build][name][figure] / then[figure]:.2f}" for build in (PURE, COMPILED)]
        lines += f"| {name} | {cells(then)} | {shares[0]} | {shares[1]} |\n"
    return THEN + lines if lines else ""


def is_growth(name: str) -> bool:
    """Whether a row is about how the cost grows."""
    return name.startswith("a ms of play")


def draw(rows: dict[str, dict[str, Row]], path: Path) -> None:
    """The picture: ratios with their bars at the left, growth at the right."""
    import matplotlib as mpl

    mpl.use("Agg")
    from matplotlib import pyplot as plt

    figure, (left, *right) = plt.subplots(1, 4, figsize=(13, 4), width_ratios=(3, 2, 2, 2), layout="constrained")
    ratios = [name for name, row in rows[COMPILED].items() if "×" in row["bar"]]
    for offset, (build, colour) in enumerate(COLOURS.items()):
        for place, name in enumerate(ratios):
            row, y = rows[build][name], place + 0.36 * offset
            left.barh(y, row["ratio"], 0.32, color=colour, label=build if not place else None)
            bar = float(row["bar"].strip("≤ ×"))
            left.plot([bar, bar], [y - 0.2, y + 0.2], color="black", label="bar" if not place and offset else None)
    left.set_yticks([place + 0.18 for place in range(len(ratios))], [name.replace(" for ", "\n") for name in ratios])
    left.invert_yaxis()
    left.set_xlabel("times the bare loop")
    figure.legend(*left.get_legend_handles_labels(), loc="outside lower left", ncols=3, frameon=False)
    shown = (
        ("bindings", r"(\d+) bindings, 1 × 1000 Hz"),
        ("controllers", r"450 bindings, (\d) × 1000 Hz"),
        ("reports a second", r"450 bindings, 1 × (\d+) Hz"),
    )
    for axes, (label, pattern) in zip(right, shown, strict=True):
        for build, colour in COLOURS.items():
            points = sorted(
                (int(found[1]), row["value"])
                for name, row in rows[build].items()
                if (found := re.search(pattern, name)) is not None
            )
            axes.plot(*zip(*points, strict=True), "o-", color=colour)
        axes.set_ylim(bottom=0)
        axes.set_xlabel(label)
    right[0].set_ylabel("µs of processor for a ms of play")
    figure.savefig(path, dpi=90)


def main() -> None:
    """Measure, and write the page; with ``--draw`` from what was measured last."""
    stored = ROOT / "docs" / "performance.json"
    rows: dict[str, dict[str, Row]] = json.loads(stored.read_text())
    if "--draw" not in sys.argv:
        runs = [(measured(False), measured(True)) for _unused in range(ROUNDS)]
        rows |= {PURE: middle([pure for pure, _native in runs]), COMPILED: middle([native for _pure, native in runs])}
        stored.write_text(json.dumps(rows, indent=1, ensure_ascii=False) + "\n")
    page, growth = HEAD, GROWTH
    for name, row in rows[PURE].items():
        native = rows[COMPILED][name]
        if is_growth(name):
            growth += f"| {name.partition(': ')[2]} | {cells(row)} | {cells(native)} |\n"
        else:
            page += f"| {name} | {cells(row)} | {cells(native)} | {native['bar']} |\n"
    (ROOT / "docs" / "performance.md").write_text(page + then_and_now(rows) + growth + TAIL)
    draw(rows, ROOT / "docs" / "performance.png")


if __name__ == "__main__":
    main()
