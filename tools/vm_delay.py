"""``python tools/vm_delay.py [COUNT]``: added delay and idle cost over real nodes of a kernel, in the virtual machine."""

from __future__ import annotations

import subprocess
import sys
from pathlib import Path

ROOT = Path(__file__).parents[1]
PROFILE = ROOT / "src" / "nubshift" / "demo" / "ferrow-deep.nubshift.json"


def main(count: int = 400) -> int:
    """Print what was measured there."""
    words = [sys.executable, str(ROOT / "tools" / "vm-run"), "--timeout", "1200", "--"]
    words += [sys.executable, "-m", "tests.vm.guest", f"delay_inside:{count}={PROFILE}"]
    done = subprocess.run(words, capture_output=True, text=True, check=False, cwd=ROOT)
    lines = [line for line in done.stdout.splitlines() if line.startswith("measured:")]
    print("\n".join(lines) if lines else done.stdout + done.stderr)
    return 0 if lines else 1


if __name__ == "__main__":
    raise SystemExit(main(*map(int, sys.argv[1:])))
