"""``python tools/performance_page.py``: docs/performance.md, from what ``nubshift bench`` measures of both builds.

Needs what `tools/compiled` has built. The figures are this machine's; what can be compared are the ratios.
"""

from __future__ import annotations

import json
import os
import subprocess
import sys
from pathlib import Path

ROOT = Path(__file__).parents[1]
NATIVE = ROOT / "build" / "native"
ROWS = ("engine", "runner", "start", "replay")
HEAD = """# What it costs

Made by `tools/performance_page.py` from `nubshift bench`, which measures each thing beside a bare loop in the same run:
one that reads the same reports and writes an answer to each, with nothing between. Only the ratios mean something on
another machine, and on a busy one they still vary by a fifth.

| | pure Python | | compiled | | bar |
|---|---:|---:|---:|---:|---|
"""
TAIL = """
- **Added delay** is the time from writing a report into the runner's node to reading the first event that it causes, with
  a pad and its gyro at 1000 reports a second each, a profile of 450 bindings in 21 layers, and pipes in place of the
  nodes. **Processor time** is what the runner's thread spends on a millisecond of that.
- `NUBSHIFT_COMPILE=1` (setup.py, by mypyc) compiles engine, feel, decoding, loop and sinks from the same source;
  `tools/compiled` does it beside the checkout, and the tests compare the bytes that both builds send. `./start` stays pure
  Python, which needs no compiler. `nubshift --version` says which it is.
- What bounds the compiled build: half of what is left is Python's own work on tuples, dictionaries and numbers between
  the compiled parts (the library of structs, `struct`, `select`), a tenth the kernel.
- A sensor that no binding, no open window and no held control asks for is not read at all.
"""


def measured(native: bool) -> dict[str, dict[str, float | str]]:
    """The rows by their names."""
    environment = os.environ | ({"PYTHONPATH": str(NATIVE)} if native else {})
    command = [sys.executable, "-m", "nubshift", "bench", "--json", *ROWS]
    done = subprocess.run(command, env=environment, capture_output=True, text=True, check=False)
    return {row["name"]: row for row in map(json.loads, done.stdout.splitlines())}


def cells(row: dict[str, float | str]) -> str:
    """A figure, and how many times the bare loop's it is."""
    ratio = f"{row['ratio']:.1f} ×" if row["floor"] else ""
    return f"{row['value']:,.0f} {row['unit']} | {ratio}"


def main() -> None:
    """Write the page."""
    pure, native = measured(False), measured(True)
    lines = "".join(
        f"| {name} | {cells(row)} | {cells(native[name])} | {native[name]['bar']} |\n" for name, row in pure.items()
    )
    (ROOT / "docs" / "performance.md").write_text(HEAD + lines + TAIL)


if __name__ == "__main__":
    main()
