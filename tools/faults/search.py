"""The random hunts of the tests with new seeds, for as long as is asked for.

    python tools/faults search --minutes 60

Runs whole files, again and again, each time with another seed, and says after each round how it went. What fails is said
with its seed: ``./test FILE --hypothesis-seed SEED`` shows it again.
"""

from __future__ import annotations

import re
import subprocess
import sys
import time
from collections import Counter
from pathlib import Path

ROOT = Path(__file__).parents[2]
HUNTS = ("tests/contract", "tests/feel", "tests/model", "tests/devices/test_takes.py", "tests/runner/test_compiling.py")
LAST = 25
"""Lines of a failure that are shown."""


def hunts() -> list[str]:
    """The files in which something is searched at random."""
    files = [path for name in HUNTS for path in (sorted((ROOT / name).rglob("*.py")) or [ROOT / name])]
    return [str(path.relative_to(ROOT)) for path in files if "@given" in path.read_text(encoding="utf-8")]


def attack(seed: int, minutes: float) -> tuple[Counter[str], list[str]]:
    """Search from this seed on. Returns how many rounds and tests there were, and what failed."""
    counts: Counter[str] = Counter()
    faults: list[str] = []
    end = time.monotonic() + minutes * 60
    while time.monotonic() < end:
        words = ["-q", "-p", "no:cacheprovider", f"--hypothesis-seed={seed}", *hunts()]
        done = subprocess.run(
            [sys.executable, "-m", "pytest", *words], cwd=ROOT, capture_output=True, text=True, check=False
        )
        counts["rounds"] += 1
        if done.returncode:
            failed = re.findall(r"^FAILED (.*)", done.stdout, re.MULTILINE)
            faults.append(f"seed {seed}: {failed}\n" + "\n".join(done.stdout.splitlines()[-LAST:]))
        print(faults[-1] if done.returncode else f"seed {seed}: no fault", flush=True)
        seed += 1
    return counts, faults
